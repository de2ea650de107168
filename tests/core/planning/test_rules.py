"""Every route keeps the rules of record, or the hole is refused with a reason."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest

from cordwainer.core.planning.plan import gathered, plan_hole
from cordwainer.core.planning.practice import Practice
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import materials
from tests.core.planning.rule_check import Checker
from tests.jobs import hole

METRIC = ("3", "4.2", "5", "6", "8", "9.3", "12", "14", "16", "18", "20", "22", "25", "28", "30", "36", "40")
INCH = ("1/8", "3/16", "9/32", "5/16", "3/8", "7/16", "9/16", "5/8", "11/16", "3/4", "7/8", "1", "1-1/4", "1-1/2")
MATERIALS = sorted(materials())[::2]


@pytest.mark.parametrize("seed", range(12))
def test_routes_keep_the_rules(seed: int) -> None:
    draw = random.Random(seed)
    planned = 0
    for _ in range(16):
        shop = built_in(draw.choice(["catalog", "catalog", "demo"]))
        machine, material = draw.choice(shop.machines), materials()[draw.choice(MATERIALS)]
        if draw.random() < 0.5:
            size = f"{draw.choice(METRIC)} mm"
            tolerance = draw.choice([None, "H7", "H8", "H9", "H10", "H11", "H12", "+0.04/-0 mm", "±0.06 mm"])
        else:
            size = f"{draw.choice(INCH)} in"
            tolerance = draw.choice([None, "+.0010/-0 in", "±.0020 in", "+.0040/-0 in", "±.0060 in"])
        through = draw.random() < 0.5
        deep = round(draw.uniform(0.6, 6) * hole(size, None, "1 mm").nominal_mm, 1)
        more: dict[str, object] = {}
        if not through and draw.random() < 0.5:
            more["part_thickness_mm"] = deep + draw.uniform(2, 30)
        if draw.random() < 0.15:
            more["entry"] = draw.choice(["pip", "sawn", "cast", "sloped", "curved"])
        if draw.random() < 0.2:
            more["position_tolerance_mm"] = draw.choice([0.1, 0.3])
        asked = hole(size, tolerance, f"{deep} mm", through, **more)
        practice = Practice(
            pilot=draw.choice(["by_size", "straight", "steps"]), start=draw.choice(["by_machine", "spot_drill"])
        )
        plan = plan_hole(asked, shop, machine, material, practice)
        assert plan.routes or plan.why_not
        for route in plan.routes:
            planned += 1
            broken = Checker(asked, route, shop, machine, material).run()
            assert not broken, (size, tolerance, deep, through, machine.id, material.id, route.label, broken)
    assert planned > 4


def test_the_checker_sees_a_broken_plan() -> None:
    shop = built_in("catalog")
    machine, material = shop.machine("toolroom_lathe"), materials()["medium_carbon_steel"]
    asked = hole("18 mm", "H7", "24 mm")
    route = plan_hole(asked, shop, machine, material).routes[0]

    def breaches(of: str, **change: object) -> list[str]:
        index = max(i for i, o in enumerate(route.operations) if o.kind == of)
        ops = list(route.operations)
        ops[index] = replace(ops[index], **change)  # type: ignore[arg-type]
        return Checker(asked, replace(route, operations=tuple(ops)), shop, machine, material).run()

    assert not breaches("drill")
    assert breaches("ream", rpm=2000.0)
    assert breaches("ream", stock_mm=0.5)
    assert breaches("drill", depth_mm=24.0)
    assert breaches("drill", expected_mm=17.9)
    assert breaches("drill", feed_mm_per_rev=1.9)
    assert breaches("drill", breakthrough=None)
    assert breaches("drill", diameter_mm=18.5)
    assert breaches("center_drill", mouth_mm=19.0)
    assert breaches("measure", kind="deburr")


@pytest.mark.parametrize(
    ("size", "tolerance", "depth", "machine", "more", "words"),
    [
        ("16 mm", "H6", "20 mm", "knee_mill", {}, "fine boring"),
        ("16 mm", "H7", "20 mm", "knee_mill", {"position_tolerance_mm": 0.03}, "boring to place"),
        ("40 mm", "H7", "30 mm", "toolroom_lathe", {}, "MT4 shank is too big for the MT3 socket"),
        ("15.3 mm", "H7", "20 mm", "bench_lathe", {}, "no reamer in the crib lies inside 15.3 mm to 15.318 mm"),
        ("12 mm", "H7", "55 mm", "bench_lathe", {}, "tailstock ram has 52"),
        ("8 mm", "H7", "20 mm", "knee_mill", {"finish_ra_um": 0.2}, "honing"),
        ("12 mm", "H7", "20 mm", "knee_mill", {"existing_mm": 12.1}, "not smaller than the lower limit"),
        ("10 mm", "H7", "20 mm", "knee_mill", {"kind": "tapped"}, "cannot be planned yet"),
        ("20 mm", "H12", "20 mm", "knee_mill", {"through": False, "part_thickness_mm": 24}, "under the hole"),
    ],
)
def test_refusals_tell_the_true_reason(
    size: str, tolerance: str, depth: str, machine: str, more: dict[str, object], words: str
) -> None:
    shop = built_in("catalog")
    asked = hole(size, tolerance, depth, **more)  # type: ignore[arg-type]
    plan = plan_hole(asked, shop, shop.machine(machine), materials()["medium_carbon_steel"])
    assert not plan.routes
    assert words in " | ".join(plan.why_not)


def test_a_slow_press_cannot_drill_big_titanium() -> None:
    shop = built_in("catalog")
    plan = plan_hole(
        hole("16 mm", "H12", "10 mm"), shop, shop.machine("drill_press"), materials()["titanium_alloy"]
    )
    assert "480 rev/min" in " ".join(plan.why_not)


def test_alike_reasons_are_told_once() -> None:
    assert gathered([f"{n} mm drill: too big" for n in range(9)]) == ("0 mm drill and 8 more: too big",)
    assert len(gathered([f"reason {n}" for n in range(9)])) == 7
