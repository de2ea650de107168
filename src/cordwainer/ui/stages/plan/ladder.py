"""The size ladder: every tool of the sequence and the hole it is likely to leave, on one diameter axis.

The axis has three straight stretches parted by double strokes: the leading drills in millimeters, the last
one in hundredths, the finished size in the print's slot. A post is a tool, a curve the hole it leaves.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QResizeEvent

from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wording import (
    asked_words,
    band_words,
    fixed,
    plain,
    role_name,
    route_chance,
    shown_chance,
    size_said,
    size_shown,
)
from cordwainer.ui.canvas.slot import Slot, curve_path
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, RIGHT, write
from cordwainer.ui.stages.plan.rung import RUNG, ToolRung

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Density, Forecast
    from cordwainer.core.planning.words.operation import Operation, Route

WIDENED = 9
AXIS_UP = 44
CHANCE_WIDE = 340  # what the chance and its words take at the right
HEAD = 70
LEAST_SPREAD_MM = 0.001  # holes that all come out alike still have a place of their own on the axis
FINISHERS = ("ream", "bore", "end_mill")
NO_SLOT = ("taper_pin", "center_hole")


@dataclass(frozen=True)
class AxisStretch:
    """One straight piece of the axis."""

    left: float
    right: float
    low_mm: float
    high_mm: float

    def x(self, size_mm: float) -> float:
        """Where a size stands."""
        return self.left + (size_mm - self.low_mm) / (self.high_mm - self.low_mm) * (self.right - self.left)


@layered
class Ladder(Picture):
    """The ladder of one route; rungs and selection are the sequence's own."""

    picked = pyqtSignal(int)
    stepped = pyqtSignal(int, bool)
    opened = pyqtSignal(int, QPoint)

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.route: Route | None = None
        self.current = 0
        self.unit = "mm"
        self.working = False
        self.forecast: Forecast | None = None
        self.rungs: list[ToolRung] = []
        self.leans: list[tuple[str, str]] = []
        self.before: list[tuple[str, str, str]] = []
        self.named: list[QRectF] = []
        self.slot = Slot()
        self.slot.setParent(self)
        self.setAccessibleName(tr("Size ladder"))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumHeight(200)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(708, 296)

    def show_route(
        self,
        hole: Hole | None,
        route: Route | None,
        current: int,
        unit: str,
        working: bool,
        forecast: Forecast | None = None,
    ) -> None:
        """Show a route with one operation selected; curves are the forecast's once there is one."""
        self.forecast = forecast
        fresh = route is not self.route or hole is not self.hole
        self.hole, self.route, self.current, self.unit, self.working = hole, route, current, unit, working
        last = self._last()
        expected = (last.expected_mm, last.expected_sd_mm) if last else (None, None)
        curve = forecast.finished if forecast is not None else None
        if curve is not None:
            expected = (curve.mean_mm, curve.sd_mm)
        shares = (forecast.outcome.too_small, forecast.outcome.too_big) if forecast is not None else None
        self.slot.setVisible(hole is None or hole.kind not in NO_SLOT)
        self.slot.show_expected(hole, unit, *expected, curve, shares)
        self._make_rungs(fresh)
        self._place()
        self.show_words(self._in_words())
        self.update()

    def show_leans(self, lines: list[tuple[str, str]], before: list[tuple[str, str, str]]) -> None:
        """What the chance leans on, in 100 on the worse side; checks before the first cut, what they do, how."""
        self.leans, self.before = lines, before
        self.show_words(self._in_words())
        self.setToolTip("\n".join(how for _, _, how in before))
        self.update()

    def _in_words(self) -> str:
        """What a person sees beside the rungs: the chance, what it leans on, checks before the first cut."""
        lines = [(words, chance) for words, chance, _ in self.before]
        told, checks = (
            "; ".join(tr("{words}: {chance} in 100", words=words, chance=chance) for words, chance in of)
            for of in (self.leans, lines)
        )
        figure, words = self._chance_said()
        said = [
            " ".join(f"{figure} {tr('in 100')} {words}".split()) if figure else "",
            tr("The chance leans on {told}", told=told) if told else "",
            tr("Before you cut: {checks}", checks=checks) if checks else "",
        ]
        return ". ".join(filter(None, said))

    def _chance_said(self) -> tuple[str, str]:
        """The chance in 100 and what it is of, in two lines; nothing where there is none to tell."""
        route, hole = self.route, self.hole
        if route is None or hole is None or hole.kind == "center_hole":
            return "", ""
        what = asked_words(hole)
        if self.forecast is not None:
            chance = shown_chance(self.forecast.outcome, hole)
            return chance_words(chance.value), f"{what}; {band_words(chance, lines=True)}"
        figure = chance_words(route_chance(route))
        if any(w.id == "broken_limit" for w in route.warnings):
            return figure, tr("{what}, rough,\nbroken limits not counted", what=what)
        return figure, tr("{what},\nmore closely in a moment", what=what)

    # -- what stands where ---------------------------------------------------------------

    def _tools(self) -> list[tuple[int, Operation]]:
        operations = self.route.operations if self.route else ()
        kinds = ("center_drill", "spot_drill", "drill", "core_drill", "spade_drill", "bore", "end_mill", "ream")
        shown = [(i, o) for i, o in enumerate(operations) if o.kind in kinds and o.diameter_mm is not None]
        tapered = self.hole is not None and self.hole.kind == "taper_pin"
        return [
            (i, o)
            for i, o in shown
            if o.role not in ("flat", "counterbore") and not (tapered and o.kind == "ream")
        ]

    def _curve_of(self, operation: Operation) -> Density | None:
        """What the model says of one drill's hole."""
        if self.forecast is None or operation.diameter_mm is None:
            return None
        return self.forecast.steps.get((operation.kind, round(operation.diameter_mm, 4)))

    def _last(self) -> Operation | None:
        return next((o for _, o in reversed(self._tools()) if o.sizes_hole or o.kind == "end_mill"), None)

    def _undersize(self) -> Operation | None:
        """The tool before the reamer, bar or end mill, which has a stretch of its own."""
        last = self._last()
        sizing = [o for _, o in self._tools() if o.sizes_hole and o is not last]
        return sizing[-1] if sizing and last is not None and last.kind in FINISHERS else None

    def _leading(self) -> list[tuple[int, Operation]]:
        own = (self._last(), self._undersize())
        return [(i, o) for i, o in self._tools() if all(o is not other for other in own)]

    def _slot_left(self) -> float:
        return round(self.width() * 0.54)

    def _stretches(self) -> tuple[AxisStretch | None, AxisStretch | None]:
        left, end = 16.0, self._slot_left() - 18.0
        leading, undersize = self._leading(), self._undersize()
        largest = max([_standing_mm(o) for _, o in leading], default=0.0)
        first_end = end if undersize is None else left + (end - left) * (0.54 if leading else 0.0)
        first = AxisStretch(left, first_end, 0.0, 1.12 * largest) if leading else None
        second = None
        if undersize is not None and undersize.diameter_mm is not None:
            curve = self._curve_of(undersize)
            mean, sd = undersize.expected_mm or undersize.diameter_mm, undersize.expected_sd_mm or 0.01
            if curve is not None:
                mean, sd = curve.mean_mm, curve.sd_mm
            sd = max(sd, LEAST_SPREAD_MM)
            low, high = min(undersize.diameter_mm, mean - 4 * sd), mean + 4 * sd
            spare = 0.12 * (high - low)
            second = AxisStretch(first_end + (18 if leading else 0), end, low - spare, high + spare)
        return first, second

    def _stands(self) -> list[tuple[int, Operation, float, float]]:
        """Index, operation, x and y of the balloon of every rung outside the slot and in it."""
        first, second = self._stretches()
        axis = self.height() - AXIS_UP
        found: list[tuple[int, Operation, float, float]] = []
        previous = -1e9
        level = 0
        for index, operation in self._leading():
            if first is None:
                continue
            x = first.x(_standing_mm(operation))
            level = (level + 1) % 3 if x - previous < 70 else 0
            previous = x
            found.append((index, operation, x, axis - 46 - 36 * level))
        undersize, last = self._undersize(), self._last()
        for index, operation in self._tools():
            if operation is undersize and second is not None:
                found.append((index, operation, second.x(operation.diameter_mm or 0.0), axis - 122))
            elif operation is last:
                x = self.slot.x() + self.slot.x_of(operation.diameter_mm or 0.0)
                x = min(max(x, self.slot.x() + RUNG / 2), self.width() - RUNG / 2 - 2)
                found.append((index, operation, x, axis - 60))
        return found

    def _make_rungs(self, fresh: bool) -> None:
        tools = self._tools()
        if fresh:
            for rung in self.rungs:
                rung.hide()
                rung.deleteLater()
            self.rungs = []
            for index, operation in tools:
                name = role_name(self.route, index) if self.route else ""
                words = tr(
                    "Rung {index}, {name} {size_said}",
                    index=index + 1,
                    name=name,
                    size_said=size_said(size_shown(operation, self.unit), self.unit),
                )
                rung = ToolRung(index + 1, words, self)
                rung.clicked.connect(lambda _=False, i=index: self._pressed(i))
                rung.stepped.connect(lambda up, i=index: self.stepped.emit(i, up))
                rung.setToolTip(tr("Press again for other sizes; wheel or up and down step through them"))
                missing = self.route.missing_tools if self.route else ()
                rung.missing = operation.tool is not None and operation.tool.name in missing
                rung.show()
                self.rungs.append(rung)
        for rung in self.rungs:
            rung.current = rung.number - 1 == self.current
            rung.update()

    def _pressed(self, index: int) -> None:
        if index == self.current:
            rung = next(r for r in self.rungs if r.number == index + 1)
            self.opened.emit(index, rung.mapToGlobal(QPoint(RUNG, RUNG)))
        else:
            self.picked.emit(index)

    def _place(self) -> None:
        left = round(self._slot_left())
        self.slot.setGeometry(left, HEAD, self.width() - left - 14, self.height() - HEAD)
        at = {index: (x, y) for index, _, x, y in self._stands()}
        for rung in self.rungs:
            x, y = at.get(rung.number - 1, (0.0, 0.0))
            rung.move(round(x - RUNG / 2), round(y - RUNG / 2))
            rung.raise_()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Take the new room."""
        self._place()

    # -- painting --------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        """Axis, posts, curves, figures, and the rough chance."""
        painter.fillRect(self.rect(), theme.PLATE)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(0, 0, self.width(), 0)
        write(painter, QPointF(16, 30), tr("Size ladder"), 20, True, color=theme.INK)
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        words = tr("what each tool is likely to leave")
        if self.forecast is not None:
            words = tr("what each tool leaves; chances as a plug feels it")
        first, second = self._stretches()
        stands = [(x, y) for _, operation, x, y in self._stands() if operation is not self._last()]
        self.named = [QRectF(x - RUNG / 2, y - RUNG / 2, RUNG, RUNG) for x, y in stands]
        top = min((y for _, y in stands), default=float(self.height())) - RUNG / 2
        if top > 56:
            shown = tr("working") if self.working else words
            room = self.width() - CHANCE_WIDE - 16
            elided = painter.fontMetrics().elidedText(shown, Qt.TextElideMode.ElideRight, room)
            painter.drawText(QPointF(16, 51), elided)
        self._leans(painter, top)
        axis = self.height() - AXIS_UP
        if first is not None:
            self._axis(painter, first, axis, 1.0 if self.unit == "mm" else INCH_MM / 16)
        if second is not None:
            self._axis(painter, second, axis, 0.01 if self.unit == "mm" else 0.0254 / 2)
        for stretch in (first if second is not None else None, second):
            if stretch is not None:
                self._break(painter, stretch.right + 9, axis)
        if first is None and second is None:
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawLine(QPointF(16, axis), QPointF(self._slot_left() - 18, axis))
            self._break(painter, self._slot_left() - 9, axis)
        elif second is None and first is not None:
            self._break(painter, first.right + 9, axis)
        for index, operation, x, y in self._stands():
            if operation is not self._last():
                stretch = second if operation is self._undersize() else first
                if stretch is not None:
                    self._rung(painter, index, operation, stretch, x, y, axis)
        self._finisher(painter, axis)
        self._chance(painter)

    def _leans(self, painter: QPainter, floor: float) -> None:
        """Checks worth their minutes, then what moves the chance most, over the rungs, which begin at `floor`."""
        if self.working or floor < 78:
            return
        y = 76.0
        checks = [(words, chance) for words, chance, _ in self.before]
        for head, lines, color in (
            (tr("before you cut"), checks, theme.BRASSINK),
            (tr("leans on"), self.leans, theme.INK2),
        ):
            y = self._told_lines(painter, head, lines, color, y, floor)

    def _told_lines(
        self, painter: QPainter, head: str, lines: list[tuple[str, str]], color: QColor, y: float, floor: float
    ) -> float:
        """Lines under a head, each with its chance; gives where the next begins."""
        if not lines:
            return y
        painter.setFont(theme.font(13))
        painter.setPen(color)
        if y + 2 <= floor:
            painter.drawText(QPointF(16, y), head)
        x, right = 16 + painter.fontMetrics().horizontalAdvance(head) + 10, self._slot_left() - 24
        for words, chance in lines:
            if y + 2 > floor:
                return y
            painter.setFont(theme.font(13, True))
            wide = painter.fontMetrics().horizontalAdvance(chance)
            painter.setFont(theme.font(13))
            painter.setPen(theme.INK)
            shown = painter.fontMetrics().elidedText(
                words, Qt.TextElideMode.ElideRight, round(right - x - wide - 12)
            )
            painter.drawText(QPointF(x, y), shown)
            after = x + painter.fontMetrics().horizontalAdvance(shown) + 8
            write(painter, QPointF(after, y), chance, 13, True)
            y += 17
        return y

    def _rung(
        self,
        painter: QPainter,
        index: int,
        operation: Operation,
        stretch: AxisStretch,
        x: float,
        y: float,
        axis: float,
    ) -> None:
        chosen = index == self.current
        mean, sd = operation.expected_mm, operation.expected_sd_mm
        curve = self._curve_of(operation)
        if curve is not None:
            mean, sd = curve.mean_mm, curve.sd_mm
        lone = operation is self._undersize()
        if mean is not None and sd:
            wide = sd if lone else sd * WIDENED
            peak = 92.0 if lone else 44.0
            if lone and curve is not None:
                path = curve_path(lambda s: stretch.x(s), curve, axis, peak)
            else:
                path = _bell(lambda s: stretch.x(s), mean, wide, axis, peak)
            painter.setPen(QPen(theme.INK, 1.6))
            painter.setBrush(theme.BRASS if chosen else theme.BARE2)
            painter.drawPath(path)
            if lone:
                pen = QPen(theme.INK, 1)
                pen.setDashPattern([3, 3])
                painter.setPen(pen)
                painter.drawLine(QPointF(stretch.x(mean), axis - peak), QPointF(stretch.x(mean), axis))
        painter.setPen(QPen(theme.INK, 2.2 if chosen else 1.6))
        painter.drawLine(QPointF(x, y), QPointF(x, axis))
        if mean is not None:
            painter.setFont(theme.font(20 if chosen else 15, chosen))
            painter.setPen(theme.INK)
            words = fixed(mean, self.unit, 2 if not lone else 3)
            wide = painter.fontMetrics().horizontalAdvance(words)
            right, left = x + RUNG / 2 + 3, x - RUNG / 2 - 3 - wide
            for side in (right, left):
                if side + wide > stretch.right + 6 and not lone:
                    continue
                box = QRectF(side, y - 8, wide, 18)
                if not any(box.intersects(other) for other in self.named):
                    painter.drawText(QPointF(side, y + 6), words)
                    self.named.append(box)
                    break

    def _finisher(self, painter: QPainter, axis: float) -> None:
        """The finisher's own post is drawn by the slot, under its curve."""
        last = self._last()
        self.slot.show_post(last.diameter_mm if last else None)

    def _axis(self, painter: QPainter, stretch: AxisStretch, axis: float, tick_mm: float) -> None:
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawLine(QPointF(stretch.left, axis), QPointF(stretch.right, axis))
        span = stretch.high_mm - stretch.low_mm
        while span / tick_mm > 60:
            tick_mm *= 2 if round(math.log10(tick_mm) % 1, 6) == 0 else 5
        number = math.ceil(stretch.low_mm / tick_mm - 1e-9)
        every = 5 if span / tick_mm <= 30 else 10
        painter.setFont(theme.font(13))
        written = -math.inf
        while number * tick_mm <= stretch.high_mm + 1e-9:
            x = stretch.x(number * tick_mm)
            long = number % every == 0
            painter.setPen(QPen(theme.INK, 1.2))
            painter.drawLine(QPointF(x, axis), QPointF(x, axis + (9 if long else 5)))
            if long:
                painter.setPen(theme.INK2)
                places = 0 if tick_mm >= 1 else 2
                text = (
                    plain(number * tick_mm, "mm", places)
                    if self.unit == "mm"
                    else fixed(number * tick_mm, "in", 2, 3)
                )
                half = painter.fontMetrics().horizontalAdvance(text) / 2
                if x - half > written + 4:
                    box = QRectF(max(x - 30, -8), axis + 8, 60, 18)
                    painter.drawText(box, CENTER, text)
                    written = x + half
            number += 1
        painter.setPen(theme.INK2)
        words = (
            tr("tick {tick_mm:g} mm", tick_mm=tick_mm)
            if self.unit == "mm"
            else tr("tick {tick_mm:.4f} in", tick_mm=tick_mm / INCH_MM).replace(" 0.", " .")
        )
        if tick_mm >= 0.5:
            words += tr(", spread ×{widened}", widened=WIDENED)
        painter.drawText(
            QRectF(stretch.left, axis + 24, max(stretch.right - stretch.left, 150), 18),
            Qt.AlignmentFlag.AlignHCenter if stretch.right - stretch.left >= 150 else Qt.AlignmentFlag.AlignLeft,
            words,
        )

    def _break(self, painter: QPainter, x: float, axis: float) -> None:
        painter.setPen(QPen(theme.INK, 1.6))
        for off in (-4, 2):
            painter.drawLine(QPointF(x + off - 3, axis + 8), QPointF(x + off + 3, axis - 8))

    def _chance(self, painter: QPainter) -> None:
        figure, words = self._chance_said()
        if not figure:
            return
        painter.setFont(theme.font(46, True))
        painter.setPen(theme.INK)
        wide = painter.fontMetrics().horizontalAdvance(figure)
        right = self.width() - 16.0
        painter.setFont(theme.font(16))
        unit_wide = painter.fontMetrics().horizontalAdvance(tr("in 100"))
        painter.drawText(QPointF(right - unit_wide, 54), tr("in 100"))
        write(painter, QPointF(right - unit_wide - wide - 6, 54), figure, 46, True)
        painter.setFont(theme.font(14))
        painter.setPen(theme.INK2)
        box = QRectF(right - unit_wide - wide - 236, 18, 220, 40)
        painter.drawText(box, RIGHT, words)


def _standing_mm(operation: Operation) -> float:
    """Where a tool's post stands: its size, a spot drill's mouth."""
    if operation.kind == "spot_drill" and operation.mouth_mm is not None:
        return operation.mouth_mm
    return operation.diameter_mm or 0.0


def _bell(x_of: object, mean: float, sd: float, axis: float, peak: float) -> QPainterPath:
    if not callable(x_of):
        return QPainterPath()
    path = QPainterPath(QPointF(x_of(mean - 3.4 * sd), axis))
    for step in range(-34, 35):
        z = step / 10
        path.lineTo(QPointF(x_of(mean + z * sd), axis - peak * math.exp(-0.5 * z * z)))
    path.closeSubpath()
    return path
