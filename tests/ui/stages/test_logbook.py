"""The Logbook stage: tools in time, filters, struck holes, regrinds, out and in."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.logbook.book import Book, Measurement
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.desk.log import logbook_path
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.logbook.logbook_stage import LogbookStage
from tests.core.learning.test_oversize import drill
from tests.logbook.test_book import measured, run
from tests.ui.windows import at, heard, settled, shut, words


@pytest.fixture
def window(qtbot: QtBot, qapp: QApplication) -> Iterator[Window]:
    """A window with the catalog as its crib and no job."""
    theme.apply(qapp)
    found = Window(Desk(Settings(), inline=True))
    found.begin(None, ask=False)
    found.show()
    yield found
    shut(found)


def opened(window: Window, qtbot: QtBot) -> LogbookStage:
    """The stage, with what it asked for answered."""
    window.go("logbook")
    stage = at(window, LogbookStage)
    assert isinstance(stage, LogbookStage)
    settled(window)
    return stage


def filled() -> None:
    """Twelve holes of the 9.7 drill, every third of them rejected."""
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    for k in range(12):
        record = run(k, name="presser arm" if k % 2 else "roll housing")
        book.take_run(record)
        measured(book, record, 9.7 + 0.17 + 0.01 * (-1) ** k, "reject" if k % 3 == 0 else "accept")
    book.close()


def test_an_empty_logbook_says_how_it_fills(window: Window, qtbot: QtBot) -> None:
    stage = opened(window, qtbot)
    assert "empty" in words(stage) and "go in by themselves" in words(stage) and not logbook_path().exists()


def test_a_tool_in_time_its_holes_and_what_is_believed(window: Window, qtbot: QtBot) -> None:
    filled()
    stage = opened(window, qtbot)
    shown = words(stage)
    assert "9.7 mm, drill: 12 measured holes" in shown and "12 holes" in shown
    assert "Cuts 0.170 mm over in the mean" in shown and "12 holes weigh 12.0" in shown
    assert "Steady: the newest 12 alike, between 0.117 and 0.223 mm" in shown
    assert "12 holes, +0.1700 mm" in stage.plot.accessibleDescription()
    assert not stage.plot.grab().toImage().isNull()
    stage.text.setText("presser")
    settled(window)
    assert "6 holes" in words(stage)
    qtbot.mouseClick(stage.verdict.boxes["reject"], Qt.MouseButton.LeftButton)
    settled(window)
    assert "2 holes" in words(stage)
    window.desk.selection.set_unit("in")


def test_struck_holes_do_not_count_and_a_regrind_starts_again(
    window: Window, qtbot: QtBot, tmp_path: Path
) -> None:
    filled()
    stage = opened(window, qtbot)
    strike = next(link for link in stage.list.findChildren(Link) if link.text() == "Strike out")
    strike.click()
    settled(window)
    through = [label for label in stage.list.findChildren(QLabel) if label.font().strikeOut()]
    assert through and not any("<" in label.text() for label in through)
    settled(window)
    assert "11 measured holes" in words(stage) and "Put back" in [
        link.text() for link in stage.list.findChildren(Link)
    ]
    before = window.desk.stock.beliefs[drill().id]
    stage.reground.click()
    settled(window)
    after = window.desk.stock.beliefs[drill().id]
    assert after.sd_of_mean > before.sd_of_mean and after.weight < before.weight
    said = heard(window)
    stage.export_to(tmp_path / "all.json")
    stage.export_to(tmp_path)
    settled(window)
    assert (tmp_path / "all.json").exists() and (tmp_path / "hole.csv").exists() and "all.json" in said[0]
    stage.take_in_from(tmp_path / "all.json")
    (tmp_path / "bad.json").write_text("{}")
    stage.take_in_from(tmp_path / "bad.json")
    settled(window)
    assert "0 holes taken in." in said and any("no logbook" in text for text in said)


def test_a_hole_that_stands_out_and_a_drift_are_told(window: Window, qtbot: QtBot) -> None:
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))

    def cut(number: int, over: float) -> None:
        record = run(number)
        book.take_run(record)
        measured(book, record, 9.7 + over, "accept")

    for k in range(7):
        cut(k, 0.17 + 0.005 * (-1) ** k)
    stage = opened(window, qtbot)
    assert "7 alike since the last change; 8 are needed" in words(stage)
    for k in range(7, 12):
        cut(k, 0.17 + 0.005 * (-1) ** k + (0.1 if k == 10 else 0))
    stage._changed()
    settled(window)
    assert "Not steady: hole 11 stands outside the newest 12 alike" in words(stage)
    book.strike("run-presser arm-10")
    for k in range(12, 21):
        cut(k, 0.20 + 0.004 * (-1) ** k)
    book.close()
    stage._changed()
    settled(window)
    said = words(stage)
    assert "Drifting: the newest 8 or more all lie over the mean" in said


def test_whether_the_print_is_held_is_told_as_far_as_it_is_known(window: Window, qtbot: QtBot) -> None:
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))

    def put(number: int, size: float) -> None:
        record = run(number)
        book.take_run(record)
        book.put_readings(record.id, [Measurement(9, 0, size, size)], "gauge", "accept", size, (9.70, 9.80))

    for number in range(3):
        put(number, 9.75)
    stage = opened(window, qtbot)
    assert "3 measured; 5 that differ" in stage.holds.text()
    for number in range(3, 30):
        put(number, 9.75 + 0.004 * (number % 3 - 1))
    window.go("plan")
    stage = opened(window, qtbot)
    # 0.1 / (6 s), s² = 18 x 0.004² / 29
    assert stage.holds.text().startswith("Held. A pivot of presser arm, 9.700 to 9.800 mm: Cp 5.29 (3.93 to 6.64)")
    assert "30 holes" in stage.holds.text()
    put(31, 9.90)
    window.go("plan")
    assert "Not" in opened(window, qtbot).holds.text()
    book.close()


def test_a_logbook_spoiled_under_the_window_is_said_and_the_window_lives(window: Window, qtbot: QtBot) -> None:
    filled()
    stage = opened(window, qtbot)
    said: list[str] = []
    window.desk.log.said.connect(said.append)
    with closing(sqlite3.connect(logbook_path())) as other:
        other.execute("DROP TABLE hole")
        other.commit()
    stage.search()
    settled(window)
    assert any("could not be used" in text and "no such table" in text for text in said)
    assert "9.7 mm, drill: 12 measured holes" in words(stage)
