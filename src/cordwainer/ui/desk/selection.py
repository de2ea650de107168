"""What is looked at: the hole, which of all like it, the operation, and the unit it is shown in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.ui.desk.document import REPLACED, Change, Document, Origin

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.files.entries import HoleEntry


class Selection(QObject):
    """One hole of the document in hand. `moved` says that another one is, or another number or operation of it."""

    moved = pyqtSignal()
    unit_changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.hole_index = 0
        self.operation_index = 0
        self.unit = "in" if document.settings.get("unit") == "in" else "mm"
        self._numbers: dict[str, int] = {}
        document.replacing.connect(self._turn)
        document.edited.connect(self._follow)

    def _turn(self, origin: Origin) -> None:
        """Another document: its first hole, or the one it was left at."""
        self.hole_index, self.operation_index = origin.hole, origin.operation
        self._numbers = {}
        if origin.data.get("holes"):
            self.unit = "in" if origin.data.get("units") == "in" else "mm"

    def _follow(self, change: Change) -> None:
        self.hole_index = min(self.hole_index, max(len(self.document.job.holes) - 1, 0))
        if change.kind == REPLACED:
            self.moved.emit()

    @property
    def hole(self) -> Hole | None:
        """The hole in hand."""
        holes = self.document.job.holes
        return holes[self.hole_index] if self.hole_index < len(holes) else None

    @property
    def entry(self) -> HoleEntry:
        """The hole in hand as the file has it."""
        return self.document.job.file.holes[self.hole_index]

    def edit_hole(self, words: str, **values: Any) -> None:
        """Change fields of the hole in hand; None takes a field away. A depth typed anew has no window."""
        if "depth" in values:
            values.setdefault("depth_to", None)
        self.document.edit_hole(self.hole_index, words, **values)

    def select_hole(self, index: int) -> None:
        """Another hole in hand; its first operation is shown."""
        if 0 <= index < len(self.document.job.holes):
            self.hole_index = index
            self.operation_index = 0
            self.moved.emit()

    def set_unit(self, unit: str) -> None:
        """Show inches or millimeters; the file keeps what was written."""
        self.unit = unit
        self.document.settings.put("unit", unit)
        self.unit_changed.emit()

    # -- which of all like it ------------------------------------------------------------------

    def instances(self, index: int | None = None) -> int:
        """How many of a hole (the one in hand) the whole job has: in one part, times the parts."""
        position = self.hole_index if index is None else index
        job = self.document.job
        return job.holes[position].count * job.file.quantity if position < len(job.holes) else 0

    def number_of(self, index: int | None = None) -> int:
        """Which of all like it is in hand, from 1."""
        position = self.hole_index if index is None else index
        holes = self.document.job.holes
        if position >= len(holes):
            return 1
        return min(self._numbers.get(holes[position].id, 1), max(self.instances(position), 1))

    @property
    def number_chosen(self) -> bool:
        """Whether somebody said which of all like it is in hand."""
        return self.hole is not None and self.hole.id in self._numbers

    def set_number(self, number: int) -> None:
        """Another one of the selected hole in hand."""
        hole = self.hole
        if hole is None:
            return
        fresh = min(max(number, 1), max(self.instances(), 1))
        if fresh != self.number_of() or not self.number_chosen:
            self._numbers[hole.id] = fresh
            self.moved.emit()
