"""Everything a planning step needs to know about one hole at one machine."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypedDict

import numpy as np

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.reading import exact
from cordwainer.core.cutting.strokes import Stroke, stroke_ends, stroke_minutes
from cordwainer.core.errors import BeyondTravelError
from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.language import tr
from cordwainer.core.lengths import MM_PER_INCH
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.how_common import BY_SIZE, commonness
from cordwainer.core.planning.words.operation import DepthReading
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.machine import Machine, cannot_hold
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import by_key, constant, constants
from cordwainer.core.working import Input, Working, figure

START_SERIES = ("plain", "A", "spot")
DRILLED = ("drill", "core_drill", "spade_drill", "countersink", "counterbore", "spotface", "end_mill")
SLOW = ("countersink", "counterbore", "spotface")
CATALOG = "catalog"
REAM_SHARE = {"third": 1 / 3, "half": 1 / 2, "two_thirds": 2 / 3}


@dataclass(frozen=True, eq=False)
class Bench:
    """One hole, the machine and crib it is made with, the material and the practice.

    `set_up` is the machine where the practice sets it up another way than it stands, None otherwise; `extra`
    prices tools by id, such as those still to get, in minutes.
    """

    hole: Hole
    shop: Shop
    machine: Machine
    material: Material
    practice: Practice
    hardness_bhn: float | None = None
    set_up: Machine | None = None
    extra: Mapping[str, float] = field(default_factory=dict)

    @cached_property
    def force_constants(self) -> tuple[float, float]:
        """Torque and thrust factors of the material at its hardness."""
        return self.material.force_constants(self.hardness_bhn)

    @cached_property
    def kept(self) -> dict[tuple[object, ...], Any]:
        """What was worked out once for this bench, by what it is of: starts, and drills at a depth."""
        return {}

    @cached_property
    def _prices(self) -> dict[str, float]:
        return {}

    def price(self, tool: Tool) -> float:
        """What choosing a tool costs beyond its work, in minutes: to be got, seldom had, of the other unit.

        A crib's own tools come as they are, those of the hole's own unit a little before the others.
        """
        if tool.id not in self._prices:
            found = self.extra.get(tool.id, 0.0)
            if self.shop.name == CATALOG:
                found += commonness(tool, self.hole)
            elif tool.kind in BY_SIZE and tool.diameter.unit != self.hole.own_unit:
                found += constants("screen_prices")["other_unit"]
            self._prices[tool.id] = found
        return self._prices[tool.id]

    @cached_property
    def judged_mm(self) -> tuple[float, float]:
        """Sizes a drilled hole passes between: its limits; without a tolerance of its own, the trade's."""
        low, high = self.hole.limits.lower_mm, self.hole.limits.upper_mm
        return (low, max(high, commonly_left_mm(self.hole))) if self.hole.general else (low, high)

    @property
    def power_kw(self) -> float:
        """Power that reaches the cut."""
        return constant("usable_power") * self.machine.power_kw

    def holding(self, tool: Tool) -> str | None:
        """Why the machine cannot hold a tool, or None."""
        across = tool.shank_diameter_mm or tool.diameter_mm
        return cannot_hold(self.machine, tool.kind, tool.shank, across, self.hole.unit)

    def speed(
        self,
        operation: str,
        tool_material: str,
        diameter_mm: float,
        depth_mm: float | None = None,
        sheet_m_min: float | None = None,
    ) -> speeds.Speed:
        """The machine's speed for an operation, by the tool's own data sheet, else by the practice followed.

        Countersinks, counterbores and spotfacers turn at half of a drill's speed (common practice).
        """
        kind = "drill" if operation in DRILLED else operation
        surface = self._surface(operation, tool_material, diameter_mm, depth_mm)
        if sheet_m_min is not None:
            by_depth = speeds.depth_factors(depth_mm, diameter_mm)[0] if depth_mm is not None else 1.0
            surface = sheet_m_min * by_depth
        found = speeds.choose(
            self.material, kind, tool_material, diameter_mm, depth_mm, self.machine, surface_m_min=surface
        )
        if operation == "ream" and self.practice.ream_speed == "slowest":
            return replace(found, rpm=self.machine.steps()[0], below=None)
        return found

    def _surface(
        self, operation: str, tool_material: str, diameter_mm: float, depth_mm: float | None
    ) -> float | None:
        """Surface speed where practice or operation set another than the table's, in m/min."""
        if operation == "ream":
            share = REAM_SHARE.get(self.practice.ream_speed)
            return None if share is None else share * self.material.speeds["hss_drill"].middle
        factor = speeds.depth_factors(depth_mm, diameter_mm)[0] if depth_mm is not None else 1.0
        if operation not in DRILLED or tool_material == "carbide":
            return None
        by_turning = self.practice.drill_speed == "half_turning"
        ideal = 0.5 * self.material.speeds["hss_bore"].middle if by_turning else None
        if operation in SLOW:
            return constant("sink_speed") * (ideal or self.material.speeds["hss_drill"].middle)
        return None if ideal is None else ideal * factor

    @cached_property
    def travel_room_mm(self) -> float | None:
        """Travel the depth scale has from its start, in mm, or None where it has no end."""
        scale = self.machine.depth_scale
        return None if scale is None or scale.room is None else float(scale.room)

    @cached_property
    def strokes_possible(self) -> bool:
        """Whether what drills or is drilled can be moved up: a tailstock on its bed, a knee with its table."""
        scale = self.machine.depth_scale
        if scale is None or scale.room is None:
            return False
        return scale.kind == "tailstock_ram" or any(s.kind == "knee_dial" for s in self.machine.scales)

    @cached_property
    def start_speeds(self) -> dict[str, tuple[speeds.Speed, feeds.Feed]]:
        """Speeds and feeds of center drills already asked for, by tool id."""
        return {}

    @cached_property
    def _starts(self) -> dict[str, tuple[Tool, ...]]:
        return {}

    def starts(self, kind: str) -> tuple[Tool, ...]:
        """Center or spot drills that start holes and that this machine can hold."""
        if kind not in self._starts:
            self._starts[kind] = tuple(
                tool
                for tool in self.shop.of_kind(kind)
                if tool.series in START_SERIES and self.holding(tool) is None
            )
        return self._starts[kind]

    @property
    def corner_depth_mm(self) -> float:
        """Depth of full diameter the finished hole needs, with clearance when it goes through."""
        if self.hole.through:
            return self.hole.depth_mm + self.hole.exit_sag_mm + constant("through_clearance_mm")
        return self.hole.depth_mm

    def reading(
        self,
        tip_mm: float,
        zero_on: str,
        tip_at_start_mm: float,
        pecks_tip_mm: tuple[float, ...] = (),
        slow_from_tip_mm: float | None = None,
    ) -> DepthReading | None:
        """Start and stop on the machine's depth scale, or None when it has none; in strokes beyond its travel.

        Raises `BeyondTravelError` where the scale ends before the depth is reached and nothing can be moved up.
        """
        scale = self.machine.depth_scale
        if scale is None:
            return None
        unit_mm = MM_PER_INCH if scale.unit == "in" else 1
        travel = exact(tip_mm - tip_at_start_mm)
        room = scale.room
        if room is not None and travel > room and not self.strokes_possible:
            raise BeyondTravelError(
                tr(
                    "needs {travel:.1f} mm of travel and the {kind} has {room:.1f}",
                    travel=float(travel),
                    kind=tr(scale.kind.replace("_", " ")),
                    room=float(room),
                ),
                float(travel - room),
            )
        sign = -1 if scale.direction == "decreases" else 1
        ends: tuple[float, ...] = ()
        if room is not None and travel > room:
            ends = stroke_ends(tip_at_start_mm, tip_mm, float(room))

        def at(tip: float) -> float:
            done = next((end for end in reversed(ends[:-1]) if tip > end + 1e-9), tip_at_start_mm)
            return float((scale.start.exact_mm + sign * exact(tip - done)) / unit_mm)

        begun = (tip_at_start_mm, *ends[:-1])
        strokes = tuple(
            Stroke(
                a,
                b,
                float(scale.start.exact_mm / unit_mm),
                at(b),
                float(room or 0) if a > tip_at_start_mm else 0.0,
            )
            for a, b in zip(begun, ends, strict=False)
        )

        turns = past = None
        last_travel = travel if not ends else exact(ends[-1] - begun[-1])
        wheel = next((s for s in self.machine.scales if s.kind.endswith("handwheel") and s.per_rev), None)
        if wheel is not None and wheel.per_rev is not None:
            turns = int(last_travel // wheel.per_rev.exact_mm)
            past = float((last_travel - turns * wheel.per_rev.exact_mm) / wheel.division.exact_mm)
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
            strokes=strokes,
        )

    def moving_up(self, travel_mm: float) -> float:
        """Minutes of moving up between the strokes of a travel; 0 where one reaches."""
        room = self.travel_room_mm
        return 0.0 if room is None or not self.strokes_possible else stroke_minutes(travel_mm, room)

    def reading_or_none(
        self,
        tip_mm: float,
        zero_on: str,
        tip_at_start_mm: float,
        pecks_tip_mm: tuple[float, ...] = (),
        slow_from_tip_mm: float | None = None,
    ) -> DepthReading | None:
        """The reading, or None also where the scale ends before the depth."""
        try:
            return self.reading(tip_mm, zero_on, tip_at_start_mm, pecks_tip_mm, slow_from_tip_mm)
        except BeyondTravelError:
            return None

    def seconds(self, rpm: float, feed: float) -> tuple[float, float | None]:
        """Seconds per millimeter of feed, and per turn of the feeding handwheel where there is one."""
        per_mm = 60.0 / (rpm * feed)
        wheel = next((s for s in self.machine.scales if s.kind.endswith("handwheel") and s.per_rev), None)
        per_turn = per_mm * wheel.per_rev.mm if wheel is not None and wheel.per_rev is not None else None
        return per_mm, per_turn


def commonly_left_mm(hole: Hole) -> float:
    """The largest hole that drills of the size commonly leave; a hole to a general tolerance serves up to it.

    Source: ISO 2768-1, rejection (over the general tolerance is no reject by itself while the hole serves; from
    memory); Machinery's Handbook, oversize diameters in drilling.
    """
    return hole.nominal_mm + constant("general_over") * float(survey_oversize(hole.nominal_mm)[2])


def on_carriage(machine: Machine) -> Machine:
    """A lathe with its drills held on the carriage and indicated true: no tailstock, no error of it."""
    scales = tuple(s for s in machine.scales if s.kind in ("carriage_handwheel", "readout"))
    return replace(machine, scales=scales, tailstock_offset_mm=(0.0, 0.0))


def bench_for(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice,
    hardness_bhn: float | None = None,
) -> Bench:
    """The bench of a hole, with the machine set up as the practice has it."""
    moved = practice.drill_in == "carriage" and machine.is_lathe and not machine.carriage_held
    held = on_carriage(machine) if moved else machine
    return Bench(hole, shop, held, material, practice, hardness_bhn, held if moved else None)


def minutes_of(what: str) -> float:
    """Minutes of a shop action, from `minutes.csv` (assumed; the shop edits it)."""
    return by_key("minutes", "what")[what].number("minutes")


def feed_turns(tip_mm: Any, from_mm: Any, feed_mm_per_rev: Any, slow_mm: Any = 0.0) -> Any:
    """Turns of the spindle from approach to the tip's last depth, half feed over `slow_mm`; floats or arrays."""
    length = constant("approach_mm") + np.maximum(tip_mm - from_mm, 0.0)
    return (length + slow_mm * (1 / constant("breakthrough_feed") - 1)) / feed_mm_per_rev


def clear_minutes(pecks_mm: tuple[float, ...], machine: Machine, clears: int | None = None) -> float:
    """Minutes of drawing back to clear chips: once before each peck but the first, with the way in and out."""
    way = "tailstock" if any(s.kind == "tailstock_ram" for s in machine.scales[:1]) else "carriage_or_quill"
    times = max(len(pecks_mm) - 1, 0) if clears is None else clears
    if not times:
        return 0.0
    air = 2 * sum(pecks_mm[:-1]) / (1000 * constant("retract_m_min"))
    return times * minutes_of(f"clear_chips_{way}") + air


def cut_minutes(tip_mm: float, from_mm: float, rpm: float, feed: float, clears: int, machine: Machine) -> float:
    """Minutes at the cut: approach and feed, chips cleared `clears` times."""
    return float(feed_turns(tip_mm, from_mm, feed)) / rpm + clear_minutes((), machine, clears)


def speed_working(bench: Bench, operation: str, tool_material: str, chosen: speeds.Speed) -> Working:
    """Where the ideal surface speed comes from: the material's range for that operation."""
    if (way := _practice_rule(bench, operation)) and tool_material != "carbide":
        return Working(
            tr("cutting speed"), chosen.ideal_m_min, "m/min", way, (), tr("common practice, your practice")
        )
    band = speeds.speed_band(bench.material, operation, tool_material)
    slow = operation == "ream" and bench.machine.feeds_mm_per_rev is None
    rule = (
        tr("low end of the range, at most 15 with hand feed") if slow else tr("middle of the range × depth factor")
    )
    factor = 1.0 if slow else chosen.ideal_m_min / band.middle
    inputs = (
        Input("low", figure(band.low), "m/min"),
        Input("high", figure(band.high), "m/min"),
        Input(tr("depth factor"), figure(factor)),
    )
    return Working(tr("cutting speed"), chosen.ideal_m_min, "m/min", rule, inputs, bench.material.source)


def _practice_rule(bench: Bench, operation: str) -> str:
    """The rule a practice puts in the table's place, in words; empty where the table rules."""
    practice = bench.practice
    if operation == "ream" and practice.ream_speed in REAM_SHARE:
        return tr("{ream_speed} of drilling speed", ream_speed=tr(practice.ream_speed.replace("_", " ")))
    if operation in DRILLED and practice.drill_speed == "half_turning":
        return tr("half of turning speed × depth factor")
    return tr("half of drilling speed") if operation in SLOW else ""


class Turning(TypedDict):
    """What every turning operation says of its speed and feed."""

    rpm: float
    rpm_ideal: float
    surface_ideal_m_min: float
    speed_share: float
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
        speed_share=bench.machine.speed_factor(bench.material.id),
        rpm_below=speeds.next_lower(bench.machine, rpm, strictly=True),
        rpm_above=next((n for n in bench.machine.steps() if n > rpm), None),
        feed_mm_per_rev=feed,
        feed_source=source,
        seconds_per_mm=per_mm,
        seconds_per_turn=per_turn,
    )
