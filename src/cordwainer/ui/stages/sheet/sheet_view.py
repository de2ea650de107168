"""One sheet of a drawing, to be moved and looked at closely, with a mark around every callout."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QBrush,
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)

from cordwainer.core.language import tr
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.core.prints.sheets import Circle, Sheet
from cordwainer.core.prints.signs import spoken
from cordwainer.core.prints.words import Box, Point
from cordwainer.files.prints.review import Item
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, corners, mark
from cordwainer.ui.kit.keys import keeps
from cordwainer.ui.kit.layout import CENTER, smooth, write

STEP, CLOSEST, MARGIN = 1.25, 60.0, 24
NEAR_PX, LEAST_TEXT_PX, READABLE_PX = 4, 3.0, 20.0
OWN_KEYS = {
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Plus, Qt.Key.Key_Equal,
    Qt.Key.Key_Minus, Qt.Key.Key_0,
}  # fmt: skip
MARKS = {SURE: "accept", DOUBT: "cannot_tell", NO_HOLE: "none"}


@dataclass(frozen=True)
class Shown:
    """What a sheet shows: its lines and circles where it is drawn by them, else a picture asked for by scale."""

    sheet: Sheet
    items: tuple[tuple[int, Item], ...] = ()
    lines: Sequence[Sequence[Point]] = ()
    circles: Sequence[Circle] = ()
    free: Sequence[Circle] = ()
    picture: Callable[[float], QImage | None] | None = None


class SheetView(Picture):
    """A sheet under the hands: wheel for closer, drag to move, press a mark, Shift and drag over words."""

    picked = pyqtSignal(int)
    marked = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("The drawing"))
        self.shown: Shown | None = None
        self.index = -1
        self.marking = False
        self._middle: Point = (0.0, 0.0)
        self._scale = 1.0
        self._own = False  # whether the hands have moved it
        self._from: QPointF | None = None
        self._band: tuple[QPointF, QPointF] | None = None
        self._path: tuple[object, QPainterPath] | None = None

    # -- what is shown -----------------------------------------------------------------------------

    def show_sheet(self, shown: Shown, index: int) -> None:
        """Show a sheet with a callout in hand; another sheet is shown whole."""
        another = self.shown is None or self.shown.sheet is not shown.sheet
        self.shown = shown
        if another:
            self._own, self._path = False, None
            self._fit()
        if index != self.index and index >= 0 and not another:
            self._bring(index)
        self.index = index
        states = [item.state for _, item in shown.items]
        self.setAccessibleDescription(
            tr(
                "Sheet {sheet}: {count} callouts read, {count_2} in doubt",
                sheet=shown.sheet.number + 1,
                count=states.count(SURE),
                count_2=states.count(DOUBT),
            )
        )
        self.update()

    def clear(self) -> None:
        """Nothing to show: a list has no drawing."""
        self.shown, self.index = None, -1
        self.update()

    def _fit(self) -> None:
        if self.shown is None:
            return
        sheet = self.shown.sheet
        wide, high = max(self.width() - 2 * MARGIN, 50), max(self.height() - 2 * MARGIN, 50)
        self._scale = min(wide / sheet.width, high / sheet.height)
        self._middle = sheet.left + sheet.width / 2, sheet.low + sheet.height / 2

    def _bring(self, index: int) -> None:
        """Bring a callout into view where it is outside, close enough to be read."""
        item = next((item for k, item in self.shown.items if k == index), None) if self.shown else None
        if item is None or not item.found.boxes:
            return
        high = min(box.height for box in item.found.boxes) * self._scale
        if high < READABLE_PX:
            self._scale *= READABLE_PX / high
            self._middle, self._own = item.found.box.center, True
        at = self._at(item.found.box.center)
        if not QRectF(self.rect()).adjusted(40, 40, -40, -40).contains(at):
            self._middle, self._own = item.found.box.center, True

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Whole as long as nobody has moved it."""
        if not self._own:
            self._fit()

    # -- places ------------------------------------------------------------------------------------

    def _at(self, point: Point) -> QPointF:
        """A sheet's point in the window."""
        return QPointF(
            self.width() / 2 + (point[0] - self._middle[0]) * self._scale,
            self.height() / 2 - (point[1] - self._middle[1]) * self._scale,
        )

    def _on(self, at: QPointF) -> Point:
        """A window's point on the sheet."""
        return (
            self._middle[0] + (at.x() - self.width() / 2) / self._scale,
            self._middle[1] - (at.y() - self.height() / 2) / self._scale,
        )

    def closer(self, times: float, at: QPointF | None = None) -> None:
        """So many times as close, about a point of the window."""
        if self.shown is None:
            return
        whole = min(self.width() / self.shown.sheet.width, self.height() / self.shown.sheet.height)
        fixed = at or QPointF(self.width() / 2, self.height() / 2)
        before = self._on(fixed)
        self._scale = min(max(self._scale * times, 0.5 * whole), CLOSEST * whole)
        after = self._on(fixed)
        self._middle = self._middle[0] + before[0] - after[0], self._middle[1] + before[1] - after[1]
        self._own = True
        self.update()

    def whole(self) -> None:
        """The whole sheet."""
        self._own = False
        self._fit()
        self.update()

    def under(self, at: QPointF) -> int:
        """The callout at a point of the window, -1 for none; the smallest where several lie."""
        if self.shown is None:
            return -1
        point, air = self._on(at), NEAR_PX / self._scale
        found = [
            (min(box.width * box.height for box in item.found.boxes), index)
            for index, item in self.shown.items
            if item.found.boxes and min(box.away(point) for box in item.found.boxes) <= air
        ]
        return min(found)[1] if found else -1

    # -- hands -------------------------------------------------------------------------------------

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Closer and away, about the pointer."""
        if event is not None:
            self.closer(STEP ** (event.angleDelta().y() / 120), event.position())
            event.accept()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A mark is picked; else the sheet is taken hold of, or words are marked."""
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        marking = self.marking or bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        index = -1 if marking else self.under(event.position())
        if index >= 0:
            self.picked.emit(index)
            return
        self._from = event.position()
        self._band = (event.position(), event.position()) if marking else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Move the sheet, or draw the band."""
        if event is None:
            return
        if self._from is None:
            over = self.under(event.position()) >= 0
            shape = Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor
            self.setCursor(Qt.CursorShape.CrossCursor if self.marking else shape)
            return
        if self._band is not None:
            self._band = self._band[0], event.position()
        else:
            off = event.position() - self._from
            self._from = event.position()
            self._middle = self._middle[0] - off.x() / self._scale, self._middle[1] + off.y() / self._scale
            self._own = True
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The words under the band are marked."""
        band, self._from, self._band = self._band, None, None
        if band is not None and self.shown is not None:
            (x0, y0), (x1, y1) = (self._on(at) for at in band)
            left, low = min(x0, x1), min(y0, y1)
            width, height = abs(x1 - x0), abs(y1 - y0)
            if width * self._scale > NEAR_PX and height * self._scale > NEAR_PX:
                self.marked.emit(Box(left, low, width, height, 0.0))
        self.update()

    def event(self, event: QEvent | None) -> bool:
        """Its own keys before the window's."""
        return keeps(event, OWN_KEYS) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Plus and minus, 0 for the whole, arrows move."""
        if event is None:
            return
        moves = {
            Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1),
        }  # fmt: skip
        if event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.closer(STEP)
        elif event.key() == Qt.Key.Key_Minus:
            self.closer(1 / STEP)
        elif event.key() == Qt.Key.Key_0:
            self.whole()
        elif event.key() in moves:
            x, y = moves[Qt.Key(event.key())]
            self._middle = self._middle[0] + 60 * x / self._scale, self._middle[1] + 60 * y / self._scale
            self._own = True
            self.update()
        else:
            super().keyPressEvent(event)

    # -- paint -------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The table, the paper, what is on it, the marks."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.LO)
        if self.shown is None:
            write(
                painter,
                QRectF(self.rect()),
                tr("A list has no drawing to be shown"),
                16,
                color=theme.INK2,
                flags=CENTER,
            )
            return
        sheet = self.shown.sheet
        paper = QRectF(
            self._at((sheet.left, sheet.low + sheet.height)), self._at((sheet.left + sheet.width, sheet.low))
        )
        painter.fillRect(paper, theme.HI)
        if self.shown.picture is not None:
            image = self.shown.picture(self._scale * self.devicePixelRatioF())
            if image is not None:
                painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
                painter.drawImage(paper, image)
        else:
            self._paint_lines(painter)
        painter.setPen(QPen(theme.RULE, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(paper)
        for index, item in self.shown.items:
            if item.found.boxes:
                self._paint_mark(painter, index, item)
        if self._band is not None:
            painter.setPen(QPen(theme.BRASS, 2, Qt.PenStyle.DashLine))
            painter.setBrush(QBrush(QColor(200, 150, 43, 40)))
            painter.drawRect(QRectF(*self._band).normalized())
        if self.hasFocus():
            painter.setPen(QPen(theme.BRASS, 3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))

    def _paint_lines(self, painter: QPainter) -> None:
        """A drawing that is lines: thin ink, its words in the window's typeface, lonely circles dotted."""
        assert self.shown is not None
        if self._path is None or self._path[0] is not self.shown.lines:
            path = QPainterPath()
            for points in self.shown.lines:
                path.moveTo(*points[0])
                for point in points[1:]:
                    path.lineTo(*point)
            self._path = self.shown.lines, path
        painter.save()
        painter.translate(self._at((0.0, 0.0)))
        painter.scale(self._scale, -self._scale)
        pen = QPen(theme.INK, 1.2)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(self._path[1])
        painter.restore()
        painter.setPen(theme.INK)
        for run in self.shown.sheet.runs:
            size = run.height * self._scale
            if size < LEAST_TEXT_PX:
                continue
            painter.save()
            painter.translate(self._at((run.x, run.y)))
            painter.rotate(-run.angle_deg)
            font = theme.font(100)
            painter.setFont(font)
            long = max(painter.fontMetrics().horizontalAdvance(spoken(run.text)), 1)
            high = size / 72
            painter.scale(min(run.width * self._scale / long, high) if run.width else high, high)
            painter.drawText(QPointF(0, 0), spoken(run.text))
            painter.restore()
        painter.setPen(QPen(theme.BRASSINK, 2, Qt.PenStyle.DotLine))
        for circle in self.shown.free:
            radius = circle.diameter / 2 * self._scale + 4
            painter.drawEllipse(self._at((circle.x, circle.y)), radius, radius)

    def _paint_mark(self, painter: QPainter, index: int, item: Item) -> None:
        """A box around the words: solid read, dashed in doubt, hair no hole; brass in hand, a tag once taken."""
        chosen = index == self.index
        points = corners([self._at(p) for p in item.found.box.corners])
        painter.setBrush(QBrush(QColor(200, 150, 43, 56)) if chosen else Qt.BrushStyle.NoBrush)
        if item.taken:
            painter.setPen(QPen(theme.INK, 2.4))
        elif item.state == SURE:
            painter.setPen(QPen(theme.INK, 1.8))
        elif item.state == DOUBT:
            painter.setPen(QPen(theme.BRASSINK, 2.4, Qt.PenStyle.DashLine))
        else:
            painter.setPen(QPen(theme.RULE, 1, Qt.PenStyle.DotLine))
        painter.drawPolygon(points)
        if chosen:
            painter.setPen(QPen(theme.BRASS, 3))
            painter.drawPolygon(points)
        if item.state == NO_HOLE:
            return
        bounds = points.boundingRect()
        at = QPointF(bounds.left() - 11, bounds.top() - 3)
        if item.taken:
            painter.setPen(QPen(theme.INK, 1.6))
            painter.setBrush(theme.BRASS)
            painter.drawEllipse(at, 11, 11)
            painter.setFont(theme.font(13 if len(item.taken) < 3 else 10, True))
            painter.setPen(theme.INK)
            painter.drawText(QRectF(at.x() - 12, at.y() - 11, 24, 22), CENTER, item.taken)
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.HI)
            painter.drawEllipse(at, 10, 10)
            mark(painter, MARKS[item.state], at, 7, theme.INK, theme.HI)
        for place in item.found.places if chosen else ():
            spot = self._at(place)
            painter.setPen(QPen(theme.BRASS, 3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(spot, 7, 7)
            painter.drawLine(spot - QPointF(12, 0), spot + QPointF(12, 0))
            painter.drawLine(spot - QPointF(0, 12), spot + QPointF(0, 12))


def words_in(sheet: Sheet, area: Box) -> str:
    """The words of a sheet that lie within an area, in reading order."""
    from cordwainer.core.prints.lines import lines_of

    left, low, right, top = area.bounds

    def inside(x: float, y: float) -> bool:
        return left <= x <= right and low <= y <= top

    runs = [
        run
        for run in sheet.runs
        if inside(
            run.x + 0.5 * run.width * math.cos(math.radians(run.angle_deg)),
            run.y + 0.5 * run.width * math.sin(math.radians(run.angle_deg)),
        )
    ]
    return " ".join(line.text for line in lines_of(runs))
