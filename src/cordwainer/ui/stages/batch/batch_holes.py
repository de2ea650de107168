"""From which face each hole of the batch is cut, and which holes come before it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.ui.desk.document import Document
from cordwainer.ui.kit.basics import Column, Field, text_label
from cordwainer.ui.kit.layout import line_of

WIDE = 66


class HolesOfBatch(Column):
    """A line a hole: its face and what comes first."""

    told = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__((0, 0, 0, 0), 3)
        self.document = document
        self._shown: list[tuple[str, str, tuple[str, ...]]] = []
        titles, line = line_of()
        line.addWidget(text_label(tr("Hole"), 14, True), 1)
        for words in (tr("face"), tr("after")):
            label = text_label(words, 14, True)
            label.setFixedWidth(WIDE)
            line.addWidget(label)
        self.add(titles)
        self.rows = Column((0, 0, 0, 0), 3)
        self.add(self.rows)

    def refresh(self) -> None:
        """Mirror the job."""
        shown = [(entry.id, entry.face, entry.after) for entry in self.document.job.file.holes]
        if shown == self._shown:
            return
        self._shown = shown
        self.rows.clear()
        for index, (name, face, after) in enumerate(shown):
            row, line = line_of()
            line.addWidget(text_label(name, 14), 1)
            for key, text, empty in (("face", face, tr("same")), ("after", ", ".join(after), "–")):
                field = Field(f"{name}, {tr(key)}", 14)
                field.setFixedSize(WIDE, 28)
                field.setPlaceholderText(empty)
                field.setText(text)
                field.kept.connect(lambda t, k=key, i=index: self.keep(i, k, t))
                line.addWidget(field)
            self.rows.add(row)

    def keep(self, index: int, key: str, text: str) -> None:
        """Another face, or other holes that come first; a hole that is not there is said and nothing changes."""
        words = [word for word in text.replace(",", " ").split() if word]
        known = {hole.id for hole in self.document.job.holes}
        if key == "after" and not set(words) <= known:
            self.told.emit(
                tr(
                    "'{words}' names no hole of this job; it has {known}",
                    words=text,
                    known=", ".join(sorted(known)),
                )
            )
            return
        value = (words if key == "after" else text.strip()) or None

        def change(data: dict[str, Any]) -> None:
            hole = data["holes"][index]
            if value is None:
                hole.pop(key, None)
            else:
                hole[key] = value

        try:
            self.document.edit(tr("Face of a hole") if key == "face" else tr("What comes first"), change)
        except InputError as bad:
            self.told.emit(bad.problem)
