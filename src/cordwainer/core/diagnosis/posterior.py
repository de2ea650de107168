"""Ranking of causes: a tempered naive Bayes over the answers, against an ordinary hole.

All weights are judgement (assumed): what it gives is an order and words, not odds.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.diagnosis.evidence import Case, worked_out
from cordwainer.core.diagnosis.knowledge import BASELINE, causes, likelihoods, questions

SAME_STORY = 0.6
UPSTREAM_PRIOR = 0.4
LEAST = 1e-4
FLATS_TO_MM = 20.0
UNEXPLAINED = "something_else"
UNEXPLAINED_WEIGHT = 25.0
ENOUGH_ANSWERS = 5
LIKELY, POSSIBLE = 0.75, 0.3
SHAPE_QUESTIONS = ("d_size", "d_profile", "d_round")
WARM = ("warm", "hot")


@dataclass(frozen=True)
class Ranked:
    """One cause with its probability and the word it deserves."""

    id: str
    name: str
    probability: float
    word: str


def family(operation: str) -> str:
    """Start tools count as one family, drill and step drill as one."""
    if operation in ("center_drill", "spot_drill", "spot"):
        return "start"
    if operation in ("drill", "step_drill", "core_drill"):
        return "drill"
    return operation


def candidates(case: Case) -> list[str]:
    """Causes that could apply: those of the operations used, of the setup and of measuring."""
    used = {family(op) for op in case.operations} | {"setup", "measure"}
    if not case.operations:
        used |= {"start", "drill"}
    found = []
    for cause in causes().values():
        if family(cause.operation) not in used:
            continue
        if cause.id in ("tail_side", "tail_height") and case.last_sizing == "bore":
            continue
        if cause.id == "me_flats" and case.diameter_mm > FLATS_TO_MM:
            continue
        if cause.id == "me_hot" and case.answers.get("q_hot") == "cool":
            continue
        found.append(cause.id)
    return found


def answers_of(case: Case) -> dict[str, str]:
    """Everything known: worked out from the numbers, then what was said (which wins)."""
    return {**worked_out(case), **case.answers}


def upstream(case: Case, cause_id: str) -> bool:
    """Whether a later sizing tool has been through since the cause's own operation."""
    own = family(causes()[cause_id].operation)
    last = case.last_sizing
    if last is None or own in ("setup", "measure", "tap", "countersink"):
        return False
    return (last in ("ream", "bore") and own in ("start", "drill")) or (last == "bore" and own == "ream")


def _log_ratio(cause_id: str, question_id: str, answer: str) -> float | None:
    """Log of how much likelier the answer is under the cause than in an ordinary hole."""
    under = likelihoods().get(cause_id, {}).get(question_id)
    base = likelihoods().get(BASELINE, {}).get(question_id)
    if under is None or base is None:
        return None
    return math.log(max(under.get(answer, 0.0), LEAST) / max(base.get(answer, 0.0), LEAST))


def score(case: Case, cause_id: str, answers: dict[str, str]) -> float:
    """Log score: prior plus tempered evidence.

    Inside one group of questions the strongest answer counts in full, the others at 0.6.
    """
    total = math.log(causes()[cause_id].prior)
    before = upstream(case, cause_id)
    if before:
        total += math.log(UPSTREAM_PRIOR)
    groups: dict[str, list[float]] = {}
    for question_id, answer in answers.items():
        question = questions()[question_id]
        if before and (question.about == "last_tool" or question_id in SHAPE_QUESTIONS):
            continue
        if before and case.last_sizing == "bore" and question_id == "d_drift":
            continue
        ratio = _log_ratio(cause_id, question_id, answer)
        if ratio is not None:
            groups.setdefault(question.group, []).append(ratio)
    for ratios in groups.values():
        ratios.sort(key=abs, reverse=True)
        total += ratios[0] + SAME_STORY * sum(ratios[1:])
    return total


def posterior(case: Case, answers: dict[str, str] | None = None) -> dict[str, float]:
    """Probability of each candidate cause and of something not on the list; sums to 1."""
    answers = answers_of(case) if answers is None else answers
    scores = {cause: score(case, cause, answers) for cause in candidates(case)}
    scores[UNEXPLAINED] = math.log(UNEXPLAINED_WEIGHT)
    top = max(scores.values())
    weights = {cause: math.exp(value - top) for cause, value in scores.items()}
    total = sum(weights.values())
    return {cause: weight / total for cause, weight in weights.items()}


def word_for(probability: float, answered: int) -> str:
    """Words instead of bare percents: likely, possible, not ruled out."""
    if probability > LIKELY and answered >= ENOUGH_ANSWERS:
        return "likely"
    return "possible" if probability >= POSSIBLE else "not ruled out"


def rank(case: Case) -> list[Ranked]:
    """Causes by probability, greatest first, with 'something not on this list' among them."""
    answers = answers_of(case)
    found = posterior(case, answers)
    ordered = sorted(found.items(), key=lambda item: -item[1])
    return [
        Ranked(
            cause,
            causes()[cause].name if cause in causes() else "Something not on this list",
            probability,
            word_for(probability, len(answers)),
        )
        for cause, probability in ordered
    ]
