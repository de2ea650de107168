"""Spindle speed: from surface speed to the step a machine really has."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Band, Material
from cordwainer.core.tables import constant, rows
from cordwainer.core.working import Working, formula

METERS_PER_FOOT = 0.3048


@formula("rev/min", "n = 1000 v / (π d)", "rev/min", "derived")
def rpm_for(surface_m_min: float, diameter_mm: float) -> float:
    """Spindle speed in rev/min for a surface speed in m/min at a diameter in mm (> 0).

    >>> round(rpm_for(175.3, 101.6))  # Machinery's Handbook, cutting-speed formulas
    549
    """
    return 1000.0 * surface_m_min / (math.pi * diameter_mm)


@formula(tr("surface speed"), "v = π d n / 1000", "m/min", "derived")
def surface_speed(rpm: float, diameter_mm: float) -> float:
    """Surface speed in m/min of a diameter in mm turning at rev/min.

    >>> round(surface_speed(2000, 0.4), 2)
    2.51
    """
    return math.pi * diameter_mm * rpm / 1000.0


@formula(tr("rev/min, shop form"), "n = 4 V / D", "rev/min", tr("common practice"))
def rpm_shop_form(surface_ft_min: float, diameter_in: float) -> float:
    """The shop's short form in feet per minute and inches; 4.7 % above the exact one.

    >>> rpm_shop_form(300, 1)
    1200.0
    """
    return 4.0 * surface_ft_min / diameter_in


def shop_form(surface_m_min: float, diameter_mm: float) -> Working:
    """The shop's short form of the same speed, as a working in feet per minute and inches."""
    return rpm_shop_form.working(surface_m_min / METERS_PER_FOOT, diameter_mm / INCH_MM)


def depth_factors(depth_mm: float, diameter_mm: float) -> tuple[float, float]:
    """Speed and feed factors of a drilled depth: 1 up to 3 d, then the table's row, no interpolation.

    Source: `drill_depth_speed_factors.csv` (handbook deep-hole reduction table).

    >>> depth_factors(30, 10), depth_factors(30.1, 10), depth_factors(85, 10)
    ((1.0, 1.0), (0.9, 0.9), (0.6, 0.8))
    """
    ratio = depth_mm / diameter_mm
    factors = (1.0, 1.0)
    for row in rows("drill_depth_speed_factors"):
        if ratio > row.number("depth_over_diameter") + 1e-9:
            factors = row.number("speed_factor"), row.number("feed_factor")
    return factors


def speed_band(material: Material, operation: str, tool_material: str) -> Band:
    """The material's range of surface speeds in m/min for an operation and tool material."""
    if operation == "ream":
        return material.speeds["hss_ream"]
    if operation == "bore":
        return material.speeds["hss_bore"]
    return material.speeds["carbide_drill" if tool_material == "carbide" else "hss_drill"]


@dataclass(frozen=True)
class Speed:
    """A speed chosen: what would be ideal, what the machine gives, and what that means."""

    ideal_m_min: float
    ideal_rpm: float
    rpm: float | None
    too_fast: bool = False
    refused: bool = False
    below: float | None = None
    above: float | None = None

    @property
    def over_percent(self) -> float | None:
        """How far the step lies over (or, negative, under) the ideal, in percent."""
        return None if self.rpm is None else 100 * (self.rpm / self.ideal_rpm - 1)


def ideal_surface(
    material: Material, operation: str, tool_material: str, depth_ratio_factor: float, power_feed: bool
) -> float:
    """Ideal surface speed in m/min: middle of the range, reamers with hand feed its low end.

    Drills are multiplied by the depth factor. Sources: rules of record 7, `cutting_speeds.csv`.
    """
    band = speed_band(material, operation, tool_material)
    if operation == "ream":
        return band.middle if power_feed else min(band.low, constant("hand_ream_cap_m_min"))
    if operation == "bore":
        return band.middle
    return band.middle * depth_ratio_factor


def choose(
    material: Material,
    operation: str,
    tool_material: str,
    diameter_mm: float,
    depth_mm: float | None,
    machine: Machine | None,
    *,
    surface_m_min: float | None = None,
) -> Speed:
    """The machine's highest step not over 1.10 x the ideal; the lowest one, said, if all are over.

    `surface_m_min` stands in for the ideal surface speed where a practice sets another. Either is taken by what
    the machine's people run of the tables.

    `diameter_mm` is the cutting diameter (a center drill's pilot). Without a machine only the
    ideal is given. `refused` is set where even the lowest step is more than twice the column's
    high end.
    """
    factor = 1.0
    if operation in ("drill", "core_drill", "spade_drill") and depth_mm is not None:
        factor = depth_factors(depth_mm, diameter_mm)[0]
    power = machine is not None and machine.feeds_mm_per_rev is not None
    surface = surface_m_min or ideal_surface(material, operation, tool_material, factor, power)
    if machine is not None:
        surface *= machine.speed_factor(material.id)
    ideal = rpm_for(surface, diameter_mm)
    if machine is None:
        return Speed(surface, ideal, None)
    ceiling = constant("speed_over_ideal") * ideal
    if operation == "center_drill":
        cap = "center_drill_cap_fast_rpm" if material.turns_fast else "center_drill_cap_rpm"
        ceiling = min(ceiling, constant(cap))
    return step_at_most(machine, ceiling, surface, ideal, speed_band(material, operation, tool_material))


def step_at_most(machine: Machine, ceiling: float, surface: float, ideal: float, band: Band) -> Speed:
    """The highest step not over `ceiling`, with its neighbors and whether it is too fast."""
    steps = machine.steps()
    fitting = [n for n in steps if n <= ceiling + 1e-9]
    rpm = fitting[-1] if fitting else steps[0]
    above = next((n for n in steps if n > rpm), None)
    below = next((n for n in reversed(steps) if n < rpm), None)
    refused = False
    if not fitting:
        actual = surface * rpm / ideal
        refused = actual > constant("speed_refused_over_high") * band.high
    return Speed(surface, ideal, rpm, not fitting, refused, below, above)


def next_lower(machine: Machine, below_rpm: float, *, strictly: bool) -> float | None:
    """The highest step below (or not above) a speed, or None."""
    fitting = [n for n in machine.steps() if (n < below_rpm - 1e-9 if strictly else n <= below_rpm + 1e-9)]
    return fitting[-1] if fitting else None
