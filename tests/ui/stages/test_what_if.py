"""Forecasts on Plan, and what would happen if: faults set by hand, and the hole they make beside the sound one."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from cordwainer.core.planning.model.forecast import forecast
from cordwainer.core.planning.model.forward import read_fault
from cordwainer.ui.dialogs.pages import PageDialog
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from cordwainer.ui.stages.plan.sequence import RouteRow
from cordwainer.ui.stages.what_if.what_if_stage import WhatIfStage
from tests.ui.windows import at, settled, typed, words


@pytest.fixture
def stage(demo: Window, qtbot: QtBot) -> WhatIfStage:
    demo.go("plan")
    demo.desk.selection.select_hole(0)
    settled(demo)
    link = next(w for w in at(demo, PlanStage).findChildren(Link) if w.text() == "What if")
    qtbot.mouseClick(link, Qt.MouseButton.LeftButton)
    settled(demo)
    settled(demo)
    found = at(demo, WhatIfStage)
    assert isinstance(found, WhatIfStage) and demo.stack.currentWidget() is found
    return found


def test_the_ladder_shows_the_models_chance_and_band(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    demo.desk.selection.select_hole(0)
    settled(demo)
    plan = at(demo, PlanStage)
    assert isinstance(plan, PlanStage) and plan.ladder.forecast is not None
    told = plan.ladder.forecast.outcome.in_size
    assert told.low < told.value < told.high
    assert plan.ladder.slot.curve is plan.ladder.forecast.finished
    assert plan.ladder.slot.shares == (
        plan.ladder.forecast.outcome.too_small,
        plan.ladder.forecast.outcome.too_big,
    )
    assert not plan.grab().toImage().isNull()
    demo.desk.selection.edit_hole("Wider", tolerance="H9")
    settled(demo)
    assert plan.ladder.forecast is not None and plan.ladder.forecast.outcome.in_size.value > told.value


def test_a_fault_makes_another_hole(stage: WhatIfStage, demo: Window, qtbot: QtBot) -> None:
    def shown(words: str) -> int:
        return 100 if words == "over 99" else int(words)

    sound = shown(stage.sound.chance.text())
    assert stage.other.chance.text() == stage.sound.chance.text()
    qtbot.mouseClick(stage.rows["tail_side"].box, Qt.MouseButton.LeftButton)
    settled(demo)
    assert shown(stage.other.chance.text()) < sound - 30 and shown(stage.sound.chance.text()) == sound
    assert "shop to shop" in stage.other.band.text() and "Bell mouth" in words(stage.other)
    worse = shown(stage.other.chance.text())
    typed(qtbot, stage.rows["tail_side"].amount, "0.03")
    settled(demo)
    assert shown(stage.other.chance.text()) > worse
    typed(qtbot, stage.rows["lips_length"].amount, "much")
    assert "not a length" in stage.trouble.text()
    typed(qtbot, stage.rows["lips_length"].amount, "0.012 in")
    settled(demo)
    assert stage.trouble.text() == "" and [f.cause for f in stage.chosen()] == ["lips_length", "tail_side"]
    assert not stage.grab().toImage().isNull()
    stage.clear()
    settled(demo)
    assert stage.other.chance.text() == stage.sound.chance.text() and stage.chosen() == ()


def test_only_what_this_sequence_can_have_is_offered(stage: WhatIfStage, demo: Window, qtbot: QtBot) -> None:
    assert "rm_worn" in stage.rows and "bo_no_spring" not in stage.rows
    demo.desk.selection.select_hole(2)
    settled(demo)
    assert "rm_worn" not in stage.rows and "lips_length" in stage.rows
    stage.wants.emit("go_plan")
    assert demo.stage == "plan"


def test_without_a_sequence_it_says_so(demo: Window) -> None:
    demo.desk.document.edit("None", lambda data: data["holes"].clear())
    demo.run("what_if")
    assert "no sequence yet" in demo.notice.words.text() and demo.stage != "what_if"


def test_a_forecast_is_the_same_each_time(demo: Window, qtbot: QtBot) -> None:
    settled(demo)
    desk = demo.desk
    route, hole = desk.plans.route_of(0), desk.document.job.holes[0]
    assert route is not None
    runs = [
        forecast(route, hole, desk.stock.machine, desk.document.job.material, None, (), 3000) for _ in range(2)
    ]
    assert runs[0].finished == runs[1].finished and runs[0].outcome == runs[1].outcome
    heights = runs[0].finished.heights
    assert max(heights) == pytest.approx(1.0) and min(heights) >= 0
    assert len(runs[0].steps) == sum(o.kind == "drill" for o in route.operations)
    bad = forecast(route, hole, desk.stock.machine, desk.document.job.material, None, (read_fault("dull"),), 3000)
    assert bad.steps != runs[0].steps and bad.faults[0].cause == "dull"


def test_the_model_is_explained_in_the_window(stage: WhatIfStage, demo: Window, qtbot: QtBot) -> None:
    shown: list[PageDialog] = []
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(PageDialog, "exec", lambda dialog: shown.append(dialog))
        qtbot.mouseClick(
            next(w for w in stage.findChildren(Link) if w.text() == "How this is worked out"),
            Qt.MouseButton.LeftButton,
        )
        demo.actions_.by_name["show_model"].trigger()
    assert len(shown) == 2
    text = shown[0].page.toPlainText()
    for words_of_it in (
        "Where it comes from",
        "Where not to trust it",
        "assumed",
        "DIN 1420",
        "from shop to shop",
    ):
        assert words_of_it in text
    page = (Path(__file__).parents[3] / "docs" / "model.md").read_text(encoding="utf-8")
    assert page.splitlines()[0].removeprefix("# ") in text


def test_every_route_gets_its_chance_and_says_its_band(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    demo.desk.selection.select_hole(0)
    settled(demo)
    rows = at(demo, PlanStage).findChildren(RouteRow)
    shown = {row.words: row for row in rows if row.isVisible()}
    assert len(shown) >= 2
    for row in shown.values():
        assert ("from shop to shop" in row.accessibleName()) == (" to " in row.band)
    assert any(" to " in row.band for row in shown.values())
    chance = re.compile(r"(?:about|over) (\d+)")
    figures = {told: int(chance.findall(row.accessibleName())[0]) for told, row in shown.items()}
    assert figures["Balanced"] > figures["Quickest"]  # from solid the reamer's hole wanders more


def test_inches_and_the_section_of_the_finished_hole(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    demo.desk.selection.select_hole(1)
    settled(demo)
    route = demo.desk.plans.route
    assert route is not None
    plan = at(demo, PlanStage)
    assert isinstance(plan, PlanStage)
    before = plan.section.grab().toImage()
    demo.desk.plans.select_operation(next(i for i, o in enumerate(route.operations) if o.kind == "ream"))
    settled(demo)
    assert plan.section.forecast is plan.ladder.forecast is not None
    assert plan.section.grab().toImage() != before
    demo.desk.selection.set_unit("in")
    settled(demo)
    demo.run("what_if")
    settled(demo)
    stage = at(demo, WhatIfStage)
    assert isinstance(stage, WhatIfStage) and " in" in words(stage.sound) and ".4" in words(stage.sound)


def test_an_edit_drops_the_forecast_under_way(demo: Window, qtbot: QtBot) -> None:
    """A plan never waits behind a forecast, and what is shown in the end is of the last edit."""
    demo.go("plan")
    demo.desk.selection.select_hole(0)
    settled(demo)
    forecaster = demo.desk.forecasts
    demo.desk.background.hold = True
    begun = len(forecaster.known)
    for zone in ("H8", "H10", "H9"):
        demo.desk.selection.edit_hole("Zone", tolerance=zone)
        assert not forecaster.under_way  # given up with what it was of
    settled(demo)
    plan = at(demo, PlanStage)
    assert isinstance(plan, PlanStage) and plan.ladder.forecast is not None
    shown = forecaster.of(demo.desk.plans.route, demo.desk.selection.hole)
    assert shown is plan.ladder.forecast and not forecaster.under_way
    assert len(forecaster.known) > begun


def test_a_center_hole_has_nothing_to_forecast_a_thread_has(demo: Window, qtbot: QtBot) -> None:
    gone = {"diameter": None, "depth": None, "tolerance": None, "through": None, "position_tolerance": None}
    demo.go("plan")
    demo.desk.selection.edit_hole(
        "Center", kind="center_hole", center_type="A", size="3.15", finish_ra_um=None, **gone
    )
    settled(demo)
    assert demo.desk.plans.route is not None
    assert demo.desk.forecasts.of(demo.desk.plans.route, demo.desk.selection.hole) is None
    demo.desk.selection.edit_hole(
        "Tapped", kind="tapped", thread="M8", thread_depth="12 mm", center_type=None, size=None
    )
    settled(demo)
    found = demo.desk.forecasts.of(demo.desk.plans.route, demo.desk.selection.hole)
    settled(demo)
    found = demo.desk.forecasts.of(demo.desk.plans.route, demo.desk.selection.hole)
    assert found is not None and found.outcome.in_size.value > 0.5
