"""What a sequence asks of one of its drills' holes, and what becomes of a bad point in it."""

from __future__ import annotations

import pytest

from cordwainer.core.formation.point import Point
from cordwainer.core.formation.point_verdict import judge
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.operation import Route
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.point_slot import asked_of
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material

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
