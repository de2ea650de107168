"""A new user at the real window: gestures by word, and everything that can then be read on the screen."""

from __future__ import annotations

import re
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QKeySequence
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QWidget,
)
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.ui.commands.strip import set_field
from cordwainer.ui.shell.window import Window
from tests.ui.windows import Answers, opened, settled

TAGS = re.compile(r"<[^>]*>")


def plain(text: str) -> str:
    """Text as it is read."""
    return " ".join(TAGS.sub("", text).replace("\u2009", " ").split())


def shown(root: QWidget) -> list[QWidget]:
    """Everything of a window that is on the screen."""
    return [root, *(child for child in root.findChildren(QWidget) if child.isVisible())]


def reads(root: QWidget) -> str:
    """All that a person can read, painted figures by the words they are said with."""
    found = []
    for widget in shown(root):
        if isinstance(widget, QLabel | QAbstractButton):
            found.append(widget.text() or widget.accessibleName())
            if isinstance(widget, QAbstractButton):
                found.append(widget.accessibleName())
        elif isinstance(widget, QLineEdit):
            found.append(f"{widget.accessibleName()}: {widget.text()}")
        elif isinstance(widget, QComboBox):
            found += [widget.itemText(place) for place in range(widget.count())]
        elif isinstance(widget, QPlainTextEdit):
            found.append(widget.toPlainText())
        found.append(widget.accessibleDescription())
        if not isinstance(widget, QLabel | QAbstractButton | QLineEdit):
            found.append(widget.accessibleName())
    return " | ".join(plain(text) for text in found if text)


class Walk:
    """One window from a fresh start, and the gestures made at it; `heard` keeps what dialogs said."""

    def __init__(self, qtbot: QtBot, folder: Path, unit: str, machine: str, material: str, shop: str) -> None:
        self.window: Window = opened(qtbot, settings=Settings(folder / "settings.json"), questions=Answers())
        self.window.desk.document.keeper.settle()
        self.heard: list[str] = []
        self.gestures = 0
        desk = self.window.desk
        desk.selection.set_unit(unit)
        desk.stock.use_shop(shop)
        for field, value in (("machine", machine), ("material", material)):
            set_field(self.window, field, field, value)

    def do(self, gesture: str) -> None:
        """One gesture: ``type``, ``ask``, ``go``, ``step``, ``press``, ``key``, ``fill``."""
        kind, _, what = gesture.partition(" ")
        self.gestures += 1
        looking = QTimer()
        looking.timeout.connect(self._look_at_dialog)
        looking.start(0)
        try:
            getattr(self, f"_{kind}")(what)
            settled(self.window)
        finally:
            looking.stop()

    def _look_at_dialog(self) -> None:
        dialog = QApplication.activeModalWidget()
        if isinstance(dialog, QDialog):
            self.heard.append(reads(dialog))
            dialog.close()

    def read(self) -> str:
        """Everything on the screen, and what dialogs said."""
        return " | ".join([reads(self.window), *self.heard])

    # -- gestures ------------------------------------------------------------------------------

    def _type(self, line: str) -> None:
        """The hole, where it is typed as it is written on the print."""
        field = next(w for w in shown(self.window) if isinstance(w, QLineEdit) and "typed" in w.accessibleName())
        self._enter(field, line)

    def _fill(self, what: str) -> None:
        """A field by its name: ``name = text``."""
        name, _, text = what.partition(" = ")
        fields = [w for w in shown(self.window) if isinstance(w, QLineEdit) and name in w.accessibleName()]
        assert fields, f"no field is called {name}; there are {self._names(QLineEdit)}"
        self._enter(fields[0], text)

    def _enter(self, field: QLineEdit, text: str) -> None:
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    def _ask(self, line: str) -> None:
        if not self.window.ask_line.isVisible():
            self.window.setFocus()
            QTest.keyClick(self.window, Qt.Key.Key_Slash)
        self.window.ask_line.field.clear()
        QTest.keyClicks(self.window.ask_line.field, line)

    def _go(self, stage: str) -> None:
        self.window.setFocus()
        self.window.run(stage if stage.startswith(("open_", "what_", "edit_")) else f"go_{stage}")

    def _key(self, keys: str) -> None:
        target = QApplication.focusWidget() or self.window
        code = QKeySequence(keys)[0]
        QTest.keyClick(target, code.key(), code.keyboardModifiers())

    def _step(self, words: str) -> None:
        """A step of the sequence by what it is called."""
        route = self.window.desk.plans.route
        assert route is not None, "no sequence"
        kinds = [o.kind.replace("_", " ") for o in route.operations]
        named = [i for i, kind in enumerate(kinds) if kind == words]
        assert named, f"no step {words}; there are {kinds}"
        self.window.desk.plans.select_operation(named[-1])

    def _press(self, words: str) -> None:
        """A button, tile or link by its words."""
        buttons = [w for w in shown(self.window) if isinstance(w, QAbstractButton) and w.isEnabled()]
        exact = [b for b in buttons if words in (b.accessibleName(), b.text())]
        found = exact or [b for b in buttons if words in b.accessibleName() or words in b.text()]
        assert found, f"nothing to press is called {words}; there are {self._names(QAbstractButton)}"
        found[0].click()

    def _names(self, kind: type[QWidget]) -> list[str]:
        return [w.accessibleName() for w in shown(self.window) if isinstance(w, kind)]
