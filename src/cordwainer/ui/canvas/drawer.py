"""Drawers of drills in order of true size: shut ones as a row of bars, the open one with the drills tip up."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.shop.tool import Tool
from cordwainer.ui import theme
from cordwainer.ui.canvas import tools
from cordwainer.ui.widgets.basics import Pressable, draw_focus
from cordwainer.ui.wording import fixed

PLACES = 22
SHUT, OPEN = 44, 240
Place = tuple[Tool, int]


def in_places(found: list[Tool]) -> list[Place]:
    """Tools of one size and series together with their count, by true size."""
    places: dict[tuple[float, str], Place] = {}
    for tool in sorted(found, key=lambda t: (t.diameter_mm, t.series)):
        key = (round(tool.diameter_mm, 5), tool.series)
        first, count = places.get(key, (tool, 0))
        places[key] = (first, count + tool.quantity)
    return list(places.values())


def stamped(tool: Tool) -> str:
    """A size as stamped on the shank."""
    return tool.designation.removesuffix(" mm").removesuffix(" in").replace("letter ", "")


def span_words(places: list[Place], unit: str) -> str:
    """From the smallest to the largest of a drawer."""
    first, last = places[0][0].diameter_mm, places[-1][0].diameter_mm
    return f"{fixed(first, unit, 1, 3)} to {fixed(last, unit, 1, 3)} {unit}"


class ShutDrawer(Pressable):
    """A drawer shut: its span, and a bar for each place as wide as the drill."""

    def __init__(self, number: int, places: list[Place], unit: str) -> None:
        super().__init__(f"Drawer {number}, {span_words(places, unit)}, {len(places)} places, open it")
        self.number, self.places, self.unit = number, places, unit
        self.setFixedHeight(SHUT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A front with bars and a pull."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.HI if self.hovered else theme.LO)
        painter.setPen(QPen(theme.INK2, 1))
        painter.drawRect(QRectF(0.5, 0.5, w - 1, h - 1))
        painter.setPen(theme.INK)
        painter.setFont(theme.font(16, True))
        painter.drawText(QPointF(14, 28), str(self.number))
        painter.setFont(theme.font(15))
        painter.drawText(QPointF(40, 28), span_words(self.places, self.unit))
        left, right = 190.0, w - 150.0
        pitch = (right - left) / PLACES
        for index, (tool, count) in enumerate(self.places):
            wide = min(max(0.55 * tool.diameter_mm, 1.5), 0.7 * pitch)
            x = left + (index + 0.5) * pitch
            for k in range(min(count, 2)):
                painter.fillRect(QRectF(x - wide / 2 + k * (wide + 1.5), 10, wide, h - 20), theme.FLUTE)
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        box = QRectF(w - 144, 0, 88, h)
        words = f"{len(self.places)} sizes" if len(self.places) > 1 else "1 size"
        painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawRect(QRectF(w - 46, h / 2 - 7, 30, 14))
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class PlaceButton(Pressable):
    """One place of the open drawer: the drill tip up, its name, how many."""

    def __init__(self, place: Place, parent: QWidget) -> None:
        tool, count = place
        super().__init__(f"{tool.name}, {count} here", parent)
        self.tool, self.count = tool, count
        self.setCheckable(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The drill in its slot; brass behind it when chosen or likely."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = self.width(), self.height()
        if self.isChecked():
            painter.fillRect(self.rect(), theme.BRASS)
        elif self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        rail = h - 66.0
        high = min(rail - 8, 70 + 4.5 * self.tool.diameter_mm)
        scale = min(2.15, 0.62 * w / self.tool.diameter_mm)
        shape = tools.outline(self.tool, "drill", high / scale)
        painter.save()
        painter.translate(w / 2, rail - high)
        painter.rotate(90)
        tools.paint(painter, shape, QPointF(0, 0), scale, theme.STEEL, theme.FLUTE)
        painter.restore()
        painter.fillRect(QRectF(0, rail, w, 4), theme.INK2)
        painter.setPen(theme.INK)
        self._name(painter, rail + 6, w)
        note = f"×{self.count}" if self.count > 1 else ("stub" if self.tool.is_stub else "")
        if note:
            painter.setFont(theme.font(12, self.count > 1))
            painter.drawText(QRectF(0, h - 20, w, 18), Qt.AlignmentFlag.AlignCenter, note)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))

    def _name(self, painter: QPainter, top: float, w: float) -> None:
        """Fractions stacked, as stamped; anything else on one line."""
        text = stamped(self.tool)
        bold = self.isChecked()
        if "/" not in text:
            painter.setFont(theme.font(14, bold))
            painter.drawText(QRectF(-6, top + 6, w + 12, 22), Qt.AlignmentFlag.AlignCenter, text)
            return
        over, _, under = text.partition("/")
        painter.setFont(theme.font(13, bold))
        painter.drawText(QRectF(-6, top, w + 12, 18), Qt.AlignmentFlag.AlignCenter, over)
        painter.setPen(QPen(theme.INK, 1.2))
        painter.drawLine(QPointF(w / 2 - 9, top + 19), QPointF(w / 2 + 9, top + 19))
        painter.drawText(QRectF(-6, top + 20, w + 12, 18), Qt.AlignmentFlag.AlignCenter, under)


class OpenDrawer(QWidget):
    """A drawer open: its head, and a place for every size."""

    chosen = pyqtSignal(object)

    def __init__(self, number: int, places: list[Place], unit: str) -> None:
        super().__init__()
        self.number, self.unit = number, unit
        self.setFixedHeight(OPEN)
        self.setAccessibleName(f"Drawer {number}, {span_words(places, unit)}, open")
        self.head = span_words(places, unit)
        self.sizes = len(places)
        self.buttons = [PlaceButton(place, self) for place in places]
        for button in self.buttons:
            button.clicked.connect(lambda _=False, b=button: self._choose(b))

    def _choose(self, button: PlaceButton) -> None:
        self.mark({button.tool.id})
        self.chosen.emit(button.tool)

    def mark(self, ids: set[str]) -> None:
        """Put brass behind some places."""
        for button in self.buttons:
            button.setChecked(button.tool.id in ids)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Share the width."""
        pitch = (self.width() - 4) / PLACES
        for index, button in enumerate(self.buttons):
            left, right = round(2 + index * pitch), round(2 + (index + 1) * pitch)
            button.setGeometry(left, 38, right - left, OPEN - 40)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """An ink head over a lit tray."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.HI)
        painter.fillRect(QRectF(0, 0, self.width(), 38), theme.INK)
        painter.setPen(theme.HI)
        painter.setFont(theme.font(16, True))
        painter.drawText(QPointF(14, 25), f"{self.number}   {self.head}")
        painter.setFont(theme.font(14))
        box = QRectF(0, 0, self.width() - 14, 38)
        flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(box, flags, f"{self.sizes} sizes" if self.sizes > 1 else "1 size")
        painter.setPen(QPen(theme.INK, 2))
        painter.drawRect(QRectF(1, 1, self.width() - 2, self.height() - 2))
