"""The selected hole as a heading, and the way to the next one."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit.basics import Link, text_label
from cordwainer.ui.kit.layout import NONE, across, fill


class NextHole:
    """A link that selects the next hole; hidden where there is only one."""

    def __init__(self, document: Document, selection: Selection) -> None:
        self.document, self.selection = document, selection
        self.link = Link(tr("Next"), 15)
        self.link.clicked.connect(self._next)

    def _next(self) -> None:
        count = len(self.document.job.holes)
        self.selection.select_hole((self.selection.hole_index + 1) % max(count, 1))

    def refresh(self) -> None:
        """Say how many there are."""
        many = len(self.document.job.holes)
        self.link.setText(tr("Next of {many}", many=many))
        self.link.setVisible(many > 1)


class HoleHead(QWidget):
    """Id and name of the selected hole, with the next one beside it."""

    def __init__(self, document: Document, selection: Selection) -> None:
        super().__init__()
        self.document, self.selection = document, selection
        row = across(self, NONE)
        self.words = text_label("", 20, True)
        fill(row, self.words, None)
        self.next = NextHole(self.document, self.selection)
        row.addWidget(self.next.link)

    def refresh(self) -> None:
        """Mirror what is in hand."""
        hole = self.selection.hole
        self.words.setText(f"{hole.id} {hole.name}".strip() if hole is not None else "")
        self.next.refresh()
