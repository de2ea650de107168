"""Metals and plastics with habits: what a practiced hand does otherwise in them, said at the step."""

from __future__ import annotations

from functools import cache

from cordwainer.core.tables import Row, rows

HARDENED = ("alloy_steel_hardened", "alloy_steel_hard", "cast_iron_hard")
PLASTICS = ("acetal", "acrylic")


@cache
def _rows_of(material: str) -> tuple[Row, ...]:
    return tuple(row for row in rows("habits") if material in row.text("materials").split())


def habit_words(material: str, operation: str, diameter_mm: float) -> tuple[str, ...]:
    """What is special about one operation in a material, in words. Source: `habits.csv` (common practice)."""
    return tuple(
        row.words("words")
        for row in _rows_of(material)
        if operation in row.text("operations").split() and diameter_mm > row.number("over_mm")
    )


def hardens(material: str) -> bool:
    """Whether a material hardens under an edge that rubs."""
    return any(row.text("id") == "hardens" for row in _rows_of(material))


def takes_punch(material: str) -> bool:
    """Whether it takes a punch mark: not plastics, hardened or brittle work. Source: common practice.

    >>> takes_punch("low_carbon_steel"), takes_punch("acrylic")
    (True, False)
    """
    return material not in (*HARDENED, *PLASTICS)
