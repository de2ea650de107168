"""Work beside the window: what it gives, what it raises, and letting it go."""

from __future__ import annotations

import threading

import pytest
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.ui.dialogs import waiting
from cordwainer.ui.dialogs.waiting import WaitingDialog, waited


@pytest.fixture
def at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """Said and barred from the first moment."""
    monkeypatch.setattr(waiting, "SAID_MS", 0)
    monkeypatch.setattr(waiting, "BAR_MS", 0)


def meanwhile(seen: list[WaitingDialog], then: str, go_on: threading.Event) -> QTimer:
    """Looks for the dialog at every turn of the loop; what it finds is kept, pressed, or let end."""
    turn = QTimer()

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if not isinstance(dialog, WaitingDialog) or not dialog.bar.isVisible():
            return
        turn.stop()
        seen.append(dialog)
        if then == "stop":
            dialog.stop.click()
        elif then == "escape":
            dialog.reject()
            go_on.set()
        else:
            go_on.set()

    turn.timeout.connect(look)
    turn.start(0)
    return turn


def test_what_is_soon_done_is_given_without_a_word(qtbot: QtBot) -> None:
    """Its answer or its error, as if it had been done here; on another thread it was."""
    here = threading.get_ident()
    assert waited("Reading", threading.get_ident) != here
    assert waited("Reading", threading.get_ident, inline=True) == here

    def fails() -> None:
        raise InputError("", "the disk is full")

    with pytest.raises(InputError, match="the disk is full"):
        waited("Writing", fails)


def test_long_work_is_said_with_a_bar_and_may_be_let_go(qtbot: QtBot, at_once: None) -> None:
    """Stop gives the window back at once and nothing of the work is used."""
    go_on, seen = threading.Event(), list[WaitingDialog]()
    turn = meanwhile(seen, "stop", go_on)
    with pytest.raises(StoppedError, match="Making the shop sheet: stopped"):
        waited("Making the shop sheet", go_on.wait)
    go_on.set()
    assert seen and not turn.isActive()


def test_what_may_not_be_stopped_goes_on_through_escape(qtbot: QtBot, at_once: None) -> None:
    """No Stop, and Escape leaves it alone; it ends when it is done."""
    go_on, seen = threading.Event(), list[WaitingDialog]()
    turn = meanwhile(seen, "escape", go_on)
    assert waited("Packing the shop", go_on.wait, may_stop=False) is True
    assert seen and not turn.isActive()
