"""Depths: points, center-drill cones, pecks, breakthrough."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.language import tr
from cordwainer.core.tables import constant
from cordwainer.core.working import formula

MOST_PECKS = 500


@formula(tr("point length"), tr("(d/2) / tan(angle/2)"), "mm", "derived")
def point_length(diameter_mm: float, angle_deg: float) -> float:
    """Length of a drill's cone from corner to tip in mm; included angle 0 < a <= 180.

    >>> round(point_length(12, 118), 3)  # Machinery's Handbook, length of point
    3.605
    """
    if angle_deg >= 180:
        return 0.0
    return diameter_mm / 2 / math.tan(math.radians(angle_deg / 2))


@formula(tr("cone length"), tr("(body - pilot) / 2 / tan 30°"), "mm", "derived")
def cone_length(pilot_mm: float, body_mm: float) -> float:
    """Length of a center drill's 60° cone in mm.

    >>> round(cone_length(0.125 * 25.4, 0.3125 * 25.4) / 25.4, 4)
    0.1624
    """
    return (body_mm - pilot_mm) / 2 / math.tan(math.radians(30))


@formula("mouth", tr("pilot + share (body - pilot)"), "mm", "derived")
def center_mouth(pilot_mm: float, body_mm: float, cone_share: float) -> float:
    """Mouth of a center hole that uses a share (0 to 1) of the cone, in mm.

    >>> round(center_mouth(0.125, 0.3125, 2 / 3), 4)
    0.25
    """
    return pilot_mm + cone_share * (body_mm - pilot_mm)


@formula(tr("metal taken"), tr("π/4 (tool² - hole²)"), "mm²", "derived")
def ring_area(tool_mm: float, hole_mm: float) -> float:
    """Cross-section of the ring a tool takes in opening a hole, in mm².

    >>> round(ring_area(10, 9), 2), round(ring_area(10, 9.8), 2)
    (14.92, 3.11)
    """
    return math.pi / 4 * (tool_mm**2 - hole_mm**2)


@dataclass(frozen=True)
class CenterDepth:
    """How deep a center drill goes: share of its cone, mouth and depth of the tip in mm."""

    share: float
    mouth_mm: float
    tip_mm: float


def start_center(
    pilot_mm: float,
    pilot_length_mm: float,
    body_mm: float,
    next_chisel_mm: float,
    tip_only: bool,
    least_share: float | None = None,
) -> CenterDepth | None:
    """The depth of a center drilled to start a drill, or None when this one cannot serve it.

    The larger of a third of the cone and the mouth 1.1 x the next chisel edge; at most half,
    three quarters where the chisel edge needs it. `tip_only` (hard steel) stops at the pilot; `least_share` of the
    cone is a practice in place of the third.
    Source: rules of record 9, common practice.
    """
    needed = constant("chisel_mouth") * next_chisel_mm
    if tip_only:
        return CenterDepth(0.0, pilot_mm, pilot_length_mm) if pilot_mm >= needed else None
    for_chisel = (needed - pilot_mm) / (body_mm - pilot_mm)
    share = max(least_share or constant("cone_least"), for_chisel)
    if share > constant("cone_most"):
        return None
    tip = pilot_length_mm + share * cone_length(pilot_mm, body_mm)
    return CenterDepth(share, center_mouth(pilot_mm, body_mm, share), tip)


@formula(tr("cone depth"), tr("(mouth - hole) / 2 / tan(angle/2)"), "mm", "derived")
def cone_depth(mouth_mm: float, hole_mm: float, angle_deg: float) -> float:
    """Depth of a countersink from the touch on the hole's edge, in mm.

    >>> round(cone_depth(0.5, 0.25, 82), 4)
    0.1438
    """
    return (mouth_mm - hole_mm) / 2 / math.tan(math.radians(angle_deg / 2))


def mouth_growth(deeper_mm: float, angle_deg: float) -> float:
    """How much wider a cone's mouth gets by going deeper, in mm; included angle. Source: derived.

    >>> round(mouth_growth(0.1, 90), 3), round(mouth_growth(0.1, 82), 3)
    (0.2, 0.174)
    """
    return 2 * deeper_mm * math.tan(math.radians(angle_deg / 2))


def cone_more(measured_mm: float, wanted_mm: float, angle_deg: float) -> float:
    """How much deeper a countersink goes for its mouth to come from what is measured to what is wanted, in mm.

    Below zero it is too deep already. Source: derived.

    >>> round(cone_more(11.8, 12.4, 90), 3), round(cone_more(0.5, 0.48, 82), 4)
    (0.3, -0.0115)
    """
    return cone_depth(wanted_mm, measured_mm, angle_deg)


def pecks(
    depth_mm: float,
    tip_mm: float,
    diameter_mm: float,
    *,
    carbide: bool = False,
    often: bool = False,
    hardens: bool = False,
) -> tuple[float, ...]:
    """Cumulative tip depths at which chips are cleared, the last being the tip depth; () for none.

    They begin beyond 3 d (carbide 5 d) of depth: a first bite of as much, then 1 d, beyond 8 d
    half a diameter; below 1 mm diameter 1 mm, then 0.1 mm. `often` begins beyond 2 d and takes half a diameter
    throughout, `hardens` never less than 1 d, for a metal that hardens where it is rubbed (common practice).
    Source: rules of record 10 and 31.

    >>> pecks(30, 33.0, 10)
    ()
    >>> pecks(40, 43.0, 10)
    (30.0, 40.0, 43.0)
    """
    d = diameter_mm
    start = constant("peck_start_carbide" if carbide else "peck_start_hss")
    if often and not carbide:
        start = constant("peck_start_often")
    if depth_mm <= start * d + 1e-9:
        return ()
    micro = d < 1.0
    at = constant("micro_first_peck_mm") if micro else start * d
    found = []
    while at < tip_mm - 1e-9:
        found.append(round(at, 6))
        if micro:
            at += constant("micro_peck_mm")
        else:
            deep = often or (not hardens and at >= constant("peck_deep_over") * d - 1e-9)
            at += (constant("peck_deep_bite") if deep else constant("peck_bite")) * d
    return (*found, tip_mm)


def pecks_of(tip_mm: float, bite_mm: float) -> tuple[float, ...]:
    """Cumulative tip depths in bites of one size, the last being the tip depth; () where one bite does it.

    >>> pecks_of(1.0, 0.3)
    (0.3, 0.6, 0.9, 1.0)
    """
    if bite_mm <= 0 or tip_mm <= bite_mm or tip_mm / bite_mm > MOST_PECKS:
        return ()
    count = math.ceil(round(tip_mm / bite_mm, 6)) - 1
    return (*(round((i + 1) * bite_mm, 9) for i in range(count)), tip_mm)


@dataclass(frozen=True)
class Breakthrough:
    """Tip depths between which the feed is halved, and that feed."""

    from_tip_mm: float
    to_tip_mm: float
    feed_mm_per_rev: float


def breakthrough(
    thickness_mm: float, point_mm: float, feed_mm_per_rev: float, sag_mm: float = 0.0
) -> Breakthrough:
    """Half feed from 1 mm before the point emerges until the corners are out.

    `sag_mm`: how much later than the axis the corners come out, into a cross hole.

    Source: rules of record 11, common practice.
    """
    start = max(thickness_mm - constant("breakthrough_before_mm"), 0.0)
    return Breakthrough(start, thickness_mm + point_mm + sag_mm, constant("breakthrough_feed") * feed_mm_per_rev)
