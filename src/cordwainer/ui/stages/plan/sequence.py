"""Hole tags, routes and the stations of a sequence."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, sentence, tr, trn
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wishes import OTHER_END
from cordwainer.core.planning.words.wording import (
    band_words,
    instead_words,
    limits_pair,
    print_size,
    role_name,
    route_chance,
    route_words,
    shop_words,
    size_said,
    size_shown,
)
from cordwainer.ui.canvas import tools
from cordwainer.ui.commands.table import with_keys
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pane, Pressable, draw_focus, mark
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, RIGHT, smooth, write
from cordwainer.ui.kit.plain import on_tip

if TYPE_CHECKING:
    from cordwainer.core.formation.outcome import Chance
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import Operation, Route


@layered
class HoleTag(Pressable):
    """A shop tag for one hole: id, name, size, how far it is."""

    def __init__(self, hole: Hole, unit: str, status: str, words: str) -> None:
        super().__init__(
            tr(
                "Hole {hole} {hole_2}, {print_size}, {words}",
                hole=hole.id,
                hole_2=hole.name,
                print_size=print_size(hole, unit),
                words=words,
            )
        )
        self.hole, self.unit, self.status, self.words = hole, unit, status, words
        self.one_of_several()
        self.setFixedSize(172, 84)

    def draw(self, painter: QPainter) -> None:
        """A clipped tag with an eyelet; ink when selected."""
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
        write(painter, QPointF(34, 22), self.hole.id, 15, True, color=ink)
        taken = painter.fontMetrics().horizontalAdvance(self.hole.id) + 8
        painter.setFont(theme.font(14))
        name = painter.fontMetrics().elidedText(self.hole.name, Qt.TextElideMode.ElideRight, round(w - 40 - taken))
        painter.drawText(QPointF(34 + taken, 22), name)
        size = print_size(self.hole, self.hole.unit)
        upper, lower = limits_pair(self.hole, self.hole.unit)
        painter.setFont(theme.font(13))
        after = max(painter.fontMetrics().horizontalAdvance(text) for text in (upper, lower))
        for pixels in (22, 18, 15):
            painter.setFont(theme.font(pixels, chosen))
            left = 34 + painter.fontMetrics().horizontalAdvance(size) + 7
            if left + after <= w - 6:
                break
        painter.drawText(QPointF(34, 49), size)
        write(painter, QPointF(left, 38), upper, 13)
        painter.drawText(QPointF(left, 53), lower)
        mark(painter, self.status, QPointF(42, 69), 6, ink, ground)
        write(painter, QPointF(58, 74), self.words, 14)
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


class RouteHead(QWidget):
    """What the figures of the rows below mean."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(20)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Minutes, rough chance, tools to get."""
        painter = QPainter(self)
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK2)
        for x, words in ((14, "min"), (62, tr("in 100, by shop"))):
            painter.drawText(QPointF(x, 14), words)
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)


@layered
class RouteRow(Pressable):
    """One way to the hole: minutes, the rough chance, the tools in it, what is still to get."""

    def __init__(self, route: Route, own: bool = False, told: Chance | None = None) -> None:
        """`told` is the forward model's chance with its band, where it is known."""
        rough = chance_words(told.value if told is not None else route_chance(route))
        self.judged = route.chance is not None
        self.band = band_words(told) if told is not None else ""
        words = tr("Yours") if own else route_words(route)
        missing = len(route.missing_tools)
        to_get = (
            trn(", {missing} tool to get", ", {missing} tools to get", missing, missing=missing) if missing else ""
        )
        spreads = tr("from shop to shop ") if tr(" to ") in self.band else tr("in ")
        if told is not None and told.holes:
            spreads = tr("after {shop_words} ", shop_words=shop_words(told.holes))
        sure = f", {spreads}{self.band}" if self.band else ""
        about = (
            tr(", {about} in 100", about=rough if " " in rough else tr("about {rough}", rough=rough))
            if self.judged
            else ""
        )
        super().__init__(
            tr(
                "{words} route, {minutes:.0f} minutes{about}{sure}{to_get}",
                words=words,
                minutes=route.minutes,
                about=about,
                sure=sure,
                to_get=to_get,
            )
        )
        self.route, self.words, self.rough = route, words, rough
        self.one_of_several()
        self.setFixedHeight(52)
        tools_used = sum(o.tool is not None and o.kind != "punch" for o in route.operations)
        tip = with_keys(tr("Take this route"), "next_route")
        tip += tr(
            "\n{tools_used} tools, {tools_used_2} changes, {minutes:.1f} min",
            tools_used=tools_used,
            tools_used_2=max(tools_used - 1, 0),
            minutes=route.minutes,
        )
        if missing:
            tip += tr("\nTo get: ") + ", ".join(route.missing_tools)
            tip += "".join(f"\n{line}" for line in instead_words(route))
        self.setToolTip(on_tip(tip))

    def draw(self, painter: QPainter) -> None:
        """Name and tools over figures; brass edge when taken."""
        chosen = self.isChecked()
        w, h = self.width(), self.height()
        if chosen or self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if chosen:
            painter.fillRect(QRectF(0, 0, 5, h), theme.BRASS)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, h - 1, w, h - 1)
        write(painter, QPointF(14, 18), self.words, 15, chosen, color=theme.INK)
        self._tools(painter, 14 + painter.fontMetrics().horizontalAdvance(self.words) + 8, w - 8)
        painter.setPen(theme.INK)
        chance = f"{self.rough}" if self.judged else ""
        for x, figure in ((14, f"{self.route.minutes:.0f}"), (62, chance)):
            write(painter, QPointF(x, 43), figure, 24, chosen)
        after = 62 + painter.fontMetrics().horizontalAdvance(f"{self.rough}") + 7
        missing = len(self.route.missing_tools)
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK2)
        if not missing:
            painter.drawText(QPointF(after, 43), self.band)
        painter.setPen(theme.INK)
        if missing:
            painter.setFont(theme.font(13, True))
            box = QRectF(0, 27, w - 8, 22)
            words = tr("{missing} to get", missing=missing)
            painter.drawText(box, RIGHT, words)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))

    def _tools(self, painter: QPainter, left: float, right: float) -> None:
        """The tools as small glyphs, as many as fit."""
        found = [o for o in self.route.operations if o.tool is not None and (o.rpm is not None or o.kind == "tap")]
        wide = min(22.0, (right - left) / max(len(found), 1) - 3)
        if wide < 8:
            return
        x = right - len(found) * (wide + 3)
        for operation in found:
            box = QRectF(x, 8, wide, 11)
            tools.paint_glyph(painter, operation, box, theme.INK, theme.PLATE)
            x += wide + 3


@layered
class Station(Pressable):
    """One operation of the sequence: number, name, glyph, size, speed."""

    def __init__(self, number: int, name: str, operation: Operation, unit: str, missing: bool = False) -> None:
        size = size_shown(operation, unit)
        state = tr(", to get") if missing else (tr(", fixed") if operation.locked else "")
        breaks = any(w.id == "broken_limit" for w in operation.warnings)
        state += tr(", breaks a limit") if breaks else ""
        super().__init__(
            tr(
                "Operation {number}, {name} {size_said}", number=number, name=name, size_said=size_said(size, unit)
            ).strip()
            + state
        )
        self.told = number, name, operation, unit, missing
        self.number, self.name, self.operation, self.unit = number, name, operation, unit
        self.missing, self.breaks = missing, breaks
        self.one_of_several()

    def draw(self, painter: QPainter) -> None:
        """Ink when selected, with a brass bar on top."""
        chosen = self.isChecked()
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.INK if chosen else (theme.PLATE if self.hovered else theme.LO))
        if chosen:
            painter.fillRect(QRectF(0, 0, w, 6), theme.BRASS)
        else:
            painter.setPen(QPen(theme.RULE, 1))
            painter.drawLine(w - 1, 12, w - 1, h - 12)
        ink = theme.HI if chosen else theme.INK
        write(painter, QPointF(9, 26), str(self.number), 15, True, color=ink)
        painter.setFont(theme.font(14, chosen))
        left = 9 + painter.fontMetrics().horizontalAdvance(str(self.number)) + 6
        spare = 26 if self.breaks or self.operation.locked else 2
        short = {
            tr("Center drill"): tr("Center"),
            tr("Spot drill"): tr("Spot"),
            tr("Drill to size"): tr("To size"),
            tr("Undersize"): tr("Under"),
            tr("Measure"): tr("Size"),
            tr("Countersink"): tr("C’sink"),
            tr("Counterbore"): tr("C’bore"),
            sentence(tr("core drill")): tr("Core"),
            tr("Square floor"): tr("Floor"),
            tr("Tap drill"): tr("Drill"),
        }
        room = w - left - spare
        fits = painter.fontMetrics().horizontalAdvance(self.name) <= room
        words = self.name if fits else short.get(self.name, self.name.split(" ")[0])
        if not fits and self.operation.end == OTHER_END:
            words = tr("Far end")
        name = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, round(w - left - spare))
        painter.drawText(QPointF(left, 26), name)
        body = theme.HI if chosen else theme.INK
        flutes = theme.INK if chosen else theme.LO
        box = QRectF(9, 35, w - 18, 26)
        if self.missing:
            pen = QPen(ink, 1.4)
            pen.setDashPattern([3, 2])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            write(painter, box, tr("to get"), 13, color=ink, flags=CENTER)
        else:
            tools.paint_glyph(painter, self.operation, box, body, flutes)
        if self.breaks:
            mark(painter, "caution", QPointF(w - 16, 20), 7, ink, theme.INK if chosen else theme.LO)
        elif self.operation.locked:
            paint_lock(painter, QPointF(w - 15, 21), ink)
        size = size_shown(self.operation, self.unit)
        write(painter, QPointF(9, 88), size, 18, True, color=ink)
        if self.operation.rpm is not None:
            used = painter.fontMetrics().horizontalAdvance(size) + 14
            painter.setFont(theme.font(13))
            text = localized(f"{self.operation.rpm:g}")
            metrics = painter.fontMetrics()
            if used + metrics.horizontalAdvance(f"{text} {tr('rpm')}") + 6 <= w:
                text += f" {tr('rpm')}"
            if used + metrics.horizontalAdvance(text) <= w - 12:
                box = QRectF(0, 72, w - 8, 20)
                painter.drawText(box, RIGHT, text)
        elif not size:
            write(painter, QPointF(9, 88), localized(f"{self.operation.minutes:.1f} min"), 13)
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


def paint_lock(painter: QPainter, center: QPointF, ink: QColor) -> None:
    """A small padlock: what the machinist fixed."""
    x, y = center.x(), center.y()
    painter.setPen(QPen(ink, 1.8))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawArc(QRectF(x - 3.5, y - 9, 7, 9), 0, 180 * 16)
    painter.fillRect(QRectF(x - 5.5, y - 4, 11, 8), ink)


class AddStep(Pressable):
    """One more step before the selected drill."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(tr("Add a step before the selected drill"), parent)
        self.setToolTip(with_keys(tr("Add a step before the selected drill"), "add_step"))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A ringed cross over its word."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.PLATE if self.hovered else theme.LO)
        x, y = self.width() / 2, 44.0
        painter.setPen(QPen(theme.INK, 1.8))
        painter.drawEllipse(QPointF(x, y), 13, 13)
        painter.drawLine(QPointF(x - 7, y), QPointF(x + 7, y))
        painter.drawLine(QPointF(x, y - 7), QPointF(x, y + 7))
        write(painter, QRectF(0, 72, self.width(), 22), tr("Add"), 14, flags=CENTER)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class Strip(Pane):
    """The sequence, left to right."""

    picked = pyqtSignal(int)
    add_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__(theme.LO, "tb")
        self.setFixedHeight(100)
        self.stations: list[Station] = []
        self.add_button = AddStep(self)
        self.add_button.clicked.connect(self.add_asked.emit)
        self._shown: object = ()

    def show_route(self, route: Route | None, current: int, unit: str) -> None:
        """Show the operations of a route."""
        shown = (route.operations, route.missing_tools, unit) if route is not None else None
        if self._shown != shown:
            self._shown = shown
            before, self.stations = self.stations, []
            missing = route.missing_tools if route else ()
            for index, operation in enumerate(route.operations if route else ()):
                to_get = operation.tool is not None and operation.tool.name in missing
                name = role_name(route, index) if route else ""
                told = (index + 1, name, operation, unit, to_get)
                kept = before[index] if index < len(before) and before[index].told == told else None
                self.stations.append(kept or self._station(index, Station(*told)))
            for station in before:
                if station not in self.stations:
                    station.hide()
                    station.deleteLater()
            self._place()
        for index, station in enumerate(self.stations):
            station.setChecked(index == current)
        self.add_button.setEnabled(route is not None)

    def _station(self, index: int, station: Station) -> Station:
        station.setParent(self)
        station.clicked.connect(lambda: self._pick(index))
        station.show()
        return station

    def _pick(self, index: int) -> None:
        for place, station in enumerate(self.stations):
            station.setChecked(place == index)
        self.picked.emit(index)

    def _place(self) -> None:
        self.add_button.setGeometry(self.width() - 48, 1, 48, self.height() - 2)
        if not self.stations:
            return
        wide = min(150.0, (self.width() - 48) / len(self.stations))
        for index, station in enumerate(self.stations):
            left, right = round(index * wide), round((index + 1) * wide)
            station.setGeometry(left, 0, right - left, self.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Share the width."""
        self._place()
