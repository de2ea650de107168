"""A plan that is not likely to come out right says so: how likely, what spoils it, what would raise it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.doubt import UNLIKELY
from cordwainer.core.planning.search.fronts import chance_of, way_of
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.finish import elsewhere
from cordwainer.core.planning.words.operation import Operation, PlanWarning, Route
from cordwainer.core.planning.words.sentences import chance_words, say
from cordwainer.core.tables import constant

LIFTS = 0.05
OFF = tr("off its place")
WAYS = {
    "drill": tr("drilled"),
    "core": tr("core drilled"),
    "ream": tr("reamed"),
    "bore": tr("bored"),
    "bore_ream": tr("bored and reamed"),
    "mill": tr("milled"),
}


def doubted(bench: Bench, route: Route, others: Sequence[Route], to_get: Route | None) -> Route:
    """The recommended route, warned of as ``unlikely`` under 80 in 100 (rules of record 13)."""
    if route.chance_all is None or chance_of(route) >= constant("chance_unlikely"):
        return route
    said = PlanWarning(UNLIKELY, _words(bench, route, others, to_get), numbers={"chance": chance_of(route)})
    at = max((i for i, o in enumerate(route.operations) if _sizes(o)), default=0)
    told = replace(route.operations[at], warnings=(said, *route.operations[at].warnings))
    return replace(route, operations=(*route.operations[:at], told, *route.operations[at + 1 :]))


def _sizes(operation: Operation) -> bool:
    return operation.sizes_hole or (operation.kind == "end_mill" and operation.role is None)


def _words(bench: Bench, route: Route, others: Sequence[Route], to_get: Route | None) -> str:
    wrong = [f"{chance_words(share)} {words}" for words, share in route.misses if share >= 0.01]
    spoils = f": {', '.join(wrong)}" if wrong else ""
    rough = chance_words(chance_of(route))
    found = [
        tr(
            "{rough} in 100 come out right{spoils}.",
            rough=sentence(rough) if " " in rough else tr("About {rough}", rough=rough),
            spoils=spoils,
        )
    ]
    better = [r for r in others if chance_of(r) >= chance_of(route) + LIFTS]
    if better:
        best = max(better, key=chance_of)
        found.append(
            tr(
                "{way_of} it would be {chance_of} in {minutes:.0f} min.",
                way_of=sentence(WAYS.get(way_of(best), "another way")),
                chance_of=chance_words(chance_of(best)),
                minutes=best.minutes,
            )
        )
    if to_get is not None and chance_of(to_get) >= chance_of(route) + LIFTS:
        tools = tr(" and ").join(to_get.missing_tools)
        found.append(
            tr(
                "With the {tools} to get it would be {chance_of}.",
                tools=tools,
                chance_of=chance_words(chance_of(to_get)),
            )
        )
    found.append(_check(bench, route))
    if len(found) == 2 and route.misses and route.misses[0][0] == OFF:
        found.append(tr("A mill set by its readouts, or a guide bushing over the work, would hold the place."))
    elif len(found) == 2:
        found.append(tr("{elsewhere} would hold it.", elsewhere=sentence(elsewhere(bench.hole))))
    return " ".join(found)


def _check(bench: Bench, route: Route) -> str:
    """A check before the cut that would raise the chance, by what spoils it most. Source: common practice."""
    worst = route.misses[0][0] if route.misses else ""
    unit, limits = bench.hole.unit, bench.hole.limits
    if worst == OFF:
        return tr("Check the start before drilling on: its mark under the indicator, moved over if it is off.")
    reamed = [o for o in route.operations if o.kind == "ream" and o.stock_mm is not None]
    if reamed and worst == tr("too large"):
        return tr(
            "Ream a scrap of the same metal first and measure it: cutting over or out of line shows there, before "
            "the part."
        )
    if route.finisher in ("bore", "bore_ream"):
        return tr("Measure before the last pass and set by what is left; let it cool first.")
    if worst == tr("too large"):
        over = say(limits.upper_mm, unit)
        return tr("Drill a scrap of the same metal first: over {over} take the next smaller drill.", over=over)
    return tr("Drill a scrap of the same metal first and measure it.")
