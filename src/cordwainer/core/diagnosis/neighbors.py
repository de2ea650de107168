"""Causes that are easily taken for one another, and the evidence that parts them.

Measured in bits: how far, of 1, one answer is expected to tell two equally likely causes apart (the divergence of
Jensen and Shannon). Numbers are those of the holes each would make of a usual plan.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from cordwainer.core.diagnosis.applies import candidates, upstream
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.imagined import made
from cordwainer.core.diagnosis.knowledge import Question, causes
from cordwainer.core.diagnosis.next_check import answers_under, open_questions
from cordwainer.core.diagnosis.numbers import MEASURES, SOUND, Imagined, imagined
from cordwainer.core.language import tr

Floats = npt.NDArray[np.float64]
MEASURE_WORDS = {
    "size": tr("the size at the middle"),
    "mouth": tr("the mouth over the middle"),
    "taper": tr("the middle over the far end"),
    "oval": tr("two directions"),
    "off_mouth": tr("the place of the mouth"),
    "off_far": tr("how far it leans"),
}
BINS, NEAREST, PARTS = 8, 3, 0.15

# A hole of each kind on each machine that makes it: operations, size, limits, depth in mm, machine, material.
USUAL = (
    (tr("drilled, drill press"), ("center_drill", "drill"), 10.0, (10.0, 10.2), 25.0, "drill_press", "mild_steel"),
    (tr("drilled, lathe"), ("center_drill", "drill"), 10.0, (10.0, 10.2), 25.0, "lathe", "mild_steel"),
    (tr("spotted, mill"), ("spot_drill", "drill"), 10.0, (10.0, 10.2), 25.0, "mill", "aluminum"),
    (tr("round column"), ("spot_drill", "drill"), 10.0, (10.0, 10.2), 25.0, "round_column_mill", "mild_steel"),
    (tr("not started, press"), ("drill",), 10.0, (10.0, 10.2), 20.0, "drill_press", "brass_bronze"),
    (tr("thin sheet, press"), ("drill",), 16.0, (16.0, 16.3), 2.0, "drill_press", "mild_steel"),
    (tr("deep, mill"), ("spot_drill", "drill"), 8.0, (8.0, 8.2), 60.0, "mill", "mild_steel"),
    (
        tr("stepped, press"),
        ("center_drill", "drill", "step_drill"),
        20.0,
        (20.0, 20.3),
        45.0,
        "drill_press",
        "mild_steel",
    ),
    (tr("reamed, lathe"), ("center_drill", "drill", "ream"), 12.0, (12.0, 12.018), 30.0, "lathe", "mild_steel"),
    (tr("reamed, mill"), ("spot_drill", "drill", "ream"), 12.0, (12.0, 12.018), 30.0, "mill", "mild_steel"),
    (tr("bored, lathe"), ("center_drill", "drill", "bore"), 30.0, (30.0, 30.025), 40.0, "lathe", "mild_steel"),
    (tr("tapped, mill"), ("spot_drill", "drill", "tap"), 6.8, (6.65, 6.92), 18.0, "mill", "mild_steel"),
    (
        tr("countersunk, press"),
        ("spot_drill", "drill", "countersink"),
        6.5,
        (6.5, 6.7),
        12.0,
        "drill_press",
        "mild_steel",
    ),
)


@dataclass(frozen=True)
class Parted:
    """Two causes in one kind of hole: what parts them in bits, the most first, and how much all of it together."""

    first: str
    second: str
    where: str
    by: tuple[tuple[str, float], ...]
    total: float


def usual_cases() -> dict[str, Case]:
    """A bare case of each kind of hole, by its name."""
    return {
        name: Case(d, ops, limits, depth, answers={"e_machine": machine, "e_material": material})
        for name, ops, d, limits, depth, machine, material in USUAL
    }


def neighbors() -> dict[str, list[Parted]]:
    """For every cause its nearest three, each in the kind of hole where the two are most alike, nearest first.

    Causes of an earlier tool than the one that made the size are left out: they show in that tool's own holes.
    Raises `KeyError` for a cause that none of the usual holes can have.
    """
    found: dict[tuple[str, str], Parted] = {}
    for where, case in usual_cases().items():
        names = [cause for cause in candidates(case) if not upstream(case, cause)]
        apart = _apart(case, names)
        total = sum(apart.values(), np.zeros((len(names), len(names))))
        for i, one in enumerate(names):
            for j, two in enumerate(names[:i]):
                if (two, one) not in found or total[i, j] < found[two, one].total:
                    by = sorted(((name, float(own[i, j])) for name, own in apart.items()), key=lambda p: -p[1])
                    found[two, one] = Parted(two, one, where, tuple(by[:3]), float(total[i, j]))
    nearest: dict[str, list[Parted]] = {cause: [] for cause in causes()}
    for pair in sorted(found.values(), key=lambda p: p.total):
        for cause in (pair.first, pair.second):
            if len(nearest[cause]) < NEAREST:
                nearest[cause].append(pair)
    missing = [cause for cause, own in nearest.items() if not own]
    if missing:
        raise KeyError(", ".join(missing))
    return nearest


def _apart(case: Case, names: list[str]) -> dict[str, Floats]:
    """By question, and by the number that tells each pair best, how far every two causes lie apart, in bits."""
    found = {q.id: divergence(answers_under(case, names, q)) for q in open_questions(case)}
    known = imagined(made(case), case.diameter_mm, case.finished)
    numbers = {words: divergence(_binned(known, names, k)) for k, words in enumerate(MEASURES)}
    best = np.max(np.stack(list(numbers.values())), axis=0)
    return found | {words: np.where(own == best, own, 0.0) for words, own in numbers.items()}


def _binned(known: Imagined, names: list[str], measure: int) -> Floats:
    """Of each cause's holes the share in every eighth of all of them by one measure, `[causes, 8]`."""
    rows = [known.names.index(name) if name in known.names else known.names.index(SOUND) for name in names]
    values = known.values[:, measure, :]
    edges = np.quantile(values, np.linspace(0, 1, BINS + 1)[1:-1])
    shares = np.stack([np.bincount(np.searchsorted(edges, own), minlength=BINS) / own.size for own in values])
    return np.asarray(shares[rows])


def divergence(rows: Floats) -> Floats:
    """How far every two of the distributions `[n, answers]` lie apart, 0 to 1 bit, as `[n, n]`.

    Source: Jensen and Shannon's divergence.
    """
    one, two = rows[:, None, :], rows[None, :, :]
    middle = (one + two) / 2
    return (_relative(one, middle) + _relative(two, middle)) / 2


def _relative(one: Floats, to: Floats) -> Floats:
    share = np.divide(one, to, out=np.ones_like(to), where=(one > 0) & (to > 0))
    return np.asarray((one * np.log2(share)).sum(axis=-1))


def in_words(name: str, questions: dict[str, Question]) -> str:
    """A piece of evidence as it is asked, or which number it is."""
    if name in questions:
        return questions[name].text
    return tr("measured: {measure_words}", measure_words=MEASURE_WORDS[name])
