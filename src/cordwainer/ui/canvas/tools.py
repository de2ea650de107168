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

from cordwainer.ui import theme

if TYPE_CHECKING:
    from cordwainer.core.planning.operation import Operation
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


def outline(tool: Tool | None, kind: str, length: float, *, small: bool = False) -> Outline:
    """The outline of the tool of an operation, as long as asked in millimeters; coarser for a small picture."""
    return _outline(tool, kind, round(length, 3), STEPS_SMALL if small else STEPS_PER_LEAD)


@lru_cache(maxsize=128)
def _outline(tool: Tool | None, kind: str, length: float, steps: int) -> Outline:
    if tool is None:
        return _deburr(length)
    r = tool.diameter_mm / 2
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
    share = heights.get(operation.kind, 0.8)
    if operation.kind == "drill":
        share = 0.42 + 0.5 * min(1.0, tool.diameter_mm / max(_largest(operation), tool.diameter_mm))
    scale = box.height() * share / tall
    shape = outline(tool, operation.kind, box.width() / scale)
    painter.save()
    painter.setClipRect(box.adjusted(-1, -2, 1, 2))
    paint(painter, shape, QPointF(box.left(), box.center().y()), scale, body, flutes)
    painter.restore()


def _largest(operation: Operation) -> float:
    return max(18.0, operation.diameter_mm or 0.0)


def _paint_gauge(painter: QPainter, box: QRectF, color: QColor) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(color, 2))
    y, mid = box.center().y(), box.center().x()
    painter.drawLine(QPointF(mid - 30, y - 11), QPointF(mid - 30, y + 11))
    painter.drawLine(QPointF(mid + 30, y - 11), QPointF(mid + 30, y + 11))
    painter.drawLine(QPointF(mid - 26, y), QPointF(mid + 26, y))
    for side in (-1, 1):
        painter.drawLine(QPointF(mid + side * 26, y), QPointF(mid + side * 18, y - 5))
        painter.drawLine(QPointF(mid + side * 26, y), QPointF(mid + side * 18, y + 5))
    painter.restore()
