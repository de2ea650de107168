"""Sequences of drills before the finisher: plain enumeration within the rules.

A chain is the drills in order, each one a `DrillCut`; the screen that ranks chains is additive:
minutes, tool and speed changes, and a price in minutes for what the practice would avoid.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache, cached_property

from cordwainer.core.formation.oversize import expected_drilled, expected_reamed
from cordwainer.core.planning.bench import Bench, minutes_of
from cordwainer.core.planning.cuts import DrillCut, ReamCut, Rejected, drill_cut, ream_cut
from cordwainer.core.planning.finish import Stock, drills_to_size, normal_cdf, stock_for, undersize_drills, within
from cordwainer.core.planning.starts import needs_start
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constants

MOST_PILOTS, MOST_STEPS, MOST_LAST = 5, 14, 3


@cache
def _price(what: str) -> float:
    return constants("screen_prices")[what]


@dataclass(frozen=True)
class Chain:
    """Drills in order and the reamer after them, if any, with the screen's figures."""

    drills: tuple[DrillCut, ...]
    ream: ReamCut | None
    stock: Stock | None
    chance: float
    cost: float
    minutes: float


@dataclass
class Search:
    """One hole's search: remembers cuts it has worked out and why others fell."""

    bench: Bench
    reasons: dict[str, None] = field(default_factory=dict)
    _cuts: dict[tuple[str, float, float], DrillCut | None] = field(default_factory=dict)
    _openers: dict[tuple[str, float], tuple[list[Tool], list[Tool]]] = field(default_factory=dict)

    def cut(self, tool: Tool, previous_mm: float, depth_mm: float) -> DrillCut | None:
        """The drilling cut, or None with its reason noted."""
        key = (tool.id, previous_mm, round(depth_mm, 6))
        if key not in self._cuts:
            try:
                self._cuts[key] = drill_cut(self.bench, tool, previous_mm, depth_mm)
            except Rejected as why:
                self._cuts[key] = None
                self.reasons.setdefault(str(why))
        return self._cuts[key]

    # -- which drills may stand where ------------------------------------------------

    @cached_property
    def drills(self) -> list[Tool]:
        """Drills of the crib that could stand in any sequence here, smallest first."""
        existing = self.bench.hole.existing_mm or 0.0
        return [t for t in self.bench.shop.of_kind("drill") if t.diameter_mm > existing + 1e-9]

    @cached_property
    def _sizes(self) -> list[float]:
        return [t.diameter_mm for t in self.drills]

    def _between(self, low_mm: float, high_mm: float) -> list[Tool]:
        return self.drills[bisect_left(self._sizes, low_mm - 1e-9) : bisect_right(self._sizes, high_mm + 1e-9)]

    def openers(self, drill: Tool, depth_mm: float) -> tuple[list[Tool], list[Tool]]:
        """Pilots and steps that may come right before a drill (rules of record 3)."""
        key = drill.id, round(depth_mm, 6)
        if key not in self._openers:
            self._openers[key] = self._find_openers(drill, depth_mm)
        return self._openers[key]

    def _find_openers(self, drill: Tool, depth_mm: float) -> tuple[list[Tool], list[Tool]]:
        c, d = constants(), drill.diameter_mm
        if d < c["no_pilot_under_mm"] or self.bench.practice.pilot == "straight":
            return [], []
        least = max(c["pilot_least_mm"], depth_mm / c["pilot_depth_per_d"], drill.chisel_mm)
        pilots = self._between(least, min(c["pilot_over_chisel"] * drill.chisel_mm, 0.999 * d))
        steps = self._between(max(least, c["step_least"] * d), c["step_most"] * d)
        return spread(self._own(pilots), MOST_PILOTS), spread(self._own(steps), MOST_STEPS)

    def _own(self, tools: list[Tool]) -> list[Tool]:
        """Tools in the hole's own unit where there are enough, one of each size and length class."""
        own = [t for t in tools if t.diameter.unit == self.bench.hole.unit]
        return own if len(own) >= 2 else tools

    # -- depths --------------------------------------------------------------------

    def led_depth(self, tool: Tool, last: Tool, last_depth_mm: float) -> float:
        """Depth of a pilot or step so that it stays inside what the last drill cuts."""
        if self.bench.hole.through:
            return self.bench.corner_depth_mm
        last_tip = last_depth_mm + last.point_mm
        slope = last.point_mm / (last.diameter_mm / 2)
        return min(last_tip - tool.diameter_mm / 2 * slope, last_tip - tool.point_mm)

    def last_depth(self, drill: Tool, reamer: Tool) -> tuple[float, float, float]:
        """Depths of the last drill and of the reamer after it, and what is missing, in mm."""
        hole = self.bench.hole
        if hole.through:
            return self.bench.corner_depth_mm, self.bench.corner_depth_mm, 0.0
        lead = reamer.point_mm
        wanted = hole.depth_mm + lead + constants()["chip_room_per_d"] * reamer.diameter_mm
        room = hole.tip_room_mm
        deep = wanted if room is None else min(wanted, room - drill.point_mm)
        full = min(hole.depth_mm, deep - lead)
        return deep, full, max(hole.depth_mm - full, 0.0)

    # -- chains ----------------------------------------------------------------------

    def leads(self, last: Tool, last_depth_mm: float) -> Iterator[tuple[Tool, ...]]:
        """Drills before the last one: none, one, or a pilot and a step."""
        yield ()
        pilots, steps = self.openers(last, self.led_depth(last, last, last_depth_mm))
        for tool in (*pilots, *steps):
            yield (tool,)
        for step in steps:
            if step.is_stub:
                continue
            before, _ = self.openers(step, self.led_depth(step, last, last_depth_mm))
            for pilot in before:
                yield (pilot, step)

    def chain_cuts(self, lead: tuple[Tool, ...], last: Tool, last_depth_mm: float) -> tuple[DrillCut, ...] | None:
        """The cuts of one chain, or None where one of them cannot be made."""
        previous = self.bench.hole.existing_mm or 0.0
        found = []
        for tool in (*lead, last):
            depth = last_depth_mm if tool is last else self.led_depth(tool, last, last_depth_mm)
            if depth <= 0:
                return None
            cut = self.cut(tool, previous, depth)
            if cut is None:
                return None
            found.append(cut)
            previous = tool.diameter_mm
        return tuple(found)

    def reamed(self, reamers: list[Tool]) -> Iterator[Chain]:
        """All chains that end in one of the reamers."""
        drills = self.drills
        for reamer in reamers[:MOST_LAST]:
            for last, places in self._last_drills(reamer, drills):
                drill_depth, ream_depth, missing = self.last_depth(last, reamer)
                if ream_depth <= 0 or drill_depth <= 0:
                    self.reasons.setdefault(
                        f"{last.name}: the floor leaves no room for its point under the reamer's lead"
                    )
                    continue
                try:
                    ream = ream_cut(self.bench, reamer, last.diameter_mm, ream_depth, missing)
                except Rejected as why:
                    self.reasons.setdefault(str(why))
                    break
                for lead in self.leads(last, drill_depth):
                    cuts = self.chain_cuts(lead, last, drill_depth)
                    if cuts is None:
                        continue
                    stock = stock_for(self.bench, reamer, cuts[-1].expected.mean_mm)
                    if stock.allowed:
                        yield self._screened(cuts, ream, stock, places.get(bool(lead), MOST_LAST))

    def _last_drills(self, reamer: Tool, drills: list[Tool]) -> list[tuple[Tool, dict[bool, int]]]:
        """Undersize drills worth trying, with their place in the choice led by a drill (True) or not."""
        existing = self.bench.hole.existing_mm or 0.0
        found: dict[str, tuple[Tool, dict[bool, int]]] = {}
        for group in ([t for t in drills if not t.is_stub], [t for t in drills if t.is_stub]):
            for led, previous in ((True, 0.5 * reamer.diameter_mm), (False, existing)):
                ranked = undersize_drills(self.bench, reamer, group, previous)
                for place, tool in enumerate(ranked[:MOST_LAST]):
                    found.setdefault(tool.id, (tool, {}))[1][led] = place
        if not found:
            least = self.bench.hole
            self.reasons.setdefault(
                f"no drill in the crib leaves {reamer.name} its stock; one near "
                f"{_stock_size(self.bench, reamer):.2f} mm would, for {least.id or 'this hole'}"
            )
        return list(found.values())

    def drilled(self) -> Iterator[Chain]:
        """All chains that end in a drill of the hole's own size."""
        drills = self.drills
        depth = self.bench.corner_depth_mm
        existing = self.bench.hole.existing_mm or 0.0
        seen: dict[str, Tool] = {}
        for previous in {0.5 * self.bench.hole.nominal_mm, existing}:
            for tool, _ in drills_to_size(self.bench, drills, previous)[: 2 * MOST_LAST]:
                seen.setdefault(tool.id, tool)
        if not seen:
            self.reasons.setdefault(
                "no drill in the crib leaves a hole inside the limits; a reamer or a bar to size would"
            )
        for last in seen.values():
            for lead in self.leads(last, depth):
                cuts = self.chain_cuts(lead, last, depth)
                if cuts is None:
                    continue
                expected = cuts[-1].expected
                limits = self.bench.hole.limits
                if limits.lower_mm <= expected.mean_mm <= limits.upper_mm:
                    yield self._screened(cuts, None, None)

    # -- the screen ------------------------------------------------------------------

    def _screened(
        self, cuts: tuple[DrillCut, ...], ream: ReamCut | None, stock: Stock | None, place: int = 0
    ) -> Chain:
        bench, last = self.bench, cuts[-1]
        if ream is None:
            chance = within(last.expected, bench.hole.limits)
        else:
            clean = ream.tool.diameter_mm - constants()["reamer_clean_mm"]
            cleans = normal_cdf((clean - last.expected.mean_mm) / last.expected.sd_mm)
            chance = cleans * within(expected_reamed(ream.tool), bench.hole.limits)
        minutes = sum(cut.minutes for cut in cuts) + (ream.minutes if ream else 0.0)
        minutes += (len(cuts) + (1 if ream else 0)) * minutes_of("tool_change_drill_chuck")
        speed_change = minutes_of(f"speed_change_{bench.machine.drive}")
        minutes += speed_change * len({cut.rpm for cut in cuts})
        if needs_start(bench, cuts[0].tool):
            minutes += minutes_of("tool_change_drill_chuck")
        price = self._prices(cuts, ream, stock, chance) + place * _price("second_choice")
        return Chain(cuts, ream, stock, chance, minutes + price, minutes)

    def _prices(
        self, cuts: tuple[DrillCut, ...], ream: ReamCut | None, stock: Stock | None, chance: float
    ) -> float:
        bench, first = self.bench, cuts[0]
        price = _price("miss") * (1 - chance)
        for cut in cuts:
            price += _price("slowed") if cut.slowed_for else 0.0
            price += _price("too_fast") if cut.speed.too_fast else 0.0
            price += 0.0 if cut.tool.diameter.unit == bench.hole.unit else _price("other_unit")
            flute = cut.tool.flute_length_mm
            if flute is not None and flute - cut.tip_mm < constants()["flute_room_per_d"] * cut.tool.diameter_mm:
                price += _price("flute_room")
        stepping = bench.practice.pilot == "steps"
        plain_point = stepping or not first.tool.split_point
        if first.previous_mm <= 0 and plain_point and bench.practice.pilot != "straight":
            limit = constants()["no_pilot_under_mm"] if stepping else _price("plain_from_solid_mm")
            price += _price("from_solid") if first.tool.diameter_mm > limit else 0.0
        if stepping:
            opened = [cut for cut in cuts if cut.tool.diameter_mm > _price("plain_from_solid_mm")]
            leaps = [c for c in opened if c.previous_mm < constants()["step_least"] * c.tool.diameter_mm]
            price += _price("leap") * len(leaps)
        if stock is not None and not stock.on_target:
            price += _price("stock_outside")
        if ream is not None:
            price += _price("missing_depth") if ream.missing_mm > 1e-6 else 0.0
            price += 0.0 if ream.tool.diameter.unit == bench.hole.unit else _price("other_unit")
        elif bench.hole.kind == "plain" and cuts[-1].tool.diameter != bench.hole.diameter:
            price += _price("not_named")
        return price


def _stock_size(bench: Bench, reamer: Tool) -> float:
    stock = stock_for(bench, reamer, reamer.diameter_mm)
    middle = (stock.low_mm + stock.high_mm) / 2
    nominal = reamer.diameter_mm - middle
    probe = next(iter(bench.shop.of_kind("drill")), None)
    if probe is None:
        return nominal
    return nominal - 0.4 * (expected_drilled(probe).mean_mm - probe.diameter_mm)


def spread(tools: list[Tool], most: int) -> list[Tool]:
    """At most so many of the tools, evenly through the list, both ends kept."""
    if len(tools) <= most:
        return tools
    span = len(tools) - 1
    return [tools[round(i * span / (most - 1))] for i in range(most)]
