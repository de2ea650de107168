"""What a reading must be corrected by: flat jaws and heat."""

from __future__ import annotations

from math import sqrt

REFERENCE_C = 20.0


def flat_jaw(reading_mm: float, land_mm: float) -> float:
    """True diameter from a reading between flat jaws of land width w: sqrt(reading² + w²). Derived.

    >>> round(flat_jaw(3.95, 0.6) - 3.95, 3)
    0.045
    """
    return sqrt(reading_mm**2 + land_mm**2)


def at_20(size_mm: float, part_c: float, gauge_c: float, part_per_k: float, gauge_per_k: float) -> float:
    """Diameter at 20 °C from one read warm: d (1 + a_gauge (T_gauge - 20) - a_part (T_part - 20)).

    Source: ISO 1 (reference temperature); linear expansion.

    >>> round(at_20(50, 30, 30, 23e-6, 11.5e-6) - 50, 5)
    -0.00575
    """
    return size_mm * (1 + gauge_per_k * (gauge_c - REFERENCE_C) - part_per_k * (part_c - REFERENCE_C))
