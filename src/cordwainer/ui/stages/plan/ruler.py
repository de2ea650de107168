"""The machine's depth scale under the section: touch and stop flags, pecks, ticks in its own unit."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.machine import SCALE_WORDS
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import corners
from cordwainer.ui.kit.layout import CENTER, RIGHT

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import DepthReading

RULER = 58


def paint_ruler(painter: QPainter, readings: DepthReading, size: QSize, scale: float, face: float) -> None:
    """The scale along the bottom of a view of that size; `face` is the x of the entry face."""
    y = float(size.height() - RULER)
    painter.fillRect(QRectF(0, y, size.width(), RULER), theme.PLATE)
    unit_mm = INCH_MM if readings.unit == "in" else 1.0

    strokes = readings.strokes
    first_mm = strokes[-1].from_tip_mm if strokes else readings.start_tip_mm

    def x_of(reading: float) -> float:
        return face - ((reading - readings.start) * unit_mm + first_mm) * scale

    fine, coarse = (0.1, 0.5) if readings.unit == "in" else (1.0, 10.0)
    if scale * unit_mm * fine < 5:
        fine *= 5
    if scale * unit_mm * coarse < 60:
        coarse *= 2
    painter.setFont(theme.font(13))
    first = round((readings.start - 60 / unit_mm) / fine)
    index = first
    while True:
        value = index * fine
        x = x_of(value)
        index += 1
        if x > size.width():
            continue
        if x < 0 or index - first > 4000:
            break
        if value < -1e-9:
            continue
        major = abs(value / coarse - round(value / coarse)) < 1e-6
        painter.setPen(QPen(theme.INK, 1))
        painter.drawLine(QPointF(x, y), QPointF(x, y + (14 if major else 7)))
        near = min(abs(x - x_of(readings.start)), abs(x - x_of(readings.stop)))
        if major and near > 40:
            text = localized(f"{value:.1f}") if readings.unit == "in" else f"{value:.0f}"
            painter.drawText(QRectF(x - 30, y + 16, 60, 16), CENTER, text)
    painter.setPen(QPen(theme.INK, 1.4))
    painter.drawLine(QPointF(0, y), QPointF(size.width(), y))
    for peck in readings.peck_readings[:-1] if not strokes else ():
        x = x_of(peck)
        painter.setBrush(theme.SCRIBE)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(corners([QPointF(x - 5, y - 9), QPointF(x + 5, y - 9), QPointF(x, y - 1)]))
    decimals = 3 if readings.unit == "in" else 2
    flags = [(readings.start, "touch"), (readings.stop, "stop")]
    boxes: list[QRectF] = []
    for value, _word in flags:
        x = x_of(value)
        pen = QPen(theme.BRASSDYE if x < face else theme.BRASSINK, 1.4)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(x, y - 26), QPointF(x, y + 22))
        text = localized(f"{value:.{decimals}f}")
        painter.setFont(theme.font(18, True))
        wide = painter.fontMetrics().horizontalAdvance(text) + 18
        left = min(max(x - wide / 2, 6), size.width() - wide - 6)
        box = QRectF(left, y + 24, wide, 28)
        if boxes and box.intersects(boxes[0]):
            box.moveRight(boxes[0].left() - 6)
        boxes.append(box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.BRASS)
        painter.drawPolygon(corners([QPointF(x - 6, y + 25), QPointF(x + 6, y + 25), QPointF(x, y + 14)]))
        painter.drawRect(box)
        painter.setPen(theme.INK)
        painter.drawText(box, CENTER, text)
    painter.setFont(theme.font(13))
    painter.setPen(theme.INK2)
    words = f"{SCALE_WORDS.get(readings.scale, readings.scale)}, {readings.unit}"
    words += tr(", stroke {count}", count=len(strokes)) if strokes else ""
    area = QRectF(size.width() - 168, y + 20, 152, 20)
    painter.drawText(area, RIGHT, words)
