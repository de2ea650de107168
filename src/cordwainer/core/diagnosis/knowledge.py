"""Causes, questions and likelihoods as data.

Sources: `data/diagnosis/`; all weights are judgement, marked assumed.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.tables import rows

BASELINE = "baseline"


@dataclass(frozen=True)
class Cause:
    """One thing that goes wrong, with its mechanism, prior weight, fix and rescue."""

    id: str
    operation: str
    name: str
    mechanism: str
    prior: float
    fix: str
    rescue: str
    safety: str


@dataclass(frozen=True)
class Question:
    """One thing to look at or measure, with its answers and what asking costs in minutes.

    `bands` are the ranges of a number question as (name, text); empty for plain choices.
    """

    id: str
    kind: str
    text: str
    answers: tuple[str, ...]
    bands: tuple[tuple[str, str], ...]
    how: str
    minutes: float
    needs: str
    destructive: bool
    about: str
    group: str


@cache
def causes() -> dict[str, Cause]:
    """All causes by id."""
    return {
        row.text("id"): Cause(
            row.text("id"),
            row.text("operation"),
            row.words("name"),
            row.words("mechanism"),
            row.number("prior_weight"),
            row.words("fix"),
            row.words("rescue_hint"),
            row.words("safety"),
        )
        for row in rows("diagnosis/causes")
    }


def _bands(kind: str, values: str) -> tuple[tuple[str, str], ...]:
    if kind != "number" or values == "raw":
        return ()
    found = []
    for part in values.split("|"):
        name, _, text = part.partition(":")
        found.append((name, text))
    return tuple(found)


@cache
def questions() -> dict[str, Question]:
    """All questions by id; raw numbers have no answers of their own."""
    found = {}
    for row in rows("diagnosis/evidence"):
        kind, values = row.text("kind"), row.text("values")
        bands = _bands(kind, values)
        answers = tuple(name for name, _ in bands) if kind == "number" else tuple(values.split("|"))
        found[row.text("id")] = Question(
            row.text("id"),
            kind,
            row.words("question"),
            () if values == "raw" else answers,
            bands,
            row.words("how_to_look"),
            row.number("minutes"),
            row.text("needs"),
            row.text("destructive") == "yes",
            row.text("about"),
            row.text("group"),
        )
    return found


@cache
def _answer_words() -> dict[tuple[str, str], str]:
    found = rows("diagnosis/answer_words")
    return {(row.text("evidence_id"), row.text("value")): row.words("words") for row in found}


def answer_words(question_id: str, answer: str, unit: str = "mm") -> str:
    """An answer as it is said; one that stands for a range of a measure with its figures in a unit.

    >>> answer_words("q_peck", "le1D"), answer_words("q_tip", "metal_stuck_on")
    ('1 diameter or less', 'metal stuck on')
    >>> answer_words("q_tir", "good"), answer_words("q_tir", "fair", "in"), answer_words("q_tir", "bad")
    ('0.05 mm or less', '.0020 to .0047 in', 'over 0.12 mm')
    """
    band = dict(questions()[question_id].bands).get(answer, "") if question_id in questions() else ""
    if band.endswith(" mm"):
        return _range_words(band, unit)
    return _answer_words().get((question_id, answer)) or tr(answer.replace("_", " "))


def _range_words(band: str, unit: str) -> str:
    """A range of lengths in words: `<=0.05 mm`, `>0.05..0.12 mm` or `>0.12 mm`."""
    ends = [in_unit(float(end.strip("<>= ")), unit, 2, 4) for end in band.removesuffix(" mm").split("..")]
    if len(ends) == 2:
        return tr("{ends} to {ends_2} {unit}", ends=ends[0], ends_2=ends[1], unit=unit)
    return (
        tr("{ends} {unit} or less", ends=ends[0], unit=unit)
        if band.startswith("<")
        else tr("over {ends} {unit}", ends=ends[0], unit=unit)
    )


@cache
def likelihoods() -> dict[str, dict[str, dict[str, float]]]:
    """Probability of each answer by cause, then question, then answer."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    for row in rows("diagnosis/likelihood"):
        by_question = found.setdefault(row.text("cause_id"), {})
        by_question.setdefault(row.text("evidence_id"), {})[row.text("value")] = row.number("probability")
    return found


@lru_cache(maxsize=32)
def likelihoods_without(never: frozenset[tuple[str, str]]) -> dict[str, dict[str, dict[str, float]]]:
    """The likelihoods with some answers, (question, answer), that cannot be given here; the others sum to 1."""
    if not never:
        return likelihoods()
    asked = {question for question, _ in never}
    return {
        cause: {
            question: _left(question, chances, never) if question in asked else chances
            for question, chances in by_question.items()
        }
        for cause, by_question in likelihoods().items()
    }


def _left(question: str, chances: dict[str, float], never: frozenset[tuple[str, str]]) -> dict[str, float]:
    kept = {answer: chance for answer, chance in chances.items() if (question, answer) not in never}
    whole = sum(kept.values())
    return {answer: chance / whole for answer, chance in kept.items()} if whole > 0 else chances
