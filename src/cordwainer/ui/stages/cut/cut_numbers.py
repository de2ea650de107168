"""The numbers of one operation, to be read from two meters: size, speed, touch, stop, turns, feed, fluid, time."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.planning.words.names import size_said
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, corners
from cordwainer.ui.kit.layout import MIDDLE, RIGHT, smooth, write
from cordwainer.ui.kit.shade import LIGHT
from cordwainer.ui.stages.cut.cut_parts import Shaded, fit

if TYPE_CHECKING:
    from cordwainer.core.cutting.marks import Marks
    from cordwainer.core.planning.machine.card import Card

DESIGN = (796.0, 560.0)
LEFT = 36.0
UNSIZED = {"deburr": tr("both edges"), "face": tr("clean"), "measure": tr("gauge")}
TOUCH_HEADS = {
    "tip": tr("Touch, tip at the face"),
    "full_diameter": tr("Full Ø at the face, at"),
    "edge_touch": tr("Touch, lips on the edge"),
    "flat_face": tr("Front end at the face, at"),
    "bottom": tr("Touch the bottom at"),
}


class FigureSpot(Shaded, Pressable):
    """A figure that can be pressed: nothing is drawn but a line under it and the ring."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A dotted line under what can be changed."""
        painter = QPainter(self)
        pen = QPen(self.shade.ink if self.hovered else self.shade.ink2, 2)
        pen.setDashPattern([1, 3])
        painter.setPen(pen)
        painter.drawLine(4, self.height() - 3, self.width() - 4, self.height() - 3)
        self.draw_ring(self, painter)


class CutNumbers(QWidget):
    """Painted large; size, speed and touch reading can be pressed to say what was really used."""

    asked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.shade = LIGHT
        self.card: Card | None = None
        self.unit = "mm"
        self.rpm: float | None = None
        self.minutes = 0.0
        self.spots = {
            "tool": FigureSpot(tr("Another tool was used"), self),
            "rpm": FigureSpot(tr("Another speed was set"), self),
            "start": FigureSpot(tr("The scale reads otherwise at the touch"), self),
        }
        for key, spot in self.spots.items():
            spot.clicked.connect(lambda _=False, k=key: self.asked.emit(k))
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)
        self.setAccessibleName(tr("Numbers of the operation"))

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(796, 560)

    def show_card(self, card: Card | None, unit: str, rpm: float | None, minutes: float) -> None:
        """Show an operation with the speed set and the minutes spent on it."""
        self.card, self.unit, self.rpm, self.minutes = card, unit, rpm, minutes
        for spot in self.spots.values():
            spot.shade = self.shade
        if card is not None:
            self.setAccessibleDescription(self._spoken(card))
        self._place()
        self.update()

    def _spoken(self, card: Card) -> str:
        parts = [
            tr("{card}, {index} of {of}", card=card.name, index=card.index + 1, of=card.of),
            size_said(card.size, self.unit),
            card.fetch,
        ]
        if self.rpm is not None:
            parts.append(tr("{rpm:g} revolutions a minute", rpm=self.rpm))
        if card.start:
            parts.append(
                tr(
                    "touch at {start}, stop at {stop} on the {main}",
                    start=card.start,
                    stop=card.stop,
                    main=card.main.words if card.main else "",
                )
            )
        parts.append(card.fluid)
        return ". ".join(part for part in parts if part)

    # -- where things stand --------------------------------------------------------------------

    def _k(self) -> float:
        return min(self.width() / DESIGN[0], self.height() / DESIGN[1])

    def _place(self) -> None:
        k, card = self._k(), self.card
        places = {
            "tool": QRectF(LEFT, 78, 360, 152),
            "rpm": QRectF(430, 78, 330, 152),
            "start": QRectF(LEFT, 246, 330, 134),
        }
        there = {
            "tool": card is not None and card.operation.tool is not None,
            "rpm": card is not None and self.rpm is not None,
            "start": card is not None and bool(card.start),
        }
        for key, spot in self.spots.items():
            box = places[key]
            spot.setGeometry(QRectF(box.x() * k, box.y() * k, box.width() * k, box.height() * k).toRect())
            spot.setVisible(there[key])

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep what can be pressed over its figure."""
        self._place()

    # -- painting ------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rows between rules."""
        painter = smooth(self)
        painter.fillRect(self.rect(), self.shade.plate)
        card = self.card
        if card is None:
            return
        k = self._k()
        painter.scale(k, k)
        self._heading(painter, card)
        self._size(painter, card)
        for y in (236.0, 390.0):
            painter.setPen(QPen(self.shade.rule, 1.4))
            painter.drawLine(QPointF(LEFT, y), QPointF(768, y))
        self._readings(painter, card)
        self._turns(painter, card)
        self._foot(painter, card)

    def _text(
        self, painter: QPainter, box: QRectF, text: str, size: float, bold: bool = True, quiet: bool = False
    ) -> float:
        """Text on a common baseline at the foot of a box; the width it took."""
        painter.setPen(self.shade.ink2 if quiet else self.shade.ink)
        painter.setFont(fit(painter, text, size, box.width(), bold))
        painter.drawText(QPointF(box.left(), box.bottom()), text)
        return float(painter.fontMetrics().horizontalAdvance(text))

    def _heading(self, painter: QPainter, card: Card) -> None:
        self._text(painter, QRectF(LEFT, 20, 560, 44), card.name, 46)
        words = tr("{index} of {of}", index=card.index + 1, of=card.of)
        painter.setPen(self.shade.ink2)
        painter.setFont(theme.font(26))
        right = RIGHT
        painter.drawText(QRectF(500, 16, 266, 36), right, words)
        fetch = card.fetch
        if fetch:
            painter.setFont(fit(painter, fetch, 22, 440, False))
            painter.drawText(QRectF(326, 50, 440, 28), right, fetch)

    def _size(self, painter: QPainter, card: Card) -> None:
        unit = self._size_unit(card)
        size = card.size or UNSIZED.get(card.operation.kind, "")
        full = 730.0 if self.rpm is None else (360.0 if unit else 372.0)
        big = 134.0 if card.size else 80.0
        used = self._text(painter, QRectF(LEFT, 90, full - (52 if unit else 0), 124), size, big)
        if unit:
            self._text(painter, QRectF(LEFT + used + 10, 90, 60, 124), unit, 40, False)
        if self.rpm is None:
            return
        painter.setPen(QPen(self.shade.rule, 1.4))
        painter.drawLine(QPointF(414, 100), QPointF(414, 212))
        used = self._text(painter, QRectF(434, 90, 250, 124), localized(f"{self.rpm:g}"), 134)
        self._text(painter, QRectF(434 + used + 10, 90, 90, 124), tr("rpm"), 40, False)

    def _size_unit(self, card: Card) -> str:
        tool = card.operation.tool
        named = tool is None or card.operation.kind == "tap" or not card.size[:1].isdigit() or " " in card.size
        return "" if named else self.unit

    def _readings(self, painter: QPainter, card: Card) -> None:
        if not card.rungs:
            self._no_depth(painter, card)
            return
        if not card.start:
            self._text(painter, QRectF(LEFT, 246, 700, 34), tr("Set the bar to, in turn"), 27, False, True)
            sizes = ", ".join(dict.fromkeys(rung.reading for rung in card.rungs))
            self._text(painter, QRectF(LEFT, 290, 730, 86), sizes, 84)
            return
        head = tr("Touch {meets}", meets=card.meets) if card.meets else TOUCH_HEADS.get(card.touch, tr("Touch at"))
        painter.setFont(fit(painter, head, 27, 380, False))
        self._text(painter, QRectF(LEFT, 246, 400, 34), head, float(painter.font().pixelSize()), False, True)
        self._text(painter, QRectF(448, 246, 110, 34), tr("Stop at"), 27, False, True)
        moves = sum(rung.what == "move_up" for rung in card.rungs)
        if moves:
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom
            write(painter, QRectF(540, 242, 226, 40), tr("{moves} strokes", moves=moves + 1), 22, flags=right)
        elif card.main is not None and card.main.slow is not None:
            painter.setFont(theme.font(22))
            words = tr("half feed {slow}", slow=card.main.say(card.main.slow))
            right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom
            painter.drawText(QRectF(540, 242, 226, 40), right, words)
        wide = 314.0
        painter.setFont(fit(painter, max(card.start, card.stop, key=len), 112, wide))
        size = float(painter.font().pixelSize())
        self._text(painter, QRectF(LEFT, 280, wide, 96), card.start, size)
        self._text(painter, QRectF(448, 280, wide, 96), card.stop, size)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.shade.brass)
        arrow = [(372, 327), (400, 327), (400, 313), (426, 332), (400, 351), (400, 337), (372, 337)]
        painter.drawPolygon(corners([QPointF(x, y) for x, y in arrow]))

    def _no_depth(self, painter: QPainter, card: Card) -> None:
        operation = card.operation
        if operation.turns is not None:
            used = self._text(painter, QRectF(LEFT, 270, 400, 100), localized(f"{operation.turns:.1f}"), 96)
            self._text(painter, QRectF(LEFT + used + 12, 270, 400, 100), tr("turns by hand, power off"), 34, False)
            return
        words = operation.because[0] if operation.because else ""
        painter.setPen(self.shade.ink)
        painter.setFont(theme.font(28))
        flags = int(MIDDLE | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(LEFT, 244, 726, 140), flags, words)

    def _turns(self, painter: QPainter, card: Card) -> None:
        wheel = card.wheel
        if wheel is None or wheel.turns is None or wheel.divisions is None:
            self._feed(painter, card)
            return
        self._dial(painter, wheel)
        at = 172.0
        for figure, words in (
            (f"{wheel.turns}", tr("turns")),
            (localized(f"{wheel.divisions:g}"), tr("divisions")),
        ):
            if words == "divisions":
                at += self._text(painter, QRectF(at, 400, 40, 96), "+", 60, False, True) + 16
            at += self._text(painter, QRectF(at, 400, 220, 96), figure, 84) + 10
            at += self._text(painter, QRectF(at, 400, 766 - at, 96), words, 36, False) + 18
        how = tr(
            "{wheel}, {division:g} {wheel_2} a division",
            wheel=wheel.words,
            division=wheel.division,
            wheel_2=wheel.unit,
        )
        self._text(painter, QRectF(172, 394, 594, 22), how, 20, False, True)

    def _dial(self, painter: QPainter, wheel: Marks) -> None:
        """The dial with where it stops; the arc is what is turned past the whole turns."""
        center, r = QPointF(94, 452), 50.0
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(self.shade.ink, 2))
        painter.drawEllipse(center, r, r)
        for tick in range(40):
            turn, long = math.radians(9 * tick), 13 if tick % 10 == 0 else 6
            inner = QPointF(center.x() + (r - long) * math.sin(turn), center.y() - (r - long) * math.cos(turn))
            outer = QPointF(center.x() + r * math.sin(turn), center.y() - r * math.cos(turn))
            painter.drawLine(inner, outer)
        share = (wheel.divisions or 0.0) / (wheel.per_turn or 1)
        arc = QPainterPath()
        box = QRectF(center.x() - 32, center.y() - 32, 64, 64)
        arc.arcMoveTo(box, 90)
        arc.arcTo(box, 90, -360 * share)
        painter.setPen(QPen(self.shade.brass, 7))
        painter.drawPath(arc)
        turn = 2 * math.pi * share
        painter.setPen(QPen(self.shade.ink, 5))
        painter.drawLine(
            QPointF(center.x() + 14 * math.sin(turn), center.y() - 14 * math.cos(turn)),
            QPointF(center.x() + 55 * math.sin(turn), center.y() - 55 * math.cos(turn)),
        )
        painter.setPen(QPen(self.shade.ink, 2))
        painter.drawEllipse(center, 10, 10)

    def _feed(self, painter: QPainter, card: Card) -> None:
        """Where no dial is turned: the feed, and how long a millimeter takes."""
        o = card.operation
        if o.feed_mm_per_rev is None:
            return
        feed = in_unit(o.feed_mm_per_rev, self.unit, 2, 4)
        used = self._text(painter, QRectF(LEFT, 400, 300, 96), feed, 84)
        words = tr(
            "{unit} a turn, {power}",
            unit=self.unit,
            power=tr("power feed") if o.feed_source == "power" else tr("by hand"),
        )
        self._text(painter, QRectF(LEFT + used + 12, 400, 440, 96), words, 32, False)
        if o.feed_source != "power" and o.seconds_per_mm is not None:
            step = 1.0 if self.unit == "mm" else 2.54
            name = "1 mm" if self.unit == "mm" else tr("a tenth of an inch")
            pace = tr("{seconds_per_mm:.1f} seconds for {name}", seconds_per_mm=o.seconds_per_mm * step, name=name)
            self._text(painter, QRectF(LEFT + used + 12, 430, 440, 26), pace, 24, False, True)

    def _foot(self, painter: QPainter, card: Card) -> None:
        """Fluid at the left, time at the right."""
        fluid = card.fluid
        if fluid and any(rung.what == "clear" for rung in card.rungs):
            fluid += tr(", again at every clearing")
        painter.setPen(self.shade.ink)
        painter.setFont(fit(painter, fluid, 24, 470, True))
        wraps = int(MIDDLE | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(LEFT, 506, 480, 54), wraps, fluid)
        spent, expected = clock(self.minutes), clock(card.minutes)
        words = (
            tr("{spent} of about {expected}", spent=spent, expected=expected)
            if self.minutes
            else tr("about {expected}", expected=expected)
        )
        painter.setFont(theme.font(24))
        painter.setPen(self.shade.ink2)
        right = RIGHT
        painter.drawText(QRectF(520, 516, 246, 34), right, words)


def clock(minutes: float) -> str:
    """Minutes as a clock shows them.

    >>> clock(2.75), clock(0.1)
    ('2:45', '0:06')
    """
    seconds = round(minutes * 60)
    return f"{seconds // 60}:{seconds % 60:02d}"
