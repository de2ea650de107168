"""Every route keeps the rules of record, or the hole is refused with a reason."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Any

import pytest

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.choices import tools_for
from cordwainer.core.planning.plan import gathered, plan_hole
from cordwainer.core.planning.search.fronts import beats
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import materials
from cordwainer.files import job as job_files
from cordwainer.files.sequence import operation_entry, read_wishes
from tests.core.planning.rule_check import Checker
from tests.jobs import hole, job_data

METRIC = ("3", "4.2", "5", "6", "8", "9.3", "12", "14", "16", "18", "20", "22", "25", "28", "30", "36", "40", "60")
INCH = ("1/8", "3/16", "9/32", "5/16", "3/8", "7/16", "9/16", "5/8", "11/16", "3/4", "7/8", "1", "1-1/4", "2-1/4")
MATERIALS = sorted(materials())[::2]
GRADES = (None, "H6", "H7", "H8", "H9", "H10", "H11", "H12", "+0.04/-0 mm", "±0.06 mm")
THREADS = (
    "M4x0.7",
    "M6x1",
    "M8x1.25",
    "M12x1.75",
    "M16x1.5",
    "5/16-18 UNC",
    "3/8-24 UNF",
    "#10-32 UNF",
    "5/8-11 UNC",
)
KINDS = (
    "tapped",
    "counterbored",
    "countersunk",
    "spotfaced",
    "flat_bottom",
    "taper_pin",
    "center_hole",
    "existing",
)


def plain_or_sized(draw: random.Random) -> dict[str, Any]:
    """A plain or toleranced hole as a job file has it."""
    if draw.random() < 0.5:
        size, tolerance = f"{draw.choice(METRIC)} mm", draw.choice(GRADES)
    else:
        size = f"{draw.choice(INCH)} in"
        tolerance = draw.choice([None, "+.0010/-0 in", "±.0020 in", "+.0040/-0 in", "±.0060 in"])
    found: dict[str, Any] = {"diameter": size, "kind": "sized" if tolerance else "plain"}
    return found | ({"tolerance": tolerance} if tolerance else {})


def drawn(draw: random.Random, kind: str | None = None) -> dict[str, Any]:
    """A hole of any kind as a job file has it."""
    found = plain_or_sized(draw)
    through = draw.random() < 0.5
    deep = round(draw.uniform(0.6, 6) * hole(found["diameter"], None, "1 mm").nominal_mm, 1)
    found |= {"id": "A", "through": through, "depth": f"{deep} mm"}
    if draw.random() < 0.15:
        found["entry"] = draw.choice(["pip", "sawn", "cast", "sloped", "curved"])
    if draw.random() < 0.2:
        found["position_tolerance"] = draw.choice(["0.03 mm", "0.1 mm", "0.3 mm"])
    mm = hole(found["diameter"], None, "1 mm").nominal_mm
    if kind == "existing":
        found["existing_hole"] = f"{round(mm * draw.uniform(0.3, 0.99), 2)} mm"
    elif kind == "tapped":
        found = {"id": "A", "kind": kind, "thread": draw.choice(THREADS), "depth": f"{draw.randint(8, 40)} mm"}
        found["through"] = through
    elif kind == "counterbored":
        found = {"id": "A", "kind": kind, "thread": "M8", "diameter": "9 mm", "depth": "25 mm", "through": True}
    elif kind == "countersunk":
        found |= {"kind": kind, "countersink_diameter": f"{round(1.8 * mm, 1)} mm"}
    elif kind == "spotfaced":
        found |= {"kind": kind, "counterbore_diameter": f"{round(2 * mm)} mm", "diameter": f"{round(mm)} mm"}
    elif kind == "flat_bottom":
        found |= {"kind": kind, "through": False}
    elif kind == "taper_pin":
        size, deep_in = draw.choice(
            [("5", "25 mm"), ("8", "40 mm"), ("#4", "1 in"), ("#7", "1-1/2 in"), ("3", "20 mm")]
        )
        found = {"id": "A", "kind": kind, "size": size, "depth": deep_in, "through": True}
    elif kind == "center_hole":
        center, size = draw.choice([("A", "2.5"), ("B", "3.15"), ("R", "4.0"), ("plain", "#4"), ("bell", "#13")])
        found = {"id": "A", "kind": kind, "center_type": center, "size": size}
    if not found.get("through") and draw.random() < 0.4 and "depth" in found and kind != "center_hole":
        found["part_thickness"] = f"{hole('5 mm', None, found['depth']).depth_mm + draw.uniform(2, 30):.1f} mm"
    return found


def asked(entry: dict[str, Any]) -> Hole:
    """The hole of an entry."""
    return job_files.from_data(job_data(entry)).holes[0]


@pytest.mark.parametrize("seed", range(20))
def test_routes_keep_the_rules(seed: int) -> None:
    draw = random.Random(seed)
    planned = 0
    for number in range(12):
        shop = built_in(draw.choice(["catalog", "catalog", "demo"]))
        machine, material = draw.choice(shop.machines), materials()[draw.choice(MATERIALS)]
        entry = drawn(draw, draw.choice(KINDS) if number % 2 else None)
        wanted = asked(entry)
        practice = Practice(
            pilot=draw.choice(["by_size", "straight", "steps"]), start=draw.choice(["by_machine", "spot_drill"])
        )
        plan = plan_hole(wanted, shop, machine, material, practice, samples=400)
        assert plan.routes or plan.why_not, entry
        for route in plan.routes:
            planned += 1
            broken = Checker(wanted, route, shop, machine, material).run()
            assert not broken, (entry, machine.id, material.id, route.label, broken)
            assert all(o.because for o in route.operations), (entry, [o.kind for o in route.operations])
            assert all(o.workings for o in route.operations if o.rpm or o.kind == "tap"), entry
        assert not any(beats(a, b) for a in plan.routes for b in plan.routes), entry
    assert planned > 3


def test_the_checker_sees_a_broken_plan() -> None:
    shop = built_in("catalog")
    machine, material = shop.machine("toolroom_lathe"), materials()["medium_carbon_steel"]
    asked = hole("18 mm", "H7", "24 mm")
    route = plan_hole(asked, shop, machine, material).routes[0]

    def breaches(of: str, **change: object) -> list[str]:
        index = max(i for i, o in enumerate(route.operations) if o.kind == of)
        ops = list(route.operations)
        ops[index] = replace(ops[index], **change)
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
        ("16 mm", "H6", "20 mm", "drill_press", {}, "cannot bore: its spindle is not made for side load"),
        ("16 mm", "H7", "20 mm", "drill_press", {"position_tolerance_mm": 0.03}, "cannot bore"),
        ("40 mm", "H7", "30 mm", "drill_press", {}, "MT4 shank is too big for the MT2 socket"),
        ("15.3 mm", "H7", "20 mm", "drill_press", {}, "no reamer in the crib lies inside 15.3 mm to 15.318 mm"),
        ("15.3 mm", "H7", "20 mm", "drill_press", {}, "drilling here would hold it in under 1 of 100"),
        ("12 mm", "H7", "155 mm", "bench_lathe", {}, "would be buried at 156.0 mm"),
        (
            "12 mm",
            "H7",
            "155 mm",
            "bench_lathe",
            {},
            "8 mm carbide boring bar: 159.0 mm out of its holder is 19.9",
        ),
        ("8 mm", "H7", "20 mm", "knee_mill", {"finish_ra_um": 0.2}, "honing"),
        ("12 mm", "H7", "20 mm", "knee_mill", {"existing_mm": 12.1}, "not smaller than the lower limit"),
        (
            "4 mm",
            "H8",
            "20 mm",
            "knee_mill",
            {"kind": "flat_bottom", "through": False},
            "to 4.018 mm and reaches 20.0 mm",
        ),
    ],
)
def test_refusals_tell_the_true_reason(
    size: str, tolerance: str, depth: str, machine: str, more: dict[str, object], words: str
) -> None:
    shop = built_in("catalog")
    asked = hole(size, tolerance, depth, **more)
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


@pytest.mark.parametrize("seed", range(10))
def test_a_plan_written_down_as_it_is_comes_back_as_it_was(seed: int) -> None:
    draw, catalog, seen = random.Random(500 + seed), built_in("catalog"), 0
    while seen < 3:
        machine, metal = draw.choice(catalog.machines), materials()[draw.choice(MATERIALS)]
        entry = drawn(draw, draw.choice([None, *KINDS]))
        wanted = asked(entry)
        for route in plan_hole(wanted, catalog, machine, metal, samples=300).routes[:1]:
            written = [operation_entry(o, ()) for o in route.operations]
            again = job_files.from_data(job_data(entry | {"sequence": written, "sequence_only": True}))
            wishes = read_wishes(again.file.holes[0].sequence, True, catalog)
            kept = plan_hole(wanted, catalog, machine, metal, wishes=wishes, samples=300).routes[0]
            assert [(o.kind, o.tool) for o in kept.operations] == [(o.kind, o.tool) for o in route.operations], (
                entry
            )
            assert kept.chance == pytest.approx(route.chance, abs=0.04) if route.chance is not None else True
            seen += 1


@pytest.mark.parametrize("seed", range(8))
def test_any_tool_of_the_crib_insisted_on_stays_in_the_sequence(seed: int) -> None:
    draw, catalog = random.Random(seed), built_in("catalog")
    machine, metal = draw.choice(catalog.machines), materials()[draw.choice(MATERIALS)]
    wanted = asked(drawn(draw, KINDS[seed]))
    for route in plan_hole(wanted, catalog, machine, metal, samples=200).routes[:1]:
        for o in route.operations:
            pool = tools_for(catalog, o, wanted)
            if o.tool is None or not pool or o.role in ("guide", "flat"):
                continue
            tool = draw.choice(pool)
            wish = Wish(o.kind, tool, diameter_mm=o.diameter_mm if o.kind == "bore" else None)
            kept = plan_hole(wanted, catalog, machine, metal, wishes=Wishes((wish,)), samples=200)
            assert kept.routes and any(k.tool == tool for k in kept.routes[0].operations), (wanted, tool.name)
