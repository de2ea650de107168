"""What lies near a place, found without looking at everything: a sheet may hold very much text."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Generic, TypeVar

MOST_IN_CELL, MOST_CELLS = 200, 400
Thing = TypeVar("Thing")


class Grid(Generic[Thing]):
    """Things by where they are, in square cells; of very many in one cell only the first are kept.

    >>> grid = Grid[str](10.0)
    >>> grid.add(5, 5, "a"); grid.add(95, 5, "b")
    >>> list(grid.around(0, 0, 12, 12))
    ['a']
    """

    def __init__(self, cell: float) -> None:
        self.cell = max(cell, 1e-9)
        self.cells: dict[tuple[int, int], list[Thing]] = {}

    def _of(self, x: float, y: float) -> tuple[int, int]:
        return int(x // self.cell), int(y // self.cell)

    def add(self, x: float, y: float, thing: Thing) -> None:
        """Put a thing at a place."""
        held = self.cells.setdefault(self._of(x, y), [])
        if len(held) < MOST_IN_CELL:
            held.append(thing)

    def around(self, left: float, low: float, right: float, top: float) -> Iterator[Thing]:
        """What lies within an area, and what lies in the same cells a little outside."""
        (i0, j0), (i1, j1) = self._of(left, low), self._of(right, top)
        if (i1 - i0 + 1) * (j1 - j0 + 1) > MOST_CELLS:
            for held in self.cells.values():
                yield from held
            return
        for i in range(i0, i1 + 1):
            for j in range(j0, j1 + 1):
                yield from self.cells.get((i, j), ())
