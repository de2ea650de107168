"""Taper pins: their sizes, and the hole at either end of one.

Source: `taper_pins.csv` (ASME B18.8.2, 1:48, named by number, the large end known; ISO 2339, 1:50, named by
the small end).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.tables import rows

TAPERS = {"inch": "1:48", "metric": "1:50"}


@dataclass(frozen=True)
class PinSize:
    """One taper pin: its size as named, its taper, and the end by which it is known."""

    size: str
    taper: str
    nominal: Length
    large_end_known: bool
    source: str

    @property
    def slope(self) -> Fraction:
        """Change of diameter over length."""
        return 1 / Fraction(self.taper.split(":")[1])

    def ends(self, length_mm: Fraction) -> tuple[Fraction, Fraction]:
        """Large and small end of the hole over a length, in exact mm; the pin flush at both faces."""
        nominal, change = self.nominal.exact_mm, length_mm * self.slope
        return (nominal, nominal - change) if self.large_end_known else (nominal + change, nominal)


def pin_size(size: str, taper: str | None = None) -> PinSize:
    """A taper pin: ``#4`` or ``4`` with 1:48, ``6 mm`` or ``6`` with 1:50. Raises `InputError` with the sizes.

    >>> pin_size("#4").taper, str(pin_size("6").nominal)
    ('1:48', '6 mm')
    """
    text = size.strip().removesuffix("mm").strip()
    inch = text.startswith("#") or taper == "1:48" or "/" in text
    system = "inch" if inch else "metric"
    wanted = text.lstrip("# ")
    column = "large_end_diameter" if inch else "small_end_diameter"
    for row in rows("taper_pins"):
        if row.text("system") == system and row.text("size") == wanted:
            nominal = parse(f"{row.text(column)} {'in' if inch else 'mm'}")
            name = f"#{wanted}" if inch else wanted
            return PinSize(name, TAPERS[system], nominal, inch, row.source)
    names = ", ".join(row.text("size") for row in rows("taper_pins") if row.text("system") == system)
    raise InputError(
        "size",
        tr(
            "'{size}' is not a {tapers} taper pin; write one of {names}",
            size=size,
            tapers=TAPERS[system],
            names=names,
        ),
    )
