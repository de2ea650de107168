"""Two windows on one shop's server: joined in the dialog, holes and drawers seen at the other, the server away."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.shop.tool import Tool
from cordwainer.files.places import Settings, data_folder
from cordwainer.logbook.server import Server, read_address
from cordwainer.ui.dialogs.benches import BenchesDialog
from cordwainer.ui.shell.window import Window
from tests.logbook.postgres import LEFT_OUT, Postgres, folder_of_programs
from tests.logbook.test_book import run
from tests.ui.windows import opened, shut

pytestmark = pytest.mark.skipif(folder_of_programs() is None, reason=LEFT_OUT)
PATIENCE_MS = 60_000


@pytest.fixture
def postgres() -> Iterator[Postgres]:
    found = Postgres()
    found.sql("CREATE DATABASE shop")
    server = Server(read_address(found.url("shop"))[0])
    server.prepare()
    server.close()
    yield found
    found.close()


def joining(window: Window, qtbot: QtBot, address: str, name: str) -> BenchesDialog:
    """Typed into the dialog as a person would, and waited for."""
    dialog = BenchesDialog(window.desk.shared, window)
    qtbot.addWidget(dialog)
    dialog.address.clear()
    dialog.bench.clear()
    qtbot.keyClicks(dialog.address, address)
    qtbot.keyClicks(dialog.bench, name)
    qtbot.keyClick(dialog.bench, Qt.Key.Key_Return)
    return dialog


def until(qtbot: QtBot, window: Window, words: str) -> None:
    """The line says so."""
    told(qtbot, window.desk.shared.stood, lambda: words in window.desk.shared.words)


def told(qtbot: QtBot, signal: Any, done: Callable[[], bool]) -> None:
    """Until something is so; looked at each time it is told to have changed."""
    if not done():
        with qtbot.waitSignal(signal, timeout=PATIENCE_MS, check_params_cb=lambda *_: done()):
            pass


def known(window: Window, name: str) -> Tool:
    """One tool as a window has it now."""
    return next(t for t in window.desk.stock.shop.tools if t.id == name)


def test_two_windows_share_a_shop(
    postgres: Postgres, qtbot: QtBot, qapp: QApplication, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    one = opened(qtbot)
    dialog = joining(one, qtbot, "mysql://x@y/z", "lathe")
    assert "no server this program knows" in dialog.wrong.text() and one.desk.shared.joined is None
    dialog = joining(one, qtbot, postgres.url("shop"), "lathe")
    until(qtbot, one, "Linked to shop")
    assert "Linked" in dialog.stands.text() and not dialog.join.isEnabled() and Settings().mapping("server")
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "other" / name.lower()))
    other = opened(qtbot)
    joining(other, qtbot, postgres.url("shop"), "mill")
    until(qtbot, other, "Linked to shop")
    assert other.desk.stock.document.shop_name.startswith(str(data_folder()))
    tool = one.desk.stock.shop.of_kind("drill")[0]
    with qtbot.waitSignal(other.desk.log.elsewhere, timeout=PATIENCE_MS):
        one.desk.log.ask(lambda book: book.take_run(run(1)))
    one.desk.stock.crib.change_tool("Take one out", tool, out=1)
    told(qtbot, other.desk.stock.changed, lambda: known(other, tool.id).out == 1)
    postgres.kill()
    until(qtbot, other, "Not there")
    other.desk.stock.crib.change_tool("Note its condition", tool, condition="worn")
    until(qtbot, other, "1 entry waits")
    postgres.start()
    told(qtbot, one.desk.stock.changed, lambda: known(one, tool.id).condition == "worn")
    one.desk.document.undo.undo()  # its own step goes back, what the other noted stays
    assert (known(one, tool.id).out, known(one, tool.id).condition) == (0, "worn")
    other.desk.shared.leave()
    assert not other.desk.shared.words and not Settings().mapping("server")
    shut(one)
    shut(other)
