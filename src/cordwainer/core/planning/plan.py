"""From a hole to its routes: the front door of planning."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.formation.two_ends import TwoEnds
from cordwainer.core.language import tr, trn
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.build import build
from cordwainer.core.planning.centers import center_routes
from cordwainer.core.planning.doubting import doubted
from cordwainer.core.planning.insist import insisted_route
from cordwainer.core.planning.model.forward import model_of
from cordwainer.core.planning.model.scoring import RANKED, scored
from cordwainer.core.planning.search.fronts import HALF, chance_of, chosen, way_of
from cordwainer.core.planning.search.rating import WORTH
from cordwainer.core.planning.search.search import Chain, Search
from cordwainer.core.planning.steps.bench import Bench, bench_for
from cordwainer.core.planning.steps.both_ends import half_of, meeting_words, turned, worth_turning
from cordwainer.core.planning.steps.breaks import broken
from cordwainer.core.planning.steps.finish import Finisher, choose_process, elsewhere, fitting_reamers, within
from cordwainer.core.planning.steps.mouths import mouth_operations
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.steps.tapping import USUAL_PERCENT, table_drill, usual_drill, wanted_percent
from cordwainer.core.planning.steps.threads import tap_operations
from cordwainer.core.planning.tapers import pin_reamers, taper_routes
from cordwainer.core.planning.words.operation import HolePlan, Instead, Route
from cordwainer.core.planning.words.practice import USUAL, Practice
from cordwainer.core.planning.words.sentences import chance_words, say
from cordwainer.core.planning.words.wishes import DRILLING, FREE, START_KINDS, Wish, Wishes
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants

BOUGHT = (
    "drill",
    "core_drill",
    "reamer",
    "center_drill",
    "spot_drill",
    "boring_bar",
    "end_mill",
    "countersink",
    "counterbore",
    "tap",
    "taper_pin_reamer",
)
OWN_WAY: dict[str, Callable[[Bench, Wishes], tuple[list[Route], list[str]]]] = {
    "taper_pin": taper_routes,
    "center_hole": center_routes,
}
DOING = {
    "drill": tr("drilling"),
    "core": tr("core drilling"),
    "ream": tr("reaming"),
    "bore": tr("boring"),
    "bore_ream": tr("boring and reaming"),
    "mill": tr("milling"),
}
QUICKNESS = ("drill", "core", "mill", "ream", "bore", "bore_ream")  # ways by how long they take
SWAPPED = ("drill", "core_drill", "reamer", "center_drill", "spot_drill")
REAMER_NEAR, DRILL_NEAR = 0.01, 0.1
REASONS_SHOWN = 6
LARGE_MM = 32.0
PLENTY = 0.9
EACH, MOST_BUILT, MOST_SCORED, FEW, FEW_MORE = 2, 7, 7, 9, 3
FIRST_LOOK, CLEARLY = 1000, 0.03
ROUGHLY = 2.0  # minutes by which the closed form may think a route too dear


def plan_hole(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice | None = None,
    hardness_bhn: float | None = None,
    wishes: Wishes = FREE,
    sold: Shop | None = None,
    samples: int = RANKED,
    seed: int = 0,
    stop: Callable[[], bool] = lambda: False,
    told: Callable[[HolePlan], None] | None = None,
    before: HolePlan | None = None,
) -> HolePlan:
    """The routes to one hole with the tools of a shop, or why there is none.

    The first route is the recommended one, labelled ``balanced``; ``quickest`` and ``surest`` follow
    where they differ from it, then others of the front of minutes and chance (``bored``, ``2_drills``).
    Chances are the forward model's over `samples` holes of `seed`. `wishes` are kept whatever they break, and
    what they break is said. `sold` is a shop of tools to be bought: where one of them makes a much better route
    that route is added, labelled ``to_get``, with what the crib has instead. `told` gets the likely route as the
    closed form has it, before the model has scored any; mostly the one recommended in the end. `before` is a plan
    of the hole as it was: where its size is still asked for, its tools give the likely route at once. Raises
    `StoppedError` once `stop` says that nobody waits for it.
    """
    bench = bench_for(hole, shop, machine, material, practice or USUAL, hardness_bhn)
    task = Planning(bench, samples, seed, stop=stop, told=told)
    if wishes.only:
        return HolePlan(hole, (_named(hole, task.score([insisted_route(bench, wishes)])[0]),))
    refused = _refused(hole, bench.practice) if not wishes.known else ()
    if refused:
        return HolePlan(hole, (), refused)
    wishes, left_out = _placeable(hole, wishes)
    if before is not None and before.routes and _same_size(before.hole, hole) and not wishes.known:
        task = replace(task, told=None if task.as_before(before.routes[0]) else told)
    undressed = _undressed(bench, wishes)
    routes, reasons = ((), [undressed]) if undressed else task.routes(wishes)
    if not routes and wishes.known and hole.kind != "center_hole" and not undressed:
        routes = tuple(task.score([_as_kept(bench, wishes)]))
    if left_out:
        routes = tuple(_with_note(route, left_out) for route in routes)
    to_get = (
        _to_get(task, sold, wishes, routes[0] if routes else None)
        if sold is not None and _worth_shopping(routes)
        else None
    )
    if not routes:
        return HolePlan(hole, (), gathered(reasons) or (tr("the crib has no drill for this hole"),), to_get)
    routes = (doubted(bench, routes[0], routes[1:], to_get), *routes[1:])
    if to_get is not None and _much_better(to_get, routes[0]):
        routes = (*routes, to_get)
    return HolePlan(hole, tuple(_named(hole, route) for route in routes))


def _undressed(bench: Bench, wishes: Wishes) -> str:
    """Why nothing here cuts the mouth or the thread the print asks for, whatever makes the hole; else empty."""
    hole = bench.hole
    size = hole.limits.middle_mm
    try:
        mouth_operations(bench, size, wishes)
        if hole.feature.thread is not None:
            tap_operations(bench, size, hole.depth_mm, wishes)
    except Rejected as why:
        return str(why)
    return ""


def _placeable(hole: Hole, wishes: Wishes) -> tuple[Wishes, str]:
    """The wishes without drills that could only turn in air, and a word on those."""
    existing = hole.existing_mm or 0.0
    small = [t for t in wishes.drills() if t.diameter_mm <= existing + 1e-9]
    if not small:
        return wishes, ""
    names = ", ".join(t.name for t in small)
    kept = tuple(w for w in wishes.fixed if w.tool is None or w.kind != "drill" or w.tool not in small)
    return replace(wishes, fixed=kept), tr(
        "{names} would turn in the {existing} hole already there", names=names, existing=say(existing, hole.unit)
    )


def _as_kept(bench: Bench, wishes: Wishes) -> Route:
    """What is kept by hand, in order, where no sequence can be made around it: shown with all it breaks."""
    finished = wishes.of("ream", "bore") or bench.hole.kind == "flat_bottom"
    own = pin_reamers(bench) if bench.hole.feature.pin is not None else fitting_reamers(bench)[0]
    reamers = () if finished else own[:1]
    drills = [w for w in wishes.of(*DRILLING) if w.tool]
    floor = wishes.of("end_mill") if bench.hole.kind == "flat_bottom" else ()
    kept = (
        *(w for w in wishes.of("face", "end_mill", "punch") if w not in floor),
        *wishes.of(*START_KINDS),
        *sorted(drills, key=lambda w: w.tool.diameter_mm if w.tool else 0.0),
        *floor,
        *wishes.of("countersink", "counterbore", "spotface", "bore"),
        *wishes.of("ream"),
        *(Wish("ream", tool) for tool in reamers),
        *wishes.of("tap"),
        Wish("deburr"),
        Wish("measure"),
    )
    return insisted_route(bench, Wishes(kept, only=True))


def _with_note(route: Route, text: str) -> Route:
    first = route.operations[0]
    noted = replace(first, warnings=(*first.warnings, broken(text)))
    return replace(route, operations=(noted, *route.operations[1:]))


def _refused(hole: Hole, practice: Practice) -> tuple[str, ...]:
    if hole.kind in OWN_WAY:
        return ()
    ways = choose_process(hole, practice)
    if not ways.processes:
        return ways.why_not
    if hole.existing_mm is not None and hole.existing_mm >= hole.limits.lower_mm:
        return (
            tr(
                "the hole already there, {existing_mm}, is not smaller than the lower limit {lower_mm}",
                existing_mm=say(hole.existing_mm, hole.unit),
                lower_mm=say(hole.limits.lower_mm, hole.unit),
            ),
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
        more = tr(" and {count} more", count=len(tools) - 1) if len(tools) > 1 else ""
        found.append(f"{tools[0]}{more}: {why}" if tools[0] else why)
    if len(found) > REASONS_SHOWN:
        left = len(found) - REASONS_SHOWN
        found = [
            *found[:REASONS_SHOWN],
            trn("and {left} more reason like these", "and {left} more reasons like these", left, left=left),
        ]
    return tuple(found)


@dataclass(frozen=True)
class Shopping:
    """What a route with tools to get has to beat: the crib's own best, None where there is none."""

    shop: Shop
    best: Route | None

    def worth(self, chain: Chain) -> bool:
        """Whether a chain could still be much better than the crib's own; its cost holds its tools' price."""
        if self.best is None or chance_of(self.best) < constant("chance_unlikely"):
            return True
        bar = chain.bore.tool if chain.bore is not None else None
        ream = chain.ream.tool if chain.ream is not None else None
        tools = (*(tool for tool, _ in chain.drills), *(t for t in (bar, ream) if t is not None))
        missing = sum(not self.shop.has(tool) for tool in tools)
        each = constants("screen_prices")["to_get"]
        starts = any(self.shop.of_kind(kind) for kind in START_KINDS)
        missing = missing or int(not starts)
        return missing > 0 and chain.cost < self.best.cost + missing * each / 2 + ROUGHLY


@dataclass(frozen=True)
class Planning:
    """One hole's planning: its bench, and how many holes of the model rank its routes.

    `shopping`: looks for a route with tools to get, which the first likely way gives, and only chains that may be
    worth it are built.
    """

    bench: Bench
    samples: int
    seed: int
    shopping: Shopping | None = None
    stop: Callable[[], bool] = lambda: False
    told: Callable[[HolePlan], None] | None = None

    def score(self, routes: Sequence[Route]) -> list[Route]:
        """Routes with the model's chances; as they are where no samples are wanted."""
        if not self.samples:
            return list(routes)
        return scored(self.bench, routes, self.samples, self.seed, self.stop)

    def routes(self, wishes: Wishes) -> tuple[tuple[Route, ...], list[str]]:
        """The routes to show, best first; and why not, where there is none."""
        own = OWN_WAY.get(self.bench.hole.kind)
        if own is not None:
            built, why = own(self.bench, wishes)
            return chosen(self.score(built)), why
        search = Search(self.bench, wishes)
        if self.bench.hole.feature.thread is not None:
            return self._tapped(search, wishes)
        ways = self._ways(search, wishes)
        found = self._by_ways(search, ways, wishes)
        if not found:  # the one drill that makes it possible may be among those left out of a full crib
            search.every = True
            found = self._by_ways(search, ways, wishes)
        found = self._offered(search, self._whole(found))
        if not wishes.known and worth_turning(self.bench.hole) and not self._sure(found):
            found += self._both_ends()
        return chosen(found, ways.usual), list(search.reasons)

    def _by_ways(self, search: Search, ways: Finisher, wishes: Wishes) -> list[Route]:
        """The routes of each way in turn, as long as one more could still be recommended or shown."""
        found: list[Route] = []
        for process in ways.processes:
            likely = max(map(chance_of, found), default=0.0) >= constant("chance_unlikely")
            settled = (ways.wanted and self._sure(found)) or (self.shopping is not None and likely)
            if not found or (not settled and self._may_add(search, process, found, wishes)):
                found += self._of(search, process, wishes, MOST_BUILT if not found else FEW_MORE)
        return found

    def _tell(self, built: Sequence[Route]) -> None:
        """The cheapest of the routes built, to whom waits, where the closed form gives it a fair chance."""
        first = min(built, key=lambda route: route.cost, default=None)
        if self.told is not None and first is not None and chance_of(first) >= constant("chance_unlikely"):
            hole = self.bench.hole
            self.told(HolePlan(hole, (_named(hole, replace(first, label="balanced")),)))

    def as_before(self, before: Route) -> bool:
        """Tell the route that the tools of an earlier one make of the hole as it is now; whether there is one."""
        taken = _ids_of(before)
        own = {t.id: t for kind in {t.kind for t in _tools_of(before)} for t in self.bench.shop.of_kind(kind)}
        if self.told is None or not all(name in own for name in taken):
            return False
        narrow = replace(self.bench, shop=replace(self.bench.shop, tools=tuple(own[name] for name in taken)))
        search, likely = Search(narrow, FREE), list[HolePlan]()
        built = _built(search, _chains(search, way_of(before), None), 1)
        replace(self, bench=narrow, told=likely.append)._tell(built)
        if not likely or _ids_of(likely[0].routes[0]) != taken:
            return False
        self.told(likely[0])
        return True

    def _sure(self, routes: list[Route]) -> bool:
        return max(map(chance_of, routes), default=0.0) >= constant("chance_sure")

    def _both_ends(self) -> list[Route]:
        """Routes that drill from both ends, by the routes of one half."""
        bench = self.bench
        half = replace(self, bench=replace(bench, hole=half_of(bench.hole)))
        search = Search(half.bench, FREE)
        made = [turned(bench, route) for route in _built(search, _chains(search, "drill", None), FEW_MORE)]
        return [_step_said(bench, route) for route in self.score(made)]

    def _tapped(self, search: Search, wishes: Wishes) -> tuple[tuple[Route, ...], list[str]]:
        """Routes with the thread's own drill; with its neighbors where that one is no even chance (rule 27)."""
        usual = self._of(search, "drill", wishes)
        best = max(map(chance_of, usual), default=0.0)
        if best >= constant("chance_tap_drill") or wishes.known:
            routes = chosen(usual, ("drill",))
            return tuple(_table_drill_missing(self.bench, r) for r in routes), list(search.reasons)
        search.any_tap_drill = True
        moved = self._of(search, "drill", wishes)
        routes = chosen([*usual, *moved], ("drill",))
        passed = max(usual, key=chance_of, default=None)
        told = (_table_drill_missing(self.bench, _tap_drill_moved(self.bench, r, passed)) for r in routes)
        return tuple(told), list(search.reasons)

    def _offered(self, search: Search, routes: list[Route]) -> list[Route]:
        """The routes that come out right often enough to be offered; what does not is said."""
        least = constant("chance_offered")
        kept = [r for r in routes if chance_of(r) >= least or _short(r)]
        if routes and not kept and not search.wishes.known:
            best = max(routes, key=chance_of)
            better = elsewhere(self.bench.hole)
            search.note(
                tr(
                    "{doing} here would hold it in under 1 of 100; {better} would do it",
                    doing=DOING[way_of(best)],
                    better=better,
                )
            )
            return []
        return kept or routes

    def _whole(self, routes: list[Route]) -> list[Route]:
        """The routes without those that leave a blind hole short, where others do not."""
        full = [r for r in routes if not _short(r)]
        return full or routes

    def _may_add(self, search: Search, process: str, found: list[Route], wishes: Wishes) -> bool:
        """Whether a further way could still be recommended or shown.

        Not one that takes longer by its nature than a way that is sure enough, nor a drill that the closed form
        gives no chance.
        """
        if self.bench.practice.finish != "by_need":
            return False
        sure = [r for r in found if chance_of(r) >= constant("chance_sure")]
        if any(QUICKNESS.index(way_of(r)) <= QUICKNESS.index(process) for r in sure):
            return False
        best = max(map(chance_of, found))
        if wishes.known:
            return best < PLENTY
        return process not in ("drill", "core") or search.drill_hope(fine=process == "core") >= HALF * best

    def _of(self, search: Search, process: str, wishes: Wishes, most: int = MOST_BUILT) -> list[Route]:
        """The routes of one way, with the model's chances."""
        chains = _chains(search, process, wishes.tool_of("ream"))
        if self.shopping is not None:
            chains = [chain for chain in chains if self.shopping.worth(chain)]
        built = _built(search, chains, most)
        if most == MOST_BUILT:
            self._tell(built)
        if len(built) > FEW:
            built = _worth(scored(self.bench, built, FIRST_LOOK, self.seed, self.stop))
        return self.score(built)

    def _ways(self, search: Search, wishes: Wishes) -> Finisher:
        """The ways allowed, the one to try first in front, and the usual ones."""
        bench = self.bench
        if wishes.tool_of("ream") is not None:
            return Finisher(("bore_ream",) if wishes.of("bore") else ("ream",))
        if wishes.of("bore"):
            return Finisher(("bore",))
        if wishes.of("end_mill") and bench.hole.kind == "flat_bottom":
            return Finisher(("mill",))
        if wishes.known and any(t.diameter_mm >= bench.hole.limits.lower_mm for t in search.must):
            return Finisher(("drill",))
        ways = choose_process(bench.hole, bench.practice)
        return ways if ways.processes else Finisher(("ream", "drill"))


def _tools_of(route: Route) -> list[Tool]:
    """The tools a route takes, in order."""
    return [o.tool for o in route.operations if o.tool is not None]


def _ids_of(route: Route) -> tuple[str, ...]:
    """The same, each once, by their ids."""
    return tuple(dict.fromkeys(tool.id for tool in _tools_of(route)))


def _same_size(before: Hole, now: Hole) -> bool:
    """Whether a hole is still asked for in the size that it was, so that its tools may do."""
    return (before.kind, before.limits, before.feature) == (now.kind, now.limits, now.feature)


def _step_said(bench: Bench, route: Route) -> Route:
    """A route from both ends with the step where they meet said at its last drill."""
    model = model_of(route, bench.hole, bench.machine, bench.material, bench.hardness_bhn)
    at = max((i for i, o in enumerate(route.operations) if o.kind in DRILLING), default=0)
    if not isinstance(model, TwoEnds):
        return route
    drill = route.operations[at]
    told = replace(drill, because=(*drill.because, meeting_words(model.step_mm(), bench.hole)))
    return replace(route, operations=(*route.operations[:at], told, *route.operations[at + 1 :]))


def _tap_drill_moved(bench: Bench, route: Route, passed: Route | None) -> Route:
    """A route whose tap drill is not the usual one, saying so with both chances.

    `passed` is the best with the usual drill; without one the chance of that drill is the closed form's.
    """
    at = max((i for i, o in enumerate(route.operations) if o.kind in DRILLING), default=-1)
    drill, thread = route.operations[at], bench.hole.feature.thread
    if drill.tool is None or thread is None or at < 0:
        return route
    if passed is not None:
        was = max((o for o in passed.operations if o.kind in DRILLING), key=lambda o: o.diameter_mm or 0.0)
        usual, misses = was.tool, 1 - chance_of(passed)
    else:
        usual = usual_drill(thread, bench.shop.of_kind("drill"))
        misses = 1 - within(expected_drilled(usual, drill.previous_mm), bench.hole.limits) if usual else 1.0
    if usual is None or drill.diameter_mm == usual.diameter_mm:
        return route
    unit = bench.hole.unit
    low, high = (say(limit, unit) for limit in (bench.hole.limits.lower_mm, bench.hole.limits.upper_mm))
    said = tr(
        "In {misses} of 100 holes the {usual} usual here would cut outside the "
        "thread's {low} to {high}; this one in {chance_of}.",
        misses=chance_words(misses),
        usual=usual.designation,
        low=low,
        high=high,
        chance_of=chance_words(1 - chance_of(route)),
    )
    return _with_reason(route, at, said)


def _table_drill_missing(bench: Bench, route: Route) -> Route:
    """A route that says the tables' tap drill is not in the crib, where that is so and they are gone by."""
    thread = bench.hole.feature.thread
    table = table_drill(thread.name) if thread is not None else None
    by_table = wanted_percent(bench.material, bench.practice, bench.hole.thread_percent) == USUAL_PERCENT
    if thread is None or table is None or not by_table or usual_drill(thread, bench.shop.of_kind("drill")):
        return route
    at = max((i for i, o in enumerate(route.operations) if o.kind in DRILLING), default=-1)
    if at < 0:
        return route
    said = tr(
        "The tables name a {table} drill for {thread}; there is none here, and this one comes nearest.",
        table=table,
        thread=thread.name,
    )
    return _with_reason(route, at, said)


def _with_reason(route: Route, at: int, said: str) -> Route:
    """A route with one reason more, before the others, at one operation."""
    operation = route.operations[at]
    told = replace(operation, because=(said, *operation.because))
    return replace(route, operations=(*route.operations[:at], told, *route.operations[at + 1 :]))


def _short(route: Route) -> bool:
    """Whether a route leaves a blind hole short of its full depth."""
    return any(w.id == "short_full_depth" for w in route.warnings)


def _chains(search: Search, process: str, wanted: Tool | None) -> list[Chain]:
    if process in ("drill", "core"):
        return search.chains(search.drill_endings(fine=process == "core"))
    if process == "mill":
        return search.chains(search.mill_endings(), by_minutes=False)
    if process == "bore":
        large = search.bench.hole.nominal_mm > LARGE_MM
        return search.bare_chains("bore", []) + search.chains(search.bore_endings([]), by_minutes=large)
    reamers, reasons = ([wanted], []) if wanted is not None else fitting_reamers(search.bench)
    if not reamers:
        search.reasons.update(dict.fromkeys(reasons))
        return []
    if process == "bore_ream":
        return search.chains(search.bore_endings(reamers), by_minutes=False)
    return search.bare_chains("ream", reamers) + search.chains(search.ream_endings(reamers))


def _alike(chain: Chain) -> tuple[str, str, int]:
    """What makes chains much the same: finisher, kind of the last drill, number of drills."""
    last = chain.drills[-1][0].kind if chain.drills else ""
    return chain.finisher, last, len(chain.drills)


def _built(search: Search, chains: list[Chain], most: int) -> list[Route]:
    """The chains that may matter, built in full: cheapest of each finisher and number of drills, quick, sure."""
    if not chains:
        return []
    by_cost = sorted(chains, key=lambda c: c.cost)
    likely = [c for c in chains if c.chance >= HALF * max(c.chance for c in chains)]
    quickest = min(likely, key=lambda c: (round(c.minutes, 1), c.cost))
    surest = max(chains, key=lambda c: (round(c.chance, 3), -c.cost))
    wanted = {chain.key: chain for chain in (by_cost[0], quickest, surest)}
    counted: dict[tuple[str, str, int], int] = {}
    for chain in by_cost:
        kind = _alike(chain)
        counted[kind] = counted.get(kind, 0) + 1
        if counted[kind] <= EACH and chain.cost < by_cost[0].cost + 3 * WORTH:
            wanted.setdefault(chain.key, chain)
    routes = []
    for chain in list(wanted.values())[:most]:
        try:
            routes.append(build(search.bench, chain, search.wishes))
        except Rejected as why:
            search.note(str(why))
    return routes


def _worth(routes: list[Route]) -> list[Route]:
    """Routes that a closer look could still put on the front; by a first look none clearly beats them."""

    def beaten(route: Route) -> bool:
        return any(
            o.minutes <= route.minutes and o.cost <= route.cost and chance_of(o) >= chance_of(route) + CLEARLY
            for o in routes
        )

    kept = [r for r in routes if not beaten(r)]
    by_cost = sorted(kept, key=lambda r: r.cost)
    quick, sure = sorted(kept, key=lambda r: r.minutes)[:2], sorted(kept, key=lambda r: -chance_of(r))[:2]
    wanted = {id(r): r for r in (*by_cost[: MOST_SCORED - 4], *quick, *sure)}
    return list(wanted.values())


def _worth_shopping(routes: Sequence[Route]) -> bool:
    """Whether a route with a tool to get could be worth showing: not beside a likely and cheap one."""
    if not routes or chance_of(routes[0]) < constant("chance_unlikely"):
        return True
    at_least = sum(o.minutes for o in routes[0].operations if o.kind in ("deburr", "measure"))
    return routes[0].cost > at_least + constants("screen_prices")["to_get"] / 2


def _with_sold(shop: Shop, sold: Shop) -> tuple[Shop, tuple[str, ...]]:
    """A shop with all that is sold and that it has not, and the ids of that; kept with the shop."""
    key = tr("with {sold}", sold=id(sold))
    if key not in shop.worked_out:
        more = tuple(t for kind in BOUGHT for t in sold.of_kind(kind) if not shop.has(t))
        wider = replace(shop, tools=(*shop.tools, *more))
        shop.worked_out[key] = wider, tuple(t.id for t in more), sold
    wider, names, _ = shop.worked_out[key]
    return wider, names


def _to_get(task: Planning, sold: Shop, wishes: Wishes, best: Route | None) -> Route | None:
    """The best route with tools to be bought, each priced; None where it needs none or there is none."""
    bench = task.bench
    price = constants("screen_prices")["to_get"]
    shop, more = _with_sold(bench.shop, sold)
    widened = replace(bench, shop=shop, extra=dict.fromkeys(more, price))
    routes, _ = replace(task, bench=widened, told=None, shopping=Shopping(bench.shop, best)).routes(wishes)
    if not routes:
        return None
    missing = [o.tool for o in routes[0].operations if o.tool is not None and not bench.shop.has(o.tool)]
    if not missing:
        return None
    names = tuple(tool.name for tool in missing)
    found = replace(
        routes[0], label="to_get", missing_tools=names, cost=routes[0].cost - _priced(routes[0], price, missing)
    )
    return replace(found, instead=tuple(_instead(task, found, tool) for tool in missing))


def _priced(route: Route, price: float, missing: Sequence[Tool]) -> float:
    """What the search charged a route for tools that are not in the crib."""
    return min(price * len(missing), route.price)


def _instead(task: Planning, route: Route, missing: Tool) -> Instead:
    """What the crib has in place of one tool of a route, and the chance with it."""
    bench = task.bench
    if missing.kind not in SWAPPED:
        return Instead(missing, None, None, tr("nothing else in the crib does its work"))
    pool = [t for t in bench.shop.of_kind(missing.kind) if bench.holding(t) is None]
    share = REAMER_NEAR if missing.kind == "reamer" else DRILL_NEAR
    near = [t for t in pool if abs(t.diameter_mm - missing.diameter_mm) <= share * missing.diameter_mm]
    tool = min(
        near, key=lambda t: (abs(t.diameter_mm - missing.diameter_mm), t.series != missing.series), default=None
    )
    if tool is None:
        return Instead(missing, None, None, tr("nothing near its size in the crib"))
    wishes = tuple(
        Wish(
            o.kind,
            tool if o.tool is not None and o.tool.id == missing.id else o.tool,
            depth_mm=o.depth_mm if o.kind in DRILLING else None,
            diameter_mm=o.diameter_mm if o.kind == "bore" else None,
        )
        for o in route.operations
        if o.role not in ("guide", "rough")
    )
    swapped = task.score([insisted_route(bench, Wishes(wishes, only=True))])[0]
    return Instead(missing, tool, swapped.chance_all)


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
