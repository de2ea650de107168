"""Every key of the window on one sheet, read from the table of commands."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QPushButton, QScrollArea, QWidget

from cordwainer.core.language import tr
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, text_label
from cordwainer.ui.kit.layout import down, line_of

ELSEWHERE = (
    (tr("Enter"), tr("keep what was typed")),
    (tr("Esc"), tr("put back what was there")),
    (tr("Tab"), tr("next place to type or press")),
    (tr("Space"), tr("press what has the ring")),
    (tr("Wheel on a rung"), tr("step through the sizes that exist")),
    ("F10", "menu"),
)
AT_THE_MACHINE = (
    (tr("Space"), tr("chips cleared: the next stop")),
    (tr("PgDown or Right"), tr("next, past the stop done (a presenter's next)")),
    (tr("PgUp or Left"), tr("one stop back (a presenter's back)")),
    (tr("Enter, held"), tr("done with the step")),
    (tr("1 to 4"), tr("tick a caution")),
    ("X", tr("something looked wrong: stop")),
    ("D", tr("light or dim")),
    ("E U N L P F", tr("chips: alike, uneven, good, strings, packed, powder")),
    ("S C M", tr("squeal, chatter, smoke")),
    ("O B H", tr("ran in a circle, bent at the touch, felt heavy")),
)


class ShortcutSheet(QDialog):
    """Keys and what they do, in two columns."""

    def __init__(self, keyed: dict[str, list[tuple[str, str]]], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Shortcuts"))
        self.resize(900, 740)
        outer = down(self, (28, 22, 20, 18))
        outer.addWidget(text_label(tr("Shortcuts"), 22, True))
        outer.addWidget(text_label(tr("Single letters and arrows rest while you type."), 15, color=theme.INK2))
        sheet, row = line_of((0, 10, 12, 10), gap=40)
        groups = list(keyed.items())
        groups += [(tr("At the machine"), list(AT_THE_MACHINE)), (tr("Anywhere"), list(ELSEWHERE))]
        half = sum(len(lines) + 2 for _, lines in groups) / 2
        columns = (Column((0, 0, 0, 0), 4), Column((0, 0, 0, 0), 4))
        used = 0
        for name, lines in groups:
            column = columns[0 if used + len(lines) / 2 < half else 1]
            used += len(lines) + 2
            column.add(text_label(name, 16, True))
            column.add(self._lines(lines))
        for column in columns:
            column.box.addStretch(1)
            row.addWidget(column, 1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(sheet)
        outer.addWidget(scroll, 1)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.accept)
        outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    def _lines(self, lines: list[tuple[str, str]]) -> QWidget:
        table = QWidget()
        grid = QGridLayout(table)
        grid.setContentsMargins(0, 0, 0, 12)
        grid.setHorizontalSpacing(18)
        grid.setVerticalSpacing(3)
        grid.setColumnMinimumWidth(0, 120)
        grid.setColumnStretch(1, 1)
        for place, (keys, words) in enumerate(lines):
            grid.addWidget(text_label(keys, 15, True), place, 0)
            grid.addWidget(text_label(words, 15), place, 1)
        return table
