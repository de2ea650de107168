"""One drill or reamer at work on one hole: may it, how fast, how deep, what does it leave.

Every hard limit that rejects a cut says why, with its numbers.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.force import Load, drill_load
from cordwainer.core.errors import BeyondTravelError
from cordwainer.core.formation.oversize import Expected, expected_drilled
from cordwainer.core.planning.bench import Bench, cut_minutes
from cordwainer.core.planning.words import say
from cordwainer.core.shop.machine import holding
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


class Rejected(Exception):
    """This cut cannot be made here; the text says why."""


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
    minutes: float

    @property
    def tip_mm(self) -> float:
        """Depth of the tip below the face."""
        return self.depth_mm + self.tool.point_mm

    @property
    def tip_at_start_mm(self) -> float:
        """Where the tip is when the drill first touches the edge of the hole before it."""
        if self.previous_mm <= 0 or self.tool.point_angle_deg is None:
            return 0.0
        return self.previous_mm / 2 / math.tan(math.radians(self.tool.point_angle_deg / 2))


def check_holding(bench: Bench, tool: Tool) -> None:
    """Reject a tool the machine cannot hold."""
    reason = holding(bench.machine, tool.shank, tool.shank_diameter_mm or tool.diameter_mm)
    if reason:
        raise Rejected(f"{tool.name}: {reason}")


def check_reach(bench: Bench, tool: Tool, depth_mm: float, tip_mm: float, tip_at_start_mm: float) -> None:
    """Reject a cut the flutes, the floor under the hole or the machine's travel do not allow."""
    unit = bench.hole.unit
    if tool.flute_length_mm is not None and depth_mm > tool.flute_length_mm:
        raise Rejected(
            f"{tool.name}: its flutes are {say(tool.flute_length_mm, unit, 1)} long and would be "
            f"buried at {say(depth_mm, unit, 1)}"
        )
    room = bench.hole.tip_room_mm
    if room is not None and tip_mm > room + 1e-6:
        raise Rejected(
            f"{tool.name}: its tip would stop {say(tip_mm, unit, 2)} deep and leave less than "
            f"{say(bench.hole.floor_mm, unit, 2)} under the hole"
        )
    try:
        bench.reading(tip_mm, "tip", tip_at_start_mm)
    except BeyondTravelError as short:
        raise Rejected(f"{tool.name}: {short}") from None


def drill_cut(bench: Bench, tool: Tool, previous_mm: float, depth_mm: float) -> DrillCut:
    """Work out one drilling cut; `Rejected` with the reason where it cannot be made.

    Too much thrust or power: first the feed comes down to the table's low end, then the speed
    step by step (rules of record 7).
    """
    tip = depth_mm + tool.point_mm
    start = 0.0
    if previous_mm > 0 and tool.point_angle_deg:
        start = previous_mm / 2 / math.tan(math.radians(tool.point_angle_deg / 2))
    check_holding(bench, tool)
    check_reach(bench, tool, depth_mm, tip, start)
    d = tool.diameter_mm
    speed = speeds.choose(bench.material, "drill", tool.material, d, depth_mm, bench.machine)
    if speed.refused or speed.rpm is None:
        raise Rejected(
            f"{tool.name}: even the slowest step, {bench.machine.steps()[0]:g} rev/min, is more than "
            f"twice the fastest speed for {bench.material.name}"
        )
    chosen = feeds.choose(bench.material, "drill", d, depth_mm, bench.machine)
    rpm, feed, slowed = speed.rpm, chosen.mm_per_rev, None
    load = _load(bench, tool, previous_mm, feed)
    if load.thrust_n > bench.machine.thrust_n or load.power_kw(rpm) > bench.power_kw:
        slowed = "thrust" if load.thrust_n > bench.machine.thrust_n else "power"
        feed = _less_feed(bench, tool, previous_mm, chosen, rpm, depth_mm)
        load = _load(bench, tool, previous_mm, feed)
        if load.thrust_n > bench.machine.thrust_n:
            raise Rejected(
                f"{tool.name}: needs {load.thrust_n:.0f} N of thrust even at the lightest feed, "
                f"{bench.machine.name} stands {bench.machine.thrust_n:.0f} N"
            )
        while load.power_kw(rpm) > bench.power_kw:
            lower = speeds.next_lower(bench.machine, rpm, strictly=True)
            if lower is None:
                raise Rejected(
                    f"{tool.name}: needs {load.power_kw(rpm):.2f} kW even at {rpm:g} rev/min and the "
                    f"lightest feed, {bench.machine.name} gives {bench.power_kw:.2f} kW at the cut"
                )
            rpm, slowed = lower, "power"
    pecks: tuple[float, ...] = ()
    if bench.practice.pecking == "by_depth":
        pecks = depths.pecks(depth_mm, tip, d, carbide=tool.material == "carbide")
    slow = _slow_length(bench, tool)
    minutes = cut_minutes(tip, start, rpm, feed, max(len(pecks) - 1, 0), bench.machine, slow, pecks)
    return DrillCut(
        tool=tool,
        previous_mm=previous_mm,
        depth_mm=depth_mm,
        speed=speed,
        rpm=rpm,
        feed=chosen,
        feed_mm_per_rev=feed,
        load=load,
        expected=expected_drilled(tool, previous_mm),
        slowed_for=slowed,
        pecks_mm=pecks,
        minutes=minutes,
    )


def _slow_length(bench: Bench, tool: Tool) -> float:
    return constant("breakthrough_before_mm") + tool.point_mm if bench.hole.through else 0.0


def _load(bench: Bench, tool: Tool, previous_mm: float, feed: float) -> Load:
    kd_torque, kd_thrust = bench.force_constants
    ratio = tool.chisel_mm / tool.diameter_mm
    return drill_load(tool.diameter_mm, feed, kd_torque, kd_thrust, ratio, previous_mm, tool.wear)


def _less_feed(
    bench: Bench, tool: Tool, previous_mm: float, chosen: feeds.Feed, rpm: float, depth_mm: float
) -> float:
    """The highest feed down to the table's low end that thrust and power allow, else the low end."""
    lowest = chosen.allowed.low
    if chosen.source == "power":
        listed = [f for f in bench.machine.feeds_mm_per_rev or () if lowest - 1e-9 <= f < chosen.mm_per_rev]
        candidates = sorted(listed, reverse=True) or [chosen.mm_per_rev]
    else:
        steps = 12
        span = chosen.mm_per_rev - lowest
        candidates = [chosen.mm_per_rev - span * (i + 1) / steps for i in range(steps)]
    for feed in candidates:
        load = _load(bench, tool, previous_mm, feed)
        if load.thrust_n <= bench.machine.thrust_n and load.power_kw(rpm) <= bench.power_kw:
            return feed
    return candidates[-1]


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
    minutes: float

    @property
    def tip_mm(self) -> float:
        """Depth of the reamer's front end below the face."""
        return self.depth_mm + self.tool.point_mm


def ream_cut(bench: Bench, tool: Tool, previous_mm: float, depth_mm: float, missing_mm: float) -> ReamCut:
    """Work out one reaming cut; `Rejected` with the reason where it cannot be made."""
    tip = depth_mm + tool.point_mm
    check_holding(bench, tool)
    check_reach(bench, tool, depth_mm, tip, 0.0)
    speed = speeds.choose(bench.material, "ream", tool.material, tool.diameter_mm, depth_mm, bench.machine)
    if speed.refused or speed.rpm is None:
        raise Rejected(
            f"{tool.name}: even the slowest step, {bench.machine.steps()[0]:g} rev/min, is more than "
            f"twice the fastest reaming speed for {bench.material.name}"
        )
    chosen = feeds.choose(bench.material, "ream", tool.diameter_mm, depth_mm, bench.machine)
    clears = 0
    if bench.practice.reamer_feed == "retract":
        clears = max(math.ceil(depth_mm / (1.5 * tool.diameter_mm)) - 1, 0)
    minutes = cut_minutes(tip, 0.0, speed.rpm, chosen.mm_per_rev, clears, bench.machine)
    return ReamCut(tool, previous_mm, depth_mm, missing_mm, speed, speed.rpm, chosen, minutes)
