"""Points of a hole from a coordinate measuring machine: circles, largest pin, lobes and the axis."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from cordwainer.core.errors import InputError

Floats = npt.NDArray[np.float64]
APART_MM, FEWEST, ROUNDS, NEAR = 0.5, 3, 60, 1e-11
LOBES = (2, 3, 4, 5)
WAYS_DEG = (0.0, 45.0, 90.0, 135.0)
STEP_MM = 0.001


@dataclass(frozen=True)
class Circle:
    """A circle in a plane, in mm."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Ring:
    """One plane of a hole: its depth, least-squares and largest inscribed circle, radii of 2 to 5 lobes, in mm."""

    depth_mm: float
    fitted: Circle
    inscribed: Circle
    lobes: dict[int, float]
    round_off_mm: float
    turned: Floats

    def across(self, way_deg: float) -> float:
        """The diameter a two-point gauge would read in a direction; odd lobes do not show in it."""
        turn = math.radians(way_deg)
        found = 2 * self.fitted.radius
        for place, lobe in enumerate(self._known):
            if lobe % 2 == 0:
                a, b = self.turned[2 * place : 2 * place + 2]
                found += 2 * (a * math.cos(lobe * turn) + b * math.sin(lobe * turn))
        return float(found)

    @property
    def _known(self) -> tuple[int, ...]:
        return tuple(self.lobes)


def fit_circle(points: Floats) -> Circle:
    """The circle with the least sum of squared distances to points of shape (n, 2), by Gauss and Newton.

    Raises `InputError` for fewer than three points or points on a line. Source: textbook orthogonal distance fit.
    """
    _enough(points)
    middle = points.mean(axis=0)
    own = points - middle
    system = np.column_stack([2 * own, np.ones(len(own))])
    if np.linalg.matrix_rank(system, tol=1e-9 * max(float(np.abs(own).max()), 1e-9)) < 3:
        raise InputError("points", "they lie on a line; a circle needs some to the side")
    x, y, rest = np.linalg.lstsq(system, (own**2).sum(axis=1), rcond=None)[0]
    r = math.sqrt(max(rest + x * x + y * y, 0.0))
    for _ in range(ROUNDS):
        away = own - (x, y)
        far = np.hypot(away[:, 0], away[:, 1])
        jacobian = np.column_stack([-away / far[:, None], -np.ones(len(own))])
        step = np.linalg.lstsq(jacobian, -(far - r), rcond=None)[0]
        x, y, r = x + step[0], y + step[1], r + step[2]
        if np.abs(step).max() < NEAR * max(r, 1.0):
            break
    return Circle(float(x + middle[0]), float(y + middle[1]), float(r))


def inscribe_circle(points: Floats, near: Circle | None = None) -> Circle:
    """The largest circle with no point inside it near the fitted one: the largest pin that goes in.

    Linear programs about the last center until it stands still. Source: textbook minimax fit.
    """
    from scipy.optimize import linprog

    begun = near or fit_circle(points)
    x, y, reach = begun.x, begun.y, 0.25 * begun.radius
    best = Circle(x, y, _clear(points, x, y))
    for _ in range(ROUNDS):
        away = points - (x, y)
        far = np.hypot(away[:, 0], away[:, 1])
        unit = away / far[:, None]
        # r <= far - unit . step, the largest r within a box about the last center.
        found = linprog(
            [0, 0, -1],
            np.column_stack([unit, np.ones(len(unit))]),
            far,
            bounds=[(-reach, reach)] * 2 + [(0, None)],
        )
        if not found.success:
            break
        fresh = Circle(x + found.x[0], y + found.x[1], _clear(points, x + found.x[0], y + found.x[1]))
        if fresh.radius > best.radius + NEAR:
            best, x, y = fresh, fresh.x, fresh.y
        else:
            reach /= 4
        if reach < 1e-9 * begun.radius:
            break
    return best


def _clear(points: Floats, x: float, y: float) -> float:
    return float(np.hypot(points[:, 0] - x, points[:, 1] - y).min())


def _enough(points: Floats) -> None:
    if len(points) < FEWEST:
        raise InputError("points", f"{len(points)} of them at one depth; a circle needs at least {FEWEST}")


def ring(points: Floats, depth_mm: float) -> Ring:
    """One plane worked up; harmonics as far as the number of points bears them."""
    fitted = fit_circle(points)
    away = points - (fitted.x, fitted.y)
    turn, off = np.arctan2(away[:, 1], away[:, 0]), np.hypot(away[:, 0], away[:, 1]) - fitted.radius
    known = [lobe for lobe in LOBES if len(points) >= 2 * lobe + 2]
    waves = [wave(lobe * turn) for lobe in known for wave in (np.cos, np.sin)]
    turned = np.linalg.lstsq(np.column_stack(waves), off, rcond=None)[0] if waves else np.zeros(0)
    lobes = {lobe: float(np.hypot(*turned[2 * k : 2 * k + 2])) for k, lobe in enumerate(known)}
    round_off = float(off.max() - off.min())
    return Ring(depth_mm, fitted, inscribe_circle(points, fitted), lobes, round_off, np.asarray(turned, float))


@dataclass(frozen=True)
class Bore:
    """Planes from the mouth down, the axis at mouth and far plane, and how far the centers leave a line."""

    rings: tuple[Ring, ...]
    mouth: tuple[float, float]
    far: tuple[float, float]
    bent_mm: float

    @property
    def leans_mm(self) -> float:
        """How far the axis moves sideways from the first plane to the last, in mm."""
        return math.dist(self.mouth, self.far)

    @property
    def pin_mm(self) -> float:
        """The largest pin that goes through all planes on their own centers, to a micrometer below."""
        least = min(2 * r.inscribed.radius for r in self.rings)
        return math.floor(least / STEP_MM + 1e-6) * STEP_MM

    @property
    def lobed(self) -> int:
        """How many lobes stand out, 0 where none does clearly."""
        worst = max(self.rings, key=lambda r: r.round_off_mm)
        if not worst.lobes:
            return 0
        lobe, height = max(worst.lobes.items(), key=lambda item: item[1])
        return lobe if height > 0.25 * worst.round_off_mm else 0


def work_up(points: Sequence[Sequence[float]]) -> Bore:
    """Points as x, y, z in mm, z along the axis, into planes and an axis.

    Depth is the distance from 0; points within half a millimeter of each other in z are one plane. Raises
    `InputError` for points that are none.
    """
    try:
        found = np.array([[float(v) for v in point] for point in points], dtype=float)
    except (TypeError, ValueError):
        raise InputError("points", "each is three figures, x, y and z in mm") from None
    if found.ndim != 2 or found.shape[1] != 3 or not np.isfinite(found).all():
        raise InputError("points", "each is three figures, x, y and z in mm")
    found = found[np.argsort(np.abs(found[:, 2]), kind="stable")]
    depth = np.abs(found[:, 2])
    groups = np.split(found, np.flatnonzero(np.diff(depth) > APART_MM) + 1)
    rings = tuple(ring(group[:, :2], float(np.abs(group[:, 2]).mean())) for group in groups)
    centers = np.array([[r.fitted.x, r.fitted.y] for r in rings])
    z = np.array([r.depth_mm for r in rings])
    if len(rings) < 2:
        here = (rings[0].fitted.x, rings[0].fitted.y)
        return Bore(rings, here, here, 0.0)
    line = np.linalg.lstsq(np.column_stack([np.ones(len(z)), z]), centers, rcond=None)[0]
    on = np.column_stack([np.ones(len(z)), z]) @ line
    bent = float(np.hypot(*(centers - on).T).max())
    return Bore(rings, (float(on[0, 0]), float(on[0, 1])), (float(on[-1, 0]), float(on[-1, 1])), bent)
