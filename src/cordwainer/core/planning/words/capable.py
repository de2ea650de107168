"""Which ways of making a hole hold its limits and finish, and reamers for sizes no plain reamer has."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from cordwainer.core.language import localized
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.hole import Hole
from cordwainer.core.tables import rows

INCH_MM = Fraction(254, 10)
SITTINGS = {"press": ("-0.0005", "-0.001"), "running": ("0.0005", "0.001")}


@dataclass(frozen=True)
class Process:
    """One way of making a hole: the ISO grade and roughness (Ra, µm) it holds at its best and its worst."""

    name: str
    best_it: int
    worst_it: int
    best_ra_um: float
    worst_ra_um: float
    in_shop: bool
    source: str

    def holds(self, grade: int, ra_um: float | None) -> str:
        """``surely``, ``at its best`` or empty, for a grade and a finish asked (None: any)."""
        if self.best_it > grade or (ra_um is not None and self.best_ra_um > ra_um):
            return ""
        sure = self.worst_it <= grade and (ra_um is None or self.worst_ra_um <= ra_um)
        return "surely" if sure else "at its best"


@cache
def processes() -> tuple[Process, ...]:
    """All processes of `process_capability.csv`; a row marked no is for another shop."""
    return tuple(
        Process(
            row.words("process"),
            round(row.number("best_it")),
            round(row.number("worst_it")),
            row.number("best_ra_um"),
            row.number("worst_ra_um"),
            row.text("shop") == "yes",
            row.source,
        )
        for row in rows("process_capability")
    )


def capable(hole: Hole, *, elsewhere: bool = False) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names of processes that surely hold a hole's grade and finish, and of those that do at their best.

    Grades finer than IT3 count as IT3. `elsewhere` adds what a small shop sends out.
    """
    grade = max(hole.grade, 3)
    known = [p for p in processes() if p.in_shop or elsewhere]
    found = {
        word: tuple(p.name for p in known if p.holds(grade, hole.finish_ra_um) == word)
        for word in ("surely", "at its best")
    }
    return found["surely"], found["at its best"]


def fit_reamers(nominal: Length) -> dict[str, tuple[Length, ...]]:
    """Reamers made a little under for a press and a little over for a running fit, by sitting.

    Offsets in inches: 0.0005 and 0.001. Source: common practice.

    >>> [str(size) for size in fit_reamers(parse("3/8 in"))["press"]]
    ['0.3745 in', '0.3740 in']
    """
    return {
        sitting: tuple(
            Length(
                nominal.exact_mm + Fraction(off) * INCH_MM,
                localized(f"{float(nominal.exact_mm / INCH_MM) + float(off):.4f} in"),
            )
            for off in offsets
        )
        for sitting, offsets in SITTINGS.items()
    }


@dataclass(frozen=True)
class Expansion:
    """An expansion reamer that reaches a size: its own size, and how far it opens."""

    size: Length
    most: Length
    set_over: Length


def expansion_for(size: Length) -> Expansion | None:
    """The hand expansion reamer that can be set to a size, or None; of those that reach it, the one opened least.

    Source: `reamers_expansion.csv` (from memory).
    """
    found = None
    for row in rows("reamers_expansion"):
        first, last, step = (parse(f"{row.text(name)} in").exact_mm for name in ("from_in", "to_in", "step_in"))
        most = parse(f"{row.text('most_over_in')} in")
        count = (min(size.exact_mm, last) - first) // step
        if count < 0:
            continue
        own = first + count * step
        over = size.exact_mm - own
        if 0 < over <= most.exact_mm:
            inches = own / INCH_MM
            found = Expansion(
                parse(f"{inches} in"), most, Length(over, localized(f"{float(over / INCH_MM):.4f} in"))
            )
    return found
