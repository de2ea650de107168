"""The check worth making next: most information for the minutes it takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from cordwainer.core.diagnosis.applies import answers_of, family, never, upstream
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import (
    BASELINE,
    Question,
    causes,
    likelihoods,
    likelihoods_without,
    questions,
)
from cordwainer.core.diagnosis.posterior import posterior
from cordwainer.core.diagnosis.rejected import UNDER, out_for

Floats = npt.NDArray[np.float64]
Never = frozenset[tuple[str, str]]
OVERHEAD_MINUTES = 1.5
FLATTENED, LEAST_GAIN = 0.7, 1e-6
PAGE, QUICK, SAME_GROUP = 5, 5.0, 0.5
TAKES_METAL = ("q_repeat",)
ALL, TELLS_BITS, CLEARS = 1000, 0.1, 0.25
LOOKED_AT_FIRST = ("q_thread", "q_csk")
NOT_ON_A_LATHE = ("q_clamp", "q_square", "q_layout")
LATHE_ONLY = ("q_tailstock", "q_center_runs", "q_stock_runs")
REAM_ONLY = ("q_stock", "q_ream_dir", "q_ream_hold", "q_ream_feed", "q_reamer_zone", "q_keyway")
BORE_ONLY = ("q_edge_height", "q_bar", "q_repeat", "q_dial", "q_dial_math", "q_slide")
DRILL_ONLY = ("q_lips", "q_relief", "q_chips_lips", "q_rake", "q_pilot", "q_newtool", "q_scrap")
LAST_DRILL_ONLY = ("q_chips_lips", "q_relief", "q_rake")
NEEDS = {
    "pins": frozenset({"pin", "plug"}),
    "bore gauge": frozenset(
        {"two_point_bore_gauge", "three_point_bore_gauge", "telescoping", "inside_micrometer"}
    ),
    "caliper": frozenset({"caliper"}),
}


@dataclass(frozen=True)
class Check:
    """One check with what it costs and what it is worth in bits."""

    question: Question
    minutes: float
    gain_bits: float

    @property
    def worth(self) -> float:
        """Bits per minute, with the time to set about it counted."""
        return self.gain_bits / (OVERHEAD_MINUTES + self.minutes)


def applies(case: Case, question: Question, answers: dict[str, str]) -> bool:
    """Whether a question makes sense for the machine and the operations used."""
    machine = answers.get("e_machine")
    families = {family(op) for op in case.operations}
    if question.id in LATHE_ONLY and machine not in (None, "lathe"):
        return False
    if question.id in NOT_ON_A_LATHE and machine == "lathe":
        return False
    if question.id in REAM_ONLY and "ream" not in families:
        return False
    if question.id in BORE_ONLY and "bore" not in families:
        return False
    if question.id in LAST_DRILL_ONLY and case.finished:
        return False
    if question.id in DRILL_ONLY and families and "drill" not in families:
        return False
    if case.gauges is not None and question.needs in NEEDS and not case.gauges & NEEDS[question.needs]:
        return False
    if question.id == "q_thread" and "tap" not in families:
        return False
    if question.id == "q_csk" and "countersink" not in families:
        return False
    if question.id == "q_rake" and answers.get("e_material") not in (None, "brass_bronze", "plastic"):
        return False
    return question.id not in TAKES_METAL or UNDER in out_for(case)


def open_questions(case: Case) -> list[Question]:
    """Questions with answers of their own that apply here and are not answered yet."""
    answers, out = answers_of(case), never(case)
    return [
        here(case, q, out)
        for q in questions().values()
        if q.answers and q.id not in answers and q.id[0] == "q" and applies(case, q, answers)
    ]


def here(case: Case, question: Question, out: Never | None = None) -> Question:
    """A question with the answers that can be given of this hole; `out` are those that cannot, where known."""
    gone = {answer for asked, answer in (never(case) if out is None else out) if asked == question.id}
    return replace(question, answers=tuple(a for a in question.answers if a not in gone)) if gone else question


def next_checks(case: Case, most: int = 5) -> list[Check]:
    """The most telling open questions, best first, by expected fall in entropy per minute.

    Looks at all causes, their chances flattened (p to the 0.7), so that what stands second and third is asked
    for, too; a thread and a cone come first, as whoever made them looks there first. Of the drafted cases' own
    next checks 11 of 16 come first and 15 among five.
    """
    found = posterior(case)
    names = list(found)
    chance = np.array([found[name] for name in names]) ** FLATTENED
    chance /= chance.sum()
    before, out = float(_entropy(chance)), never(case)
    earlier = {name for name in names if name in causes() and upstream(case, name)}
    checks = []
    for question in open_questions(case):
        joint = chance[:, None] * _under(out, earlier, names, question)
        weight = joint.sum(axis=0)
        left = joint[:, weight > 0] / weight[weight > 0]
        gain = before - float((weight[weight > 0] * _entropy(left)).sum())
        if gain > LEAST_GAIN:
            checks.append(Check(question, question.minutes, gain))
    checks.sort(key=lambda c: (not _looked_at_first(c), -c.worth))
    return checks[:most]


def telling(case: Case, most: int = PAGE, known: Sequence[Check] | None = None) -> list[Question]:
    """The open questions most worth a page: of few minutes, harmless, and not all of one story.

    Of a group of questions already asked for, the next is worth half. A thread and a cone come first. `known` are
    all checks of the case, where they were found already.
    """
    every = next_checks(case, ALL) if known is None else known
    checks = [c for c in every if c.minutes <= QUICK and not c.question.destructive]
    found = [c.question for c in checks if _looked_at_first(c)]
    checks = [c for c in checks if not _looked_at_first(c)]
    groups: dict[str, int] = {}
    while checks and len(found) < most:
        best = max(checks, key=lambda c: c.worth * SAME_GROUP ** groups.get(c.question.group, 0))
        checks.remove(best)
        found.append(best.question)
        groups[best.question.group] = groups.get(best.question.group, 0) + 1
    return found


def _looked_at_first(check: Check) -> bool:
    """A thread or a cone, unless looking at it would tell next to nothing any more."""
    return check.question.id in LOOKED_AT_FIRST and check.gain_bits >= TELLS_BITS


def _entropy(weights: Floats) -> Floats:
    """In bits, along the first axis."""
    logs = np.log2(weights, out=np.zeros_like(weights), where=weights > 0)
    return -np.asarray((weights * logs).sum(axis=0))


def answers_under(case: Case, names: list[str], question: Question) -> Floats:
    """How likely each answer of a question is under each cause, `[causes, answers]`; 0 for one not to be had here.

    What is not on the list answers as an ordinary hole does, and so does a cause upstream of a later sizing tool
    when it is asked about the last one.
    """
    earlier = {name for name in names if name in causes() and upstream(case, name)}
    return _under(never(case), earlier, names, question)


def _under(out: Never, earlier: set[str], names: list[str], question: Question) -> Floats:
    rows, table = _tables(out, question.id, question.answers)
    at = [rows.get(name, 0) for name in names]
    if question.about == "last_tool":
        at = [0 if name in earlier else k for name, k in zip(names, at, strict=True)]
    return table[at]


@lru_cache(maxsize=1024)
def _tables(out: Never, question_id: str, asked: tuple[str, ...]) -> tuple[dict[str, int], Floats]:
    """A question's likelihoods, the ordinary hole in the first row, and the row of each cause that has its own."""
    known = likelihoods_without(out)
    usual = known[BASELINE].get(question_id, {})
    rows, table = dict[str, int](), [[usual.get(answer, 0.0) for answer in asked]]
    for cause, by_question in known.items():
        if cause != BASELINE and question_id in by_question:
            rows[cause] = len(table)
            table.append([by_question[question_id].get(answer, 0.0) for answer in asked])
    return rows, np.array(table)


def outcomes(case: Case, question: Question) -> list[tuple[str, dict[str, float]]]:
    """For each answer, how probable every cause would then be."""
    answers = answers_of(case)
    return [(answer, posterior(case, {**answers, question.id: answer})) for answer in question.answers]


def clears(case: Case, cause_id: str) -> Check | None:
    """The open question that could most cut down one cause for the time it takes: a test of the favorite.

    Worth is the expected fall of the cause's probability over the answers that speak against it; None where none
    does by enough to be a test.
    """
    now = posterior(case)
    best: Check | None = None
    for question in open_questions(case):
        under, usual = answers_under(case, [cause_id, BASELINE], question)
        against = float(np.maximum(usual - under, 0.0).sum())
        if against < CLEARS:
            continue
        found = Check(question, question.minutes, against * now.get(cause_id, 0.0))
        if best is None or found.worth > best.worth:
            best = found
    return best


def tells_apart(first: str, second: str) -> str | None:
    """The question whose answers differ most between two causes, or None."""
    best, gap = None, 0.0
    for question in questions().values():
        if not question.answers or question.id[0] != "q":
            continue
        base = likelihoods()[BASELINE].get(question.id, {})
        one = likelihoods().get(first, {}).get(question.id, base)
        two = likelihoods().get(second, {}).get(question.id, base)
        distance = sum(abs(one.get(a, 0) - two.get(a, 0)) for a in question.answers) / 2
        distance /= 1 + question.minutes / 4
        if distance > gap:
            best, gap = question.text, distance
    return best if first in causes() and second in causes() else None
