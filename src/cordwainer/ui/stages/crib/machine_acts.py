"""Machines put in by kind, named, copied and taken away."""

from __future__ import annotations

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtWidgets import QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import inner, tr
from cordwainer.core.shop.machine import Machine
from cordwainer.files.new_shop import machine_kinds
from cordwainer.ui.desk.own_shop import OwnShop
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, Link, text_label
from cordwainer.ui.kit.layout import NONE, across, fill


class MachineActs(QWidget):
    """One line: the name of the machine shown, another of a kind, a copy, away with it. `turned`: one to show."""

    turned = pyqtSignal(str)

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.own, self.stock = OwnShop(selection, stock), stock
        self.machine_id = ""
        line = across(self, NONE, 8)
        self.name = Field(tr("Name of the machine"), 15, True)
        self.name.setFixedSize(QSize(132, 30))
        self.name.kept.connect(self._rename)
        copy, away = Link(tr("Copy"), 14), Link(tr("Take away"), 14)
        copy.clicked.connect(lambda: self.turned.emit(self.own.copy_machine(self.machine_id)))
        away.clicked.connect(self._remove)
        fill(line, self.name, copy, away, None, text_label(tr("Add a"), 14, color=theme.INK2))
        for entry in machine_kinds().values():
            words = inner(entry["name"])
            link = Link(words, 14)
            link.setAccessibleName(tr("Add a {words}", words=words))
            link.clicked.connect(lambda _=False, e=entry: self.turned.emit(self.own.add_machine(e)))
            line.addWidget(link)

    def show_machine(self, machine: Machine) -> None:
        """The machine whose name this is."""
        self.machine_id = machine.id
        if not self.name.hasFocus() or not self.name.isModified():
            self.name.setText(machine.name)
            self.name.set_wrong(False)

    def _rename(self, text: str) -> None:
        if not text.strip():
            self.name.set_wrong(True)
            return
        try:
            self.stock.set_machine_fields(self.machine_id, name=text.strip())
        except InputError:
            self.name.set_wrong(True)

    def _remove(self) -> None:
        why_not = self.own.remove_machine(self.machine_id)
        if why_not:
            self.stock.said.emit(why_not)
        else:
            self.turned.emit(self.stock.machine.id)
