"""Ranking of causes: tempered likelihoods of what was said, the forward model's of what was measured.

Weights of answers are judgement (assumed). How far the chances can be taken at their word: `docs/reliability.md`.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from cordwainer.core.diagnosis.applies import (
    answers_of,
    bare,
    candidates,
    never,
    prior_share,
    told,
    unsaid,
    upstream,
)
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import BASELINE, causes, likelihoods_without, questions
from cordwainer.core.diagnosis.numbers import log_ratios
from cordwainer.core.diagnosis.rejected import cannot, shares
from cordwainer.core.language import tr

SAME_STORY = 0.6
LEAST = 1e-4
UNEXPLAINED = "something_else"
UNEXPLAINED_WEIGHT = 25.0
ENOUGH_ANSWERS = 5
LIKELY, POSSIBLE = 0.75, 0.3
LEAST_SHOWN, MOST_SHOWN = 0.2, 90
SHAPE_QUESTIONS = ("d_size", "d_profile", "d_round")
WORKED_OUT = ("d_size", "d_profile", "d_round", "d_drift")
TABLE_SHARE, MODEL_SHARE = 0.7, 0.3
SHARPENED = 1.14
REMEMBERED = 64


@dataclass(frozen=True)
class Ranked:
    """One cause with its probability and the word it deserves; `in_100` where the chance bears a figure."""

    id: str
    name: str
    probability: float
    word: str
    in_100: int | None = None


@lru_cache(maxsize=32)
def _log_ratios(never: frozenset[tuple[str, str]]) -> dict[str, dict[tuple[str, str], float]]:
    """By cause: log of how much likelier an answer is under it than in an ordinary hole."""
    table = likelihoods_without(never)
    usual = table[BASELINE]
    return {
        cause: {
            (question, answer): math.log(max(chances.get(answer, 0.0), LEAST) / max(base, LEAST))
            for question, chances in by_question.items()
            if question in usual
            for answer, base in usual[question].items()
        }
        for cause, by_question in table.items()
    }


@dataclass(frozen=True)
class Told:
    """What one answer, or the numbers, says of a cause: log of how much likelier it is than of a sound hole."""

    question: str
    answer: str
    log_ratio: float


def evidence_for(
    case: Case, cause_id: str, answers: dict[str, str], numbers: dict[str, float] | None = None
) -> list[Told]:
    """What each answer says of a cause, by group; the model's word on the numbers as one, called `numbers`.

    Inside one group of questions the strongest answer counts in full, the others at 0.6. The worked-out answers
    (size, profile, roundness, drift) count at 0.7, as the forward model's own likelihood of the same numbers is
    added at 0.3: of the weights tried the flat best on cases written by hand.

    What the plan did on purpose may clear a cause and never speaks for one, unless it departs from the rules, and
    then not alone. Source: rules of record 37.
    """
    if bare(case, answers):
        answers = {q: a for q, a in answers.items() if q[0] not in "qd"}
    on_purpose = unsaid(case, answers) - case.departs
    before, ratios = upstream(case, cause_id), _log_ratios(never(case)).get(cause_id, {})
    groups: dict[str, list[Told]] = {}
    for question_id in sorted(answers):
        question = questions()[question_id]
        if before and (question.about == "last_tool" or question_id in SHAPE_QUESTIONS):
            continue
        if before and case.last_sizing == "bore" and question_id == "d_drift":
            continue
        ratio = ratios.get((question_id, answers[question_id]))
        if ratio is not None and question_id in on_purpose:
            ratio = min(ratio, 0.0)
        if ratio is not None:
            kind = "numbers" if question_id in WORKED_OUT else "said"
            told = Told(question_id, answers[question_id], ratio)
            groups.setdefault(f"{question.group} {kind}", []).append(told)
    found = []
    for group in sorted(groups):
        told_in = sorted(groups[group], key=lambda t: (-abs(t.log_ratio), t.question))
        for place, told in enumerate(told_in):
            share = (1.0 if place == 0 else SAME_STORY) * (TABLE_SHARE if told.question in WORKED_OUT else 1.0)
            found.append(Told(told.question, told.answer, share * told.log_ratio))
    numbers = log_ratios(case) if numbers is None else numbers
    modeled = 0.0 if before else numbers.get(cause_id, 0.0)
    if modeled:
        found.append(Told("numbers", "", MODEL_SHARE * modeled))
    return found


def prior(case: Case, cause_id: str) -> float:
    """A cause's weight before anything is weighed: by the trade, by this shop, by what the hole is."""
    return causes()[cause_id].prior * case.weights.get(cause_id, 1.0) * prior_share(case, cause_id)


def score(
    case: Case,
    cause_id: str,
    answers: dict[str, str],
    numbers: dict[str, float] | None = None,
    alike: dict[str, float] | None = None,
) -> float:
    """Log score: prior, sharpened by what this shop has found before, plus tempered evidence.

    A cause whose own holes are not out as this one is loses by it (`rejected`).

    The evidence as a whole counts 1.14 times: then chances said come true on simulated cases
    (`docs/reliability.md`).
    """
    total = math.log(prior(case, cause_id))
    alike = shares(case) if alike is None else alike
    if cause_id in alike:
        total += cannot(alike[cause_id])
    return total + math.fsum(told.log_ratio for told in evidence_for(case, cause_id, answers, numbers)) * SHARPENED


@dataclass(frozen=True, eq=False)
class _Asked:
    """A case with answers as a key: two that would be weighed alike are alike."""

    case: Case
    answers: Mapping[str, str]

    @property
    def key(self) -> tuple[object, ...]:
        case = self.case
        said = case.answers, case.measured, case.weights, self.answers
        return (
            case.diameter_mm, case.operations, case.limits_mm, case.depth_mm, case.sizes, case.offset, case.made,
            case.departs, case.own_mm, case.mended, *(tuple(sorted(told.items())) for told in said),
        )  # fmt: skip

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Asked) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)


def posterior(case: Case, answers: Mapping[str, str] | None = None) -> dict[str, float]:
    """Probability of each candidate cause and of something not on the list; sums to 1.

    The newest are remembered, as one answer is weighed from several sides.
    """
    return dict(_posterior(_Asked(case, answers_of(case) if answers is None else answers)))


@lru_cache(maxsize=REMEMBERED)
def _posterior(asked: _Asked) -> dict[str, float]:
    case, answers = asked.case, dict(asked.answers)
    numbers, alike = log_ratios(case), shares(case)
    scores = {cause: score(case, cause, answers, numbers, alike) for cause in candidates(case, answers)}
    scores[UNEXPLAINED] = math.log(UNEXPLAINED_WEIGHT)
    top = max(scores.values())
    weights = {cause: math.exp(value - top) for cause, value in scores.items()}
    total = math.fsum(weights.values())
    return {cause: weight / total for cause, weight in weights.items()}


def word_for(probability: float, answered: int) -> str:
    """Words instead of bare percents: likely, possible, not ruled out."""
    if probability > LIKELY and answered >= ENOUGH_ANSWERS:
        return "likely"
    return "possible" if probability >= POSSIBLE else tr("not ruled out")


def in_100(probability: float, answered: int) -> int | None:
    """A chance as so many in 100, rounded to five, where simulated cases bear it out: `docs/reliability.md`.

    None with fewer than five answers, and below 20 in 100 where a figure says no more than the word.
    """
    if answered < ENOUGH_ANSWERS or probability < LEAST_SHOWN:
        return None
    return min(5 * round(20 * probability), MOST_SHOWN)


def rank(case: Case) -> list[Ranked]:
    """Causes by probability, greatest first, with 'something not on this list' among them."""
    found, many = posterior(case, answers_of(case)), told(case)
    ordered = sorted(found.items(), key=lambda item: -item[1])
    return [
        Ranked(
            cause,
            causes()[cause].name if cause in causes() else tr("Something not on this list"),
            probability,
            word_for(probability, many),
            in_100(probability, many),
        )
        for cause, probability in ordered
    ]
