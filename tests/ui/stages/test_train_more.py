"""Scales, drills and plans in the window: by keys and by mouse, right and wrong, kept and coming again."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.training.settings import planned
from cordwainer.logbook.book import Book
from cordwainer.logbook.training import results
from cordwainer.ui.desk.log import logbook_path, now
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.train.train_stage import TrainStage
from tests.ui.windows import at, settled, words


@pytest.fixture
def stage(window: Window) -> Iterator[TrainStage]:
    seeds = iter(range(300, 500))
    window.desk.training.new_seed = lambda: next(seeds)
    window.run("go_train")
    settled(window)
    yield at(window, TrainStage)


def lesson(window: Window, stage: TrainStage, name: str, qtbot: QtBot) -> None:
    """A rung of the ladder pressed."""
    stage.show_ladder()
    settled(window)
    rung = next(rung for rung in stage.ladder.rungs if rung.lesson.name == name)
    qtbot.mouseClick(rung, Qt.MouseButton.LeftButton)
    settled(window)


@pytest.mark.parametrize("name", ["Scales and dials", "Drills, points and callouts"])
def test_ten_questions_by_keys_and_by_mouse(window: Window, stage: TrainStage, qtbot: QtBot, name: str) -> None:
    lesson(window, stage, name, qtbot)
    quiz, page = stage.quiz, stage.questions
    time = iter(range(0, 10_000, 5))
    quiz.clock = lambda: float(next(time))
    for number in range(10):
        question = quiz.question
        assert question is not None and question.words in words(page) and f"{name}, {number + 1}" in words(page)
        assert page.figure.accessibleName() and not page.next.isEnabled()
        wrong = number % 3 == 2
        if question.choices:
            taken = next(c for c in question.choices if (c != question.right) == wrong)
            row = next(row for row in page.choices if row.words == taken)
            if number % 2:
                qtbot.keyClick(page, Qt.Key(Qt.Key.Key_0 + row.number))
            else:
                qtbot.mouseClick(row, Qt.MouseButton.LeftButton)
        else:
            page.field.setText("well" if number == 0 else "")
            qtbot.keyClick(page.field, Qt.Key.Key_Return)
            assert quiz.right is None  # what is no answer costs nothing but time
            off = "999 and 1" if question.turns is not None else "99.99"
            page.field.setText(off if wrong else question.right)
            qtbot.keyClick(page.field, Qt.Key.Key_Return)
        assert quiz.right is (not wrong)
        assert question.right in words(page) if wrong else "Right, " in words(page)
        assert question.working in words(page) and page.next.isEnabled()
        qtbot.mouseClick(page.next, Qt.MouseButton.LeftButton)
    assert "7 of 10 right so far" in words(page)
    settled(window)
    book = Book(logbook_path(), now)
    kept = results(book)
    book.close()
    assert len(kept) == 10 and sum(result.right for result in kept) == 7


def test_a_hole_is_planned_run_and_told_what_the_program_does_otherwise(
    window: Window, stage: TrainStage, qtbot: QtBot
) -> None:
    lesson(window, stage, "Plan a hole", qtbot)
    tried, page = stage.plan_try, stage.plan
    assert tried.setting is not None and tried.setting.callout in words(page)
    qtbot.mouseClick(page.kinds["drill"], Qt.MouseButton.LeftButton)
    assert "Write the size of the drill first." in words(page)
    page.field.setText("7.77")
    qtbot.mouseClick(page.kinds["drill"], Qt.MouseButton.LeftButton)
    assert "No drill '7.77' is to be had here." in words(page) and not tried.steps
    size = planned(tried.setting.id).hole.nominal_mm
    page.field.setText(f"{size:g}")
    qtbot.mouseClick(page.kinds["drill"], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(page.kinds["measure"], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(page.run_button, Qt.MouseButton.LeftButton)
    settled(window)
    assert tried.judged is not None and f"{tried.judged.points:.0f} points" in words(page)
    assert "What the program does otherwise" in words(page) and "You have no" in words(page)
    first = tried.judged.points
    remove = [link for link in page.findChildren(Link) if link.text() == "remove"]
    for _ in remove:
        link = next(link for link in page.findChildren(Link) if link.text() == "remove")
        link.click()
        QApplication.processEvents()
    for operation in planned(tried.setting.id).route.operations:
        tried.add(operation.kind, operation.tool.designation if operation.tool is not None else "")
        assert not tried.why
    tried.run()
    settled(window)
    assert tried.judged is not None and tried.judged.points == 100
    assert "The same work in the same order." in words(page)
    settled(window)
    book = Book(logbook_path(), now)
    kept = results(book)
    book.close()
    assert [result.points for result in kept] == [pytest.approx(first)]  # only the first run counts
    last = tried.setting
    qtbot.mouseClick(page.next, Qt.MouseButton.LeftButton)
    assert tried.setting != last and not tried.steps
