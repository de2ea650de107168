"""The hole under way in one window: each gesture at the machine is an event on the disk, then on the screen."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.planning.around import Did, around
from cordwainer.core.planning.machine.card import Card, card_of
from cordwainer.core.planning.machine.run import DONE, SKIPPED
from cordwainer.core.planning.words.felt import felt_list
from cordwainer.core.planning.words.operation import Caution, Operation
from cordwainer.core.planning.words.sentences import caution
from cordwainer.core.shop.tool import Tool
from cordwainer.files.sequence import operation_entry
from cordwainer.ui.desk.run_record import RunRecord

TICK_MS = 500
SEED = 0


def wall_clock() -> datetime:
    """Now, with the offset of where the machine stands."""
    return datetime.now().astimezone()


class Cutting(RunRecord):
    """The selected hole as it is made. What happened is in the run record before it is on the screen."""

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
            if self.record is not None:
                self.session.log.take(self.record)
        self.open()

    def _after(self) -> None:
        """After an operation: the rest follows what was really used; after the last the hole is finished."""
        if self.run is None or self.route is None:
            return
        self._spent = 0.0
        if self.over:
            self._happened("finish")
            self.session.set_number(self.number)
            self._carry_over()
            if self.record is not None:
                self.session.log.take(self.record)
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
        """What was seen, felt and done otherwise than planned, into the hole's evidence, for Explain to find."""
        session = self.session
        if self.run is None or self.route is None or session.hole is None:
            return
        from cordwainer.core.diagnosis.from_plan import ran_answers

        told = ran_answers(self.route, session.hole, self.run) | self.run.felt
        if not told:
            return
        known = dict(session.data["holes"][session.hole_index].get("evidence") or {})
        try:
            session.edit_hole("Seen at the machine", evidence=known | told)
        except InputError as bad:
            self.said.emit(str(bad))

    def pause(self) -> None:
        """Nobody looks: the time stands."""
        self._stop_clock()


def _figures(o: Operation) -> tuple[Any, ...]:
    return o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm, o.expected_mm, o.stock_mm, o.role
