"""The search against brute force, and the machinist's own wishes."""

from __future__ import annotations

import itertools
import json
import random
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from cordwainer.core.planning.build import build
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.search.rating import ream_speeds
from cordwainer.core.planning.search.search import Chain, Ending, Search
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.finish import fitting_reamers, stock_target
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constants
from cordwainer.files.plan import route_data
from tests.jobs import hole

PRICE, RULE = constants("screen_prices"), constants()


def screen(bench: Bench, route: Route, ending: Ending) -> float:
    """The screen's cost of a route, added up plainly from its operations."""
    drills = [o for o in route.operations if o.kind == "drill"]
    place = ending.places[len(drills) > 1]
    cost = (
        PRICE["second_choice"] * place + route.minutes + ending.price + PRICE["miss"] * (1 - route.screen_chance)
    )
    started = any(o.kind in ("center_drill", "spot_drill") for o in route.operations)
    cost += PRICE["self_started"] * (not started and bench.hole.existing_mm is None)
    for index, o in enumerate(drills):
        assert o.tool is not None and o.diameter_mm is not None
        warned = {w.id for w in o.warnings}
        cost += PRICE["flute_room"] * ("flute_room" in warned)
        cost += PRICE["too_fast"] * ("too_fast" in warned) + PRICE["other_unit"] * (o.tool.diameter.unit != "mm")
        long = {"long": 1.0, "extra_long_1": 1.4, "extra_long_2": 1.8}.get(o.tool.series, 0.0)
        cost += PRICE["long_series"] * long + PRICE["carbide"] * (o.tool.series == "carbide_self_centering")
        cost += PRICE["ring"] * (o.previous_mm > 0.7 * o.diameter_mm)  # a ring of less than 0.15 d a side
        if bench.practice.pilot == "straight":
            cost += PRICE["led_where_straight"] * (index > 0)
            continue
        steps = bench.practice.pilot == "steps"
        bold = steps and o.previous_mm <= 0 and o.diameter_mm > RULE["no_pilot_under_mm"]
        leap = steps and o.diameter_mm > PRICE["leap_from_mm"] and o.previous_mm < 0.4 * o.diameter_mm
        cost += PRICE["from_solid"] * bold + PRICE["leap"] * leap
    reamed = next((o for o in route.operations if o.kind == "ream"), None)
    if reamed is not None and reamed.stock_mm is not None:
        low, high = stock_target(bench.hole.nominal_mm, "mm")
        cost += PRICE["stock_outside"] * (not low - 1e-9 <= reamed.stock_mm <= high + 1e-9)
        cost += PRICE["same_lowest"] * any(w.id == "same_lowest_step" for w in reamed.warnings)
    return cost


def may_follow(small: Tool, big: Tool, depth_mm: float) -> bool:
    """Rules of record 3, written out."""
    if big.diameter_mm < 6 or small.diameter_mm < 1.5 or depth_mm > 12 * small.diameter_mm + 1e-9:
        return False
    chisel = (0.03 if big.split_point else 0.18) * big.diameter_mm
    ratio = small.diameter_mm / big.diameter_mm
    if small.diameter_mm < chisel:
        return False
    return small.diameter_mm <= 1.3 * chisel + 1e-9 or 0.4 - 1e-9 <= ratio <= 0.85 + 1e-9


def every_route(bench: Bench, process: str) -> list[tuple[Route, float]]:
    """Every sequence of a small crib that keeps rule 3, built in full, with its screen cost."""
    search, found = Search(bench), []
    ends = search.drill_endings() if process == "drill" else search.ream_endings(fitting_reamers(bench)[0])
    for end in ends:
        smaller = [t for t in search.drills if t.diameter_mm < end.last.diameter_mm - 1e-6]
        for count in range(len(smaller) + 1):
            for leads in itertools.combinations(smaller, count):
                tools = [*leads, end.last]
                depths = [*search.led_depths(list(leads), ends), end.last_depth_mm]
                pairs = itertools.pairwise(tools)
                if not all(may_follow(a, b, z) for (a, b), z in zip(pairs, depths, strict=False)):
                    continue
                finished = min(e.ream.tool.diameter_mm if e.ream else e.last.diameter_mm for e in ends)
                chain = Chain(tuple(zip(tools, depths, strict=True)), end.ream, 0, 0, 0, finished)
                try:
                    route = build(bench, chain)
                except Rejected:
                    continue
                last = [o for o in route.operations if o.kind == "drill"][-1].expected_mm or 0
                if end.ream is not None:
                    low, high = stock_target(bench.hole.nominal_mm, "mm")
                    stock = end.ream.tool.diameter_mm - last
                    fits = 0.6 * low - 1e-9 <= stock <= 1.5 * high + 1e-9
                else:
                    fits = bench.hole.limits.lower_mm <= last <= bench.hole.limits.upper_mm
                if fits:
                    found.append((route, screen(bench, route, end)))
    return found


@settings(max_examples=60)
@given(st.integers(0, 10**6))
@example(52606)
@example(1518)  # a pilot of exactly four tenths
def test_brute_force_finds_no_better_sequence(seed: int) -> None:
    draw = random.Random(seed)
    catalog = built_in("catalog")
    size = draw.choice([8, 12, 14, 16, 18, 20])
    tolerance = draw.choice(["H7", "H8", "H10", "H12", None])
    drills = [t for t in catalog.of_kind("drill") if 1.4 < t.diameter_mm < size + 0.3]
    near = [t for t in drills if size - 0.6 < t.diameter_mm <= size]
    crib = draw.sample(drills, 5) + draw.sample(near, 3)
    starts = [*catalog.of_kind("center_drill"), *catalog.of_kind("spot_drill")]
    reamers = [t for t in catalog.of_kind("reamer") if t.diameter_mm == size]
    shop = Shop("small", catalog.machines, (*dict.fromkeys(crib), *starts, *reamers), catalog.gauges)
    machine = draw.choice(catalog.machines)
    if draw.random() < 0.4:
        machine = replace(machine, power_kw=machine.power_kw * 0.4, thrust_n=machine.thrust_n * 0.5)
    through = draw.random() < 0.6
    asked = hole(f"{size} mm", tolerance, f"{draw.uniform(0.8, 2.5) * size:.1f} mm", through)
    practice = Practice(pilot=draw.choice(["by_size", "steps", "straight"]))
    steel = material(draw.choice(["medium_carbon_steel", "aluminum_wrought", "stainless_austenitic"]))
    bench = Bench(asked, shop, machine, steel, practice)
    for process in ("drill", "ream"):
        if process == "drill" and asked.grade < 11:
            continue
        every, search = every_route(bench, process), Search(bench)
        reamers = fitting_reamers(bench)[0]
        ends = search.ream_endings(reamers) if process == "ream" else search.drill_endings()
        chains = search.chains(ends)
        assert bool(chains) == bool(every)
        if not every:
            continue
        best = min(cost for _, cost in every)
        assert min(c.cost for c in chains) == pytest.approx(best, abs=1e-6), process
        surest = max(round(route.screen_chance, 3) for route, _ in every)
        assert max(round(c.chance, 3) for c in chains) >= surest - 0.0021
        likely = [r.minutes for r, _ in every if r.screen_chance >= 0.5 * max(r.screen_chance for r, _ in every)]
        assert min(c.minutes for c in chains) <= min(likely) + 0.25


def test_the_screen_is_the_route_built() -> None:
    asked, shop = hole("18 mm", "H7", "32 mm"), built_in("catalog")
    bench = Bench(asked, shop, shop.machine("bench_lathe"), material("medium_carbon_steel"), Practice())
    search = Search(bench)
    chains = search.chains(search.ream_endings(fitting_reamers(bench)[0]))
    assert len(chains) > 3
    for chain in chains:
        route = build(bench, chain)
        assert route.minutes == pytest.approx(chain.minutes) and route.screen_chance == pytest.approx(chain.chance)


def test_a_reamer_turns_slower() -> None:
    shop = built_in("catalog")
    bench = Bench(hole("18 mm", "H7", "32 mm"), shop, shop.machine("bench_lathe"), material("copper"), Practice())
    rpm, same = ream_speeds(bench, 330.0, np.array([500.0, 330.0, 130.0]))
    assert list(rpm) == [330, 210, 130] and list(same) == [0, 0, 1]


# -- wishes ------------------------------------------------------------------------------------


def planned(wishes: Wishes, **more: object) -> HolePlan:
    """18 H7 through 24 mm on the toolroom lathe, with wishes."""
    shop = built_in("catalog")
    asked = hole("18 mm", "H7", "24 mm", **more)
    machine = shop.machine("toolroom_lathe")
    return plan_hole(asked, shop, machine, material("medium_carbon_steel"), Practice(), wishes=wishes)


def tool(name: str, kind: str = "drill", series: str = "") -> Tool:
    """A tool of the catalog."""
    found = (t for t in built_in("catalog").of_kind(kind) if t.designation == name)
    return next(t for t in found if not series or t.series == series)


def said(operation: Operation) -> str:
    """What an operation breaks."""
    return " | ".join(w.text for w in operation.warnings if w.id == "broken_limit")


def sizes(route: Route) -> list[str]:
    """Designations of the tools in order."""
    return [o.tool.designation for o in route.operations if o.tool is not None]


def test_a_locked_drill_stays_and_the_rest_goes_around_it() -> None:
    free = planned(Wishes()).routes[0]
    locked = planned(Wishes((Wish("drill", tool("12 mm", series="jobber")),))).routes
    assert locked and all("12 mm" in sizes(route) for route in locked)
    assert "12 mm" not in sizes(free)
    step = next(o for o in locked[0].operations if o.tool and o.tool.designation == "12 mm")
    assert step.locked == ("diameter",) and not said(step)
    assert locked[0].operations[-3].kind == "ream"


def test_a_pilot_under_the_chisel_is_kept_and_said() -> None:
    route = planned(Wishes((Wish("drill", tool("2 mm", series="jobber")),))).routes[0]
    assert "2 mm" in sizes(route)
    after = next(o for o in route.operations if o.kind == "drill" and o.previous_mm == pytest.approx(2))
    assert "smaller than its" in said(after) or (after.diameter_mm or 0) * 0.18 <= 2


def test_a_step_the_motor_cannot_turn_is_kept_and_said() -> None:
    shop = built_in("catalog")
    feeble = replace(shop.machine("toolroom_lathe"), power_kw=0.05)
    wish = Wishes((Wish("drill", tool("17.7 mm"), rpm=1000.0, depth_mm=20.0),))
    found = plan_hole(hole("18 mm", "H7", "24 mm"), shop, feeble, material("medium_carbon_steel"), wishes=wish)
    assert found.routes
    odd = next(o for o in found.routes[0].operations if o.tool and o.tool.designation == "17.7 mm")
    assert odd.rpm == 1000 and odd.depth_mm == 20 and odd.locked == ("diameter", "rpm", "depth")
    assert "kW" in said(odd) and "over the" in said(odd) and "corners do not come out" in said(odd)


def test_an_undersize_drill_that_leaves_nothing_is_kept_and_said() -> None:
    found = planned(Wishes((Wish("drill", tool("17.9 mm")),)))
    reamed = next(o for o in found.routes[0].operations if o.kind == "ream")
    assert "too little to clean up" in said(reamed)
    over = planned(Wishes((Wish("drill", tool("18.5 mm")),))).routes[0]
    assert "over the upper limit" in said([o for o in over.operations if o.kind == "drill"][-1])


def test_a_sequence_taken_as_written_says_all_it_breaks() -> None:
    wishes = Wishes(
        (
            Wish("drill", tool("17.7 mm")),
            Wish("drill", tool("9 mm", series="jobber")),
            Wish("ream", tool("18 mm", "reamer", "straight")),
            Wish("measure"),
        ),
        only=True,
    )
    route = planned(wishes).routes[0]
    assert [o.kind for o in route.operations] == ["drill", "drill", "ream", "measure"]
    texts = " | ".join(said(o) for o in route.operations)
    for words in ("nothing starts it", "cuts nothing", "burr is still on"):
        assert words in texts
    lone = planned(Wishes((Wish("deburr"), Wish("measure")), only=True)).routes[0]
    assert lone.screen_chance == 0 and len(lone.operations) == 2


def test_a_start_and_a_reamer_may_be_chosen() -> None:
    chosen = tool("B 2.5", "center_drill"), tool("18 mm", "reamer", "spiral")
    route = planned(Wishes((Wish("center_drill", chosen[0]), Wish("ream", chosen[1])))).routes[0]
    assert route.operations[0].tool == chosen[0] and route.operations[0].kind == "center_drill"
    assert next(o for o in route.operations if o.kind == "ream").tool == chosen[1]


def test_tools_to_get_are_named_beside_the_cribs_own() -> None:
    demo, sold = built_in("demo"), built_in("catalog")
    steel = material("medium_carbon_steel")
    asked = hole("13 mm", "H7", "24 mm")
    none = plan_hole(asked, demo, demo.machine("drill_press"), steel, sold=sold)
    assert not none.routes and none.why_not and none.to_get is not None
    assert none.to_get.missing_tools and len(none.to_get.instead) == len(none.to_get.missing_tools)
    for entry in none.to_get.instead:
        if entry.nearest is not None:
            assert demo.has(entry.nearest) and entry.nearest.kind == entry.missing.kind
            assert entry.chance is not None and 0 <= entry.chance <= 1
    full = plan_hole(asked, sold, sold.machine("drill_press"), steel, sold=sold)
    assert full.routes and full.to_get is None and all(not r.missing_tools for r in full.routes)


def test_what_cannot_be_planned_around_is_shown_as_it_is() -> None:
    odd = Wishes(
        (Wish("drill", tool("12 mm", series="jobber")), Wish("ream", tool("3/16 in", "reamer", "straight")))
    )
    route = planned(odd).routes[0]
    assert [o.kind for o in route.operations] == ["drill", "ream", "deburr", "measure"]
    texts = " | ".join(said(o) for o in route.operations)
    assert "does not fit" in texts and "nothing to clean up" in texts and "nothing starts it" in texts
    twice = Wishes(
        (Wish("ream", tool("16 mm", "reamer", "straight")), Wish("ream", tool("18 mm", "reamer", "straight"))),
        only=True,
    )
    assert [o.kind for o in planned(twice).routes[0].operations] == ["ream", "ream"]


def test_a_kept_drill_smaller_than_the_hole_already_there_is_left_out_and_said() -> None:
    found = planned(Wishes((Wish("drill", tool("5 mm", series="jobber")),)), existing_mm=8.0)
    assert found.routes and "5 mm" not in sizes(found.routes[0])
    assert "would turn in the 8 mm hole" in said(found.routes[0].operations[0])


@settings(max_examples=40)
@given(st.integers(0, 10**6))
def test_any_wishes_give_a_route_that_can_be_written_down(seed: int) -> None:
    draw = random.Random(seed)
    catalog = built_in("catalog")
    size = draw.choice([6, 12, 18, 20])
    tools = [t for k in ("drill", "reamer") for t in catalog.of_kind(k) if 0.1 * size < t.diameter_mm < 1.2 * size]
    starts = [*catalog.of_kind("center_drill"), *catalog.of_kind("spot_drill")]

    def wish() -> Wish:
        chosen = draw.choice([draw.choice(tools), draw.choice(tools), draw.choice(starts), None])
        kind = "deburr" if chosen is None else {"reamer": "ream"}.get(chosen.kind, chosen.kind)
        rpm, depth = draw.choice([None, 77.0, 4000.0]), draw.choice([None, 0.5, 2.0 * size])
        return Wish(kind, chosen, rpm=rpm, depth_mm=depth)

    only = draw.random() < 0.5
    wishes = Wishes(tuple(wish() for _ in range(draw.randint(1, 4))), only=only)
    asked = hole(
        f"{size} mm", draw.choice(["H7", None]), f"{draw.uniform(0.5, 2) * size:.1f} mm", draw.random() < 0.6
    )
    shop = built_in(draw.choice(["demo", "catalog"]))
    plan = plan_hole(asked, shop, draw.choice(shop.machines), material("copper"), wishes=wishes)
    assert plan.routes or plan.why_not
    for route in plan.routes:
        json.dumps(route_data(route), allow_nan=False)
        ids = [o.tool.id for o in route.operations if o.tool is not None]
        if only:
            assert len(route.operations) == len(wishes.fixed)
            assert all(w.tool.id in ids for w in wishes.fixed if w.tool is not None)
