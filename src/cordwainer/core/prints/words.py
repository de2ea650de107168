"""Pieces of text as they stand on a sheet, and the same seen along their own direction."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

TURNED_DEG = 1.5
Point = tuple[float, float]


@dataclass(frozen=True)
class Run:
    """Text on one straight base line: where that begins, how far it goes, how high its letters stand.

    `x`, `y`, `width` and `height` in the sheet's own units, y up; `angle_deg` counterclockwise from x.
    """

    text: str
    x: float
    y: float
    width: float
    height: float
    angle_deg: float = 0.0


@dataclass(frozen=True)
class Placed:
    """A run seen along its own direction: `u` from its begin to `end` along it, `v` up across it."""

    text: str
    u: float
    v: float
    end: float
    height: float

    @property
    def middle(self) -> float:
        """Halfway along."""
        return (self.u + self.end) / 2

    def said(self, text: str) -> Placed:
        """The same place with other words."""
        return replace(self, text=text)


@dataclass(frozen=True)
class Box:
    """A turned rectangle around text: a corner at its begin and foot, its sides, its angle."""

    x: float
    y: float
    width: float
    height: float
    angle_deg: float

    @property
    def corners(self) -> tuple[Point, Point, Point, Point]:
        """Foot begin, foot end, top end, top begin."""
        c, s = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        along, up = (self.width * c, self.width * s), (-self.height * s, self.height * c)
        x, y = self.x, self.y
        return (
            (x, y),
            (x + along[0], y + along[1]),
            (x + along[0] + up[0], y + along[1] + up[1]),
            (x + up[0], y + up[1]),
        )

    @property
    def center(self) -> Point:
        """The middle of it."""
        corners = self.corners
        return (corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2

    @property
    def bounds(self) -> tuple[float, float, float, float]:
        """Left, lower, right and upper end."""
        xs, ys = [c[0] for c in self.corners], [c[1] for c in self.corners]
        return min(xs), min(ys), max(xs), max(ys)

    def away(self, point: Point) -> float:
        """How far a point is from it, 0 within."""
        c, s = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        dx, dy = point[0] - self.x, point[1] - self.y
        u, v = dx * c + dy * s, dy * c - dx * s
        return math.hypot(max(-u, 0.0, u - self.width), max(-v, 0.0, v - self.height))


@dataclass(frozen=True)
class Frame:
    """A direction on a sheet, and the way there and back."""

    angle_deg: float

    def seen(self, run: Run) -> Placed:
        """A run along this direction."""
        c, s = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        u, v = run.x * c + run.y * s, run.y * c - run.x * s
        return Placed(run.text, u, v, u + run.width, run.height)

    def box(self, u: float, v: float, width: float, height: float) -> Box:
        """A rectangle along this direction as it stands on the sheet."""
        c, s = math.cos(math.radians(self.angle_deg)), math.sin(math.radians(self.angle_deg))
        return Box(u * c - v * s, u * s + v * c, width, height, self.angle_deg)


def by_direction(runs: Sequence[Run]) -> list[tuple[Frame, list[Placed]]]:
    """Runs gathered by the direction they are read in, each seen along it.

    >>> [(f.angle_deg, len(p)) for f, p in by_direction([Run("a", 0, 0, 1, 1), Run("b", 0, 0, 1, 1, 90.4)])]
    [(0.0, 1), (90.4, 1)]
    """
    frames: list[tuple[Frame, list[Placed]]] = []
    for run in runs:
        angle = run.angle_deg % 360
        for frame, placed in frames:
            if abs((frame.angle_deg - angle + 180) % 360 - 180) <= TURNED_DEG:
                placed.append(frame.seen(run))
                break
        else:
            frame = Frame(angle)
            frames.append((frame, [frame.seen(run)]))
    return frames
