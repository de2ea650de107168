"""From a hole to its routes: the front door of planning."""

from __future__ import annotations

from dataclasses import replace

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.bench import Bench
from cordwainer.core.planning.breaks import broken
from cordwainer.core.planning.build import build
from cordwainer.core.planning.cuts import Rejected
from cordwainer.core.planning.finish import choose_process, fitting_reamers
from cordwainer.core.planning.insist import insisted_route
from cordwainer.core.planning.operation import HolePlan, Route
from cordwainer.core.planning.practice import Practice
from cordwainer.core.planning.search import AS_QUICK, HALF, WORTH, Chain, Search
from cordwainer.core.planning.wishes import FREE, START_KINDS, Wish, Wishes
from cordwainer.core.planning.words import say
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constants

BOUGHT = ("drill", "reamer", "center_drill", "spot_drill")
REASONS_SHOWN = 6
PLENTY = 0.9


def plan_hole(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice | None = None,
    hardness_bhn: float | None = None,
    wishes: Wishes = FREE,
    sold: Shop | None = None,
) -> HolePlan:
    """The routes to one hole with the tools of a shop, or why there is none.

    The first route is the recommended one, labelled ``balanced``; ``quickest`` and ``surest`` follow
    where they differ from it, then the best of other numbers of drills (``2_drills`` and the like).
    `wishes` are kept whatever they break, and what they break is said. `sold` is a shop of tools to be
    bought: where one of them makes a much better route that route is added, labelled ``to_get``.
    """
    bench = Bench(hole, shop, machine, material, practice or Practice(), hardness_bhn)
    if wishes.only:
        return HolePlan(hole, (_named(hole, insisted_route(bench, wishes)),))
    refused = _refused(hole) if not wishes.known else ()
    if refused:
        return HolePlan(hole, (), refused)
    wishes, left_out = _placeable(hole, wishes)
    routes, reasons = _routes(bench, wishes)
    if not routes and wishes.known:
        routes = (_as_kept(bench, wishes),)
    if left_out:
        routes = tuple(_with_note(route, left_out) for route in routes)
    if not routes:
        to_get = _to_get(bench, sold, wishes) if sold is not None else None
        return HolePlan(hole, (), gathered(reasons) or ("the crib has no drill for this hole",), to_get)
    if sold is not None:
        to_get = _to_get(bench, sold, wishes)
        if to_get is not None and _much_better(to_get, routes[0]):
            routes = (*routes, to_get)
    return HolePlan(hole, tuple(_named(hole, route) for route in routes))


def _placeable(hole: Hole, wishes: Wishes) -> tuple[Wishes, str]:
    """The wishes without drills that could only turn in air, and a word on those."""
    existing = hole.existing_mm or 0.0
    small = [t for t in wishes.drills() if t.diameter_mm <= existing + 1e-9]
    if not small:
        return wishes, ""
    names = ", ".join(t.name for t in small)
    kept = tuple(w for w in wishes.fixed if w.tool is None or w.kind != "drill" or w.tool not in small)
    return replace(wishes, fixed=kept), f"{names} would turn in the {say(existing, hole.unit)} hole already there"


def _as_kept(bench: Bench, wishes: Wishes) -> Route:
    """What is kept by hand, in order, where no sequence can be made around it: shown with all it breaks."""
    reamers = () if wishes.of("ream") else fitting_reamers(bench)[0][:1]
    kept = (
        *wishes.of("face", "end_mill", "punch"),
        *wishes.of(*START_KINDS),
        *sorted((w for w in wishes.of("drill") if w.tool), key=lambda w: w.tool.diameter_mm if w.tool else 0.0),
        *wishes.of("ream"),
        *(Wish("ream", tool) for tool in reamers),
        Wish("deburr"),
        Wish("measure"),
    )
    return insisted_route(bench, Wishes(kept, only=True))


def _with_note(route: Route, text: str) -> Route:
    first = route.operations[0]
    noted = replace(first, warnings=(*first.warnings, broken(text)))
    return replace(route, operations=(noted, *route.operations[1:]))


def _refused(hole: Hole) -> tuple[str, ...]:
    finisher = choose_process(hole)
    if not finisher.processes:
        return finisher.why_not
    if hole.existing_mm is not None and hole.existing_mm >= hole.limits.lower_mm:
        return (
            f"the hole already there, {say(hole.existing_mm, hole.unit)}, is not smaller than the "
            f"lower limit {say(hole.limits.lower_mm, hole.unit)}",
        )
    return ()


def gathered(reasons: list[str]) -> tuple[str, ...]:
    """Reasons with like ones told once: what stops several tools alike is said of the first.

    >>> gathered(["a: too big", "b: too big", "no reamer"])
    ('a and 1 more: too big', 'no reamer')
    """
    alike: dict[str, list[str]] = {}
    for reason in reasons:
        tool, joint, why = reason.partition(": ")
        alike.setdefault(why if joint else reason, []).append(tool if joint else "")
    found = []
    for why, tools in alike.items():
        more = f" and {len(tools) - 1} more" if len(tools) > 1 else ""
        found.append(f"{tools[0]}{more}: {why}" if tools[0] else why)
    if len(found) > REASONS_SHOWN:
        found = [*found[:REASONS_SHOWN], f"and {len(found) - REASONS_SHOWN} more reasons like these"]
    return tuple(found)


def _routes(
    bench: Bench, wishes: Wishes, extra: dict[str, float] | None = None
) -> tuple[tuple[Route, ...], list[str]]:
    """Routes by every finisher that may make the size, best first; and why not, where there is none."""
    search = Search(bench, wishes, extra or {})
    processes = choose_process(bench.hole).processes or ("ream", "drill")
    wanted = wishes.tool_of("ream")
    if wanted is not None:
        processes = ("ream",)
    elif wishes.known and any(t.diameter_mm >= bench.hole.limits.lower_mm for t in search.must):
        processes = ("drill",)
    chains: list[Chain] = []
    for process in processes:
        if chains and max(c.chance for c in chains) >= PLENTY:
            break
        found = _chains(search, process, wanted)
        if process != processes[0]:
            found = [c for c in found if c.ream is None or c.ream.missing_mm <= 1e-6]
        chains += found
    return _picked(search, chains), list(search.reasons)


def _chains(search: Search, process: str, wanted: Tool | None) -> list[Chain]:
    if process != "ream":
        return search.chains(search.drill_endings())
    if wanted is not None:
        return search.chains(search.ream_endings([wanted]))
    reamers, reasons = fitting_reamers(search.bench)
    if not reamers:
        search.reasons.update(dict.fromkeys(reasons))
    return search.chains(search.ream_endings(reamers))


def _picked(search: Search, chains: list[Chain]) -> tuple[Route, ...]:
    """Balanced, quickest and surest of the chains, and the best of other numbers of drills, built in full."""
    if not chains:
        return ()
    by_cost = sorted(chains, key=lambda c: c.cost)
    balanced = by_cost[0]
    most = max(c.chance for c in chains)
    likely = [c for c in chains if c.chance >= HALF * most]
    least = min(c.minutes for c in likely)
    quickest = min((c for c in likely if c.minutes <= least + AS_QUICK), key=lambda c: c.cost)
    surest = min(chains, key=lambda c: (-round(c.chance, 3), c.cost))
    wanted = [("balanced", balanced)]
    if quickest.minutes < balanced.minutes - 0.05:
        wanted.append(("quickest", quickest))
    if surest.chance > balanced.chance + 0.0015 and surest is not quickest:
        wanted.append(("surest", surest))
    kinds = {(len(chain.drills), chain.ream is None) for _, chain in wanted}
    for chain in by_cost:
        number = len(chain.drills)
        near = abs(number - len(balanced.drills)) == 1 and chain.cost < balanced.cost + WORTH
        if near and (number, chain.ream is None) not in kinds:
            kinds.add((number, chain.ream is None))
            wanted.append((f"{number}_drill{'s' if number > 1 else ''}", chain))
    routes = []
    for label, chain in wanted:
        try:
            routes.append(replace(build(search.bench, chain, search.wishes), label=label))
        except Rejected as why:
            search.reasons.setdefault(str(why))
    if routes and routes[0].label != "balanced":
        routes[0] = replace(routes[0], label="balanced")
    return tuple(routes)


def _to_get(bench: Bench, sold: Shop, wishes: Wishes) -> Route | None:
    """The best route with tools to be bought, each priced; None where it needs none or there is none."""
    more = tuple(t for kind in BOUGHT for t in sold.of_kind(kind) if not bench.shop.has(t))
    price = constants("screen_prices")["to_get"]
    widened = replace(bench, shop=replace(bench.shop, tools=(*bench.shop.tools, *more)))
    routes, _ = _routes(widened, wishes, {tool.id: price for tool in more})
    if not routes:
        return None
    missing = tuple(o.tool.name for o in routes[0].operations if o.tool is not None and not bench.shop.has(o.tool))
    if not missing:
        return None
    return replace(routes[0], label="to_get", missing_tools=missing, cost=routes[0].cost - price * len(missing))


def _much_better(route: Route, than: Route) -> bool:
    """Whether a route with tools to get is worth showing beside one with the crib's own."""
    return route.cost < than.cost - constants("screen_prices")["to_get"] * len(route.missing_tools) / 2


def _named(hole: Hole, route: Route) -> Route:
    """The route with its warnings knowing hole, route and operation."""
    operations = tuple(
        replace(
            operation,
            warnings=tuple(
                replace(w, hole=hole.id, route=route.label, operation=index) for w in operation.warnings
            ),
        )
        for index, operation in enumerate(route.operations)
    )
    return replace(route, operations=operations)
