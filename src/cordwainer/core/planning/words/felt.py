"""What hand, eye and ear report at a step, one key each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from cordwainer.core.planning.words.operation import Caution
from cordwainer.core.planning.words.sentences import caution
from cordwainer.core.tables import rows


@dataclass(frozen=True)
class Felt:
    """One thing to see, hear or feel: its key, words, what it answers to Explain, the caution it raises."""

    key: str
    words: str
    question: str
    answer: str
    caution: str = ""


@cache
def felt_list() -> tuple[Felt, ...]:
    """What can be reported with one key. Source: `felt.csv`."""
    return tuple(
        Felt(row.text("key"), row.words("words"), row.text("question"), row.text("answer"), row.text("caution"))
        for row in rows("felt")
    )


def raised_by(felt: Mapping[str, str]) -> list[Caution]:
    """Cautions that what was felt calls for; `felt` are answers by question."""
    return [caution(f.caution) for f in felt_list() if f.caution and felt.get(f.question) == f.answer]
