"""Small pictures of entries and kinds of hole."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme

Paint = Callable[[QPainter, QRectF, bool], None]


def paint_entry(kind: str) -> Paint:
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


KINDS: dict[str, tuple[tuple[float, float], ...]] = {
    "plain": ((0, 12), (46, 12), (53, 0)),
    "sized": ((0, 12), (60, 12)),
    "tapped": ((0, 11), (40, 11), (46, 0)),
    "flat_bottom": ((0, 13), (36, 13), (36, 0)),
    "taper_pin": ((0, 14), (60, 8)),
    "center_hole": ((0, 22), (24, 6), (36, 6), (40, 0)),
    "chamfer": ((0, 18), (6, 11), (60, 11)),
    "register": ((0, 20), (18, 20), (18, 11), (60, 11)),
    "countersink": ((0, 24), (14, 10), (60, 10)),
    "spotface": ((0, 22), (4, 22), (4, 10), (60, 10)),
}


def paint_kind(kind: str) -> Paint:
    """A painter of one kind of hole, or of what may be at its mouth."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        if chosen:
            body = QPainterPath()
            body.addRect(box)
            dye.fill_dye(painter, body, box)
        dye.lines(painter, box, 7, theme.RULE if not chosen else theme.DYEHI, 0.8)
        center, top = box.center().x(), box.top() + 6
        painter.fillRect(QRectF(box.left(), box.top(), box.width(), 6), theme.HI)
        shape = [(y * (box.height() - 6) / 60, r) for y, r in KINDS[kind]]
        if kind == "tapped":
            teeth: list[tuple[float, float]] = []
            for index in range(6):
                teeth += [(index * 6, 11), (index * 6 + 3, 15)]
            shape = [*teeth, (38, 11), (41, 11), (46, 0)]
        path = QPainterPath(QPointF(center + shape[0][1], top))
        for y, r in shape:
            path.lineTo(QPointF(center + r, top + y))
        for y, r in reversed(shape):
            path.lineTo(QPointF(center - r, top + y))
        path.closeSubpath()
        painter.fillPath(path, theme.HI if not chosen else theme.BARE)
        painter.setPen(QPen(theme.SCRIBE if chosen else theme.INK, 3 if kind == "sized" else 1.6))
        painter.drawPath(path)

    return paint


def paint_exit(kind: str) -> Paint:
    """A painter of one far side: open air, a second part, a cross hole, sloped off."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        painter.fillRect(box, theme.HI)
        y = box.center().y()
        body = QPainterPath(box.topLeft())
        body.lineTo(box.topRight())
        if kind == "sloped":
            body.lineTo(QPointF(box.right(), y + 12))
            body.lineTo(QPointF(box.left(), y - 8))
        else:
            body.lineTo(QPointF(box.right(), y + 4))
            body.lineTo(QPointF(box.left(), y + 4))
        body.closeSubpath()
        if chosen:
            dye.fill_dye(painter, body, box)
        else:
            painter.fillPath(body, theme.BARE2)
        if kind == "stack":
            painter.fillRect(QRectF(box.left(), y + 5, box.width(), box.bottom() - y), theme.STEEL)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawPath(body)
        if kind == "cross_hole":
            painter.setBrush(theme.HI)
            painter.drawEllipse(QPointF(box.center().x(), y), 9, 9)

    return paint
