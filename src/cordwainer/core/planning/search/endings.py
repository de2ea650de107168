"""How a sequence may end: which last drill, which reamer after it, to which depths."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.language import tr
from cordwainer.core.planning.search.sizes import Sizes, sizes_of
from cordwainer.core.planning.steps.bench import CATALOG, Bench
from cordwainer.core.planning.steps.boring import BoreCut, bore_cuts
from cordwainer.core.planning.steps.cuts import Ints, ReamCut, ream_cut
from cordwainer.core.planning.steps.finish import wanted_stock
from cordwainer.core.planning.steps.flats import MillCut, mill_cut
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.steps.sheet import is_sheet
from cordwainer.core.planning.steps.tapping import tap_order, wanted_percent
from cordwainer.core.planning.words.how_common import names
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.planning.words.wishes import FREE, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants

MOST_ENDS, MOST_REAMERS, MOST_BARRED = 24, 8, 5
MANY, LARGER_MM = 160, 2.0
UNPLACED = 4


@dataclass(frozen=True)
class Ending:
    """How a sequence may end: its last drill to a depth, what finishes it or nothing, and what that costs.

    `price` holds what does not depend on the drills before; `places` the last drill's place in the order of
    undersize drills where it cuts alone and where another leads it.
    """

    last: Tool
    last_depth_mm: float
    ream: ReamCut | None
    price: float
    places: tuple[int, int] = (0, 0)
    bore: BoreCut | None = None
    mill: MillCut | None = None

    @property
    def window(self) -> tuple[float, float]:
        """Holes a bar or an end mill can take over, in mm."""
        found = self.mill or self.bore
        return (found.low_mm, found.high_mm) if found is not None else (0.0, np.inf)


@dataclass
class Ends:
    """The endings of one hole's sequences. `any_tap_drill`: others than the thread's usual one."""

    bench: Bench
    wishes: Wishes = FREE
    reasons: dict[str, None] = field(default_factory=dict)
    any_tap_drill: bool = False

    @cached_property
    def must(self) -> tuple[Tool, ...]:
        """Drills every sequence has to hold."""
        return self.wishes.drills()

    @property
    def sheet(self) -> bool:
        """Whether the work is sheet, which takes no row of steps and no core drill."""
        return is_sheet(self.bench.hole)

    @cached_property
    def sizes(self) -> Sizes:
        """The crib's drilling tools by size, those every sequence has to hold among them."""
        return sizes_of(self.bench.shop).with_tools(self.must)

    @cached_property
    def near(self) -> Ints:
        """Places in `sizes` of drills that could stand in any sequence here (rules of record 26, 31).

        A core drill is for holes that exist or are finished at 14 mm and more, never for a thread under 24 mm; a
        plastic takes no split 135-degree point.
        """
        hole, sizes = self.bench.hole, self.sizes
        existing = hole.existing_mm or 0.0
        which = sizes.between(existing + 1e-9, max(hole.limits.upper_mm, hole.nominal_mm) + LARGER_MM)
        fine = np.ones(len(which), dtype=bool)
        if hole.feature.thread is not None:
            fine = sizes.drill[which] | (sizes.d[which] >= constant("tap_odd_from_mm"))
        elif existing <= 0 and hole.nominal_mm < constant("core_finished_mm"):
            fine = ~sizes.core[which]
        if self.bench.material.is_plastic:
            fine &= ~sizes.split[which]
        if self.must:
            forced = {tool.id for tool in self.must}
            places = [k for k, tool in enumerate(sizes.tools) if tool.id in forced]
            return np.array(sorted({*which[fine].tolist(), *places}), dtype=int)
        return which[fine]

    @cached_property
    def drills(self) -> list[Tool]:
        """The drills at those places, smallest first."""
        return self.sizes.at(self.near)

    def _within(self, low_mm: float, high_mm: float) -> Ints:
        """Places of the drills here from one size to another, the second not among them."""
        first, last = np.searchsorted(self.sizes.d[self.near], (low_mm, high_mm))
        return self.near[first:last]

    @property
    def _largest_kept(self) -> float:
        """The largest drill every sequence has to hold: none may end with a smaller one."""
        return self.must[-1].diameter_mm if self.must else 0.0

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
        return self.last_depth_of(drill.point_mm, reamer)

    def last_depth_of(self, point_mm: float, reamer: Tool) -> tuple[float, float, float]:
        """The same behind a tool with a point of that length, a bar's being 0."""
        hole = self.bench.hole
        if hole.through:
            return self.bench.corner_depth_mm, self.bench.corner_depth_mm, 0.0
        lead = reamer.point_mm
        wanted = hole.depth_mm + lead + constant("chip_room_per_d") * reamer.diameter_mm
        room = hole.tip_room_mm
        deep = wanted if room is None else min(wanted, room - point_mm)
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
                    self.note(
                        tr(
                            "{last}: the floor leaves no room for its point under the reamer's lead",
                            last=last.name,
                        )
                    )
                    continue
                insisted = self.wishes.tool_of("ream") is not None
                try:
                    ream = ream_cut(bench, reamer, last.diameter_mm, ream_depth, missing, insisted=insisted)
                except Rejected as why:
                    self.note(str(why))
                    break
                price = p["reamer_place"] * rank
                price += p["missing_depth"] if missing > 1e-6 else 0.0
                price += bench.price(reamer)
                found.append(Ending(last, drill_depth, ream, price, places))
        return found

    def _undersize(self, reamer: Tool) -> list[tuple[Tool, tuple[int, int]]]:
        """Undersize drills, with their places in the choice (rules of record 5 and 26); an insisted one alone."""
        forced = [t for t in self.must if t.diameter_mm >= 0.85 * reamer.diameter_mm]
        if forced:
            return [(forced[-1], (0, 0))] if forced[-1].diameter_mm < reamer.diameter_mm else []
        smallest = max(0.8 * reamer.diameter_mm - 1, self._largest_kept)
        sizes, drills = self.sizes, self._within(smallest - 1e-9, reamer.diameter_mm - 1e-9)
        if self.sheet:
            drills = drills[sizes.drill[drills]]
        low, high = wanted_stock(self.bench)
        least, most = constant("stock_least") * low, constant("stock_most") * high
        places: dict[str, tuple[Tool, list[int]]] = {}
        bought = self.bench.shop.name == CATALOG
        existing = self.bench.hole.existing_mm or 0.0
        alike: dict[tuple[str, bool], tuple[list[tuple[Any, ...]], ...]] = {}
        for led, previous in enumerate((existing, 0.5 * reamer.diameter_mm)):
            stock = reamer.diameter_mm - sizes.means(drills, previous)
            fits = (least - 1e-9 <= stock) & (stock <= most + 1e-9)
            for tool, left in zip(sizes.at(drills[fits]), stock[fits], strict=True):
                off = not low - 1e-9 <= left <= high + 1e-9
                other = tool.diameter.unit != self.bench.hole.own_unit
                seldom = bought and self.bench.price(tool) > constants("size_prices")["tenth"]
                entry = (other and bought, off, seldom and not off, other, -tool.diameter_mm, tool)
                alike.setdefault((tool.kind, tool.is_stub), ([], []))[led].append(entry)
        for kind in sorted(alike):
            for led, entries in enumerate(alike[kind]):
                for place, (*_, tool) in enumerate(sorted(entries, key=lambda entry: entry[:5])):
                    places.setdefault(tool.id, (tool, [UNPLACED, UNPLACED]))[1][led] = place
        if not places:
            self.note(
                tr(
                    "no drill in the crib leaves {reamer} its stock; one near {left_by} would, for {hole}",
                    reamer=reamer.name,
                    left_by=say(_left_by(reamer.diameter_mm, (low + high) / 2), self.bench.hole.unit, 2),
                    hole=self.bench.hole.id or tr("this hole"),
                )
            )
        found = sorted(places.values(), key=lambda entry: min(entry[1]))[:MOST_ENDS]
        return [(tool, (alone, led)) for tool, (alone, led) in found]

    def bare_endings(self, process: str, reamers: list[Tool]) -> list[tuple[ReamCut | None, BoreCut | None]]:
        """Finishers that take over a hole already there with no drill between."""
        hole, found = self.bench.hole, hole_found(self.bench)
        made: list[tuple[ReamCut | None, BoreCut | None]] = []
        if hole.existing_mm is None or self.must:
            return made
        depth = self.bench.corner_depth_mm
        if process == "ream":
            low, high = wanted_stock(self.bench)
            for reamer in reamers[:MOST_REAMERS]:
                stock = reamer.diameter_mm - found
                if constant("stock_least") * low - 1e-9 <= stock <= constant("stock_most") * high + 1e-9:
                    try:
                        made.append((ream_cut(self.bench, reamer, found, depth, 0.0), None))
                    except Rejected as why:
                        self.note(str(why))
        if process == "bore":
            kept = self.wishes.tool_of("bore")
            bars = bore_cuts(self.bench, hole.limits.middle_mm, depth, self.reasons)
            bars = [bar for bar in bars if kept in (None, bar.tool)]
            made += [(None, bar) for bar in bars if bar.low_mm <= found <= bar.high_mm][:1]
        return made

    def bore_endings(self, reamers: list[Tool]) -> list[Ending]:
        """Drills that leave a bar something to true; with `reamers` the bar leaves each of them its stock."""
        hole, bench = self.bench.hole, self.bench
        low, high = wanted_stock(bench)
        wanted: list[tuple[float, Tool | None]] = [(hole.limits.middle_mm, None)] if not reamers else []
        wanted += [(r.diameter_mm - (low + high) / 2, r) for r in reamers[:2]]
        found: list[Ending] = []
        bar_wanted = self.wishes.tool_of("bore")
        for rank, (target, reamer) in enumerate(wanted):
            ream = None
            bore_deep = bench.corner_depth_mm
            if reamer is not None:
                bore_deep, ream_deep, missing = self.last_depth_of(0.0, reamer)
                try:
                    ream = ream_cut(bench, reamer, target, ream_deep, missing)
                except Rejected as why:
                    self.note(str(why))
                    continue
            bars = [b for b in bore_cuts(bench, target, bore_deep, self.reasons) if bar_wanted in (None, b.tool)]
            if not bars:
                continue
            drills = self._before_bar(bars, bore_deep)
            if not drills:
                least = min(b.low_mm for b in bars)
                self.note(
                    tr(
                        "no drill in the crib leaves a bar {least} to {high_mm} to go in and true",
                        least=say(least, hole.unit, 1),
                        high_mm=say(bars[0].high_mm, hole.unit, 1),
                    )
                )
            price = constants("screen_prices")["reamer_place"] * rank
            price += bench.price(reamer) if reamer is not None else 0.0
            for drill, bar in drills:
                extra = price + bench.price(bar.tool)
                found.append(Ending(drill, self.short_of(drill, bore_deep), ream, extra, bore=bar))
        return found

    def _before_bar(self, bars: list[BoreCut], depth: float) -> list[tuple[Tool, BoreCut]]:
        """Drills that leave a bar something, each with the sturdiest bar that enters behind it.

        Of each kind the few largest, then some spread over the smaller ones, which the machine may bear better.
        """
        least, most = min(b.low_mm for b in bars), bars[0].high_mm
        by_kind: dict[str, list[tuple[Tool, BoreCut]]] = {}
        sizes = self.sizes
        which = self._few(self._within(least - 1, most))
        if self.must:
            which = np.array([k for k in self.near if sizes.tools[k].id == self.must[-1].id])
        half, found = sizes.means(which, 0.5 * sizes.d[which]), sizes.means(which, hole_found(self.bench))
        for tool, mean in zip(reversed(sizes.at(which)), np.minimum(half, found)[::-1], strict=True):
            if not self.must and self.bench.holding(tool) is not None:
                continue
            bar = next((b for b in bars if b.low_mm <= mean + 1e-9), None)
            seldom = self.bench.shop.name == CATALOG and self.bench.price(tool) > constants("size_prices")["tenth"]
            if bar is not None and mean <= most and not seldom:
                by_kind.setdefault(tool.kind, []).append((tool, bar))
        return [entry for fitting in by_kind.values() for entry in _spread(fitting)]

    def _few(self, which: Ints) -> Ints:
        """Of very many drills the largest and some evenly among the others."""
        if len(which) <= MANY:
            return which
        rest, large = which[: -MANY // 4], which[-MANY // 4 :]
        return np.concatenate([rest[:: len(rest) // (MANY // 2)], large])

    def mill_endings(self) -> list[Ending]:
        """Drills that stop short of a flat floor, and the end mill that squares it to the size."""
        hole, bench, found = self.bench.hole, self.bench, list[Ending]()
        wanted = self.wishes.tool_of("end_mill")
        mills = (
            [wanted]
            if wanted is not None
            else [t for t in bench.shop.of_kind("end_mill") if abs(t.diameter_mm - hole.nominal_mm) < 0.3]
        )
        for tool in mills:
            cut = mill_cut(bench, tool, hole.depth_mm)
            inside = hole.limits.lower_mm <= cut.expected.mean_mm <= hole.limits.upper_mm
            if cut.broken and wanted is None:
                self.note(cut.broken[0])
                continue
            if not inside and wanted is None:
                continue
            best = constant("mill_drill_share") * tool.diameter_mm
            drills = self.sizes.at(self._within(0.5 * tool.diameter_mm, tool.diameter_mm - 0.25))
            drills = (
                list(self.must[-1:]) or sorted(drills, key=lambda t: abs(t.diameter_mm - best))[: MOST_ENDS // 2]
            )
            price = self.bench.price(tool)
            for drill in drills:
                deep = self.short_of(drill, hole.depth_mm)
                if deep > 0.2:
                    off = abs(drill.diameter_mm - best) / tool.diameter_mm
                    found.append(Ending(drill, deep, None, price + off, mill=cut))
        if not found:
            self.note(
                tr(
                    "no center-cutting end mill in the crib cuts inside {lower_mm} to {upper_mm} "
                    "and reaches {depth_mm}; one would, or a bar",
                    lower_mm=say(hole.limits.lower_mm, hole.unit),
                    upper_mm=say(hole.limits.upper_mm, hole.unit),
                    depth_mm=say(hole.depth_mm, hole.unit, 1),
                )
            )
        return found

    def short_of(self, drill: Tool, depth_mm: float) -> float:
        """How deep a drill goes under a bar or end mill: short of a flat floor, or clear of what is under."""
        hole = self.bench.hole
        if hole.through:
            return depth_mm
        if hole.kind == "flat_bottom":
            return depth_mm - drill.point_mm - constant("mill_floor_mm")
        room = hole.tip_room_mm
        return depth_mm if room is None else min(depth_mm, room - drill.point_mm)

    def drill_endings(self, *, fine: bool = False) -> list[Ending]:
        """Drills whose expected hole lies inside the limits; `fine`: core drills and solid carbide only."""
        hole, limits = self.bench.hole, self.bench.hole.limits
        p, found = constants("screen_prices"), []
        depth = self.bench.corner_depth_mm
        forced = [t for t in self.must if t.diameter_mm >= 0.85 * hole.nominal_mm]
        if hole.feature.thread is not None and not forced:
            return self._tap_endings(depth)
        for tool in forced[-1:] or self._to_size(fine=fine):
            named = not hole.general or names(hole.diameter, tool)
            found.append(Ending(tool, depth, None, 0.0 if named else p["not_named"]))
        if not found:
            what = tr("core drill or carbide drill") if fine else "drill"
            near = _left_by(limits.middle_mm, 0.0)
            span = tr(
                "{lower_mm} to {upper_mm}",
                lower_mm=say(limits.lower_mm, hole.unit),
                upper_mm=say(limits.upper_mm, hole.unit),
            )
            self.note(
                tr(
                    "no {what} in the crib leaves a hole inside {span}; one near {near}, a reamer "
                    "or a bar to size would",
                    what=what,
                    span=span,
                    near=say(near, hole.unit, 2),
                )
            )
        found.sort(key=lambda e: abs(e.last.diameter_mm - limits.middle_mm))
        return found[:MOST_ENDS]

    def _to_size(self, *, fine: bool) -> list[Tool]:
        """Drills that leave a hole inside the limits, from solid or behind a pilot, smallest first."""
        hole, limits, sizes = self.bench.hole, self.bench.hole.limits, self.sizes
        which = self._within(max(limits.lower_mm - 2, self._largest_kept - 1e-9), limits.upper_mm)
        keep = sizes.core[which] | sizes.carbide[which] if fine else np.ones(len(which), dtype=bool)
        if hole.existing_mm is None:
            keep &= ~sizes.core[which]
        if self.sheet:
            keep &= sizes.drill[which]
        which = which[keep]
        inside = np.zeros(len(which), dtype=bool)
        for previous in (0.5 * hole.nominal_mm, hole.existing_mm or 0.0):
            mean = sizes.means(which, previous)
            inside |= (limits.lower_mm <= mean) & (mean <= limits.upper_mm)
        return sizes.at(which[inside])

    def _tap_endings(self, depth: float) -> list[Ending]:
        """The drill for the thread alone, or all around it where that is asked for (rules of record 27)."""
        hole = self.bench.hole
        thread = hole.feature.thread
        assert thread is not None
        bench, unit = self.bench, hole.own_unit if self.bench.shop.name == CATALOG else ""
        ranked = tap_order(
            thread,
            self.drills,
            bench.material,
            bench.practice,
            bench.price,
            hole.callout_drill,
            unit,
            hole.thread_percent,
        )
        if not ranked:
            low, high = (say(limit, hole.unit) for limit in (hole.limits.lower_mm, hole.limits.upper_mm))
            self.note(
                tr(
                    "no drill in the crib leaves a hole inside {low} to {high} for {thread}",
                    low=low,
                    high=high,
                    thread=thread.name,
                )
            )
        taken = ranked if self.any_tap_drill else [t for t in ranked if t.diameter == ranked[0].diameter]
        wanted = wanted_percent(self.bench.material, self.bench.practice, hole.thread_percent)
        each = constants("screen_prices")["thread_percent"]
        return [
            Ending(tool, depth, None, each * abs(thread.percent_of(tool.diameter_mm) - wanted))
            for tool in taken[:MOST_ENDS]
        ]

    def note(self, reason: str) -> None:
        self.reasons.setdefault(reason)


def hole_found(bench: Bench) -> float:
    """The hole already there in mm, 0 for solid."""
    return bench.hole.existing_mm or 0.0


def _spread(fitting: list[tuple[Tool, BoreCut]]) -> list[tuple[Tool, BoreCut]]:
    """The first few of a list, and as many evenly from the rest."""
    rest = fitting[MOST_BARRED:]
    return fitting[:MOST_BARRED] + rest[:: max(len(rest) // MOST_BARRED, 1)][:MOST_BARRED]


def _left_by(finished_mm: float, stock_mm: float) -> float:
    """About the drill that leaves a stock behind a pilot, in mm."""
    return finished_mm - stock_mm - float(survey_oversize(finished_mm)[1]) * (1 - constant("pilot_relief"))
