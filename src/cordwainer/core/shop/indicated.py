"""How true a machine runs, from two readings of an indicator, with the working."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr


@dataclass(frozen=True)
class Way:
    """One thing measured with an indicator: how, and what its two readings are called."""

    id: str
    name: str
    how: str
    first: str
    second: str


RUNOUT = Way(
    "runout",
    "Runout",
    tr("A ground pin in the chuck, the indicator's tip on it, the spindle turned by hand with the power off."),
    "Highest",
    "Lowest",
)
SIDE = Way(
    "dx",
    tr("Off toward you"),
    tr(
        "An alignment bar, one diameter end to end, between the centers; the indicator rides on the "
        "carriage with its tip on your side of the bar. Pressed in reads plus."
    ),
    tr("Tailstock end"),
    tr("Spindle end"),
)
UP = Way(
    "dy", tr("Off upward"), tr("The same bar with the tip on top of it."), tr("Tailstock end"), tr("Spindle end")
)


def from_readings(way: Way, first_mm: float, second_mm: float) -> float:
    """What two readings of an indicator come to, millimeters: the first less the second.

    Runout is the whole reading, highest less lowest. An alignment bar stands off by the whole difference of its
    ends, as both are read from one side (common practice). Raises `InputError` for a highest below the lowest.

    >>> round(from_readings(SIDE, 0.05, 0.01), 3), round(from_readings(UP, -0.01, 0.0), 3)
    (0.04, -0.01)
    """
    found = first_mm - second_mm
    if way.id == "runout" and found < 0:
        raise InputError("", tr("the highest reading is below the lowest one"))
    return found
