"""The line a readout sends: an axis letter or none, a signed decimal, a unit or none. See `docs/readout.md`."""

from __future__ import annotations

import re
from dataclasses import dataclass

from cordwainer.core.lengths import INCH_MM

MOST_MM = 5000.0
LINE = re.compile(
    r"^\s*(?:(?P<axis>[A-Za-z])\s*[:=]?\s*)?(?P<sign>[+-]?)\s*(?P<figure>\d{1,6}(?:\.\d{1,6})?|\.\d{1,6})\s*"
    r"(?P<unit>mm|in|inch|\")?\s*$"
)


@dataclass(frozen=True)
class Line:
    """One reading: the axis it names (Z where it names none), its value in mm, the unit it was sent in.

    `said` is whether the line named that unit itself.
    """

    axis: str
    mm: float
    unit: str
    said: bool


def read_line(text: str, unit: str = "mm") -> Line | None:
    """A line as sent; None for one that is no reading. `unit` is meant where the line names none.

    >>> read_line("Z +0012.345 mm")
    Line(axis='Z', mm=12.345, unit='mm', said=True)
    >>> round(read_line("Z:.5 in").mm, 3), read_line("-3.25").mm, read_line("Z 1.2.3"), read_line("ERR 04")
    (12.7, -3.25, None, None)
    """
    found = LINE.match(text)
    if found is None:
        return None
    own = {"mm": "mm", None: unit}.get(found["unit"], "in")
    value = float(found["figure"]) * (-1 if found["sign"] == "-" else 1) * (INCH_MM if own == "in" else 1.0)
    if abs(value) > MOST_MM:
        return None
    return Line((found["axis"] or "Z").upper(), value, own, found["unit"] is not None)


def line_of(mm: float, unit: str = "mm", axis: str = "Z", *, named: bool = True) -> str:
    """A reading as a line without its end.

    >>> line_of(12.345), line_of(-12.7, "in"), line_of(3, named=False)
    ('Z +0012.345 mm', 'Z -000.5000 in', 'Z +0003.000')
    """
    figure = f"{mm / INCH_MM:+09.4f}" if unit == "in" else f"{mm:+09.3f}"
    return f"{axis} {figure} {unit}" if named else f"{axis} {figure}"
