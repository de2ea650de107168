"""Cautions and sentences that plans are explained with, in the hole's own unit."""

from __future__ import annotations

from functools import cache

from cordwainer.core.lengths import inch_text, mm_text
from cordwainer.core.planning.operation import Caution, PlanWarning
from cordwainer.core.tables import by_key


def say(value_mm: float, unit: str, decimals: int | None = None) -> str:
    """A length with its unit, as it is spoken of in text.

    >>> say(17.7, "mm"), say(7.9375, "in")
    ('17.7 mm', '.3125 in')
    """
    if unit == "in":
        return f"{inch_text(value_mm, 4 if decimals is None else decimals + 1)} in"
    text = mm_text(value_mm, 3 if decimals is None else decimals)
    if decimals is None and "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"{text} mm"


@cache
def caution(identifier: str) -> Caution:
    """The caution of that id."""
    row = by_key("cautions", "id")[identifier]
    return Caution(identifier, row.text("level"), row.text("text"))


def too_fast(rpm: float, ideal: float) -> PlanWarning:
    """That even the machine's slowest step is faster than would be right."""
    return PlanWarning(
        "too_fast",
        f"{rpm:g} rev/min is the slowest step; {ideal:.0f} would be right",
        numbers={"rpm": rpm, "rpm_ideal": ideal},
    )
