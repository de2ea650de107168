"""The practice page driven as a machinist would, and Plan for kinds of hole that are bored, tapped, squared."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from cordwainer.ui.stages.plan.sequence import RouteRow
from cordwainer.ui.stages.practice.practice_stage import PracticeStage
from cordwainer.ui.stages.print_.print_stage import PrintStage
from tests.ui.windows import at, settled, words


@pytest.fixture
def splitter(demo: Window, qtbot: QtBot) -> Window:
    demo.desk.document.clean = demo.desk.document.data
    leaving_commands.open_demo(demo, "demo_splitter.job.json")
    demo.go("plan")
    settled(demo)
    return demo


def plan_stage(window: Window) -> PlanStage:
    """The Plan stage."""
    found = at(window, PlanStage)
    assert isinstance(found, PlanStage)
    return found


def show(window: Window, qtbot: QtBot, hole: int, kind: str) -> PlanStage:
    """One hole's plan with the last operation of a kind selected."""
    window.desk.selection.select_hole(hole)
    settled(window)
    route = window.desk.plans.route
    assert route is not None
    window.desk.plans.select_operation([i for i, o in enumerate(route.operations) if o.kind == kind][-1])
    return plan_stage(window)


@pytest.fixture
def page(splitter: Window, qtbot: QtBot) -> PracticeStage:
    splitter.desk.selection.select_hole(1)
    settled(splitter)
    link = next(w for w in plan_stage(splitter).findChildren(Link) if "practice" in w.text().lower())
    qtbot.mouseClick(link, Qt.MouseButton.LeftButton)
    found = at(splitter, PracticeStage)
    assert isinstance(found, PracticeStage) and splitter.stack.currentWidget() is found
    return found


def test_a_bored_hole_shows_its_passes_and_its_alternatives(splitter: Window, qtbot: QtBot) -> None:
    stage = show(splitter, qtbot, 0, "bore")
    told = words(stage.card)
    route = splitter.desk.plans.route
    assert route is not None
    bar = next(o for o in route.operations if o.kind == "bore")
    for text in ("Bore", "boring bar", "Set to", f"{bar.passes_mm[-1]:.3f}", "Bar stands out", "bigger"):
        assert text in told
    rows = stage.findChildren(RouteRow)
    assert len(rows) >= 3 and any(r.route.finisher == "ream" for r in rows)
    assert rows == sorted(rows, key=lambda r: r.route.minutes)
    settled(splitter)
    assert stage.ladder.leans
    assert "in 100" in stage.ladder.accessibleDescription()
    assert not stage.section.grab().toImage().isNull()


def test_tapped_squared_and_tapered_holes_say_what_they_are(splitter: Window, qtbot: QtBot) -> None:
    tapped = words(show(splitter, qtbot, 1, "tap").card)
    assert "M10x1.5" in tapped and "Turns of the tap" in tapped and "half back" in tapped
    assert "keyless" in tapped
    floor = words(show(splitter, qtbot, 2, "end_mill").card)
    assert "Square floor" in floor and "Floor at" in floor and "14.00 mm" in floor
    taper = show(splitter, qtbot, 3, "ream")
    assert "try the pin" in words(taper.card) and not taper.ladder.slot.isVisible()
    assert all(not w.grab().toImage().isNull() for w in (taper.section, taper.ladder, taper.strip))


def test_effects_arrive_and_a_choice_changes_the_plan_and_comes_back(
    page: PracticeStage, splitter: Window, qtbot: QtBot
) -> None:
    page.show_school("drill_speed")
    settled(splitter)
    effect = page.effects.found["drill_speed", "half_turning"]
    assert effect.more_minutes is not None and effect.more_minutes > 0
    card = page.cards["half_turning"]
    assert "min" in card.accessibleName()
    before = splitter.desk.plans.route
    assert before is not None
    qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
    assert splitter.desk.document.job.file.practice == {"drill_speed": "half_turning"} and card.isChecked()
    settled(splitter)
    after = splitter.desk.plans.route
    assert after is not None and after.minutes == pytest.approx(effect.minutes or 0)
    assert "this job" in page.rows["drill_speed"].accessibleName()
    splitter.run("undo")
    settled(splitter)
    assert not splitter.desk.document.job.file.practice
    assert splitter.desk.plans.route is not None and splitter.desk.plans.route.minutes == before.minutes


def test_the_shops_own_choice_holds_for_every_job_until_the_job_says_otherwise(
    page: PracticeStage, splitter: Window, qtbot: QtBot
) -> None:
    page.scope.boxes["shop"].click()
    page.show_school("start")
    page.cards["spot_drill"].click()
    settled(splitter)
    assert (
        splitter.desk.stock.shop.practice == {"start": "spot_drill"}
        and not splitter.desk.document.job.file.practice
    )
    route = splitter.desk.plans.route
    assert route is not None and "spot_drill" in [o.kind for o in route.operations]
    assert "this shop" in page.rows["start"].accessibleName()
    page.scope.boxes["job"].click()
    page.cards["center_drill"].click()
    assert splitter.desk.document.job.file.practice == {"start": "center_drill"}
    page.let_go()
    settled(splitter)
    assert not splitter.desk.document.job.file.practice
    assert page.cards["by_machine"].isChecked()
    qtbot.mouseClick(next(w for w in page.findChildren(Link) if "Back" in w.text()), Qt.MouseButton.LeftButton)
    assert splitter.stack.currentWidget() is plan_stage(splitter)


def test_a_missing_tap_is_named_with_what_it_would_do(splitter: Window, qtbot: QtBot) -> None:
    splitter.desk.selection.select_hole(1)
    splitter.desk.selection.edit_hole("Other thread", thread="M12x1.75", depth="28 mm")
    settled(splitter)
    told = words(plan_stage(splitter))
    assert "No sequence with this crib and machine" in told and "no M12x1.75 tap" in told.lower().replace(
        "m12", "M12"
    )
    settled(splitter)
    assert "to get" in words(plan_stage(splitter))


def test_the_print_draws_points_the_way_the_practice_says(splitter: Window, qtbot: QtBot) -> None:
    splitter.desk.selection.select_hole(1)
    splitter.go("print")
    drawing = at(splitter, PrintStage).drawing
    assert drawing.point_deg == 118.0
    splitter.desk.document.edit("As drawn", lambda data: data.update(practice={"point_drawn": "drawn_120"}))
    assert drawing.point_deg == 120.0 and not drawing.grab().toImage().isNull()


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"tolerance": "H6"}, "boring"),
        ({"tolerance": "H10", "position_tolerance": None}, "reaming"),
        ({"position_tolerance": "0.03 mm"}, "boring"),
        ({"tolerance": "H12", "position_tolerance": None}, "drilling with care"),
    ],
)
def test_print_says_what_the_size_and_place_want(
    splitter: Window, qtbot: QtBot, change: dict[str, str | None], said: str
) -> None:
    splitter.desk.selection.select_hole(0)
    splitter.go("print")
    splitter.desk.selection.edit_hole("Other", **change)
    settled(splitter)
    assert f"It wants {said}" in words(at(splitter, PrintStage))
