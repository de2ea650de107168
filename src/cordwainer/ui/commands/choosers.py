"""What the strip along the top chooses: job name, material, machine, shop."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMenu

from cordwainer.core.errors import CordwainerError
from cordwainer.core.shop.material import materials
from cordwainer.ui.desk.session import Session
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.frame import JobStrip
from cordwainer.ui.shell.keeper import DEMOS, Keeper


class Choosers(Keeper):
    """A window whose strip chooses what the job is made of and with."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.strip = JobStrip()
        self.actions_by_method: dict[str, QAction] = {}

    def rename_job(self) -> None:
        """Name the job."""
        text, ok = QInputDialog.getText(self, "Job", "Name of the job", text=self.session.job.file.name)
        if ok:
            self.session.edit("Name the job", lambda data: data.__setitem__("name", text.strip()))

    def choose_material(self) -> None:
        """Choose the material from a menu."""
        menu = QMenu(self)
        for key, found in materials().items():
            action = menu.addAction(found.name[0].upper() + found.name[1:])
            if action is None:
                continue
            action.setCheckable(True)
            action.setChecked(key == self.session.job.material.id)
            action.triggered.connect(lambda _=False, k=key: self._set("Material", "material", k))
        menu.popup(self.strip.material.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def choose_machine(self) -> None:
        """Choose the machine from a menu, or change what is known of it."""
        menu = QMenu(self)
        for machine in self.session.machines:
            action = menu.addAction(machine.name)
            if action is None:
                continue
            action.setCheckable(True)
            action.setChecked(machine.id == self.session.machine.id)
            action.triggered.connect(lambda _=False, m=machine.id: self._set("Machine", "machine", m))
        menu.addSeparator()
        menu.addAction(self.actions_by_method["edit_machine"])
        menu.popup(self.strip.machine.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def _set(self, words: str, key: str, value: str) -> None:
        try:
            self.session.edit(words, lambda data: data.__setitem__(key, value))
        except CordwainerError as bad:
            self.notice.say(str(bad))

    def choose_demo(self) -> None:
        """Choose one of the demo jobs."""
        menu = QMenu(self)
        for name, words in DEMOS.items():
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, n=name: self.open_demo(n))
        menu.popup(self.strip.job.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def choose_shop(self) -> None:
        """Choose the crib: the demo's, every size sold, or a shop file."""
        menu = QMenu(self)
        for name, words in (("demo", "Demo crib, a drawer with gaps"), ("catalog", "Catalog, every size sold")):
            action = menu.addAction(words)
            if action is not None:
                action.setCheckable(True)
                action.setChecked(self.session.shop_name == name)
                action.triggered.connect(lambda _=False, n=name: self.session.use_shop(n))
        action = menu.addAction("A shop file…")
        if action is not None:
            action.triggered.connect(self._open_shop)
        menu.popup(self.strip.shop.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def _open_shop(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Open a shop file", "", "Shop files (*.shop.json);;All files (*)"
        )
        if name:
            try:
                self.session.use_shop(name)
            except CordwainerError as bad:
                self.notice.say(f"{Path(name).name} was not read. {bad}")
