"""Where a drawing's dimensions start from: the zero of its ordinates, else the edges its holes are placed from."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from cordwainer.core.prints.sheets import Circle
from cordwainer.core.prints.words import Point

PLACES = 4


@dataclass(frozen=True)
class Span:
    """A length dimension: its two ends, and whether it runs across the sheet or up it."""

    one: Point
    other: Point
    across: bool


def datum(ordinates: Sequence[Point], spans: Iterable[Span], circles: Sequence[Circle]) -> Point | None:
    """The zero the dimensions are counted from, in the drawing's units; None where they do not agree on one.

    `ordinates` are the zeros ordinate dimensions name. Of lengths, those that end at a circle's center line tell:
    the end at no center line is where they are counted from.

    >>> hole = Circle(30.0, 20.0, 8.0, "")
    >>> datum([], [Span((5, 0), (30, 20), True), Span((30, 20), (0, 4), False)], [hole])
    (5, 4)
    """
    ends: tuple[list[float], list[float]] = ([x for x, _ in ordinates], [y for _, y in ordinates])
    centers = tuple(
        {round(at, PLACES) for at in axis} for axis in zip(*((c.x, c.y) for c in circles), strict=True)
    )
    for span in () if ordinates or not circles else spans:
        axis = 0 if span.across else 1
        free = [p for p in (span.one, span.other) if round(p[axis], PLACES) not in centers[axis]]
        if len(free) == 1:
            ends[axis].append(free[0][axis])
    x, y = _most(ends[0]), _most(ends[1])
    return (x, y) if x is not None and y is not None else None


def lower_left(circles: Iterable[Circle]) -> Point | None:
    """The center nearest to the corner of all centers, the larger circle where two are as near; None without any.

    >>> lower_left([Circle(22.0, 35.0, 22.0, ""), Circle(60.0, 18.0, 8.5, "")])
    (22.0, 35.0)
    """
    known = tuple(circles)
    if not known:
        return None
    left, low = min(c.x for c in known), min(c.y for c in known)
    best = min(known, key=lambda c: (math.hypot(c.x - left, c.y - low), -c.diameter))
    return best.x, best.y


def _most(found: Sequence[float]) -> float | None:
    """The value named most often; None where there is none or two are named as often."""
    told = Counter(round(each, PLACES) for each in found).most_common(2)
    return None if not told or (len(told) > 1 and told[0][1] == told[1][1]) else told[0][0]
