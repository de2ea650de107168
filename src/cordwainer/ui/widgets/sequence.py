"""Hole tags, routes and the stations of a sequence."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import Operation, Route
from cordwainer.ui import theme
from cordwainer.ui.canvas import tools
from cordwainer.ui.widgets.basics import Pane, Pressable, draw_focus, mark
from cordwainer.ui.wording import LABEL_WORDS, limits_pair, print_size, role_name, size_shown


class HoleTag(Pressable):
    """A shop tag for one hole: id, name, size, how far it is."""

    def __init__(self, hole: Hole, unit: str, status: str, words: str) -> None:
        super().__init__(f"Hole {hole.id} {hole.name}, {print_size(hole, unit)}, {words}")
        self.hole, self.unit, self.status, self.words = hole, unit, status, words
        self.setCheckable(True)
        self.setFixedSize(172, 84)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A clipped tag with an eyelet; ink when selected."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = self.width() - 1.0, self.height() - 1.0
        shape = QPainterPath(QPointF(15, 0.5))
        for x, y in ((w, 0.5), (w, h), (15, h), (0.5, h - 15), (0.5, 15)):
            shape.lineTo(QPointF(x, y))
        shape.closeSubpath()
        chosen = self.isChecked()
        ink, ground = (theme.HI, theme.INK) if chosen else (theme.INK, theme.HI)
        painter.fillPath(shape, ground)
        painter.setPen(QPen(theme.INK, 2 if self.hovered else 1))
        painter.drawPath(shape)
        painter.setBrush(theme.PLATE)
        painter.setPen(QPen(theme.BRASS if chosen else theme.RULE, 3))
        painter.drawEllipse(QPointF(17, h / 2), 5, 5)
        painter.setPen(ink)
        painter.setFont(theme.font(15, True))
        painter.drawText(QPointF(34, 22), self.hole.id)
        taken = painter.fontMetrics().horizontalAdvance(self.hole.id) + 8
        painter.setFont(theme.font(14))
        name = painter.fontMetrics().elidedText(self.hole.name, Qt.TextElideMode.ElideRight, round(w - 40 - taken))
        painter.drawText(QPointF(34 + taken, 22), name)
        size = print_size(self.hole, self.hole.unit)
        painter.setFont(theme.font(22, chosen))
        painter.drawText(QPointF(34, 49), size)
        left = 34 + painter.fontMetrics().horizontalAdvance(size) + 7
        upper, lower = limits_pair(self.hole, self.hole.unit)
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(left, 38), upper)
        painter.drawText(QPointF(left, 53), lower)
        mark(painter, self.status, QPointF(42, 69), 6, ink, ground)
        painter.setFont(theme.font(14))
        painter.drawText(QPointF(58, 74), self.words)
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


class RouteRow(Pressable):
    """One way to the hole: minutes and the rough chance."""

    def __init__(self, route: Route) -> None:
        rough = round(100 * route.screen_chance)
        words = LABEL_WORDS.get(route.label, route.label)
        super().__init__(f"{words} route, {route.minutes:.0f} minutes, about {rough} in 100")
        self.route, self.words, self.rough = route, words, rough
        self.setCheckable(True)
        self.setFixedHeight(66)
        self.setToolTip("Take this route  R")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Name over figures; brass edge when taken."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        if chosen or self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if chosen:
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, chosen))
        painter.drawText(QPointF(14, 22), self.words)
        drills = sum(1 for o in self.route.operations if o.kind == "drill")
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK2)
        count = f"{drills} drill{'s' if drills != 1 else ''}"
        painter.drawText(QRectF(0, 8, self.width() - 12, 20), Qt.AlignmentFlag.AlignRight, count)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(24, chosen))
        minutes = f"{self.route.minutes:.0f}"
        painter.drawText(QPointF(14, 53), minutes)
        x = 14 + painter.fontMetrics().horizontalAdvance(minutes) + 4
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(x, 53), "min")
        painter.setFont(theme.font(24, chosen))
        chance = f"{self.rough}"
        painter.drawText(QPointF(94, 53), chance)
        x = 94 + painter.fontMetrics().horizontalAdvance(chance) + 4
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(x, 53), "in 100")
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class Station(Pressable):
    """One operation of the sequence: number, name, glyph, size, speed."""

    def __init__(self, number: int, name: str, operation: Operation, unit: str) -> None:
        size = size_shown(operation, unit)
        super().__init__(f"Operation {number}, {name} {size} {unit if size else ''}".strip())
        self.number, self.name, self.operation, self.unit = number, name, operation, unit
        self.setCheckable(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Ink when selected, with a brass bar on top."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.INK if chosen else (theme.PLATE if self.hovered else theme.LO))
        if chosen:
            painter.fillRect(QRectF(0, 0, w, 6), theme.BRASS)
        else:
            painter.setPen(QPen(theme.RULE, 1))
            painter.drawLine(w - 1, 12, w - 1, h - 12)
        ink = theme.HI if chosen else theme.INK
        painter.setPen(ink)
        painter.setFont(theme.font(15, True))
        painter.drawText(QPointF(9, 26), str(self.number))
        painter.setFont(theme.font(14, chosen))
        left = 9 + painter.fontMetrics().horizontalAdvance(str(self.number)) + 6
        short = {"Center drill": "Center", "Spot drill": "Spot", "Drill to size": "To size"}
        words = self.name if w >= 128 else short.get(self.name, self.name)
        name = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, round(w - left - 4))
        painter.drawText(QPointF(left, 26), name)
        body = theme.HI if chosen else theme.INK
        flutes = theme.INK if chosen else theme.LO
        box = QRectF(9, 35, w - 18, 26)
        tools.paint_glyph(painter, self.operation, box, body, flutes)
        size = size_shown(self.operation, self.unit)
        painter.setPen(ink)
        painter.setFont(theme.font(18, True))
        painter.drawText(QPointF(9, 88), size)
        if self.operation.rpm is not None:
            used = painter.fontMetrics().horizontalAdvance(size) + 14
            painter.setFont(theme.font(13))
            text = f"{self.operation.rpm:g}"
            metrics = painter.fontMetrics()
            if used + metrics.horizontalAdvance(text + " rpm") + 6 <= w:
                text += " rpm"
            if used + metrics.horizontalAdvance(text) <= w - 4:
                box = QRectF(0, 72, w - 8, 20)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        elif not size:
            painter.setFont(theme.font(13))
            painter.drawText(QPointF(9, 88), f"{self.operation.minutes:.1f} min")
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


class Strip(Pane):
    """The sequence, left to right."""

    picked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__(theme.LO, "tb")
        self.setFixedHeight(100)
        self.stations: list[Station] = []

    def show_route(self, route: Route | None, current: int, unit: str) -> None:
        """Show the operations of a route."""
        for station in self.stations:
            station.hide()
            station.deleteLater()
        self.stations = []
        for index, operation in enumerate(route.operations if route else ()):
            station = Station(index + 1, role_name(route, index) if route else "", operation, unit)
            station.setParent(self)
            station.setChecked(index == current)
            station.clicked.connect(lambda _=False, i=index: self.picked.emit(i))
            station.show()
            self.stations.append(station)
        self._place()

    def _place(self) -> None:
        if not self.stations:
            return
        wide = min(150.0, self.width() / len(self.stations))
        for index, station in enumerate(self.stations):
            left, right = round(index * wide), round((index + 1) * wide)
            station.setGeometry(left, 0, right - left, self.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Share the width."""
        self._place()
