"""The readings of one hole among all like it: which of them is in hand, and where its set stands in the job."""

from __future__ import annotations

import copy
from functools import cached_property
from typing import TYPE_CHECKING, Any

from cordwainer.ui.desk.planned_job import PlannedJob

if TYPE_CHECKING:
    from cordwainer.files.entries import MeasuredEntry


class ReadingsOf(PlannedJob):
    """Each hole of a row and of every part has readings of its own; number 1 stands in the job as `measured`."""

    @cached_property
    def _numbers(self) -> dict[str, int]:
        return {}

    def instances(self, index: int | None = None) -> int:
        """How many of a hole (the selected one) the whole job has: in one part, times the parts."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.holes):
            return 0
        return self.job.holes[position].count * self.job.file.quantity

    def number_of(self, index: int | None = None) -> int:
        """Which of all like it is in hand, from 1."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.holes):
            return 1
        return min(self._numbers.get(self.job.holes[position].id, 1), max(self.instances(position), 1))

    def set_number(self, number: int) -> None:
        """Another one of the selected hole in hand."""
        hole = self.hole
        if hole is None:
            return
        fresh = min(max(number, 1), max(self.instances(), 1))
        if fresh != self.number_of() or hole.id not in self._numbers:
            self._numbers[hole.id] = fresh
            self.selection.emit()

    def newest_number(self) -> None:
        """The hole cut last in hand, by the run record, where none was chosen yet."""
        hole = self.hole
        if hole is None or hole.id in self._numbers or self.instances() < 2:
            return
        from cordwainer.core.errors import InputError
        from cordwainer.files import run as run_files
        from cordwainer.ui.desk.following import run_record_of

        path = run_record_of(self)
        if path is None or not path.exists():
            return
        try:
            records = run_files.read(path).records
        except InputError:
            return
        made = [r.number for r in records if r.hole == hole.id and r.run.finished]
        if made:
            self.set_number(made[-1])

    def taken(self, index: int | None = None, number: int = 0) -> MeasuredEntry | None:
        """The readings of a hole: of the one in hand, or of that number."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.file.holes):
            return None
        entry = self.job.file.holes[position]
        which = number or self.number_of(position)
        return entry.measured if which == 1 else entry.more_measured.get(str(which))

    def taken_data(self) -> dict[str, Any]:
        """The same as the document has it, to be changed and put back; empty where nothing is."""
        entry = self.data["holes"][self.hole_index]
        number = self.number_of()
        found = entry.get("measured") if number == 1 else (entry.get("more_measured") or {}).get(str(number))
        return copy.deepcopy(found or {})

    def put_taken(self, words: str, entry: dict[str, Any]) -> None:
        """Put back the readings of the hole in hand."""
        number = self.number_of()
        if number == 1:
            self.edit_hole(words, measured=entry)
            return
        more = dict(self.data["holes"][self.hole_index].get("more_measured") or {})
        self.edit_hole(words, more_measured=more | {str(number): entry})
