"""The two things asked in a window of their own: the working, and what a machine has."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.planning.operation import Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.working import Working, figure
from cordwainer.ui import theme
from cordwainer.ui.widgets.basics import Column, Field, Rule, text_label
from cordwainer.ui.wording import role_name


class WorkingDialog(QDialog):
    """Every number of an operation with its formula, inputs and source."""

    def __init__(self, route: Route, index: int, parent: QWidget) -> None:
        super().__init__(parent)
        operation = route.operations[index]
        self.setWindowTitle("Working")
        self.resize(640, 600)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(28, 22, 20, 18)
        name = operation.tool.name if operation.tool else ""
        outer.addWidget(text_label(f"{role_name(route, index)}: the working", 22, True))
        outer.addWidget(text_label(name, 15, color=theme.INK2))
        column = Column((0, 10, 12, 10), 8)
        for working in operation.workings:
            self._add(column, working)
        column.box.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(column)
        outer.addWidget(scroll, 1)
        close = QPushButton("Close")
        close.clicked.connect(self.accept)
        outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    def _add(self, column: Column, working: Working) -> None:
        column.add(Rule(theme.RULE))
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label(working.name[0].upper() + working.name[1:], 16, True))
        line.addStretch(1)
        line.addWidget(text_label(f"{figure(working.value)} {working.unit}", 20, True))
        column.add(row)
        column.add(text_label(working.formula, 15))
        given = ",  ".join(f"{i.name} {i.value} {i.unit}".rstrip() for i in working.inputs)
        column.add(text_label(given, 14, color=theme.INK2, wrap=True))
        column.add(text_label(f"Source: {working.source}", 13, color=theme.INK2, wrap=True))


class MachineDialog(QDialog):
    """The speeds a machine really has, and its power."""

    def __init__(self, machine: Machine, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("My machine")
        self.resize(620, 330)
        self.speeds: list[float] = list(machine.steps())
        self.power_kw = machine.power_kw
        outer = QVBoxLayout(self)
        outer.setContentsMargins(28, 22, 28, 18)
        outer.setSpacing(8)
        outer.addWidget(text_label(machine.name, 22, True))
        outer.addWidget(text_label("Speeds as on its plate, rev/min", 14, color=theme.INK2))
        self.speed_field = Field("Speeds in revolutions per minute", 18)
        self.speed_field.setText("  ".join(f"{n:g}" for n in self.speeds))
        outer.addWidget(self.speed_field)
        outer.addWidget(text_label("Power, kW", 14, color=theme.INK2))
        self.power_field = Field("Power in kilowatts", 18)
        self.power_field.setText(f"{machine.power_kw:g}")
        outer.addWidget(self.power_field)
        self.trouble = text_label("", 14, True, wrap=True)
        outer.addWidget(self.trouble)
        outer.addStretch(1)
        row = QHBoxLayout()
        row.addStretch(1)
        keep, back = QPushButton("Keep"), QPushButton("Leave it")
        keep.setProperty("role", "act")
        keep.setDefault(True)
        keep.clicked.connect(self.keep)
        back.clicked.connect(self.reject)
        row.addWidget(back)
        row.addWidget(keep)
        outer.addLayout(row)

    def keep(self) -> None:
        """Read both fields; what cannot be read is said under them."""
        try:
            speeds = sorted({float(n) for n in self.speed_field.text().replace(",", " ").split()})
            power = float(self.power_field.text().replace(",", "."))
        except ValueError:
            self.trouble.setText("Write plain figures with blanks between, such as 130 210 330.")
            return
        usable = [n for n in [*speeds, power] if math.isfinite(n) and n > 0]
        if not speeds or len(usable) != len(speeds) + 1 or speeds[-1] > 200_000:
            self.trouble.setText("Every figure must be above zero and below 200,000 rev/min.")
            return
        self.speeds, self.power_kw = speeds, power
        self.accept()
