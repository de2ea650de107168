"""The work in section, painted to scale: what is cut, what this step cuts, what is to come."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.planning.words.names import role_name, size_shown
from cordwainer.core.planning.words.wording import fixed, limits_pair, print_size
from cordwainer.ui.canvas import dye, tools
from cordwainer.ui.canvas.profile import half_profile, path_of
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, Pressable, corners
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, smooth, write
from cordwainer.ui.stages.plan.ruler import RULER, paint_ruler

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Forecast
    from cordwainer.core.planning.words.operation import Operation, Route

TIMES = (1000, 500, 200, 100, 50, 20, 10, 5, 2)
WALL_ROOM = 22.0
STEPS = (1, 2, 3, 4, 6, 8, 11, 14, 18, 24, 36, 60, 120, 240)
TOP = 92


class Balloon(Pressable):
    """The number of an operation, on the outline it cuts."""

    def __init__(self, number: int, words: str, parent: QWidget) -> None:
        super().__init__(words, parent)
        self.number = number
        self.current = False
        self.setFixedSize(30, 30)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A ring with the number; brass when current."""
        painter = smooth(self)
        painter.setBrush(theme.INK if self.current else theme.HI)
        edge = theme.BRASS if self.current or self.ring else theme.INK
        painter.setPen(QPen(edge, 3 if self.ring else 2))
        painter.drawEllipse(QRectF(4, 4, 22, 22))
        painter.setPen(theme.BRASSDYE if self.current else theme.INK)
        painter.setFont(theme.font(14, True))
        painter.drawText(self.rect(), CENTER, str(self.number))


@layered
class SectionView(Picture):
    """One hole lying down as on a lathe, with the selected tool at the point where it touches."""

    picked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.route: Route | None = None
        self.current = 0
        self.unit = "mm"
        self.working = False
        self._shown: object = None
        self.balloons: list[Balloon] = []
        self.forecast: Forecast | None = None
        self.setAccessibleName(tr("Hole in section"))
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(420, 260)

    def sizeHint(self) -> QSize:
        """Room to work in."""
        return QSize(708, 420)

    # -- what is shown -----------------------------------------------------------------

    def show_route(
        self, hole: Hole | None, route: Route | None, current: int, unit: str, forecast: Forecast | None = None
    ) -> None:
        """Show one hole with the route to it and the operation selected; the finished one with its walls."""
        operations = route.operations if route is not None else None
        shown = (hole, operations, current, unit, self.working)
        self.route = route
        if shown == self._shown and forecast is self.forecast:
            return
        self._shown, self.forecast = shown, forecast
        self.hole, self.current, self.unit = hole, current, unit
        self._place_balloons()
        self.show_words(self._in_words())
        self.update()

    def _in_words(self) -> str:
        """What a person sees: the hole, what each operation leaves open and how deep, the one that is shown."""
        hole, route = self.hole, self.route
        if hole is None:
            return ""
        upper, lower = limits_pair(hole, self.unit)
        said = [f"{hole.id} {print_size(hole, self.unit)} {upper} {lower}".strip()]
        for index, operation in enumerate(self.operations if route is not None else ()):
            if route is None or operation.tip_mm is None:
                continue
            name = f"{role_name(route, index)} {size_shown(operation, self.unit)}".strip()
            deep = f"{fixed(operation.tip_mm, self.unit, 1)} {self.unit}"
            words = tr("{name}, {deep} deep", name=name, deep=deep)
            said.append(tr("shown: {words}", words=words) if index == self.current else words)
        return "; ".join(said)

    @property
    def operations(self) -> tuple[Operation, ...]:
        """The operations shown."""
        return self.route.operations if self.route else ()

    def _scale(self) -> tuple[float, float, float]:
        """Pixels per millimeter, x of the face, y of the axis."""
        face = round(self.width() * 0.62)
        room = self.height() - TOP - RULER - 36
        axis = TOP + room / 2
        hole = self.hole
        if hole is None:
            return 8.0, face, axis
        deepest = max([o.tip_mm or 0.0 for o in self.operations], default=hole.depth_mm)
        deepest = max(deepest, hole.depth_mm + (hole.under_gap_mm or 0.0) + (2.0 if hole.under_gap_mm else 0.0))
        widest = max([o.diameter_mm or 0.0 for o in self.operations], default=0.0)
        widest = max(widest, hole.nominal_mm)
        fits = [s for s in STEPS if deepest * s <= face - 64 and widest * s <= room * 0.86]
        return float(fits[-1] if fits else STEPS[0]), face, axis

    def _place_balloons(self) -> None:
        for balloon in self.balloons:
            balloon.hide()
            balloon.deleteLater()
        self.balloons = []
        scale, face, axis = self._scale()
        taken: list[QPointF] = []
        for index, operation in enumerate(self.operations):
            half = half_profile(operation)
            if not half:
                continue
            words = tr("Operation {index}, {kind}", index=index + 1, kind=tr(operation.kind.replace("_", " ")))
            balloon = Balloon(index + 1, words, self)
            balloon.current = index == self.current
            deep, r = half[1] if len(half) > 2 else half[0]
            spot = QPointF(max(face - deep * scale * 0.86, 24), axis - r * scale)
            while any(abs(spot.x() - p.x()) < 28 and abs(spot.y() - p.y()) < 26 for p in taken):
                spot = QPointF(spot.x() + 30, spot.y())
            taken.append(spot)
            balloon.move(round(spot.x() - 15), round(spot.y() - 15))
            balloon.clicked.connect(lambda _=False, i=index: self.picked.emit(i))
            balloon.show()
            self.balloons.append(balloon)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep the balloons on their outlines."""
        self._place_balloons()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A press on an outline picks its operation."""
        if event is None:
            return
        scale, face, axis = self._scale()
        best = None
        for index, operation in enumerate(self.operations):
            path = path_of(half_profile(operation), face, axis, scale)
            if path.contains(event.position()):
                area = path.boundingRect().width() * path.boundingRect().height()
                if best is None or area < best[0]:
                    best = area, index
        if best is not None:
            self.picked.emit(best[1])

    # -- painting ----------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        """Air, dyed block, bore so far, this step, what is to come, tool, scale."""
        painter.fillRect(self.rect(), theme.HI)
        scale, face, axis = self._scale()
        block = self._block(scale, face, axis)
        whole = QRectF(0, 0, self.width(), self.height())
        dye.fill_dye(painter, block, whole)
        if self.hole is None:
            self._center_line(painter, face, axis)
            return
        before, this, after = self._areas(scale, face, axis)
        opened = before.intersected(block)
        dye_free = opened.united(this.intersected(block))
        painter.fillPath(opened, theme.BARE)
        dye.hatch_path(painter, opened, 6, QColor(191, 184, 171, 150), 0.7, back=True)
        cut = this.intersected(block).subtracted(opened)
        painter.fillPath(cut, theme.DYELO)
        dye.hatch_path(painter, cut, 7, theme.BRASS, 1.5, back=True)
        painter.setPen(QPen(theme.SCRIBE, 1.6))
        painter.drawPath(opened)
        self._to_come(painter, after, block)
        painter.setPen(QPen(theme.BRASSDYE, 2))
        painter.drawPath(this.intersected(block))
        self._edges(painter, block, dye_free, face, axis, scale)
        self._under(painter, scale, face)
        self._expected(painter, scale, face, axis)
        self._center_line(painter, face, axis)
        self._tool(painter, scale, face, axis)
        self._callout(painter, face, axis, scale)
        self._touch(painter, face, axis, scale)
        if (
            self.operation is not None
            and self.operation.tip_mm is not None
            and self.operation.readings is not None
        ):
            paint_ruler(painter, self.operation.readings, QSize(self.width(), self.height()), scale, face)
        self._detail(painter)

    def _block(self, scale: float, face: float, axis: float) -> QPainterPath:
        path = QPainterPath()
        left = self._left(scale, face)
        path.addRect(QRectF(left, 0, face - left, self.height()))
        return path

    def _left(self, scale: float, face: float) -> float:
        """x of the far face, or the edge of the view where nothing is known behind."""
        hole = self.hole
        if hole is not None and hole.through:
            return max(face - hole.depth_mm * scale, 0.0)
        if hole is not None and hole.part_thickness_mm is not None:
            return max(face - hole.part_thickness_mm * scale, 0.0)
        return 0.0

    def _areas(
        self, scale: float, face: float, axis: float
    ) -> tuple[QPainterPath, QPainterPath, list[QPainterPath]]:
        before, this, after = QPainterPath(), QPainterPath(), []
        if self.hole is not None and self.hole.existing_mm is not None:
            deep = self.hole.depth_mm
            r = self.hole.existing_mm / 2
            before = path_of([(0, r), (deep, r), (deep, 0)], face, axis, scale)
        for index, operation in enumerate(self.operations):
            path = path_of(half_profile(operation), face, axis, scale)
            if path.isEmpty():
                continue
            if index < self.current:
                before = before.united(path)
            elif index == self.current:
                this = path
            else:
                after.append(path)
        return before, this, after

    def _to_come(self, painter: QPainter, after: list[QPainterPath], block: QPainterPath) -> None:
        pen = QPen(theme.SCRIBE2, 1.2)
        pen.setDashPattern([5, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for path in after[:-1]:
            painter.drawPath(path.intersected(block))
        if not self.operations and self.hole is not None:
            scale, face, axis = self._scale()
            r, deep = self.hole.nominal_mm / 2, self.hole.depth_mm
            painter.drawPath(path_of([(0, r), (deep, r), (deep, 0)], face, axis, scale))
        if after:
            painter.setPen(QPen(theme.SCRIBE, 2.4))
            painter.drawPath(after[-1].intersected(block))

    def _edges(
        self, painter: QPainter, block: QPainterPath, opened: QPainterPath, face: float, axis: float, scale: float
    ) -> None:
        painter.setPen(QPen(theme.INK, 1.4))
        box = block.boundingRect()
        painter.drawLine(QPointF(face, 0), QPointF(face, self.height()))
        if box.left() > 0.5:
            painter.drawLine(QPointF(box.left(), 0), QPointF(box.left(), self.height()))

    def _under(self, painter: QPainter, scale: float, face: float) -> None:
        """What lies below the far face, where it was said, and where this step's tip ends above or in it."""
        hole = self.hole
        if hole is None or hole.under_gap_mm is None or not hole.through:
            return
        x = self._left(scale, face) - hole.under_gap_mm * scale
        if x < 8:
            return
        box = QRectF(max(x - 26, 0.0), 0, min(26.0, x), self.height())
        painter.fillRect(box, theme.STEEL)
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))
        painter.save()
        painter.translate(x - 8, self.height() - RULER - 60)
        painter.rotate(-90)
        write(painter, QPointF(0, 0), hole.under or "under", 13)
        painter.restore()

    def _expected(self, painter: QPainter, scale: float, face: float, axis: float) -> None:
        """Where the finished wall is likely to lie, from mouth to far end, its errors magnified and said."""
        found, hole = self.forecast, self.hole
        sizing = [i for i, o in enumerate(self.operations) if o.sizes_hole]
        if found is None or hole is None or not sizing or self.current < sizing[-1]:
            return
        most = max(abs(size - hole.nominal_mm) / 2 for row in found.profile_mm for size in row) * scale
        times = next((t for t in TIMES if t * most <= WALL_ROOM), 1)
        step = found.depth_mm / max(len(found.profile_mm) - 1, 1)
        for place, thick in ((0, 1.2), (1, 2.2), (2, 1.2)):
            painter.setPen(QPen(theme.BRASSDYE, thick))
            for side in (-1, 1):
                points = []
                for k, row in enumerate(found.profile_mm):
                    off = hole.nominal_mm / 2 * scale + (row[place] - hole.nominal_mm) / 2 * scale * times
                    points.append(QPointF(face - k * step * scale, axis + side * off))
                painter.drawPolyline(corners(points))
        left = self._left(scale, face)
        in_air = left > 150
        painter.setPen(theme.INK2 if in_air else theme.SCRIBE2)
        painter.setFont(theme.font(13))
        words = tr("likely walls, 2 to 98 in 100, errors ×{times}", times=times)
        x, wide = (20.0, left - 30) if in_air else (left + 16, face - left - 24)
        box = QRectF(x, self.height() - RULER - 46, wide, 40)
        painter.drawText(box, Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap, words)

    def _center_line(self, painter: QPainter, face: float, axis: float) -> None:
        pen = QPen(theme.SCRIBE, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(max(self._left(self._scale()[0], face), 12), axis), QPointF(face, axis))

    @property
    def operation(self) -> Operation | None:
        """The operation selected."""
        if 0 <= self.current < len(self.operations):
            return self.operations[self.current]
        return None

    def _tool(self, painter: QPainter, scale: float, face: float, axis: float) -> None:
        operation = self.operation
        if operation is None or operation.tool is None or operation.tip_mm is None:
            return
        readings = operation.readings
        tip_x = face - (readings.start_tip_mm if readings is not None else 0.0) * scale
        size = operation.diameter_mm if operation.tool.kind == "boring_bar" else None
        shape = tools.outline(operation.tool, operation.kind, (self.width() - tip_x) / scale + 2, size_mm=size)
        painter.save()
        painter.setClipRect(QRectF(0, 0, self.width(), self.height() - RULER))
        tools.paint(painter, shape, QPointF(tip_x, axis), scale, theme.STEEL, theme.FLUTE)
        painter.restore()

    def _callout(self, painter: QPainter, face: float, axis: float, scale: float) -> None:
        hole = self.hole
        if hole is None:
            return
        painter.setFont(theme.font(20, True))
        left = self._left(scale, face)
        beside = left > 190
        painter.setPen(theme.INK if beside else theme.SCRIBE)
        words = tr("{hole} in section", hole=hole.id) if beside or left < 20 else hole.id
        painter.drawText(QPointF(20 if beside else left + 16, 32), words)
        if self.working:
            write(
                painter,
                QPointF(20 if beside else left + 16, 52),
                "working",
                14,
                color=theme.INK2 if beside else theme.SCRIBE2,
            )
        size = print_size(hole, self.unit)
        upper, lower = limits_pair(hole, self.unit)
        # On a thin plate the callout stands in the air beside it, else it is scribed on the metal.
        big = 40
        painter.setFont(theme.font(big, True))
        wide = painter.fontMetrics().horizontalAdvance(size)
        in_air = beside and face - left < wide + 260
        if in_air and left < wide + 130:
            big = 26
            painter.setFont(theme.font(big, True))
            wide = painter.fontMetrics().horizontalAdvance(size)
        ink = theme.INK if in_air else theme.SCRIBE
        painter.setFont(theme.font(20, True))
        beside_id = max(left, 0.0) + 32 + painter.fontMetrics().horizontalAdvance(words)
        x = 20.0 if in_air else max(face - wide - 130, beside_id)
        painter.setFont(theme.font(big, True))
        y = 96.0 if in_air else 56.0
        painter.setPen(ink)
        painter.drawText(QPointF(x, y), size)
        painter.setFont(theme.font(17))
        after = x + wide + 12
        painter.drawText(QPointF(after, y - 20), upper)
        painter.drawText(QPointF(after, y + 1), lower)
        painter.setPen(QPen(ink, 1.1))
        end = after + 84
        painter.drawLine(QPointF(x, y + 12), QPointF(end, y + 12))
        edge = QPointF(max(face - hole.depth_mm * scale * 0.45, 30), axis - hole.nominal_mm / 2 * scale)
        if in_air:
            edge = QPointF(left, axis - hole.nominal_mm / 2 * scale)
            painter.drawLine(QPointF(end, y + 12), edge)
        else:
            painter.drawLine(QPointF(x, y + 12), edge)
        painter.setBrush(ink)
        painter.drawEllipse(edge, 3, 3)

    def _touch(self, painter: QPainter, face: float, axis: float, scale: float) -> None:
        operation = self.operation
        if operation is None or operation.readings is None or self.hole is None:
            return
        zero, meets, edge = operation.readings.zero_on, operation.readings.meets, operation.readings.edge_mm
        edge = edge or operation.previous_mm
        if zero == "flat_face" and operation.kind != "ream":
            zero = "flat_cutter"
        words = {
            "bottom": (tr("Touch here first"), meets or tr("the bottom, where the first pass ended")),
            "tip": (tr("Tip level with the face"), tr("sight it with a rule laid across")),
            "edge_touch": (
                tr("Touch here first"),
                tr("lips on {meets}", meets=meets)
                if meets
                else tr("lips on the mouth of the {edge}", edge=in_unit(edge, self.unit, 2)),
            ),
            "flat_face": (tr("Front end level with the face"), tr("the lead stands in the mouth")),
            "flat_cutter": (tr("Touch the face"), tr("its flat end on the work, set zero there")),
        }.get(zero, (tr("Full diameter level with the face"), ""))
        x = face + 18
        write(painter, QPointF(x, 30), words[0], 16, True, color=theme.INK)
        write(painter, QPointF(x, 51), words[1], 14, color=theme.INK2)
        if operation.readings.zero_on == "edge_touch":
            spot = QPointF(face, axis - edge / 2 * scale)
            painter.setPen(QPen(theme.INK, 1))
            painter.drawLine(QPointF(x - 4, 58), QPointF(x - 4, min(spot.y(), axis)))
            painter.drawLine(QPointF(x - 4, spot.y()), spot)
            painter.setBrush(theme.BRASS)
            painter.drawEllipse(spot, 4, 4)

    def _detail(self, painter: QPainter) -> None:
        """The wall at 20 : 1 where the stock this step takes is too thin to see."""
        operation = self.operation
        if operation is None or operation.stock_mm is None:
            return
        side = operation.stock_mm / 2
        scale, face, _ = self._scale()
        # Beside a thin plate the callout stands above it, in the air.
        center, r = QPointF(70, 176 if self._left(scale, face) > 190 else 98), 42.0
        circle = QPainterPath()
        circle.addEllipse(center, r, r)
        painter.fillPath(circle, theme.DYE)
        painter.save()
        painter.setClipPath(circle)
        thick = max(min(side * 20 * 6, 30), 6)
        strip = QRectF(center.x() - r, center.y() - thick / 2, 2 * r, thick)
        dye.lines(painter, strip, 7, theme.BRASS, 1.5, back=True)
        painter.fillRect(QRectF(center.x() - r, strip.bottom(), 2 * r, r), theme.BARE)
        painter.restore()
        painter.setPen(QPen(theme.SCRIBE, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(center, r, r)
        painter.setFont(theme.font(15, True))
        painter.setPen(theme.SCRIBE)
        outside = self._left(scale, face) > center.x() + r
        painter.setPen(theme.INK if outside else theme.SCRIBE)
        painter.drawText(QPointF(center.x() + r + 8, center.y() - 4), in_unit(side, self.unit, 3, 4))
        write(
            painter,
            QPointF(center.x() + r + 8, center.y() + 14),
            tr("a side"),
            13,
            color=theme.INK2 if outside else theme.SCRIBE2,
        )
        doing = tr("to ream") if operation.kind == "ream" else tr("to bore")
        painter.drawText(QPointF(center.x() + r + 8, center.y() + 30), doing)
