"""A hole in section as lines and words on paper, for the shop sheet and as SVG: black on white, metal hatched."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from xml.sax.saxutils import escape, quoteattr

from cordwainer.core.lengths import in_unit
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.names import limits_pair, print_size
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.planning.words.profile import Half, half_profile

Point = tuple[float, float]
FAMILY = "B612, sans-serif"
GRAY, BLACK, WHITE = 0.86, 0.0, 1.0


@dataclass(frozen=True)
class Shape:
    """Something drawn: a closed or open run of points, or words at one. Points in mm from the upper left corner.

    `fill` and `ink` are grays from 0 (black) to 1, None for none; `anchor` is where words stand on their point.
    """

    points: tuple[Point, ...]
    words: str = ""
    size_mm: float = 3.2
    bold: bool = False
    anchor: str = "start"
    closed: bool = False
    fill: float | None = None
    ink: float | None = BLACK
    wide_mm: float = 0.25
    dash_mm: tuple[float, ...] = ()
    round_mm: float = 0.0


def section(hole: Hole, route: Route | None, unit: str, wide_mm: float, high_mm: float) -> tuple[Shape, ...]:
    """The hole lying down, entry at the right, in a box of that size: metal, what each step leaves, its sizes."""
    operations = route.operations if route is not None else ()
    halves = [half_profile(o) for o in operations]
    tips = [max((z for z, _ in half), default=0.0) for half in halves]
    deepest = max([hole.depth_mm, *tips])
    behind = hole.part_thickness_mm if not hole.through and hole.part_thickness_mm is not None else None
    thick = hole.depth_mm if hole.through else (behind or 1.25 * deepest)
    widest = max([hole.nominal_mm, *(2 * r for half in halves for _, r in half)])
    right, top = wide_mm - 26.0, 13.0
    scale = min((right - 16.0) / max(deepest, thick), (high_mm - top - 16.0) / (1.9 * widest))
    axis = top + (high_mm - top - 8.0) / 2
    face = min(right, (wide_mm + thick * scale) / 2)
    block = min(1.9 * widest * scale, high_mm - top - 12.0) / 2
    left = face - thick * scale
    shapes = [_box(left, axis - block, face, axis + block, fill=GRAY, ink=None)]
    shapes += _hatch(left, axis - block, face, axis + block)
    cut = [_run(half, face, axis, scale, left) for half in halves if half]
    if hole.existing_mm is not None:
        r = hole.existing_mm / 2
        cut.insert(0, _run([(0, r), (hole.depth_mm, r), (hole.depth_mm, 0)], face, axis, scale, left))
    shapes += [Shape(points, closed=True, fill=WHITE, ink=None) for points in cut]
    for place, points in enumerate(cut):
        last = place == len(cut) - 1
        shapes.append(
            Shape(points, closed=True, wide_mm=0.5 if last else 0.22, dash_mm=() if last else (1.2, 0.8))
        )
    shapes.append(Shape(((face, axis - block), (face, axis + block)), wide_mm=0.5))
    if hole.through or behind is not None:
        shapes.append(Shape(((left, axis - block), (left, axis + block)), wide_mm=0.5))
    for y in (axis - block, axis + block):
        shapes.append(Shape(((left, y), (face, y)), wide_mm=0.3))
    shapes.append(Shape(((left - 8, axis), (face + 1.6, axis)), wide_mm=0.18, dash_mm=(5, 1, 1, 1)))
    shapes += _numbers(halves, face, axis, scale, axis - block)
    shapes += _sizes(hole, unit, face, axis, scale, axis + block)
    return tuple(shapes)


def _run(half: Half, face: float, axis: float, scale: float, left: float) -> tuple[Point, ...]:
    """A mirrored profile on paper; past the far face of the metal nothing is drawn."""
    upper = [(max(face - z * scale, left), axis - r * scale) for z, r in half]
    lower = [(x, 2 * axis - y) for x, y in reversed(upper)]
    return (*upper, *lower)


def _box(x0: float, y0: float, x1: float, y1: float, *, fill: float | None, ink: float | None) -> Shape:
    return Shape(((x0, y0), (x1, y0), (x1, y1), (x0, y1)), closed=True, fill=fill, ink=ink)


def _hatch(x0: float, y0: float, x1: float, y1: float, pitch: float = 2.6) -> list[Shape]:
    """Lines at 45° clipped to a box."""
    found = []
    at = x0 - (y1 - y0)
    while at < x1:
        a, b = (at, y1), (at + (y1 - y0), y0)
        if a[0] < x0:
            a = (x0, y1 - (x0 - at))
        if b[0] > x1:
            b = (x1, y0 + (b[0] - x1))
        if a[0] < b[0]:
            found.append(Shape((a, b), ink=0.62, wide_mm=0.12))
        at += pitch
    return found


def _numbers(halves: Sequence[Half], face: float, axis: float, scale: float, edge: float) -> list[Shape]:
    """The number of each step over its outline, parted along the block's edge."""
    found, x = [], face - 3.0
    for number, half in enumerate(halves, 1):
        if not half:
            continue
        deep, r = half[1] if len(half) > 2 else half[0]
        spot = (face - 0.8 * deep * scale, axis - r * scale)
        at = (min(x, spot[0] + 12.0), edge - 5.0)
        x = at[0] - 7.0
        found.append(Shape((spot, (at[0], at[1] + 2.4)), wide_mm=0.15))
        found.append(Shape((at,), fill=WHITE, round_mm=2.4, wide_mm=0.25))
        found.append(Shape(((at[0], at[1] + 1.1),), str(number), 3.1, True, "middle"))
    return found


def _sizes(hole: Hole, unit: str, face: float, axis: float, scale: float, edge: float) -> list[Shape]:
    """Size at the entry, depth or thickness under the block."""
    r = hole.nominal_mm / 2 * scale
    upper, lower = limits_pair(hole, unit)
    size = print_size(hole, unit)
    at = face + 2.5
    found = [Shape(((at, axis - 2.2),), size, 4.4, True)]
    if upper or lower:
        found += [Shape(((at, axis + 2.2),), upper, 2.8), Shape(((at, axis + 5.6),), lower, 2.8)]
    for y in (axis - r, axis + r):
        found.append(Shape(((face, y), (face + 2, y)), wide_mm=0.18))
    deep = face - hole.depth_mm * scale
    y = edge + 5.0
    found += [Shape(((x, edge + 0.8), (x, y + 1.2)), wide_mm=0.15) for x in (deep, face)]
    found.append(Shape(((deep, y), (face, y)), wide_mm=0.18))
    for x, way in ((deep, 1), (face, -1)):
        found.append(Shape(((x, y), (x + way * 2, y - 0.6), (x + way * 2, y + 0.6)), closed=True, fill=BLACK))
    word = "through" if hole.through else "deep"
    text = f"{in_unit(hole.depth_mm, unit, 2, 3)} {word}"
    found.append(Shape((((deep + face) / 2, y + 4.2),), text, 3.2, False, "middle"))
    return found


def to_svg(shapes: Sequence[Shape], wide_mm: float, high_mm: float, title: str) -> str:
    """The drawing as an SVG file, a millimeter a unit."""
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide_mm:g}mm" height="{high_mm:g}mm" '
        f'viewBox="0 0 {wide_mm:g} {high_mm:g}" font-family="{FAMILY}">',
        f"<title>{escape(title)}</title>",
    ]
    lines += [_svg(shape) for shape in shapes]
    return "\n".join([*lines, "</svg>", ""])


def _svg(shape: Shape) -> str:
    fill = "none" if shape.fill is None else _gray(shape.fill)
    if shape.words:
        x, y = shape.points[0]
        weight = ' font-weight="bold"' if shape.bold else ""
        return (
            f'<text x="{x:.3f}" y="{y:.3f}" font-size="{shape.size_mm:g}" text-anchor={quoteattr(shape.anchor)}'
            f"{weight}>{escape(shape.words)}</text>"
        )
    stroke = "" if shape.ink is None else f' stroke="{_gray(shape.ink)}" stroke-width="{shape.wide_mm:g}"'
    if shape.dash_mm:
        stroke += f' stroke-dasharray="{" ".join(f"{d:g}" for d in shape.dash_mm)}"'
    if shape.round_mm:
        x, y = shape.points[0]
        return f'<circle cx="{x:.3f}" cy="{y:.3f}" r="{shape.round_mm:g}" fill="{fill}"{stroke}/>'
    way = " ".join(f"{x:.3f},{y:.3f}" for x, y in shape.points)
    return f'<{"polygon" if shape.closed else "polyline"} points="{way}" fill="{fill}"{stroke}/>'


def _gray(value: float) -> str:
    level = round(255 * value)
    return f"#{level:02x}{level:02x}{level:02x}"
