"""Walks of the graph with every ending they may have, rated all at once by the screen.

The screen, in minutes: those of the whole route, the prices of what the practice would avoid, and 40 minutes x the
chance of missing the limits (closed form, rough).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np

from cordwainer.core.chance import normal_cdfs
from cordwainer.core.cutting.force import Floats
from cordwainer.core.formation.oversize import expected_reamed
from cordwainer.core.planning.search.endings import Ending
from cordwainer.core.planning.search.fronts import AS_QUICK, HALF
from cordwainer.core.planning.search.graph import Walks, Web
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.steps.boring import BoreCut
from cordwainer.core.planning.steps.cuts import Ints
from cordwainer.core.planning.steps.finish import wanted_stock, within
from cordwainer.core.tables import constant, constants

EACH_NUMBER = 2
WORTH = 4.0


@dataclass(frozen=True, eq=False)
class Rated:
    """Walks with an ending each: arrays of one length. `layer` and `index` say which walk, `end` which ending."""

    cost: Floats
    minutes: Floats
    chance: Floats
    layer: Ints
    index: Ints
    end: Ints

    def __len__(self) -> int:
        return len(self.cost)


@dataclass(frozen=True)
class Best:
    """The least cost and minutes and the greatest chance so far."""

    cost: float = np.inf
    minutes: float = np.inf
    chance: float = 0.0

    def with_more(self, cost: Floats, minutes: Floats, chance: Floats) -> Best:
        """The same with more walks; of their minutes only the likely ones'."""
        high = float(chance.max())
        likely = minutes[chance >= HALF * high]
        return Best(
            min(self.cost, float(cost.min())), min(self.minutes, float(likely.min())), max(self.chance, high)
        )


def joined(parts: Sequence[Rated]) -> Rated:
    """All of them, in order."""
    if not parts:
        none, no = np.zeros(0), np.zeros(0, dtype=int)
        return Rated(none, none, none, no, no, no)
    return Rated(*(np.concatenate([getattr(part, f.name) for part in parts]) for f in fields(Rated)))


class Rating:
    """The endings of one search as arrays, by the drill they begin with; `closing` is the minutes after them."""

    def __init__(self, bench: Bench, web: Web, ends: Sequence[Ending], closing: float, *, insisted: bool) -> None:
        self.bench, self.web, self.ends = bench, web, ends
        self.closing, self.insisted = closing, insisted
        bits = web.bits
        at = {(t.id, float(z)): i for i, (t, z) in enumerate(zip(bits.tools, bits.depth, strict=True))}
        drill = np.array([at[e.last.id, e.last_depth_mm] for e in ends], dtype=int)
        self._order = np.argsort(drill, kind="stable")
        self._count = np.bincount(drill, minlength=len(bits.tools))
        self._first = np.cumsum(self._count) - self._count
        self._best = Best()
        self._price = np.array([e.price for e in ends])
        self._places = np.array([e.places for e in ends], dtype=float)
        self._bar = np.array([e.bore is not None or e.mill is not None for e in ends])
        self._ream = np.array([e.ream is not None for e in ends])
        reams = [e.ream for e in ends]
        self._reamer = np.array([r.tool.diameter_mm if r else 0.0 for r in reams])
        self._rpm = np.array([r.rpm if r else 1.0 for r in reams])
        self._turns = np.array([r.turns if r else 0.0 for r in reams])
        self._fixed = np.array([r.fixed_minutes if r else 0.0 for r in reams])
        straight, taper = minutes_of("tool_change_drill_chuck"), minutes_of("tool_change_taper_shank")
        self._fetch = np.array([straight if r and r.tool.shank == "straight" else taper for r in reams])
        self._made = np.array([_made(e, bench) for e in ends])
        self._low, self._high = (np.array([e.window[k] for e in ends]) for k in (0, 1))

    def rate(self, layer: Walks, number: int) -> Rated:
        """The walks of one number of drills with each of their endings that fits, drill by drill."""
        walks, ends = self._pairs(layer)
        arcs, p = self.web.arcs, constants("screen_prices")
        mean, sd = arcs.work.mean[layer.arc[walks]], arcs.work.sd[layer.arc[walks]]
        before = layer.rpm[walks]
        minutes = layer.minutes[walks] + self.closing
        price = layer.price[walks] + self._price[ends] + p["second_choice"] * self._places[ends, int(number > 0)]
        chance, fits = np.zeros(len(walks)), np.zeros(len(walks), dtype=bool)
        bar, ream = self._bar[ends], self._ream[ends]
        rpm, same = ream_speeds(self.bench, self._rpm[ends], before)
        reaming = self._turns[ends] / rpm + self._fixed[ends]
        price = price + np.where(ream, p["same_lowest"] * same, 0.0)
        some = np.flatnonzero(bar)
        if len(some):
            which, left = ends[some], mean[some]
            fits[some] = (left >= self._low[which] - 1e-9) & (left <= self._high[which] + 1e-9)
            chance[some] = np.where(fits[some], self._made[which], 0.0)
            after = np.where(ream[some], reaming[some] + minutes_of("tool_change_taper_shank"), 0.0)
            minutes[some] = minutes[some] + self._barred(which, left) + after
        some = np.flatnonzero(ream & ~bar)
        if len(some):
            which, stock = ends[some], self._reamer[ends[some]] - mean[some]
            low, high = wanted_stock(self.bench)
            least, most = constant("stock_least") * low, constant("stock_most") * high
            fits[some] = (stock >= least - 1e-9) & (stock <= most + 1e-9)
            price[some] = price[some] + p["stock_outside"] * ((stock < low - 1e-9) | (stock > high + 1e-9))
            change = minutes_of(f"speed_change_{self.bench.machine.drive}") * (rpm[some] != before[some])
            minutes[some] = minutes[some] + reaming[some] + change + self._fetch[which]
            clean = self._reamer[which] - constant("reamer_clean_mm")
            chance[some] = normal_cdfs((clean - mean[some]) / sd[some]) * self._made[which]
        some = np.flatnonzero(~bar & ~ream)
        if len(some):
            limits, (low, high) = self.bench.hole.limits, self.bench.judged_mm
            left, spread = mean[some], sd[some]
            chance[some] = normal_cdfs((high - left) / spread) - normal_cdfs((low - left) / spread)
            fits[some] = (limits.lower_mm <= left) & (left <= limits.upper_mm)
        chance = np.maximum(chance, 0.0)
        cost = minutes + price + p["miss"] * (1 - chance)
        fine = np.flatnonzero(fits | self.insisted)
        fine = fine[self._that_matter(ends[fine], cost[fine], minutes[fine], chance[fine])]
        layers = np.full(len(fine), number)
        return Rated(cost[fine], minutes[fine], chance[fine], layers, walks[fine], ends[fine])

    def _pairs(self, layer: Walks) -> tuple[Ints, Ints]:
        """Every walk with every ending its last drill has: drill by drill, ending by ending, walks in order."""
        order = np.argsort(layer.drill, kind="stable")
        drill = layer.drill[order]
        count = self._count[drill]
        walks = np.repeat(order, count)
        place = np.arange(len(walks)) - np.repeat(np.cumsum(count) - count, count)
        ends = self._order[np.repeat(self._first[drill], count) + place]
        sorted_ = np.lexsort((place, np.repeat(drill, count)))
        return walks[sorted_], ends[sorted_]

    def _that_matter(self, end: Ints, cost: Floats, minutes: Floats, chance: Floats) -> Ints:
        """A few walks of each ending, which stand together, that could still be cheapest, quickest or surest."""
        if not len(end):
            return np.zeros(0, dtype=int)
        first = np.flatnonzero(np.append(True, end[1:] != end[:-1]))
        group = np.repeat(np.arange(len(first)), np.diff(np.append(first, len(end))))
        most = np.maximum.reduceat(chance, first)
        likely = chance >= HALF * most[group]
        quick = np.minimum.reduceat(np.where(likely, minutes, np.inf), first)
        dear, sure = np.minimum.reduceat(cost, first), np.asarray(np.round(most, 3), dtype=float)
        before, self._best = self._best, self._best.with_more(dear, quick, sure)
        best = self._best
        matters = dear <= best.cost + WORTH
        matters |= (quick <= best.minutes + AS_QUICK) & (most >= HALF * best.chance)
        matters |= (sure > before.chance) & (sure >= best.chance)
        kept = set[int]()
        rounded = np.round(chance, 3)
        everything = np.ones(len(end), dtype=bool)
        for pool in (everything, likely & (minutes <= quick[group] + AS_QUICK), rounded == sure[group]):
            order = np.lexsort((np.where(pool, cost, np.inf), group))
            kept.update(order[first[matters]].tolist())
        return np.array(sorted(kept), dtype=int)

    def _barred(self, ends: Ints, left_mm: Floats) -> Floats:
        """Minutes of the bar or the end mill of some endings, from holes of those sizes."""
        found = np.zeros(len(ends))
        same: dict[BoreCut | None, list[int]] = {}
        for k in dict.fromkeys(ends.tolist()):
            same.setdefault(self.ends[k].bore, []).append(k)
        for bore, which in same.items():
            at = np.flatnonzero((ends[:, None] == np.array(which)[None, :]).any(axis=1))
            if bore is not None:
                found[at] = np.asarray(bore.minutes(left_mm[at]), dtype=float)
                continue
            for k in which:
                mill = self.ends[k].mill
                taken = mill.minutes if mill is not None else 0.0
                found[ends == k] = taken + minutes_of("tool_change_drill_chuck")
        return found


def _made(end: Ending, bench: Bench) -> float:
    """The closed-form chance of what finishes after the drills."""
    if end.mill is not None:
        return within(end.mill.expected, bench.hole.limits)
    if end.ream is not None:
        return within(expected_reamed(end.ream.tool), bench.hole.limits)
    return within(end.bore.expected, bench.hole.limits) if end.bore is not None else 1.0


def ream_speeds(bench: Bench, own_rpm: Floats, before_rpm: Floats) -> tuple[Floats, Floats]:
    """Reamers' speeds after drills at `before_rpm`, and where they can be no slower (rules of record 1)."""
    steps = np.array(bench.machine.steps())
    below = np.searchsorted(steps, before_rpm - 1e-9) - 1
    lower = np.where(below >= 0, steps[np.maximum(below, 0)], before_rpm)
    rpm = np.where(own_rpm < before_rpm - 1e-9, own_rpm, lower)
    return rpm, ((own_rpm >= before_rpm - 1e-9) & (below < 0)).astype(float)


def chosen(found: Rated, *, priced: bool) -> list[int]:
    """Places of the few worth building: cheapest overall and of each number of drills, quickest, surest."""
    if not len(found):
        return []
    likely = found.chance >= HALF * found.chance.max()
    quick = np.flatnonzero(likely & (found.minutes <= found.minutes[likely].min() + AS_QUICK))
    picked = [int(quick[found.cost[quick].argmin()])]
    if priced:
        picked.append(int(np.lexsort((found.cost, -np.round(found.chance, 3)))[0]))
        for number in range(int(found.layer.max()) + 1):
            some = np.flatnonzero(found.layer == number)
            picked += some[np.argsort(found.cost[some], kind="stable")[:EACH_NUMBER]].tolist()
    return picked
