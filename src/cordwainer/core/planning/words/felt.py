"""What hand, eye and ear report at a step, one key each."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

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
    columns = ("key", "words", "question", "answer", "caution")
    return tuple(Felt(*(row.text(column) for column in columns)) for row in rows("felt"))
