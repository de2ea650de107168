"""Points of a hole from a coordinate measuring machine: circles, largest pin, lobes, axis and cone."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.measuring.cylinder import across, fit_cylinder
from cordwainer.core.measuring.finding import Axis, Pin, Reading

Floats = npt.NDArray[np.float64]
APART_MM, FEWEST, ROUNDS, NEAR = 0.5, 3, 60, 1e-11
LOBES = (2, 3, 4, 5)
WAYS_DEG = (0.0, 45.0, 90.0, 135.0)
STEP_MM, MOST_MM = 0.001, 1e5


@dataclass(frozen=True)
class FittedCircle:
    """A circle in a plane, in mm."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Ring:
    """One plane of a hole: its depth, least-squares and largest inscribed circle, radii of 2 to 5 lobes, in mm."""

    depth_mm: float
    fitted: FittedCircle
    inscribed: FittedCircle
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


def fit_circle(points: Floats) -> FittedCircle:
    """The circle with the least sum of squared distances to points of shape (n, 2), by Gauss and Newton.

    Raises `InputError` for fewer than three points or points on a line. Source: textbook orthogonal distance fit.
    """
    _enough(points)
    middle = points.mean(axis=0)
    own = points - middle
    system = np.column_stack([2 * own, np.ones(len(own))])
    if np.linalg.matrix_rank(system, tol=1e-9 * max(float(np.abs(own).max()), 1e-9)) < 3:
        raise InputError("points", tr("they lie on a line; a circle needs some to the side"))
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
    return FittedCircle(float(x + middle[0]), float(y + middle[1]), float(r))


def inscribe_circle(points: Floats, near: FittedCircle | None = None) -> FittedCircle:
    """The largest circle with no point inside it near the fitted one: the largest pin that goes in.

    Linear programs about the last center until it stands still. Source: textbook minimax fit.
    """
    from scipy.optimize import linprog

    begun = near or fit_circle(points)
    x, y, reach = begun.x, begun.y, 0.25 * begun.radius
    best = FittedCircle(x, y, _clear(points, x, y))
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
        fresh = FittedCircle(x + found.x[0], y + found.x[1], _clear(points, x + found.x[0], y + found.x[1]))
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
        raise InputError(
            "points",
            tr("{count} of them at one depth; a circle needs at least {fewest}", count=len(points), fewest=FEWEST),
        )


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
class MeasuredBore:
    """Planes from the mouth down, the axis at mouth and far plane, and how far the centers leave a line, in mm.

    `cone_deg` is the included angle of the cone that fits best, above 0 where it is wider at the mouth;
    `cylindricity_mm` the distance between two cylinders about one axis that hold all points.
    """

    rings: tuple[Ring, ...]
    mouth: tuple[float, float]
    far: tuple[float, float]
    bent_mm: float
    cone_deg: float | None = None
    cylindricity_mm: float | None = None

    @property
    def leans_mm(self) -> float:
        """How far the axis moves sideways from the first plane to the last."""
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


def work_up(points: Sequence[Sequence[float]]) -> MeasuredBore:
    """Points as x, y, z in mm, z along the axis, into planes, an axis and a cone.

    Depth is the distance from 0; points within half a millimeter of each other in z are one plane, seen along the
    fitted axis so that a leaning hole is not called oval. Raises `InputError` for points that are none.
    """
    try:
        found = np.array([[float(v) for v in point] for point in points], dtype=float)
    except (TypeError, ValueError):
        raise InputError("points", tr("each is three figures, x, y and z in mm")) from None
    if found.ndim != 2 or found.shape[1] != 3 or not np.isfinite(found).all():
        raise InputError("points", tr("each is three figures, x, y and z in mm"))
    if np.abs(found).max() > MOST_MM:
        raise InputError(
            "points", tr("{max:g} mm is farther than any part reaches; is it in mm?", max=np.abs(found).max())
        )
    found = np.column_stack([found[:, :2], np.abs(found[:, 2])])
    found = found[np.argsort(found[:, 2], kind="stable")]
    cuts = np.flatnonzero(np.diff(found[:, 2]) > APART_MM) + 1
    cone = fit_cylinder(found, cone=True) if len(cuts) else None
    seen = across(found, cone) if cone is not None else found[:, :2]
    rings = []
    for group, flat in zip(np.split(found, cuts), np.split(seen, cuts), strict=True):
        deep = float(group[:, 2].mean())
        rings.append(ring(flat + cone.at(deep) if cone is not None else flat, deep))
    centers = np.array([[r.fitted.x, r.fitted.y] for r in rings])
    if len(rings) < 2:
        here = (rings[0].fitted.x, rings[0].fitted.y)
        return MeasuredBore(tuple(rings), here, here, 0.0)
    depths = np.array([r.depth_mm for r in rings])
    if cone is None:
        line = np.column_stack([np.ones(len(depths)), depths])
        on = line @ np.linalg.lstsq(line, centers, rcond=None)[0]
    else:
        on = np.array([cone.at(deep) for deep in depths])
    cylinder = fit_cylinder(found)
    return MeasuredBore(
        tuple(rings),
        (float(on[0, 0]), float(on[0, 1])),
        (float(on[-1, 0]), float(on[-1, 1])),
        float(np.hypot(*(centers - on).T).max()),
        cone.cone_deg if cone is not None else None,
        cylinder.cylindricity_mm if cylinder is not None else None,
    )


def as_read(points: Sequence[Sequence[float]]) -> tuple[tuple[Reading, ...], tuple[Pin, ...], Axis]:
    """Points as the diameters a two-point gauge would read, the largest pin that would go, and the axis.

    x and y are counted from the hole's own place. Raises `InputError` for points that are none.
    """
    bore = work_up(points)
    readings = tuple(Reading(r.depth_mm, r.across(way), way) for r in bore.rings for way in WAYS_DEG)
    pins = (Pin(bore.pin_mm, True), Pin(bore.pin_mm + STEP_MM, False))
    one = len(bore.rings) < 2
    axis = Axis(
        entry_mm=math.hypot(*bore.mouth),
        exit_mm=None if one else math.hypot(*bore.far),
        leans_mm=None if one else bore.leans_mm,
        straightness_mm=2 * bore.bent_mm if len(bore.rings) > 2 else None,
        cylindricity_mm=bore.cylindricity_mm,
        lobes=bore.lobed,
    )
    return readings, pins, axis


def read_csv(text: str) -> list[list[float]]:
    """Points from lines of x, y, z in mm, apart by comma, semicolon, tab or blanks; words on top are passed.

    Figures may have a decimal comma where fields are apart otherwise. Raises `InputError` that names the line.
    """
    found: list[list[float]] = []
    for number, line in enumerate(text.lstrip("\ufeff").splitlines(), 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        cells = _cells(line)
        try:
            figures = [float(cell) for cell in cells[-3:]]
        except ValueError:
            if not found and not any(character.isdigit() for cell in cells for character in cell[:1]):
                continue
            raise InputError(
                tr("line {number}", number=number),
                tr("'{line}' is not three figures, x, y and z", line=line.strip()[:40]),
            ) from None
        if len(figures) < 3 or not all(math.isfinite(figure) for figure in figures):
            raise InputError(
                tr("line {number}", number=number),
                tr("'{line}' is not three figures, x, y and z", line=line.strip()[:40]),
            )
        found.append(figures)
    if not found:
        raise InputError("", tr("there are no points in it; write x, y, z in mm, a line each"))
    return found


def _cells(line: str) -> list[str]:
    for mark in (";", "\t"):
        if mark in line:
            return [cell.strip().replace(",", ".") for cell in line.split(mark)]
    if "," in line and line.count(",") >= 2 and not re.fullmatch(r"\s*\S+,\d+(\s+\S+,\d+)+\s*", line):
        return [cell.strip() for cell in line.split(",")]
    return line.replace(",", ".").split()
