"""The hole standing up with its rungs: touch, clearings, stop; the tool at the last one confirmed, or live."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.ui.canvas import dye, tools
from cordwainer.ui.canvas.profile import Half, half_profile
from cordwainer.ui.kit.basics import Pressable, corners, mark
from cordwainer.ui.kit.layout import CENTER, RIGHT, smooth, write
from cordwainer.ui.stages.cut.cut_parts import Shaded, fit

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.machine.card import Card, Rung
    from cordwainer.core.planning.words.operation import Route

FACE, FOOT = 126.0, 46.0
AXIS_SHARE, HALF_SHARE, WIDE = 0.244, 0.19, 484.0
FLAG, LINE = 92.0, 54.0
WORDS = {
    "clear": tr("clear chips, tap here"),
    "stop": tr("stop here, tap"),
    "touch": tr("touch here, tap"),
    "pass": tr("set the bar"),
    "move_up": tr("stop, move up, tap"),
}


def standing(half: Half, face: float, axis: float, scale: float) -> QPainterPath:
    """A mirrored profile with the depth running down."""
    path = QPainterPath()
    if not half:
        return path
    points = [QPointF(axis - r * scale, face + z * scale) for z, r in half]
    points += [QPointF(axis + r * scale, face + z * scale) for z, r in reversed(half)]
    path.addPolygon(corners(points))
    path.closeSubpath()
    return path


class PeckLadder(Shaded, Pressable):
    """One large target: a press confirms the next rung. Only a readout ever says where the tool really is."""

    def __init__(self) -> None:
        super().__init__(tr("Next rung"))
        self.to_tab(self)
        self.hole: Hole | None = None
        self.route: Route | None = None
        self.card: Card | None = None
        self.rung = -1
        self.live_mm: float | None = None
        self.hidden = False
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(484, 616)

    def show_card(
        self,
        hole: Hole | None,
        route: Route | None,
        card: Card | None,
        rung: int,
        live_mm: float | None,
        hide: bool,
    ) -> None:
        """Show an operation with the last rung confirmed; `hide` keeps the readings until cautions are ticked."""
        self.hole, self.route, self.card, self.rung, self.live_mm = hole, route, card, rung, live_mm
        self.hidden = hide
        follows = self._next()
        words = (
            tr("Next: {what}, {reading}", what=WORDS.get(follows.what, follows.what), reading=follows.reading)
            if follows
            else tr("Done with it")
        )
        self.setAccessibleName(words)
        self.update()

    def show_live(self, live_mm: float | None) -> None:
        """Where a linked readout says the tip is; None where nothing is known."""
        if live_mm != self.live_mm:
            self.live_mm = live_mm
            self.update()

    def _next(self) -> Rung | None:
        if self.card is None or self.rung + 1 >= len(self.card.rungs):
            return None
        return self.card.rungs[self.rung + 1]

    @property
    def axis(self) -> float:
        """Where the hole's axis stands, in pixels from the left."""
        return AXIS_SHARE * min(self.width(), WIDE)

    @property
    def half(self) -> float:
        """The most room for half a hole, in pixels."""
        return HALF_SHARE * min(self.width(), WIDE)

    @property
    def edge(self) -> float:
        """Where the widest hole's wall stands."""
        return self.axis + self.half

    def _deepest(self) -> float:
        hole, route = self.hole, self.route
        deep = [o.tip_mm or 0.0 for o in route.operations] if route is not None else []
        if hole is not None:
            deep.append(hole.depth_mm + (min(hole.under_gap_mm, 10.0) if hole.under_gap_mm else 0.0))
        return max(deep, default=10.0)

    def _scale(self) -> float:
        hole = self.hole
        halves = [half_profile(o) for o in self.route.operations] if self.route is not None else []
        widest = 2 * max([r for half in halves for _, r in half], default=0.0)
        widest = max(widest, hole.nominal_mm if hole is not None else 1.0, 0.1)
        room = self.height() - FACE - FOOT
        return min(room / self._deepest(), 2 * self.half / widest)

    def tip_mm(self) -> float:
        """Where the tool is drawn: live, at the last rung confirmed, or clear of the work."""
        card = self.card
        if self.live_mm is not None:
            return self.live_mm
        if card is None or self.rung < 0 or not card.rungs:
            return -14.0 / self._scale()
        return card.rungs[min(self.rung, len(card.rungs) - 1)].tip_mm

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Air, dyed metal, what is cut, what is to be cut, the tool, the rungs."""
        painter = smooth(self)
        shade, whole = self.shade, QRectF(self.rect())
        painter.fillRect(whole, shade.hi)
        hole, route, card = self.hole, self.route, self.card
        if hole is None or route is None or card is None:
            return
        scale = self._scale()
        thick = hole.depth_mm if hole.through else hole.part_thickness_mm
        bottom = FACE + thick * scale if thick is not None else whole.height()
        bottom = min(bottom, whole.height())
        block = QPainterPath()
        block.addRect(QRectF(0, FACE, whole.width(), bottom - FACE))
        if shade.name == "light":
            dye.fill_dye(painter, block, whole)
        else:
            painter.fillPath(block, shade.dye)
            dye.hatch_path(painter, block, 16, shade.dyelo, 1.0)
        self._under(painter, bottom, scale)
        self._cut(painter, block, scale)
        painter.setPen(QPen(shade.ink, 2))
        painter.drawLine(QPointF(0, FACE), QPointF(whole.width(), FACE))
        self._tool(painter, scale)
        self._head(painter)
        if not self.hidden:
            self._rungs(painter, scale, bottom)
        self.draw_ring(self, painter)

    def _under(self, painter: QPainter, bottom: float, scale: float) -> None:
        hole = self.hole
        if hole is None or not hole.through or hole.under_gap_mm is None:
            return
        y = bottom + hole.under_gap_mm * scale
        if y < self.height():
            painter.fillRect(QRectF(0, y, self.width(), self.height() - y), self.shade.steel)
            write(
                painter,
                QPointF(16, min(y + 24, self.height() - 8)),
                hole.under or "under",
                20,
                color=self.shade.ink,
            )

    def _cut(self, painter: QPainter, block: QPainterPath, scale: float) -> None:
        """What earlier steps cut, what this one is to cut, and what of that is confirmed."""
        assert self.route is not None and self.card is not None and self.hole is not None
        shade, opened = self.shade, QPainterPath()
        if self.hole.existing_mm is not None:
            r, deep = self.hole.existing_mm / 2, self.hole.depth_mm
            opened = standing([(0, r), (deep, r), (deep, 0)], FACE, self.axis, scale)
        for operation in self.route.operations[: self.card.index]:
            opened = opened.united(standing(half_profile(operation), FACE, self.axis, scale))
        this = standing(half_profile(self.card.operation), FACE, self.axis, scale).intersected(block)
        opened = opened.intersected(block)
        fresh = this.subtracted(opened)
        painter.fillPath(fresh, shade.dyelo)
        dye.hatch_path(painter, fresh, 8, shade.brass, 1.5)
        reached = QPainterPath()
        reached.addRect(QRectF(0, 0, self.width(), FACE + max(self.tip_mm(), 0.0) * scale))
        painter.fillPath(fresh.intersected(reached) if self.rung >= 0 else QPainterPath(), shade.bare)
        painter.fillPath(opened, shade.bare)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(shade.scribe, 1.4))
        painter.drawPath(opened)
        painter.setPen(QPen(shade.scribe, 2.4))
        painter.drawPath(this)

    def _tool(self, painter: QPainter, scale: float) -> None:
        card = self.card
        if card is None or card.operation.tool is None or card.operation.tip_mm is None:
            return
        tip = FACE + self.tip_mm() * scale
        size = card.operation.diameter_mm if card.operation.tool.kind == "boring_bar" else None
        shape = tools.outline(card.operation.tool, card.operation.kind, (tip + 20) / scale + 2, size_mm=size)
        painter.save()
        painter.setClipRect(QRectF(0, 0, self.width(), self.height()))
        painter.translate(self.axis, tip)
        painter.rotate(-90)
        tools.paint(painter, shape, QPointF(0, 0), scale, self.shade.steel, self.shade.flute)
        painter.restore()

    def _head(self, painter: QPainter) -> None:
        """How many are cleared, on which scale it is read, whether it is live."""
        card, shade = self.card, self.shade
        assert card is not None
        clears = sum(r.what == "clear" for r in card.rungs)
        done = sum(r.what == "clear" for r in card.rungs[: self.rung + 1])
        words = (
            tr("{done} of {clears} cleared", done=done, clears=clears)
            if clears
            else ("" if not card.rungs else tr("No clearing"))
        )
        if card.operation.kind == "bore":
            words = tr("{rung} of {count} passes", rung=max(self.rung + 1, 0), count=len(card.rungs))
        right = QRectF(self.edge + 6, 14, self.width() - self.axis - self.half - 30, 44)
        side = RIGHT
        painter.setPen(shade.ink)
        painter.setFont(fit(painter, words, 30, right.width()))
        painter.drawText(right, side, words)
        scale = (
            tr("{main} scale, {main_2}", main=card.main.words, main_2=card.main.unit)
            if card.main is not None and card.rungs
            else ""
        )
        scale = scale.replace("readout scale", "readout").replace("dial scale", "dial")
        if card.operation.kind == "bore":
            scale = tr("sizes to set")
        unit = card.main.unit if card.main is not None else "mm"
        if self.live_mm is not None:
            goes = self._next()
            left = (
                tr(", {tip_mm} to go", tip_mm=in_unit(goes.tip_mm - self.live_mm, unit, 2, 3))
                if goes is not None
                else ""
            )
            scale = tr("live {live_mm}{left}", live_mm=in_unit(self.live_mm, unit, 2, 3), left=left)
        painter.setPen(shade.ink2)
        painter.setFont(fit(painter, scale, 25, right.width(), False))
        painter.drawText(right.translated(0, 44), side, scale)

    def _rungs(self, painter: QPainter, scale: float, bottom: float) -> None:
        """The next rung large in brass; the last, the one after, and the stop quieter, none over another."""
        card = self.card
        assert card is not None
        rungs, follows = card.rungs, self.rung + 1
        if not rungs:
            return
        if card.operation.kind == "bore":
            self._passes(painter)
            return
        every = set(range(len(rungs)))
        room = self.height() - FACE - 62.0
        near = {0, self.rung, follows, follows + 1, len(rungs) - 1} & every
        shown = sorted(every if FLAG + LINE * (len(rungs) - 1) <= room else near)
        heights = [FLAG if i == follows else LINE for i in shown]
        wanted = [FACE + rungs[i].tip_mm * scale for i in shown]
        places = spread(wanted, heights, FACE + 30, self.height() - 32.0)
        slow = card.slow_tip_mm
        if slow is not None:
            y = FACE + slow * scale
            pen = QPen(self.shade.brassdye, 2)
            pen.setDashPattern([4, 3])
            painter.setPen(pen)
            painter.drawLine(QPointF(self.axis - self.half - 16, y), QPointF(self.edge + 10, y))
        for i, y in zip(shown, places, strict=True):
            true = FACE + rungs[i].tip_mm * scale
            self._rung(painter, i, y, true, bottom, follows)

    def _rung(self, painter: QPainter, i: int, y: float, true: float, bottom: float, follows: int) -> None:
        card, shade = self.card, self.shade
        assert card is not None
        rung, width = card.rungs[i], float(self.width())
        on_dye = y + 10 < bottom
        quiet = (shade.scribe2 if i < follows else shade.scribe) if on_dye else shade.ink
        left = self.edge + 14
        painter.setPen(QPen(shade.brass, 3 if i >= follows else 2))
        r = (card.operation.diameter_mm or 0.0) / 2 * self._scale()
        elbow = max(self.axis + r + 8, self.edge - 30)
        painter.drawPolyline(
            corners([QPointF(self.axis + r + 5, true), QPointF(elbow, true), QPointF(left + 10, y)])
        )
        side = RIGHT
        if i == follows:
            top, foot = y - FLAG / 2, y + FLAG / 2
            flag = QPainterPath(QPointF(left + 8, y))
            for point in ((left + 28, top), (width, top), (width, foot), (left + 28, foot)):
                flag.lineTo(*point)
            flag.closeSubpath()
            painter.fillPath(flag, shade.brass)
            painter.setPen(shade.on_brass)
            box = QRectF(left + 36, y - FLAG / 2 + 2, width - left - 60, 60)
            painter.setFont(fit(painter, rung.reading, 66, box.width()))
            painter.drawText(box, side, rung.reading)
            words = WORDS.get(rung.what, "")
            if box.width() < 190:
                words = words.partition(",")[0]
            painter.setFont(fit(painter, words, 22, box.width(), False))
            painter.drawText(QRectF(box.left(), y + 16, box.width(), 28), side, words)
            return
        if abs(y - bottom) < 30 and card.rungs[i].reading:
            painter.fillRect(QRectF(left + 8, y - 27, width - left - 8, 54), shade.hi)
            quiet = shade.ink
        if i == self.rung:
            mark(painter, "accept", QPointF(left + 30, y), 14, quiet, shade.dye)
        size = 50 if i == len(card.rungs) - 1 else 42
        box = QRectF(left + 66, y - 30, width - left - 90, 60)
        painter.setPen(quiet)
        painter.setFont(fit(painter, rung.reading, size, box.width(), i == len(card.rungs) - 1))
        painter.drawText(box, side, rung.reading)
        if rung.what in ("touch", "stop") and i != self.rung and width - left > 230:
            write(painter, QRectF(left + 16, y - 22, 80, 48), tr(rung.what), 22)

    def _passes(self, painter: QPainter) -> None:
        """A bar's settings in a column, the next one in brass."""
        card, shade = self.card, self.shade
        assert card is not None
        y, follows = FACE + 40, self.rung + 1
        first = max(0, min(follows - 1, len(card.rungs) - 6))
        for i, rung in enumerate(card.rungs[first : first + 6], first):
            box = QRectF(self.edge + 20, y, self.width() - self.axis - self.half - 40, 64)
            words = rung.reading if rung.what == "pass" else tr("{reading} again", reading=rung.reading)
            if i == follows:
                painter.fillRect(box, shade.brass)
            painter.setPen(shade.on_brass if i == follows else (shade.scribe2 if i < follows else shade.scribe))
            painter.setFont(fit(painter, words, 50 if i == follows else 40, box.width() - 20))
            painter.drawText(box, CENTER, words)
            y += 76


def spread(wanted: list[float], heights: list[float], low: float, high: float) -> list[float]:
    """Places as near those wanted as boxes of those heights allow, in order, between two ends.

    >>> spread([10, 12], [20, 20], 0, 100)
    [10, 30.0]
    """
    found: list[float] = []
    for place, tall in zip(wanted, heights, strict=True):
        least = low if not found else found[-1] + (heights[len(found) - 1] + tall) / 2
        found.append(max(place, least))
    limit = high
    for i in range(len(found) - 1, -1, -1):
        found[i] = min(found[i], limit)
        limit = found[i] - (heights[i] + heights[i - 1]) / 2 if i else limit
    return found
