"""Large targets for the machine: painted in either shade, pressed with gloves, named for assistive tools."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy

from cordwainer.core.language import tr
from cordwainer.core.planning.words.operation import Caution, Operation
from cordwainer.ui.canvas import tools
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, mark
from cordwainer.ui.kit.layout import CENTER, MIDDLE, smooth, write
from cordwainer.ui.kit.shade import LIGHT, Shade

LEAST_TYPE, SMALL_TYPE = 20, 15


def fit(
    painter: QPainter, text: str, size: float, wide: float, bold: bool = True, least: float = LEAST_TYPE
) -> QFont:
    """The typeface as large as fits a width, at most that size and never under what is read at the machine.

    `least` is smaller only in windows too narrow for it.
    """
    while size > least:
        painter.setFont(theme.font(size, bold))
        if painter.fontMetrics().horizontalAdvance(text) <= wide:
            break
        size -= 2
    return theme.font(max(size, least), bold)


class Shaded:
    """What a painted button at the machine has beside its own: a shade, and a ring in it."""

    shade: Shade = LIGHT

    def to_tab(self, button: Pressable) -> None:
        """Keys here are the stage's, so it takes focus by Tab only."""
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def draw_ring(self, button: Pressable, painter: QPainter) -> None:
        """The focus ring."""
        if button.ring:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self.shade.ink, 3))
            painter.drawRect(QRectF(button.rect()).adjusted(5, 5, -5, -5))
            painter.setPen(QPen(self.shade.brass, 3))
            painter.drawRect(QRectF(button.rect()).adjusted(1.5, 1.5, -1.5, -1.5))


class BigButton(Shaded, Pressable):
    """A hundred high: one or two lines of words, with a mark before them; brass when it is the thing to do now."""

    def __init__(self, name: str, words: str, status: str = "", act: bool = False) -> None:
        super().__init__(name)
        self.to_tab(self)
        self.words, self.status, self.act = words, status, act
        self.held = 0.0
        self.setMinimumHeight(64)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)

    def say(self, words: str) -> None:
        """Other words."""
        self.words = words
        self.setAccessibleName(words.replace("\n", " "))
        self.update()

    def sizeHint(self) -> QSize:
        """As high as the row."""
        return QSize(200, 100)

    def show_held(self, share: float) -> None:
        """How long the key that does this was held."""
        self.held = share
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Field, mark, words, how long the key was held."""
        painter = smooth(self)
        shade, box = self.shade, QRectF(self.rect())
        off = not self.isEnabled()
        ground = shade.lo if off else (shade.brass if self.act else shade.hi)
        ink = shade.ink2 if off else (shade.on_brass if self.act else shade.ink)
        painter.fillRect(box, ground)
        if self.held:
            painter.fillRect(QRectF(0, box.height() - 10, box.width() * self.held, 10), ink)
        if not self.act:
            painter.setPen(QPen(ink, 3))
            painter.drawRect(box.adjusted(1.5, 1.5, -1.5, -1.5))
        left = 18.0
        if self.status:
            r = 17.0 if self.act else 15.0
            mark(painter, self.status, QPointF(left + r + 2, box.center().y()), r, ink, ground)
            left += 2 * r + 18
        lines = self.words.split("\n")
        size = 44.0 if self.act else 28.0
        longest = max(lines, key=len)
        least = SMALL_TYPE if self.width() < 210 else LEAST_TYPE
        found = fit(painter, longest, size, box.width() - left - 12, least=least)
        painter.setFont(found)
        painter.setPen(ink)
        high = painter.fontMetrics().height()
        top = box.center().y() - high * len(lines) / 2
        for number, line in enumerate(lines):
            place = QRectF(left, top + number * high, box.width() - left - 4, high)
            painter.drawText(place, MIDDLE, line)
        self.draw_ring(self, painter)


class StepStation(Shaded, Pressable):
    """One operation in the head: its tool small, done or not; ink when in hand."""

    def __init__(self, index: int, operation: Operation, words: str) -> None:
        super().__init__(words)
        self.to_tab(self)
        self.index, self.operation = index, operation
        self.status, self.current = "", False
        self.setFixedSize(72, theme.STRIP_HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Glyph and mark."""
        painter = smooth(self)
        shade = self.shade
        if self.current:
            painter.fillRect(self.rect(), shade.ink)
        ink = shade.on_ink if self.current else shade.ink
        flute = shade.ink if self.current else shade.lo
        wide = self.width() - 16.0
        tools.paint_glyph(painter, self.operation, QRectF(8, 10, wide, 22), ink, flute)
        if self.status:
            mark(painter, self.status, QPointF(8 + wide / 2, 43), 5, ink, shade.ink if self.current else shade.lo)
        self.draw_ring(self, painter)


class CautionTick(Shaded, Pressable):
    """A stop caution to be ticked: pressed, or its number typed."""

    ticked = pyqtSignal(str)

    def __init__(self, number: int, caution: Caution) -> None:
        super().__init__(tr("Stop: {caution}", caution=caution.text))
        self.to_tab(self)
        self.number, self.caution = number, caution
        self.setMinimumHeight(108)
        self.clicked.connect(lambda: self.ticked.emit(caution.id))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Empty box, key, words."""
        painter = smooth(self)
        shade = self.shade
        painter.fillRect(self.rect(), shade.hi)
        painter.setPen(QPen(shade.ink, 3))
        painter.drawRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5))
        middle = self.height() / 2
        painter.drawRect(QRectF(24, middle - 22, 44, 44))
        write(painter, QRectF(24, middle - 22, 44, 44), str(self.number), 24, True, flags=CENTER)
        painter.setFont(theme.font(25, True))
        box = QRectF(92, 8, self.width() - 108, self.height() - 16)
        flags = MIDDLE | Qt.TextFlag.TextWordWrap
        if painter.fontMetrics().boundingRect(box.toRect(), int(flags), self.caution.text).height() > box.height():
            painter.setFont(theme.font(21, True))
        painter.drawText(box, int(flags), self.caution.text)
        self.draw_ring(self, painter)


class FeltTile(Shaded, Pressable):
    """One thing to have seen or felt: its key, its words; ink when it was."""

    def __init__(self, key: str, words: str) -> None:
        super().__init__(words)
        self.to_tab(self)
        self.key, self.words = key, words
        self.setCheckable(True)
        self.setMinimumHeight(92)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Key in a box, words beside it."""
        painter = smooth(self)
        shade, on = self.shade, self.isChecked()
        painter.fillRect(self.rect(), shade.ink if on else shade.hi)
        ink: QColor = shade.on_ink if on else shade.ink
        painter.setPen(QPen(ink, 2))
        painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))
        painter.drawRect(QRectF(14, self.height() / 2 - 18, 36, 36))
        write(painter, QRectF(14, self.height() / 2 - 18, 36, 36), self.key, 22, True, flags=CENTER)
        painter.setFont(theme.font(22, True))
        box = QRectF(62, 4, self.width() - 70, self.height() - 8)
        painter.drawText(box, int(MIDDLE | Qt.TextFlag.TextWordWrap), self.words)
        self.draw_ring(self, painter)


__all__ = ["BigButton", "CautionTick", "FeltTile", "Shade", "Shaded", "StepStation", "fit"]
