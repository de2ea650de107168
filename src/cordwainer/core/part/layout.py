"""Where holes stand on a part: rows, bolt circles, marking out, metal left between them and to the edges."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr

Place = tuple[float, float]
MOST = 10_000


def row(first: Place, step: Place, count: int) -> tuple[Place, ...]:
    """Places in a row from a first one, so far apart in x and y, in mm.

    >>> row((10.0, 8.0), (12.5, 0.0), 3)
    ((10.0, 8.0), (22.5, 8.0), (35.0, 8.0))
    """
    _check(count)
    return tuple((first[0] + k * step[0], first[1] + k * step[1]) for k in range(count))


def bolt_circle(center: Place, diameter_mm: float, count: int, first_deg: float = 0.0) -> tuple[Place, ...]:
    """Places evenly on a circle, the first at an angle from the x axis, anticlockwise, in mm.

    >>> [(round(x, 3), round(y, 3)) for x, y in bolt_circle((0, 0), 60, 4)]
    [(30.0, 0.0), (0.0, 30.0), (-30.0, 0.0), (-0.0, -30.0)]
    """
    _check(count)
    if diameter_mm <= 0:
        raise InputError(
            "diameter",
            tr("a circle of {diameter_mm:g} mm holds no holes; write one above zero", diameter_mm=diameter_mm),
        )
    turns = [math.radians(first_deg + 360 * k / count) for k in range(count)]
    return tuple(
        (center[0] + diameter_mm / 2 * math.cos(turn), center[1] + diameter_mm / 2 * math.sin(turn))
        for turn in turns
    )


def _check(count: int) -> None:
    if not 1 <= count <= MOST:
        raise InputError(
            "count", tr("{count} is not a number of holes; write one from 1 to {most}", count=count, most=MOST)
        )


@dataclass(frozen=True)
class Neighbor:
    """The hole that leaves the least metal: which, how far between centers, metal between the walls, in mm."""

    hole: int
    place: int
    apart_mm: float
    metal_mm: float


def nearest(places: Sequence[Sequence[Place]], sizes_mm: Sequence[float]) -> list[list[Neighbor | None]]:
    """For every place of every hole the other one that leaves the least metal between their finished walls.

    Places are put in squares first, so that thousands of them take little longer than hundreds.
    """
    flat = [(h, p, x, y) for h, group in enumerate(places) for p, (x, y) in enumerate(group)]
    found: list[list[Neighbor | None]] = [[None] * len(group) for group in places]
    if len(flat) < 2:
        return found
    xs, ys = [f[2] for f in flat], [f[3] for f in flat]
    wide = max(max(xs) - min(xs), max(ys) - min(ys), 1e-6)
    side = max(wide / math.sqrt(len(flat)), 1e-6)
    squares: dict[tuple[int, int], list[int]] = {}
    for at, (_, _, x, y) in enumerate(flat):
        squares.setdefault((math.floor(x / side), math.floor(y / side)), []).append(at)
    for h, p, x, y in flat:
        best: Neighbor | None = None
        column, line, reach = math.floor(x / side), math.floor(y / side), 0
        most = (sizes_mm[h] + max(sizes_mm)) / 2
        while (best is None or best.metal_mm + most > reach * side) and reach * side <= 2 * (wide + side):
            reach += 1
            for i in range(column - reach, column + reach + 1):
                for j in range(line - reach, line + reach + 1):
                    if reach > 1 and max(abs(i - column), abs(j - line)) < reach:
                        continue
                    for at in squares.get((i, j), ()):
                        oh, op, ox, oy = flat[at]
                        apart = math.hypot(ox - x, oy - y)
                        metal = apart - (sizes_mm[h] + sizes_mm[oh]) / 2
                        if (oh, op) != (h, p) and (best is None or metal < best.metal_mm):
                            best = Neighbor(oh, op, apart, metal)
        found[h][p] = best
    return found


@dataclass(frozen=True)
class Edge:
    """The edge nearest a hole, and the metal between it and the wall in mm; below zero the hole cuts it open."""

    name: str
    metal_mm: float


def nearest_edge(place: Place, size_mm: float, part_mm: tuple[float, float]) -> Edge:
    """The edge of a rectangular part lying from 0, 0 that leaves the least metal to a hole's wall.

    >>> nearest_edge((10.0, 25.0), 8.0, (60.0, 40.0))
    Edge(name='left', metal_mm=6.0)
    """
    x, y = place
    ways = (("left", x), ("lower", y), ("right", part_mm[0] - x), ("upper", part_mm[1] - y))
    name, off = min(ways, key=lambda way: way[1])
    return Edge(name, off - size_mm / 2)
