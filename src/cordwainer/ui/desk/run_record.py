"""The run record behind the stage at the machine: which hole of which part, what happened to it, on the disk."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.planning.around import Bench
from cordwainer.core.planning.machine.run import Event, Run, after
from cordwainer.core.planning.words.operation import Route
from cordwainer.files import run as run_files
from cordwainer.files.entries import hole_entry
from cordwainer.files.plan import made_with
from cordwainer.files.sequence import operation_entry, read_wishes
from cordwainer.ui.desk.places import state_folder
from cordwainer.ui.desk.session import Session

TICK_MS = 500
SEED = 0


def wall_clock() -> datetime:
    """Now, with the offset of where the machine stands."""
    return datetime.now().astimezone()


class RunRecord(QObject):
    """The run of the selected hole: taken up where it was left, begun, and each event written before it counts."""

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
        self.wanted = 0
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

    @property
    def number(self) -> int:
        """Which of the selected holes it is, from 1."""
        if self.record is not None:
            return self.record.number
        hole = self.session.hole
        return self.wanted or (self.made(hole.id) + 1 if hole is not None else 1)

    def open(self, number: int = 0) -> None:
        """Take up the selected hole where it was left, or stand ready to begin the next of it.

        `number` is which of the like holes is wanted; 0 is whichever was left, else the next.
        """
        session = self.session
        self.wanted = number
        self.record = self.run = self.route = None
        hole, planned = session.hole, session.route
        if hole is None:
            self.changed.emit()
            return
        self._read()
        own = [r for r in self.known if r.hole == hole.id and number in (0, r.number)]
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
        left_out = ("sequence", "sequence_only", "measured", "more_measured", "evidence")
        kept = {k: v for k, v in entry.items() if k not in left_out}
        done = {r.number for r in self.known if r.hole == session.hole.id and r.run.finished}
        number = self.wanted or next(n for n in range(1, len(done) + 2) if n not in done)
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

    @property
    def over(self) -> bool:
        """Every operation is done or skipped."""
        return self.run is not None and self.route is not None and self.run.current >= len(self.route.operations)

    @property
    def minutes(self) -> float:
        """Minutes spent on the operation in hand so far."""
        running = (self.now() - self._since).total_seconds() / 60 if self._since is not None else 0.0
        return self._spent + running

    def _run_clock(self) -> None:
        if self._since is None:
            self._since = self.now()
            self.watch.start()

    def _stop_clock(self) -> None:
        self._spent = self.minutes
        self._since = None
        self.watch.stop()


def _spent_before(record: run_files.Record) -> float:
    """Minutes on the current step up to its last event, from the times written down."""
    current = record.run.current
    times = [datetime.fromisoformat(e.at) for e in record.events if e.operation == current]
    begun = record.run.step.begun
    if not begun or not times:
        return 0.0
    return max((times[-1] - datetime.fromisoformat(begun)).total_seconds() / 60, 0.0)
