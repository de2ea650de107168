"""What a plan may cost, counted instead of timed: models run, lengths made, tools looked at."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from cordwainer.core.formation.simulate import Model
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning import plan as planner
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps import cuts
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.makers import twist_drill
from cordwainer.core.shop.material import material
from cordwainer.core.shop.shop import Shop

CATALOG = built_in("catalog")


def counted(monkeypatch: pytest.MonkeyPatch, found: Counter[str], of: Any, name: str) -> None:
    """Count the calls of something."""
    own: Callable[..., Any] = getattr(of, name)

    def call(*args: Any, **named: Any) -> Any:
        found[name] += 1
        return own(*args, **named)

    monkeypatch.setattr(of, name, call)


def plan(shop: Shop, size: str = "22 mm", depth: str = "32 mm") -> HolePlan:
    """A reamed hole on the toolroom lathe."""
    d = parse(size)
    hole = Hole("A", "sized", d, parse(depth), True, limits_of(d, "H7", None, ""))
    return plan_hole(hole, shop, shop.machine("toolroom_lathe"), material("medium_carbon_steel"))


def grown(tools: int) -> Shop:
    """The catalog with many more drills, a hundredth of a millimeter apart."""
    more = [
        replace(twist_drill(Length(Fraction(1500 + (k * 37) % 30_000, 1000), "")), id=f"more {k}")
        for k in range(tools)
    ]
    return Shop("grown", CATALOG.machines, [*CATALOG.tools, *more], CATALOG.gauges)


def test_a_plan_runs_few_models_and_makes_few_lengths(monkeypatch: pytest.MonkeyPatch) -> None:
    plan(CATALOG)  # tables and tools are made once
    found: Counter[str] = Counter()
    counted(monkeypatch, found, Model, "run")
    counted(monkeypatch, found, Length, "__post_init__")
    counted(monkeypatch, found, planner, "build")
    assert plan(CATALOG, depth="33.17 mm").routes
    assert found["run"] <= 12 and found["build"] <= 16 and 0 < found["__post_init__"] <= 40


def test_ten_times_the_tools_are_hardly_more_work(monkeypatch: pytest.MonkeyPatch) -> None:
    counts = []
    for shop in (grown(1_800), grown(18_000)):
        plan(shop)
        found: Counter[str] = Counter()
        with monkeypatch.context() as inside:
            counted(inside, found, cuts, "_bit")
            counted(inside, found, Bench, "holding")
            counted(inside, found, Bench, "price")
            assert plan(shop, depth="33 mm").routes
        counts.append(found)
    few, many = counts
    assert many["_bit"] <= 1.5 * few["_bit"] and many["holding"] <= 1.5 * few["holding"] + 20
    assert many["price"] <= 3 * few["price"] + 500


def test_the_likely_route_is_told_before_any_model_runs(monkeypatch: pytest.MonkeyPatch) -> None:
    found: Counter[str] = Counter()
    counted(monkeypatch, found, Model, "run")
    d = parse("18 mm")
    hole = Hole("A", "sized", d, parse("32 mm"), True, limits_of(d, "H7", None, ""))
    told: list[tuple[HolePlan, int]] = []
    machine, steel = CATALOG.machine("bench_lathe"), material("medium_carbon_steel")
    whole = plan_hole(hole, CATALOG, machine, steel, told=lambda near: told.append((near, found["run"])))
    ((near, runs),) = told
    assert runs == 0 and near.routes[0].chance_all is None and near.routes[0].screen_chance > 0.8
    tools = [[o.tool for o in p.routes[0].operations] for p in (near, whole)]
    assert tools[0] == tools[1] and found["run"] > 0
