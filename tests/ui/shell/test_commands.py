"""Every command of the table, done from anywhere: it acts, or says in words why not, and nothing is raised."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QDialog, QMenu

from cordwainer.ui.commands.table import BY_NAME
from cordwainer.ui.kit.questions import DROP
from cordwainer.ui.shell.window import Window
from tests.ui.windows import Answers, settled

# The window ends or starts anew with these; printing asks the system's own dialog.
ELSEWHERE = {"quit", "larger_text", "smaller_text", "print_sheet"}


def all_of_them(window: Window, monkeypatch: pytest.MonkeyPatch) -> dict[str, str]:
    """What the window says after each."""
    monkeypatch.setattr(QDialog, "exec", lambda _dialog: 0)
    monkeypatch.setattr(QMenu, "popup", lambda *_: None)
    window.questions = Answers(*[False] * 20, leave=DROP)
    raised: list[object] = []
    monkeypatch.setattr("sys.excepthook", lambda *told: raised.append(told))
    said = {}
    for name in BY_NAME:
        if name not in ELSEWHERE:
            window.say("")
            window.run(name)
            settled(window)
            said[name] = window.notice.words.text()
    assert not raised
    return said


def test_from_the_first_screen(window: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    said = all_of_them(window, monkeypatch)
    assert "no hole yet" in said["type_hole"] and "no sequence yet" in said["faster"]
    assert "no tool is chosen" in said["tool_out"]


@pytest.mark.parametrize("stage", ["print", "plan", "cut", "measure", "explain", "crib"])
def test_from_each_stage_of_a_job(demo: Window, monkeypatch: pytest.MonkeyPatch, stage: str) -> None:
    demo.go(stage)
    all_of_them(demo, monkeypatch)
    assert demo.isVisible() and demo.stack.currentWidget() is not None
