"""The hole under way in one window: each gesture at the machine is an event on the disk, then on the screen."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from datetime import datetime
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.planning.around import Bench, Did, around
from cordwainer.core.planning.card import Card, card_of
from cordwainer.core.planning.felt import felt_list
from cordwainer.core.planning.operation import Caution, Operation, Route
from cordwainer.core.planning.run import DONE, SKIPPED, Event, Run, after
from cordwainer.core.planning.words import caution
from cordwainer.core.shop.tool import Tool
from cordwainer.files import run as run_files
from cordwainer.files.entries import hole_entry
from cordwainer.files.plan import made_with
from cordwainer.files.sequence import operation_entry, read_wishes
from cordwainer.ui.places import state_folder
from cordwainer.ui.session import Session

TICK_MS = 500
SEED = 0


def wall_clock() -> datetime:
    """Now, with the offset of where the machine stands."""
    return datetime.now().astimezone()


class Cutting(QObject):
    """The selected hole as it is made. What happened is in the run record before it is on the screen."""

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, session: Session, now: Callable[[], datetime] = wall_clock) -> None:
        super().__init__()
        self.session, self.now = session, now
        self.record: run_files.Record | None = None
        self.run: Run | None = None
        self.route: Route | None = None
        self.known: list[run_files.Record] = []
        self.path: Path | None = None
        self.ticked: set[str] = set()
        self.live: float | None = None
        self._since: datetime | None = None
        self._spent = 0.0
        self.watch = QTimer(self)
        self.watch.setInterval(TICK_MS)

    # -- which hole ----------------------------------------------------------------------------

    def file(self) -> Path:
        """The run record of the job: beside its file, else in the state folder under the job's own id."""
        session = self.session
        if session.path is not None:
            return run_files.path_beside(session.path)
        own = session.data.get("id")
        if not own:
            own = str(uuid.uuid4())
            session.edit("Number the job", lambda job: job.update(id=own))
        return state_folder() / "runs" / f"{Path(str(own)).name}.run.jsonl"

    def instances(self) -> int:
        """How many of the selected hole the whole job has: in one part, times the parts."""
        hole = self.session.hole
        return 0 if hole is None else hole.count * self.session.job.file.quantity

    def made(self, hole_id: str) -> int:
        """How many of a hole are finished."""
        return len({r.number for r in self.known if r.hole == hole_id and r.run.finished})

    def open(self) -> None:
        """Take up the selected hole where it was left, or stand ready to begin the next of it."""
        session = self.session
        self.record = self.run = self.route = None
        hole, planned = session.hole, session.route
        if hole is None:
            self.changed.emit()
            return
        self._read()
        own = [r for r in self.known if r.hole == hole.id]
        left = next((r for r in reversed(own) if not r.run.over), None)
        if left is not None:
            route = self._route_of(left)
            if route is not None and len(route.operations) == len(left.run.steps):
                self.record, self.run, self.route = left, left.run, route
                self._spent = _spent_before(left)
            else:
                self.said.emit("The run left unfinished no longer fits this shop; it is kept in the record.")
        if self.record is None:
            self.route = planned
            self._spent = 0.0
        self._since = None
        if self.over and self.run is not None and not self.run.over:
            self._happened("finish")  # the last step was done and the power went before this was written
        elif self.run is not None and not self.run.wrong:
            self._run_clock()
        self.changed.emit()

    def _read(self) -> None:
        try:
            self.path = self.file()
            found = run_files.read(self.path)
        except InputError as bad:
            self.known, self.path = [], None
            self.said.emit(str(bad))
            return
        self.known = found.records
        if found.passed:
            self.said.emit(f"{found.passed} lines of the run record could not be read and were passed over.")

    def _route_of(self, record: run_files.Record) -> Route | None:
        """The route a record was begun with, from its own operations."""
        data = dict(record.begin.get("hole", {})) | {"sequence": record.operations, "sequence_only": True}
        try:
            wishes = read_wishes(hole_entry(data).sequence, True, self.session.shop)
            return self._bench().route(wishes)
        except (InputError, KeyError, ValueError, TypeError):
            return None

    def _bench(self) -> Bench:
        session = self.session
        assert session.hole is not None
        file = session.job.file
        return Bench(
            session.hole, session.shop, session.machine, session.job.material, session.practice, file.hardness_bhn
        )

    def begin(self) -> None:
        """Begin the next of the selected hole with the route chosen."""
        session, route = self.session, self.session.route
        if route is None or session.hole is None or self.record is not None:
            return
        path = self.file()
        self.path = path
        entry = session.data["holes"][session.hole_index]
        kept = {k: v for k, v in entry.items() if k not in ("sequence", "sequence_only", "measured", "evidence")}
        done = {r.number for r in self.known if r.hole == session.hole.id and r.run.finished}
        number = next(n for n in range(1, len(done) + 2) if n not in done)
        file = session.job.file
        line = run_files.begin_line(
            str(uuid.uuid4()),
            self.now().isoformat(timespec="seconds"),
            job={"id": session.data.get("id"), "name": file.name, "material": file.material},
            machine={"id": session.machine.id, "name": session.machine.name},
            hole=kept,
            number=number,
            of=self.instances(),
            route=route.label,
            prediction={"chance": route.chance_all, "minutes": round(route.minutes, 3)},
            operations=[operation_entry(o, ()) for o in route.operations],
            made_with=made_with(SEED),
        )
        if not self._write(line):
            return
        self.record = run_files.Record(line["run"], line)
        self.known.append(self.record)
        self.run, self.route = self.record.run, route
        self._spent = 0.0
        self.changed.emit()

    def _write(self, line: dict[str, Any]) -> bool:
        try:
            assert self.path is not None
            run_files.append(self.path, line)
        except OSError as bad:
            self.said.emit(f"The run record could not be written ({bad.strerror}): note this step by hand.")
            return False
        return True

    def _happened(self, what: str, operation: int | None = None, **data: Any) -> None:
        """One event: to the disk, then into the state. What cannot be written still counts here, and is said."""
        if self.run is None:
            self.begin()
        if self.record is None or self.run is None:
            return
        where = self.run.current if operation is None else operation
        event = Event(self.now().isoformat(timespec="milliseconds"), what, where, data)
        self._write(run_files.event_line(self.record.id, event))
        self.record.events.append(event)
        self.run = after(self.run, event)
        self.changed.emit()

    # -- what is shown -------------------------------------------------------------------------

    @property
    def index(self) -> int:
        """The operation in hand."""
        if self.route is None:
            return 0
        current = self.run.current if self.run is not None else 0
        return min(current, len(self.route.operations) - 1)

    @property
    def rung(self) -> int:
        """The last stop confirmed, -1 before the touch."""
        return self.run.step.rung if self.run is not None and not self.over else -1

    @property
    def over(self) -> bool:
        """Every operation is done or skipped."""
        return self.run is not None and self.route is not None and self.run.current >= len(self.route.operations)

    @property
    def card(self) -> Card | None:
        """The card of the operation in hand, with the readings really found."""
        if self.route is None or not self.route.operations:
            return None
        step = self.run.steps[self.index] if self.run is not None else None
        starts = {kind: parse(text) for kind, text in step.start.items()} if step is not None else {}
        touch = step.touch if step is not None else None
        return card_of(self.route, self.index, self.session.machine, self.session.unit, starts=starts, touch=touch)

    @property
    def rpm(self) -> float | None:
        """The speed set: the planned one, unless another was."""
        if self.route is None:
            return None
        own = self.run.steps[self.index].rpm if self.run is not None else None
        return self.route.operations[self.index].rpm if own is None else own

    def tip_mm(self, reading_mm: float) -> float | None:
        """Depth of the tip at a reading of the linked readout, None before the touch."""
        card, run = self.card, self.run
        if card is None or run is None or self.rung < 0 or self.over:
            return None
        start = run.steps[self.index].start.get("readout")
        scale = next((s for s in self.session.machine.scales if s.kind == "readout"), None)
        if start is None and scale is None:
            return None
        begin = parse(start).mm if start is not None else (scale.start.mm if scale is not None else 0.0)
        falls = scale is not None and scale.direction == "decreases"
        return card.tip_at_touch_mm + (begin - reading_mm if falls else reading_mm - begin)

    def readout_at(self, tip_mm: float) -> float | None:
        """What the linked readout shows with the tip at a depth, in mm; None before the touch."""
        zero = self.tip_mm(0.0)
        scale = next((s for s in self.session.machine.scales if s.kind == "readout"), None)
        if zero is None:
            return None
        return zero - tip_mm if scale is not None and scale.direction == "decreases" else tip_mm - zero

    def unticked(self) -> tuple[Caution, ...]:
        """Stop cautions of the step that nobody has ticked, in this session or for this step."""
        card = self.card
        if card is None or self.over:
            return ()
        step = self.run.steps[self.index] if self.run is not None else None
        ticked = step.ticked if step is not None else ()
        found = [c for c in card.stops if c.id not in self.ticked and c.id not in ticked]
        raised = self._raised(step.felt if step is not None else {})
        return (*found, *(c for c in raised if c.level == "stop" and c.id not in ticked))

    @staticmethod
    def _raised(felt: Mapping[str, str]) -> list[Caution]:
        """Cautions that what was felt calls for; those that stop are ticked at this very step."""
        return [caution(f.caution) for f in felt_list() if f.caution and felt.get(f.question) == f.answer]

    def word_on(self, question: str, answer: str) -> str:
        """What is to be minded where something was felt; empty where nothing is."""
        return next((c.text for c in self._raised({question: answer})), "")

    @property
    def minutes(self) -> float:
        """Minutes spent on the operation in hand so far."""
        running = (self.now() - self._since).total_seconds() / 60 if self._since is not None else 0.0
        return self._spent + running

    # -- gestures ------------------------------------------------------------------------------

    def tick(self, identifier: str) -> None:
        """A stop caution read and heeded; one of the plan's is shortened for the rest of the session."""
        card = self.card
        if card is not None and identifier in {c.id for c in card.stops}:
            self.ticked.add(identifier)
        self._happened("tick", caution=identifier)

    def touch(self) -> None:
        """The tool stands at the touch; a linked readout is read there, and the time runs."""
        self._run_clock()
        if self.live is not None:
            self._happened("start_reading", scale="readout", reading=f"{self.live:.4f} mm")
        self._happened("touch")

    def forward(self) -> None:
        """The next rung: touch, each clearing, the stop; past that the operation is done."""
        card = self.card
        if card is None or self.over or self.unticked() or (self.run is not None and self.run.wrong):
            return
        if self.rung >= len(card.rungs) - 1:
            self.done()
        elif self.rung < 0:
            self.touch()
        else:
            self._run_clock()
            self._happened("cleared", rung=self.rung + 1)

    def back(self) -> None:
        """One rung back; before the touch, to the operation before."""
        if self.run is None:
            return
        if self.rung >= 0 and not self.over:
            self._happened("back", rung=self.rung - 1)
        elif self.run.current > 0:
            self._stop_clock()
            self._spent = self.run.steps[self.run.current - 1].minutes or 0.0
            self._happened("back", self.run.current - 1, rung=-1)

    def done(self) -> None:
        """The operation in hand is done."""
        if self.over or self.unticked():
            return
        minutes = round(self.minutes, 3)
        self._stop_clock()
        self._happened("done", minutes=minutes)
        self._after()

    def skip(self, reason: str) -> None:
        """The operation in hand is left out, for a reason; the rest is planned around it."""
        if not reason.strip():
            raise InputError("", "why is it left out? A word or two, such as 'no such drill'")
        if self.over:
            return
        self._stop_clock()
        self._happened("skip", reason=reason.strip())
        self._plan_rest()
        self._after()

    def set_rpm(self, rpm: float) -> None:
        """The speed really set; the rest follows it when the operation is done."""
        self._happened("rpm", rpm=rpm)

    def use_tool(self, tool: Tool) -> None:
        """Another tool than the plan's for the operation in hand; its figures and the rest follow."""
        self._happened("tool", tool=tool.id)
        self._plan_rest(self.index + 1)

    def start_at(self, kind: str, text: str) -> None:
        """What a scale reads at the touch. Raises `InputError` for what is no length."""
        main = self.card.main if self.card is not None else None
        scale = next((s for s in self.session.machine.scales if s.kind == kind), None)
        unit = scale.unit if scale is not None else (main.unit if main is not None else "mm")
        found = parse(text, unit, signed=True)
        self._happened("start_reading", scale=kind, reading=str(found))

    def touch_by(self, how: str) -> None:
        """Zero found in another way."""
        self._happened("touch_by", touch=how)

    def feel(self, question: str, answer: str | None) -> None:
        """Something seen, heard or felt at the step; None takes it back."""
        self._happened("felt", question=question, answer=answer)

    def looked_wrong(self) -> None:
        """Stop here: the step keeps its rung, and what was seen goes to Explain with it."""
        if self.run is None or self.over:
            return
        self._stop_clock()
        self._happened("wrong")
        self._carry_over()

    def go_on(self) -> None:
        """It was looked at; the step goes on where it stood."""
        if self.run is not None and self.run.wrong:
            self._happened("go_on")

    def give_up(self) -> None:
        """This hole is not finished; its record stays."""
        if self.run is not None and not self.run.over:
            self._stop_clock()
            self._happened("abandon")
        self.open()

    def _after(self) -> None:
        """After an operation: the rest follows what was really used; after the last the hole is finished."""
        if self.run is None or self.route is None:
            return
        self._spent = 0.0
        if self.over:
            self._happened("finish")
            self._carry_over()
            return
        self._run_clock()
        last = self.run.steps[self.run.current - 1]
        planned = self.route.operations[self.run.current - 1]
        if last.state == DONE and last.rpm is not None and last.rpm != planned.rpm:
            self._plan_rest()

    def next_hole(self) -> bool:
        """Ready for the next of this hole, or the next hole of the job that is not made; False when all are."""
        session = self.session
        order = [*range(session.hole_index, len(session.job.holes)), *range(session.hole_index)]
        for index in order:
            hole = session.job.holes[index]
            if self.made(hole.id) < hole.count * session.job.file.quantity:
                if index != session.hole_index:
                    session.select_hole(index)
                self.open()
                return True
        return False

    # -- the rest ------------------------------------------------------------------------------

    def _did(self, upto: int) -> list[Did]:
        assert self.run is not None and self.route is not None
        tools = {t.id: t for t in self.session.shop.tools}
        found = []
        for operation, step in zip(self.route.operations[:upto], self.run.steps[:upto], strict=True):
            other = tools.get(step.tool or "")
            found.append(Did(operation, step.state == SKIPPED, other, step.rpm))
        return found

    def _plan_rest(self, upto: int | None = None) -> None:
        """Plan the rest around what was done, and write the new plan down; what cannot be planned stands."""
        if self.run is None or self.route is None:
            return
        done = self.run.current if upto is None else upto
        route = around(self._bench(), self.route, self._did(done))
        if [_figures(o) for o in route.operations] == [_figures(o) for o in self.route.operations]:
            return
        self.route = route
        entries = [operation_entry(o, ()) for o in route.operations]
        self._happened("plan", done, operations=entries)

    def _carry_over(self) -> None:
        """What was seen and felt, into the hole's evidence, where Explain finds it."""
        if self.run is None or not self.run.felt:
            return
        session = self.session
        known = dict(session.data["holes"][session.hole_index].get("evidence") or {})
        try:
            session.edit_hole("Seen at the machine", evidence=known | self.run.felt)
        except InputError as bad:
            self.said.emit(str(bad))

    def pause(self) -> None:
        """Nobody looks: the time stands."""
        self._stop_clock()

    def _run_clock(self) -> None:
        if self._since is None:
            self._since = self.now()
            self.watch.start()

    def _stop_clock(self) -> None:
        self._spent = self.minutes
        self._since = None
        self.watch.stop()


def _figures(o: Operation) -> tuple[Any, ...]:
    return o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm, o.expected_mm, o.stock_mm, o.role


def _spent_before(record: run_files.Record) -> float:
    """Minutes on the current step up to its last event, from the times written down."""
    current = record.run.current
    times = [datetime.fromisoformat(e.at) for e in record.events if e.operation == current]
    begun = record.run.step.begun
    if not begun or not times:
        return 0.0
    return max((times[-1] - datetime.fromisoformat(begun)).total_seconds() / 60, 0.0)
