"""A cylinder and a cone through points of a bore, by least sum of squared distances."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
ROUNDS, NEAR, FEWEST = 60, 1e-12, 7
MOST_MM = 1e7


@dataclass(frozen=True)
class Cylinder:
    """Axis through (x, y) at depth 0, moving (a, b) sideways for each mm of depth; radius there; mm.

    `grows` is how much the radius grows along the axis, 0 for a cylinder; `off` are the distances of the points
    from the surface, outside positive, shape (n,).
    """

    x: float
    y: float
    a: float
    b: float
    radius: float
    grows: float
    off: Floats

    def at(self, depth_mm: float) -> tuple[float, float]:
        """Where the axis stands at a depth."""
        return self.x + self.a * depth_mm, self.y + self.b * depth_mm

    @property
    def cylindricity_mm(self) -> float:
        """How far apart two surfaces of this shape must stand to hold all points between them."""
        return float(self.off.max() - self.off.min())

    @property
    def cone_deg(self) -> float:
        """Included angle of the cone, above 0 where it is wider at the mouth."""
        return -2 * math.degrees(math.atan(self.grows))


def across(points: Floats, found: Cylinder) -> Floats:
    """The points seen along the axis, shape (n, 2): where they stand from it in x and y, square to it."""
    n, _, out = _from_axis(points, found.x, found.y, found.a, found.b)
    first = np.array([1.0, 0, 0]) - n[0] * n
    first /= np.linalg.norm(first)
    return np.column_stack([out @ first, out @ np.cross(n, first)])


def fit_cylinder(points: Floats, *, cone: bool = False) -> Cylinder | None:
    """The cylinder (or cone) nearest to points of shape (n, 3), depth last, the axis within 45 degrees of it.

    None where the points do not settle one: fewer than seven, or all at one depth. Source: textbook orthogonal
    distance fit, by Gauss and Newton with exact derivatives.
    """
    if len(points) < FEWEST or np.ptp(points[:, 2]) < 1e-6:
        return None
    middle = np.array([*points[:, :2].mean(axis=0), 0.0])
    own = points - middle
    x = y = a = b = k = 0.0
    r = float(np.hypot(own[:, 0], own[:, 1]).mean())
    off = np.zeros(len(own))
    for _ in range(ROUNDS):
        n, along, out = _from_axis(own, x, y, a, b)
        far = np.maximum(np.linalg.norm(out, axis=1), 1e-12)
        unit, length = out / far[:, None], math.sqrt(1 + a * a + b * b)
        off = far - r - k * along
        # How distance and place along the axis move with x, y, a, b.
        distance = np.column_stack([-unit[:, :2], -unit[:, :2] * (along / length)[:, None]])
        along_by = np.column_stack([np.tile(-n[:2], (len(own), 1)), out[:, :2] / length])
        columns = [distance - k * along_by, -np.ones((len(own), 1))]
        if cone:
            columns.append(-along[:, None])
        jacobian = np.hstack(columns)
        size = np.abs(jacobian).max(axis=0)
        if (size <= 0).any():
            return None
        step, _, rank, _ = np.linalg.lstsq(jacobian / size, -off, rcond=1e-10)
        if rank < jacobian.shape[1]:
            return None
        step = step / size
        x, y, a, b, r = x + step[0], y + step[1], a + step[2], b + step[3], r + step[4]
        k += step[5] if cone else 0.0
        if not math.isfinite(r) or abs(r) > MOST_MM or not math.isfinite(k) or not max(abs(a), abs(b)) <= 1:
            return None
        if np.abs(step).max() < NEAR * max(r, 1.0):
            break
    slant = math.sqrt(1 + k * k)
    return Cylinder(
        float(x + middle[0]), float(y + middle[1]), float(a), float(b), float(r), float(k), np.asarray(off / slant)
    )


def _from_axis(points: Floats, x: float, y: float, a: float, b: float) -> tuple[Floats, Floats, Floats]:
    """The axis as a unit vector, how far along it each point stands, and the way out to it, square to the axis."""
    n = np.array([a, b, 1.0]) / math.sqrt(1 + a * a + b * b)
    v = points - (x, y, 0.0)
    along = v @ n
    return n, along, v - along[:, None] * n
