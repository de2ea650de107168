"""Which of many routes are worth showing: none of them beaten by another in both minutes and chance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from cordwainer.core.planning.words.operation import Route
from cordwainer.core.planning.words.wishes import DRILLING
from cordwainer.core.tables import constant

HALF, AS_QUICK = 0.5, 0.2
ALIKE_MINUTES, ALIKE_CHANCE = 0.05, 0.004
SURER, OTHERS = 0.0015, 2
NAMES = {
    "drill": "drilled",
    "core_drill": "core_drilled",
    "ream": "reamed",
    "bore": "bored",
    "bore_ream": "bored_and_reamed",
    "end_mill": "milled",
}


def chance_of(route: Route) -> float:
    """The chance a route is ranked by: the model's where it has one, else the closed form's."""
    return route.chance_all if route.chance_all is not None else route.screen_chance


def beats(one: Route, other: Route) -> bool:
    """Whether a route is at least as quick and as sure as another, and one of the two outright."""
    quick, sure = one.minutes <= other.minutes, chance_of(one) >= chance_of(other)
    return quick and sure and (one.minutes < other.minutes or chance_of(one) > chance_of(other))


def front(routes: Sequence[Route]) -> list[Route]:
    """Routes no other beats, quickest first."""
    return sorted((r for r in routes if not any(beats(o, r) for o in routes)), key=lambda r: r.minutes)


def effort(route: Route) -> float:
    """What a route asks of the shop: its minutes and what the practice would avoid, in minutes."""
    return route.minutes + route.price


def way_of(route: Route) -> str:
    """The way a route makes its size, as the processes are named."""
    last = [o for o in route.operations if o.sizes_hole]
    if route.finisher == "drill" and last and last[-1].tool is not None and last[-1].tool.material == "carbide":
        return "core"
    return {"core_drill": "core", "end_mill": "mill"}.get(route.finisher, route.finisher)


def drills_in(route: Route) -> int:
    """How many drills a route takes, a guide not counted."""
    return sum(o.kind in DRILLING and o.role is None for o in route.operations)


def recommended(routes: Sequence[Route], usual: Sequence[str] = ()) -> Route:
    """The route to take: the least effort of those within 3 in 100 of the surest, or 97 in 100 and better.

    Whichever of the two lets more through. A way that is usual for the tolerance wins ties within 2 minutes.
    Source: rules of record 13.
    """
    near, sure = constant("chance_near"), constant("chance_sure")
    one_end = [r for r in routes if not r.both_ends]
    if max(map(chance_of, one_end), default=0.0) >= constant("chance_unlikely"):
        routes = one_end  # nobody turns the work round for a little more
    enough = min(max(map(chance_of, routes)) - near, sure)
    fair = [r for r in routes if chance_of(r) >= enough - constant("chance_error")]
    quickest = min(fair, key=_rank)
    tied = [r for r in fair if way_of(r) in usual and effort(r) <= effort(quickest) + constant("usual_wins_min")]
    return min(tied or [quickest], key=_rank)


def _rank(route: Route) -> tuple[float, float, float]:
    return (round(effort(route), 2), drills_in(route), -chance_of(route))


def chosen(routes: Sequence[Route], usual: Sequence[str] = ()) -> tuple[Route, ...]:
    """The recommended route first, labelled ``balanced``, then ``quickest``, ``surest`` and a few others.

    Routes that beat it only by what the practice avoids are left out; they are the other schools' (`effects`). So
    are those that differ from a shown one by a drill more that saves no time and lifts the chance by
    less than 3 in 100.
    """
    if not routes:
        return ()
    balanced = recommended(routes, usual)
    pool = [r for r in routes if r is balanced or not beats(r, balanced)]
    most = max(chance_of(r) for r in pool)
    kept = [r for r in front(pool) if chance_of(r) >= HALF * most or r is balanced]
    kept = _apart([r for r in kept if r is balanced or not _idle(r, kept)], balanced)
    found = [replace(balanced, label="balanced")]
    rest = [r for r in kept if r is not balanced]
    quickest = min(rest, key=lambda r: (r.minutes > kept[0].minutes + AS_QUICK, effort(r)), default=None)
    if quickest is not None and quickest.minutes < balanced.minutes:
        found.append(replace(quickest, label="quickest"))
        rest.remove(quickest)
    surest = max(rest, key=chance_of, default=None)
    if surest is not None and chance_of(surest) > chance_of(balanced) + SURER:
        found.append(replace(surest, label="surest"))
        rest.remove(surest)
    for route in sorted(rest, key=lambda r: r.cost)[:OTHERS]:
        found.append(replace(route, label=_name(route, found)))
    return tuple(found)


def _idle(route: Route, others: Sequence[Route]) -> bool:
    """Whether a route is another of its way with a drill more that earns nothing (rules of record 3)."""
    return any(
        drills_in(o) < drills_in(route)
        and way_of(o) == way_of(route)
        and o.minutes <= route.minutes
        and chance_of(route) < chance_of(o) + constant("chance_near")
        for o in others
    )


def _apart(routes: list[Route], balanced: Route) -> list[Route]:
    """Routes without those next to the same as another one kept, or no quicker by a reading and less sure."""
    found = [balanced]
    for route in sorted(routes, key=effort):
        alike = any(
            route.minutes > o.minutes - ALIKE_MINUTES and chance_of(route) < chance_of(o) + ALIKE_CHANCE
            for o in found
        )
        if route is not balanced and not alike:
            found.append(route)
    return sorted(found, key=lambda r: r.minutes)


def _name(route: Route, named: Sequence[Route]) -> str:
    """What another route is called: by its finisher where that is new, else by its number of drills."""
    used = {r.label for r in named}
    if route.both_ends and "both_ends" not in used:
        return "both_ends"
    name = NAMES.get(route.finisher, route.finisher)
    if all(r.finisher != route.finisher for r in named) and name not in used:
        return name
    drills = drills_in(route)
    name = f"{drills}_drill{'s' if drills != 1 else ''}"
    count = 2
    while name in used:
        name = f"another_{count}"
        count += 1
    return name
