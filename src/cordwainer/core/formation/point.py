"""A drill's point as read on a gauge: what it will cut, whether it is fit to use, how to regrind it.

A point off the drill's middle makes it turn about its chisel edge. The eccentricity is e = (A - B) / 2 x
sin(half angle), A and B being the lips along their length; the hole grows by 2 g e, g at most 1. Unlike half
angles add g_a d (difference in radians) / sin^2. Both lie over the survey's oversize less the share of it that
ordinary points cause.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

from cordwainer.core.chance import normal_cdf
from cordwainer.core.cutting.force import relief
from cordwainer.core.formation.oversize import opening_factor, survey_oversize
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import by_key, constant, constants

CHIPS = ("none", "corner", "margin")
BY_EYE = ("longer", "same", "cannot_tell")
CHISEL_PER_WEB = 0.18 / 0.155


@dataclass(frozen=True)
class Point:
    """What was read of a point; None is not read. Lips, web and corner wear in mm, angles in degrees.

    `half_a` is the angle of lip A to the axis. Without lip readings `by_eye` says what an eye can tell of them.
    """

    lip_a: float | None = None
    lip_b: float | None = None
    half_a: float | None = None
    half_b: float | None = None
    relief_a: float | None = None
    relief_b: float | None = None
    web: float | None = None
    wear: float | None = None
    chips: str = "none"
    by_eye: str = "cannot_tell"

    @property
    def lips_known(self) -> bool:
        """Whether both lips were read."""
        return self.lip_a is not None and self.lip_b is not None

    @property
    def lip_difference(self) -> float:
        """Lip A less lip B in mm; 0 where they were not read."""
        return (self.lip_a or 0.0) - (self.lip_b or 0.0) if self.lips_known else 0.0

    @property
    def angle_difference(self) -> float:
        """Half angle A less B in degrees; 0 where they were not read."""
        return (self.half_a or 0.0) - (self.half_b or 0.0) if self.half_a and self.half_b else 0.0


@dataclass(frozen=True)
class Part:
    """One cause of oversize, in words and mm."""

    words: str
    mm: float


@dataclass(frozen=True)
class Cut:
    """What a point will cut: the drill's size, what lies over it, the mean and its standard deviation in mm."""

    label_mm: float
    parts: tuple[Part, ...]
    sd_mm: float

    @property
    def mean_mm(self) -> float:
        """The size to expect."""
        return self.label_mm + sum(part.mm for part in self.parts)

    def chance(self, low_mm: float, high_mm: float) -> float:
        """Chance of a hole within limits."""
        return normal_cdf((high_mm - self.mean_mm) / self.sd_mm) - normal_cdf((low_mm - self.mean_mm) / self.sd_mm)

    def chance_over(self, high_mm: float) -> float:
        """Chance of a hole over a limit."""
        return 1 - normal_cdf((high_mm - self.mean_mm) / self.sd_mm)


def lip_length(diameter_mm: float, web_mm: float, half_deg: float) -> float:
    """A lip's length in mm from chisel corner to outer corner, parallel to its own half of the web.

    >>> round(lip_length(12, 0, 59), 3)
    7.0
    """
    across = math.sqrt(max((diameter_mm / 2) ** 2 - (web_mm / 2) ** 2, 0.0))
    return across / math.sin(math.radians(half_deg))


def eccentricity(difference_mm: float, half_deg: float) -> float:
    """How far the chisel lies off the drill's middle in mm, from the difference of its lips.

    >>> round(eccentricity(0.24, 59), 3)
    0.103
    """
    return abs(difference_mm) / 2 * math.sin(math.radians(half_deg))


def lip_offset(over_mm: float, ordinary_mm: float) -> tuple[float, float]:
    """How far off its middle a point may be that cut so much over, when an ordinary one cuts so much: least, most.

    A point that turns about its chisel adds at most twice its offset, so it is at least half of what was added;
    at most the whole oversize comes of it. Source: derived.

    >>> low, high = lip_offset(0.031, 0.007)
    >>> round(low, 4), round(high, 4)
    (0.012, 0.0155)
    """
    return max(over_mm - ordinary_mm, 0.0) / 2, max(over_mm, 0.0) / 2


def half_angle(drill: Tool, point: Point) -> float:
    """The middle of both half angles read, else half the drill's own point angle, in degrees."""
    read = [angle for angle in (point.half_a, point.half_b) if angle]
    return sum(read) / len(read) if read else (drill.point_angle_deg or 118.0) / 2


def chisel_of(drill: Tool, point: Point) -> float:
    """The chisel edge in mm with the web that was read, else the drill's own."""
    return drill.chisel_mm if point.web is None else point.web * CHISEL_PER_WEB


def what_it_cuts(drill: Tool, point: Point, previous_mm: float = 0.0) -> Cut:
    """The hole a drill with this point leaves, opening a hole of `previous_mm` (0: from solid).

    Source: Machinery's Handbook's survey for ordinary points; derived geometry for the lips; gains assumed or
    calibrated as `constants.csv` says.
    """
    d, half = drill.diameter_mm, half_angle(drill, point)
    low, mean, high = survey_oversize(d)
    f = opening_factor(d, drill.chisel_mm, previous_mm) * drill.oversize_factor
    told = point.lips_known or point.by_eye != "cannot_tell"
    share = 1 - constants("model_fixed")["ordinary_share"] if told else 1.0
    worn = min((point.wear or 0.0) / constant("drill_wear_limit_mm"), 1.0)
    ordinary = mean * f * share
    parts = [Part("ordinary drilling", ordinary)]
    if worn > 0:
        parts.append(Part("wear", ordinary * constant("wear_oversize_gain") * worn))
    variance = (constant("survey_sd_share") * (high - low) * f * share) ** 2
    kept = 1 - constants("model_fixed")["pilot_lips"] * relief(previous_mm / d, chisel_of(drill, point) / d)
    lips, sd = _lips(drill, point, half)
    angles, angle_sd = _angles(drill, point, half)
    if told:
        parts.append(Part("lips", lips * kept))
        variance += (sd * kept) ** 2
    if point.half_a and point.half_b:
        parts.append(Part("angles", angles * kept))
        variance += (angle_sd * kept) ** 2
    return Cut(d, tuple(parts), math.sqrt(variance))


def _lips(drill: Tool, point: Point, half: float) -> tuple[float, float]:
    """What the lips add in mm, and its standard deviation."""
    gain, gain_sd = _gain("g_e")
    if point.lips_known:
        difference, u = point.lip_difference, math.sqrt(2) * constant("lip_gauge_u_mm")
    else:
        difference = constant("lip_by_eye") * drill.diameter_mm if point.by_eye == "longer" else 0.0
        u = constant("lip_by_eye_sd") * drill.diameter_mm
    e, u_e = eccentricity(difference, half), eccentricity(u, half)
    return 2 * gain * e, 2 * math.hypot(gain_sd * e, gain * u_e)


def _angles(drill: Tool, point: Point, half: float) -> tuple[float, float]:
    """What unlike half angles add in mm, and its standard deviation."""
    gain, log_sd = _gain("g_lip")
    per_degree = gain * drill.diameter_mm * math.radians(1) / math.sin(math.radians(half)) ** 2
    grown = per_degree * abs(point.angle_difference)
    u = math.sqrt(2) * constant("lip_angle_u_deg") * per_degree
    return grown, math.hypot(grown * log_sd, u)


def _gain(identifier: str) -> tuple[float, float]:
    """An uncertain constant of the forward model and its spread."""
    row = by_key("model_constants", "id")[identifier]
    return row.number("value"), row.number("spread")


def reground(drill: Tool, previous_mm: float = 0.0) -> Cut:
    """What the drill will cut once both lips are alike."""
    half = (drill.point_angle_deg or 118.0) / 2
    lip = lip_length(drill.diameter_mm, drill.chisel_mm / CHISEL_PER_WEB, half)
    return what_it_cuts(drill, Point(lip_a=lip, lip_b=lip), previous_mm)


@cache
def relief_state(relief_deg: float) -> tuple[str, str]:
    """How a lip relief is judged: ``reject``, ``caution``, ``note`` or ``accept``, and why in a few words.

    Source: common practice; 10 to 12° is wanted, none at all cannot cut, more than 12° leaves the lip weak.

    >>> relief_state(11.0), relief_state(0.0)[0], relief_state(14.0)[0]
    (('accept', ''), 'reject', 'caution')
    """
    if relief_deg <= 0:
        return "reject", "no relief: it rubs"
    if relief_deg < constant("lip_relief_rubs_deg"):
        return "caution", "heel rubs"
    if relief_deg < constant("lip_relief_low_deg"):
        return "note", "a little flat"
    if relief_deg > constant("lip_relief_high_deg"):
        return "caution", "it grabs"
    return "accept", ""
