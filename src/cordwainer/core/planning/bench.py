"""Everything a planning step needs to know about one hole at one machine."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TypedDict

from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.reading import exact
from cordwainer.core.errors import BeyondTravelError
from cordwainer.core.lengths import MM_PER_INCH
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import DepthReading
from cordwainer.core.planning.practice import Practice
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.tables import by_key, constant
from cordwainer.core.working import Input, Working, figure


@dataclass(frozen=True, eq=False)
class Bench:
    """One hole, the machine and crib it is made with, the material and the practice."""

    hole: Hole
    shop: Shop
    machine: Machine
    material: Material
    practice: Practice
    hardness_bhn: float | None = None

    @cached_property
    def force_constants(self) -> tuple[float, float]:
        """Torque and thrust factors of the material at its hardness."""
        return self.material.force_constants(self.hardness_bhn)

    @property
    def power_kw(self) -> float:
        """Power that reaches the cut."""
        return constant("usable_power") * self.machine.power_kw

    @property
    def corner_depth_mm(self) -> float:
        """Depth of full diameter the finished hole needs, with clearance when it goes through."""
        if self.hole.through:
            return self.hole.depth_mm + constant("through_clearance_mm")
        return self.hole.depth_mm

    def reading(
        self,
        tip_mm: float,
        zero_on: str,
        tip_at_start_mm: float,
        pecks_tip_mm: tuple[float, ...] = (),
        slow_from_tip_mm: float | None = None,
    ) -> DepthReading | None:
        """Start and stop on the machine's depth scale, or None when it has none.

        Raises `BeyondTravelError` where the scale ends before the depth is reached.
        """
        scale = self.machine.depth_scale
        if scale is None:
            return None
        unit_mm = MM_PER_INCH if scale.unit == "in" else 1
        travel = exact(tip_mm - tip_at_start_mm)
        room = scale.room
        if room is not None and travel > room:
            raise BeyondTravelError(
                f"needs {float(travel):.1f} mm of travel and the {scale.kind.replace('_', ' ')} has "
                f"{float(room):.1f}",
                float(travel - room),
            )
        sign = -1 if scale.direction == "decreases" else 1

        def at(tip: float) -> float:
            return float((scale.start.exact_mm + sign * exact(tip - tip_at_start_mm)) / unit_mm)

        turns = past = None
        wheel = next((s for s in self.machine.scales if s.kind.endswith("handwheel") and s.per_rev), None)
        if wheel is not None and wheel.per_rev is not None:
            turns = int(travel // wheel.per_rev.exact_mm)
            past = float((travel - turns * wheel.per_rev.exact_mm) / wheel.division.exact_mm)
        return DepthReading(
            unit=scale.unit,
            scale=scale.kind,
            zero_on=zero_on,
            start=float(scale.start.exact_mm / unit_mm),
            stop=at(tip_mm),
            start_tip_mm=tip_at_start_mm,
            division=float(scale.division.exact_mm / unit_mm),
            wheel_turns=turns,
            wheel_divisions=past,
            peck_readings=tuple(at(peck) for peck in pecks_tip_mm),
            slow_from=None if slow_from_tip_mm is None else at(slow_from_tip_mm),
        )

    def seconds(self, rpm: float, feed: float) -> tuple[float, float | None]:
        """Seconds per millimeter of feed, and per turn of the feeding handwheel where there is one."""
        per_mm = 60.0 / (rpm * feed)
        wheel = next((s for s in self.machine.scales if s.kind.endswith("handwheel") and s.per_rev), None)
        per_turn = per_mm * wheel.per_rev.mm if wheel is not None and wheel.per_rev is not None else None
        return per_mm, per_turn


def minutes_of(what: str) -> float:
    """Minutes of a shop action, from `minutes.csv` (assumed; the shop edits it)."""
    return by_key("minutes", "what")[what].number("minutes")


def cut_minutes(
    tip_mm: float,
    from_mm: float,
    rpm: float,
    feed: float,
    clears: int,
    machine: Machine,
    slow_mm: float = 0.0,
    pecks_mm: tuple[float, ...] = (),
) -> float:
    """Minutes at the cut: approach and feed, half feed over `slow_mm`, chips cleared `clears` times."""
    length = constant("approach_mm") + max(tip_mm - from_mm, 0.0)
    cutting = (length + slow_mm * (1 / constant("breakthrough_feed") - 1)) / (feed * rpm)
    way = "tailstock" if any(s.kind == "tailstock_ram" for s in machine.scales[:1]) else "carriage_or_quill"
    clear = minutes_of(f"clear_chips_{way}")
    air = 2 * sum(pecks_mm[:-1]) / (1000 * constant("retract_m_min"))
    return cutting + clears * clear + air


def speed_working(bench: Bench, operation: str, tool_material: str, chosen: speeds.Speed) -> Working:
    """Where the ideal surface speed comes from: the material's range for that operation."""
    band = speeds.speed_band(bench.material, operation, tool_material)
    slow = operation == "ream" and bench.machine.feeds_mm_per_rev is None
    rule = "low end of the range, at most 15 with hand feed" if slow else "middle of the range × depth factor"
    factor = 1.0 if slow else chosen.ideal_m_min / band.middle
    inputs = (
        Input("low", figure(band.low), "m/min"),
        Input("high", figure(band.high), "m/min"),
        Input("depth factor", figure(factor)),
    )
    return Working("cutting speed", chosen.ideal_m_min, "m/min", rule, inputs, bench.material.source)


class Turning(TypedDict):
    """What every turning operation says of its speed and feed."""

    rpm: float
    rpm_ideal: float
    surface_ideal_m_min: float
    rpm_below: float | None
    rpm_above: float | None
    feed_mm_per_rev: float
    feed_source: str
    seconds_per_mm: float
    seconds_per_turn: float | None


def turning(bench: Bench, chosen: speeds.Speed, rpm: float, feed: float, source: str) -> Turning:
    """Speed, its neighbors on the machine, feed, and the seconds that feeding takes."""
    per_mm, per_turn = bench.seconds(rpm, feed)
    return Turning(
        rpm=rpm,
        rpm_ideal=chosen.ideal_rpm,
        surface_ideal_m_min=chosen.ideal_m_min,
        rpm_below=speeds.next_lower(bench.machine, rpm, strictly=True),
        rpm_above=next((n for n in bench.machine.steps() if n > rpm), None),
        feed_mm_per_rev=feed,
        feed_source=source,
        seconds_per_mm=per_mm,
        seconds_per_turn=per_turn,
    )
