"""A hole spoken of in the other unit: the same tools, speeds and chances, every sentence in that unit."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from tests.jobs import hole

SHOP = built_in("catalog")
HOLES = {
    "reamed": hole("18 mm", "H7", "32 mm"),
    "inch": hole("0.4375 in", "+.0012/-.0000 in", "1 in", through=False),
    "plain": hole("8.5 mm", None, "40 mm"),
    "wide": hole("1.5 in", "+.005/-.005 in", "2 in"),
    "flat": hole("12 mm", None, "14 mm", through=False, kind="flat_bottom"),
}
# A name of a tool stands as it is stamped; figures of the plan do not.
STAMPED = re.compile(r"\b[\d./-]+ (?:mm|in)\b(?= (?:drill|bar|reamer|end mill|boring|H7|spot|pushes|would|long))")


def planned(asked: Hole, machine: str) -> HolePlan:
    """Its plan."""
    return plan_hole(asked, SHOP, SHOP.machine(machine), material("medium_carbon_steel"))


def steps(plan: HolePlan) -> list[list[tuple[object, ...]]]:
    """What every route of a plan does."""
    return [[(o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm) for o in r.operations] for r in plan.routes]


@pytest.mark.parametrize("name", HOLES)
@pytest.mark.parametrize("machine", ["bench_lathe", "knee_mill"])
def test_the_plan_is_the_same_and_speaks_the_unit_shown(name: str, machine: str) -> None:
    asked = HOLES[name]
    other = "in" if asked.unit == "mm" else "mm"
    own, shown = planned(asked, machine), planned(replace(asked, shown_in=other), machine)
    assert [
        [(o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm) for o in r.operations] for r in own.routes
    ] == [[(o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm) for o in r.operations] for r in shown.routes]
    foreign = re.compile(r"\d mm\b|µm" if other == "in" else r"\d in\b(?! 100)|\bthou\b")
    for route in shown.routes[:1]:
        for operation in route.operations:
            for text in (*operation.because, *operation.spoils):
                assert not foreign.search(STAMPED.sub("", text)), text
