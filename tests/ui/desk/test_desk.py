"""The parts of a desk: work that always answers, a lock that is let go, readings that reach the book."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from pathlib import Path

import pytest
from PyQt6.QtCore import QEventLoop, Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.files.places import Settings
from cordwainer.logbook.book import Book
from cordwainer.ui.commands import leaving
from cordwainer.ui.desk import batch as batch_module
from cordwainer.ui.desk import forecasts as forecasts_module
from cordwainer.ui.desk import plans as plans_module
from cordwainer.ui.desk.background import FIRST, IDLE, Answer, Background, Turn
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.desk.document import Change, change_between
from cordwainer.ui.desk.log import UNMADE, logbook_path
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.kit.questions import DROP
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from cordwainer.ui.stages.explain.explain_stage import ExplainStage
from cordwainer.ui.stages.measure.measure_stage import MeasureStage
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from tests.jobs import PIVOT, job_data
from tests.ui.windows import Answers, at, heard, opened, settled, shut, words

ROW = {"id": "A", "kind": "plain", "diameter": "8 mm", "depth": "20 mm", "through": True, "count": 3}


def file_with(folder: Path, *holes: dict[str, object], name: str = "row.job.json") -> Path:
    """A job file of the user's."""
    path = folder / name
    path.write_text(json.dumps(job_data(*holes) | {"machine": "drill_press"}))
    return path


def cut_one(window: Window) -> None:
    """The next hole of the one in hand, from its first step to its last."""
    window.go("cut")
    stage = at(window, CutStage)
    while not stage.cutting.over:
        for caution in stage.cutting.unticked():
            stage.cutting.tick(caution.id)
        stage.cutting.done()
    stage.next_hole()


def logged(text: str = "A") -> dict[int, tuple[int, float]]:
    """By number of a hole in the book: how many readings it has, and the first of them."""
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    found = {}
    for row in book.search():
        whole = book.hole(row.id)
        if whole is not None and whole.name.split()[0] == text and whole.readings:
            found[whole.number] = (len(whole.readings), round(whole.readings[0].size_mm, 3))
    book.close()
    return found


# -- every reading is logged as it is kept --------------------------------------------------------------------


def test_each_of_three_like_holes_measured_with_plus_is_in_the_book(qtbot: QtBot, tmp_path: Path) -> None:
    window = opened(qtbot, file_with(tmp_path, ROW))
    for _ in range(3):
        cut_one(window)
    window.go("measure")
    window.desk.selection.set_number(1)
    stage = at(window, MeasureStage)
    for number in (1, 2, 3):
        box = stage.grid.boxes[0][0].field
        box.setFocus()
        qtbot.keyClicks(box, f"8.0{number}")
        qtbot.keyClick(box, Qt.Key.Key_Return)
        if number < 3:
            qtbot.mouseClick(stage.which.on, Qt.MouseButton.LeftButton)
    assert {number: size for number, (_, size) in logged().items()} == {1: 8.01, 2: 8.02, 3: 8.03}
    shut(window)


def test_another_hole_in_hand_loses_no_reading_of_the_first(qtbot: QtBot, tmp_path: Path) -> None:
    window = opened(qtbot, file_with(tmp_path, ROW | {"count": 1}, ROW | {"id": "B", "count": 1}))
    cut_one(window)
    window.desk.selection.select_hole(0)
    window.go("measure")
    window.desk.readings.put_reading(10.0, 0.0, "8.04")
    window.desk.selection.select_hole(1)
    assert logged() == {1: (1, 8.04)}
    window.desk.selection.select_hole(0)
    window.desk.readings.put_reading(10.0, 0.0, "")
    assert logged() == {}  # taken away here, it is taken away there
    shut(window)


def test_an_older_job_is_filled_in_when_it_is_opened(qtbot: QtBot, tmp_path: Path) -> None:
    path = file_with(tmp_path, ROW)
    window = opened(qtbot, path)
    cut_one(window)
    shut(window)
    data = json.loads(path.read_text())
    data["holes"][0]["measured"] = {"gauge": "pin", "readings": [{"depth": "10 mm", "size": "8.05 mm"}]}
    path.write_text(json.dumps(data))
    assert logged() == {}
    again = opened(qtbot, path)
    settled(again)
    assert logged() == {1: (1, 8.05)}
    shut(again)


def test_readings_of_a_job_never_saved_reach_the_book_or_say_why_not(window: Window) -> None:
    leaving.new_job(window)
    window.desk.document.edit("Row", lambda data: data["holes"].append(dict(ROW)))
    said = heard(window)
    window.desk.readings.put_reading(10.0, 0.0, "8.06")
    assert UNMADE in said and logged() == {}
    cut_one(window)
    assert logged() == {1: (1, 8.06)}


# -- the background always answers ----------------------------------------------------------------------------


def test_an_unexpected_error_in_a_plan_is_told_and_the_next_one_comes(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(ask: object, turn: Turn) -> object:
        raise ZeroDivisionError("a slip of the pen")

    broke: list[object] = []
    window.desk.background.broke.connect(broke.append)
    with monkeypatch.context() as slip:
        slip.setattr(plans_module, "planned", broken)
        window.desk.document.edit("Row", lambda data: data["holes"].append(dict(ROW)))
    plan = window.desk.plans.plan
    assert not window.desk.plans.planning and plan is not None and "broke down" in plan.why_not[0] and broke
    window.go("plan")
    stage = at(window, PlanStage)
    assert "No sequence was worked out" in words(stage) and "this crib" not in words(stage)
    again = next(w for w in stage.findChildren(Link) if w.text() == "Plan it again")
    qtbot.mouseClick(again, Qt.MouseButton.LeftButton)
    assert window.desk.plans.route is not None and not window.desk.plans.halted


def test_an_unexpected_error_in_a_forecast_or_an_order_is_told_and_the_next_one_comes(
    demo: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(ask: object, turn: Turn) -> object:
        raise ZeroDivisionError("a slip of the pen")

    broke: list[object] = []
    demo.desk.background.broke.connect(broke.append)
    desk = demo.desk
    demo.run("open_batch")
    demo.go("plan")
    with monkeypatch.context() as slip:
        slip.setattr(forecasts_module, "run", broken)
        slip.setattr(batch_module, "ordered", broken)
        desk.batch.watch(True)
        desk.selection.edit_hole("Deeper", depth="21 mm")
        settled(demo)
    assert broke and desk.forecasts.of(desk.plans.route, desk.selection.hole) is None
    assert "ZeroDivisionError" in desk.batch.why_not
    desk.selection.edit_hole("Deeper still", depth="21.5 mm")
    settled(demo)
    assert desk.forecasts.of(desk.plans.route, desk.selection.hole) is not None
    assert desk.batch.batch is not None and not desk.batch.why_not


def test_answers_come_with_threads_the_urgent_first_and_dropped_ones_never(qapp: QApplication) -> None:
    background, told = Background(), []
    loop = QEventLoop()

    def work(request: object, turn: Turn) -> object:
        if request == "error":
            raise ValueError("no such thing")
        return request

    def then(answer: Answer) -> None:
        told.append(answer.value if answer.error is None else type(answer.error))
        if len(told) == 3:
            loop.quit()

    for key, request, urgency in (("late", "late", IDLE), ("soon", "soon", FIRST), ("bad", "error", FIRST)):
        background.ask(key, request, work, then, urgency=urgency)
    background.ask("gone", "gone", work, then, urgency=IDLE, after_ms=1)
    background.ask("late", "late", work, then, urgency=IDLE)  # the very same question is asked once
    background.drop("gone")
    loop.exec()
    assert told[0] in ("late", "soon") and set(told) == {"late", "soon", ValueError}
    background.close()
    background.ask("after", 1, work, then)
    assert len(told) == 3


def test_long_work_is_named_and_can_be_stopped(qapp: QApplication) -> None:
    background, answers, loop = Background(), [], QEventLoop()

    def endless(request: object, turn: Turn) -> object:
        while not turn.stopped():
            pass
        raise StoppedError("stopped")

    background.ask("plan", 1, endless, answers.append, words="Planning A")
    background.long.connect(lambda words: loop.quit() if words == "Planning A" else None)
    loop.exec()
    assert background.stop_long() == ("Planning A",)
    assert isinstance(answers[0].error, StoppedError) and not background.under_way("plan")
    background.ask("next", 2, lambda request, turn: request, lambda answer: loop.quit())
    loop.exec()
    background.close()


def test_esc_stops_a_long_plan_and_the_window_says_so(qtbot: QtBot, tmp_path: Path) -> None:
    window = opened(qtbot, file_with(tmp_path, ROW))
    window.working.say("Planning A")
    assert window.working.isVisible() and "Planning A. Esc stops it." in words(window)
    stopped: list[bool] = []
    window.working.stopped.connect(lambda: stopped.append(True))
    qtbot.keyClick(window, Qt.Key.Key_Escape)
    assert stopped
    window.working.say("")
    shut(window)


# -- the document and its lock --------------------------------------------------------------------------------


def test_new_and_demo_let_the_old_files_lock_go(qtbot: QtBot, tmp_path: Path) -> None:
    path = file_with(tmp_path, PIVOT)
    for leave in (leaving.new_job, leaving.open_demo):
        window = opened(qtbot, path)
        other = Desk(Settings(), inline=True)
        other.document.open(path)
        assert other.document.read_only
        other.close()
        leave(window)
        other = Desk(Settings(), inline=True)
        other.document.open(path)
        assert not other.document.read_only
        other.close()
        shut(window)


def test_a_file_that_cannot_be_read_leaves_demo_and_crib(demo: Window, tmp_path: Path) -> None:
    (tmp_path / "bad.job.json").write_text("{")
    shop = demo.desk.stock.shop
    leaving.open_path(demo, tmp_path / "bad.job.json")
    assert "was not opened" in demo.notice.words.text()
    assert demo.desk.stock.shop is shop and demo.strip.shop.value == "demo"


def test_the_working_opens_by_mouse(demo: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> None:
    shown: list[object] = []
    monkeypatch.setattr("cordwainer.ui.dialogs.pages.WorkingDialog.exec", lambda dialog: shown.append(dialog))
    demo.go("plan")
    qtbot.mouseClick(at(demo, PlanStage).card.link, Qt.MouseButton.LeftButton)
    assert len(shown) == 1


def test_a_reading_or_an_answer_asks_for_no_plan(demo: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[object] = []
    monkeypatch.setattr(demo.desk.background, "ask", lambda key, *rest, **more: asked.append(key))
    demo.desk.readings.put_reading(8.0, 0.0, "16.01")
    demo.desk.causes.answer("q_sound", "squeal")
    assert not [key for key in asked if isinstance(key, tuple) and key[0] in ("plan", "buy")]
    demo.desk.selection.edit_hole("Deeper", depth="21 mm")
    assert [key for key in asked if isinstance(key, tuple) and key[0] == "plan"]


def test_what_an_edit_changed_is_told() -> None:
    before = {"name": "x", "holes": [{"id": "A", "depth": "9 mm"}, {"id": "B"}]}
    assert change_between(before, before | {"name": "y"}) == Change("job")
    deeper = before | {"holes": [{"id": "A", "depth": "8 mm"}, {"id": "B"}]}
    assert change_between(before, deeper) == Change("hole", 0, frozenset({"depth"}))
    assert change_between(before, before | {"holes": [{"id": "A"}]}).moves_plans


def test_work_left_over_the_demo_keeps_the_demos_crib(demo: Window, tmp_path: Path) -> None:
    demo.desk.document.edit("Name", lambda data: data.update(name="mine"))
    demo.questions = Answers(leave=DROP)
    demo.run("new_job")
    assert demo.desk.document.shop_name == "catalog" and demo.desk.document.empty
    with pytest.raises(InputError):
        demo.desk.document.save()


def test_an_edit_while_tools_to_buy_are_waited_for_forgets_none(demo: Window) -> None:
    desk = demo.desk

    def buying() -> set[object]:
        return {key[1] for key in desk.background.turns if isinstance(key, tuple) and key[0] == "buy"}

    waiting = buying()
    assert len(waiting) == len(desk.document.job.holes)
    desk.selection.edit_hole("Deeper", depth="21 mm")
    assert len(buying()) == len(waiting) and len(buying() & waiting) == len(waiting) - 1
    settled(demo)
    assert not buying()


def test_readings_of_two_jobs_with_a_hole_of_one_name_do_not_push_each_other_out(
    qtbot: QtBot, tmp_path: Path
) -> None:
    window = opened(qtbot, file_with(tmp_path, ROW, name="one.job.json"))
    cut_one(window)
    other = file_with(tmp_path, ROW | {"measured": {"gauge": "pin", "readings": []}}, name="two.job.json")
    window.desk.background.hold = True
    window.desk.readings.put_reading(10.0, 0.0, "8.07")
    window.desk.document.save()
    leaving.open_path(window, other)
    window.desk.readings.put_reading(10.0, 0.0, "8.11")
    settled(window)
    window.desk.background.hold = False
    assert logged() == {1: (1, 8.07)}
    shut(window)


def test_causes_that_were_stopped_can_be_weighed_again(demo: Window, qtbot: QtBot) -> None:
    demo.desk.background.hold = True
    demo.go("explain")
    stage = at(demo, ExplainStage)
    turn = demo.desk.background.turns["causes"]
    demo.desk.background.drop("causes")
    turn.then(Answer(error=StoppedError("stopped")))
    assert "could not be weighed: stopped" in words(stage.column)
    again = next(w for w in stage.findChildren(Link) if w.text() == "Weigh them again")
    qtbot.mouseClick(again, Qt.MouseButton.LeftButton)
    settled(demo)
    assert demo.desk.causes.found is not None and "could not" not in words(stage.column)
