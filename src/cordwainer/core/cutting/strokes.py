"""A depth beyond the travel of a ram or quill: drilled in strokes, tailstock moved up or knee raised between."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.tables import by_key


@dataclass(frozen=True)
class Stroke:
    """One run of the ram: tip depths in mm and readings in the scale's unit at its start and end.

    `move_mm` is how far tailstock or knee is moved up before it, 0 for the first.
    """

    from_tip_mm: float
    to_tip_mm: float
    start: float
    stop: float
    move_mm: float


def stroke_count(travel_mm: float, room_mm: float) -> int:
    """How many strokes a travel takes, 1 where one reaches.

    >>> stroke_count(52.0, 52.0), stroke_count(63.0, 52.0), stroke_count(110.0, 52.0)
    (1, 2, 3)
    """
    return max(math.ceil(travel_mm / room_mm - 1e-9), 1)


def stroke_ends(from_tip_mm: float, to_tip_mm: float, room_mm: float) -> tuple[float, ...]:
    """Tip depths in mm at which each stroke ends, the last being the depth itself.

    >>> stroke_ends(0.0, 63.0, 52.0)
    (52.0, 63.0)
    """
    count = stroke_count(to_tip_mm - from_tip_mm, room_mm)
    return (*(from_tip_mm + room_mm * k for k in range(1, count)), to_tip_mm)


def stroke_minutes(travel_mm: float, room_mm: float) -> float:
    """Minutes of moving up between strokes. Source: `minutes.csv` (assumed)."""
    return (stroke_count(travel_mm, room_mm) - 1) * by_key("minutes", "what")["move_up"].number("minutes")
