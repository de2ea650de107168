"""Marking out by hand: lines from two edges, a bolt circle by its chord, witness circles, a transfer punch."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.language import sentence, tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.part.layout import Place

SAME_MM, FEWEST, MOST_LINES = 0.02, 3, 12


@dataclass(frozen=True)
class Circle:
    """Places evenly round a circle: its center, radius, number, and where the first stands, in mm and degrees."""

    center: Place
    radius_mm: float
    count: int
    first_deg: float

    @property
    def chord_mm(self) -> float:
        """What the dividers are set to, to step from one hole to the next, in mm.

        >>> round(Circle((0, 0), 30.0, 6, 0.0).chord_mm, 6), round(Circle((0, 0), 1.0, 5, 0.0).chord_mm, 5)
        (30.0, 1.17557)
        """
        return 2 * self.radius_mm * math.sin(math.pi / self.count)


def circle_of(places: Sequence[Place]) -> Circle | None:
    """The bolt circle places stand on, evenly and three or more; None where they do not.

    >>> circle_of([(40, 25), (25, 40), (10, 25), (25, 10)])
    Circle(center=(25.0, 25.0), radius_mm=15.0, count=4, first_deg=0.0)
    >>> circle_of([(0, 0), (10, 0), (30, 0)]) is None
    True
    """
    count = len(places)
    if count < FEWEST:
        return None
    center = sum(x for x, _ in places) / count, sum(y for _, y in places) / count
    radii = [math.hypot(x - center[0], y - center[1]) for x, y in places]
    radius = sum(radii) / count
    if radius <= SAME_MM or max(abs(r - radius) for r in radii) > SAME_MM:
        return None
    turns = sorted(math.atan2(y - center[1], x - center[0]) for x, y in places)
    gaps = [b - a for a, b in zip(turns, [*turns[1:], turns[0] + 2 * math.pi], strict=True)]
    if max(abs(gap - 2 * math.pi / count) for gap in gaps) * radius > SAME_MM:
        return None
    x, y = places[0]
    return Circle(center, radius, count, math.degrees(math.atan2(y - center[1], x - center[0])) % 360)


def marking_steps(places: Sequence[Place], size_mm: float, unit: str, punch: str | None = None) -> tuple[str, ...]:
    """How to mark the like holes out from the left and lower edge, a sentence a step, in the unit asked for.

    `punch` is the transfer punch that fits the hole of a mating part. Source: common practice.
    """
    if not places:
        return ()

    def say(value: float) -> str:
        return in_unit(value, unit, 2, 3)

    steps = [tr("Two clean square edges; dye the face thin and let it dry.")]
    circle = circle_of(places)
    if circle is not None:
        x, y = circle.center
        steps += [
            tr(
                "Scribe {x} from the left edge and {y} from the lower; prick where they cross, lightly.",
                x=say(x),
                y=say(y),
            ),
            tr(
                "Dividers at {radius_mm}: scribe the circle, Ø{radius_mm_2}.",
                radius_mm=say(circle.radius_mm),
                radius_mm_2=say(2 * circle.radius_mm),
            ),
            tr(
                "First hole at {first_deg:.4g}° from the right, anticlockwise: x {places}, y {places_2}.",
                first_deg=circle.first_deg,
                places=say(places[0][0]),
                places_2=say(places[0][1]),
            ),
            tr(
                "Dividers at {chord_mm}: step round {count} times; the last falls on the first.",
                chord_mm=say(circle.chord_mm),
                count=circle.count,
            ),
        ]
    else:
        for axis, edge in ((0, "left"), (1, "lower")):
            lines = sorted({round(place[axis], 3) for place in places})
            shown = ", ".join(say(line) for line in lines[:MOST_LINES])
            more = tr(" and {count} more", count=len(lines) - MOST_LINES) if len(lines) > MOST_LINES else ""
            steps.append(
                tr(
                    "{edge} edge on the plate: scribe {shown}{more}.",
                    edge=sentence(tr(edge)),
                    shown=shown,
                    more=more,
                )
            )
    steps += [
        tr("Prick each crossing; look at it through a glass, lean the punch to move it."),
        tr(
            "Scribe a witness circle Ø{size_mm} round each, then punch it deep enough to hold the point.",
            size_mm=say(size_mm),
        ),
    ]
    if punch is not None:
        steps.append(
            tr(
                "Or clamp the mating part on it and mark through its holes with a {punch} transfer punch.",
                punch=punch,
            )
        )
    return tuple(steps)
