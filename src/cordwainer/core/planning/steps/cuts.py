"""Drills and reamers at work on one hole: may they, how fast, how deep, what do they leave.

What does not depend on the hole a drill finds is worked out once for each drill (`Bits`); what does
is worked out for any number of meetings of drill and hole at once (`at_work`). Every hard limit
that rejects a cut says why, with its numbers; a cut the machinist insists on keeps its reasons in
`broken` instead.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.force import Floats, Load, drill_load, power_kw
from cordwainer.core.formation.lips import added
from cordwainer.core.formation.oversize import Expected, expected_mean_sd
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench, clear_minutes, cut_minutes, feed_turns, minutes_of
from cordwainer.core.planning.steps.reach import (
    Rejected,
    holding_reason,
    reach_reasons,
    too_fast_a_machine,
    travel_reason,
)
from cordwainer.core.planning.words.sentences import force_words, power_words
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

FEED_STEPS = 12
FINE, TRAVEL, THRUST, POWER = 0, 1, 2, 3
Ints = npt.NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Bits:
    """Drills, each to one depth: what does not depend on the hole they find. Arrays of shape (n,).

    `feeds` has shape (n, 13): the feed wanted, then the lighter ones to fall back on, in order.
    `why` holds the hard limits each breaks, `lean` how far the tip leads the edge for 1 mm of radius.
    """

    tools: tuple[Tool, ...]
    speed: tuple[speeds.Speed, ...]
    feed: tuple[feeds.Feed, ...]
    pecks: tuple[tuple[float, ...], ...]
    why: tuple[tuple[str, ...], ...]
    d: Floats
    depth: Floats
    tip: Floats
    lean: Floats
    chisel: Floats
    wear: Floats
    learned: Floats
    share: Floats
    lips: Floats
    lips_sd: Floats
    rpm: Floats
    feeds: Floats
    fixed_minutes: Floats
    slow_mm: Floats

    def __len__(self) -> int:
        return len(self.tools)


def make_bits(bench: Bench, tools: Sequence[Tool], depths_mm: Sequence[float]) -> Bits:
    """The drills of a search, each with the depth of full diameter it is wanted to."""
    found = [_kept_bit(bench, tool, depth) for tool, depth in zip(tools, depths_mm, strict=True)]
    points = [added(tool, tool.point) for tool in tools]
    d = np.array([t.diameter_mm for t in tools], dtype=float)
    point = np.array([t.point_mm for t in tools], dtype=float)
    depth = np.array(depths_mm, dtype=float)
    out = constant("breakthrough_before_mm")
    comes_out = bench.hole.through & (depth + point > bench.hole.depth_mm - out)
    slow = np.where(comes_out, out + point + bench.hole.exit_sag_mm, 0.0)
    return Bits(
        tools=tuple(tools),
        speed=tuple(f[0] for f in found),
        feed=tuple(f[1] for f in found),
        pecks=tuple(f[2] for f in found),
        why=tuple(f[3] for f in found),
        d=d,
        depth=depth,
        tip=depth + point,
        lean=point / (d / 2),
        chisel=np.array([t.chisel_mm for t in tools], dtype=float),
        wear=np.array([t.wear for t in tools], dtype=float),
        learned=np.array([t.oversize_factor for t in tools], dtype=float),
        share=np.array([p.share for p in points], dtype=float),
        lips=np.array([p.mm for p in points], dtype=float),
        lips_sd=np.array([p.sd for p in points], dtype=float),
        rpm=np.array([f[0].rpm or 0.0 for f in found], dtype=float),
        feeds=np.array([f[4] for f in found], dtype=float).reshape(len(d), FEED_STEPS + 1),
        fixed_minutes=np.array([clear_minutes(f[2], bench.machine) for f in found], dtype=float),
        slow_mm=slow,
    )


_Bit = tuple[speeds.Speed, feeds.Feed, tuple[float, ...], tuple[str, ...], list[float]]


def _kept_bit(bench: Bench, tool: Tool, depth_mm: float) -> _Bit:
    key = ("drill", tool.id, depth_mm)
    if key not in bench.kept:
        bench.kept[key] = _bit(bench, tool, depth_mm)
    kept: _Bit = bench.kept[key]
    return kept


def _bit(bench: Bench, tool: Tool, depth_mm: float) -> _Bit:
    d, tip = tool.diameter_mm, depth_mm + tool.point_mm
    why = []
    held = holding_reason(bench, tool)
    if held:
        why.append(held)
    why += reach_reasons(bench, tool, depth_mm, tip)
    speed = bench.speed(tool.kind, tool.material, d, depth_mm, tool.sheet_m_min)
    if speed.refused or speed.rpm is None:
        why.append(too_fast_a_machine(bench, tool))
    feed = feeds.choose(bench.material, "drill", d, depth_mm, bench.machine, sheet_mm=tool.sheet_feed_mm)
    if tool.material == "carbide" and feed.source == "hand":
        why.append(tr("{tool}: solid carbide snaps when it is fed by hand; it wants a power feed", tool=tool.name))
    carbide = tool.material == "carbide"
    pecks: tuple[float, ...] = ()
    if tool.kind == "drill" and bench.hole.peck_mm is not None:
        pecks = depths.pecks_of(tip, bench.hole.peck_mm)
    elif tool.kind == "drill" and bench.practice.pecking == "by_depth":
        pecks = depths.pecks(depth_mm, tip, d, carbide=carbide, hardens=bench.material.hardens)
    elif tool.kind == "drill" and bench.practice.pecking == "often":
        pecks = depths.pecks(depth_mm, tip, d, carbide=carbide, often=True)
    return speed, feed, pecks, tuple(why), lighter_feeds(bench, feed)


def lighter_feeds(bench: Bench, chosen: feeds.Feed) -> list[float]:
    """The feed wanted and twelve to fall back on, down to the table's low end (rules of record 7)."""
    wanted, lowest = chosen.mm_per_rev, chosen.allowed.low
    if chosen.source == "power":
        listed = [f for f in bench.machine.feeds_mm_per_rev or () if lowest - 1e-9 <= f < wanted]
        lighter = sorted(listed, reverse=True)[:FEED_STEPS] or [wanted]
        return [wanted, *lighter, *[lighter[-1]] * (FEED_STEPS - len(lighter))]
    span = wanted - lowest
    return [wanted, *(wanted - span * (i + 1) / FEED_STEPS for i in range(FEED_STEPS))]


@dataclass(frozen=True, eq=False)
class Work:
    """Drills opening holes: arrays of one shape. `fails` says which limit even the mildest cut breaks."""

    feed: Floats
    rpm: Floats
    thrust: Floats
    torque: Floats
    slowed: Ints
    fails: Ints
    start: Floats
    turns: Floats
    minutes_fixed: Floats
    mean: Floats
    sd: Floats


def at_work(bench: Bench, bits: Bits, which: Ints, previous_mm: Floats) -> Work:
    """What drills `which` of `bits` do to holes of `previous_mm` (0: solid); arrays of shape (m,).

    Too much thrust or power: first the feed comes down to the table's low end, then the speed step
    by step (rules of record 7). `turns` over rev/min plus `minutes_fixed` are the minutes at the cut.
    """
    d, chisel = bits.d[which], bits.chisel[which]
    ratio, wear = chisel / d, bits.wear[which]
    kd_torque, kd_thrust = bench.force_constants
    feed, rpm = bits.feeds[which, 0], bits.rpm[which].copy()
    load = drill_load(d, feed, kd_torque, kd_thrust, ratio, previous_mm, wear)
    thrust, torque = np.asarray(load.thrust_n, float), np.asarray(load.torque_nm, float)
    slowed, fails = np.zeros(len(d), int), np.zeros(len(d), int)
    most_thrust, most_power = bench.machine.thrust_n, bench.power_kw
    over = np.flatnonzero((thrust > most_thrust) | (power_kw(torque, rpm) > most_power))
    if len(over):
        slowed[over] = np.where(thrust[over] > most_thrust, THRUST, POWER)
        tried = bits.feeds[which[over], 1:]
        columns = (x[over][:, None] for x in (ratio, previous_mm, wear))
        lighter = drill_load(d[over][:, None], tried, kd_torque, kd_thrust, *columns)
        powers = power_kw(np.asarray(lighter.torque_nm), rpm[over][:, None])
        fits = (np.asarray(lighter.thrust_n) <= most_thrust) & (powers <= most_power)
        taken = np.where(fits.any(axis=1), fits.argmax(axis=1), FEED_STEPS - 1)
        row = np.arange(len(over))
        feed[over] = tried[row, taken]
        thrust[over] = np.asarray(lighter.thrust_n)[row, taken]
        torque[over] = np.asarray(lighter.torque_nm)[row, taken]
        fails[over] = np.where(thrust[over] > most_thrust, THRUST, FINE)
        fast = over[power_kw(torque[over], rpm[over]) > most_power]
        if len(fast):
            steps = np.array(bench.machine.steps())
            bearable = most_power * 9550.0 / torque[fast]
            step = np.searchsorted(steps, bearable * (1 + 1e-12), side="right") - 1
            fails[fast] = np.where((step < 0) & (fails[fast] == FINE), POWER, fails[fast])
            rpm[fast] = np.minimum(rpm[fast], steps[np.maximum(step, 0)])
            slowed[fast] = POWER
    start = bits.lean[which] * previous_mm / 2
    room, fixed = bench.travel_room_mm, bits.fixed_minutes[which]
    if room is not None:
        beyond = bits.tip[which] - start > room + 1e-9
        if not bench.strokes_possible:
            fails[beyond] = TRAVEL
        elif beyond.any():
            moves = np.ceil((bits.tip[which] - start) / room - 1e-9) - 1
            fixed = fixed + np.maximum(moves, 0) * minutes_of("move_up")
    own = (bits.share[which], bits.lips[which], bits.lips_sd[which])
    mean, sd = expected_mean_sd(d, chisel, bits.learned[which], previous_mm, *own)
    turns = feed_turns(bits.tip[which], start, feed, bits.slow_mm[which])
    return Work(feed, rpm, thrust, torque, slowed, fails, start, turns, fixed, mean, sd)


@dataclass(frozen=True)
class DrillCut:
    """A drill opening a hole of `previous_mm` to its own size, to `depth_mm` of full diameter."""

    tool: Tool
    previous_mm: float
    depth_mm: float
    speed: speeds.Speed
    rpm: float
    feed: feeds.Feed
    feed_mm_per_rev: float
    load: Load
    expected: Expected
    slowed_for: str | None
    pecks_mm: tuple[float, ...]
    turns: float
    fixed_minutes: float
    tip_at_start_mm: float
    broken: tuple[str, ...] = ()

    @property
    def tip_mm(self) -> float:
        """Depth of the tip below the face."""
        return self.depth_mm + self.tool.point_mm

    def minutes_at(self, rpm: float, feed_mm_per_rev: float) -> float:
        """Minutes at the cut at another speed and feed."""
        return self.turns * self.feed_mm_per_rev / feed_mm_per_rev / rpm + self.fixed_minutes


def drill_cut(
    bench: Bench, tool: Tool, previous_mm: float, depth_mm: float, *, insisted: bool = False
) -> DrillCut:
    """One drilling cut. Hard limits raise `Rejected`; an insisted one keeps them in `broken`."""
    bits = make_bits(bench, [tool], [depth_mm])
    work = at_work(bench, bits, np.zeros(1, int), np.array([previous_mm]))
    broken = [*bits.why[0], *_failing(bench, tool, bits, work)]
    if broken and not insisted:
        raise Rejected(broken[0])
    rpm = float(work.rpm[0]) or bench.machine.steps()[0]
    return DrillCut(
        tool=tool,
        previous_mm=previous_mm,
        depth_mm=depth_mm,
        speed=bits.speed[0],
        rpm=rpm,
        feed=bits.feed[0],
        feed_mm_per_rev=float(work.feed[0]),
        load=Load(float(work.thrust[0]), float(work.torque[0])),
        expected=Expected(float(work.mean[0]), float(work.sd[0])),
        slowed_for={THRUST: "thrust", POWER: "power"}.get(int(work.slowed[0])),
        pecks_mm=bits.pecks[0],
        turns=float(work.turns[0]),
        fixed_minutes=float(work.minutes_fixed[0]),
        tip_at_start_mm=float(work.start[0]),
        broken=tuple(broken),
    )


def _failing(bench: Bench, tool: Tool, bits: Bits, work: Work) -> list[str]:
    code, rpm, machine, unit = int(work.fails[0]), float(work.rpm[0]), bench.machine, bench.hole.unit
    if code == TRAVEL:
        return [travel_reason(bench, tool, float(bits.tip[0] - work.start[0]))]
    if code == THRUST:
        return [
            tr(
                "{tool}: needs {force_words} of thrust even at the lightest feed, {machine} "
                "stands {force_words_2}",
                tool=tool.name,
                force_words=force_words(float(work.thrust[0]), unit),
                machine=machine.name,
                force_words_2=force_words(machine.thrust_n, unit),
            )
        ]
    if code == POWER:
        return [
            tr(
                "{tool}: needs {power_words} even at {rpm:g} rev/min and the lightest feed, "
                "{machine} gives {power_words_2} at the cut",
                tool=tool.name,
                power_words=power_words(power_kw(float(work.torque[0]), rpm), unit),
                rpm=rpm,
                machine=machine.name,
                power_words_2=power_words(bench.power_kw, unit),
            )
        ]
    return []


@dataclass(frozen=True)
class ReamCut:
    """A reamer finishing the hole to `depth_mm` of full diameter."""

    tool: Tool
    previous_mm: float
    depth_mm: float
    missing_mm: float
    speed: speeds.Speed
    rpm: float
    feed: feeds.Feed
    turns: float
    fixed_minutes: float
    broken: tuple[str, ...] = ()
    clears: int = 0

    @property
    def tip_mm(self) -> float:
        """Depth of the reamer's front end below the face."""
        return self.depth_mm + self.tool.point_mm

    def minutes_at(self, rpm: float, feed_mm_per_rev: float) -> float:
        """Minutes at the cut at another speed and feed."""
        return self.turns * self.feed.mm_per_rev / feed_mm_per_rev / rpm + self.fixed_minutes


def ream_cut(
    bench: Bench, tool: Tool, previous_mm: float, depth_mm: float, missing_mm: float, *, insisted: bool = False
) -> ReamCut:
    """One reaming cut. Hard limits raise `Rejected`; an insisted one keeps them in `broken`."""
    tip = depth_mm + tool.point_mm
    broken = [held] if (held := holding_reason(bench, tool)) else []
    broken += reach_reasons(bench, tool, depth_mm, tip)
    room = bench.travel_room_mm
    if room is not None and tip > room + 1e-9 and not bench.strokes_possible:
        broken.append(travel_reason(bench, tool, tip))
    speed = bench.speed("ream", tool.material, tool.diameter_mm, depth_mm, tool.sheet_m_min)
    if speed.refused or speed.rpm is None:
        broken.append(
            tr(
                "{tool}: even the slowest step, {steps:g} rev/min, is more than twice the "
                "fastest reaming speed for {material}",
                tool=tool.name,
                steps=bench.machine.steps()[0],
                material=bench.material.name,
            )
        )
    if broken and not insisted:
        raise Rejected(broken[0])
    chosen = feeds.choose(
        bench.material, "ream", tool.diameter_mm, depth_mm, bench.machine, sheet_mm=tool.sheet_feed_mm
    )
    clears = 0
    if draws_back(bench, tool, previous_mm, depth_mm):
        clears = max(math.ceil(depth_mm / (1.5 * tool.diameter_mm)) - 1, 0)
    rpm = speed.rpm or bench.machine.steps()[0]
    turns = float(feed_turns(tip, 0.0, chosen.mm_per_rev))
    fixed = cut_minutes(tip, 0.0, rpm, chosen.mm_per_rev, clears, bench.machine) - turns / rpm
    fixed += bench.moving_up(tip)
    return ReamCut(
        tool, previous_mm, depth_mm, missing_mm, speed, rpm, chosen, turns, fixed, tuple(broken), clears
    )


def chips_over_room(tool: Tool, previous_mm: float, depth_mm: float) -> float:
    """Loose chips of a reaming over the room in the reamer's flutes. Source: common practice.

    Stock over the depth, curled to four times its volume, against a quarter of the reamer's circle over its
    flutes.
    """
    d = tool.diameter_mm
    metal = max(d**2 - previous_mm**2, 0.0) / d**2 * depth_mm / (tool.flute_length_mm or depth_mm)
    return constant("ream_chips_loose") * metal / constant("ream_flute_share")


def draws_back(bench: Bench, tool: Tool, previous_mm: float, depth_mm: float) -> bool:
    """Whether the practice draws a reamer back on the way to clear chips."""
    feed = bench.practice.reamer_feed
    if feed != "by_room":
        return feed == "retract"
    full = chips_over_room(tool, previous_mm, depth_mm) > constant("ream_one_stroke")
    return full or not bench.hole.through
