"""The real window, driven as a person would: click, type, read."""

from __future__ import annotations

import gc
import json
import sys
from itertools import pairwise
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.core.measuring.finding import Finding
from cordwainer.files import job as job_files
from cordwainer.files.places import Recovery, Settings
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.commands.table import COMMANDS
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.dialogs.pages import WorkingDialog
from cordwainer.ui.shell.application import install_crash_hook
from cordwainer.ui.shell.window import READY, Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.crib.machine_page import MachinePage
from cordwainer.ui.stages.explain.explain_stage import ExplainStage
from cordwainer.ui.stages.explain.questions import AnswerButton
from cordwainer.ui.stages.first.first_stage import FirstStage
from cordwainer.ui.stages.measure.measure_stage import MeasureStage
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from cordwainer.ui.stages.plan.sequence import HoleTag, RouteRow, Station
from cordwainer.ui.stages.print_.print_stage import PrintStage
from tests.jobs import PIVOT, job_data
from tests.ui.windows import Answers, at, planned, settled, shut, typed, words


def stations(window: Window) -> list[Station]:
    """The stations of the sequence strip."""
    return at(window, PlanStage).strip.stations


def test_from_a_print_to_a_cause(window: Window, qtbot: QtBot) -> None:
    assert window.stack.currentWidget() is at(window, FirstStage)
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    planned(window)
    assert window.stage == "print" and "18.018" in words(at(window, PrintStage))
    qtbot.mouseClick(window.rail.buttons["plan"], Qt.MouseButton.LeftButton)
    names = [s.name for s in stations(window)]
    assert names[0] == "Center drill" and names[-3:] == ["Ream H7", "Deburr", "Measure"]
    qtbot.mouseClick(stations(window)[-3], Qt.MouseButton.LeftButton)
    card = words(at(window, PlanStage).card)
    assert "Left to ream" in card and "Never turn a reamer backwards" in card and "IT7 asks for reaming" in card

    window.go("measure")
    measure = at(window, MeasureStage)
    for boxes, sizes in zip(
        measure.boxes, (("18.052", "18.048"), ("18.012", "18.011"), ("18.010", "18.010")), strict=True
    ):
        for box, size in zip(boxes, sizes, strict=True):
            typed(qtbot, box.field, size)
    finding = window.desk.readings.finding()
    assert isinstance(finding, Finding) and finding.verdict == "reject" and finding.form == ("bell_mouth",)
    assert "Reject" in words(measure)

    window.go("explain")
    explain = at(window, ExplainStage)
    text = words(explain)
    assert "Likely causes" in text and "Reamer held rigid out of line" in text and "Check this next" in text
    before = len(window.desk.document.job.file.holes[0].evidence)
    qtbot.mouseClick(explain.findChildren(AnswerButton)[0], Qt.MouseButton.LeftButton)
    assert len(window.desk.document.job.file.holes[0].evidence) == before + 1


def test_one_selection_everywhere(window: Window, qtbot: QtBot) -> None:
    window.begin(None, demo=True)
    planned(window)
    plan = at(window, PlanStage)
    for index in (2, 4, 1):
        qtbot.mouseClick(stations(window)[index], Qt.MouseButton.LeftButton)
        assert window.desk.selection.operation_index == index
        assert [s.isChecked() for s in stations(window)].index(True) == index
        assert plan.section.current == index
        assert f"{index + 1} of" in words(plan.card)
    balloon = plan.section.balloons[3]
    qtbot.mouseClick(balloon, Qt.MouseButton.LeftButton)
    assert window.desk.selection.operation_index == balloon.number - 1
    qtbot.keyClick(window, Qt.Key.Key_Right)
    assert window.desk.selection.operation_index == balloon.number
    qtbot.keyClick(window, Qt.Key.Key_Down)
    assert window.desk.selection.hole_index == 1


def test_routes_tags_and_units(window: Window, qtbot: QtBot) -> None:
    window.begin(None, demo=True)
    planned(window)
    plan = at(window, PlanStage)
    tags = plan.findChildren(HoleTag)
    assert [t.hole.id for t in tags] == ["P1", "P2", "P3"] and tags[1].words == "Reject"
    window.desk.selection.select_hole(0)
    rows = plan.findChildren(RouteRow)
    other = next(r for r in rows if not r.isChecked())
    qtbot.mouseClick(other, Qt.MouseButton.LeftButton)
    assert window.desk.plans.route is not None and window.desk.plans.route.label == other.route.label
    window.run("undo")
    assert window.desk.plans.route.label == "balanced"
    qtbot.mouseClick(window.strip.inch, Qt.MouseButton.LeftButton)
    assert window.desk.selection.unit == "in" and "in" in words(plan.card)
    qtbot.keyClick(window, Qt.Key.Key_U)
    assert window.desk.selection.unit == "mm"


def test_editing_on_the_drawing(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    drawing = at(window, PrintStage).drawing
    qtbot.mouseClick(drawing.callouts["depth"].face, Qt.MouseButton.LeftButton)
    typed(qtbot, drawing.callouts["depth"].field, "28")
    assert window.desk.selection.hole is not None and window.desk.selection.hole.depth_mm == 28
    qtbot.mouseClick(drawing.callouts["size"].face, Qt.MouseButton.LeftButton)
    typed(qtbot, drawing.callouts["size"].field, "17 Q9")
    assert (
        drawing.callouts["size"].trouble.isVisible() and "Still in use" in drawing.callouts["size"].trouble.text()
    )
    assert window.desk.selection.hole.nominal_mm == 18
    qtbot.keyClick(drawing.callouts["size"].field, Qt.Key.Key_Escape)
    assert not drawing.callouts["size"].trouble.isVisible()
    window.run("undo")
    assert window.desk.selection.hole.depth_mm == 32
    window.run("redo")
    assert window.desk.selection.hole.depth_mm == 28
    assert window.actions_.by_name["undo"].text().startswith("Undo Depth")
    blind = at(window, PrintStage).through.boxes["blind"]
    qtbot.mouseClick(blind, Qt.MouseButton.LeftButton)
    assert not window.desk.selection.hole.through


def test_the_first_screen_says_what_it_cannot_read(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "wide, quite")
    assert "write it as" in at(window, FirstStage).trouble.text()
    assert window.stack.currentWidget() is at(window, FirstStage) and window.desk.document.empty
    qtbot.mouseClick(at(window, FirstStage).flow.items[2], Qt.MouseButton.LeftButton)
    assert window.desk.selection.unit == "in" and not window.desk.document.empty


def test_a_hole_that_cannot_be_made_says_what_would(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "16 H7 through 20")
    planned(window)
    window.desk.selection.edit_hole("Finer", finish_ra_um=0.2)
    planned(window)
    window.go("plan")
    assert "No sequence with this crib and machine" in words(at(window, PlanStage))
    assert "honing" in words(at(window, PlanStage))


def test_a_bad_reading_is_refused_and_nothing_lost(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    window.go("measure")
    measure = at(window, MeasureStage)
    box = measure.boxes[0][0]
    typed(qtbot, box.field, "eighteen")
    assert "not a length" in measure.trouble.text()
    typed(qtbot, box.field, "18.010")
    typed(qtbot, measure.boxes[1][0].field, "0.709")
    finding = window.desk.readings.finding()
    assert finding is not None and finding.flags == ("unit_slip",) and "other unit" in words(measure)
    measure._temperature("part_temperature_c", "warm")
    assert "not a temperature" in measure.trouble.text()


def test_saving_and_the_file_on_disk(
    window: Window, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(PIVOT | {"keep_me": 1})))
    leaving_commands.open_path(window, path)
    planned(window)
    window.desk.selection.edit_hole("Depth", depth="30 mm")
    assert window.desk.document.dirty and "32 mm" in path.read_text()
    assert leaving_commands.save_job(window) and not window.desk.document.dirty
    assert '"30 mm"' in path.read_text() and "keep_me" in path.read_text()
    window.desk.selection.edit_hole("Depth", depth="29 mm")
    path.write_text(json.dumps(job_data(PIVOT | {"depth": "40 mm"})))
    window.questions = Answers(False)
    assert not leaving_commands.save_job(window) and '"40 mm"' in path.read_text()
    window.questions = Answers(True)
    assert leaving_commands.save_job(window) and '"29 mm"' in path.read_text()
    assert str(path) in window.desk.settings.recent()


def test_a_second_window_is_read_only(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(PIVOT)))
    leaving_commands.open_path(window, path)
    second = Desk(Settings(), inline=True)
    second.document.open(path)
    assert second.document.read_only
    with pytest.raises(InputError, match="read-only"):
        second.selection.edit_hole("Depth", depth="9 mm")
    second.document.save(tmp_path / "copy.job.json")
    second.selection.edit_hole("Depth", depth="9 mm")
    second.close()


def test_a_bad_file_leaves_what_is_open(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    path = tmp_path / "bad.job.json"
    path.write_text(json.dumps(job_data(PIVOT | {"depth": "32"})))
    leaving_commands.open_path(window, path)
    assert "was not opened" in window.notice.words.text() and "no unit" in window.notice.words.text()
    assert window.desk.selection.hole is not None and window.desk.selection.hole.nominal_mm == 18


def test_an_exception_in_a_slot_loses_nothing(
    window: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    install_crash_hook(window)

    def broken() -> None:
        raise RuntimeError("a slip of the hand")

    button = window.rail.buttons["plan"]
    button.clicked.connect(broken)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    button.clicked.disconnect(broken)
    assert window.isVisible()
    assert "Something went wrong" in window.notice.words.text() and "recovery copy" in window.notice.words.text()
    assert "slip" not in window.notice.words.text()
    assert window.desk.document.recovery.path.exists()
    window.desk.selection.edit_hole("Depth", depth="30 mm")
    assert window.desk.selection.hole is not None and window.desk.selection.hole.depth_mm == 30

    left = json.loads(window.desk.document.recovery.path.read_text())
    left["pid"] = 2**22 + 1
    (window.desk.document.recovery.folder / "gone.json").write_text(json.dumps(left))
    again = Window(Desk(Settings(), Recovery(window.desk.document.recovery.folder), inline=True))
    again.questions = answers = Answers(True)
    again.begin(None)
    assert "did not close last time" in answers.asked[0]
    assert (
        again.desk.selection.hole is not None
        and again.desk.selection.hole.nominal_mm == 18
        and again.desk.document.dirty
    )
    shut(again)


def test_recovery_follows_an_edit(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    window.desk.document.keeper.settle()
    kept = json.loads(window.desk.document.recovery.path.read_text())["job"]
    assert job_files.from_data(kept).holes[0].nominal_mm == 18


def test_the_machine_is_the_users(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    planned(window)
    window.run("edit_machine")
    page = at(window, CribStage).pages.currentWidget()
    assert isinstance(page, MachinePage)
    for text, said in (("one two", "not a figure"), ("0 100", "above zero")):
        typed(qtbot, page.fields["speeds_rpm"], text)
        assert said in page.trouble.text()
    typed(qtbot, page.fields["speeds_rpm"], "95 180 340 620, 1100")
    typed(qtbot, page.fields["power_kw"], "1,5")
    assert page.trouble.isHidden()
    planned(window)
    route = window.desk.plans.route
    assert route is not None and {o.rpm for o in route.operations if o.rpm} <= {95, 180, 340, 620, 1100}
    assert Desk(Settings(), inline=True).stock.shop.machine("bench_lathe").power_kw == 1.5


def test_the_working_shows_formula_and_source(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    planned(window)
    assert window.desk.plans.route is not None
    dialog = WorkingDialog(window.desk.plans.route, 1, window)
    qtbot.addWidget(dialog)
    dialog.show()
    text = words(dialog)
    assert "n = 1000 v / (π d)" in text and "Source: " in text and "rev/min" in text


def test_every_command_is_there_and_nothing_shares_a_key(window: Window) -> None:
    commands = [c for c in COMMANDS if c is not None]
    assert all(callable(c.do) and c.name in window.actions_.by_name for c in commands)
    keys = [c.keys for c in commands if c.keys]
    assert len(keys) == len(set(keys))
    assert {"Ctrl+S", "Ctrl+Z", "1", "2", "3", "4", "U", "W"} <= set(keys)


def test_letters_rest_while_typing(window: Window, qtbot: QtBot) -> None:
    typed(qtbot, at(window, FirstStage).field, "18 H7 through 32")
    field = at(window, PrintStage).typed
    field.setFocus()
    field.clear()
    qtbot.keyClicks(field, "20 H7 through 2")
    assert window.stage == "print" and window.desk.selection.unit == "mm" and field.text() == "20 H7 through 2"


def test_painted_things_have_names(window: Window, qtbot: QtBot) -> None:
    window.begin(None, demo=True)
    planned(window)
    plan = at(window, PlanStage)
    assert stations(window)[3].accessibleName() == "Operation 4, Undersize 19.7 mm"
    assert all(b.accessibleName() for b in plan.section.balloons)
    assert all(b.focusPolicy() == Qt.FocusPolicy.StrongFocus for b in stations(window))


def test_settings_that_cannot_be_read_are_set_aside(tmp_path: Path) -> None:
    path = tmp_path / "settings.json"
    path.write_text("{broken")
    settings = Settings(path)
    assert settings.get("unit") is None and (tmp_path / "settings.json.aside-1").exists()
    settings.put("unit", "in")
    assert Settings(path).get("unit") == "in"


@pytest.mark.parametrize("size", [(1120, 680), (1280, 800), (1920, 1200)])
def test_every_stage_paints_at_every_size(window: Window, qtbot: QtBot, size: tuple[int, int]) -> None:
    window.begin(None, demo=True)
    planned(window)
    window.resize(*size)
    for index in range(3):
        window.desk.selection.select_hole(index)
        for stage in ("print", "plan", "measure", "explain", "batch"):
            window.go(stage)
            assert not window.grab().isNull()


def test_what_stays_for_good_is_not_searched_for_garbage_again(demo: Window) -> None:
    for name in READY:
        _ = demo.stages[name]
    before = gc.get_freeze_count()
    try:
        demo.make_ready()
        assert gc.get_freeze_count() > before + 10_000
    finally:
        gc.unfreeze()


@pytest.mark.parametrize("percent", [100, 150, 200])
def test_the_stages_of_the_rail_never_lie_on_one_another(window: Window, percent: int) -> None:
    window.set_text_size(percent)
    for high in (800, 700, 560):
        window.resize(1280, high)
        settled(window)
        rail = window.rail
        placed = sorted((button.y(), button.height()) for button in rail.buttons.values())
        assert all(y + tall <= below for (y, tall), (below, _) in pairwise(placed))
        assert placed[-1][0] + placed[-1][1] <= rail.height() and placed[0][1] >= 24
    window.set_text_size(100)
