"""Fits in plain words: the hole for a shaft, or the shaft for a hole."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from cordwainer.core.part.tolerance import Limits, iso_limits, shaft_limits
from cordwainer.core.tables import rows

BASIC_SHAFT, BASIC_HOLE = "h6", "H7"


@dataclass(frozen=True)
class Fit:
    """One fit: its plain name, what it does, the zone to make, its limits and the play, in exact mm.

    `least_mm` and `most_mm` are clearance; negative where the parts hold.
    """

    id: str
    name: str
    words: str
    code: str
    limits: Limits
    least_mm: Fraction
    most_mm: Fraction

    @property
    def kind(self) -> str:
        """Clearance, transition or interference."""
        if self.least_mm >= 0:
            return "clearance"
        return "interference" if self.most_mm <= 0 else "transition"


def holes_for(nominal: Fraction, shaft: Limits | None = None) -> tuple[Fit, ...]:
    """Holes for a pin or shaft, loosest first; `shaft` is what it measures, h6 where it is not given.

    >>> [fit.code for fit in holes_for(Fraction(25))]
    ['F7', 'G7', 'H7', 'N7', 'S7']
    """
    pin = shaft or shaft_limits(nominal, BASIC_SHAFT)
    found = []
    for row in rows("fits"):
        limits = iso_limits(nominal, row.text("hole_code"))
        least, most = limits.lower - pin.upper, limits.upper - pin.lower
        code = row.text("hole_code")
        found.append(Fit(row.text("id"), row.words("name"), row.words("words"), code, limits, least, most))
    return tuple(found)


def shafts_for(nominal: Fraction, hole: Limits | None = None) -> tuple[Fit, ...]:
    """Shafts to turn for a hole, loosest first; `hole` is its limits, H7 where they are not given."""
    bore = hole or iso_limits(nominal, BASIC_HOLE)
    found = []
    for row in rows("fits"):
        limits = shaft_limits(nominal, row.text("shaft_code"))
        least, most = bore.lower - limits.upper, bore.upper - limits.lower
        code = row.text("shaft_code")
        found.append(Fit(row.text("id"), row.words("name"), row.words("words"), code, limits, least, most))
    return tuple(found)
