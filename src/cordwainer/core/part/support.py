"""What the part lies on: strips of metal under it, and which holes come out over them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.part.layout import Place

SIDES = ("left_right", "lower_upper")


@dataclass(frozen=True)
class Parallels:
    """Two parallels along opposite edges of a part: how thick, how far in from the edges, along which pair."""

    thick_mm: float
    inset_mm: float = 0.0
    sides: str = "left_right"

    @property
    def axis(self) -> int:
        """The coordinate they are apart in: 0 for x."""
        return SIDES.index(self.sides)

    def bands(self, part_mm: tuple[float, float]) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where each lies in that coordinate, in mm.

        >>> Parallels(8, 2).bands((100, 60))
        ((2, 10), (90, 98))
        """
        far = part_mm[self.axis] - self.inset_mm
        return (self.inset_mm, self.inset_mm + self.thick_mm), (far - self.thick_mm, far)


def over(
    places: Sequence[Place], size_mm: float, parallels: Parallels, part_mm: tuple[float, float]
) -> tuple[int, ...]:
    """Which places have any of their hole over a parallel, by number from 0.

    >>> over([(5, 20), (20, 20), (13, 20)], 8, Parallels(8, 2), (100, 60))
    (0, 2)
    """
    bands = parallels.bands(part_mm)
    return tuple(
        number
        for number, place in enumerate(places)
        if any(
            low - size_mm / 2 < place[parallels.axis] < high + size_mm / 2 and low < part_mm[parallels.axis]
            for low, high in bands
        )
    )
