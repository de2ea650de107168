"""Sequences for one hole: every finisher over the graph of drills, ranked by an additive screen.

The screen is that of `rating`, with the prices of `screen_prices.csv`. Over the drills considered the walks of the
graph are exact for it; a crib of more than `MOST_TOOLS` drills that could lead is first narrowed to the hole's own
unit and then thinned evenly.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from cordwainer.core.formation.oversize import expected_drilled, expected_reamed
from cordwainer.core.planning.search.endings import Ending, Ends, hole_found
from cordwainer.core.planning.search.fronts import AS_QUICK
from cordwainer.core.planning.search.graph import Lead, Walks, Web, walks, way
from cordwainer.core.planning.search.rating import WORTH, Rated, Rating, chosen, joined
from cordwainer.core.planning.steps.bench import minutes_of
from cordwainer.core.planning.steps.boring import BoreCut, fits_before
from cordwainer.core.planning.steps.closing import closing_minutes
from cordwainer.core.planning.steps.cuts import Ints, ReamCut, drill_cut, make_bits
from cordwainer.core.planning.steps.finish import wanted_stock, within
from cordwainer.core.planning.steps.flats import MillCut
from cordwainer.core.planning.steps.guides import guide_minutes
from cordwainer.core.planning.steps.reach import Rejected, wants_guide
from cordwainer.core.planning.steps.starts import (
    entry_operations,
    flattened,
    mark_minutes,
    needs_start,
    no_start_reason,
    start_minutes,
)
from cordwainer.core.planning.words.wishes import START_KINDS
from cordwainer.core.shop.habits import takes_punch
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants

MOST_TOOLS = 110
COMMON, SELDOM = ("jobber", "stub", "taper_shank", "reduced_shank"), 1.0
SHEET_DRILLS = 2


@dataclass(frozen=True)
class Chain:
    """Drills in order with their depths and what finishes after them, with the screen's figures."""

    drills: tuple[tuple[Tool, float], ...]
    ream: ReamCut | None
    chance: float
    cost: float
    minutes: float
    finished_mm: float
    bore: BoreCut | None = None
    mill: MillCut | None = None

    @property
    def key(self) -> tuple[str, ...]:
        """What makes it another chain."""
        after = (self.bore, self.mill, self.ream)
        return (*(tool.id for tool, _ in self.drills), *(cut.tool.id if cut else "" for cut in after))

    @property
    def finisher(self) -> str:
        """What makes its size, in a word."""
        last = self.drills[-1][0].kind if self.drills else "drill"
        names = ("bore" if self.bore else "", "mill" if self.mill else "", "ream" if self.ream else "")
        return "_".join(name for name in names if name) or last


@dataclass
class Search(Ends):
    """One hole's search, over the endings it may have. `every`: no drill is left out for being one of many."""

    every: bool = False

    @cached_property
    def _closing(self) -> float:
        return closing_minutes(self.bench)

    # -- the web -----------------------------------------------------------------------

    def _leading(self, ends: list[Ending]) -> list[Tool]:
        """The drills that may lead, thinned to `MOST_TOOLS`; `every`: all, larger ones before a core drill."""
        largest = constant("step_most") * max(e.last.diameter_mm for e in ends)
        if self.every:
            ring = constant("core_least_ring_mm")
            cored = [e.last.diameter_mm - ring for e in ends if e.last.kind == "core_drill"]
            largest = max(largest, *cored, 0.0)
        least = constant("pilot_least_mm")
        if self.bench.hole.through:
            least = max(least, self.bench.corner_depth_mm / constant("pilot_depth_per_d"))
        sizes, which = self.sizes, self._within(least - 1e-9, largest + 1e-9)
        which = which[sizes.drill[which]]
        forced = {t.id for t in self.must}
        must = self.near[[sizes.tools[k].id in forced for k in self.near]] if forced else which[:0]
        if len(must):
            which = np.array(sorted({*which.tolist(), *must.tolist()}), dtype=int)
        if len(which) > MOST_TOOLS and not self.every:
            which = self._thinned(which, must)
        return sizes.at(which)

    def _thinned(self, which: Ints, must: Ints) -> Ints:
        """Of very many drills those of the hole's own unit, the common ones, then some evenly; all of `must`."""
        sizes, kept = self.sizes, (which[:, None] == must[None, :]).any(axis=1)
        own = kept | (sizes.inch[which] == (self.bench.hole.own_unit == "in"))
        if own.sum() > 8:
            which, kept = which[own], kept[own]
        if len(which) > MOST_TOOLS:  # a special or seldom drill is no step that anybody would miss
            common = kept | [t.series in COMMON and self.bench.price(t) < SELDOM for t in sizes.at(which)]
            if common.sum() > 8:
                which, kept = which[common], kept[common]
        if len(which) > MOST_TOOLS:
            dear = np.array([self.bench.price(t) > 0 for t in sizes.at(which)])
            while len(which) > MOST_TOOLS:
                spare = np.flatnonzero(dear & ~kept)
                spare = spare if len(spare) else np.flatnonzero(~kept)
                out = spare[1::3] if len(spare) > 1 else spare
                if not len(out):
                    break
                which, kept, dear = (np.delete(of, out) for of in (which, kept, dear))
        return which

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
                None if why and tool.id not in must else self._lead_in(tool, finished_mm, depth)
                for tool, why, depth in zip(tools, bits.why, bits.depth, strict=True)
            ),
            extra_price=np.array([self.bench.price(t) for t in tools]),
        )

    def _lead_in(self, first: Tool, finished_mm: float, depth_mm: float) -> Lead | None:
        """What comes before a drill when it is the first: a flat, a start, a guide for a deep one."""
        if first.kind == "core_drill" and not hole_found(self.bench):
            return None
        minutes, rpm = 0.0, None
        if wants_guide(self.bench, first, depth_mm):
            minutes += guide_minutes(self.bench, first)
        try:
            for operation in entry_operations(self.bench, first):
                minutes += operation.minutes
                if operation.rpm is not None:
                    minutes += minutes_of("tool_change_drill_chuck")
                    rpm = operation.rpm
        except Rejected as why:
            self.note(str(why))
            return None
        wanted = self.wishes.tool_of(*START_KINDS)
        if not hole_found(self.bench) and takes_punch(self.bench.material.id):
            minutes += 0.0 if flattened(self.bench, first) else mark_minutes(self.bench)
        if wanted is None and not needs_start(self.bench, first):
            return Lead(minutes, rpm, started=False)
        start = start_minutes(self.bench, first, finished_mm, wanted)
        if start is None:
            self.note(no_start_reason(self.bench, first, finished_mm))
            return None
        taken, set_rpm = start
        if rpm is not None and set_rpm != rpm:
            minutes += minutes_of(f"speed_change_{self.bench.machine.drive}")
        return Lead(minutes + taken, set_rpm)

    # -- chains ----------------------------------------------------------------------

    def chains(self, ends: list[Ending], *, by_minutes: bool = True) -> list[Chain]:
        """The best chains over these endings: cheapest of each number of drills, quickest, surest.

        `by_minutes` looks for the quickest by minutes alone as well, whatever the practice would avoid.
        """
        if not ends:
            return []
        ends = undominated(ends)
        finished = min(_finished(end) for end in ends)
        web = self._web(ends, finished)
        found: dict[tuple[str, ...], Chain] = {}
        for priced in (True, False) if by_minutes else (True,):
            for chain in self._ended(web, ends, finished, priced=priced):
                found.setdefault(chain.key, chain)
        if not found:
            self._tell_why(web, ends)
        return list(found.values())

    def _ended(self, web: Web, ends: list[Ending], finished_mm: float, *, priced: bool) -> Iterator[Chain]:
        """Chains worth building: walks of one more drill are tried while they could still be."""
        rating = Rating(self.bench, web, ends, self._closing, insisted=bool(self.must))
        rest, best = self._least_rest(web, ends), np.inf
        rated: list[Rated] = []
        layers: list[Walks] = []
        for layer in walks(web, priced=priced):
            if not len(layer.drill):
                break
            rated.append(rating.rate(layer, len(layers)))
            layers.append(layer)
            leading = layer.drill < web.leads
            partial = (layer.minutes + layer.price if priced else layer.minutes)[leading]
            now = rated[-1].cost if priced else rated[-1].minutes
            best = min(best, float(now.min())) if len(now) else best
            if not len(partial) or partial.min() + rest > best + (WORTH if priced else AS_QUICK):
                break
            if self.sheet and len(layers) >= SHEET_DRILLS:
                break
        found = joined(rated)
        for k in chosen(found, priced=priced):
            drills_in, end = way(layers, int(found.layer[k]), int(found.index[k])), ends[int(found.end[k])]
            yield Chain(
                tuple((web.bits.tools[i], float(web.bits.depth[i])) for i in drills_in),
                end.ream,
                float(found.chance[k]),
                float(found.cost[k]),
                float(found.minutes[k]),
                finished_mm,
                end.bore,
                end.mill,
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

    def drill_hope(self, *, fine: bool) -> float:
        """The best closed-form chance a last drill could have, from solid or behind a pilot that relieves it."""
        limits, best = self.bench.hole.limits, 0.0
        for end in self.drill_endings(fine=fine):
            for before in (self.bench.hole.existing_mm or 0.0, 0.5 * end.last.diameter_mm):
                best = max(best, within(expected_drilled(end.last, before), limits))
        return best

    def bare_chains(self, process: str, reamers: list[Tool]) -> list[Chain]:
        """Chains without a drill: what is there is taken over by a reamer or a bar."""
        bench, p = self.bench, constants("screen_prices")
        found = hole_found(bench)
        chains = []
        for ream, bore in self.bare_endings(process, reamers):
            minutes, price = self._closing, 0.0
            if ream is not None:
                minutes += ream.turns / ream.rpm + ream.fixed_minutes + minutes_of("tool_change_taper_shank")
                low, high = wanted_stock(bench)
                stock = ream.tool.diameter_mm - found
                price += p["stock_outside"] * (not low - 1e-9 <= stock <= high + 1e-9)
                chance, size = within(expected_reamed(ream.tool), bench.hole.limits), ream.tool.diameter_mm
            elif bore is not None and bool(fits_before(bore, np.array(found))):
                minutes += float(bore.minutes(found))
                chance, size = within(bore.expected, bench.hole.limits), bore.target_mm
            else:
                continue
            cost = minutes + price + p["miss"] * (1 - chance)
            chains.append(Chain((), ream, chance, cost, minutes, size, bore))
        return chains

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
                    self.note(str(why))


def _finished(end: Ending) -> float:
    """The size an ending leaves, in mm."""
    if end.ream is not None:
        return end.ream.tool.diameter_mm
    if end.bore is not None:
        return end.bore.target_mm
    return end.mill.tool.diameter_mm if end.mill is not None else end.last.diameter_mm


def undominated(ends: list[Ending]) -> list[Ending]:
    """The endings without those that differ from a cheaper one only in price, such as another flute."""
    found: dict[object, Ending] = {}
    for end in ends:
        ream = end.ream
        alike: object = None
        if ream is not None:
            tool = ream.tool
            straight = tool.shank == "straight"
            alike = (
                tool.diameter_mm,
                tool.limits,
                straight,
                ream.rpm,
                ream.turns,
                ream.fixed_minutes,
                ream.depth_mm,
            )
        after = (end.bore.tool.id if end.bore else "", end.mill.tool.id if end.mill else "")
        key = (end.last.id, end.last_depth_mm, end.places, alike, after)
        if key not in found or end.price < found[key].price:
            found[key] = end
    return list(found.values())
