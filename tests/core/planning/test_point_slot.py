"""What a sequence asks of one of its drills' holes, and what becomes of a bad point in it."""

from __future__ import annotations

from dataclasses import replace

import pytest

from cordwainer.core.formation.point_verdict import judge
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.model.point_slot import asked_of
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.drill_point import Point
from cordwainer.core.shop.material import material
from cordwainer.core.shop.shop import Shop

SHOP = built_in("catalog")


def hole(size: str, kind: str, zone: str = "", pair: tuple[str, str] | None = None) -> Hole:
    d = parse(size)
    limits = limits_of(d, zone or None, tuple(map(parse, pair)) if pair else None, "ISO 2768-m")
    return Hole("A", kind, d, parse("24 mm"), True, limits)


def route(asked: Hole) -> Route:
    plan = plan_hole(asked, SHOP, SHOP.machine("bench_lathe"), material("medium_carbon_steel"))
    return plan.routes[0]


def test_the_last_drill_has_the_prints_limits() -> None:
    asked = hole("11.5 mm", "plain", pair=("11.5 mm", "11.8 mm"))
    found = route(asked)
    last = [o for o in found.operations if o.kind == "drill"][-1]
    assert last.tool is not None
    slot = asked_of(last.tool, asked, found)
    assert slot is not None and (slot.low_mm, slot.high_mm) == (asked.limits.lower_mm, asked.limits.upper_mm)
    drills = [o for o in found.operations if o.kind == "drill"]
    assert slot.previous_mm == (drills[-2].diameter_mm if len(drills) > 1 else 0.0)


def test_the_drill_under_a_reamer_leaves_it_stock() -> None:
    # rules of record: 0.6 times the least to 1.5 times the most of the reamer table; 18 mm: 0.2 to 0.3
    asked = hole("18 mm", "sized", "H7")
    found = route(asked)
    cuts = [o for o in found.operations if o.kind in ("drill", "ream")]
    assert cuts[-1].kind == "ream" and cuts[-2].tool is not None
    slot = asked_of(cuts[-2].tool, asked, found)
    assert slot is not None
    assert (slot.low_mm, slot.high_mm) == (pytest.approx(18 - 0.45), pytest.approx(18 - 0.12))
    assert "for the reamer" in slot.words


def test_pilots_and_strangers_are_asked_nothing() -> None:
    asked = hole("18 mm", "sized", "H7")
    found = route(asked)
    drills = [o.tool for o in found.operations if o.kind == "drill" and o.tool is not None]
    assert len(drills) > 1 and asked_of(drills[0], asked, found) is None
    stranger = next(t for t in SHOP.of_kind("drill") if t.id not in {d.id for d in drills})
    assert asked_of(stranger, asked, found) is None


def test_a_long_lip_eats_the_reamers_stock() -> None:
    """A point 0.3 mm off leaves too little: the published case of a reamer that only rubs."""
    asked = hole("18 mm", "sized", "H7")
    found = route(asked)
    drill = [o.tool for o in found.operations if o.kind == "drill" and o.tool is not None][-1]
    slot = asked_of(drill, asked, found)
    assert slot is not None

    def say(mm: float) -> str:
        return f"{mm:.3f}"

    even = judge(drill, Point(lip_a=9.0, lip_b=9.0), slot, say)
    off = judge(drill, Point(lip_a=9.6, lip_b=9.0), slot, say)
    assert even.level == "fit" and even.chance > 0.95
    assert off.level == "rough" and off.chance < even.chance
    assert off.after.mean_mm == pytest.approx(even.after.mean_mm)


def with_point(designation: str, point: Point) -> HolePlan:
    """A 16 mm hole to plus 0.3 on the mill where one drill of the crib has had its point read."""
    tools = [
        replace(t, point=point) if t.kind == "drill" and t.designation == designation else t for t in SHOP.tools
    ]
    shop = Shop("read", SHOP.machines, [t for t in tools if t.kind != "reamer"], SHOP.gauges)
    asked = hole("16 mm", "plain", pair=("16 mm", "16.3 mm"))
    return plan_hole(asked, shop, shop.machine("knee_mill"), material("medium_carbon_steel"))


def drills_of(plan: HolePlan) -> list[Operation]:
    return [o for o in plan.routes[0].operations if o.kind == "drill"]


def test_a_thick_web_asks_for_a_larger_pilot_and_a_harder_push() -> None:
    usual, thick = (drills_of(with_point("16 mm", Point(web=web))) for web in (0.155 * 16, 0.4 * 16))
    assert usual[-1].diameter_mm == thick[-1].diameter_mm == 16
    assert (thick[-2].diameter_mm or 0) > 1.15 * 0.4 * 16 - 1e-9  # rules of record 3: the chisel edge in air
    assert len(usual) < len(thick)  # an ordinary point of that size goes through in one here
    assert any("web 6.40 mm" in said for said in thick[-1].because)
    one = [next(t for t in SHOP.of_kind("drill") if t.designation == "16 mm" and not t.split_point)] * 2
    thin, wide = (replace(t, point=Point(web=w)).chisel_mm for t, w in zip(one, (2.0, 6.0), strict=True))
    assert wide == pytest.approx(3 * thin)


def test_uneven_lips_and_wear_lower_the_chance_of_that_very_drill() -> None:
    good, uneven = (with_point("16 mm", Point(lip_a=9.0, lip_b=b)) for b in (9.0, 8.4))
    assert [o.diameter_mm for o in drills_of(good)] == [16.0] and good.routes[0].chance_all is not None
    cuts = drills_of(uneven)
    assert len(cuts) == 2 and cuts[-1].diameter_mm == 16  # a pilot takes most of what its lips would add
    assert any("lips 0.60" in said for said in cuts[-1].because)
    worn = with_point("16 mm", Point(lip_a=9.0, lip_b=9.0, wear=0.3))
    assert drills_of(worn)[-1].diameter_mm != 16 or (worn.routes[0].chance_all or 0) <= good.routes[0].chance_all


@pytest.mark.parametrize("point", [Point(relief_a=0.0), Point(chips="margin"), Point(wear=0.5)])
def test_a_drill_not_to_be_used_is_in_no_plan(point: Point) -> None:
    # common practice: no relief, a chipped margin or corners worn out
    plan = with_point("16 mm", point)
    used = {o.tool.designation for r in plan.routes for o in r.operations if o.tool is not None}
    assert "16 mm" not in used
