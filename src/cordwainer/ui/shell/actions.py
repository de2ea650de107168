"""The commands as the window offers them: keys, and the menu under the mark."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QApplication, QComboBox, QLineEdit, QMainWindow, QMenu, QPlainTextEdit

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr
from cordwainer.ui.commands import leaving
from cordwainer.ui.commands.command import Command, Shell
from cordwainer.ui.commands.table import BY_NAME, COMMANDS
from cordwainer.ui.kit.plain import on_menu, on_tip

MENUS = {
    "File": tr("File"),
    "Edit": tr("Edit"),
    "View": tr("View"),
    "Go": tr("Go"),
    "Sequence": tr("Sequence"),
    "Crib": tr("Crib"),
    "Help": tr("Help"),
}
OF_GROUP = {"Go to": "Go", "Shop": "Crib"}


class Actions:
    """An action for each command; `by_name` has them, `menus` those that stand in a menu, by its name."""

    def __init__(self, window: QMainWindow, shell: Shell) -> None:
        self.window, self.shell = window, shell
        self.by_name: dict[str, QAction] = {}
        self.menu = QMenu(window)
        self.menus = {name: QMenu(f"&{words}", self.menu) for name, words in MENUS.items()}
        for menu in self.menus.values():
            self.menu.addMenu(menu)
        apart = dict.fromkeys(MENUS, False)
        for command in COMMANDS:
            if command is None:
                apart = dict.fromkeys(MENUS, True)
                continue
            name = OF_GROUP.get(command.group, command.group)
            if command.menu and apart[name] and not self.menus[name].isEmpty():
                self.menus[name].addSeparator()
            apart[name] = apart[name] and not command.menu
            self._add(command, self.menus[name])
        self.recent = QMenu(tr("Recent files"), window)
        self.menus["File"].insertMenu(self.by_name["save_job"], self.recent)
        self._key(tr("Menu"), "F10", self.open_menu)
        undo = shell.desk.document.undo
        undo.undoTextChanged.connect(lambda _text: self.name_undo())
        undo.redoTextChanged.connect(lambda _text: self.name_undo())

    def _add(self, command: Command, menu: QMenu) -> None:
        action = QAction(command.text, self.window)
        action.triggered.connect(lambda: self._run(command))
        if command.keys:
            action.setShortcut(QKeySequence(command.keys))
            action.setShortcutVisibleInContextMenu(True)
        if command.also:
            self._key(command.text, command.also, lambda: self.run(command.name))
        self.window.addAction(action)
        self.by_name[command.name] = action
        if command.menu:
            menu.addAction(action)

    def _key(self, words: str, keys: str, do: Callable[[], None]) -> None:
        action = QAction(words, self.window)
        action.setShortcut(QKeySequence(keys))
        action.triggered.connect(lambda: do())
        self.window.addAction(action)

    def _run(self, command: Command) -> None:
        """Do it, unless its key belongs to what is being typed."""
        typing = isinstance(QApplication.focusWidget(), QLineEdit | QPlainTextEdit | QComboBox)
        if not (command.plain and typing):
            self.run(command.name)

    def run(self, name: str) -> None:
        """Do a command; why it cannot be done is said."""
        command, shell = BY_NAME[name], self.shell
        try:
            why_not = command.when(shell)
            if why_not:
                shell.say(why_not)
            else:
                command.do(shell)
        except CordwainerError as bad:
            shell.say(str(bad))

    def name_undo(self) -> None:
        """What undo and redo would take back."""
        undo = self.shell.desk.document.undo
        for name, words, text, able in (
            ("undo", tr("Undo"), undo.undoText(), undo.canUndo()),
            ("redo", tr("Redo"), undo.redoText(), undo.canRedo()),
        ):
            self.by_name[name].setText(on_menu(f"{words} {text}".strip()))
            self.by_name[name].setEnabled(able)

    def open_menu(self) -> None:
        """The menu under the mark, with the files opened lately."""
        self.recent.clear()
        for name in self.shell.desk.settings.recent():
            action = self.recent.addAction(on_menu(Path(name).name))
            if action is not None:
                action.setToolTip(on_tip(name))
                action.triggered.connect(lambda _=False, n=name: leaving.open_recent(self.shell, Path(n)))
        self.recent.setEnabled(not self.recent.isEmpty())
        self.shell.popup(self.menu, "logo")
