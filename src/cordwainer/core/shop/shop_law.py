"""What a shop's own holes have taught of the constants that differ from shop to shop, and of its reamers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Wide = NDArray[np.float64]
REAMER = "reamer "


@dataclass(frozen=True, eq=False)
class ShopLaw:
    """A normal law of scores: of the model's uncertain constants in the order of their table, then of reamers.

    `scores = mean + root @ z`, z standard normal, `mean` `[k]`, `root` `[k, k]`; before any hole the mean is
    nought and the root the identity. A reamer stands as "reamer " and its id; its score says where in its own
    tolerance it lies. `holes` is from how many holes it was learned, `worth` what they count for.
    """

    names: tuple[str, ...]
    mean: Wide
    root: Wide
    holes: int = 0
    worth: float = 0.0

    def place(self, name: str) -> int:
        """The row of a constant or reamer. Raises `ValueError` for one it has none of."""
        return self.names.index(name)

    def knows(self, reamer_id: str) -> bool:
        """Whether holes of that reamer stand behind it."""
        return REAMER + reamer_id in self.names

    def with_reamer(self, reamer_id: str) -> ShopLaw:
        """The law with a reamer more, of which nothing is known yet."""
        if self.knows(reamer_id):
            return self
        count = len(self.names)
        root = np.eye(count + 1)
        root[:count, :count] = self.root
        return ShopLaw((*self.names, REAMER + reamer_id), np.append(self.mean, 0.0), root, self.holes, self.worth)

    def sd(self, name: str) -> float:
        """How far the score of a constant may still be off; 1 before any hole."""
        return float(np.linalg.norm(self.root[self.place(name)]))

    def same(self, other: Any) -> bool:
        """Whether another law says the same."""
        return (
            isinstance(other, ShopLaw)
            and (self.names, self.holes) == (other.names, other.holes)
            and np.array_equal(self.mean, other.mean)
            and np.array_equal(self.root, other.root)
        )
