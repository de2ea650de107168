"""When a tool is due for the grinder: by what it made between regrinds before, else by the usual."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from cordwainer.core.language import tr

SOON_SHARE = 0.9


@dataclass(frozen=True)
class Due:
    """Holes since the last regrind against those it usually makes; `learned` from how many grinds of its own."""

    since: int
    usual: float
    learned: int

    @property
    def due(self) -> bool:
        """Whether nine in ten of the usual holes are made."""
        return self.since >= SOON_SHARE * self.usual

    @property
    def words(self) -> str:
        """What to say at the machine."""
        whose = tr("as it made before") if self.learned else tr("as drills like it make, by the table")
        return tr(
            "It has made {since} holes since it was ground, about {usual:.0f} {whose}: "
            "look at its corners, regrind at 0.5 mm (.020 in) of wear",
            since=self.since,
            usual=self.usual,
            whose=whose,
        )


def due_of(since: int, grinds: Sequence[int], usual: float) -> Due:
    """What is due of a tool after so many holes, from the holes of grinds before and the table's figure.

    The median of its own grinds, with the table's figure as one more grind. Source: assumed weight; regrind limit
    common practice.

    >>> due_of(95, [100, 110], 150).due, due_of(20, [], 150).due
    (False, False)
    >>> due_of(100, [100, 110], 150).due
    True
    """
    own = [float(n) for n in grinds if n > 0]
    return Due(since, median([*own, usual]), len(own))
