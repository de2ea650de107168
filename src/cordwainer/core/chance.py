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


# Wichura, algorithm AS 241 (Applied Statistics 37, 1988), PPND16: numerator and denominator, highest power first.
CENTRAL = (
    (
        2.5090809287301226727e3, 3.3430575583588128105e4, 6.7265770927008700853e4, 4.5921953931549871457e4,
        1.3731693765509461125e4, 1.9715909503065514427e3, 1.3314166789178437745e2, 3.3871328727963666080e0,
    ),
    (
        5.2264952788528545610e3, 2.8729085735721942674e4, 3.9307895800092710610e4, 2.1213794301586595867e4,
        5.3941960214247511077e3, 6.8718700749205790830e2, 4.2313330701600911252e1, 1.0,
    ),
)  # fmt: skip
NEAR = (
    (
        7.7454501427834140764e-4, 2.27238449892691845833e-2, 2.41780725177450611770e-1, 1.27045825245236838258e0,
        3.64784832476320460504e0, 5.76949722146069140550e0, 4.63033784615654529590e0, 1.42343711074968357734e0,
    ),
    (
        1.05075007164441684324e-9, 5.47593808499534494600e-4, 1.51986665636164571966e-2, 1.48103976427480074590e-1,
        6.89767334985100004550e-1, 1.67638483018380384940e0, 2.05319162663775882187e0, 1.0,
    ),
)  # fmt: skip


def normal_quantiles(p: NDArray[np.float64]) -> NDArray[np.float64]:
    """Standard normal quantiles of chances from 1e-10 to 0.5, as an array. Source: algorithm AS 241.

    >>> import numpy
    >>> [round(float(z), 6) for z in normal_quantiles(numpy.array([0.025, 0.5]))]
    [-1.959964, 0.0]
    """
    import numpy

    q = p - 0.5
    r = 0.180625 - q * q
    middle = q * numpy.polyval(CENTRAL[0], r) / numpy.polyval(CENTRAL[1], r)
    tail = numpy.sqrt(-numpy.log(p)) - 1.6
    outer = -numpy.polyval(NEAR[0], tail) / numpy.polyval(NEAR[1], tail)
    found: NDArray[np.float64] = numpy.where(numpy.abs(q) <= 0.425, middle, outer)
    return found


@cache
def _erfs() -> Any:
    import numpy

    return numpy.frompyfunc(erf, 1, 1)
