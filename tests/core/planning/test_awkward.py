"""The far corners: tiny, deep, crossing, thin, opened, sloped and stacked holes keep the rules or say why not."""

from __future__ import annotations

import math
import random
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import materials
from cordwainer.files import job as job_files
from tests.core.planning.rule_check import Checker
from tests.core.planning.test_kinds import asked, best, kinds
from tests.jobs import job_data

METALS = sorted(materials())
CORNERS = ("micro", "deep", "cross", "thin_wall", "sheet", "existing", "entry", "stack", "part_way")


def corner(draw: random.Random, kind: str) -> dict[str, Any]:
    """One awkward hole as a job file has it."""
    mm = draw.choice([2.5, 3.3, 4.2, 5, 6, 6.8, 8, 9.5, 11, 12.5, 14, 18])
    found: dict[str, Any] = {"id": "A", "kind": "plain", "through": draw.random() < 0.6}
    if kind == "micro":
        mm = draw.choice([0.2, 0.25, 0.3, 0.4, 0.5, 0.65, 0.8, 0.95])
        found["depth"] = f"{mm * draw.uniform(1, 8):.2f} mm"
    elif kind == "deep":
        mm = draw.choice([2, 2.5, 3, 4, 5, 6, 8, 10])
        found["depth"] = f"{mm * draw.uniform(7, 15):.1f} mm"
    elif kind == "sheet":
        found |= {"through": True, "depth": f"{mm * draw.uniform(0.05, 0.3):.2f} mm"}
    else:
        found["depth"] = f"{mm * draw.uniform(1, 5):.1f} mm"
    if kind == "cross":
        found |= {"through": True, "exit": "cross_hole", "cross_diameter": f"{mm * draw.uniform(0.6, 3):.1f} mm"}
    elif kind == "thin_wall":
        found["wall"] = f"{mm * draw.uniform(0.05, 0.4):.2f} mm"
    elif kind == "existing":
        found["existing_hole"] = f"{mm * draw.uniform(0.2, 0.97):.2f} mm"
    elif kind == "entry":
        found["entry"] = draw.choice(["sloped", "curved", "cast", "sawn", "pip"])
        found |= {"slope_deg": draw.randint(2, 40)} if found["entry"] == "sloped" else {}
        found |= {"curve_radius": f"{2 * mm:.1f} mm"} if found["entry"] == "curved" else {}
    elif kind == "stack":
        found |= {"exit": draw.choice(["stack", "sloped"]), "through": True}
    if draw.random() < 0.4 and kind != "micro":
        found |= {"kind": "sized", "tolerance": draw.choice(["H7", "H8", "H9", "H11", "+0.08/-0 mm"])}
    return found | {"diameter": f"{mm:g} mm"}


@pytest.mark.parametrize("kind", CORNERS)
def test_every_route_keeps_the_rules_or_there_is_a_reason(kind: str) -> None:
    draw, planned = random.Random(f"corner {kind}"), 0
    for _ in range(22):
        shop = built_in(draw.choice(["catalog", "catalog", "demo"]))
        machine, metal = draw.choice(shop.machines), materials()[draw.choice(METALS)]
        entry = corner(draw, kind)
        wanted = asked(**entry)
        practice = Practice(pilot=draw.choice(["by_size", "steps"]) if kind != "part_way" else "part_way")
        plan = plan_hole(wanted, shop, machine, metal, practice, samples=300)
        assert plan.routes or plan.why_not, entry
        assert all(len(why) > 20 and any(c.isdigit() for c in why) for why in plan.why_not[:1]), plan.why_not
        for route in plan.routes:
            planned += 1
            broken = Checker(wanted, route, shop, machine, metal).run()
            assert not broken, (entry, machine.id, metal.id, route.label, broken)
    assert planned >= 6, f"only {planned} routes"


def corners_out_mm(d: float, cross: float, angles: int = 720) -> float:
    """How much later than its axis the last point of a drill's rim leaves the metal, found point by point."""
    turns = np.linspace(0, 2 * math.pi, angles)
    side = d / 2 * np.sin(turns)  # away from the cross hole's own axis
    wall = cross / 2 - np.sqrt(np.maximum((cross / 2) ** 2 - side**2, 0.0))
    return float(wall.max())


@given(st.floats(1.0, 20.0), st.floats(1.0, 4.0))
def test_corners_leave_a_cross_hole_when_the_last_point_of_the_rim_does(d: float, ratio: float) -> None:
    hole = asked(
        kind="plain",
        diameter=f"{d:.3f} mm",
        depth="20 mm",
        through=True,
        exit="cross_hole",
        cross_diameter=f"{ratio * d + 0.01:.3f} mm",
    )
    assert hole.cross_mm is not None
    assert hole.exit_sag_mm == pytest.approx(corners_out_mm(hole.nominal_mm, hole.cross_mm), abs=1e-3 * d)


def test_coming_into_a_cross_hole_is_slow_till_the_corners_are_out_and_the_far_wall_is_watched() -> None:
    given_ = {"kind": "plain", "diameter": "8 mm", "depth": "30 mm", "through": True, "exit": "cross_hole"}
    route = best(**given_, cross_diameter="12 mm")
    drill = next(o for o in route.operations if o.kind == "drill")
    slow, sag = drill.breakthrough, 6 - math.sqrt(36 - 16)  # arithmetic
    assert slow is not None and drill.readings is not None and drill.tool is not None
    assert slow.to_tip_mm == pytest.approx(30 + drill.tool.point_mm + sag)
    assert drill.depth_mm == pytest.approx(31 + sag) and slow.feed_mm_per_rev < (drill.feed_mm_per_rev or 0)
    # The reading at which the feed is halved: the touch reading and 29 mm of tip.
    assert drill.readings.slow_from == pytest.approx(drill.readings.start + 29 - drill.readings.start_tip_mm)
    assert any("finish that" in words and f"{sag:.2f} mm" in words for words in drill.because)
    deburr = next(o for o in route.operations if o.kind == "deburr")
    assert "where it meets the other hole" in deburr.because[0]
    assert not [w for w in route.warnings if w.id == "hits_far_wall"]
    tight = best(**given_ | {"diameter": "4 mm"}, cross_diameter="4 mm")
    hits = [w for w in tight.warnings if w.id == "hits_far_wall"]
    point = next(o.tool.point_mm for o in tight.operations if o.kind == "drill" and o.tool is not None)
    assert hits and hits[-1].numbers["over_mm"] == pytest.approx(1 + 2 + point - 4, abs=1e-6)  # arithmetic
    wide = next(o for o in best(**given_, cross_diameter="5 mm").operations if o.kind == "drill")
    assert any("never comes clear" in words for words in wide.because)


def test_below_half_a_millimeter_no_general_tolerance_is_there_and_it_is_said() -> None:
    tiny = {"id": "A", "kind": "plain", "diameter": "0.4 mm", "depth": "2 mm"}
    job = job_files.from_data(job_data(tiny))
    assert job.holes[0].limits.width_mm == pytest.approx(0.2)
    assert any("holes[0].tolerance" in words and "below 0.5 mm" in words for words in job.warnings)  # ISO 2768-1
    assert not job_files.from_data(job_data(tiny | {"diameter": "0.5 mm"})).warnings


def first_drill(**entry: Any) -> Operation:
    """The first drill of the recommended route."""
    return next(o for o in best(**entry).operations if o.kind == "drill")


def test_uneven_entries_are_made_flat_before_anything_starts() -> None:
    for entry in ({"entry": "sloped", "slope_deg": 20}, {"entry": "curved", "curve_radius": "12 mm"}):
        order = kinds(
            best(machine="knee_mill", kind="plain", diameter="10 mm", depth="20 mm", through=True, **entry)
        )
        assert order[0] in ("end_mill", "spotface") and order.index("drill") > 1
    crown = best(
        machine="knee_mill", kind="plain", diameter="10 mm", depth="20 mm", entry="curved", curve_radius="20 mm"
    )
    assert kinds(crown)[0] == "spot_drill"  # rules of record 32: on a shaft's crown a spot does
    flat = best(machine="drill_press", kind="plain", diameter="8 mm", depth="20 mm", entry="sloped", slope_deg=10)
    milled = next(o for o in flat.operations if o.kind == "end_mill")
    assert kinds(flat)[0] == "punch" and milled.depth_mm and milled.readings is not None and milled.diameter_mm
    for rough in ("cast", "sawn"):
        order = kinds(best(machine="knee_mill", kind="plain", diameter="10 mm", depth="20 mm", **{"entry": rough}))
        assert order[0] in ("face", "end_mill", "spotface")
    near = first_drill(kind="plain", diameter="9 mm", depth="20 mm", through=True, wall="1 mm")
    assert any(c.id == "thin_wall" for c in near.cautions)
    stacked = first_drill(kind="plain", diameter="9 mm", depth="20 mm", through=True, exit="stack")
    assert any("gap between them" in words for words in stacked.because)


def standing(under: dict[str, str], *places: tuple[float, float]) -> Hole:
    """A through hole at places on a 100 by 60 mm part over what lies under it."""
    entry = {
        "id": "A", "kind": "plain", "diameter": "8 mm", "depth": "20 mm", "through": True, "count": len(places),
        "places": [[f"{x} mm", f"{y} mm"] for x, y in places],
    }  # fmt: skip
    data = job_data(entry) | {"under": under, "part": {"width": "100 mm", "height": "60 mm"}}
    return job_files.from_data(data).holes[0]


def test_only_the_places_over_a_parallel_can_meet_it() -> None:
    under = {"what": "parallels", "gap": "2 mm", "thick": "8 mm", "inset": "2 mm"}
    assert standing(under, (50, 30)).under == ""  # between them: nothing below
    some = standing(under, (50, 30), (13, 30), (95, 10))
    assert some.under_places == (1, 2)
    shop = built_in("catalog")
    route = plan_hole(some, shop, shop.machine("knee_mill"), materials()["low_carbon_steel"]).routes[0]
    hit = next(w for w in route.warnings if w.id == "hits_below")
    assert "at number 2, 3" in hit.text and "shift the parallel" in hit.text
    turned = standing(under | {"sides": "lower_upper"}, (5, 30), (50, 5))
    assert turned.under_places == (1,)
    assert (
        standing({"what": "parallels", "gap": "2 mm"}, (50, 30)).under == "parallels"
    )  # not said where: anywhere
