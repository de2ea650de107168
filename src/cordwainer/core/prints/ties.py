"""Which circles of a drawing a callout speaks of: by the tip of its leader, else by what lies near and fits."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from cordwainer.core.part.callout_parts import Callout
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE, TYPICAL, Found
from cordwainer.core.prints.near import Grid
from cordwainer.core.prints.sheets import Circle
from cordwainer.core.prints.words import Point

AT_TEXT, LINE_AT_TEXT, AT_CIRCLE, NEAR = 3.0, 1.6, 0.12, 12.0
FITS, SAME = 0.012, 0.002
THREAD_LEAST, THREAD_MOST = 0.72, 1.06


@dataclass(frozen=True)
class Ties:
    """Callouts with the circles they speak of; `free` circles have none, `circles` how many there are in all."""

    found: tuple[Found, ...]
    free: tuple[Circle, ...]
    circles: int

    @property
    def words(self) -> str:
        """Both counted."""
        asked = sum(1 for f in self.found if f.state != NO_HOLE)
        told = f"{asked} {_many(asked, 'callout')} for {self.circles} {_many(self.circles, 'circle')}"
        if not self.free:
            return told
        return f"{told}; {len(self.free)} {_many(len(self.free), 'circle')} without one"


def _many(count: int, word: str) -> str:
    return word if count == 1 else f"{word}s"


def tied(
    found: Sequence[Found],
    circles: Sequence[Circle],
    leaders: Sequence[tuple[Point, Point]],
    lines: Sequence[Sequence[Point]],
    unit_mm: float,
) -> Ties:
    """Callouts of one sheet with their circles; `leaders` are tips and where their text begins.

    `unit_mm` is the drawing's unit in mm. A callout whose circle or count does not agree is put in doubt.
    """
    seen = _Circles(circles)
    out = list(found)
    order = sorted(range(len(out)), key=lambda k: (out[k].count or 1, k))
    ends = _ends(lines, [box.height for f in out for box in f.boxes])
    aimed = {k: _tip(out[k], leaders, ends) for k in order if out[k].callout is not None}
    claimed: set[int] = set()
    for index in sorted(aimed, key=lambda k: (aimed[k] is None, (out[k].count or 1) > 1)):
        each, tip = out[index], aimed[index]
        if each.state == NO_HOLE or each.callout is None:
            continue
        at = seen.at(tip, claimed) if tip is not None else seen.near(each, unit_mm, claimed)
        if at is None:
            continue
        out[index], taken = _settled(each, seen, at, claimed, unit_mm)
        claimed |= taken
    held = {seen.center(k) for k in claimed}
    free = [c for k, c in enumerate(circles) if k not in claimed and seen.center(k) not in held]
    return Ties(tuple(out), tuple(free), len({seen.center(k) for k in range(len(circles))}))


def _ends(lines: Sequence[Sequence[Point]], heights: Sequence[float]) -> Grid[tuple[Point, Point]]:
    """Every line's end with its other end, by where it is."""
    grid = Grid[tuple[Point, Point]](4 * max(sorted(heights)[len(heights) // 2] if heights else 1.0, 1e-9))
    for line in lines:
        for one, other in ((line[0], line[-1]), (line[-1], line[0])):
            if one != other:
                grid.add(*one, (one, other))
    return grid


def _tip(found: Found, leaders: Sequence[tuple[Point, Point]], lines: Grid[tuple[Point, Point]]) -> Point | None:
    """Where a callout's leader points."""
    height = max(min(box.height for box in found.boxes), 1e-9) if found.boxes else 1.0

    def away(point: Point) -> float:
        return min(box.away(point) for box in found.boxes)

    near = [(away(text), tip) for tip, text in leaders]
    best = min(near, default=None)
    if best is not None and best[0] <= AT_TEXT * height:
        return best[1]
    left, low, right, top = found.box.bounds
    air = LINE_AT_TEXT * height
    near_ends = lines.around(left - air, low - air, right + air, top + air)
    ends = [(away(one), other) for one, other in near_ends]
    ends = [(off, tip) for off, tip in ends if off <= LINE_AT_TEXT * height and away(tip) > off + height]
    return min(ends)[1] if ends else None


def fits(callout: Callout, diameter_mm: float) -> bool:
    """Whether a circle may be a callout's hole: its size, or of a thread between core and outside."""
    if callout.thread is not None:
        major = float(callout.thread.major_mm)
        return THREAD_LEAST * major <= diameter_mm <= THREAD_MOST * major
    size = callout.shown_size.mm
    return abs(diameter_mm - size) <= max(FITS * size, 0.02)


class _Circles:
    """A sheet's circles by where they stand."""

    def __init__(self, circles: Sequence[Circle]) -> None:
        self.all = circles

    def center(self, index: int) -> tuple[float, float]:
        circle = self.all[index]
        grain = max(circle.diameter, 1e-9) * 0 + 1e-4
        return round(circle.x / grain) * grain, round(circle.y / grain) * grain

    def at(self, tip: Point, claimed: set[int]) -> int | None:
        """The circle a tip touches, or lies in the middle of."""
        best: tuple[float, int] | None = None
        for index, circle in enumerate(self.all):
            radius = circle.diameter / 2
            off = math.hypot(tip[0] - circle.x, tip[1] - circle.y)
            miss = min(abs(off - radius), off) / max(radius, 1e-9)
            if miss <= AT_CIRCLE and (
                best is None or (miss, circle.diameter) < (best[0], self.all[best[1]].diameter)
            ):
                best = miss, index
        return best[1] if best is not None else None

    def near(self, found: Found, unit_mm: float, claimed: set[int]) -> int | None:
        """The nearest circle that fits and is nobody's yet."""
        callout = found.callout
        if callout is None or not found.boxes:
            return None
        height = found.boxes[0].height
        best: tuple[float, int] | None = None
        for index, circle in enumerate(self.all):
            if index in claimed or not fits(callout, circle.diameter * unit_mm):
                continue
            off = min(box.away((circle.x, circle.y)) for box in found.boxes) - circle.diameter / 2
            if best is None or off < best[0]:
                best = off, index
        return best[1] if best is not None and best[0] <= NEAR * height else None

    def concentric(self, index: int) -> list[int]:
        """All circles about the same center."""
        center = self.center(index)
        return [k for k in range(len(self.all)) if self.center(k) == center]

    def alike(self, index: int) -> list[int]:
        """All circles of the same size, one a center."""
        size = self.all[index].diameter
        return [k for k, c in enumerate(self.all) if abs(c.diameter - size) <= SAME * size]


def _settled(each: Found, seen: _Circles, at: int, claimed: set[int], unit_mm: float) -> tuple[Found, set[int]]:
    """A callout with its places, in doubt where circle or count disagree; and the circles it takes."""
    callout = each.callout
    assert callout is not None
    own = next((k for k in seen.concentric(at) if fits(callout, seen.all[k].diameter * unit_mm)), None)
    if own is None:
        drawn = seen.all[at].diameter * unit_mm
        return _doubted(each, f"the circle it points to is drawn {drawn:.4g} mm wide"), set()
    alike = [k for k in seen.alike(own) if k not in claimed or k == own]
    typical = TYPICAL in each.why
    count = len(alike) if typical else (each.count or 1)
    chosen = alike if count > 1 else [own]
    if count > 1 and len(alike) != count:
        same = [k for k in alike if seen.all[k].layer == seen.all[own].layer]
        if len(same) != count:
            return _doubted(each, f"it says {count}, and {len(alike)} circles of that size are drawn"), set(alike)
        chosen = same
    places = tuple((seen.all[k].x, seen.all[k].y) for k in chosen)
    found = replace(each, places=places, count=len(places) if typical else each.count)
    if typical:
        left = each.why.replace(TYPICAL, "").replace("; ; ", "; ").strip("; ")
        found = replace(found, why=left, state=DOUBT if left else SURE)
    return found, set(chosen)


def _doubted(each: Found, why: str) -> Found:
    return replace(each, state=DOUBT, why="; ".join(filter(None, (each.why, why))))
