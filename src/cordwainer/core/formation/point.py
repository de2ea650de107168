"""A drill's point as read on a gauge: what it will cut, and what it will once reground."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.lips import added
from cordwainer.core.formation.oversize import lips_kept, opening_factor, survey_oversize
from cordwainer.core.language import tr
from cordwainer.core.shop.drill_point import Point
from cordwainer.core.shop.tool import CHISEL_PER_WEB, Tool
from cordwainer.core.tables import constant


@dataclass(frozen=True)
class OversizePart:
    """One cause of oversize, in words and mm."""

    words: str
    mm: float


@dataclass(frozen=True)
class WillCut:
    """What a point will cut: the drill's size, what lies over it, the mean and its standard deviation in mm."""

    label_mm: float
    parts: tuple[OversizePart, ...]
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


def lip_offset(over_mm: float, ordinary_mm: float) -> tuple[float, float]:
    """How far off its middle a point may be that cut so much over, when an ordinary one cuts so much: least, most.

    A point that turns about its chisel adds at most twice its offset, so it is at least half of what was added;
    at most the whole oversize comes of it. Source: derived.

    >>> low, high = lip_offset(0.031, 0.007)
    >>> round(low, 4), round(high, 4)
    (0.012, 0.0155)
    """
    return max(over_mm - ordinary_mm, 0.0) / 2, max(over_mm, 0.0) / 2


def chisel_of(drill: Tool, point: Point) -> float:
    """The chisel edge in mm with the web that was read, else the drill's own."""
    return drill.chisel_mm if point.web is None else point.web * CHISEL_PER_WEB


def what_it_cuts(drill: Tool, point: Point, previous_mm: float = 0.0) -> WillCut:
    """The hole a drill with this point leaves, opening a hole of `previous_mm` (0: from solid).

    Source: Machinery's Handbook's survey for ordinary points; derived geometry for the lips; gains assumed or
    calibrated as `constants.csv` says.
    """
    d = drill.diameter_mm
    low, mean, high = survey_oversize(d)
    f = opening_factor(d, drill.chisel_mm, previous_mm) * drill.oversize_factor
    own = added(drill, point)
    ordinary = mean * f * own.share
    parts = [OversizePart(tr("ordinary drilling"), ordinary)]
    if point.worn > 0:
        parts.append(OversizePart("wear", ordinary * constant("wear_oversize_gain") * point.worn))
    variance = (constant("survey_sd_share") * (high - low) * f * own.share) ** 2
    kept = lips_kept(d, chisel_of(drill, point), previous_mm)
    if own.lips_sd > 0:
        parts.append(OversizePart("lips", own.lips_mm * kept))
    if own.angles_sd > 0:
        parts.append(OversizePart("angles", own.angles_mm * kept))
    variance += (own.sd * kept) ** 2
    return WillCut(d, tuple(parts), math.sqrt(variance))


def reground(drill: Tool, previous_mm: float = 0.0) -> WillCut:
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
        return "reject", tr("no relief: it rubs")
    if relief_deg < constant("lip_relief_rubs_deg"):
        return "caution", tr("heel rubs")
    if relief_deg < constant("lip_relief_low_deg"):
        return "note", tr("a little flat")
    if relief_deg > constant("lip_relief_high_deg"):
        return "caution", tr("it grabs")
    return "accept", ""
