"""The shape along a hole, in one word."""

from __future__ import annotations

from cordwainer.core.part.hole import Hole

REAMED_GRADE = 10


def shape_step(hole: Hole, u_mm: float) -> float:
    """Smallest difference that counts as form: the process's own step, or U where larger.

    0.03 + 0.003 D for a drilled hole, 0.008 mm for a reamed or bored one. Source: assumed.
    """
    return max(process_step(hole.nominal_mm, hole.grade <= REAMED_GRADE), u_mm)


def process_step(diameter_mm: float, finished: bool) -> float:
    """Shape step of a process: finished (reamed, bored) or drilled. Source: assumed."""
    return 0.008 if finished else 0.03 + 0.003 * diameter_mm


def profile(entry: float, middle: float, exit_: float, step: float) -> str:
    """The shape along the depth in one word, from three sizes and the step that counts.

    >>> profile(12.05, 12.016, 12.012, 0.008)
    'bell_mouth'
    """
    first, second = entry - middle, middle - exit_
    if first > step and abs(second) <= step:
        return "bell_mouth"
    if (first > 0.4 * step and second > 0.4 * step and first + second > step) or (abs(first) <= step < second):
        return "taper_big_entry"
    if (first < -0.4 * step and second < -0.4 * step and -(first + second) > step) or (
        abs(first) <= step < -second
    ):
        return "taper_big_exit"
    if -first > step and abs(second) <= step:
        return "taper_big_exit"
    if -first > step and second > step:
        return "barrel"
    if first > step and -second > step:
        return "waist"
    return "straight"
