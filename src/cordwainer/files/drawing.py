"""Holes from a drawing file (DXF): its circles by layer and diameter, with where they stand.

Circles are taken from the model space and from blocks put into it, full arcs and closed two-arc polylines among
them. What cannot be a hole is counted and said.
"""

from __future__ import annotations

import logging
import math
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np

from cordwainer.core.errors import CordwainerError, InputError, StoppedError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, Length, from_mm, parse
from cordwainer.files.hole_csv import free_id
from cordwainer.files.shown import shown
from cordwainer.files.writing import why_unread

UNITS = {1: "in", 4: "mm", 5: "cm", 6: "m", 2: "ft", 8: "µin", 9: "mil", 13: "µm"}
IN_MM = {
    "in": Fraction(254, 10),
    "mm": Fraction(1),
    "cm": Fraction(10),
    "m": Fraction(1000),
    "ft": Fraction(3048, 10),
    "mil": Fraction(254, 10_000),
    "µin": Fraction(254, 10_000_000),
    "µm": Fraction(1, 1000),
}
MOST_BYTES, MOST_CIRCLES, MOST_NESTED, MOST_PARTS = 50_000_000, 20_000, 12, 200_000
FAR = 1e9
SAME, GAP_DEG, ROUND, SPLINE_SAG = 1e-6, 1e-3, 2e-3, 1e-3
PLACES, FEWEST, MOST_KNOTS = 5, 8, 200
LARGEST_MM, SMALLEST_MM = 500.0, 0.05


@dataclass(frozen=True)
class DrawnCircle:
    """One circle of a drawing, in the drawing's own units."""

    layer: str
    diameter: float
    x: float
    y: float


@dataclass(frozen=True)
class Drawing:
    """A drawing read: its unit, None where it does not say, its circles, and what was passed over by kind."""

    unit: str | None
    circles: tuple[DrawnCircle, ...]
    passed: dict[str, int]

    @property
    def groups(self) -> dict[tuple[str, float], list[DrawnCircle]]:
        """Circles by layer and diameter, in the order they were met."""
        found: dict[tuple[str, float], list[DrawnCircle]] = {}
        for circle in self.circles:
            found.setdefault((circle.layer, round(circle.diameter, 6)), []).append(circle)
        return found


def read(path: Path, told: Callable[[int, int], bool] = lambda done, of: False) -> Drawing:
    """A drawing file. Raises `InputError` for what is no DXF, too large, or damaged past mending.

    `told(done, of)` hears how many of its parts are looked at, and says whether to stop: `StoppedError` then.
    """
    return read_opened(path, opened(path), told)


def read_opened(path: Path, document: Any, told: Callable[[int, int], bool] = lambda done, of: False) -> Drawing:
    """What an opened drawing holds. Raises `InputError` and `StoppedError` as `read` does."""
    try:
        return _drawing(path, document, told)
    except CordwainerError:
        raise
    except Exception as bad:
        raise InputError(
            "", tr("{path} is damaged: its parts do not fit ({name})", path=path.name, name=type(bad).__name__)
        ) from None


def opened(path: Path) -> Any:
    """A DXF file as the library has it, mended where it is damaged. Raises `InputError`."""
    try:
        size = path.stat().st_size
    except OSError as bad:
        raise InputError(
            "", tr("{path} could not be read: {why_unread}", path=path.name, why_unread=why_unread(bad))
        ) from None
    if size > MOST_BYTES:
        raise InputError(
            "",
            tr(
                "{path} has {size:.0f} MB; drawings to {most_bytes:.0f} MB are read",
                path=path.name,
                size=size / 1000000.0,
                most_bytes=MOST_BYTES / 1000000.0,
            ),
        )
    from ezdxf import recover
    from ezdxf.filemanagement import readfile
    from ezdxf.lldxf.const import DXFStructureError

    logging.getLogger("ezdxf").setLevel(logging.CRITICAL)  # what it mends in a file is nothing to a machinist
    try:
        try:
            document = readfile(str(path))
        except DXFStructureError:
            document, _ = recover.readfile(str(path))
    except Exception as bad:
        # The library's own errors are many and nameless for damaged files; none of them may cross this edge.
        raise InputError(
            "", tr("{path} is no DXF drawing that can be read ({name})", path=path.name, name=type(bad).__name__)
        ) from None
    return document


def _drawing(path: Path, document: Any, told: Callable[[int, int], bool]) -> Drawing:
    """What a document of the library holds. Raises `InputError`, `StoppedError`, and what the library raises."""
    circles: list[DrawnCircle] = []
    passed: Counter[str] = Counter()
    seen: set[tuple[str, float, float, float]] = set()
    arcs = RoundArcs()
    of = laid_out(document)
    if of > MOST_PARTS:
        raise InputError(
            "",
            tr(
                "{path} holds {of:,} parts once its blocks are laid out; to {most_parts:,} are "
                "read. Save the part alone as a drawing",
                path=path.name,
                of=of,
                most_parts=MOST_PARTS,
            ),
        )

    def looked_at() -> Iterator[DrawnCircle]:
        yield from _circles(document.modelspace(), arcs, passed, lambda done: told(done, of))
        yield from arcs.closed(passed)

    for found in looked_at():
        key = (found.layer, round(found.diameter, 5), round(found.x, 5), round(found.y, 5))
        if key in seen:
            passed["circle drawn twice"] += 1
            continue
        seen.add(key)
        circles.append(found)
        if len(circles) > MOST_CIRCLES:
            raise InputError(
                "",
                tr(
                    "{path} holds more than {most_circles} circles; split the drawing",
                    path=path.name,
                    most_circles=MOST_CIRCLES,
                ),
            )
    try:
        code = int(document.header.get("$INSUNITS", 0))
    except (TypeError, ValueError):
        code = 0
    return Drawing(UNITS.get(code), tuple(circles), dict(passed))


def laid_out(document: Any) -> int:
    """How many parts there are once every block is laid out as often as it is put in; blocks are counted once."""
    known: dict[str, int] = {}

    def parts(space: Any, depth: int) -> int:
        total = 0
        for entity in space:
            total += 1
            if entity.dxftype() == "INSERT" and depth < MOST_NESTED:
                times = max(1, int(entity.mcount))
                total += times * (1 + of_block(_block_of(entity), depth + 1))
        return total

    def of_block(name: str, depth: int) -> int:
        if name not in known:
            known[name] = 0  # a block that holds itself
            block = document.blocks.get(name)
            known[name] = parts(block, depth) if block is not None else 0
        return known[name]

    return parts(document.modelspace(), 0)


def _block_of(insert: Any) -> str:
    return str(insert.dxf.get("name", "")).lower()


def _circles(
    space: Any, arcs: RoundArcs, passed: Counter[str], stop: Callable[[int], bool]
) -> Iterator[DrawnCircle]:
    """Circles of a space; arcs are put aside until all that may close them are met, the rest is counted."""
    for done, entity in enumerate(entities(space)):
        if done % 256 == 0 and stop(done):
            raise StoppedError("stopped")
        try:
            found = _circle(entity)
            kept = found is not None or arcs.takes(entity)
        except Exception:  # a part the library cannot make sense of is counted like any other that is no hole
            passed["damaged"] += 1
            continue
        if found is not None:
            yield found
        elif not kept:
            passed[entity.dxftype().lower()] += 1


class RoundArcs:
    """Arcs by layer, center and radius: those that go all the way round together are a circle."""

    def __init__(self) -> None:
        self.spans: dict[tuple[str, float, float, float], list[tuple[float, float]]] = {}

    def takes(self, entity: Any) -> bool:
        """Whether an entity is an arc with a center of its own, and so kept."""
        if entity.dxftype() != "ARC":
            return False
        center = entity.ocs().to_wcs(entity.dxf.center)
        found = _made(entity, 2 * abs(entity.dxf.radius), center.x, center.y)
        if found is None:
            return False
        key = found.layer, round(found.diameter, PLACES), round(found.x, PLACES), round(found.y, PLACES)
        span = (entity.dxf.end_angle - entity.dxf.start_angle) % 360
        self.spans.setdefault(key, []).append((entity.dxf.start_angle % 360, span))
        return True

    def closed(self, passed: Counter[str]) -> Iterator[DrawnCircle]:
        """The circles they make; arcs that stay open are counted."""
        for key, spans in self.spans.items():
            if _all_round(spans):
                yield DrawnCircle(*key)
            else:
                passed["arc"] += len(spans)


def _all_round(spans: list[tuple[float, float]]) -> bool:
    """Whether arcs, as start and span in degrees, leave no gap."""
    reach = first = min(start for start, _ in spans)
    for start, span in sorted(spans):
        if start > reach + GAP_DEG:
            return False
        reach = max(reach, start + span)
    return reach >= first + 360 - GAP_DEG


def _round_line(entity: Any) -> DrawnCircle | None:
    """A closed polyline or spline whose every point is as far from one center, and has no corner; or None."""
    if entity.dxftype() == "SPLINE":
        if entity.dxf.n_knots > MOST_KNOTS or not _near(entity.control_points) or not _near(entity.fit_points):
            return None
        drawn = entity.flattening(SPLINE_SAG, 4) if len(entity.control_points) else entity.fit_points
        points = [(p[0], p[1]) for p in drawn]
        if len(points) < FEWEST or math.dist(points[0], points[-1]) > SAME * max(1.0, abs(points[0][0])):
            return None
        points = points[:-1]
    else:
        parts = list(entity.virtual_entities())
        if not parts or any(part.dxftype() != "ARC" for part in parts):
            return None
        points = [(p.x, p.y) for part in parts for p in part.vertices(_angles(part))]
    x, y = _center(points)
    radii = [math.hypot(px - x, py - y) for px, py in points]
    radius = sum(radii) / len(radii)
    if radius <= 0 or max(abs(r - radius) for r in radii) > ROUND * radius:
        return None
    return _made(entity, 2 * radius, x, y)


def _center(points: list[tuple[float, float]]) -> tuple[float, float]:
    """Center of the circle nearest to points by linear least squares. Source: textbook form."""
    xy = np.array(points)
    if not len(xy) or not np.abs(xy).max() < FAR:
        raise ValueError("no points, or out of this world")
    middle = xy.mean(axis=0)
    own = xy - middle
    system = np.column_stack([2 * own, np.ones(len(own))])
    found = np.linalg.lstsq(system, (own**2).sum(axis=1), rcond=None)[0]
    return float(middle[0] + found[0]), float(middle[1] + found[1])


def _near(points: Any) -> bool:
    return all(abs(value) < FAR for point in points for value in point)


def _angles(arc: Any) -> list[float]:
    start, span = arc.dxf.start_angle, (arc.dxf.end_angle - arc.dxf.start_angle) % 360
    return [start + span * k / 8 for k in range(8)]


def entities(space: Any, within: tuple[str, ...] = ()) -> Iterator[Any]:
    """Entities of a space, those of blocks put into it as they come to lie there; `within` are the blocks around.

    A block that holds itself is not laid out again.
    """
    for entity in space:
        if entity.dxftype() != "INSERT":
            yield entity
            continue
        name = _block_of(entity)
        if len(within) >= MOST_NESTED or name in within:
            continue
        try:
            parts = [*entity.multi_insert()] if entity.mcount > 1 else [entity]
            for part in parts:
                yield from entities(list(part.virtual_entities()), (*within, name))
        except Exception:  # a block the library cannot lay out is counted like any other thing that is no hole
            yield entity


def _circle(entity: Any) -> DrawnCircle | None:
    """The circle an entity is, or None."""
    kind = entity.dxftype()
    if kind == "CIRCLE":
        center = entity.ocs().to_wcs(entity.dxf.center)
        return _made(entity, 2 * abs(entity.dxf.radius), center.x, center.y)
    if kind == "ARC":
        span = (entity.dxf.end_angle - entity.dxf.start_angle) % 360
        if min(span, 360 - span) < 1e-6:
            center = entity.ocs().to_wcs(entity.dxf.center)
            return _made(entity, 2 * abs(entity.dxf.radius), center.x, center.y)
    if (kind == "LWPOLYLINE" and entity.closed) or (kind == "POLYLINE" and entity.is_closed):
        return _round_line(entity)
    if kind == "SPLINE":
        return _round_line(entity)
    if kind == "ELLIPSE" and abs(entity.dxf.ratio - 1) < SAME:
        span = (entity.dxf.end_param - entity.dxf.start_param) % (2 * 3.141592653589793)
        if min(span, 2 * 3.141592653589793 - span) < 1e-6:
            return _made(entity, 2 * entity.dxf.major_axis.magnitude, entity.dxf.center.x, entity.dxf.center.y)
    return None


def _made(entity: Any, diameter: float, x: float, y: float) -> DrawnCircle | None:
    finite = all(abs(value) < FAR for value in (diameter, x, y))
    return DrawnCircle(shown(entity.dxf.layer, 60), diameter, x, y) if finite and diameter > 0 else None


@dataclass(frozen=True)
class Sized:
    """One kind of hole a drawing asks for: the entry a job holds, its layer, its size in words."""

    entry: dict[str, Any]
    layer: str
    words: str


def holes_of(
    drawing: Drawing, unit: str, thickness: Length, present: set[str], zero: tuple[float, float] = (0.0, 0.0)
) -> tuple[list[Sized], list[str]]:
    """Holes for a job, one for each layer and diameter with the places of all its circles; and what is left out.

    `unit` is the drawing's where it does not say; all holes go through the `thickness`, and can be changed then.
    `zero` is the drawing's point the part's edges start from. Raises `InputError` for an unknown unit.
    """
    scale = IN_MM.get(unit)
    if scale is None:
        raise InputError(
            "unit",
            tr("'{unit}' is not a unit of drawings; write one of {in_mm}", unit=unit, in_mm=", ".join(IN_MM)),
        )
    own = "in" if unit in ("in", "ft", "mil", "µin") else "mm"
    taken, found, left = set(present), list[Sized](), list[str]()
    for (layer, diameter), circles in sorted(drawing.groups.items(), key=lambda item: item[0][1]):
        mm = float(scale) * diameter
        if not SMALLEST_MM <= mm <= LARGEST_MM:
            left.append(
                tr(
                    "{count} of {mm:g} mm on layer {layer}: no drill is that size; is the unit right?",
                    count=len(circles),
                    mm=mm,
                    layer=layer,
                )
            )
            continue
        size = nice(mm, own)
        name = free_id(taken)
        taken.add(name)
        places = [
            (nice(float(scale) * (c.x - zero[0]), own), nice(float(scale) * (c.y - zero[1]), own)) for c in circles
        ]
        entry: dict[str, Any] = {
            "id": name,
            "name": "" if layer == "0" else layer,
            "count": len(circles),
            "kind": "plain",
            "diameter": size,
            "depth": str(thickness),
            "through": True,
            "places": [list(place) for place in places],
        }
        found.append(
            Sized(
                entry, layer, tr("{count} × Ø{size} on layer {layer}", count=len(circles), size=size, layer=layer)
            )
        )
    return found, left


def nice(mm: float, unit: str) -> str:
    """A length of a drawing as it would be written: to a micrometer, or a tenth of a thousandth of an inch."""
    if unit == "in":
        text = f"{mm / INCH_MM:.5f}".rstrip("0")
        return f"{text + '0' if text.endswith('.') else text} in"
    return str(from_mm(round(mm, 4), 4))


def thickness_of(text: str, unit: str) -> Length:
    """The thickness of the part as typed. Raises `InputError`."""
    found = parse(text, unit)
    if found.mm <= 0:
        raise InputError("thickness", tr("'{words}' is not more than zero; write one such as '12 mm'", words=text))
    return found
