"""Chances."""

from __future__ import annotations

from math import erf, sqrt

import numpy as np
from numpy.typing import NDArray

_erf = np.frompyfunc(erf, 1, 1)


def normal_cdf(z: float) -> float:
    """Standard normal distribution function.

    >>> round(normal_cdf(1.96), 4)
    0.975
    """
    return 0.5 * (1 + erf(z / sqrt(2)))


def normal_cdfs(z: NDArray[np.float64]) -> NDArray[np.float64]:
    """The same of every value of an array.

    >>> normal_cdfs(np.array([0.0])).tolist()
    [0.5]
    """
    return 0.5 * (1 + np.asarray(_erf(z / sqrt(2)), dtype=float))
