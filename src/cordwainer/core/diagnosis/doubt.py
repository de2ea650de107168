"""When the answers do not agree, when two causes at once explain more, and when to stop asking."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from cordwainer.core.diagnosis.applies import answers_of
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import answer_words, causes, questions
from cordwainer.core.diagnosis.next_check import OVERHEAD_MINUTES, Check, answers_under, next_checks
from cordwainer.core.diagnosis.posterior import SHARPENED, Told, evidence_for, posterior, prior, score
from cordwainer.core.language import inner, tr

STRONG = math.log(3.5)
LOOKED_AT, WORTH_A_LOOK = 3, 0.15
PAIRED, BOTH_SHARE, ADDS = 6, 0.3, 1.0
WRONG_MEND_MINUTES = 25.0
SURE, MOST_WEIGHED = 0.9, 5


@dataclass(frozen=True)
class PullsApart:
    """Answers that speak strongly for a cause beside others that speak strongly against it."""

    cause: str
    speaks_for: tuple[Told, ...]
    against: tuple[Told, ...]

    def words(self, unit: str) -> str:
        """What to look at again, figures in a unit."""
        one, other = (_said(t, unit) for t in (self.speaks_for[0], self.against[0]))
        name = causes()[self.cause].name
        return tr(
            "The answers pull apart: {one} speaks for “{name}”, {other} against it. Look "
            "at both again before anything is mended.",
            one=one,
            name=name,
            other=other,
        )


def pulls_apart(case: Case) -> PullsApart | None:
    """A contradiction in one of the three leading causes: something strongly for it, something strongly against.

    None where the answers agree. The leader's own counts always, another's where it is at least 15 in 100.
    """
    answers = answers_of(case)
    found = posterior(case, answers)
    leading = sorted((c for c in found if c in causes()), key=lambda c: (-found[c], c))[:LOOKED_AT]
    for place, cause in enumerate(leading):
        if place and found[cause] < WORTH_A_LOOK:
            continue
        told = [t for t in evidence_for(case, cause, answers) if t.question[0] != "e"]
        for_it = tuple(t for t in told if t.log_ratio >= STRONG)
        against = tuple(
            sorted((t for t in told if t.log_ratio <= -STRONG), key=lambda t: (t.log_ratio, t.question))
        )
        if for_it and against:
            return PullsApart(cause, for_it, against)
    return None


def _said(told: Told, unit: str) -> str:
    """An answer in words, with what was asked."""
    if told.question not in questions():
        return tr("what was measured")
    text = questions()[told.question].text.rstrip("?")
    return f"“{answer_words(told.question, told.answer, unit)}” ({inner(text[0])}{text[1:]})"


def together(case: Case) -> tuple[str, str] | None:
    """Two of the leading causes at once, where that is at least half as likely as either alone; None where not.

    Each answer is explained by the one that explains it better; two faults at once have the product of their
    chances, times 0.3 (assumed), and each must add something of its own.
    """
    answers = answers_of(case)
    found = posterior(case, answers)
    leading = sorted((c for c in found if c in causes()), key=lambda c: (-found[c], c))[:PAIRED]
    every = math.fsum(c.prior for c in causes().values())
    single = {c: score(case, c, answers) for c in leading}
    told = {c: {t.question: t.log_ratio for t in evidence_for(case, c, answers)} for c in leading}
    best, pair = max(single.values()) - math.log(2), None
    for one, two in combinations(leading, 2):
        asked = set(told[one]) | set(told[two])
        gain = [max(told[one].get(q, 0.0), told[two].get(q, 0.0)) for q in sorted(asked)]
        seldom = math.fsum(math.log(prior(case, c)) for c in (one, two)) - math.log(every) + math.log(BOTH_SHARE)
        both = seldom + SHARPENED * math.fsum(gain)
        adds = min(math.fsum(gain) - math.fsum(told[c].values()) for c in (one, two))
        if both > best and adds > ADDS:
            best, pair = both, (one, two)
    return pair


def saves_minutes(case: Case, check: Check) -> float:
    """Minutes a check is expected to save: a wrong mend costs 25 (assumed), the check its own and 1.5 more.

    Below zero the mend of the leading cause is worth more than the check.
    """
    found = posterior(case)
    names = [cause for cause in found if cause in causes()]
    chance = np.array([found[cause] for cause in names])
    chance /= chance.sum()
    after = float((chance[:, None] * answers_under(case, names, check.question)).max(axis=0).sum())
    now = float(chance.max())
    return WRONG_MEND_MINUTES * (after - now) - check.minutes - (OVERHEAD_MINUTES if check.minutes else 0.0)


def worth_asking(case: Case, known: Sequence[Check] | None = None) -> Check | None:
    """The next check where one is worth its minutes; None where the mend of the leading cause is worth more.

    `known` are all checks of the case, where they were found already.
    """
    checks = (next_checks(case) if known is None else known)[:MOST_WEIGHED]
    if not checks:
        return None
    found = posterior(case)
    if max((found[c] for c in found if c in causes()), default=0.0) >= SURE:
        return None
    best = checks[0]
    return best if best.minutes == 0 or max(saves_minutes(case, c) for c in checks) > 0 else None
