"""Does a process hold the print? Cp and Cpk of like holes, with how far each may be off.

Source: NIST/SEMATECH e-Handbook 6.1.6 (indices; limits of Cp by chi-square; those of Cpk by Bissell's normal
approximation). The spread is that of all holes together, drift included, as they go to the customer.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import fmean, stdev

FEWEST, CONFIDENCE = 5, 0.95


@dataclass(frozen=True)
class Capability:
    """Indices with their two-sided limits, and what they were worked out from, in the unit of the sizes."""

    holes: int
    mean: float
    spread: float
    cp: float
    cp_low: float
    cp_high: float
    cpk: float
    cpk_low: float
    cpk_high: float

    @property
    def word(self) -> str:
        """`holds` where even the low limit of Cpk is 1, `fails` where the high one is below it, else `unsure`."""
        if self.cpk_low >= 1:
            return "holds"
        return "fails" if self.cpk_high < 1 else "unsure"


def capability(
    sizes: Sequence[float], lower: float, upper: float, confidence: float = CONFIDENCE
) -> Capability | None:
    """Cp, Cpk and their limits for sizes against a print; None for fewer than five or sizes all alike.

    >>> found = capability([20.010, 20.012, 20.009, 20.011, 20.013, 20.008], 20.0, 20.021)
    >>> round(found.cp, 3), round(found.cpk, 3)
    (1.871, 1.871)
    """
    from scipy.special import chdtri, ndtri

    count = len(sizes)
    if count < FEWEST or not upper > lower:
        return None
    mean, spread = fmean(sizes), stdev(sizes)
    if spread <= 0:
        return None
    cp = (upper - lower) / (6 * spread)
    cpk = min(upper - mean, mean - lower) / (3 * spread)
    free, out = count - 1, (1 - confidence) / 2
    # chdtri gives the value exceeded with that probability.
    low, high = (sqrt(float(chdtri(free, p)) / free) for p in (1 - out, out))
    reach = float(ndtri(1 - out)) * sqrt(1 / (9 * count) + cpk * cpk / (2 * free))
    return Capability(count, mean, spread, cp, cp * low, cp * high, cpk, cpk - reach, cpk + reach)
