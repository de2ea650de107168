"""A short question with one right answer and a clock: what is drawn, what is asked, whether an answer is right."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse

LATE_SHARE = 0.4
AGAIN = 6.0  # how much oftener what is due is asked, as for faults
Kind = TypeVar("Kind")


@dataclass(frozen=True)
class Dial:
    """A dial with its pointer `at`, in divisions: `marks` a turn of `division` each, numbered each `numbered`."""

    marks: int
    division: float
    numbered: int
    at: float


@dataclass(frozen=True)
class Rule:
    """A straight scale from `low` to `high` in its own unit, with its pointer `at`; `fraction` of an inch or 0."""

    low: float
    high: float
    division: float
    numbered: float
    at: float
    falls: bool = False
    fraction: int = 0


@dataclass(frozen=True)
class PointSeen:
    """A drill's point as it is seen, its faults drawn larger.

    Half angles and reliefs in degrees; how far the tip is `off` the axis, `web` and corners `worn` over the size.
    """

    half_a: float = 59.0
    half_b: float = 59.0
    off: float = 0.0
    relief_a: float = 11.0
    relief_b: float = 11.0
    web: float = 0.15
    worn: float = 0.0


@dataclass(frozen=True)
class Line:
    """A line of print or of a note, as it stands on the paper."""

    text: str


Figure = Dial | Rule | PointSeen | Line


@dataclass(frozen=True)
class Question:
    """One question. `about` is what it practices and comes again by; `par_s` the seconds of a practiced hand.

    The answer is `right` in words: one of `choices` where there are any, else a figure (`value` in `unit`, near
    enough `within`), or with `turns` whole turns and divisions.
    """

    kind: str
    about: str
    words: str
    figure: Figure
    right: str
    working: str
    par_s: float
    unit: str = ""
    choices: tuple[str, ...] = ()
    value: float | None = None
    within: float = 0.0
    turns: tuple[int, float] | None = None

    def judged(self, answer: str) -> bool:
        """Whether an answer is right. Raises `InputError` for one that is no answer to it."""
        if self.choices:
            return answer == self.right
        if self.turns is not None:
            found = [float(part) for part in re.findall(r"\d+(?:[.,]\d+)?", answer.replace(",", "."))]
            if len(found) != 2:
                raise InputError("answer", tr("write whole turns and divisions, such as '3 and 27'"))
            return found[0] == self.turns[0] and abs(found[1] - self.turns[1]) <= self.within + 1e-9
        assert self.value is not None
        length = parse(answer, self.unit or None)
        shown = length.mm / (25.4 if self.unit == "in" else 1.0)
        return abs(shown - self.value) <= self.within + 1e-9


def points(right: bool, seconds: float, par_s: float) -> float:
    """What an answer scores: 100 within a practiced hand's time, less the later, 40 at least; wrong 0.

    >>> points(True, 10, 20), points(True, 40, 20), points(True, 900, 20), points(False, 1, 20)
    (100.0, 50.0, 40.0, 0.0)
    """
    if not right:
        return 0.0
    return 100.0 * min(1.0, max(LATE_SHARE, par_s / max(seconds, 1e-9)))


def drawn(
    makers: Mapping[str, Callable[[np.random.Generator], Question]],
    seed: int,
    last: str = "",
    due: frozenset[str] = frozenset(),
) -> Question:
    """A question of a seed, the same for the same: never about what the last was, oftener about what is due."""
    luck = np.random.default_rng(seed)
    names = [name for name in makers if name != last]
    weight = np.array([AGAIN if name in due else 1.0 for name in names])
    return makers[names[int(luck.choice(len(names), p=weight / weight.sum()))]](luck)


def one_of(luck: np.random.Generator, things: list[Kind] | tuple[Kind, ...]) -> Kind:
    """One of some things."""
    return things[int(luck.integers(len(things)))]
