"""Chances."""

from __future__ import annotations

from math import erf, sqrt


def normal_cdf(z: float) -> float:
    """Standard normal distribution function.

    >>> round(normal_cdf(1.96), 4)
    0.975
    """
    return 0.5 * (1 + erf(z / sqrt(2)))
