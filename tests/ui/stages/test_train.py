"""Ten exercises by keys and by mouse in the real window: minutes spent, an opinion held, cut open, kept."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from cordwainer.logbook.book import Book
from cordwainer.logbook.training import results
from cordwainer.ui.desk.log import logbook_path, now
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.train.train_stage import TrainStage
from tests.ui.windows import at, settled, typed, words


@pytest.fixture
def stage(window: Window) -> Iterator[TrainStage]:
    seeds = iter(range(200, 300))
    window.desk.training.new_seed = lambda: next(seeds)
    window.run("go_train")
    settled(window)
    found = at(window, TrainStage)
    assert found.training.sitting is not None
    yield found


def for_sale(stage: TrainStage) -> list[str]:
    """Checks that can be seen."""
    return [name for name, row in stage.rows.items() if not row.isHidden()]


def test_ten_holes_by_keys_and_by_mouse(window: Window, stage: TrainStage, qtbot: QtBot) -> None:
    training = stage.training
    seen = []
    for number in range(10):
        sitting = training.sitting
        assert sitting is not None
        exercise = sitting.exercise
        seen.append((exercise.setting_id, exercise.causes))
        assert f"hole {number + 1}" in stage.level.text() and exercise.planned.setting.part in words(stage)
        assert sitting.left == exercise.budget and len(stage.bars) == len(exercise.listed)
        if number % 2:  # by keys
            stage.setFocus()
            qtbot.keyClick(stage, Qt.Key.Key_1)
            qtbot.keyClick(stage, Qt.Key.Key_B)
            bar = stage.bars[exercise.truth[0]]
            bar.setFocus()
            for _ in range(8):
                qtbot.keyClick(bar, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
            qtbot.keyClick(bar, Qt.Key.Key_L)
            assert exercise.truth[0] in sitting.locked and 100 * sitting.shares[exercise.truth[0]] > 40
            stage.setFocus()
            qtbot.keyClick(stage, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
        else:
            qtbot.mouseClick(stage.rows["m_bore"], Qt.MouseButton.LeftButton)
            qtbot.mouseClick(stage.buy_button, Qt.MouseButton.LeftButton)
            assert sitting.left == exercise.budget - 4 and sitting.case.sizes.middle
            assert "m_bore" not in for_sale(stage) and "Sizes at mouth" in words(stage)
            bar = stage.bars[exercise.listed[0]]
            qtbot.mousePress(bar, Qt.MouseButton.LeftButton, pos=QPoint(20, 35))
            qtbot.mouseMove(bar, QPoint(bar.width() - 70, 35))
            qtbot.mouseRelease(bar, Qt.MouseButton.LeftButton, pos=QPoint(bar.width() - 70, 35))
            assert 100 * sitting.shares[exercise.listed[0]] > 50 and sum(sitting.shares.values()) == pytest.approx(
                1
            )
            qtbot.mouseClick(stage.open_button, Qt.MouseButton.LeftButton)
        assert sitting.opened and f"{training.points:.0f} points" in words(stage)
        assert for_sale(stage) == [] and "What the program would buy" in words(stage)
        left = sitting.left
        training.buy("q_sound")
        training.think(exercise.listed[1], 90)
        assert sitting.left == left and not stage.grab().toImage().isNull()
        qtbot.mouseClick(stage.open_button, Qt.MouseButton.LeftButton)
        settled(window)
    assert all(one != other for one, other in pairwise(seen))
    window.desk.background.settle()
    book = Book(logbook_path(), now)
    kept = results(book)
    book.close()
    assert len(kept) == 10 and [(r.setting, r.causes) for r in kept] == seen


def test_too_dear_a_check_is_not_bought_and_the_ladder_leads_on(
    window: Window, stage: TrainStage, qtbot: QtBot
) -> None:
    sitting = stage.training.sitting
    assert sitting is not None
    sitting.bought.append(("m_place", sitting.exercise.budget - 1))
    stage.training.changed.emit()
    assert stage.rows["m_bore"].short == 3 and "short" in stage.rows["m_bore"].accessibleDescription()
    stage.choose("m_bore")
    assert not stage.buy_button.isEnabled()
    stage.buy()
    assert sitting.left == 1
    qtbot.mouseClick(stage.level, Qt.MouseButton.LeftButton)
    typed(qtbot, stage.ladder.learner, "Ida")
    assert window.desk.settings.get("learner") == "Ida" and stage.ladder.isVisible()
    rung = next(r for r in stage.ladder.rungs if r.lesson.id == "reamers")
    qtbot.mouseClick(rung, Qt.MouseButton.LeftButton)
    settled(window)
    assert stage.hole.isVisible() and "Reamers, hole 1" in stage.level.text()
    assert stage.training.sitting is not sitting
