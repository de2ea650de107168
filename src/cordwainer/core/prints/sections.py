"""Holes drawn in section: a diameter written across two walls, and the length that says how deep they go."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from cordwainer.core.prints.callouts import NO_DEPTH, Found, understood
from cordwainer.core.prints.datum import Span
from cordwainer.core.prints.words import Point

NEAR, PLACES = 1e-4, 4
_FIGURE = re.compile(r"^[0-9]*[.,]?[0-9]+$")


@dataclass(frozen=True)
class Length:
    """A length dimension: where it runs, what it says, where that stands, and what it measures."""

    span: Span
    text: str
    at: Point
    measured: float

    @property
    def ends(self) -> Point:
        """From where to where it goes, along its own direction."""
        axis = 0 if self.span.across else 1
        one, other = round(self.span.one[axis], PLACES), round(self.span.other[axis], PLACES)
        return min(one, other), max(one, other)


class _Parts:
    """The straight parts of a drawing: those along an axis by where they stand, and what starts at a point."""

    def __init__(self, lines: Iterable[Sequence[Point]]) -> None:
        self.along: tuple[dict[float, set[Point]], dict[float, set[Point]]] = ({}, {})
        self.begins: dict[Point, set[Point]] = {}
        for a, b in (_part(pair) for line in lines for pair in pairwise(line)):
            self.begins.setdefault(a, set()).add(b)
            self.begins.setdefault(b, set()).add(a)
            for axis in (0, 1):
                if a[axis] == b[axis]:
                    run = min(a[1 - axis], b[1 - axis]), max(a[1 - axis], b[1 - axis])
                    self.along[axis].setdefault(a[axis], set()).add(run)

    def walls(self, span: Span) -> set[Point]:
        """From where to where, along the hole, both its walls go that a point closes."""
        axis = 0 if span.across else 1
        one, other = round(span.one[axis], PLACES), round(span.other[axis], PLACES)
        both = self.along[axis].get(one, set()) & self.along[axis].get(other, set())
        return {run for run in both if any(self._closed(one, other, end, axis) for end in run)}

    def _closed(self, one: float, other: float, end: float, axis: int) -> bool:
        """Whether the ends of both walls are joined to one point on the axis: the cone a drill leaves."""
        middle = (one + other) / 2
        tips = [
            {tip for tip in self.begins.get(_turned(side, end, axis), set()) if abs(tip[axis] - middle) < NEAR}
            for side in (one, other)
        ]
        return any(abs(tip[1 - axis] - end) > NEAR for tip in tips[0] & tips[1])


def _part(pair: tuple[Point, Point]) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = pair
    return (round(ax, PLACES), round(ay, PLACES)), (round(bx, PLACES), round(by, PLACES))


def _turned(across: float, along: float, axis: int) -> Point:
    return (across, along) if axis == 0 else (along, across)


def depths(lengths: Sequence[Length], lines: Iterable[Sequence[Point]]) -> list[tuple[Point, str]]:
    """Where a diameter across a blind hole stands, and how deep another length says that its walls go.

    Blind: a point closes the walls at one end. Nothing is told where walls, point and one length do not agree, so
    that a hole through the part is never taken for a blind one.
    """
    across = [each for each in lengths if "Ø" in each.text]
    plain = [each for each in lengths if _FIGURE.match(each.text) and _says_itself(each)]
    if not across or not plain:
        return []
    parts, found = _Parts(lines), []
    told: dict[tuple[bool, Point], set[str]] = {}
    for each in plain:
        told.setdefault((each.span.across, each.ends), set()).add(each.text)
    for each in across:
        said = [told.get((not each.span.across, run), set()) for run in parts.walls(each.span)]
        texts = set().union(*said)
        if len(texts) == 1:
            found.append((each.at, texts.pop()))
    return found


def _says_itself(length: Length) -> bool:
    """Whether a length says what it measures."""
    said = float(length.text.replace(",", "."))
    return abs(said - length.measured) <= 0.5 * 10.0 ** -_places(length.text) + NEAR


def _places(text: str) -> int:
    return len(re.split(r"[.,]", text)[1]) if re.search(r"[.,]", text) else 0


def with_depths(found: Sequence[Found], told: Sequence[tuple[Point, str]], unit: str) -> list[Found]:
    """Callouts of one sheet; those in doubt of nothing but their depth are given the one their section shows.

    A diameter alone stays in doubt: a pin with a point is drawn the same.
    """
    out = list(found)
    for at, depth in told:
        for k, each in enumerate(out):
            if each.why == NO_DEPTH and each.boxes and each.box.away(at) <= each.box.height:
                new = understood(f"{each.line or each.text} {depth} deep", unit)
                out[k] = replace(each, state=new.state, why=new.why, line=new.line, callout=new.callout)
    return out
