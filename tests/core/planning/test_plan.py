"""What a plan says and how it chooses."""

from __future__ import annotations

from dataclasses import replace

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps.finish import stock_target
from cordwainer.core.planning.words.operation import HolePlan, Operation
from cordwainer.core.planning.words.practice import Practice, read_practice
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import material
from tests.jobs import hole


def plan(size: str, tolerance: str | None, depth: str, machine: str = "knee_mill", **more: object) -> HolePlan:
    """A plan with the catalog, in medium-carbon steel unless said otherwise."""
    shop = built_in(str(more.pop("shop", "catalog")))
    made_of = material(str(more.pop("material", "medium_carbon_steel")))
    practice = more.pop("practice", Practice())
    assert isinstance(practice, Practice)
    asked = hole(size, tolerance, depth, **more)
    return plan_hole(asked, shop, shop.machine(machine), made_of, practice)


def kinds(found: HolePlan) -> list[str]:
    """Kinds of the recommended route."""
    assert found.routes
    return [o.kind for o in found.routes[0].operations]


def last(found: HolePlan, kind: str) -> Operation:
    """The last operation of a kind."""
    return [o for o in found.routes[0].operations if o.kind == kind][-1]


def test_start_pilot_step_undersize_ream_deburr_measure() -> None:
    found = plan("20 mm", "H7", "24 mm", "toolroom_lathe", shop="demo", practice=Practice(pilot="steps"))
    assert kinds(found) == ["center_drill", "drill", "drill", "drill", "ream", "deburr", "measure"]
    pilot, step, last_drill, reamer = (o.tool.diameter_mm for o in found.routes[0].operations[1:5] if o.tool)
    assert pilot <= 6 and 0.4 <= step / last_drill <= 0.85 and (last_drill, reamer) == (19.7, 20)
    assert last(found, "ream").stock_mm == pytest.approx(20 - last(found, "drill").expected_mm)


@pytest.mark.parametrize(
    ("size", "tolerance", "undersize"), [("18 mm", "H7", "17.7 mm"), ("1/2 in", "+.0010/-0 in", "31/64 in")]
)
def test_worked_undersize_drills(size: str, tolerance: str, undersize: str) -> None:
    # rules of record 5, behind a pilot
    found = plan(size, tolerance, "24 mm", "toolroom_lathe", practice=Practice(pilot="steps"))
    tool = last(found, "drill").tool
    assert tool is not None and tool.designation == undersize


def test_a_drill_outside_the_usual_stock_says_so() -> None:
    # rules of record 5: 22 H7, 21.75 behind a pilot leaves 0.191, allowed and said; 26: or a core drill inside it
    found = plan("22 mm", "H7", "24 mm", "toolroom_lathe", practice=Practice(pilot="steps"))
    for route in found.routes:
        ream = next((o for o in route.operations if o.kind == "ream"), None)
        if ream is None or ream.stock_mm is None:
            continue
        low, high = stock_target(22, "mm")
        assert 0.6 * low <= ream.stock_mm <= 1.5 * high
        outside = not low - 1e-9 <= ream.stock_mm <= high + 1e-9
        assert outside == ("stock_outside_range" in {w.id for w in route.warnings})


def test_stock_rows_include_their_end() -> None:
    assert stock_target(10, "mm") == (0.15, 0.25)
    assert stock_target(10.001, "mm") == (0.2, 0.3)
    assert stock_target(12.7, "in") == pytest.approx((0.254, 0.381))


def test_a_plain_hole_takes_the_drill_of_its_name() -> None:
    for size in ("8 mm", "9/32 in", "11 mm"):
        found = plan(size, None, "20 mm")
        tool = last(found, "drill").tool
        assert tool is not None and str(tool.diameter) == size
        assert "ream" not in kinds(found)


def test_a_coarse_hole_is_drilled_a_fine_one_reamed() -> None:
    assert "ream" not in kinds(plan("10 mm", "H13", "20 mm"))
    assert "ream" in kinds(plan("10 mm", "H10", "20 mm"))
    assert "ream" in kinds(plan("10 mm", "H12", "20 mm", finish_ra_um=0.8))


def test_starts_by_machine_and_practice() -> None:
    assert kinds(plan("12 mm", None, "20 mm", "bench_lathe", position_tolerance_mm=0.2))[0] == "center_drill"
    assert kinds(plan("12 mm", None, "20 mm", "knee_mill", position_tolerance_mm=0.2))[0] == "spot_drill"
    loose = plan("12 mm", None, "20 mm", "knee_mill", practice=Practice(self_start="trust")).routes
    assert any(r.operations[0].kind == "drill" for r in loose)  # a stub on a faced end starts itself
    marked = kinds(plan("12 mm", None, "20 mm", "drill_press", practice=Practice(self_start="trust")))
    assert marked[:2] == ["punch", "drill"]  # a drill press finds its place by a mark, a stub drill included
    soft = kinds(plan("6 mm", None, "8 mm", "drill_press", material="acrylic"))
    assert "punch" not in soft and soft[0] == "spot_drill"
    press = kinds(plan("8 mm", None, "20 mm", "drill_press", position_tolerance_mm=0.2))
    assert press[:2] == ["punch", "spot_drill"]
    asked = kinds(
        plan(
            "12 mm", None, "20 mm", "knee_mill", position_tolerance_mm=0.2, practice=Practice(start="center_drill")
        )
    )
    assert asked[0] == "center_drill"
    spot = last(plan("12 mm", None, "20 mm", "knee_mill", position_tolerance_mm=0.2), "spot_drill")
    assert spot.tool is not None and spot.tool.included_angle_deg in (120.0, 142.0)


def test_hard_steel_gets_only_the_pilots_tip() -> None:
    found = plan("6 mm", None, "10 mm", "toolroom_lathe", material="alloy_steel_hard", position_tolerance_mm=0.2)
    center = last(found, "center_drill")
    assert center.cone_share == 0 and center.mouth_mm == center.diameter_mm


def test_uneven_entries_are_made_flat_first() -> None:
    assert kinds(plan("12 mm", None, "20 mm", "bench_lathe", entry="pip"))[0] == "face"
    sloped = plan("10 mm", None, "20 mm", "knee_mill", entry="sloped")
    assert kinds(sloped)[0] == "end_mill"
    assert (last(sloped, "end_mill").diameter_mm or 0) >= 10
    assert "slope" in {c.id for c in last(sloped, "end_mill").cautions}


def test_an_existing_hole_needs_no_start_and_leads() -> None:
    found = plan("14 mm", "H7", "30 mm", "knee_mill", existing_mm=6.0)
    assert kinds(found)[0] == "drill"
    assert all((o.diameter_mm or 99) > 6 for o in found.routes[0].operations if o.kind == "drill")


def test_blind_holes_go_deeper_for_the_reamer_where_there_is_room() -> None:
    roomy = plan("12 mm", "H7", "20 mm", through=False)
    drill, ream = last(roomy, "drill"), last(roomy, "ream")
    assert drill.depth_mm == pytest.approx(20 + 3.0 + 6.0) and ream.depth_mm == 20
    bored = plan("12 mm", "H7", "20 mm", through=False, part_thickness_mm=26.0).routes[0]
    assert not any(w.id == "short_full_depth" for w in bored.warnings)
    assert bored.finisher in ("bore", "bore_ream") and last(plan("12 mm", "H7", "20 mm"), "ream").depth_mm
    tight = plan("12 mm", "H7", "20 mm", practice=Practice(finish="ream"), through=False, part_thickness_mm=26.0)
    warning = next(w for w in tight.routes[0].warnings if w.id == "short_full_depth")
    assert warning.numbers["missing_mm"] == pytest.approx(20 - (last(tight, "ream").depth_mm or 0))
    assert (last(tight, "drill").tip_mm or 0) <= 25 + 1e-9


def test_a_weak_machine_slows_down_and_says_so() -> None:
    shop = built_in("catalog")
    strong = shop.machine("bench_lathe")
    weak: Machine = replace(strong, power_kw=0.3)
    asked, steel = hole("18 mm", "H7", "24 mm"), material("medium_carbon_steel")
    slow = plan_hole(asked, shop, weak, steel).routes[0]
    assert any(o.slowed_for == "power" for o in slow.operations)
    assert "slowed_for_power" in {w.id for w in slow.warnings}
    feeble = replace(strong, power_kw=0.02, thrust_n=200.0)
    refused = plan_hole(asked, shop, feeble, steel)
    assert not refused.routes and ("kW" in " ".join(refused.why_not) or "thrust" in " ".join(refused.why_not))


def test_every_operation_says_why_and_shows_its_working() -> None:
    for size, tolerance in (("18 mm", "H7"), ("9/16 in", "+.0010/-0 in"), ("7 mm", None)):
        for route in plan(size, tolerance, "25 mm", "bench_lathe").routes:
            for operation in route.operations:
                assert operation.because and operation.minutes > 0
                if operation.rpm:
                    assert operation.workings and operation.fluid
                    assert operation.seconds_per_mm == pytest.approx(
                        60 / operation.rpm / (operation.feed_mm_per_rev or 1)
                    )
                    speed = next(w for w in operation.workings if w.name == "surface speed")
                    assert speed.value == pytest.approx(
                        3.14159265 * (operation.diameter_mm or 0) * operation.rpm / 1000
                    )


def test_cautions_stand_where_they_matter() -> None:
    brass = last(plan("16 mm", None, "20 mm", "drill_press", material="brass_free_machining"), "drill")
    names = [c.id for c in brass.cautions]
    assert names[:1] and brass.cautions[0].level == "stop" and {"brass", "clamp", "break"} <= set(names)
    magnesium = plan("8 mm", None, "20 mm", material="magnesium_alloy")
    assert all(
        "magnesium" in {c.id for c in o.cautions} for o in magnesium.routes[0].operations if o.kind == "drill"
    )
    reamed = plan("12 mm", "H7", "20 mm", through=False)
    assert {"ream_back", "ream_bottom"} <= {c.id for c in last(reamed, "ream").cautions}


def test_routes_are_told_apart_and_the_first_is_recommended() -> None:
    for size in ("12 mm", "18 mm", "25 mm"):
        found = plan(size, "H7", "24 mm", "knee_mill")
        labels = [r.label for r in found.routes]
        assert labels[0] == "balanced" and len(set(labels)) == len(labels)
        quick = [r for r in found.routes if r.label == "quickest"]
        assert all(r.minutes < found.routes[0].minutes for r in quick)
        assert all(0 <= r.screen_chance <= 1 for r in found.routes)
        assert found.recommended is found.routes[0]
        assert found.routes[0].minutes == pytest.approx(sum(o.minutes for o in found.routes[0].operations))


def test_practice_choices() -> None:
    straight = plan("14 mm", "H7", "20 mm", "toolroom_lathe", practice=Practice(pilot="straight"))
    assert kinds(straight).count("drill") == 1
    unpecked = plan("6 mm", None, "40 mm", practice=Practice(pecking="none"))
    assert not last(unpecked, "drill").pecks_mm
    assert last(plan("6 mm", None, "40 mm"), "drill").pecks_mm
    practice, unknown = read_practice({"start": "spot_drill", "music": "loud"})
    assert practice.start == "spot_drill" and unknown == ("music",)
    with pytest.raises(InputError, match="by_machine"):
        read_practice({"start": "hammer"})


def test_the_same_question_has_the_same_answer() -> None:
    assert plan("18 mm", "H7", "24 mm") == plan("18 mm", "H7", "24 mm")
