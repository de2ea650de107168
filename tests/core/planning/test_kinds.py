"""Every kind of hole planned, against the figures a machinist would hold the answer to."""

from __future__ import annotations

import math
from typing import Any

import pytest

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps.boring import pass_sizes
from cordwainer.core.planning.steps.finish import stock_target
from cordwainer.core.planning.steps.threads import tap_turns
from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.core.shop.shop import Shop
from cordwainer.files import job as job_files
from tests.jobs import job_data

CATALOG = built_in("catalog")


def asked(**entry: Any) -> Hole:
    """A hole from a job file's fields."""
    return job_files.from_data(job_data({"id": "A", **entry})).holes[0]


def plan(
    machine: str = "toolroom_lathe", shop: Shop = CATALOG, practice: Practice | None = None, **entry: Any
) -> HolePlan:
    """Its plan in medium-carbon steel."""
    steel = material("medium_carbon_steel")
    return plan_hole(asked(**entry), shop, shop.machine(machine), steel, practice)


def best(**given: Any) -> Route:
    """The recommended route."""
    found = plan(**given)
    assert found.routes, found.why_not
    return found.routes[0]


def the(route: Route, kind: str) -> Operation:
    """The last operation of a kind."""
    return [o for o in route.operations if o.kind == kind][-1]


def kinds(route: Route) -> list[str]:
    """Kinds of operations in order."""
    return [o.kind for o in route.operations]


def without(*tool_kinds: str) -> Shop:
    """The catalog without some kinds of tool."""
    return Shop("few", CATALOG.machines, [t for t in CATALOG.tools if t.kind not in tool_kinds], CATALOG.gauges)


def test_a_thread_is_drilled_chamfered_and_tapped() -> None:
    route = best(kind="tapped", thread="M8", thread_depth="16 mm")
    assert kinds(route)[-5:] == ["drill", "countersink", "tap", "deburr", "measure"]
    drill, tap = the(route, "drill"), the(route, "tap")
    assert drill.tool is not None and 6.6 <= drill.tool.diameter_mm <= 6.8  # ISO 2306: 6.8 for M8
    assert drill.expected_mm is not None and 6.647 <= drill.expected_mm <= 6.912  # ISO 965-1, 6H
    assert drill.depth_mm == pytest.approx(16 + 5 * 1.25)  # common practice: a plug tap's lead and a turn
    assert tap.depth_mm == 16 and tap.tool is not None and tap.tool.series == "plug" and tap.rpm is None
    assert tap.turns == pytest.approx((16 + 4 * 1.25) / 1.25)
    assert tap_turns(12.7, 0, 25.4 / 20) == pytest.approx(10)  # common practice: half an inch at 20 to the inch
    assert "8" in tap.tool.designation and any("half back" in text for text in tap.because)


def test_a_floor_too_near_for_a_plug_tap_takes_a_first_and_a_bottoming_one() -> None:
    route = best(kind="tapped", thread="M10", thread_depth="16 mm", depth="20 mm", part_thickness="26 mm")
    taps = [o.tool.series for o in route.operations if o.kind == "tap" and o.tool is not None]
    assert taps == ["plug", "bottoming"]
    short = best(kind="tapped", thread="M10", thread_depth="19 mm", depth="20 mm", part_thickness="26 mm")
    assert any(w.id == "short_full_depth" for w in the(short, "tap").warnings)


def test_without_the_tap_nothing_is_planned_and_the_tap_is_named() -> None:
    found = plan(kind="tapped", thread="M10", thread_depth="16 mm", shop=without("tap"))
    assert not found.routes and found.why_not == ("no M10x1.5 tap in the crib; one would thread it",)


def test_mouths_are_as_wide_and_deep_as_asked() -> None:
    sunk = the(
        best(kind="plain", diameter="6.8 mm", depth="12 mm", through=True, countersink_diameter="8.8 mm"),
        "countersink",
    )
    assert sunk.mouth_mm == 8.8 and sunk.readings is not None  # common practice: 1 x 45° on 6.8 opens to 8.8
    assert sunk.readings.stop - sunk.readings.start == pytest.approx((8.8 - sunk.previous_mm) / 2, abs=1e-6)
    sink = asked(
        kind="countersunk", diameter="1/4 in", depth="1/2 in", through=True, countersink_diameter="1/2 in"
    )
    inch = plan_hole(sink, CATALOG, CATALOG.machine("knee_mill"), material("medium_carbon_steel")).routes[0]
    cone = the(inch, "countersink")
    assert cone.tool is not None and cone.tool.included_angle_deg == 82  # ASME B18.3 head angle, inch
    assert cone.tip_mm == pytest.approx(12.7 / 2 / math.tan(math.radians(41)))
    drill = the(inch, "drill")
    assert (cone.rpm or 0) <= (drill.rpm or 0) / 2 * 1.15  # common practice: half a drill's speed
    bored = the(
        best(kind="counterbored", thread="M8", diameter="9 mm", depth="25 mm", through=True), "counterbore"
    )
    assert bored.diameter_mm == 15 and bored.depth_mm == 8.6  # DIN 974-1, ISO 4762
    assert bored.tool is not None and bored.tool.pilot_diameter_mm == 9.0  # ISO 273
    fine = best(kind="counterbored", diameter="9 mm", depth="25 mm", through=True, counterbore_diameter="22 mm",
                counterbore_depth="4 mm", counterbore_tolerance="H7")  # fmt: skip
    assert [o.role for o in fine.operations if o.kind == "bore"][-1] == "counterbore"
    spot = best(kind="spotfaced", diameter="11 mm", depth="20 mm", through=True, counterbore_diameter="22 mm")
    assert the(spot, "spotface").diameter_mm == 22


def test_a_flat_floor_is_drilled_short_and_squared() -> None:
    given = {"kind": "flat_bottom", "diameter": "12 mm", "depth": "15 mm", "tolerance": "+0.15/-0 mm"}
    route = best(**given)
    drill, mill = the(route, "drill"), the(route, "end_mill")
    assert drill.tip_mm == pytest.approx(14.7) and mill.depth_mm == 15  # common practice: 0.3 mm short
    assert mill.tool is not None and mill.tool.center_cutting
    assert route.finisher == "end_mill" and route.chance is not None and route.chance > 0.8
    blunt = [t for t in CATALOG.tools if t.kind != "end_mill" or t.center_cutting is False]
    shop = Shop("blunt", CATALOG.machines, blunt, CATALOG.gauges)
    assert best(shop=shop, **given).finisher == "bore"  # one that does not cut to its center never plunges
    tight = best(**given | {"tolerance": "H7"})
    assert tight.finisher == "bore" and any("Face the floor" in text for text in the(tight, "bore").because)


def test_an_odd_size_is_bored() -> None:
    route = best(diameter="0.864 in", kind="sized", tolerance="±0.0004 in", depth="1 in", through=True)
    bar = the(route, "bore")
    assert route.finisher == "bore" and bar.tool is not None  # common practice: 0.864 -> bore
    left = [o for o in route.operations if o.kind in ("drill", "core_drill")][-1].expected_mm or 0.0
    assert (bar.tool.min_bore_mm or 0) < left < bar.passes_mm[0] < bar.passes_mm[-1] == bar.diameter_mm
    assert any("Out with the cross feed makes it bigger" in text for text in bar.because)
    assert [round(x, 3) for x in pass_sizes(21.0, 22.0, 0.25)] == [21.425, 21.85, 22.0]


def test_place_and_size_tight_are_bored_then_reamed_by_the_school_that_says_so() -> None:
    given = {"diameter": "22 mm", "kind": "sized", "tolerance": "H7", "depth": "30 mm", "through": True}
    route = best(practice=Practice(finish="bore_ream"), **given)
    assert route.finisher == "bore_ream"
    ream, bar = the(route, "ream"), the(route, "bore")
    assert ream.stock_mm == pytest.approx(22 - (bar.diameter_mm or 0))
    low, high = stock_target(22, "mm")
    assert low <= (ream.stock_mm or 0) <= high
    fine = best(**given | {"tolerance": "H6"})
    assert fine.finisher in ("bore", "bore_ream")  # rules of record 13
    placed = best(**given | {"position_tolerance": "0.04 mm"})
    assert "bore" in kinds(placed)


def test_large_holes_take_a_spade_or_the_largest_drill_then_the_bar() -> None:
    found = plan(diameter="58 mm", kind="sized", tolerance="H8", depth="40 mm", through=True)
    assert found.routes and all(r.finisher == "bore" for r in found.routes)
    assert not any(
        "spade_drill" in kinds(r) for r in found.routes
    )  # its chisel asks for more than 2.2 kW and 12 kN
    smaller = plan(diameter="34 mm", kind="sized", tolerance="H8", depth="40 mm", through=True)
    assert any({"spade_drill", "drill"} & set(kinds(r)) for r in smaller.routes)
    press = plan(
        machine="drill_press", diameter="58 mm", kind="sized", tolerance="H8", depth="40 mm", through=True
    )
    assert not press.routes and any("cannot bore" in why for why in press.why_not)


def test_core_drills_hold_what_drills_do_not() -> None:
    given = {"diameter": "20 mm", "kind": "sized", "tolerance": "H10", "depth": "30 mm", "through": True}
    offered = plan(shop=without("reamer", "boring_bar"), existing_hole="16 mm", **given).routes
    route = next(r for r in offered if r.finisher == "core_drill")  # rules of record 13
    core = the(route, "core_drill")
    assert core.previous_mm >= 0.6 * (core.diameter_mm or 0) and core.tip_mm == core.depth_mm
    solid = plan(shop=without("reamer", "boring_bar"), **given)
    assert not any("core_drill" in kinds(r) for r in solid.routes)  # rules of record 26: for holes that exist


def test_taper_pins_are_drilled_in_steps_for_their_reamer() -> None:
    route = best(kind="taper_pin", size="6", depth="30 mm", through=True)
    drills = [o for o in route.operations if o.kind == "drill"]
    reamer = the(route, "ream")
    assert reamer.tool is not None and reamer.tool.kind == "taper_pin_reamer" and reamer.tool.series == "1:50"
    assert reamer.diameter_mm == pytest.approx(6.6)  # ISO 2339: 6 at the small end, 1:50 over 30 mm
    assert (drills[0].expected_mm or 9) < 6.0 and (drills[0].depth_mm or 0) >= 31
    for drill in drills[1:]:
        assert (drill.expected_mm or 9) < 6.6 - (drill.depth_mm or 0) / 50
    assert route.chance is not None and route.chance > 0.9


def test_a_work_center_goes_two_thirds_of_its_cone() -> None:
    route = best(kind="center_hole", center_type="plain", size="#4")
    center = the(route, "center_drill")
    assert kinds(route) == ["center_drill", "deburr", "measure"] and route.chance is None
    assert center.mouth_mm == pytest.approx(0.25 * 25.4)  # common practice: no. 4, two thirds
    half = best(kind="center_hole", center_type="plain", size="#4", practice=Practice(center_depth="half"))
    assert (the(half, "center_drill").mouth_mm or 0) == pytest.approx(0.21875 * 25.4)
    rough = best(kind="center_hole", center_type="A", size="3.15", entry="pip")
    assert kinds(rough)[0] == "face"


def test_a_hole_already_there_is_opened_bored_or_reamed_without_a_start() -> None:
    given = {"kind": "sized", "tolerance": "H7", "depth": "20 mm", "through": True}
    ready = best(diameter="14 mm", existing_hole="13.75 mm", **given)
    assert kinds(ready) == ["ream", "deburr", "measure"] and the(ready, "ream").stock_mm == pytest.approx(0.25)
    rough = plan(diameter="24 mm", existing_hole="16 mm", **given)
    assert rough.routes
    for route in rough.routes:
        assert not {"center_drill", "spot_drill", "punch"} & set(kinds(route))


def test_a_deep_hole_has_its_guide() -> None:
    route = best(diameter="6 mm", kind="plain", depth="60 mm", through=True)
    guide, deep = [o for o in route.operations if o.kind == "drill"]
    assert guide.role == "guide" and guide.tool is not None and guide.tool.is_stub
    assert guide.depth_mm == pytest.approx(1.5 * 6) and deep.tool is not None and deep.tool.is_long
    shallow = best(
        diameter="6 mm", kind="plain", depth="60 mm", through=True, practice=Practice(deep_pilot="shallow")
    )
    assert next(o for o in shallow.operations if o.role == "guide").depth_mm == pytest.approx(6)
    soft = best(material="aluminum_wrought", diameter="6 mm", kind="plain", depth="60 mm", through=True)
    fast = [o for o in soft.operations if o.kind == "drill"][-1]
    words = next(r for r in fast.because if r.startswith("Enter the guide"))
    slow = float(words.split(" at ")[1].split()[0])
    assert 300 <= slow <= 500 < (fast.rpm or 0) and "9.0 mm in" in words  # common practice: 300-500 going in


def test_what_lies_under_a_through_hole_is_not_drilled_into_unsaid() -> None:
    given = {"diameter": "16 mm", "kind": "plain", "depth": "20 mm", "through": True}
    safe = best(**given, under="parallels", under_gap="12 mm")
    assert not [w for w in safe.warnings if w.id == "hits_below"]
    near = best(**given, under="table", under_gap="3 mm")
    hits = [w for w in near.warnings if w.id == "hits_below"]
    last = [o for o in near.operations if o.kind == "drill"][-1]
    out = (last.tip_mm or 0) - 20
    assert hits and hits[-1].numbers["out_mm"] == pytest.approx(
        out
    )  # arithmetic: point and clearance beyond the face
    assert "the table" in hits[-1].text and f"{out - 3:.2f}" in hits[-1].text


def test_tiny_thin_and_interrupted_holes_say_what_is_special() -> None:
    micro = best(machine="knee_mill", kind="sized", tolerance="±0.03 mm", diameter="0.4 mm", depth="2 mm")
    drill = the(micro, "drill")
    assert drill.rpm == 2720 and any("3.4 m/min" in text for text in drill.because)  # arithmetic: pi d n / 1000
    assert any("where it bends" in text for text in drill.because)
    assert drill.pecks_mm[0] == 1.0 and drill.pecks_mm[1] == pytest.approx(1.1)  # common practice
    sheet = best(machine="knee_mill", kind="plain", diameter="12 mm", depth="1.5 mm", through=True)
    assert any(c.id == "sheet" for c in the(sheet, "drill").cautions)
    crossed = best(
        kind="plain", diameter="8 mm", depth="30 mm", through=True, exit="cross_hole", cross_diameter="12 mm"
    )
    assert any("12.0 mm hole it meets" in text for text in the(crossed, "drill").because)
    deep = the(best(diameter="6 mm", kind="plain", depth="40 mm", through=True), "drill")
    assert any("fluid does not reach" in text for text in deep.because)
