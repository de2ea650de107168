"""The working of an operation, and pages that ship with the program, in windows of their own."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QPushButton, QScrollArea, QTextBrowser, QWidget

from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.planning.words.wording import role_name
from cordwainer.core.tables import page
from cordwainer.core.working import Working, figure
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Rule, text_label
from cordwainer.ui.kit.layout import down, fill, line_of


class PageDialog(QDialog):
    """A page that ships with the program."""

    def __init__(self, title: str, name: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.resize(820, 640)
        outer = down(self, (28, 20, 20, 18))
        self.page = QTextBrowser()
        self.page.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.page.setStyleSheet(f"QTextBrowser {{ background: {theme.PLATE.name()}; color: {theme.INK.name()}; }}")
        self.page.setFont(theme.font(15))
        self.page.setMarkdown(page(name))
        outer.addWidget(self.page, 1)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.accept)
        outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)


class WorkingDialog(QDialog):
    """Every number of an operation with its formula, inputs and source."""

    def __init__(self, route: Route, index: int, parent: QWidget) -> None:
        super().__init__(parent)
        operation = route.operations[index]
        self.setWindowTitle(tr("Working"))
        self.resize(640, 600)
        outer = down(self, (28, 22, 20, 18))
        name = operation.tool.name if operation.tool else ""
        outer.addWidget(text_label(tr("{role_name}: the working", role_name=role_name(route, index)), 22, True))
        outer.addWidget(text_label(name, 15, color=theme.INK2))
        column = Column((0, 10, 12, 10), 8)
        for working in operation.workings:
            self._add(column, working)
        column.box.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(column)
        outer.addWidget(scroll, 1)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.accept)
        outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    def _add(self, column: Column, working: Working) -> None:
        column.add(Rule(theme.RULE))
        row, line = line_of()
        fill(line, text_label(sentence(working.name), 16, True), None)
        fill(line, text_label(f"{figure(working.value)} {working.unit}", 20, True))
        column.add(row)
        column.add(text_label(working.formula, 15))
        given = ",  ".join(f"{i.name} {i.value} {i.unit}".rstrip() for i in working.inputs)
        column.add(text_label(given, 14, color=theme.INK2, wrap=True))
        column.add(text_label(tr("Source: {source}", source=working.source), 13, color=theme.INK2, wrap=True))
