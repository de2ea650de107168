"""A depth as the machine's scale reads it: any start, either unit, dials that roll over."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from fractions import Fraction

from cordwainer.core.errors import BeyondTravelError, InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import MM_PER_INCH
from cordwainer.core.shop.machine import Scale

LEAST_POINT_DEG = 10.0  # assumed: below it a cone is a taper, which is not set by its point
ZERO_ON = ("tip", "full_diameter", "flat_face", "edge_touch")


@dataclass(frozen=True)
class ToolZero:
    """The tool as the reading sees it: its diameter, point, and what touched at the start."""

    diameter_mm: float
    point_angle_deg: float
    zero_on: str = "tip"
    hole_mm: float | None = None

    def __post_init__(self) -> None:
        if self.zero_on not in ZERO_ON:
            raise InputError(
                "tool.zero_on",
                tr(
                    "'{zero_on}' is not known; write one of {zero_on_2}",
                    zero_on=self.zero_on,
                    zero_on_2=", ".join(ZERO_ON),
                ),
            )
        if self.zero_on == "edge_touch" and self.hole_mm is None:
            raise InputError("tool.hole_diameter", tr("missing; a touch on the edge needs the hole's diameter"))
        if not LEAST_POINT_DEG <= self.point_angle_deg <= 180:
            raise InputError(
                "tool.point_angle",
                tr(
                    "{point_angle_deg:g} is not an angle; write 118, or 180 for flat",
                    point_angle_deg=self.point_angle_deg,
                ),
            )

    @property
    def flat(self) -> bool:
        """No cone in front of the full diameter."""
        return self.point_angle_deg >= 180 or self.zero_on == "flat_face"

    @property
    def slope(self) -> float:
        """Depth per radius of the cone (0 for a flat tool)."""
        return 0.0 if self.flat else 1 / math.tan(math.radians(self.point_angle_deg / 2))

    @property
    def point_mm(self) -> float:
        """Length of the cone in mm."""
        return self.diameter_mm / 2 * self.slope

    @property
    def tip_at_start_mm(self) -> float:
        """How far the tip is below the face when the start is read."""
        if self.zero_on == "full_diameter":
            return self.point_mm
        if self.zero_on == "edge_touch":
            return (self.hole_mm or 0.0) / 2 * self.slope
        return 0.0


@dataclass(frozen=True)
class Ask:
    """What is wanted: exactly one of the four, in mm."""

    depth_full_mm: float | None = None
    chamfer_width_mm: float | None = None
    countersink_mm: float | None = None
    counterbore_mm: float | None = None


def tip_target(tool: ToolZero, ask: Ask) -> float:
    """Depth of the tip below the face in mm when the work asked for is done.

    A chamfer's width is per side, so its mouth is the hole plus twice the width. Source: derived.
    """
    if ask.depth_full_mm is not None:
        return ask.depth_full_mm + tool.point_mm
    if ask.counterbore_mm is not None:
        return ask.counterbore_mm
    if tool.flat:
        raise InputError("tool.point_angle", tr("a flat tool cuts no chamfer; give the countersink's angle"))
    if ask.chamfer_width_mm is not None:
        if tool.hole_mm is None:
            raise InputError(
                "tool.hole_diameter", tr("missing; a chamfer's depth follows from the hole's diameter")
            )
        return (tool.hole_mm + 2 * ask.chamfer_width_mm) / 2 * tool.slope
    if ask.countersink_mm is None:
        raise InputError("ask", 'nothing is asked; write "depth_full": "20 mm" or another')
    if tool.hole_mm is not None and ask.countersink_mm < tool.hole_mm:
        raise InputError("ask.countersink_diameter", tr("smaller than the hole; write the mouth's diameter"))
    return ask.countersink_mm / 2 * tool.slope


@dataclass(frozen=True)
class ScaleReading:
    """Where to stop, in the scale's own unit."""

    unit: str
    stop: float
    stop_total: float
    stop_nearest: float
    travel: float
    tip_depth: float
    turns: float | None
    whole_turns: int | None
    divisions_past: float | None
    divisions: float
    pecks: tuple[float, ...]


def read(scale: Scale, tool: ToolZero, ask: Ask, pecks_tip_mm: tuple[float, ...] = ()) -> ScaleReading:
    """The stop reading for a depth on one scale.

    `pecks_tip_mm` are tip depths. Raises `InputError` where the tool is already past what is
    asked, `BeyondTravelError` where the scale ends first.
    """
    if ask.counterbore_mm is not None:
        tool = replace(tool, point_angle_deg=180.0)  # a counterbore's face is flat whatever the file leaves unsaid
    target = tip_target(tool, ask)
    travel_mm = exact(target - tool.tip_at_start_mm)
    if travel_mm < 0:
        raise InputError(
            "ask", tr("the tool is already deeper than that when it touches; ask for more, or zero on the tip")
        )
    unit_mm = MM_PER_INCH if scale.unit == "in" else Fraction(1)
    sign = -1 if scale.direction == "decreases" else 1
    start, division = scale.start.exact_mm, scale.division.exact_mm
    total = start + sign * travel_mm
    room = scale.room
    if room is not None and travel_mm > room:
        missing = float((travel_mm - room) / unit_mm)
        raise BeyondTravelError(
            tr(
                "needs {travel_mm:.4g} {scale} of travel, the scale has {room:.4g}: {missing:.4g} {scale} missing",
                travel_mm=float(travel_mm / unit_mm),
                scale=scale.unit,
                room=float(room / unit_mm),
                missing=missing,
            ),
            float(travel_mm - room),
        )
    shown = _rolled(scale, total)
    turns = whole = past = None
    if scale.per_rev is not None:
        per_rev = scale.per_rev.exact_mm
        turns = float(travel_mm / per_rev)
        whole = int(travel_mm // per_rev)
        past = float((travel_mm - whole * per_rev) / division)
    nearest = _rolled(scale, round(total / division) * division)
    found = tuple(
        float(_rolled(scale, start + sign * (exact(tip) - exact(tool.tip_at_start_mm))) / unit_mm)
        for tip in pecks_tip_mm
    )
    return ScaleReading(
        unit=scale.unit,
        stop=float(shown / unit_mm),
        stop_total=float(total / unit_mm),
        stop_nearest=float(nearest / unit_mm),
        travel=float(travel_mm / unit_mm),
        tip_depth=float(exact(target) / unit_mm),
        turns=turns,
        whole_turns=whole,
        divisions_past=past,
        divisions=float(travel_mm / division),
        pecks=found,
    )


def exact(value_mm: float) -> Fraction:
    """A computed millimeter value as a fraction, rounded to a nanometer."""
    return Fraction(round(value_mm * 1_000_000), 1_000_000)


def _rolled(scale: Scale, total: Fraction) -> Fraction:
    return total % scale.per_rev.exact_mm if scale.rolls and scale.per_rev else total
