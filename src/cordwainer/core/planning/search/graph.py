"""The graph of diameters and operations: nodes are drills to their depth, arcs are one drill after another.

An arc's price and minutes depend only on the drill before it and on the speed that one left set, so the
screen adds up along a walk and the k best walks to every node, for every number of drills, are exact.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from cordwainer.core.cutting.force import Floats
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.steps.cuts import Bits, Ints, Work, at_work
from cordwainer.core.shop.tool import LONG_SERIES
from cordwainer.core.tables import constant, constants

Bools = npt.NDArray[np.bool_]
KEPT = 3
MOST_DRILLS = 12
EVEN_MM = 1e-9  # 4.8 is four tenths of 12, whatever a binary fraction makes of it


@dataclass(frozen=True, eq=False)
class Lead:
    """Minutes spent before the first drill, with its changes, and the speed then set on the machine.

    `started`: a center or spot is among them.
    """

    minutes: float
    rpm: float | None
    started: bool = True


@dataclass(frozen=True, eq=False)
class Web:
    """Drills that may lead (`leads` of them, first in `bits`) and drills that end a sequence (the rest).

    `must` marks the drills every walk has to pass; `lead_in` is what comes before each drill when it is the
    first, None where nothing can start it.
    """

    bench: Bench
    bits: Bits
    leads: int
    must: Bools
    lead_in: tuple[Lead | None, ...]
    extra_price: Floats

    @property
    def started(self) -> list[bool]:
        """Whether a center or spot comes before each drill when it is the first."""
        return [lead is None or lead.started for lead in self.lead_in]

    @cached_property
    def arcs(self) -> Arcs:
        """Every arc the rules and the machine allow, ordered by where it comes from."""
        return _arcs(self)


@dataclass(frozen=True, eq=False)
class Arcs:
    """Arcs as arrays of one length: from node (0: the hole as found), to drill, work, price, minutes."""

    source: Ints
    drill: Ints
    work: Work
    price: Floats
    minutes: Floats
    same_material: Bools
    first: Ints
    count: Ints


@dataclass(frozen=True, eq=False)
class Walks:
    """The best walks of one number of drills: arrays of one length; `parent` points into the walks before."""

    drill: Ints
    rpm: Floats
    minutes: Floats
    price: Floats
    parent: Ints
    arc: Ints

    def taken(self, which: Ints) -> Walks:
        """Some of the walks."""
        return Walks(*(getattr(self, name)[which] for name in self.__dataclass_fields__))


def allowed(web: Web) -> tuple[Bools, Bools]:
    """Which drill may follow which, rows being the hole as found and then the leads; and which follow oddly.

    Source: rules of record 3. Drills that must be passed may follow and lead oddly, at a price.
    """
    c, bits, n = constants(), web.bits, web.leads
    found = web.bench.hole.existing_mm or 0.0
    before = np.concatenate([[found], bits.d[:n]])[:, None]
    d, chisel = bits.d[None, :], bits.chisel[None, :]
    slender = (bits.d[:n] < c["pilot_least_mm"]) | (bits.depth[:n] > c["pilot_depth_per_d"] * bits.d[:n] + 1e-9)
    less, more = before - EVEN_MM, before + EVEN_MM
    pilot = (more >= chisel) & (less <= c["pilot_over_chisel"] * chisel)
    most = 1 - 2 * c["ring_grabs"] if web.bench.material.grabs else c["step_most"]
    step = (more >= np.maximum(c["step_least"] * d, chisel)) & (less <= most * d)
    regular = (pilot | step) & (d >= c["no_pilot_under_mm"])
    core = np.array([t.kind == "core_drill" for t in bits.tools])[None, :]
    ring = (more >= c["core_from"] * d) & (less <= d - c["core_least_ring_mm"])
    regular = np.where(core, ring, regular)
    regular[1:] &= ~slender[:, None]
    regular[0] = np.where(core[0], ring[0], before[0] <= thickest_hole(web.bench, d[0]))
    spade = np.array([t.kind == "spade_drill" for t in bits.tools])[None, :]
    regular &= ~(spade & (before > 0))
    rises = before < d - 1e-6
    rises &= ~(core & (before <= 0))
    must_from = np.concatenate([[False], web.must[:n]])[:, None]
    wanted = must_from | web.must[None, :]
    fine = np.array([not why for why in bits.why]) | web.must
    arcs = rises & (regular | wanted) & fine[None, :]
    for size in bits.d[web.must]:
        arcs &= ~((before < size - 1e-6) & (d > size + 1e-6))
        arcs &= ~((np.abs(d - size) < 1e-6) & ~web.must[None, :])
    arcs[1:][~(fine[:n])] = False
    starts = np.array([lead is not None for lead in web.lead_in])
    arcs[0] &= starts
    return arcs, ~regular


def thickest_hole(bench: Bench, drill_mm: Any) -> Any:
    """The largest hole already there that a drill still opens without grabbing, in mm; floats or arrays.

    A ring of 0.015 d a side; of 0.15 in a metal that grabs. Source: rules of record 3, common practice.
    """
    return (1 - 2 * constant("ring_grabs" if bench.material.grabs else "ring_least")) * drill_mm


def _arcs(web: Web) -> Arcs:
    bench, bits, n = web.bench, web.bits, web.leads
    mask, odd = allowed(web)
    source, drill = np.nonzero(mask)
    before = np.concatenate([[bench.hole.existing_mm or 0.0], bits.d[:n]])
    work = at_work(bench, bits, drill, before[source])
    touched = web.must[drill] | np.concatenate([[False], web.must[:n]])[source]
    keep = (work.fails == 0) | touched
    price = _prices(web, source, drill, before[source], work)
    price += constants("screen_prices")["odd"] * odd[source, drill] * touched + 30.0 * (work.fails > 0)
    change = np.array(
        [
            minutes_of("tool_change_drill_chuck" if t.shank == "straight" else "tool_change_taper_shank")
            for t in bits.tools
        ]
    )
    minutes = work.minutes_fixed + change[drill]
    chains = [(t.material, t.kind == "spade_drill") for t in bits.tools]
    codes = {name: i for i, name in enumerate(sorted(set(chains)))}
    material = np.array([codes[name] for name in chains], dtype=int)
    same = (source > 0) & (material[drill] == material[np.maximum(source - 1, 0)])
    if not keep.all():
        source, drill, price, minutes, same = (x[keep] for x in (source, drill, price, minutes, same))
        work = Work(*(getattr(work, name)[keep] for name in work.__dataclass_fields__))
    first = np.searchsorted(source, np.arange(n + 2))
    return Arcs(source, drill, work, price, minutes, same, first[:-1], np.diff(first))


def _prices(web: Web, source: Ints, drill: Ints, before: Floats, work: Work) -> Floats:
    """What the practice would avoid, in minutes (`screen_prices.csv`)."""
    bench, bits, c = web.bench, web.bits, constants()
    p, pilot = constants("screen_prices"), bench.practice.pilot
    tools, d = bits.tools, bits.d
    fast = np.array([s.too_fast for s in bits.speed])
    flute = np.array([np.inf if t.flute_length_mm is None else t.flute_length_mm for t in tools])
    short = flute - bits.tip < c["flute_room_per_d"] * d
    each = p["too_fast"] * fast + p["flute_room"] * short + web.extra_price
    series = {name: p["long_series"] * (1 + 0.4 * more) for more, name in enumerate(LONG_SERIES)}
    series |= {"carbide_self_centering": p["carbide"], "insert": p["spade"]}
    each = each + np.array([series.get(t.series, 0.0) for t in tools])
    price: Floats = each[drill]
    core = np.array([t.kind == "core_drill" for t in tools])[drill]
    share = before / d[drill]
    thin = (share > c["step_most"] + 1e-9) & ~core
    price = price + p["core_from_solid"] * (core & (bench.hole.existing_mm is None))
    price = price + p["ring"] * ((share > 1 - 2 * p["ring_from"]) & ~core & ~thin) + p["thin_ring"] * thin
    stepping = pilot == "steps"
    unled = (source == 0) & (before <= 0) & ~np.array(web.started)[drill]
    if bench.practice.self_start != "trust":
        price = price + p["self_started"] * unled
    if pilot == "straight":
        led: Floats = price + p["led_where_straight"] * (source > 0)
        return led
    if stepping:
        price = price + p["from_solid"] * ((before <= 0) & (d[drill] > c["no_pilot_under_mm"]))
        leap = (d[drill] > p["leap_from_mm"]) & (np.array([t.kind for t in tools])[drill] != "spade_drill")
        leap &= before < c["step_least"] * d[drill]
        price = price + p["leap"] * leap
    return price


def walks(web: Web, *, priced: bool) -> Iterator[Walks]:
    """The k best walks for each number of drills in turn; by cost, or by minutes alone.

    Ends are kept for each arc into them, since what a drill leaves depends on the hole it found.
    """
    arcs, n = web.arcs, web.leads
    change = minutes_of(f"speed_change_{web.bench.machine.drive}")
    into = np.arange(arcs.count[0])
    drill, rpm = arcs.drill[into], arcs.work.rpm[into]
    leads = [web.lead_in[j] for j in drill]
    lead = np.array([found.minutes if found else 0.0 for found in leads])
    set_rpm = np.array([(found.rpm if found else None) or 0.0 for found in leads])
    minutes = lead + arcs.work.turns[into] / rpm + arcs.minutes[into]
    minutes += change * ((set_rpm > 0) & (set_rpm != rpm))
    weight = 1.0 if priced else 1e-6
    found = Walks(drill, rpm, minutes, arcs.price[into], np.full(len(into), -1), into)
    for _ in range(MOST_DRILLS):
        found = _best(found, n, weight)
        yield found
        at = np.flatnonzero(found.drill < n)
        leading = found.taken(at)
        node = leading.drill + 1
        count = arcs.count[node]
        total = int(count.sum())
        if not total:
            return
        parent = np.repeat(np.arange(len(node)), count)
        arc = np.repeat(arcs.first[node] - np.cumsum(count) + count, count) + np.arange(total)
        before = leading.rpm[parent]
        rpm = np.where(arcs.same_material[arc], np.minimum(arcs.work.rpm[arc], before), arcs.work.rpm[arc])
        step = arcs.work.turns[arc] / rpm + arcs.minutes[arc] + change * (rpm != before)
        minutes, price = leading.minutes[parent] + step, leading.price[parent] + arcs.price[arc]
        found = Walks(arcs.drill[arc], rpm, minutes, price, at[parent], arc)


def _best(found: Walks, leads: int, weight: float) -> Walks:
    """The k best of each drill and speed; for drills that end a sequence, of each arc into them."""
    if not len(found.drill):
        return found
    key = np.where(found.drill < leads, found.drill, leads + found.arc)
    order = np.lexsort((found.minutes + weight * found.price, found.rpm, key))
    key, rpm = key[order], found.rpm[order]
    fresh = np.concatenate([[True], (key[1:] != key[:-1]) | (rpm[1:] != rpm[:-1])])
    start = np.flatnonzero(fresh)
    place = np.arange(len(order)) - np.repeat(start, np.diff(np.append(start, len(order))))
    return found.taken(order[place < KEPT])


def way(layers: list[Walks], layer: int, index: int) -> tuple[int, ...]:
    """The drills of one walk in order, as indices into the web's bits."""
    drills = []
    while layer >= 0:
        drills.append(int(layers[layer].drill[index]))
        index = int(layers[layer].parent[index])
        layer -= 1
    return tuple(reversed(drills))
