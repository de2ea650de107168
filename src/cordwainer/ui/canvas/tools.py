"""Tool outlines: the same function draws the glyph in the strip and the silhouette in the section.

All lie tip left with the tip at x = 0 and the axis on y = 0, in millimeters.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QTransform

from cordwainer.ui.kit import theme

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import Operation
    from cordwainer.core.shop.tool import Tool

LEAD_PER_D = 3.3
STEPS_PER_LEAD, STEPS_SMALL = 24, 10
LAND_DEG = 72.0


@dataclass(frozen=True)
class Outline:
    """Body and flutes of a tool in millimeters, tip left at the origin."""

    body: QPainterPath
    flutes: QPainterPath


def polygon(points: list[tuple[float, float]]) -> QPainterPath:
    """A closed path through points."""
    path = QPainterPath(QPointF(*points[0]))
    for x, y in points[1:]:
        path.lineTo(QPointF(x, y))
    path.closeSubpath()
    return path


def mirrored(half: list[tuple[float, float]]) -> QPainterPath:
    """A closed path from its upper half (y as radius), mirrored about the axis."""
    return polygon([(x, -y) for x, y in half] + [(x, y) for x, y in reversed(half)])


def outline(
    tool: Tool | None, kind: str, length: float, *, small: bool = False, size_mm: float | None = None
) -> Outline:
    """The outline of the tool of an operation, as long as asked in millimeters; coarser for a small picture.

    `size_mm` is what a bar is set to.
    """
    return _outline(tool, kind, round(length, 3), STEPS_SMALL if small else STEPS_PER_LEAD, size_mm)


@lru_cache(maxsize=128)
def _outline(tool: Tool | None, kind: str, length: float, steps: int, size_mm: float | None) -> Outline:
    if tool is None:
        return _deburr(length)
    r = tool.diameter_mm / 2
    if tool.kind == "boring_bar":
        return _bar(tool, length, size_mm)
    if kind in SHAPES:
        return SHAPES[kind](tool, length)
    if kind == "center_drill":
        return _center(tool, length)
    if kind == "spot_drill":
        point = tool.point_mm
        body = mirrored([(0, 0), (point, r), (length, r)])
        return Outline(body, _flute(r, point, min(length, 3.2 * tool.diameter_mm + point)))
    if kind == "ream":
        return _reamer(tool, length)
    if kind == "end_mill":
        body = mirrored([(0, r), (length, r)])
        return Outline(body, _flute(r, 0, min(length, 4 * r)))
    if kind == "punch":
        return Outline(mirrored([(0, 0), (0.5 * r, 0.5 * r), (3 * r, r), (length, r)]), QPainterPath())
    point = tool.point_mm
    end = length if tool.flute_length_mm is None else min(length, tool.flute_length_mm)
    body = mirrored([(0, 0), (point, r), (length, r)])
    return Outline(body, _flute(r, point, end, steps))


def _flute(r: float, start: float, end: float, steps_per_lead: int = STEPS_PER_LEAD) -> QPainterPath:
    """Two helical flutes seen from the side: bands between sines, clipped to the body."""
    path = QPainterPath()
    if end <= start:
        return path
    lead = LEAD_PER_D * 2 * r
    width = math.radians(LAND_DEG)
    steps = max(steps_per_lead, round((end - start) / lead * steps_per_lead))
    waves = []
    for i in range(steps + 1):
        x = start * 0.15 + (end - start * 0.15) * i / steps
        turn = 2 * math.pi * x / lead + 0.9
        waves.append((x, math.sin(turn), math.cos(turn), math.sin(turn + width), math.cos(turn + width)))
    for side in (1.0, -1.0):  # the second flute is the first, half a turn on
        run: list[tuple[float, float, float]] = []
        for x, sin0, cos0, sin1, cos1 in [*waves, (0.0, 0.0, -side, 0.0, -side)]:
            front0, front1 = side * cos0 > 0, side * cos1 > 0
            if front0 or front1:
                upper = r * side * sin0 if front0 else math.copysign(r, side * sin0)
                lower = r * side * sin1 if front1 else math.copysign(r, side * sin1)
                run.append((x, upper, lower))
            elif run:
                path.addPath(polygon([(x, u) for x, u, _ in run] + [(x, v) for x, _, v in reversed(run)]))
                run = []
    return path


def _center(tool: Tool, length: float) -> Outline:
    r = tool.diameter_mm / 2
    body_r = (tool.body_diameter_mm or 2.6 * tool.diameter_mm) / 2
    point = r / math.tan(math.radians(59))
    pilot = tool.pilot_length_mm or tool.diameter_mm
    cone_end = pilot + (body_r - r) / math.tan(math.radians(30))
    body = mirrored([(0, 0), (point, r), (pilot, r), (cone_end, body_r), (max(length, cone_end + r), body_r)])
    flutes = polygon(
        [
            (point * 0.4, -0.1 * r),
            (point, -r * 0.75),
            (cone_end, -0.62 * body_r),
            (cone_end + 2.2 * body_r, -0.1 * body_r),
            (cone_end + 2.2 * body_r, 0.12 * body_r),
            (cone_end, 0.05 * body_r),
            (pilot, 0.05 * r),
        ]
    )
    return Outline(body, flutes)


def _reamer(tool: Tool, length: float) -> Outline:
    r = tool.diameter_mm / 2
    lead = min(0.22 * r, tool.point_mm or 0.22 * r)
    fluted = min(length * 0.72, tool.flute_length_mm or length)
    neck, shank = 0.62 * r, 0.8 * r
    half = [(0, r - lead), (lead, r), (fluted, r), (fluted + 0.3 * r, neck)]
    if length > fluted + 2 * r:
        half += [(min(fluted + 2.5 * r, length), neck), (min(fluted + 2.7 * r, length), shank)]
    half.append((length, half[-1][1]))
    flutes = QPainterPath()
    for share in (-0.62, -0.08, 0.46):
        flutes.addRect(QRectF(0.12 * r, share * r, max(fluted - 0.24 * r, 0), 0.17 * r))
    return Outline(mirrored(half), flutes)


def _core(tool: Tool, length: float) -> Outline:
    """Three or four flutes and no point."""
    r = tool.diameter_mm / 2
    body = mirrored([(0, 0.55 * r), (0.05 * r, 0.86 * r), (0.2 * r, r), (length, r)])
    flutes = _flute(r, 0, min(length, tool.flute_length_mm or length))
    flutes.addRect(QRectF(0.3 * r, -0.05 * r, min(length, 6 * r), 0.1 * r))
    return Outline(body, flutes)


def _spade(tool: Tool, length: float) -> Outline:
    """A flat insert wider than its holder, with the screws that hold it."""
    r, point = tool.diameter_mm / 2, tool.point_mm
    insert = point + 0.55 * r
    body = mirrored([(0, 0), (point, r), (insert, r), (insert, 0.82 * r), (length, 0.82 * r)])
    slot = QPainterPath()
    slot.addRect(QRectF(insert, -0.16 * r, max(min(length - insert, 1.1 * r), 0.1), 0.32 * r))
    slot.addEllipse(QPointF(insert + 0.45 * r, -0.5 * r), 0.13 * r, 0.13 * r)
    slot.addEllipse(QPointF(insert + 0.45 * r, 0.5 * r), 0.13 * r, 0.13 * r)
    return Outline(body, slot)


def _bar(tool: Tool, length: float, size_mm: float | None) -> Outline:
    """A bar lying to one side of the hole, its cutter on the wall."""
    b = tool.diameter_mm / 2
    wall = size_mm / 2 if size_mm is not None else (tool.min_bore_mm or 2.5 * b) / 2
    top = -wall + 0.35 * b
    body = polygon(
        [
            (0.1 * b, -wall),
            (0.9 * b, top),
            (length, top),
            (length, top + 2 * b),
            (0.5 * b, top + 2 * b),
            (0, top + b),
        ]
    )
    cutter = polygon([(0.1 * b, -wall), (0.9 * b, top), (0.7 * b, top + 0.9 * b), (0.02 * b, top + 0.7 * b)])
    return Outline(body, cutter)


def _sink(tool: Tool, length: float) -> Outline:
    """A cone with straight flutes on a slimmer shank."""
    r = tool.diameter_mm / 2
    cone = r / math.tan(math.radians((tool.included_angle_deg or 90.0) / 2))
    shank = min((tool.shank_diameter_mm or r) / 2, 0.62 * r)
    half = [(0, 0), (cone, r), (cone + 0.35 * r, r), (cone + 0.6 * r, shank), (max(length, cone + r), shank)]
    flutes = QPainterPath()
    for share in (-0.5, 0.1):
        flutes.addPath(
            polygon(
                [(0.25 * cone, share * 0.25 * r), (cone, share * r), (cone, (share + 0.26) * r), (0.3 * cone, 0)]
            )
        )
    return Outline(mirrored(half), flutes)


def _wide(tool: Tool, length: float) -> Outline:
    """A cutter with a flat face on a slimmer shank, its pilot in front of the face."""
    r = tool.diameter_mm / 2
    pilot = (tool.pilot_diameter_mm or 0.0) / 2
    deep = 1.1 * pilot
    neck = 0.5 * r
    half = [(-deep, pilot), (0.0, pilot)] if pilot else [(0.0, 0.0)]
    half += [(0.0, r), (1.5 * r, r), (1.7 * r, neck), (max(length, 2.2 * r), neck)]
    return Outline(mirrored(half), _flute(r, 0, 1.5 * r))


def _tap(tool: Tool, length: float) -> Outline:
    """Threads with a lead, on a slimmer shank."""
    r, pitch = tool.diameter_mm / 2, max(tool.pitch_mm or tool.diameter_mm / 8, tool.diameter_mm / 12)
    lead, threaded = tool.lead_mm or 4 * pitch, min(4.2 * r, 0.7 * length)
    half, x = [(0.0, 0.72 * r)], 0.0
    while x < threaded:
        crest = min(r, 0.76 * r + 0.24 * r * x / lead) if lead else r
        half += [(x + 0.4 * pitch, crest), (x + pitch, max(crest - 0.55 * pitch, 0.7 * r))]
        x += pitch
    half += [(x, 0.66 * r), (max(length, x + r), 0.66 * r)]
    flutes = QPainterPath()
    flutes.addRect(QRectF(0.1 * r, -0.28 * r, threaded * 1.05, 0.3 * r))
    flutes.addRect(QRectF(0.1 * r, 0.42 * r, threaded * 1.05, 0.22 * r))
    return Outline(mirrored(half), flutes)


SHAPES = {
    "core_drill": _core,
    "spade_drill": _spade,
    "countersink": _sink,
    "counterbore": _wide,
    "spotface": _wide,
    "tap": _tap,
}


def _deburr(length: float) -> Outline:
    r = length * 0.16
    body = mirrored([(0, 0), (r, r), (1.5 * r, r), (1.9 * r, 0.4 * r), (length, 0.4 * r)])
    return Outline(body, QPainterPath())


def paint(painter: QPainter, shape: Outline, at: QPointF, scale: float, body: QColor, flutes: QColor) -> None:
    """Paint an outline with its tip at a point, so many pixels a millimeter."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    transform = QTransform().translate(at.x(), at.y()).scale(scale, scale)
    solid = transform.map(shape.body)
    painter.fillPath(solid, body)
    painter.setClipPath(solid, Qt.ClipOperation.IntersectClip)
    painter.fillPath(transform.map(shape.flutes), flutes)
    painter.restore()
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(theme.INK, 1.4))
    painter.drawPath(solid)
    painter.restore()


def paint_missing(painter: QPainter, shape: Outline, at: QPointF, scale: float, ink: QColor) -> None:
    """Paint where a tool would be: its outline in dashes."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(ink, 1.3)
    pen.setDashPattern([3, 2.5])
    painter.setPen(pen)
    painter.drawPath(QTransform().translate(at.x(), at.y()).scale(scale, scale).map(shape.body))
    painter.restore()


def paint_glyph(painter: QPainter, operation: Operation, box: QRectF, body: QColor, flutes: QColor) -> None:
    """A small picture of an operation's tool, in a box."""
    heights = {"center_drill": 0.8, "spot_drill": 0.9, "drill": 0.9, "ream": 0.95, "end_mill": 0.9, "punch": 0.6}
    if operation.kind == "measure":
        _paint_gauge(painter, box, body)
        return
    if operation.kind == "face":
        painter.fillRect(QRectF(box.left() + 8, box.top(), 6, box.height()), flutes)
        painter.fillRect(QRectF(box.left() + 18, box.center().y() - 4, box.width() * 0.6, 8), body)
        return
    tool = operation.tool
    if tool is None:
        shape = outline(None, "deburr", 40)
        paint(painter, shape, QPointF(box.left(), box.center().y()), box.width() / 40, body, flutes)
        return
    tall = tool.diameter_mm
    if operation.kind == "center_drill":
        tall = tool.body_diameter_mm or tall
    if tool.kind == "boring_bar":
        tall = tool.min_bore_mm or 1.25 * tall
    share = heights.get(operation.kind, 0.8)
    if operation.kind in ("drill", "core_drill"):
        share = 0.42 + 0.5 * min(1.0, tool.diameter_mm / max(_largest(operation), tool.diameter_mm))
    scale = box.height() * share / tall
    shape = outline(tool, operation.kind, box.width() / scale)
    painter.save()
    painter.setClipRect(box.adjusted(-1, -2, 1, 2))
    before = min(shape.body.boundingRect().left(), 0.0) * scale
    paint(painter, shape, QPointF(box.left() - before, box.center().y()), scale, body, flutes)
    painter.restore()


def _largest(operation: Operation) -> float:
    return max(18.0, operation.diameter_mm or 0.0)


def _paint_gauge(painter: QPainter, box: QRectF, color: QColor) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(color, 2))
    y, mid = box.center().y(), box.center().x()
    half = min(30.0, box.width() / 2 - 1)
    for side in (-half, half):
        painter.drawLine(QPointF(mid + side, y - 11), QPointF(mid + side, y + 11))
    painter.drawLine(QPointF(mid - half + 4, y), QPointF(mid + half - 4, y))
    for side in (-1, 1):
        for up in (-5, 5):
            painter.drawLine(QPointF(mid + side * (half - 4), y), QPointF(mid + side * (half - 12), y + up))
    painter.restore()
