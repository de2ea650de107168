"""How far a reading may be off."""

from __future__ import annotations

from math import sqrt

from cordwainer.core.shop.gauge import Gauge, standard_uncertainty_mm

GUARD_FACTOR = 2.0


def expanded_mm(
    kind: str, resolution_mm: float, diameter_mm: float = 0.0, expansion_per_k: float = 0.0, warm: bool = False
) -> float:
    """Expanded uncertainty U of one reading in mm, factor 2.

    U = 2 sqrt(u_kind² + (resolution/√12)² + u_temperature²); the last term is the expansion over
    1 K, counted when the part is more than 1 K from 20 °C. Source: GUM; u_kind of `gauges.csv`.

    >>> round(expanded_mm("two_point_bore_gauge", 0.001), 5)
    0.00404
    """
    u_kind = standard_uncertainty_mm(kind)
    u_temperature = expansion_per_k * diameter_mm if warm else 0.0
    return GUARD_FACTOR * sqrt(u_kind**2 + (resolution_mm / sqrt(12)) ** 2 + u_temperature**2)


def gauge_expanded_mm(gauge: Gauge) -> float:
    """Expanded uncertainty of a shop's gauge at 20 °C, its own figure where it has one."""
    if gauge.expanded_mm is not None:
        return gauge.expanded_mm
    return expanded_mm(gauge.kind, gauge.resolution_mm)
