"""The part from above: every hole where it stands, to scale, and the metal between the chosen one and the next."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen

from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, in_unit
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, draw_focus
from cordwainer.ui.kit.layout import CENTER, RIGHT, smooth, write

if TYPE_CHECKING:
    from collections.abc import Sequence

    from cordwainer.core.part.hole import Hole
    from cordwainer.core.part.layout import Edge, Neighbor

RULER, HEAD, LEAST_RADIUS = 34, 64, 3.0
MARGIN = 94  # the y flag stands in it
STEPS: dict[int, int] = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}
Bands = tuple[int, tuple[tuple[float, float], ...]]
TICKS = (1, 2, 5, 10, 20, 50, 100, 200, 500)


def _step(event: QKeyEvent) -> int:
    """Which way a key steps through the places; 0 for another key, or with a modifier held."""
    held = event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
    return 0 if held else STEPS.get(event.key(), 0)


class PartView(Picture):
    """Holes on the part; a press chooses the nearest one, arrows step through the places."""

    picked = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self.holes: Sequence[Hole] = ()
        self.neighbors: list[list[Neighbor | None]] = []
        self.chosen = (0, 0)
        self.unit = "mm"
        self.part_mm: tuple[float, float] | None = None
        self.edge: Edge | None = None
        self.parallels: Bands | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(420, 320)
        self.setAccessibleName(tr("The part from above"))

    def sizeHint(self) -> QSize:
        """Room to work in."""
        return QSize(776, 748)

    def show_part(
        self,
        holes: Sequence[Hole],
        neighbors: list[list[Neighbor | None]],
        chosen: tuple[int, int],
        unit: str,
        part_mm: tuple[float, float] | None = None,
        edge: Edge | None = None,
        parallels: Bands | None = None,
    ) -> None:
        """Show the holes of a job with one place of one hole chosen, on a part of that size if it is known.

        `parallels`: the coordinate they are apart in (0 for x) and where each lies in it, in mm.
        """
        self.part_mm, self.edge, self.parallels = part_mm, edge, parallels
        self.holes, self.neighbors, self.chosen, self.unit = holes, neighbors, chosen, unit
        placed = sum(len(hole.places_mm) for hole in holes)
        self.setAccessibleDescription(tr("{placed} places of {count} holes", placed=placed, count=len(holes)))
        self.update()

    # -- where things stand --------------------------------------------------------------------

    def _box(self) -> tuple[float, float, float, float] | None:
        """Left, lower, right and upper end of everything placed and the edges it is taken from, in mm."""
        found = [
            (x, y, max(hole.across_mm, hole.mouth.counterbore.mm if hole.mouth.counterbore else 0.0) / 2)
            for hole in self.holes
            for x, y in hole.places_mm
        ]
        if self.part_mm is not None:
            found += [(0.0, 0.0, 0.0), (*self.part_mm, 0.0)]
        if not found:
            return None
        low_x, low_y = min(x - r for x, _, r in found), min(y - r for _, y, r in found)
        high_x, high_y = max(x + r for x, _, r in found), max(y + r for _, y, r in found)
        if self.part_mm is not None and min(low_x, low_y) >= 0 and (high_x, high_y) == self.part_mm:
            return 0.0, 0.0, high_x, high_y
        spare = 0.06 * max(high_x - low_x, high_y - low_y, 1.0) + 2
        left, lower = (0.0 if low >= 0 else low - spare for low in (low_x, low_y))
        return left, lower, high_x + spare, high_y + spare

    def _frame(self) -> tuple[float, QPointF]:
        """Pixels a millimeter, and where 0, 0 stands on the screen."""
        box = self._box() or (0.0, 0.0, 100.0, 60.0)
        wide, high = self.width() - MARGIN - 24.0, self.height() - RULER - HEAD - 24.0
        scale = min(wide / (box[2] - box[0]), high / (box[3] - box[1]))
        left = MARGIN + (wide - scale * (box[2] - box[0])) / 2
        lower = self.height() - RULER - 12 - (high - scale * (box[3] - box[1])) / 2
        return scale, QPointF(left - box[0] * scale, lower + box[1] * scale)

    def at(self, place: tuple[float, float]) -> QPointF:
        """Where a place is on the screen."""
        scale, zero = self._frame()
        return QPointF(zero.x() + place[0] * scale, zero.y() - place[1] * scale)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The nearest place is chosen."""
        if event is None:
            return
        best: tuple[float, int, int] | None = None
        for index, hole in enumerate(self.holes):
            for number, place in enumerate(hole.places_mm):
                off = self.at(place) - event.position()
                apart = off.x() ** 2 + off.y() ** 2
                if best is None or apart < best[0]:
                    best = apart, index, number
        if best is not None:
            self.picked.emit(best[1], best[2])

    def event(self, event: QEvent | None) -> bool:
        """Arrows are the view's own while it is in focus; elsewhere they go through the operations."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and _step(event):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows step through the places, hole by hole."""
        if event is None:
            return
        step = _step(event)
        every = [(h, p) for h, hole in enumerate(self.holes) for p in range(len(hole.places_mm))]
        if not step or not every:
            super().keyPressEvent(event)
            return
        now = every.index(self.chosen) if self.chosen in every else -step
        self.picked.emit(*every[(now + step) % len(every)])

    # -- painting ------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Metal, edges, holes, the chosen one with its coordinates and its neighbor."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.HI)
        write(painter, QPointF(20, 32), tr("The part from above"), 20, True, color=theme.INK)
        box = self._box()
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        if box is None:
            painter.drawText(
                QPointF(20, 54), tr("No hole has a place yet: type x and y, or a pattern, at the right.")
            )
            return
        painter.drawText(QPointF(20, 54), tr("x and y from the left and lower edge, {unit}", unit=self.unit))
        scale, zero = self._frame()
        metal = QPainterPath()
        right_top = self.at((box[2], box[3]))
        edge = QPointF(zero.x() + min(box[0], 0.0) * scale, zero.y() - min(box[1], 0.0) * scale)
        if self.part_mm is not None:
            edge, right_top = zero, self.at(self.part_mm)
        metal.addRect(QRectF(edge.x(), right_top.y(), right_top.x() - edge.x(), edge.y() - right_top.y()))
        dye.fill_dye(painter, metal, QRectF(self.rect()))
        painter.setPen(QPen(theme.INK, 2))
        painter.drawLine(zero, QPointF(zero.x(), right_top.y()))
        painter.drawLine(zero, QPointF(right_top.x(), zero.y()))
        self._lies_on(painter, QRectF(edge, right_top).normalized(), scale, zero)
        self._rulers(painter, box, scale, zero)
        for index, hole in enumerate(self.holes):
            self._hole(painter, index, hole, scale)
        self._chosen(painter, scale, zero)

    def _lies_on(self, painter: QPainter, part: QRectF, scale: float, zero: QPointF) -> None:
        """The parallels under the part, as hidden lines."""
        if self.parallels is None:
            return
        axis, bands = self.parallels
        pen = QPen(theme.SCRIBE2, 1.4)
        pen.setDashPattern([5, 4])
        for low, high in bands:
            if axis == 0:
                band = QRectF(zero.x() + low * scale, part.top(), (high - low) * scale, part.height())
            else:
                band = QRectF(part.left(), zero.y() - high * scale, part.width(), (high - low) * scale)
            path = QPainterPath()
            path.addRect(band)
            dye.hatch_path(painter, path, 9, QColor(198, 190, 240, 70), 1.0, back=True)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(band)

    def _hole(self, painter: QPainter, index: int, hole: Hole, scale: float) -> None:
        r = max(hole.across_mm / 2 * scale, LEAST_RADIUS)
        current = index == self.chosen[0]
        many = len(hole.places_mm) > 40
        for number, place in enumerate(hole.places_mm):
            spot = self.at(place)
            mouth = hole.mouth.counterbore or hole.mouth.countersink
            if mouth is not None:
                painter.setPen(QPen(theme.SCRIBE2, 1.2))
                painter.setBrush(theme.DYELO)
                painter.drawEllipse(spot, mouth.mm / 2 * scale, mouth.mm / 2 * scale)
            painter.setBrush(theme.BARE)
            painter.setPen(QPen(theme.BRASSDYE if current else theme.SCRIBE, 2.2 if current else 1.2))
            painter.drawEllipse(spot, r, r)
            if number == 0 or (not many and r > 9):
                painter.setPen(QPen(theme.INK2, 0.8))
                painter.drawLine(spot - QPointF(r * 0.5, 0), spot + QPointF(r * 0.5, 0))
                painter.drawLine(spot - QPointF(0, r * 0.5), spot + QPointF(0, r * 0.5))
            if number == 0 or not many:
                painter.setFont(theme.font(13, number == 0))
                painter.setPen(theme.SCRIBE)
                name = hole.id if number == 0 else str(number + 1)
                aside = 17 if (index, number) == self.chosen else 4
                painter.drawText(QPointF(spot.x() + r + aside, spot.y() - r * 0.4 - 2), name)

    def _chosen(self, painter: QPainter, scale: float, zero: QPointF) -> None:
        index, number = self.chosen
        if index >= len(self.holes) or number >= len(self.holes[index].places_mm):
            return
        hole = self.holes[index]
        place = hole.places_mm[number]
        spot, r = self.at(place), max(hole.across_mm / 2 * scale, LEAST_RADIUS)
        pen = QPen(theme.BRASSDYE, 1.4)
        pen.setDashPattern([6, 4])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawLine(QPointF(spot.x(), spot.y() + r), QPointF(spot.x(), zero.y()))
        painter.drawLine(QPointF(spot.x() - r, spot.y()), QPointF(zero.x(), spot.y()))
        if self.hasFocus():
            draw_focus(painter, QRectF(spot.x() - r - 13, spot.y() - r - 13, 2 * r + 26, 2 * r + 26))
        painter.setPen(QPen(theme.BRASSDYE, 3))
        painter.drawEllipse(spot, r + 4, r + 4)
        for text, box in (
            (in_unit(place[0], self.unit, 2, 4), QRectF(spot.x() - 40, zero.y() + 9, 80, 22)),
            (in_unit(place[1], self.unit, 2, 4), QRectF(zero.x() - 78, spot.y() - 11, 72, 22)),
        ):
            painter.fillRect(box, theme.BRASS)
            write(painter, box, text, 14, True, color=theme.INK, flags=CENTER)
        self._edge(painter, spot, r, scale, zero)
        near = self.neighbors[index][number] if index < len(self.neighbors) else None
        if near is None:
            return
        other = self.at(self.holes[near.hole].places_mm[near.place])
        painter.setPen(QPen(theme.BRASSDYE, 2))
        painter.drawLine(spot, other)
        self._metal(painter, (spot + other) / 2, near.metal_mm)

    def _metal(self, painter: QPainter, middle: QPointF, metal_mm: float, right: bool = False) -> None:
        """Words over the middle of a line, or at the right of an upright one; never off the page."""
        words = tr("{metal_mm} of metal", metal_mm=in_unit(metal_mm, self.unit, 2, 4))
        painter.setFont(theme.font(14, True))
        wide = painter.fontMetrics().horizontalAdvance(words) + 12
        box = QRectF(middle.x() - wide / 2, middle.y() - 34, wide, 20)
        if right:
            box = QRectF(middle.x() + 8, middle.y() - 10, wide, 20)
        box.moveRight(min(box.right(), self.width() - 28.0))
        painter.fillRect(box, theme.DYELO)
        painter.setPen(theme.SCRIBE)
        painter.drawText(box, CENTER, words)

    def _edge(self, painter: QPainter, spot: QPointF, r: float, scale: float, zero: QPointF) -> None:
        """The metal to the nearest edge, drawn where the part's size is known."""
        if self.edge is None or self.part_mm is None:
            return
        far = self.at(self.part_mm)
        ends = {
            "left": (QPointF(spot.x() - r, spot.y()), QPointF(zero.x(), spot.y())),
            "right": (QPointF(spot.x() + r, spot.y()), QPointF(far.x(), spot.y())),
            "lower": (QPointF(spot.x(), spot.y() + r), QPointF(spot.x(), zero.y())),
            "upper": (QPointF(spot.x(), spot.y() - r), QPointF(spot.x(), far.y())),
        }
        wall, side = ends[self.edge.name]
        painter.setPen(QPen(theme.BRASSDYE, 2))
        painter.drawLine(wall, side)
        middle = (wall + side) / 2
        beside = self.edge.name in ("left", "right")
        self._metal(
            painter, QPointF(middle.x(), spot.y() - r) if beside else middle, self.edge.metal_mm, not beside
        )

    def _rulers(
        self, painter: QPainter, box: tuple[float, float, float, float], scale: float, zero: QPointF
    ) -> None:
        """Ticks along both edges, a figure at each long one."""
        one = 1.0 if self.unit == "mm" else INCH_MM
        tick = next(
            (t * one / (10 if self.unit == "in" else 1) for t in TICKS if t * one * scale >= 46), 500 * one
        )
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK)
        for k in range(1, int(max(box[2], box[3]) / tick) + 1):
            z = k * tick
            text = in_unit(z, self.unit, 0, 1)
            if z <= box[2]:
                x = zero.x() + z * scale
                painter.drawLine(QPointF(x, zero.y()), QPointF(x, zero.y() + 6))
                painter.drawText(QRectF(x - 30, zero.y() + 8, 60, 18), CENTER, text)
            if z <= box[3]:
                y = zero.y() - z * scale
                painter.drawLine(QPointF(zero.x() - 6, y), QPointF(zero.x(), y))
                side = RIGHT
                painter.drawText(QRectF(zero.x() - 70, y - 9, 60, 18), side, text)
