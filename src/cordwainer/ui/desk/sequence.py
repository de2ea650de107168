"""Changing the sequence of the hole in hand: each change is one undoable edit of the job."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from collections.abc import Callable

    from cordwainer.files.sequence_edits import Edited, SequenceEdits


class Sequence:
    """The sequence of the hole in hand, as it can be changed by hand."""

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans

    @property
    def _data(self) -> dict[str, Any]:
        holes: list[dict[str, Any]] = self.document.data.get("holes", [])
        return holes[self.selection.hole_index] if self.selection.hole_index < len(holes) else {}

    @property
    def own(self) -> bool:
        """Whether anything of it is the machinist's."""
        return bool(self._data.get("sequence")) or self.only

    @property
    def only(self) -> bool:
        """Whether it is exactly the machinist's, with nothing added."""
        return bool(self._data.get("sequence_only"))

    @property
    def now(self) -> SequenceEdits | None:
        """It and its edits as it stands; None without a hole."""
        selection, hole = self.selection, self.selection.hole
        if hole is None:
            return None
        from cordwainer.files.sequence_edits import SequenceEdits

        return SequenceEdits(hole, self._data, self.plans.route, self.stock.shop, selection.unit)

    def change(self, edit: Callable[[SequenceEdits], Edited | None]) -> None:
        """Make an edit. Raises `InputError` for what does not add up."""
        now = self.now
        edited = edit(now) if now is not None else None
        if edited is None:
            return
        self.plans.keep_selected(edited.tool)
        self.selection.edit_hole(
            edited.words, sequence=edited.entries or None, sequence_only=True if edited.only else None
        )
        if edited.place is not None:
            self.selection.operation_index = edited.place
