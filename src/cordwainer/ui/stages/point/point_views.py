"""A drill's point end-on and side-on, to scale and live, with the readings where they are taken."""

from __future__ import annotations

import math
from collections.abc import Mapping

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.formation.lips import eccentricity, half_angle
from cordwainer.core.formation.point import relief_state
from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.drill_point import Point
from cordwainer.core.shop.tool import CHISEL_PER_WEB, Tool
from cordwainer.ui.canvas.dye import fill_dye_rect
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, mark
from cordwainer.ui.kit.layout import CENTER, MIDDLE, smooth, write

TIMES = 3
LIP_TURN = math.radians(-28)
HEEL = math.radians(78)
FIELD_W, FIELD_H = 104, 42


class View(QWidget):
    """One view with fields standing at what they measure."""

    def __init__(self, fields: dict[str, Field], places: Mapping[str, tuple[float, float]]) -> None:
        super().__init__()
        self.fields, self.places = fields, places
        self.drill: Tool | None = None
        self.point = Point()
        self.unit = "mm"
        self.sweeps_mm = 0.0
        for key, field in fields.items():
            field.setParent(self)
            field.setFixedSize(78 if key.startswith(("half", "relief")) else FIELD_W, FIELD_H)

    def show_point(self, drill: Tool, point: Point, unit: str, sweeps_mm: float) -> None:
        """Show a drill with the point read."""
        self.drill, self.point, self.unit, self.sweeps_mm = drill, point, unit, sweeps_mm
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Put the fields at their places: shares of the width and height, from the far edge where negative."""
        for key, (x, y) in self.places.items():
            left = x if x >= 0 else self.width() + x
            top = y if y >= 0 else self.height() + y
            self.fields[key].move(round(left), round(top))

    def over_field(self, key: str) -> QRectF:
        """Where the words over a field stand."""
        field = self.fields[key]
        return QRectF(field.x() - 2, field.y() - 24, 170, 22)


class EndOn(View):
    """Seen from the tip: the circle it sweeps round, the lips, the web."""

    def __init__(self, fields: dict[str, Field]) -> None:
        super().__init__(fields, {"lip_b": (-124, 40), "lip_a": (20, -60), "web": (-124, -60)})
        self.setMinimumSize(330, 330)
        self.setAccessibleName(tr("The point seen end on"))

    def _error_mm(self) -> float:
        """Signed eccentricity, toward lip A where that one is long."""
        if self.drill is None:
            return 0.0
        difference = self.point.lip_difference
        if not self.point.lips_known and self.point.by_eye == "longer":
            difference = 0.02 * self.drill.diameter_mm
        return math.copysign(eccentricity(difference, half_angle(self.drill, self.point)), difference)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dye, the swept circle with its crescent, the body, lips, words."""
        drill = self.drill
        if drill is None:
            return
        painter = smooth(self)
        fill_dye_rect(painter, QRectF(self.rect()))
        w, h = self.width(), self.height()
        room = min(w, h) / 2 - 58
        r_mm = drill.diameter_mm / 2
        scale = room / (r_mm * 1.08)
        middle, r = QPointF(w / 2, h / 2 - 8), r_mm * scale
        off = self._error_mm() * TIMES * scale
        off = max(-0.35 * r, min(off, 0.35 * r))
        u = QPointF(math.cos(LIP_TURN + math.pi), -math.sin(LIP_TURN + math.pi))
        body = middle + u * off
        self._swept(painter, middle, body, r, abs(off))
        self._body(painter, body, middle, r, scale)
        self._words(painter, scale)

    def _swept(self, painter: QPainter, middle: QPointF, body: QPointF, r: float, off: float) -> None:
        if off < 0.3:
            return
        ring, solid = QPainterPath(), QPainterPath()
        ring.addEllipse(middle, r + off, r + off)
        solid.addEllipse(body, r, r)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QBrush(theme.BRASSDYE, Qt.BrushStyle.BDiagPattern))
        painter.drawPath(ring.subtracted(solid))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.SCRIBE, 1.4))
        painter.drawEllipse(middle, r + off, r + off)

    def _body(self, painter: QPainter, body: QPointF, middle: QPointF, r: float, scale: float) -> None:
        drill, point = self.drill, self.point
        assert drill is not None
        web = (point.web if point.web is not None else drill.chisel_mm / CHISEL_PER_WEB) * scale
        disc = QPainterPath()
        disc.addEllipse(body, r, r)
        painter.fillPath(disc, theme.STEEL)
        long = 0 if point.lip_difference > 0 else 1
        known = abs(point.lip_difference) > 1e-9 or (not point.lips_known and point.by_eye == "longer")
        ends = []
        for side in (0, 1):
            turn = LIP_TURN + math.pi * (1 - side)
            u = QPointF(math.cos(turn), -math.sin(turn))
            n = QPointF(math.cos(turn + math.pi / 2), -math.sin(turn + math.pi / 2))
            inner = middle + n * (web / 2) - u * (0.35 * web)
            outer = _to_circle(inner, u, body, r)
            heel_turn = turn + HEEL
            heel = body + QPointF(math.cos(heel_turn), -math.sin(heel_turn)) * r
            flute = QPainterPath(inner)
            flute.lineTo(outer)
            flute.lineTo(outer + u * 40)
            flute.lineTo(heel + (heel - body) * 0.4)
            flute.lineTo(heel)
            flute.quadTo(middle + n * (0.62 * r) - u * (0.02 * r), inner)
            painter.fillPath(flute.intersected(disc), theme.DYELO)
            self._relief(painter, disc.subtracted(flute), inner, outer, n, side)
            ends.append((inner, outer, side))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.SCRIBE, 1.2))
        painter.drawEllipse(body, r, r)
        for inner, outer, side in ends:
            is_long = known and side == long
            painter.setPen(QPen(theme.BRASSDYE if is_long else theme.SCRIBE, 6.4 if is_long else 4.4))
            painter.drawLine(inner, outer)
            self._leader(painter, (inner + outer) / 2, "lip_a" if side == 0 else "lip_b", is_long)
        painter.setPen(QPen(theme.INK, 4))
        painter.drawLine(ends[0][0], ends[1][0])
        self._leader(painter, middle, "web", False)
        painter.setPen(QPen(theme.SCRIBE, 1.1))
        painter.drawLine(middle - QPointF(8, 0), middle + QPointF(8, 0))
        painter.drawLine(middle - QPointF(0, 8), middle + QPointF(0, 8))

    def _relief(
        self, painter: QPainter, metal: QPainterPath, inner: QPointF, outer: QPointF, n: QPointF, side: int
    ) -> None:
        """Fine lines behind a lip: close where the relief is small, wide where it is large."""
        angle = (self.point.relief_a if side == 0 else self.point.relief_b) or 11.0
        gap = max(3.0, 0.9 * max(angle, 1.0))
        painter.save()
        painter.setClipPath(metal)
        painter.setPen(QPen(theme.FLUTE, 0.7))
        for k in range(1, 7):
            painter.drawLine(inner - n * (gap * k), outer - n * (gap * k))
        painter.restore()

    def _leader(self, painter: QPainter, at: QPointF, key: str, brass: bool) -> None:
        field = self.fields[key]
        color = theme.BRASSDYE if brass else theme.SCRIBE
        box = QRectF(field.geometry())
        to = QPointF(box.center().x(), box.bottom() if box.center().y() < at.y() else box.top() - 22)
        painter.setPen(QPen(color, 1.1))
        painter.drawLine(at, to)
        painter.setBrush(color)
        painter.drawEllipse(at, 3, 3)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def _words(self, painter: QPainter, scale: float) -> None:
        drill, point = self.drill, self.point
        assert drill is not None
        write(painter, QPointF(20, 26), "sweeps", 15, color=theme.SCRIBE)
        size = fixed(self.sweeps_mm, self.unit, 2, 4)
        apart = abs(self.sweeps_mm - drill.diameter_mm) > 0.005
        write(painter, QPointF(20, 58), size, 30, True, color=theme.BRASSDYE if apart else theme.SCRIBE)
        painter.setFont(theme.font(15))
        painter.setPen(theme.SCRIBE)
        if apart:
            painter.drawText(
                QPointF(20, 80), tr("not {diameter_mm}", diameter_mm=fixed(drill.diameter_mm, self.unit, 2, 4))
            )
        if abs(self._error_mm()) > 0.005:
            painter.setFont(theme.font(13))
            box = QRectF(0, self.height() - 24, self.width() * 1.0, 18)
            painter.drawText(box, CENTER, tr("lip difference ×{times}", times=TIMES))
        for key, words in (("lip_a", tr("lip A")), ("lip_b", tr("lip B")), ("web", "web")):
            long = (key == "lip_a" and point.lip_difference > 0) or (key == "lip_b" and point.lip_difference < 0)
            painter.setPen(theme.BRASSDYE if long else theme.SCRIBE)
            painter.setFont(theme.font(15, long))
            painter.drawText(
                self.over_field(key), MIDDLE, tr("{words}{long}", words=words, long=tr(", long") if long else "")
            )


class SideOn(View):
    """Seen from the side over the hole it would leave: angles and reliefs."""

    def __init__(self, fields: dict[str, Field]) -> None:
        places = {"half_a": (14, 34), "half_b": (-92, 34), "relief_a": (14, 118), "relief_b": (-92, 118)}
        super().__init__(fields, places)
        self.setMinimumSize(360, 330)
        self.setAccessibleName(tr("The point seen from the side, over the hole it leaves"))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Block and hole, the drill's end, angle arcs, words at the fields."""
        drill, point = self.drill, self.point
        if drill is None:
            return
        painter = smooth(self)
        w, h = float(self.width()), float(self.height())
        face = h * 0.58
        painter.fillRect(QRectF(0, 0, w, face), theme.HI)
        fill_dye_rect(painter, QRectF(0, face, w, h - face))
        half = half_angle(drill, point)
        a, b = point.half_a or half, point.half_b or half
        r = min((w - 2 * 108) / 2, (h - face - 24) * math.tan(math.radians(min(a, b))))
        scale = r / (drill.diameter_mm / 2)
        axis = w / 2
        difference = point.lip_difference
        off = eccentricity(difference, half) * TIMES * scale * (1 if difference >= 0 else -1)
        tip_x = axis + max(-0.3 * r, min(off, 0.3 * r))
        deep_a = (tip_x - (axis - r)) / math.tan(math.radians(a))
        deep_b = ((axis + r) - tip_x) / math.tan(math.radians(b))
        tip_y = face + max(deep_a, deep_b)
        left, right = QPointF(axis - r, tip_y - deep_a), QPointF(axis + r, tip_y - deep_b)
        tip = QPointF(tip_x, tip_y)
        grown = max((self.sweeps_mm - drill.diameter_mm) / 2, 0.0) * TIMES * scale
        hole = QPainterPath(QPointF(axis - r - grown, face))
        hole.lineTo(tip + QPointF(-0.5, grown * 0.5))
        hole.lineTo(QPointF(axis + r + grown, face))
        painter.fillPath(hole, theme.BARE2)
        shape = QPainterPath(QPointF(axis - r, -2))
        for at in (left, tip, right, QPointF(axis + r, -2)):
            shape.lineTo(at)
        painter.fillPath(shape, theme.STEEL)
        painter.save()
        painter.setClipPath(shape)
        self._flute(painter, axis, r, face)
        painter.restore()
        painter.setPen(QPen(theme.INK, 1.2))
        painter.drawPath(shape)
        long = "a" if difference > 0 else ("b" if difference < 0 else "")
        for key, corner in (("a", left), ("b", right)):
            is_long = key == long
            painter.setPen(QPen(theme.BRASSDYE if is_long else theme.SCRIBE, 6 if is_long else 4))
            painter.drawLine(corner, tip)
        pen = QPen(theme.SCRIBE, 1)
        pen.setDashPattern([10, 3, 2, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(axis, 6), QPointF(axis, min(tip_y + 40, h - 4)))
        painter.setPen(QPen(theme.INK, 1.1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        arc = QRectF(tip_x - 70, tip_y - 70, 140, 140)
        painter.drawArc(arc, 90 * 16, round(a * 16))
        painter.drawArc(arc, 90 * 16, -round(b * 16))
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawLine(QPointF(0, face), QPointF(axis - r - grown, face))
        painter.drawLine(QPointF(axis + r + grown, face), QPointF(w, face))
        self._words(painter)

    def _flute(self, painter: QPainter, axis: float, r: float, face: float) -> None:
        """The flute as a dark band winding up at the usual helix."""
        pitch = 2 * r * math.pi / math.tan(math.radians(30))
        band = QPainterPath()
        for index in range(-1, 3):
            low = face - index * pitch / 2 + 0.2 * r
            path = QPainterPath(QPointF(axis + r, low))
            path.cubicTo(
                QPointF(axis + 0.2 * r, low - 0.1 * pitch),
                QPointF(axis - 0.2 * r, low - 0.3 * pitch),
                QPointF(axis - r, low - 0.42 * pitch),
            )
            path.lineTo(QPointF(axis - r, low - 0.62 * pitch))
            path.cubicTo(
                QPointF(axis, low - 0.46 * pitch),
                QPointF(axis + 0.4 * r, low - 0.26 * pitch),
                QPointF(axis + r, low - 0.16 * pitch),
            )
            path.closeSubpath()
            band.addPath(path)
        painter.fillPath(band, theme.FLUTE)

    def _words(self, painter: QPainter) -> None:
        for key, words in (
            ("half_a", tr("angle A")),
            ("half_b", tr("angle B")),
            ("relief_a", tr("relief A")),
            ("relief_b", tr("relief B")),
        ):
            box = self.over_field(key)
            write(painter, box, words, 15, color=theme.INK)
            value = getattr(self.point, key)
            if not key.startswith("relief"):
                continue
            field = self.fields[key]
            below = QRectF(field.x() - (0 if key.endswith("a") else 40), field.y() + FIELD_H + 2, 118, 20)
            state, why = relief_state(value) if value is not None else ("", tr("10 to 12°"))
            if state in ("caution", "reject"):
                mark(painter, "reject", QPointF(box.left() + 72, box.center().y()), 6, theme.INK, theme.HI)
            painter.setFont(theme.font(13, state in ("caution", "reject")))
            flags = Qt.AlignmentFlag.AlignLeft if key.endswith("a") else Qt.AlignmentFlag.AlignRight
            painter.drawText(below, flags, why or "right")


def _to_circle(start: QPointF, way: QPointF, middle: QPointF, r: float) -> QPointF:
    """Where a ray from inside a circle leaves it."""
    d = start - middle
    b = d.x() * way.x() + d.y() * way.y()
    c = d.x() ** 2 + d.y() ** 2 - r * r
    return start + way * (-b + math.sqrt(max(b * b - c, 0.0)))
