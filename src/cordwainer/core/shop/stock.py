"""What is sold: the sizes and kinds of the built-in catalog, made when they are asked for."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction
from functools import cache
from itertools import chain
from typing import overload

from cordwainer.core.lengths import Length, fraction_name, number_drills, parse
from cordwainer.core.shop import finishers as fin
from cordwainer.core.shop import makers as mk
from cordwainer.core.shop.makers import INCH, metric_length
from cordwainer.core.shop.tool import KINDS, Tool
from cordwainer.core.tables import Row, rows

FIT_REAMER_FRACTIONS = ("1/8", "3/16", "1/4", "5/16", "3/8", "7/16", "1/2", "5/8", "3/4", "1")
COUNTERSINK_SIZES = (
    "6.3 mm",
    "8.3 mm",
    "10.4 mm",
    "12.4 mm",
    "16.5 mm",
    "20.5 mm",
    "25 mm",
    "1/4 in",
    "1/2 in",
    "3/4 in",
    "1 in",
)
COUNTERSINK_ANGLES = (60.0, 82.0, 90.0, 100.0, 120.0)
EXTRA_LONG_MM = (3, 4, 5, 6, 8, 10)
BARS_MM = (4, 6, 8, 10, 12, 16, 20, 25)
END_MILLS_MM = (2, 3, 4, 5, 6, 8, 10, 12, 14, 16, 18, 20, 22, 25)


def metric_range(first: str, last: str, step: str) -> Iterator[Fraction]:
    """Sizes from first to last, both included, in exact steps."""
    value = Fraction(first)
    while value <= Fraction(last):
        yield value
        value += Fraction(step)


def metric_drill_sizes() -> list[Fraction]:
    """The metric twist drills of the catalog in millimeters (common practice)."""
    sizes = set(metric_range("0.20", "1.00", "0.05"))
    sizes.update(metric_range("1.0", "14.0", "0.1"))
    sizes.update(metric_range("1.25", "13.75", "0.5"))
    sizes.update(metric_range("14", "20", "0.1"))
    sizes.update(metric_range("14", "20", "0.25"))
    sizes.update(metric_range("20", "32", "0.25"))
    sizes.update(metric_range("32", "50", "0.5"))
    return sorted(sizes)


def inch_fractions(finest_to_1: int, finest_to_2: int, last: Fraction) -> list[Fraction]:
    """Inch fractions from 1/64 to `last`, by one step to 1 in and another beyond."""
    sizes = [Fraction(n, finest_to_1) for n in range(1, finest_to_1 + 1)]
    sizes += [1 + Fraction(n, finest_to_2) for n in range(1, int((last - 1) * finest_to_2) + 1)]
    return [size for size in sizes if size <= last]


def fraction_length(inches: Fraction) -> Length:
    """A fraction of an inch as a length written as stamped."""
    return Length(inches * INCH, fraction_name(inches) or f"{float(inches):.4f} in")


def half_millimeters(first: str, last: str) -> list[Length]:
    """Sizes by half a millimeter."""
    return [metric_length(mm) for mm in metric_range(first, last, "0.5")]


def _drills() -> Iterator[Tool]:
    for name, inches in number_drills().items():
        yield mk.twist_drill(Length(inches * INCH, name))
    for f in inch_fractions(64, 32, Fraction(2)):
        yield mk.twist_drill(fraction_length(f))
    for mm in metric_drill_sizes():
        yield mk.twist_drill(metric_length(mm))
    for size in half_millimeters("1", "20"):
        yield mk.stub_drill(size)
    for f in inch_fractions(64, 32, Fraction(1)):
        if f >= Fraction(3, 64):
            yield mk.stub_drill(fraction_length(f))
    for size in half_millimeters("1", "13"):
        yield mk.long_drill(size)
    for series in ("extra_long_1", "extra_long_2"):
        for whole in EXTRA_LONG_MM:
            yield mk.long_drill(metric_length(Fraction(whole)), series)
    for size in half_millimeters("3", "12"):
        yield mk.carbide_drill(size)


def _spade_drills() -> Iterator[Tool]:
    for mm in metric_range("25", "65", "1"):
        yield mk.spade_drill(metric_length(mm))
    for sixteenths in range(16, 41):
        yield mk.spade_drill(fraction_length(Fraction(sixteenths, 16)))


def _spot_drills() -> Iterator[Tool]:
    for text in ("6 mm", "10 mm", "16 mm", "20 mm", "1/4 in", "3/8 in", "1/2 in", "3/4 in"):
        for angle in (90.0, 120.0, 142.0):
            yield mk.spot_drill(parse(text), angle)


def _reamers() -> Iterator[Tool]:
    metric = [Fraction(n) for n in range(2, 33)] + [Fraction(n) for n in range(34, 51, 2)]
    metric += [Fraction(n, 2) for n in (5, 7, 9, 11)]
    for mm in sorted(metric):
        for kind in ("straight", "spiral"):
            yield fin.reamer(metric_length(mm), "H7", kind)
    inch = [fraction_length(f) for f in inch_fractions(64, 32, Fraction(3, 2)) if f >= Fraction(1, 16)]
    for name in FIT_REAMER_FRACTIONS:
        for offset in ("-0.001", "-0.0005", "0.0005", "0.001"):
            value = Fraction(name) + Fraction(offset)
            inch.append(Length(value * INCH, f"{float(value):.4f} in"))
    for size in inch:
        for kind in ("straight", "spiral"):
            yield fin.reamer(size, "", kind)


def _end_mills() -> Iterator[Tool]:
    metric = [metric_length(Fraction(mm)) for mm in END_MILLS_MM]
    inch = [fraction_length(Fraction(n, 8)) for n in range(1, 9)]
    for size in (*metric, *inch):
        yield fin.end_mill(size)
        if size.mm >= 9.5:
            yield fin.plain_end_mill(size)


def _taps() -> Iterator[Tool]:
    for row in rows("threads_metric"):
        name = row.text("size").split("x")[0]
        pitch = Fraction(row.text("pitch_mm"))
        for lead in fin.TAP_LEADS:
            yield fin.tap(f"{name}x{row.text('pitch_mm')}", parse(f"{name[1:]} mm"), pitch, lead)
    for row in rows("threads_unified"):
        major = parse(f"{row.text('major_inch')} in")
        pitch = INCH / int(row.text("tpi"))
        name = re.sub(r"^(\d+) (\d+/)", r"\1-\2", row.text("size"))
        for lead in fin.TAP_LEADS:
            yield fin.tap(f"{name} {row.text('series')}", major, pitch, lead)


def _has_small_end(row: Row) -> bool:
    """Whether the table gives the reamer; inch sizes 11 to 14 have none in it."""
    return bool(row.text("reamer_small_end") or row.text("small_end_diameter"))


SOLD: dict[str, Callable[[], Iterator[Tool]]] = {
    "drill": _drills,
    "core_drill": lambda: map(mk.core_drill, half_millimeters("12", "50")),
    "spade_drill": _spade_drills,
    "center_drill": lambda: map(mk.center_drill, rows("center_drills")),
    "spot_drill": _spot_drills,
    "reamer": _reamers,
    "taper_pin_reamer": lambda: map(fin.taper_pin_reamer, filter(_has_small_end, rows("taper_pins"))),
    "boring_bar": lambda: (
        fin.boring_bar(metric_length(Fraction(mm)), material) for material in ("hss", "carbide") for mm in BARS_MM
    ),
    "end_mill": _end_mills,
    "countersink": lambda: (
        fin.countersink(parse(size), angle) for size in COUNTERSINK_SIZES for angle in COUNTERSINK_ANGLES
    ),
    "counterbore": lambda: chain(
        map(fin.counterbore, rows("counterbore_socket_head")), map(fin.spotfacer, rows("spotfacers"))
    ),
    "tap": _taps,
    "punch": lambda: iter((fin.punch(),)),
}


@cache
def sold(kind: str) -> tuple[Tool, ...]:
    """Every tool of a kind that is sold."""
    return tuple(SOLD[kind]()) if kind in SOLD else ()


class Drawers(Sequence[Tool]):
    """Tools by kind, each kind made when it is first asked for."""

    def __init__(self, make: Callable[[str], tuple[Tool, ...]]) -> None:
        self._make = make
        self._made: tuple[Tool, ...] | None = None

    def of_kind(self, kind: str) -> tuple[Tool, ...]:
        """The tools of one kind."""
        return self._make(kind)

    @property
    def all(self) -> tuple[Tool, ...]:
        """Every tool, kind by kind."""
        if self._made is None:
            self._made = tuple(chain.from_iterable(self._make(kind) for kind in KINDS))
        return self._made

    @overload
    def __getitem__(self, index: int) -> Tool: ...
    @overload
    def __getitem__(self, index: slice) -> tuple[Tool, ...]: ...
    def __getitem__(self, index: int | slice) -> Tool | tuple[Tool, ...]:
        return self.all[index]

    def __iter__(self) -> Iterator[Tool]:
        return iter(self.all)

    def __len__(self) -> int:
        return len(self.all)
