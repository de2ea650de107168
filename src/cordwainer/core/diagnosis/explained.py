"""Everything that is said of a case at once: causes, doubts, the next check, what the cause would leave."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from cordwainer.core.diagnosis.applies import answers_of, bare, told
from cordwainer.core.diagnosis.doubt import PullsApart, pulls_apart, together, worth_asking
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import Question, causes
from cordwainer.core.diagnosis.next_check import (
    ALL,
    PAGE,
    Check,
    clears,
    next_checks,
    open_questions,
    outcomes,
    telling,
)
from cordwainer.core.diagnosis.numbers import SOUND, Leaves, would_leave
from cordwainer.core.diagnosis.posterior import Ranked, evidence_for, rank
from cordwainer.core.diagnosis.rejected import shares
from cordwainer.core.errors import StoppedError

SPEAKS = 0.2


@dataclass(frozen=True)
class AnswerOutcome:
    """One answer of the next check: the leader it would make.

    `gain` is the chance of the first one now after it, over now; `lift` that of the leader it would make.
    """

    answer: str
    leader: str
    gain: float
    lift: float


@dataclass(frozen=True)
class Explained:
    """A case explained. `next` is the check worth making.

    `chosen` is the cause that `leaves`, `alike` and `test` speak of, empty without anything to go by; `alike`
    says how many in 100 of its holes, and of sound ones, are out as this one is; None for a good hole. `ask_on` is
    the check that could still be made where none is worth its minutes. `telling` are the other questions most
    worth asking now, `others` what else could be said. `bare`: nothing measured, nothing said. `undecided`:
    something was, and none of it speaks for the cause that is first by its frequency.
    """

    case: Case
    ranked: tuple[Ranked, ...]
    answered: int
    bare: bool
    undecided: bool
    chosen: str
    apart: PullsApart | None
    pair: tuple[str, str] | None
    next: Check | None
    ask_on: Check | None
    outcomes: tuple[AnswerOutcome, ...]
    test: Check | None
    telling: tuple[Question, ...]
    others: tuple[Question, ...]
    leaves: Leaves | None
    sound: Leaves | None
    alike: tuple[int, int] | None

    @property
    def leader(self) -> Ranked | None:
        """The first cause that stands on the list."""
        return next((r for r in self.ranked if r.id in causes()), None)


def _outcome(answer: str, after: dict[str, float], leader: Ranked | None, now: dict[str, float]) -> AnswerOutcome:
    lead = max((c for c in after if c in causes()), key=lambda c: after[c])
    gain = after.get(leader.id, 0.0) / leader.probability if leader is not None else 1.0
    return AnswerOutcome(answer, lead, gain, after[lead] / now[lead] if now.get(lead) else math.inf)


def speaks_for(case: Case, cause_id: str, answers: dict[str, str]) -> float:
    """How much of what was measured and said speaks for a cause, as a log; machine and material do not count."""
    return sum(told.log_ratio for told in evidence_for(case, cause_id, answers) if told.question[0] != "e")


def explained(
    case: Case, picked: str = "", asked_anyway: bool = False, stop: Callable[[], bool] = lambda: False
) -> Explained:
    """Explain a case; `picked` is a cause to look at in the leader's place, where it is still a candidate.

    `asked_anyway` makes the next check the best there is, worth its minutes or not. Raises `StoppedError` once
    `stop` says that nobody waits for it.
    """
    ranked = tuple(rank(case))
    if stop():
        raise StoppedError("stopped")
    leader = next((r for r in ranked if r.id in causes()), None)
    answers = answers_of(case)
    nothing = bare(case, answers)
    undecided = leader is not None and not nothing and speaks_for(case, leader.id, answers) < SPEAKS
    first = leader.id if leader is not None and not (nothing or undecided) else ""
    chosen = picked if picked in {r.id for r in ranked} and picked in causes() else first
    checks = next_checks(case, ALL)
    check, ask_on = worth_asking(case, checks), None
    if check is None:
        ask_on = next(iter(checks), None)
        if asked_anyway:
            check, ask_on = ask_on, None
    found: tuple[AnswerOutcome, ...] = ()
    if check is not None:
        now = {r.id: r.probability for r in ranked}
        found = tuple(_outcome(answer, after, leader, now) for answer, after in outcomes(case, check.question))
    if stop():
        raise StoppedError("stopped")
    test, share = clears(case, chosen) if chosen else None, shares(case)
    asked = {c.question.id for c in (check, test) if c is not None}
    page = [question for question in telling(case, PAGE + 2, checks) if question.id not in asked][:PAGE]
    asked |= {question.id for question in page}
    return Explained(
        case=case,
        ranked=ranked,
        answered=told(case),
        bare=nothing,
        undecided=undecided,
        chosen=chosen,
        apart=pulls_apart(case),
        pair=together(case),
        next=check,
        ask_on=ask_on,
        outcomes=found,
        test=test,
        telling=tuple(page),
        others=tuple(question for question in open_questions(case) if question.id not in asked),
        leaves=would_leave(case, chosen),
        sound=would_leave(case),
        alike=(round(100 * share[chosen]), round(100 * share[SOUND])) if chosen in share else None,
    )
