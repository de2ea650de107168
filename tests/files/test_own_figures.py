"""What a shop knows of its own and types once: used wherever a plan counts on it."""

from __future__ import annotations

import pytest

from cordwainer.core.cutting.speed import choose
from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import material
from cordwainer.files.crib import blank, change_tool, machine_with, own_figure, with_changes
from tests.jobs import hole

SHOP = built_in("catalog")
STEEL = material("medium_carbon_steel")


def lathe(**fields: object) -> Machine:
    """The bench lathe with what its people know of it."""
    return machine_with(SHOP.machine("bench_lathe"), fields)


def test_a_share_of_the_tables_speed_is_run_in_one_material_or_in_all() -> None:
    # common practice: 200 rev/min where the chart says 315 is 0.63 of it
    plain = choose(STEEL, "drill", "hss", 10.0, None, lathe()).ideal_rpm
    slower = lathe(speed_factors={"medium_carbon_steel": 0.63})
    assert choose(STEEL, "drill", "hss", 10.0, None, slower).ideal_rpm == pytest.approx(0.63 * plain)
    brass = material("brass_free_machining")
    assert choose(brass, "drill", "hss", 10.0, None, slower).ideal_rpm == pytest.approx(
        choose(brass, "drill", "hss", 10.0, None, lathe()).ideal_rpm
    )
    everywhere = lathe(speed_factors={"": 0.8, "medium_carbon_steel": 0.63})
    assert (everywhere.speed_factor("acetal"), everywhere.speed_factor("medium_carbon_steel")) == (0.8, 0.63)
    with pytest.raises(InputError, match="10 to 300"):
        lathe(speed_factors={"": 0.02})


def test_a_scale_is_marked_in_what_its_divisions_are() -> None:
    inch = lathe(scale_unit="in").depth_scale
    assert inch is not None and (inch.unit, inch.division.inch) == ("in", 1 / 16)
    assert inch.start.inch * 16 == pytest.approx(round(inch.start.inch * 16))
    tenths = lathe(scale_division="0.1 in", scale_start="1/2 in").depth_scale
    assert tenths is not None and (tenths.unit, tenths.start.inch, tenths.division.inch) == ("in", 0.5, 0.1)


def test_feeds_are_typed_and_taken_away_again() -> None:
    powered = lathe(feeds_mm_per_rev=[0.4, 0.1, 0.2])
    assert powered.feeds_mm_per_rev == (0.1, 0.2, 0.4)
    assert lathe(feeds_mm_per_rev=[]).feeds_mm_per_rev is None


@pytest.mark.parametrize(
    ("name", "text", "value"),
    [
        ("cuts_over", ".007 in", 0.1778),
        ("cuts_over", "7 thou", 0.1778),
        ("sheet_speed", "150 ft/min", 45.72),
        ("sheet_speed", "45 m/min", 45.0),
        ("sheet_feed", ".008 in/rev", 0.2032),
    ],
)
def test_a_tools_own_figures_are_read_in_either_unit(name: str, text: str, value: float) -> None:
    assert own_figure(name, text) == pytest.approx(value)


@pytest.mark.parametrize(
    ("name", "text"), [("cuts_over", "much"), ("sheet_speed", "45 mm"), ("sheet_feed", "0 mm/rev")]
)
def test_what_cannot_be_a_figure_is_refused_with_one_that_can(name: str, text: str) -> None:
    with pytest.raises(InputError, match="write"):
        own_figure(name, text)


def test_a_drill_that_cuts_over_leaves_what_was_typed_until_the_logbook_knows_better() -> None:
    drill = next(t for t in SHOP.of_kind("drill") if t.designation == "31/64 in" and t.series == "jobber")
    data = blank("catalog")
    change_tool(data, drill, cuts_over=".007 in", sheet_speed="45 m/min", sheet_feed="0.3 mm/rev")
    known = next(t for t in with_changes(SHOP, data).of_kind("drill") if t.id == drill.id)
    # arithmetic: 31/64 + .007 in
    assert expected_drilled(known).mean_mm == pytest.approx((31 / 64 + 0.007) * 25.4, abs=1e-4)
    assert (known.sheet_m_min, known.sheet_feed_mm) == (45.0, 0.3)
    change_tool(data, drill, cuts_over=None)
    again = next(t for t in with_changes(SHOP, data).of_kind("drill") if t.id == drill.id)
    assert again.oversize_factor == 1.0


def test_a_data_sheets_speed_goes_before_the_table() -> None:
    asked = hole("12 mm", None, "20 mm")
    plan = plan_hole(asked, SHOP, SHOP.machine("knee_mill"), STEEL)
    used = plan.routes[0].operations[-3].tool
    assert used is not None and used.kind == "drill"
    data = blank("catalog")
    change_tool(data, used, sheet_speed="12 m/min")
    slower = plan_hole(asked, with_changes(SHOP, data), SHOP.machine("knee_mill"), STEEL)
    same = next(o for r in slower.routes for o in r.operations if o.tool is not None and o.tool.id == used.id)
    assert same.surface_ideal_m_min == pytest.approx(12.0)
