"""Chances."""

from __future__ import annotations

from functools import cache
from math import erf, sqrt
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


def normal_cdf(z: float) -> float:
    """Standard normal distribution function.

    >>> round(normal_cdf(1.96), 4)
    0.975
    """
    return 0.5 * (1 + erf(z / sqrt(2)))


def normal_cdfs(z: NDArray[np.float64]) -> NDArray[np.float64]:
    """The same of every value of an array.

    >>> import numpy
    >>> normal_cdfs(numpy.array([0.0])).tolist()
    [0.5]
    """
    below: NDArray[np.float64] = 0.5 * (1 + _erfs()(z / sqrt(2)).astype(float))
    return below


@cache
def _erfs() -> Any:
    import numpy

    return numpy.frompyfunc(erf, 1, 1)
