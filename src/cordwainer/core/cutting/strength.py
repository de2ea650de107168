"""What a drill stands: bending, buckling, twisting; room for chips; metal taken; deep and wide holes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.language import tr
from cordwainer.core.tables import constants
from cordwainer.core.working import formula

STEEL_N_MM2 = 210e3
HELD, FREE = 2.046, 0.25
TORSION_SHARE, SHEAR_N_MM2 = 0.2, 1500.0
DEEP_D, GUIDE_D = 8.0, 1.5
ENTRY_RPM = (300.0, 500.0)
SPADE_FROM_MM = 25.0
SPADE_FEED_MM = (0.36, 0.50)


def section_inertia(diameter_mm: float) -> float:
    """Bending inertia of a fluted section in mm^4, 0.35 of the round one (assumed)."""
    return constants("model_fixed")["section_inertia"] * math.pi * diameter_mm**4 / 64


@formula(tr("side stiffness"), "3 E I / L³, I = 0.35 π d⁴ / 64", "N/mm", tr("beam theory; fluted section assumed"))
def side_stiffness(diameter_mm: float, projecting_mm: float, modulus: float = STEEL_N_MM2) -> float:
    """Force that bends a drill's point aside by a millimeter, in N/mm.

    >>> round(side_stiffness(10, 80), 1)
    211.4
    """
    return 3 * modulus * section_inertia(diameter_mm) / projecting_mm**3


@formula(tr("buckling load, point held"), "2.046 π² E I / L²", "N", tr("column theory; fluted section assumed"))
def buckling_held_n(diameter_mm: float, projecting_mm: float, modulus: float = STEEL_N_MM2) -> float:
    """Thrust at which a drill whose point stands in a spot buckles, in N.

    >>> round(buckling_held_n(10, 80))
    113837
    """
    return HELD * math.pi**2 * modulus * section_inertia(diameter_mm) / projecting_mm**2


@formula(tr("buckling load, point free"), "0.25 π² E I / L²", "N", tr("column theory; fluted section assumed"))
def buckling_free_n(diameter_mm: float, projecting_mm: float, modulus: float = STEEL_N_MM2) -> float:
    """The same of a drill whose point may slide, in N."""
    return FREE * math.pi**2 * modulus * section_inertia(diameter_mm) / projecting_mm**2


@formula(
    tr("torque it stands"), "0.2 π/16 d³ × 1500 N/mm²", "N·m", tr("torsion of a bar; share and strength assumed")
)
def torsion_limit_nm(diameter_mm: float) -> float:
    """Torque at which a high-speed-steel drill breaks, in N·m.

    >>> round(torsion_limit_nm(10), 3)
    58.905
    """
    return TORSION_SHARE * math.pi / 16 * diameter_mm**3 * SHEAR_N_MM2 / 1000


@formula(
    tr("flute left above the hole"), tr("flute length - depth - point"), "mm", tr("common practice: 2 d or more")
)
def flute_room_mm(flute_mm: float, depth_mm: float, point_mm: float) -> float:
    """Flute that stands out of the hole at full depth in mm; under 2 d chips pack.

    >>> flute_room_mm(87, 60, 3)
    24
    """
    return flute_mm - depth_mm - point_mm


@formula(tr("metal taken"), tr("π/4 (d² - hole²) × feed × rev/min / 1000"), "cm³/min", "derived")
def metal_cm3_min(diameter_mm: float, hole_mm: float, feed_mm_per_rev: float, rpm: float) -> float:
    """Metal taken in a minute, in cm³.

    >>> round(metal_cm3_min(38.1, 0, 1.0, 100.0) / 16.387, 2)  # 1.5 in at 3.937 in a minute: 6.96 cubic inches
    6.96
    """
    return math.pi / 4 * (diameter_mm**2 - hole_mm**2) * feed_mm_per_rev * rpm / 1000


@formula(tr("tap torque"), "k p² d / 8000", "N·m", tr("common practice"))
def tap_torque_nm(diameter_mm: float, pitch_mm: float, cutting_n_mm2: float) -> float:
    """Torque of a sharp tap in N·m for a specific cutting force.

    >>> round(tap_torque_nm(10, 1.5, 2000), 1)
    5.6
    """
    return cutting_n_mm2 * pitch_mm**2 * diameter_mm / 8000


@dataclass(frozen=True)
class DeepEntry:
    """How a long drill is led into a deep hole: depth of the guide pilot in mm, and speed to enter at."""

    pilot_mm: float
    rpm_low: float
    rpm_high: float


def deep_entry(depth_mm: float, diameter_mm: float) -> DeepEntry | None:
    """The guide pilot and entry of holes over 8 diameters deep; None for others. Source: common practice.

    >>> deep_entry(60, 5)
    DeepEntry(pilot_mm=7.5, rpm_low=300.0, rpm_high=500.0)
    """
    if depth_mm <= DEEP_D * diameter_mm:
        return None
    return DeepEntry(GUIDE_D * diameter_mm, *ENTRY_RPM)


def spade_feed(diameter_mm: float) -> tuple[float, float] | None:
    """Feed a spade drill begins at and is raised to until chips break, in mm/rev; None below 25 mm.

    Source: common practice, medium-carbon steel with a high-speed-steel insert.
    """
    return SPADE_FEED_MM if diameter_mm >= SPADE_FROM_MM else None
