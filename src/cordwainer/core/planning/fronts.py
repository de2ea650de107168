"""Which of many routes are worth showing: none of them beaten by another in both minutes and chance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from cordwainer.core.planning.operation import Route
from cordwainer.core.planning.search import AS_QUICK, HALF

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


def chosen(usual: Sequence[Route], finer: Sequence[Route] = ()) -> tuple[Route, ...]:
    """The recommended route first, labelled ``balanced``, then ``quickest``, ``surest`` and a few others.

    Balanced is the cheapest: minutes, what the practice would avoid, and the chance of a miss. Routes that beat it
    only by what the practice avoids are left out; they are the other schools' (`effects`). `finer` are routes by a
    finer process than the tolerance asks for: one is recommended only where none of the `usual` is an even chance.
    """
    routes = [*usual, *finer]
    if not routes:
        return ()
    fair = [r for r in usual if chance_of(r) >= HALF] or routes
    balanced = min(fair, key=lambda r: (r.cost, r.minutes))
    pool = [r for r in routes if r is balanced or not beats(r, balanced)]
    most = max(chance_of(r) for r in pool)
    kept = [r for r in front(pool) if chance_of(r) >= HALF * most or r is balanced]
    kept = _apart(kept, balanced)
    found = [replace(balanced, label="balanced")]
    rest = [r for r in kept if r is not balanced]
    quickest = min(rest, key=lambda r: (r.minutes > kept[0].minutes + AS_QUICK, r.cost), default=None)
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


def _apart(routes: list[Route], balanced: Route) -> list[Route]:
    """Routes without those that are next to the same as another one kept."""
    found = [balanced]
    for route in sorted(routes, key=lambda r: r.cost):
        alike = any(
            abs(route.minutes - o.minutes) < ALIKE_MINUTES and abs(chance_of(route) - chance_of(o)) < ALIKE_CHANCE
            for o in found
        )
        if route is not balanced and not alike:
            found.append(route)
    return sorted(found, key=lambda r: r.minutes)


def _name(route: Route, named: Sequence[Route]) -> str:
    """What another route is called: by its finisher where that is new, else by its number of drills."""
    used = {r.label for r in named}
    name = NAMES.get(route.finisher, route.finisher)
    if all(r.finisher != route.finisher for r in named) and name not in used:
        return name
    drills = sum(o.kind in ("drill", "core_drill", "spade_drill") and o.role is None for o in route.operations)
    name = f"{drills}_drill{'s' if drills != 1 else ''}"
    count = 2
    while name in used:
        name = f"another_{count}"
        count += 1
    return name
