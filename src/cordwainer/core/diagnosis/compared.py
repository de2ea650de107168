"""Two like holes of which something differs: the causes that what differs, and what came out, speak for."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from cordwainer.core.diagnosis.applies import answers_of
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.posterior import evidence_for, posterior

RISES, LEAST = math.log(1.5), 0.04
MOST = 2


def speak_for(first: Case, second: Case, changed: Mapping[str, str]) -> tuple[str, ...]:
    """Names of the causes, two at most, that are likelier in the second hole by half or more, and by what changed.

    `changed` are answers that hold of the second hole and not of the first; () where nothing did.
    """
    second = replace(second, answers={**second.answers, **changed})
    answers, one, two = answers_of(second), posterior(first), posterior(second)
    rise = {c: math.log(two[c] / one[c]) for c in two if c in causes() and one.get(c) and two[c] >= LEAST}
    risen = [c for c in rise if rise[c] >= RISES and _by(second, c, answers, changed)]
    risen.sort(key=lambda c: -two[c] * rise[c])
    return tuple(causes()[c].name for c in risen[:MOST])


def _by(case: Case, cause: str, answers: dict[str, str], changed: Mapping[str, str]) -> bool:
    """Whether one of the changed answers speaks for a cause."""
    return any(t.question in changed and t.log_ratio > 0 for t in evidence_for(case, cause, answers))
