"""Sequences for one hole: every finisher over the graph of drills, ranked by an additive screen.

The screen, in minutes: those of the whole route, the prices of `screen_prices.csv` for what the practice
would avoid, and 40 minutes x the chance of missing the limits (closed form, rough). Over the drills
considered the walks of the graph are exact for it; a crib of more than `MOST_TOOLS` drills that could
lead is first narrowed to the hole's own unit and then thinned evenly.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from math import erf, sqrt

import numpy as np

from cordwainer.core.cutting.force import Floats
from cordwainer.core.formation.oversize import expected_mean_sd, expected_reamed, survey_oversize
from cordwainer.core.planning.bench import Bench, minutes_of
from cordwainer.core.planning.closing import closing_minutes
from cordwainer.core.planning.cuts import Ints, ReamCut, Rejected, drill_cut, make_bits, ream_cut
from cordwainer.core.planning.finish import stock_target, within
from cordwainer.core.planning.graph import Lead, Walks, Web, walks, way
from cordwainer.core.planning.starts import entry_operations, needs_start, no_start_reason, start_minutes
from cordwainer.core.planning.wishes import FREE, START_KINDS, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants

MOST_TOOLS, MOST_ENDS, MOST_REAMERS = 110, 24, 8
UNPLACED = 4
HALF, AS_QUICK, WORTH = 0.5, 0.2, 4.0
_erf = np.frompyfunc(erf, 1, 1)


def normal_cdf(z: Floats) -> Floats:
    """Standard normal distribution function of an array."""
    return 0.5 * (1 + np.asarray(_erf(z / sqrt(2)), dtype=float))


@dataclass(frozen=True)
class Ending:
    """How a sequence may end: its last drill to a depth, a reamer after it or none, and what that costs.

    `price` holds what does not depend on the drills before; `places` the last drill's place in the order of
    undersize drills where it cuts alone and where another leads it.
    """

    last: Tool
    last_depth_mm: float
    ream: ReamCut | None
    price: float
    places: tuple[int, int] = (0, 0)


@dataclass(frozen=True)
class Rated:
    """A walk with its ending: the screen's figures, and where it stands among the walks."""

    cost: float
    minutes: float
    chance: float
    layer: int
    index: int
    end: Ending


@dataclass(frozen=True)
class Chain:
    """Drills in order with their depths and the reamer after them, with the screen's figures."""

    drills: tuple[tuple[Tool, float], ...]
    ream: ReamCut | None
    chance: float
    cost: float
    minutes: float
    finished_mm: float

    @property
    def key(self) -> tuple[str, ...]:
        """What makes it another chain."""
        return (*(tool.id for tool, _ in self.drills), self.ream.tool.id if self.ream else "")


@dataclass
class Search:
    """One hole's search. `extra` prices tools by id, such as those still to get."""

    bench: Bench
    wishes: Wishes = FREE
    extra: dict[str, float] = field(default_factory=dict)
    reasons: dict[str, None] = field(default_factory=dict)
    _best: tuple[float, float, float] = (np.inf, np.inf, 0.0)
    _reamed: dict[str, float] = field(default_factory=dict)

    @cached_property
    def must(self) -> tuple[Tool, ...]:
        """Drills every sequence has to hold."""
        return self.wishes.drills()

    @cached_property
    def drills(self) -> list[Tool]:
        """Drills of the crib that could stand in any sequence here, smallest first; of alike ones the best."""
        existing = self.bench.hole.existing_mm or 0.0
        found: dict[tuple[object, ...], Tool] = {}
        for tool in self.bench.shop.of_kind("drill"):
            key = (tool.diameter.exact_mm, tool.series, tool.oversize_factor, tool.flute_length_mm)
            if tool.diameter_mm > existing + 1e-9 and (key not in found or tool.wear < found[key].wear):
                found[key] = tool
        tools = [*found.values(), *(t for t in self.must if t not in found.values())]
        return sorted(tools, key=lambda t: (t.diameter_mm, t.series))

    @cached_property
    def _closing(self) -> float:
        return closing_minutes(self.bench)

    # -- depths --------------------------------------------------------------------

    def led_depths(self, tools: list[Tool], ends: list[Ending]) -> list[float]:
        """Depth of each pilot or step so that it stays inside what any of the last drills cuts, in mm."""
        if self.bench.hole.through:
            return [self.bench.corner_depth_mm] * len(tools)
        d = np.array([t.diameter_mm for t in tools])[:, None]
        point = np.array([t.point_mm for t in tools])[:, None]
        lasts = {(e.last.id, e.last_depth_mm): e for e in ends}.values()
        tip = np.array([e.last_depth_mm + e.last.point_mm for e in lasts])[None, :]
        slope = np.array([e.last.point_mm / (e.last.diameter_mm / 2) for e in lasts])[None, :]
        return [float(z) for z in np.minimum(tip - d / 2 * slope, tip - point).min(axis=1)]

    def last_depth(self, drill: Tool, reamer: Tool) -> tuple[float, float, float]:
        """Depths of the last drill and of the reamer after it, and what is missing, in mm."""
        hole = self.bench.hole
        if hole.through:
            return self.bench.corner_depth_mm, self.bench.corner_depth_mm, 0.0
        lead = reamer.point_mm
        wanted = hole.depth_mm + lead + constant("chip_room_per_d") * reamer.diameter_mm
        room = hole.tip_room_mm
        deep = wanted if room is None else min(wanted, room - drill.point_mm)
        full = min(hole.depth_mm, deep - lead)
        return deep, full, max(hole.depth_mm - full, 0.0)

    # -- endings ---------------------------------------------------------------------

    def ream_endings(self, reamers: list[Tool]) -> list[Ending]:
        """Undersize drill and reamer, for every reamer that fits and every drill that leaves it its stock."""
        p, bench = constants("screen_prices"), self.bench
        found = []
        for rank, reamer in enumerate(reamers[:MOST_REAMERS]):
            for last, places in self._undersize(reamer):
                drill_depth, ream_depth, missing = self.last_depth(last, reamer)
                if ream_depth <= 0 or drill_depth <= 0:
                    self._note(f"{last.name}: the floor leaves no room for its point under the reamer's lead")
                    continue
                insisted = self.wishes.tool_of("ream") is not None
                try:
                    ream = ream_cut(bench, reamer, last.diameter_mm, ream_depth, missing, insisted=insisted)
                except Rejected as why:
                    self._note(str(why))
                    break
                price = p["reamer_place"] * rank
                price += p["missing_depth"] if missing > 1e-6 else 0.0
                price += 0.0 if reamer.diameter.unit == bench.hole.unit else p["other_unit"]
                price += self.extra.get(reamer.id, 0.0)
                found.append(Ending(last, drill_depth, ream, price, places))
        return found

    def _undersize(self, reamer: Tool) -> list[tuple[Tool, tuple[int, int]]]:
        """Undersize drills, with their places in the choice (rules of record 5); an insisted one alone."""
        forced = [t for t in self.must if t.diameter_mm >= 0.85 * reamer.diameter_mm]
        if forced:
            return [(forced[-1], (0, 0))] if forced[-1].diameter_mm < reamer.diameter_mm else []
        drills = [
            t for t in self.drills if 0.8 * reamer.diameter_mm - 1 <= t.diameter_mm < reamer.diameter_mm - 1e-9
        ]
        low, high = stock_target(self.bench.hole.nominal_mm, self.bench.hole.unit)
        least, most = constant("stock_least") * low, constant("stock_most") * high
        places: dict[str, tuple[Tool, list[int]]] = {}
        existing = self.bench.hole.existing_mm or 0.0
        for stub in (False, True):
            group = [t for t in drills if t.is_stub is stub]
            for led, previous in enumerate((existing, 0.5 * reamer.diameter_mm)):
                ranked = []
                for tool, mean in zip(group, expected_means(group, previous), strict=True):
                    stock = reamer.diameter_mm - mean
                    if least - 1e-9 <= stock <= most + 1e-9:
                        off = not low - 1e-9 <= stock <= high + 1e-9
                        ranked.append((off, tool.diameter.unit != self.bench.hole.unit, -tool.diameter_mm, tool))
                ranked.sort(key=lambda entry: entry[:3])
                for place, entry in enumerate(ranked):
                    places.setdefault(entry[3].id, (entry[3], [UNPLACED, UNPLACED]))[1][led] = place
        if not places:
            self._note(
                f"no drill in the crib leaves {reamer.name} its stock; one near "
                f"{_left_by(reamer.diameter_mm, (low + high) / 2):.2f} mm would, "
                f"for {self.bench.hole.id or 'this hole'}"
            )
        found = sorted(places.values(), key=lambda entry: min(entry[1]))[:MOST_ENDS]
        return [(tool, (alone, led)) for tool, (alone, led) in found]

    def drill_endings(self, *, carbide_only: bool = False) -> list[Ending]:
        """Drills whose expected hole lies inside the limits."""
        hole, limits = self.bench.hole, self.bench.hole.limits
        p, found = constants("screen_prices"), []
        depth = self.bench.corner_depth_mm
        forced = [t for t in self.must if t.diameter_mm >= 0.85 * hole.nominal_mm]
        for tool in forced[-1:] or self.drills:
            if not forced:
                if not limits.lower_mm - 2 <= tool.diameter_mm < limits.upper_mm:
                    continue
                if carbide_only and tool.material != "carbide":
                    continue
                means = [
                    m for p in (0.5 * hole.nominal_mm, hole.existing_mm or 0.0) for m in expected_means([tool], p)
                ]
                if not any(limits.lower_mm <= mean <= limits.upper_mm for mean in means):
                    continue
            named = hole.kind != "plain" or tool.diameter == hole.diameter
            found.append(Ending(tool, depth, None, 0.0 if named else p["not_named"]))
        if not found:
            self._note("no drill in the crib leaves a hole inside the limits; a reamer or a bar to size would")
        found.sort(key=lambda e: abs(e.last.diameter_mm - limits.middle_mm))
        return found[:MOST_ENDS]

    # -- the web -----------------------------------------------------------------------

    def _leading(self, ends: list[Ending]) -> list[Tool]:
        largest = constant("step_most") * max(e.last.diameter_mm for e in ends)
        least = constant("pilot_least_mm")
        if self.bench.hole.through:
            least = max(least, self.bench.corner_depth_mm / constant("pilot_depth_per_d"))
        must = {t.id for t in self.must}
        tools = [t for t in self.drills if least - 1e-9 <= t.diameter_mm <= largest + 1e-9 or t.id in must]
        if len(tools) > MOST_TOOLS:
            own = [t for t in tools if t.diameter.unit == self.bench.hole.unit or t.id in must]
            tools = own if len(own) > 8 else tools
        while len(tools) > MOST_TOOLS:
            tools = [t for i, t in enumerate(tools) if i % 3 != 1 or t.id in must]
            if len(tools) <= MOST_TOOLS or all(t.id in must for t in tools):
                break
        return tools

    def _web(self, ends: list[Ending], finished_mm: float) -> Web:
        leading = self._leading(ends)
        lasts = {(e.last.id, e.last_depth_mm): (e.last, e.last_depth_mm) for e in ends}
        deep = self.led_depths(leading, ends)
        led = [(t, z) for t, z in zip(leading, deep, strict=True) if z > 0]
        tools = [*(t for t, _ in led), *(t for t, _ in lasts.values())]
        must = {t.id for t in self.must}
        bits = make_bits(self.bench, tools, [*(z for _, z in led), *(z for _, z in lasts.values())])
        return Web(
            bench=self.bench,
            bits=bits,
            leads=len(led),
            must=np.array([t.id in must for t in tools]),
            lead_in=tuple(
                None if why and tool.id not in must else self._lead_in(tool, finished_mm)
                for tool, why in zip(tools, bits.why, strict=True)
            ),
            extra_price=np.array([self.extra.get(t.id, 0.0) for t in tools]),
        )

    def _lead_in(self, first: Tool, finished_mm: float) -> Lead | None:
        """What comes before a drill when it is the first: a flat, a start."""
        minutes, rpm = 0.0, None
        try:
            for operation in entry_operations(self.bench, first):
                minutes += operation.minutes
                if operation.rpm is not None:
                    minutes += minutes_of("tool_change_drill_chuck")
                    rpm = operation.rpm
        except Rejected as why:
            self._note(str(why))
            return None
        wanted = self.wishes.tool_of(*START_KINDS)
        if wanted is None and not needs_start(self.bench, first):
            return Lead(minutes, rpm, started=False)
        start = start_minutes(self.bench, first, finished_mm, wanted)
        if start is None:
            self._note(no_start_reason(self.bench, first, finished_mm))
            return None
        taken, set_rpm = start
        if rpm is not None and set_rpm != rpm:
            minutes += minutes_of(f"speed_change_{self.bench.machine.drive}")
        return Lead(minutes + taken, set_rpm)

    def _note(self, reason: str) -> None:
        self.reasons.setdefault(reason)

    # -- chains ----------------------------------------------------------------------

    def chains(self, ends: list[Ending]) -> list[Chain]:
        """The best chains over these endings: cheapest of each number of drills, quickest, surest."""
        if not ends:
            return []
        finished = min(e.ream.tool.diameter_mm if e.ream else e.last.diameter_mm for e in ends)
        web = self._web(ends, finished)
        found: dict[tuple[str, ...], Chain] = {}
        for priced in (True, False):
            for chain in self._ended(web, ends, finished, priced=priced):
                found.setdefault(chain.key, chain)
        if not found:
            self._tell_why(web, ends)
        return list(found.values())

    def _ended(self, web: Web, ends: list[Ending], finished_mm: float, *, priced: bool) -> Iterator[Chain]:
        """Chains worth building: walks of one more drill are tried while they could still be."""
        at = {(t.id, float(z)): i for i, (t, z) in enumerate(zip(web.bits.tools, web.bits.depth, strict=True))}
        by_drill: dict[int, list[Ending]] = {}
        for end in ends:
            by_drill.setdefault(at[end.last.id, end.last_depth_mm], []).append(end)
        rest = self._least_rest(web, ends)
        rated: list[Rated] = []
        layers: list[Walks] = []
        for layer in walks(web, priced=priced):
            if not len(layer.drill):
                break
            layers.append(layer)
            order = np.argsort(layer.drill, kind="stable")
            drills, starts = np.unique(layer.drill[order], return_index=True)
            for drill, which in zip(drills, np.split(order, starts[1:]), strict=True):
                for end in by_drill.get(int(drill), ()):
                    rated += self._rated(web, layer, which, end, len(layers) - 1)
            leading = layer.drill < web.leads
            partial = (layer.minutes + layer.price if priced else layer.minutes)[leading]
            best = min((r.cost if priced else r.minutes for r in rated), default=np.inf)
            if not len(partial) or partial.min() + rest > best + (WORTH if priced else AS_QUICK):
                break
        for entry in _chosen(rated, priced=priced):
            drills_in = way(layers, entry.layer, entry.index)
            yield Chain(
                tuple((web.bits.tools[i], float(web.bits.depth[i])) for i in drills_in),
                entry.end.ream,
                entry.chance,
                entry.cost,
                entry.minutes,
                finished_mm,
            )

    def _least_rest(self, web: Web, ends: list[Ending]) -> float:
        """Minutes that any walk still needs from its last leading drill on: never more than the truth."""
        into = web.arcs.drill >= web.leads
        if not into.any():
            return 0.0
        rpm = np.where(web.arcs.work.rpm[into] > 0, web.arcs.work.rpm[into], 1.0)
        last = float((web.arcs.work.turns[into] / rpm + web.arcs.minutes[into]).min())
        reams = [e.ream.turns / e.ream.rpm + e.ream.fixed_minutes if e.ream else 0.0 for e in ends]
        return last + min(reams) + self._closing

    def _rated(self, web: Web, layer: Walks, which: Ints, end: Ending, number: int) -> Iterator[Rated]:
        """Walks that end so, the few best of each by cost, minutes and chance."""
        bench, arcs, p = self.bench, web.arcs, constants("screen_prices")
        mean, sd = arcs.work.mean[layer.arc[which]], arcs.work.sd[layer.arc[which]]
        minutes = layer.minutes[which] + self._closing
        price = layer.price[which] + end.price + p["second_choice"] * end.places[number > 0]
        limits, insisted = bench.hole.limits, bool(self.must)
        if end.ream is None:
            chance = normal_cdf((limits.upper_mm - mean) / sd) - normal_cdf((limits.lower_mm - mean) / sd)
            fits = (limits.lower_mm <= mean) & (mean <= limits.upper_mm)
        else:
            reamer = end.ream.tool
            low, high = stock_target(bench.hole.nominal_mm, bench.hole.unit)
            stock = reamer.diameter_mm - mean
            fits = (stock >= constant("stock_least") * low - 1e-9) & (
                stock <= constant("stock_most") * high + 1e-9
            )
            price = price + p["stock_outside"] * ((stock < low - 1e-9) | (stock > high + 1e-9))
            rpm, same = ream_speeds(bench, end.ream.rpm, layer.rpm[which])
            change = minutes_of(f"speed_change_{bench.machine.drive}") * (rpm != layer.rpm[which])
            minutes = minutes + end.ream.turns / rpm + end.ream.fixed_minutes + change
            straight = reamer.shank == "straight"
            minutes = minutes + minutes_of("tool_change_drill_chuck" if straight else "tool_change_taper_shank")
            price = price + p["same_lowest"] * same
            clean = reamer.diameter_mm - constant("reamer_clean_mm")
            if reamer.id not in self._reamed:
                self._reamed[reamer.id] = within(expected_reamed(reamer), limits)
            chance = normal_cdf((clean - mean) / sd) * self._reamed[reamer.id]
        chance = np.maximum(chance, 0.0)
        cost = minutes + price + p["miss"] * (1 - chance)
        fine = np.flatnonzero(fits | insisted)
        if not len(fine) or not self._may_matter(cost[fine], minutes[fine], chance[fine]):
            return
        quick = fine[chance[fine] >= HALF * chance[fine].max()]
        quick = quick[minutes[quick] <= minutes[quick].min() + AS_QUICK]
        orders = ((fine, (cost,)), (quick, (cost,)), (fine, (cost, -np.round(chance, 3))))
        keep = {int(i) for pool, keys in orders for i in pool[np.lexsort([k[pool] for k in keys])][:2]}
        for i in keep:
            yield Rated(float(cost[i]), float(minutes[i]), float(chance[i]), number, int(which[i]), end)

    def _may_matter(self, cost: Floats, minutes: Floats, chance: Floats) -> bool:
        """Whether walks could still be the cheapest of their number, the quickest or the surest."""
        best = self._best
        matters = (
            cost.min() <= best[0] + WORTH
            or (minutes.min() <= best[1] + AS_QUICK and chance.max() >= HALF * best[2])
            or round(chance.max(), 3) > best[2]
        )
        self._best = (
            min(best[0], float(cost.min())),
            min(best[1], float(minutes[chance >= HALF * chance.max()].min())),
            max(best[2], round(float(chance.max()), 3)),
        )
        return bool(matters)

    def _tell_why(self, web: Web, ends: list[Ending]) -> None:
        """Gather why nothing came of it: each last drill from solid and behind the best step."""
        steps = list(web.bits.tools[: web.leads])
        for end in ends[:6]:
            target = 0.6 * end.last.diameter_mm
            near = min(steps, key=lambda t: abs(t.diameter_mm - target), default=None)
            for previous in (self.bench.hole.existing_mm or 0.0, near.diameter_mm if near else 0.0):
                try:
                    drill_cut(self.bench, end.last, previous, end.last_depth_mm)
                except Rejected as why:
                    self._note(str(why))


def _left_by(finished_mm: float, stock_mm: float) -> float:
    """About the drill that leaves a stock behind a pilot, in mm."""
    return finished_mm - stock_mm - float(survey_oversize(finished_mm)[1]) * (1 - constant("pilot_relief"))


def expected_means(tools: list[Tool], previous_mm: float) -> list[float]:
    """The mean hole each drill leaves, opening a hole of `previous_mm`, in mm."""
    if not tools:
        return []
    d, chisel, learned = (
        np.array(x) for x in zip(*((t.diameter_mm, t.chisel_mm, t.oversize_factor) for t in tools), strict=True)
    )
    return [float(mean) for mean in expected_mean_sd(d, chisel, learned, previous_mm)[0]]


def ream_speeds(bench: Bench, own_rpm: float, before_rpm: Floats) -> tuple[Floats, Floats]:
    """The reamer's speed after drills at `before_rpm`, and where it can be no slower (rules of record 1)."""
    steps = np.array(bench.machine.steps())
    below = np.searchsorted(steps, before_rpm - 1e-9) - 1
    lower = np.where(below >= 0, steps[np.maximum(below, 0)], before_rpm)
    rpm = np.where(own_rpm < before_rpm - 1e-9, own_rpm, lower)
    return rpm, ((own_rpm >= before_rpm - 1e-9) & (below < 0)).astype(float)


def _chosen(found: list[Rated], *, priced: bool) -> list[Rated]:
    """The few worth building: cheapest overall and of each number of drills, quickest, surest."""
    if not found:
        return []
    surest = max(entry.chance for entry in found)
    likely = [entry for entry in found if entry.chance >= HALF * surest]
    least = min(entry.minutes for entry in likely)
    picked = [min((e for e in likely if e.minutes <= least + AS_QUICK), key=lambda e: e.cost)]
    if priced:
        picked.append(min(found, key=lambda e: (-round(e.chance, 3), e.cost)))
        for number in {entry.layer for entry in found}:
            picked += sorted((e for e in found if e.layer == number), key=lambda e: e.cost)[:2]
    return picked
