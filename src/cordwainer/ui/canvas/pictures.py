"""Small pictures of entries and kinds of hole."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from cordwainer.ui import theme
from cordwainer.ui.canvas import dye


def paint_entry(kind: str) -> object:
    """A painter of one entry face."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        painter.fillRect(box, theme.HI)
        y = box.center().y()
        edge = QPainterPath(QPointF(box.left(), y))
        if kind == "pip":
            for x, dy in ((-5, 0), (-5, -12), (5, -12), (5, 0)):
                edge.lineTo(QPointF(box.center().x() + x, y + dy))
        elif kind in ("sawn", "cast"):
            steps = 9 if kind == "sawn" else 14
            for i in range(1, steps):
                high = (4 if i % 2 else -4) if kind == "sawn" else ((i * 29) % 11 - 5)
                edge.lineTo(QPointF(box.left() + i * box.width() / steps, y + high))
        elif kind == "sloped":
            edge = QPainterPath(QPointF(box.left(), y - 10))
            edge.lineTo(QPointF(box.right(), y + 12))
        elif kind == "curved":
            edge = QPainterPath(QPointF(box.left(), y + 12))
            edge.quadTo(QPointF(box.center().x(), y - 22), QPointF(box.right(), y + 12))
        if kind not in ("sloped", "curved"):
            edge.lineTo(QPointF(box.right(), y))
        body = QPainterPath(edge)
        body.lineTo(box.bottomRight())
        body.lineTo(box.bottomLeft())
        body.closeSubpath()
        if chosen:
            dye.fill_dye(painter, body, box)
        else:
            painter.fillPath(body, theme.BARE2)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawPath(edge)

    return paint


def paint_kind(through: bool, sized: bool) -> object:
    """A painter of one kind of hole."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        dye.lines(painter, box, 7, theme.RULE if not chosen else theme.DYEHI, 0.8)
        r, top = 14.0, box.top()
        center = box.center().x()
        path = QPainterPath(QPointF(center - r, top))
        if through:
            path.lineTo(QPointF(center - r, box.bottom()))
            path.lineTo(QPointF(center + r, box.bottom()))
        else:
            deep = box.bottom() - 20
            path.lineTo(QPointF(center - r, deep))
            path.lineTo(QPointF(center, deep + 9))
            path.lineTo(QPointF(center + r, deep))
        path.lineTo(QPointF(center + r, top))
        painter.fillPath(path, theme.HI)
        painter.setPen(QPen(theme.SCRIBE if chosen else theme.INK, 3 if sized else 1.4))
        painter.drawPath(path)

    return paint
