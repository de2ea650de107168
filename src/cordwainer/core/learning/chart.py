"""Is a tool still cutting as it did? A chart of single holes in order, with its own limits.

Limits are the mean and three spreads either way, the spread from the mean step between neighbors (over 1.128),
so that a drift widens them little. Source: NIST/SEMATECH e-Handbook 6.3.2.2; a run of eight: common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

FEWEST, RUN = 8, 8
D2 = 1.128


@dataclass(frozen=True)
class Chart:
    """Center and limits in the unit of the values; places (from 0) beyond a limit and in a run on one side."""

    center: float
    lower: float
    upper: float
    beyond: tuple[int, ...]
    run: tuple[int, ...]

    @property
    def steady(self) -> bool:
        """Nothing stands out."""
        return not self.beyond and not self.run


def individuals(values: Sequence[float]) -> Chart | None:
    """The chart of values in order, of any length unit; None for fewer than eight.

    >>> flow = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1]
    >>> found = individuals(flow)
    >>> round(found.lower, 3), round(found.center, 3), round(found.upper, 3)
    (45.816, 50.81, 55.804)
    """
    count = len(values)
    if count < FEWEST:
        return None
    center = sum(values) / count
    step = sum(abs(b - a) for a, b in pairwise(values)) / (count - 1)
    reach = 3 * step / D2
    beyond = tuple(k for k, value in enumerate(values) if abs(value - center) > reach + 1e-12)
    sides = [int(value > center) - int(value < center) for value in values]
    run: set[int] = set()
    for start in range(count - RUN + 1):
        part = sides[start : start + RUN]
        if part[0] and len(set(part)) == 1:
            run.update(range(start, start + RUN))
    return Chart(center, center - reach, center + reach, beyond, tuple(sorted(run)))
