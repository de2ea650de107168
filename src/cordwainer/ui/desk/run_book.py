"""The record of holes made in the open job, on the disk: read, begun, and each event written before it counts."""

from __future__ import annotations

import uuid
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.planning.machine.run import Event
from cordwainer.files import run as run_files
from cordwainer.files.plan import made_with
from cordwainer.files.sequence import operation_entry
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.run_records import run_record_of
from cordwainer.ui.desk.selection import Selection

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.core.shop.machine import Machine

SEED = 0
# Kept in the job, not in the line that begins a run: it is not asked of the hole.
LEFT_OUT = ("sequence", "sequence_only", "measured", "more_measured", "evidence")


class RunBook(QObject):
    """What is on the disk of the open job's holes: `known` are all its runs."""

    said = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection) -> None:
        super().__init__()
        self.document, self.selection = document, selection
        self.known: list[run_files.Record] = []
        self.path: Path | None = None

    def read(self) -> None:
        """Read the record anew; what cannot be read is said."""
        try:
            self.path = self._file()
            found = run_files.read(self.path)
        except InputError as bad:
            self.known, self.path = [], None
            self.said.emit(str(bad))
            return
        self.known = found.records
        if found.passed:
            self.said.emit(
                tr("{passed} lines of the run record could not be read and were passed over.", passed=found.passed)
            )

    def _file(self) -> Path:
        """Beside the job's file, else in the state folder under the job's own id, which it is given here."""
        if run_record_of(self.document) is None:
            self.document.edit(tr("Number the job"), lambda job: job.update(id=str(uuid.uuid4())))
        found = run_record_of(self.document)
        assert found is not None
        return found

    def finished(self, hole_id: str) -> set[int]:
        """The numbers of a hole that are finished."""
        return {r.number for r in self.known if r.hole == hole_id and r.run.finished}

    def begin(self, route: Route, machine: Machine, number: int, at: datetime) -> run_files.Record | None:
        """A run of the hole in hand, its plan written down; None where it cannot be written."""
        self.path = self._file()
        data = self.document.data
        entry = data["holes"][self.selection.hole_index]
        file = self.document.job.file
        line = run_files.begin_line(
            str(uuid.uuid4()),
            at.isoformat(timespec="seconds"),
            job={"id": data.get("id"), "name": file.name, "material": file.material},
            machine={"id": machine.id, "name": machine.name, **machine.noted()},
            hole={k: v for k, v in entry.items() if k not in LEFT_OUT},
            number=number,
            of=self.selection.instances(),
            route=route.label,
            prediction={"chance": route.chance_all, "minutes": round(route.minutes, 3)},
            operations=[operation_entry(o, ()) for o in route.operations],
            made_with=made_with(SEED),
        )
        if not self._write(line):
            return None
        record = run_files.Record(line["run"], line)
        self.known.append(record)
        return record

    def add(self, record: run_files.Record, event: Event) -> None:
        """An event of a run of this job. What cannot be written still counts in this window, and is said."""
        known = next((r for r in self.known if r.id == record.id), None)
        if known is None:  # another job was opened while it was worked out
            return
        self._write(run_files.event_line(record.id, event))
        known.happened(event)
        if known is not record:
            record.happened(event)

    def _write(self, line: dict[str, Any]) -> bool:
        try:
            self.path = self._file()  # the job may have been saved meanwhile, and its record gone with it
            run_files.append(self.path, line)
        except InputError as bad:
            self.said.emit(tr("This step is not in the run record, note it by hand. {bad}.", bad=bad))
            return False
        return True
