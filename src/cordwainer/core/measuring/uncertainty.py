"""How far a reading may be off."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from cordwainer.core.language import tr
from cordwainer.core.shop.gauge import Gauge, standard_uncertainty_mm

GUARD_FACTOR = 2.0


@dataclass(frozen=True)
class Share:
    """One thing a reading may be off by: its id, what it is in words, its standard uncertainty in mm."""

    id: str
    words: str
    standard_mm: float


def budget(
    kind: str, resolution_mm: float, diameter_mm: float = 0.0, expansion_per_k: float = 0.0, warm: bool = False
) -> tuple[Share, ...]:
    """What adds up to the uncertainty of one reading, each as a standard uncertainty in mm.

    The gauge in a practiced hand (`gauges.csv`), its resolution as a rectangle one division wide (over √12), and
    for a part more than 1 K from 20 °C its expansion over 1 K. Source: GUM (JCGM 100), 4.3 and 5.1.
    """
    shares = [
        Share("gauge", tr("gauge and hand"), standard_uncertainty_mm(kind)),
        Share("resolution", tr("one division"), resolution_mm / sqrt(12)),
    ]
    if warm:
        shares.append(Share("temperature", tr("temperature by 1 K"), expansion_per_k * diameter_mm))
    return tuple(shares)


def total_mm(shares: tuple[Share, ...]) -> float:
    """Expanded uncertainty of independent shares, factor 2. Source: GUM (JCGM 100), 5.1.2 and 6.2."""
    return GUARD_FACTOR * sqrt(sum(share.standard_mm**2 for share in shares))


def expanded_mm(
    kind: str, resolution_mm: float, diameter_mm: float = 0.0, expansion_per_k: float = 0.0, warm: bool = False
) -> float:
    """Expanded uncertainty of one reading in mm: 2 sqrt(u_kind² + (resolution/√12)² + u_temperature²).

    >>> round(expanded_mm("two_point_bore_gauge", 0.001), 5)
    0.00404
    """
    return total_mm(budget(kind, resolution_mm, diameter_mm, expansion_per_k, warm))


def gauge_expanded_mm(gauge: Gauge) -> float:
    """Expanded uncertainty of a shop's gauge at 20 °C, its own figure where it has one."""
    if gauge.expanded_mm is not None:
        return gauge.expanded_mm
    return expanded_mm(gauge.kind, gauge.resolution_mm)
