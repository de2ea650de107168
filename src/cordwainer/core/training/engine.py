"""How the program itself would go about an exercise: which checks it buys, when it stops, what it says."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from cordwainer.core.diagnosis.next_check import ALL, next_checks
from cordwainer.core.training.exercise import MEASUREMENTS, Exercise, asked_of, price
from cordwainer.core.training.scoring import score

SURE, EVEN = 0.8, 0.5
OVERHEAD = 1.0
FIRST = "m_bore"


@dataclass(frozen=True)
class Solved:
    """The program at an exercise: checks bought in order with their bits, its shares, minutes left, points."""

    bought: tuple[tuple[str, float], ...]
    shares: dict[str, float]
    left: float
    points: float

    def right(self, exercise: Exercise) -> bool:
        """Whether it gives what is true its eighty in a hundred; that nothing is wrong, an even half.

        No check proves a hole good at a stroke, as one may prove it bad.
        """
        given = sum(self.shares.get(name, 0.0) for name in exercise.truth)
        return given >= (SURE if exercise.causes else EVEN)


def solve(exercise: Exercise) -> Solved:
    """Measure first, then what tells most for its minutes, until sure of one thing or out of minutes."""
    case, left, bought = exercise.told, exercise.budget, list[tuple[str, float]]()
    shares = exercise.shares(case)
    if MEASUREMENTS[FIRST].minutes <= left:
        left -= MEASUREMENTS[FIRST].minutes
        case = exercise.measured(case, FIRST)
        shares = _told(bought, FIRST, shares, exercise.shares(case))
    place = False
    while max(shares.values()) < SURE:
        may = {question.id for question in asked_of(case)}
        checks = [c for c in next_checks(case, ALL) if c.question.id in may and price(c.question) <= left]
        if not place and MEASUREMENTS["m_place"].minutes <= left and (not checks or checks[0].worth < PLACE_WORTH):
            place, left = True, left - MEASUREMENTS["m_place"].minutes
            case = exercise.measured(case, "m_place")
            name = "m_place"
        elif checks:
            name = checks[0].question.id
            left -= price(checks[0].question)
            case = replace(case, answers={**case.answers, name: exercise.answer(name)})
        else:
            break
        shares = _told(bought, name, shares, exercise.shares(case))
    points = score(shares, exercise.truth, left, exercise.budget)
    return Solved(tuple(bought), shares, left, points)


PLACE_WORTH = 0.05


def _told(
    bought: list[tuple[str, float]], name: str, before: dict[str, float], after: dict[str, float]
) -> dict[str, float]:
    """Note a check with what it changed, in bits; gives the shares after it."""
    bought.append((name, bits(before, after)))
    return after


def bits(before: dict[str, float], after: dict[str, float]) -> float:
    """How much an opinion moved: the distance of one from the other (Kullback and Leibler, 1951), in bits."""
    new, old = (np.array([max(d[name], 1e-9) for name in after]) for d in (after, before))
    return float((new * np.log2(new / old)).sum())
