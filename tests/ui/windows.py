"""Windows as a person has them before him, with all their work done where it is asked for."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from PyQt6.QtCore import QCoreApplication, QEvent, QEventLoop, Qt
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QWidget
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.questions import STAY, Questions
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.shell.window import Window

TURNS = 12  # what is shown a few rows at a time is whole by then
Kind = TypeVar("Kind", bound=Stage)


class Answers(Questions):
    """Questions that answer themselves; what was asked is kept in `asked`."""

    def __init__(self, *yes: bool, leave: str = STAY, path: Path | None = None, text: str | None = None) -> None:
        self.asked: list[str] = []
        self.said_yes, self.leaves, self.path, self.said = iter(yes), leave, path, text
        self.picks = ""

    def file_to_open(self, title: str, kinds: str) -> Path | None:
        """The file given."""
        self.asked.append(title)
        return self.path

    def choose_file(self, title: str, start: str, kinds: str) -> Path | None:
        """The file given."""
        self.asked.append(title)
        return self.path

    def text(self, title: str, words: str, start: str) -> str | None:
        """The text given."""
        self.asked.append(words)
        return self.said

    def yes(self, title: str, text: str, yes: str) -> bool:
        """The next of the answers given."""
        self.asked.append(text)
        said = next(self.said_yes, None)
        assert said is not None, f"nothing is answered to: {text}"
        return said

    def one_of(self, title: str, text: str, ways: tuple[str, ...]) -> int | None:
        """The way that was to be picked."""
        self.asked.append(text)
        return ways.index(self.picks) if self.picks else None

    def leave(self) -> str:
        """The answer given."""
        self.asked.append("leave")
        return self.leaves


def opened(
    qtbot: QtBot,
    path: Path | None = None,
    *,
    demo: bool = False,
    settings: Settings | None = None,
    questions: Answers | None = None,
) -> Window:
    """A window on a job, the demo or the first screen, shown and planned; with answers it asks as at a start."""
    application = QApplication.instance()
    assert isinstance(application, QApplication)
    theme.apply(application)
    found = Window(Desk(settings or Settings(), inline=True))
    found.questions = questions or Answers()
    found.begin(path, demo=demo, ask=questions is not None)
    found.show()
    qtbot.waitExposed(found)
    planned(found)
    return found


def shut(window: Window) -> None:
    """Close a window without being asked to save."""
    window.desk.document.clean = window.desk.document.data
    window.close()
    window.deleteLater()
    # Without an event loop nothing that was let go would ever go.
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def planned(window: Window, _qtbot: object = None) -> None:
    """Every hole has its plan, and what hangs on it is painted."""
    assert window.desk.plans.complete
    QApplication.processEvents()


def settled(window: Window) -> None:
    """All that is worked out while nobody waits is there, and painted."""
    window.desk.background.settle()
    for _ in range(TURNS):
        QApplication.processEvents()


def at(window: Window, kind: type[Kind]) -> Kind:
    """A stage of the window, by what it is."""
    name = re.sub(r"(?<!^)([A-Z])", r"_\1", kind.__name__.removesuffix("Stage")).lower()
    stage = window.stages[name]
    assert isinstance(stage, kind)
    return stage


def words(widget: QWidget) -> str:
    """Everything a person can read in a widget's labels."""
    QApplication.processEvents()
    found = [label.text() for label in widget.findChildren(QLabel) if label.isVisible()]
    return " ".join(found)


def typed(qtbot: QtBot, field: QLineEdit, text: str) -> None:
    """Type a line and press Enter."""
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def heard(window: Window) -> list[str]:
    """What the window says from now on, line by line."""
    said: list[str] = []
    window.desk.said.connect(said.append)
    for stage in window.stages.made.values():
        stage.said.connect(said.append)
    return said


def when(signal: Any, true: Callable[[], bool]) -> None:
    """Let the window work until a signal finds something true; no patience is set, as no machine is slow."""
    loop = QEventLoop()

    def look(*_told: object) -> None:
        if true():
            loop.quit()

    signal.connect(look)
    if not true():
        loop.exec()
    signal.disconnect(look)
