"""Edges of the part in the drawing: how the entry and the far side look, and the teeth of a thread."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath

from cordwainer.core.cutting.profile import counterbore_depth
from cordwainer.core.part.hole import Hole

LEAST_TOOTH_PX = 4.0
SHOWN_SLOPE = 8.0


def entry_edge(hole: Hole, width: float, axis: float, face: float, scale: float) -> QPainterPath:
    """The entry face from left to right, as the part has it before the hole."""
    path = QPainterPath(QPointF(0, face))
    if hole.entry == "pip":
        for dx, dy in ((-9, 0), (-6, -16), (6, -16), (9, 0)):
            path.lineTo(QPointF(axis + dx, face + dy))
    elif hole.entry in ("sawn", "cast"):
        step = 11 if hole.entry == "sawn" else 17
        for index in range(1, int(width / step) + 1):
            high = (3 if index % 2 else -3) if hole.entry == "sawn" else ((index * 29) % 11 - 5)
            path.lineTo(QPointF(index * step, face + high))
    elif hole.entry == "sloped":
        rise = math.tan(math.radians(min(hole.slope_deg or SHOWN_SLOPE, 30)))
        lift = min(rise * axis, face + 20)
        path = QPainterPath(QPointF(0, face - lift + 10))
        path.lineTo(QPointF(width, face + (width - axis) * lift / max(axis, 1) + 10))
        return path
    elif hole.entry == "curved":
        radius = max((hole.curve_radius_mm or 4 * hole.nominal_mm) * scale, 40.0)
        path = QPainterPath()
        for index in range(61):
            x = width * index / 60
            inside = max(radius**2 - (x - axis) ** 2, 0.0)
            y = min(face + radius - math.sqrt(inside), face + 120)
            if index:
                path.lineTo(QPointF(x, y))
            else:
                path.moveTo(QPointF(x, y))
        return path
    path.lineTo(QPointF(width, face))
    return path


def far_edge(hole: Hole, width: float, axis: float, bottom: float) -> QPainterPath:
    """The far side from left to right."""
    if hole.exit != "sloped":
        path = QPainterPath(QPointF(0, bottom))
        path.lineTo(QPointF(width, bottom))
        return path
    path = QPainterPath(QPointF(0, bottom - 26 * axis / width))
    path.lineTo(QPointF(width, bottom + 26 * (width - axis) / width))
    return path


def thread_path(hole: Hole, scale: float, axis: float, face: float) -> QPainterPath:
    """The thread in section: teeth to the major diameter, or its outline where they would be too fine to see."""
    thread = hole.feature.thread
    path = QPainterPath()
    if thread is None:
        return path
    top = face + counterbore_depth(hole) * scale
    deep = hole.feature.thread_depth.mm if hole.feature.thread_depth is not None else hole.depth_mm
    end = face + deep * scale
    inner, outer = hole.nominal_mm / 2 * scale, float(thread.major_mm) / 2 * scale
    pitch = float(thread.pitch_mm) * scale
    while pitch < LEAST_TOOTH_PX:
        pitch *= 2
    right: list[QPointF] = [QPointF(axis + inner, top)]
    y = top
    while y + pitch <= end + 0.5:
        right += [QPointF(axis + outer, y + pitch * 0.5), QPointF(axis + inner, y + pitch)]
        y += pitch
    points = right + [QPointF(2 * axis - p.x(), p.y()) for p in reversed(right)]
    path.moveTo(points[0])
    for point in points[1:]:
        path.lineTo(point)
    path.closeSubpath()
    return path
