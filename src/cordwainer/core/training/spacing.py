"""When something comes again: boxes that a fault climbs when it is judged right and falls back from when not.

Source: S. Leitner, So lernt man lernen, 1972: five boxes, each looked into about half as often as the one before.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

INTERVALS = (0, 1, 2, 4, 8)  # days, by box


@dataclass(frozen=True)
class Result:
    """One exercise of a learner: what it was about, whether it was judged right, its points, what it took."""

    learner: str
    lesson: str
    seed: int
    setting: str
    causes: tuple[str, ...]
    on: date
    right: bool
    points: float
    minutes: float


def boxes(results: Sequence[Result]) -> dict[str, tuple[int, date]]:
    """By cause: its box, and the day it was last met; results in the order they were made.

    >>> day = date(2026, 1, 5)
    >>> made = [Result("", "", k, "", ("dull",), day, right, 0, 0) for k, right in enumerate((True, True, False))]
    >>> [boxes(made[:n])["dull"][0] for n in (1, 2, 3)]
    [1, 2, 0]
    """
    found: dict[str, tuple[int, date]] = {}
    for result in results:
        for cause in result.causes:
            box = found[cause][0] if cause in found else 0
            found[cause] = (min(box + 1, len(INTERVALS) - 1) if result.right else 0), result.on
    return found


def due(results: Sequence[Result], today: date) -> frozenset[str]:
    """Causes that are to come again: met before, and as many days ago as their box says."""
    return frozenset(cause for cause, (box, on) in boxes(results).items() if (today - on).days >= INTERVALS[box])


@dataclass(frozen=True)
class Progress:
    """How far a learner is in a lesson: exercises made, judged right, points in the mean of the last ten."""

    made: int
    right: int
    points: float


def progress(results: Sequence[Result], lesson: str) -> Progress:
    """How far a learner is in a lesson."""
    own = [r for r in results if r.lesson == lesson]
    last = own[-10:]
    mean = sum(r.points for r in last) / len(last) if last else 0.0
    return Progress(len(own), sum(r.right for r in own), mean)
