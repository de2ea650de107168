"""Transfer punches: the one that fits a hole already there, to mark the hole that must match it."""

from __future__ import annotations

from fractions import Fraction

from cordwainer.core.lengths import MM_PER_INCH, fraction_name

SETS = ((Fraction(3, 32), Fraction(17, 32)), (Fraction(17, 32), Fraction(7, 8)))
STEP = Fraction(1, 64)
LARGEST_PLAY_MM = 0.45


def transfer_punch(hole_mm: float) -> str | None:
    """The largest transfer punch that enters a hole, by 1/64 in from 3/32 to 7/8; None outside the sets.

    Source: common practice (sets of 28 from 3/32 to 17/32 and larger ones to 7/8).

    >>> transfer_punch(8.5), transfer_punch(1.5)
    ('21/64 in', None)
    """
    steps = int(Fraction(str(round(hole_mm, 6))) / MM_PER_INCH / STEP)
    size = steps * STEP
    low, high = SETS[0][0], SETS[-1][1]
    if size < low or hole_mm - float(min(size, high) * MM_PER_INCH) > LARGEST_PLAY_MM:
        return None
    return fraction_name(min(size, high))
