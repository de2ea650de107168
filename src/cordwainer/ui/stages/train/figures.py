"""What a question shows: a dial, a straight scale, a drill's point, a line of print."""

from __future__ import annotations

import math
from fractions import Fraction

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import fraction_name
from cordwainer.core.training.questions import Dial, Figure, Line, PointSeen, Rule
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, write

END = 30.0  # metal beyond the last line of a scale


@layered
class FigureView(Picture):
    """The figure of a question, as large as there is room."""

    def __init__(self) -> None:
        super().__init__()
        self.figure: Figure | None = None
        self.setMinimumSize(320, 260)

    def show_figure(self, figure: Figure | None) -> None:
        """Show a figure; it is told in words, too."""
        self.figure = figure
        self.setAccessibleName(told(figure) if figure is not None else "")
        self.update()

    def draw(self, painter: QPainter) -> None:
        """On bare metal."""
        painter.fillRect(self.rect(), theme.HI)
        room = QRectF(self.rect()).adjusted(24, 24, -24, -24)
        if isinstance(self.figure, Dial):
            _dial(painter, room, self.figure)
        elif isinstance(self.figure, Rule):
            _rule(painter, room, self.figure)
        elif isinstance(self.figure, PointSeen):
            _point(painter, room, self.figure)
        elif isinstance(self.figure, Line):
            size = 60.0
            while (
                size > 24
                and QFontMetricsF(theme.font(size, True)).horizontalAdvance(self.figure.text) > room.width()
            ):
                size -= 2
            write(painter, room, self.figure.text, size, True, theme.INK, CENTER)


def _line(painter: QPainter, room: QRectF, text: str) -> None:
    """Words as large as they go in."""
    size = 60.0
    while size > 24 and QFontMetricsF(theme.font(size, True)).horizontalAdvance(text) > room.width():
        size -= 2
    write(painter, room, text, size, True, theme.INK, CENTER)


def told(figure: Figure) -> str:
    """A figure in words, for those who do not see it."""
    if isinstance(figure, Line):
        return figure.text
    if isinstance(figure, Dial):
        return tr("A dial of {marks} divisions, its line at division {at:g}", marks=figure.marks, at=figure.at)
    if isinstance(figure, Rule):
        return tr("A scale, its edge at {number}", number=_number(figure, figure.at))
    lean = tr("half angles {half_a:.0f}° and {half_b:.0f}°", half_a=figure.half_a, half_b=figure.half_b)
    relief = tr("relief {relief_a:.0f}° and {relief_b:.0f}°", relief_a=figure.relief_a, relief_b=figure.relief_b)
    off = "off" if figure.off else "on"
    return tr(
        "A point: {lean}, {relief}, tip {off} the axis, web {web:.2f} of the size, worn {worn:.2f}",
        lean=lean,
        relief=relief,
        off=off,
        web=figure.web,
        worn=figure.worn,
    )


def _number(figure: Rule, value: float) -> str:
    if figure.fraction:
        name = fraction_name(Fraction(value).limit_denominator(64))
        return (name or localized(f"{value:g}")).removesuffix(" in")
    return localized(f"{value:g}")


def _dial(painter: QPainter, room: QRectF, dial: Dial) -> None:
    """A graduated collar end on: the index line stands still at the top, the collar is turned to it."""
    r = min(room.width(), room.height()) / 2 - 26
    middle = room.center()
    painter.setPen(QPen(theme.INK, 2.5))
    painter.setBrush(theme.STEEL)
    painter.drawEllipse(middle, r, r)
    painter.setBrush(theme.BARE)
    painter.drawEllipse(middle, r * 0.66, r * 0.66)
    for k in range(dial.marks):
        turn = 2 * math.pi * (k - dial.at) / dial.marks - math.pi / 2
        way = QPointF(math.cos(turn), math.sin(turn))
        numbered = k % dial.numbered == 0
        half = dial.numbered % 2 == 0 and k % (dial.numbered // 2) == 0
        inner = 0.84 if numbered else (0.88 if half else 0.925)
        painter.setPen(QPen(theme.INK, 2.4 if numbered else 1.2))
        painter.drawLine(middle + way * r * inner, middle + way * r)
        if numbered:
            at = middle + way * r * 0.76
            write(painter, QRectF(at.x() - 30, at.y() - 14, 60, 28), str(k), 17, True, theme.INK, CENTER)
    painter.setPen(QPen(theme.INK, 2))
    painter.setBrush(theme.BRASS)
    painter.drawPolygon(
        QPolygonF([middle + QPointF(0, -r), middle + QPointF(-9, -r - 22), middle + QPointF(9, -r - 22)])
    )
    write(
        painter,
        QRectF(middle.x() - r / 2, middle.y() - 14, r, 28),
        tr("{marks} a turn", marks=dial.marks),
        15,
        False,
        theme.INK2,
        CENTER,
    )


def _rule(painter: QPainter, room: QRectF, rule: Rule) -> None:
    """A scale as it comes out of its barrel: what is read is at the barrel's edge."""
    bar = QRectF(room.left(), room.center().y() - 60, room.width(), 120)
    painter.fillRect(bar, theme.STEEL)
    per = (bar.width() - 2 * END) / (rule.high - rule.low)

    def x(value: float) -> float:
        share = rule.high - value if rule.falls else value - rule.low
        return bar.left() + END + share * per

    count = round((rule.high - rule.low) / rule.division)
    for k in range(count + 1):
        value = rule.low + k * rule.division
        whole = abs(value / rule.numbered - round(value / rule.numbered)) < 1e-6
        half = abs(2 * value / rule.numbered - round(2 * value / rule.numbered)) < 1e-6
        long = 54 if whole else (38 if half else 24)
        painter.setPen(QPen(theme.INK, 2.4 if whole else 1.3))
        painter.drawLine(QPointF(x(value), bar.bottom()), QPointF(x(value), bar.bottom() - long))
        if whole:
            box = QRectF(x(value) - 40, bar.bottom() - 88, 80, 30)
            write(painter, box, _number(rule, value), 20, True, theme.INK, CENTER)
    at = x(rule.at)
    rest = QRectF(bar.left(), bar.top() - 26, at - bar.left(), bar.height() + 52)
    if rule.falls:
        rest = QRectF(at, bar.top() - 26, bar.right() - at, bar.height() + 52)
    edge = QRectF(at - 1.5, bar.top() - 26, 3, bar.height() + 52)
    painter.setPen(QPen(theme.INK, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(bar)
    painter.drawLine(QPointF(rest.left(), rest.top()), QPointF(rest.right(), rest.top()))
    painter.drawLine(QPointF(rest.left(), rest.bottom()), QPointF(rest.right(), rest.bottom()))
    painter.fillRect(edge, theme.BRASS)
    write(painter, QRectF(at - 60, bar.bottom() + 34, 120, 28), "edge", 15, False, theme.BRASSINK, CENTER)


def _point(painter: QPainter, room: QRectF, seen: PointSeen) -> None:
    """From the side over the whole width, end on at the left, each lip's relief at the right."""
    third = room.width() / 3
    _from_side(painter, QRectF(room.left() + third, room.top(), third, room.height() - 30), seen)
    _end_on(painter, QRectF(room.left(), room.top(), third, room.height() - 30), seen)
    _reliefs(painter, QRectF(room.left() + 2 * third, room.top(), third, room.height() - 30), seen)
    for k, words in enumerate((tr("end on"), tr("from the side"), tr("behind each lip"))):
        box = QRectF(room.left() + k * third, room.bottom() - 26, third, 26)
        write(painter, box, words, 15, False, theme.INK2, CENTER)


def _from_side(painter: QPainter, room: QRectF, seen: PointSeen) -> None:
    r = min(room.width(), room.height()) * 0.36
    axis, tip_y = room.center().x(), room.bottom() - 30
    tip = QPointF(axis + seen.off * 2 * r, tip_y)
    corners = [
        QPointF(axis - r, tip_y - (r + seen.off * 2 * r) / math.tan(math.radians(seen.half_a))),
        QPointF(axis + r, tip_y - (r - seen.off * 2 * r) / math.tan(math.radians(seen.half_b))),
    ]
    worn = seen.worn * 2 * r
    shape = QPainterPath(QPointF(axis - r, room.top()))
    shape.lineTo(corners[0] + QPointF(0, -worn))
    shape.quadTo(corners[0], corners[0] + _toward(corners[0], tip, worn))
    shape.lineTo(tip)
    shape.lineTo(corners[1] + _toward(corners[1], tip, worn))
    shape.quadTo(corners[1], corners[1] + QPointF(0, -worn))
    shape.lineTo(QPointF(axis + r, room.top()))
    painter.fillPath(shape, theme.STEEL)
    painter.setPen(QPen(theme.INK, 2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(shape)
    pen = QPen(theme.INK2, 1.2)
    pen.setDashPattern([10, 3, 2, 3])
    painter.setPen(pen)
    painter.drawLine(QPointF(axis, room.top()), QPointF(axis, room.bottom()))


def _toward(start: QPointF, end: QPointF, by: float) -> QPointF:
    way = end - start
    long = max(math.hypot(way.x(), way.y()), 1e-9)
    return way * (by / long)


def _end_on(painter: QPainter, room: QRectF, seen: PointSeen) -> None:
    r = min(room.width(), room.height()) * 0.40
    middle = room.center()
    painter.setPen(QPen(theme.INK, 2))
    painter.setBrush(theme.STEEL)
    painter.drawEllipse(middle, r, r)
    web = seen.web * 2 * r
    off = QPointF(seen.off * 2 * r, 0)
    for side in (-1, 1):
        inner = middle + off + QPointF(side * 0.35 * web, -side * web / 2)
        out = math.sqrt(max(r * r - (inner.y() - middle.y()) ** 2, 0))
        outer = QPointF(middle.x() + side * (out - seen.worn * r), inner.y())
        flute = QPainterPath(inner)
        flute.lineTo(outer)
        flute.arcTo(QRectF(middle.x() - r, middle.y() - r, 2 * r, 2 * r), 8 if side > 0 else 188, 58)
        flute.closeSubpath()
        painter.fillPath(flute, theme.FLUTE)
        painter.setPen(QPen(theme.SCRIBE, 5))
        painter.drawLine(inner, outer)
    painter.setPen(QPen(theme.INK, 4))
    painter.drawLine(middle + off + QPointF(-0.35 * web, web / 2), middle + off + QPointF(0.35 * web, -web / 2))
    painter.setPen(QPen(theme.INK, 1.2))
    painter.drawLine(middle - QPointF(9, 0), middle + QPointF(9, 0))
    painter.drawLine(middle - QPointF(0, 9), middle + QPointF(0, 9))


def _reliefs(painter: QPainter, room: QRectF, seen: PointSeen) -> None:
    """Each lip from its corner: the edge at the left rests on a line, the heel falls away from it, or does not."""
    for k, (name, angle) in enumerate((("A", seen.relief_a), ("B", seen.relief_b))):
        box = QRectF(
            room.left() + 20, room.top() + k * room.height() / 2 + 20, room.width() - 40, room.height() / 2 - 40
        )
        base = box.bottom() - 26
        edge = QPointF(box.left() + 10, base)
        heel = QPointF(box.right() - 10, base - math.tan(math.radians(2 * angle)) * (box.width() - 20))
        shape = QPolygonF([edge, heel, QPointF(heel.x(), box.top()), QPointF(edge.x() + 12, box.top())])
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(theme.STEEL)
        painter.drawPolygon(shape)
        pen = QPen(theme.BRASSINK, 1.6)
        pen.setDashPattern([6, 4])
        painter.setPen(pen)
        painter.drawLine(QPointF(box.left() - 6, base), QPointF(box.right() + 6, base))
        write(
            painter,
            QRectF(box.left(), base + 2, box.width(), 24),
            tr("lip {name}", name=name),
            15,
            False,
            theme.INK2,
            CENTER,
        )
