"""What a drill's own lips add to its hole: from solid, by what its point check read.

A point off the drill's middle makes it turn about its chisel edge. The eccentricity is e = (A - B) / 2 x
sin(half angle), A and B being the lips along their length; the hole grows by 2 g e, g at most 1. Unlike half
angles add g_a d (difference in radians) / sin^2. Both lie over the survey's oversize less the share of it that
ordinary points cause. Source: derived geometry; gains assumed or calibrated as `model_constants.csv` says.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.shop.drill_point import Point
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import by_key, constant, constants


@dataclass(frozen=True)
class Added:
    """Mean and standard deviation in mm that lips and angles add from solid; `share` of the survey stays."""

    share: float = 1.0
    lips_mm: float = 0.0
    lips_sd: float = 0.0
    angles_mm: float = 0.0
    angles_sd: float = 0.0

    @property
    def mm(self) -> float:
        """Both together."""
        return self.lips_mm + self.angles_mm

    @property
    def sd(self) -> float:
        """The standard deviation of both together."""
        return math.hypot(self.lips_sd, self.angles_sd)


def eccentricity(difference_mm: float, half_deg: float) -> float:
    """How far the chisel lies off the drill's middle in mm, from the difference of its lips.

    >>> round(eccentricity(0.24, 59), 3)
    0.103
    """
    return abs(difference_mm) / 2 * math.sin(math.radians(half_deg))


def half_angle(drill: Tool, point: Point) -> float:
    """The middle of both half angles read, else half the drill's own point angle, in degrees."""
    return point.half_angle or (drill.point_angle_deg or 118.0) / 2


def lip_difference(drill: Tool, point: Point) -> tuple[float, float]:
    """The lips' difference in mm and its standard uncertainty: as read, else as an eye can tell."""
    if point.lips_known:
        return point.lip_difference, math.sqrt(2) * constant("lip_gauge_u_mm")
    seen = constant("lip_by_eye") * drill.diameter_mm if point.by_eye == "longer" else 0.0
    return seen, constant("lip_by_eye_sd") * drill.diameter_mm


NOT_READ = Added()


def added(drill: Tool, point: Point | None) -> Added:
    """What a point adds to the hole it drills from solid."""
    if point is None:
        return NOT_READ
    half = half_angle(drill, point)
    told = point.lips_known or point.by_eye != "cannot_tell"
    share = 1 - constants("model_fixed")["ordinary_share"] if told else 1.0
    lips, lips_sd = _lips(drill, point, half) if told else (0.0, 0.0)
    angles, angles_sd = _angles(drill, point, half) if point.half_a and point.half_b else (0.0, 0.0)
    return Added(share, lips, lips_sd, angles, angles_sd)


def _lips(drill: Tool, point: Point, half: float) -> tuple[float, float]:
    gain, gain_sd = _gain("g_e")
    difference, u = lip_difference(drill, point)
    e, u_e = eccentricity(difference, half), eccentricity(u, half)
    return 2 * gain * e, 2 * math.hypot(gain_sd * e, gain * u_e)


def _angles(drill: Tool, point: Point, half: float) -> tuple[float, float]:
    gain, log_sd = _gain("g_lip")
    per_degree = gain * drill.diameter_mm * math.radians(1) / math.sin(math.radians(half)) ** 2
    grown = per_degree * abs(point.angle_difference)
    u = math.sqrt(2) * constant("lip_angle_u_deg") * per_degree
    return grown, math.hypot(grown * log_sd, u)


def _gain(identifier: str) -> tuple[float, float]:
    """An uncertain constant of the forward model and its spread."""
    row = by_key("model_constants", "id")[identifier]
    return row.number("value"), row.number("spread")
