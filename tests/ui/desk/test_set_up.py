"""The set-up looked over once, and what a touch says of ram, travel and the last tool's stop."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from pytestqt.qtbot import QtBot

from cordwainer.core.lengths import parse
from cordwainer.core.planning.machine.card import card_of, setup_checks
from cordwainer.core.shop.catalog import built_in
from cordwainer.ui.desk.set_up import SETUP
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.core.planning.test_shown_unit import HOLES, planned
from tests.ui.windows import at, opened, shut

SHOP = built_in("catalog")


def test_each_machine_has_its_own_checks() -> None:
    checks = {name: setup_checks(SHOP.machine(name)) for name in ("bench_lathe", "drill_press", "knee_mill")}
    assert all(4 <= len(own) <= 8 for own in checks.values())
    assert any("never held by hand" in line for line in checks["drill_press"])
    assert any("Tailstock" in line for line in checks["bench_lathe"]) and not any(
        "Tailstock" in line for line in checks["knee_mill"]
    )


def test_it_is_shown_once_before_the_first_cut_and_nothing_else_shows_before(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        window.go("cut")
        stage = at(window, CutStage)
        assert stage.cutting.unticked()[0] is SETUP and stage.numbers.card is None
        QTest.keyClick(stage, Qt.Key.Key_1)
        assert SETUP not in stage.cutting.unticked()
        window.desk.selection.select_hole(1)
        window.go("plan")
        window.go("cut")
        assert SETUP not in stage.cutting.unticked()
    finally:
        shut(window)


def notes(start: str | None, step: int) -> list[str]:
    """What is said at the touch of a step on the bench lathe."""
    machine = SHOP.machine("bench_lathe")
    route = planned(HOLES["plain"], "bench_lathe").routes[0]
    scale = machine.depth_scale
    assert scale is not None
    starts = {scale.kind: parse(start)} if start else {}
    return [caution.id for caution in card_of(route, step, machine, "mm", starts=starts).notes]


def test_a_touch_in_the_knock_out_and_travel_that_is_missing_are_said() -> None:
    # common practice: below its first marks the ram pushes the tool out; start + depth must lie within the travel
    assert "knock_out" in notes("2 mm", 0) and "knock_out" not in notes("12 mm", 0)
    assert "travel_short" in notes("59 mm", 0) and "travel_short" not in notes("12 mm", 0)


def test_a_stop_is_the_last_tools_until_it_is_set_anew() -> None:
    assert "stop_void" not in notes(None, 0) and "stop_void" in notes(None, 1)
