"""What a list holds, shown before any of it is taken: rows that can be taken, rows that cannot, and why."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QStringListModel, Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListView, QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.lists import Refused
from cordwainer.files.shown import shown
from cordwainer.files.writing import write_text
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, text_label
from cordwainer.ui.kit.layout import across, down, fill
from cordwainer.ui.kit.plain import in_title
from cordwainer.ui.kit.questions import Questions


@dataclass(frozen=True)
class Preview:
    """A list read: its title, what its rows are, the good ones in words, the others with why, them as CSV."""

    title: str
    noun: str
    good: Sequence[str]
    refused: Sequence[Refused]
    refused_csv: str
    extra: str = ""


class PreviewDialog(QDialog):
    """Two lists side by side, and one button that takes the good rows."""

    def __init__(self, preview: Preview, parent: QWidget) -> None:
        super().__init__(parent)
        self.preview = preview
        self.setWindowTitle(in_title(preview.title))
        self.resize(920, 560)
        outer = down(self, (28, 20, 28, 18), 10)
        outer.addWidget(text_label(preview.title, 22, True))
        if preview.extra:
            outer.addWidget(text_label(preview.extra, 14, color=theme.INK2, wrap=True))
        row = across(gap=20)
        good, bad = len(preview.good), len(preview.refused)
        row.addWidget(self._side(tr("{good} can be taken", good=good), preview.good, "good"), 1)
        why = [tr("line {line}: {reason}", line=r.line, reason=r.reason) for r in preview.refused]
        row.addWidget(
            self._side(tr("{bad} cannot be read", bad=bad) if bad else tr("None is refused"), why, "refused"), 1
        )
        outer.addLayout(row, 1)
        self.said = text_label("", 14, True, wrap=True)
        outer.addWidget(self.said)
        buttons = QHBoxLayout()
        if bad:
            keep = Link(tr("Save the rows not read, with why"), 15)
            keep.clicked.connect(self.save_refused)
            buttons.addWidget(keep)
        buttons.addStretch(1)
        leave = QPushButton(tr("Leave it"))
        leave.clicked.connect(self.reject)
        self.take = QPushButton(tr("Take {good} {noun}", good=good, noun=preview.noun))
        self.take.setProperty("role", "act")
        self.take.setDefault(True)
        self.take.setEnabled(good > 0)
        self.take.clicked.connect(self.accept)
        fill(buttons, leave, self.take)
        outer.addLayout(buttons)

    def _side(self, title: str, lines: Sequence[str], name: str) -> QWidget:
        column = Column((0, 0, 0, 0), 6)
        column.add(text_label(title, 17, True))
        view = QListView()
        view.setObjectName(name)
        view.setAccessibleName(title)
        view.setModel(QStringListModel([shown(line, 400) for line in lines], view))
        view.setUniformItemSizes(name == "good")
        view.setWordWrap(name != "good")
        view.setEditTriggers(QListView.EditTrigger.NoEditTriggers)
        view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        view.setStyleSheet(
            f"QListView {{ background: {theme.HI.name()}; border: 1px solid {theme.INK2.name()}; }}"
            "QListView::item { padding: 4px 8px; }"
        )
        column.add(view, 1)
        return column

    def save_refused(self) -> None:
        """Ask where to write the rows that were not read."""
        found = Questions(self).file_to_write(tr("Rows not read"), "not-read.csv", tr("List (*.csv)"), ".csv")
        if found is not None:
            self.save_refused_to(found)

    def save_refused_to(self, path: Path) -> None:
        """Write them, with why before each."""
        try:
            write_text(path, self.preview.refused_csv)
        except InputError as bad:
            self.said.setText(f"{bad}.")
            return
        self.said.setText(
            tr(
                "{count} rows written to {path}; mend them and read it again.",
                count=len(self.preview.refused),
                path=path.name,
            )
        )
