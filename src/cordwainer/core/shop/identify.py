"""What is this drill? Names for a measured size in the four systems of drill sizes."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from itertools import pairwise

from cordwainer.core.language import tr, trn
from cordwainer.core.lengths import Length, number_drills
from cordwainer.core.shop.makers import INCH, metric_length
from cordwainer.core.shop.stock import fraction_length, inch_fractions, metric_drill_sizes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

SYSTEMS = ("fraction", "number", "letter", "metric")


@dataclass(frozen=True)
class NamedSize:
    """A drill size that is sold: its length as stamped, and the system it belongs to."""

    size: Length
    system: str

    @property
    def name(self) -> str:
        """The name as lengths are written."""
        return str(self.size)


@dataclass(frozen=True)
class Candidate:
    """A name for a reading; `difference_mm` is reading less nominal."""

    named: NamedSize
    difference_mm: float


@cache
def named_sizes(system: str) -> tuple[NamedSize, ...]:
    """All sizes of one system, smallest first. Sources: ASME B94.11M; ISO 235 and common practice."""
    if system == "fraction":
        lengths = [fraction_length(f) for f in inch_fractions(64, 32, Fraction(2))]
    elif system == "metric":
        lengths = [metric_length(mm) for mm in metric_drill_sizes()]
    else:
        letters = system == "letter"
        named = number_drills().items()
        lengths = [Length(inch * INCH, name) for name, inch in named if name.startswith("letter") is letters]
    return tuple(NamedSize(size, system) for size in sorted(lengths, key=lambda size: size.exact_mm))


def identify(reading_mm: float, tolerance_mm: float | None = None) -> tuple[Candidate, ...]:
    """Names for a measured diameter, nearest first.

    With a tolerance, all that lie within it: the band decides, not nearness. Without one, the sizes next
    below and above in each system, within 5 % of the reading, and whatever a caliper cannot tell apart from it.
    """
    if tolerance_mm is not None:
        return between(reading_mm - tolerance_mm, reading_mm + tolerance_mm, reading_mm)
    same = constant("caliper_band_mm")
    found = {(c.named.name): c for c in between(reading_mm - same, reading_mm + same, reading_mm)}
    for system in SYSTEMS:
        for near in _around(system, reading_mm):
            if abs(near.difference_mm) <= constant("identify_share") * reading_mm:
                found.setdefault(near.named.name, near)
    return _ordered(found.values())


def between(low_mm: float, high_mm: float, reading_mm: float | None = None) -> tuple[Candidate, ...]:
    """Names between two sizes, ends included: what goes into one hole of a gauge plate and not the next."""
    middle = (low_mm + high_mm) / 2 if reading_mm is None else reading_mm
    found = []
    for system in SYSTEMS:
        sizes = named_sizes(system)
        start = bisect_left(sizes, low_mm - 1e-9, key=lambda named: named.size.mm)
        for named in sizes[start:]:
            if named.size.mm > high_mm + 1e-9:
                break
            found.append(Candidate(named, middle - named.size.mm))
    return _ordered(found)


def in_plate(goes_mm: float, refused_mm: float) -> tuple[Candidate, ...]:
    """Names for a drill that goes into one hole of a gauge plate and not into the next smaller one.

    First those of the plate's own series (fractions, numbers, letters or metric, as the hole it goes into is one),
    the largest first: a drill goes into its own hole. Then the others by size. What was refused is none of them.
    """
    low, high = sorted((goes_mm, refused_mm))
    found = [c for c in between(low, high, high) if c.named.size.mm > low + 1e-6]
    own = next((c.named.system for c in found if abs(c.named.size.mm - high) < 1e-6), "")
    of_plate = [c for c in found if c.named.system == own]
    rest = [c for c in found if c.named.system != own]
    of_plate.sort(key=lambda c: -c.named.size.mm)
    return (*of_plate, *sorted(rest, key=lambda c: c.named.size.mm))


def neighbors(reading_mm: float) -> tuple[Candidate, ...]:
    """The nearest size below and above a reading that no name fits."""
    everything = [Candidate(named, reading_mm - named.size.mm) for s in SYSTEMS for named in named_sizes(s)]
    below = [c for c in everything if c.difference_mm >= 0]
    above = [c for c in everything if c.difference_mm < 0]
    found = []
    if below:
        found.append(min(below, key=lambda c: c.difference_mm))
    if above:
        found.append(max(above, key=lambda c: c.difference_mm))
    return tuple(found)


def _around(system: str, reading_mm: float) -> tuple[Candidate, ...]:
    """The sizes of a system next below and next above a reading."""
    sizes = named_sizes(system)
    place = bisect_left(sizes, reading_mm, key=lambda named: named.size.mm)
    return tuple(Candidate(n, reading_mm - n.size.mm) for n in sizes[max(place - 1, 0) : place + 1])


def _ordered(found: Iterable[Candidate]) -> tuple[Candidate, ...]:
    return tuple(sorted(found, key=lambda c: (abs(c.difference_mm), SYSTEMS.index(c.named.system))))


@dataclass(frozen=True)
class Pick:
    """Which drill of the crib an unmarked one is, why, and the size apart of two that cannot be told apart."""

    tool: Tool | None
    why: str = ""
    apart_mm: float | None = None


def pick(owned: Sequence[Tool]) -> Pick:
    """The drill a crib's own order points to, of those whose size a reading allows.

    In this order: the one whose place stands empty; the only one; none, with what would part them. Never the
    nearest size: the band decides, and the crib's order within it. Source: common practice.
    """
    here = [tool for tool in owned if tool.quantity > 0]
    empty = [tool for tool in here if tool.out > 0]
    if len(empty) == 1:
        rest = [tool for tool in here if tool is not empty[0] and tool.out == 0]
        why = tr("Its place stands empty.")
        if rest:
            names = tr(" and ").join(tool.designation for tool in rest[:3])
            why += trn(" {names} is in place.", " {names} are in place.", len(rest), names=names)
        return Pick(empty[0], why)
    sizes = sorted({round(tool.diameter_mm, 5) for tool in here})
    if len(sizes) == 1:
        return Pick(
            here[0],
            ""
            if len(here) == 1
            else tr("{count} here, the same size; the lengths tell them apart.", count=len(here)),
        )
    if not sizes:
        return Pick(None)
    return Pick(None, "", min(b - a for a, b in pairwise(sizes)))
