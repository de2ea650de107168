"""The hole standing up as the print shows it; each figure is changed where it is drawn."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.cutting.profile import DRAWING_OFFICE_DEG, DRAWN_POINT_DEG, profile
from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.adds_up import Trouble, Way, adds_up
from cordwainer.files.print_edits import change_figure
from cordwainer.files.print_figures import Figure, figures_of
from cordwainer.ui.canvas import dye
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, corners
from cordwainer.ui.kit.layout import smooth
from cordwainer.ui.stages.print_.callouts import FigureField, TroublePlate
from cordwainer.ui.stages.print_.part_edges import entry_edge, far_edge, thread_path

SCALES = (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 14, 16, 18, 21, 24, 30, 36, 48, 60, 90, 120)
AIR, GAP, DIMENSION = 30, 8, 20


class HoleDrawing(Picture):
    """The hole standing up, as the print shows it, with everything that may be changed on it."""

    troubles_changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.setAccessibleName(tr("The hole as printed"))
        self.setMinimumSize(440, 320)
        self.callouts: dict[str, FigureField] = {}
        self.figures: tuple[Figure, ...] = ()
        self.troubles: tuple[Trouble, ...] = ()
        self.shown_trouble = 0
        self.plate = TroublePlate(self)
        self.plate.taken.connect(self.take_way)

    @property
    def point_deg(self) -> float:
        """The included angle points are drawn at, by the practice."""
        return DRAWING_OFFICE_DEG if self.stock.practice.point_drawn == "drawn_120" else DRAWN_POINT_DEG

    # -- edits ---------------------------------------------------------------------------------

    def keep(self, figure: str, text: str) -> None:
        """Take what was typed over a figure, or say under it why not."""
        hole, callout = self.selection.hole, self.callouts[figure]
        if hole is None:
            return
        try:
            self.selection.edit_hole(
                f"{callout.name} {text.strip() or tr('not said')}", **change_figure(hole, figure, text)
            )
        except InputError as bad:
            callout.refuse(bad.problem)
            self._offer(bad, figure)
            return
        callout.settle()
        callout.face.setFocus()

    def _offer(self, bad: InputError, figure: str) -> None:
        """A depth and a thickness that exclude one another: what could give way."""
        hole = self.selection.hole
        if hole is None or bad.field != "part_thickness":
            return
        ways = (Way(tr("Make it through"), (("through", True), ("part_thickness", None))),)
        self.plate.show_trouble(Trouble("no_metal", figure, f"{sentence(bad.problem)}.", ways))
        self._place()

    def take_way(self, way: Way) -> None:
        """Take a way out of what does not add up."""
        try:
            self.selection.edit_hole(way.words, **dict(way.changes))
        except InputError as bad:
            self.said.emit(f"{bad.field}: {bad.problem}")

    def next_trouble(self) -> None:
        """Show the next thing that does not add up, and go to its figure."""
        if not self.troubles:
            return
        self.shown_trouble = (self.shown_trouble + 1) % len(self.troubles) if self.plate.hasFocus() else 0
        trouble = self.troubles[self.shown_trouble]
        self.plate.show_trouble(trouble)
        self._place()
        if trouble.figure in self.callouts:
            self.callouts[trouble.figure].face.setFocus()
        self.update()

    # -- layout ----------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the selected hole."""
        hole = self.selection.hole
        before = self.troubles
        self.figures, self.troubles = (), ()
        if hole is not None:
            entry = self.document.job.file.holes[self.selection.hole_index]
            self.figures, self.troubles = figures_of(hole, entry), adds_up(hole)
        wrong = {trouble.figure for trouble in self.troubles}
        ids = [figure.id for figure in self.figures]
        for name, callout in self.callouts.items():
            if name not in ids:
                callout.settle()
                callout.hide()
        last: QWidget | None = None
        for figure in self.figures:
            callout = self._callout(figure)
            callout.face.size_px = figure.size
            callout.show_figure(figure, figure.id in wrong)
            callout.show()
            if last is not None:
                QWidget.setTabOrder(last, callout.face)
            last = callout.face
        self.shown_trouble = min(self.shown_trouble, max(len(self.troubles) - 1, 0))
        self.plate.show_trouble(self.troubles[self.shown_trouble] if self.troubles else None)
        self._place()
        said = [f"{f.name}: {f.figure} {f.upper} {f.lower} {f.note}" for f in self.figures]
        self.show_words("; ".join(" ".join(one.split()) for one in (*said, *(t.text for t in self.troubles))))
        self.update()
        if before != self.troubles:
            self.troubles_changed.emit()

    def _callout(self, figure: Figure) -> FigureField:
        found = self.callouts.get(figure.id)
        if found is None:
            found = FigureField(figure.name, self, figure.size)
            found.kept.connect(lambda text, name=figure.id: self.keep(name, text))
            self.callouts[figure.id] = found
        return found

    def _thick(self, hole: Hole) -> float:
        if hole.through:
            return hole.depth_mm
        return hole.part_thickness_mm or hole.depth_mm + max(hole.nominal_mm, 0.25 * hole.depth_mm)

    def _frame(self) -> tuple[float, float, float]:
        """Pixels per millimeter, x of the axis, y of the face."""
        hole = self.selection.hole
        if hole is None:
            return 8.0, self.width() * 0.42, 0.0
        face = 0.0 if hole.entry == "faced" else float(AIR)
        thick = self._thick(hole)
        wide = max(2 * radius for _, radius in profile(hole))
        if hole.feature.thread is not None:
            wide = max(wide, float(hole.feature.thread.major_mm))
        room, across = self.height() - face - 14, self.width() * 0.31
        fits = [s for s in SCALES if thick * s <= room and wide * s <= across]
        scale = float(fits[-1]) if fits else min(room / thick, across / wide)
        axis = self.width() * 0.42
        left = [self.callouts[f.id].face.width() for f in self.figures if f.left]
        if left:
            # Wide figures at the left push the hole over, as far as the right has room for its own.
            needed = max(left) + 20 + axis - self._line_x(hole, scale, axis, len(left) - 1)
            right = max((self.callouts[f.id].face.width() for f in self.figures if not f.left), default=0)
            most = self.width() - right - self._widest(hole, scale) - 44
            axis = max(axis, min(needed, most))
        return scale, axis, face

    def _widest(self, hole: Hole, scale: float) -> float:
        wide = max(radius for _, radius in profile(hole))
        if hole.feature.thread is not None:
            wide = max(wide, float(hole.feature.thread.major_mm) / 2)
        return wide * scale

    def _line_x(self, hole: Hole, scale: float, axis: float, index: int) -> float:
        """Where the dimension line of the depth figure of that order stands, past the hole under its mouth."""
        radius = hole.nominal_mm / 2
        if hole.feature.thread is not None:
            radius = float(hole.feature.thread.major_mm) / 2
        if hole.feature.center is not None or hole.feature.pin is not None:
            radius = max(r for _, r in profile(hole))
        return axis - radius * scale - 18 - DIMENSION * index

    def _place(self) -> None:
        hole = self.selection.hole
        if hole is None:
            return
        scale, axis, face = self._frame()
        wide = self._widest(hole, scale)
        left = sorted((f for f in self.figures if f.left), key=lambda f: f.depth_mm)
        right = [f for f in self.figures if not f.left]
        right.sort(key=lambda f: (f.id == "thickness", f.depth_mm))
        edge = self._line_x(hole, scale, axis, len(left) - 1) - 14
        wanted, above = [], 0.0
        for figure in left:
            callout = self.callouts[figure.id]
            middle = face + (above + figure.depth_mm) / 2 * scale
            wanted.append((middle - callout.face.height() / 2, callout.face.height()))
            above = figure.depth_mm if figure.depth_mm > above else above
        for figure, y in zip(left, self._spread(wanted), strict=True):
            callout = self.callouts[figure.id]
            callout.move(round(max(edge - callout.face.width(), 6)), round(y))
        widest = max((self.callouts[f.id].face.width() for f in right), default=0)
        x = round(min(axis + wide + 44, self.width() - widest - 8))
        wanted, boxes = [], []
        for figure in right:
            callout = self.callouts[figure.id]
            lift = callout.face.height() + (14 if figure.radius_mm > 0 else 0)
            wanted.append((face + figure.depth_mm * scale - lift, callout.face.height()))
            boxes.append(callout)
        plates: list[QWidget] = list(boxes)
        if not self.plate.isHidden():
            plates.append(self.plate)
            wanted.append((float(self.height()), self.plate.height()))
        for widget, y in zip(plates, self._spread(wanted), strict=True):
            widget.move(x if widget is not self.plate else min(x, self.width() - PLATE_ROOM), round(y))
        self.plate.raise_()
        known = hole.through or hole.part_thickness_mm is not None
        far = face + self._thick(hole) * scale if known else float(self.height())
        for callout in self.callouts.values():
            middle = callout.y() + callout.face.height() / 2
            callout.face.on_dye = face < middle < far
        for callout in self.callouts.values():
            if callout.editing:
                callout.raise_()
                callout.move(callout.x(), min(callout.y(), self.height() - 150))

    def _spread(self, wanted: list[tuple[float, int]]) -> list[float]:
        """Places for boxes of given heights near where they are wanted, none over another, all in view."""
        found: list[float] = []
        at = 8.0
        for y, high in wanted:
            at = max(at, y)
            found.append(at)
            at += high + GAP
        low = self.height() - 8.0
        for index in range(len(found) - 1, -1, -1):
            found[index] = max(min(found[index], low - wanted[index][1]), 2.0)
            low = found[index] - GAP
        return found

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Callouts stay with their edges."""
        self.refresh()

    # -- painting ----------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dyed part, bare bore, scribed outline, dimension lines."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.HI)
        hole = self.selection.hole
        if hole is None:
            return
        scale, axis, face = self._frame()
        known = hole.through or hole.part_thickness_mm is not None
        bottom = face + self._thick(hole) * scale if known else float(self.height())
        top = entry_edge(hole, self.width(), axis, face, scale)
        under = far_edge(hole, self.width(), axis, bottom)
        block = QPainterPath(top)
        block.connectPath(under.toReversed())
        block.closeSubpath()
        whole = QRectF(0, 0, self.width(), self.height())
        if hole.exit == "stack" and hole.through:
            second = QPainterPath()
            second.addRect(QRectF(0, bottom, self.width(), self.height() - bottom))
            painter.fillPath(second, theme.BARE2)
            dye.hatch_path(painter, second, 12, theme.RULE, 0.8, back=True)
        dye.fill_dye(painter, block, whole)
        bore = self._bore(hole, scale, axis, face, bottom)
        if hole.exit == "cross_hole":
            self._cross(painter, hole, scale, axis, face)
        painter.fillPath(bore, theme.BARE)
        dye.hatch_path(painter, bore, 6, theme.BARE2, 0.7)
        self._outline(painter, hole, scale, axis, face, bottom)
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawPath(top)
        if known:
            painter.drawPath(under)
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(axis, 0), QPointF(axis, min(face + hole.depth_mm * scale + 40, self.height())))
        self._thin(painter, scale, axis, face)
        self._dimensions(painter, hole, scale, axis, face, theme.SCRIBE)
        painter.save()
        painter.setClipPath(bore, Qt.ClipOperation.IntersectClip)
        self._dimensions(painter, hole, scale, axis, face, theme.INK)
        painter.restore()
        self._leaders(painter, scale, axis, face)

    def _bore(self, hole: Hole, scale: float, axis: float, face: float, bottom: float) -> QPainterPath:
        """The metal cut away, up through whatever the entry looks like."""
        points = [QPointF(axis + r * scale, face + z * scale) for z, r in profile(hole, self.point_deg)]
        first = points[0]
        points.insert(0, QPointF(first.x(), 0.0 if hole.entry != "faced" else face))
        if hole.through:
            points[-1] = QPointF(
                points[-1].x(), min(bottom + 20, self.height()) if hole.exit == "sloped" else bottom
            )
        mirrored = [QPointF(2 * axis - p.x(), p.y()) for p in reversed(points)]
        path = QPainterPath()
        path.addPolygon(corners(points + mirrored))
        path.closeSubpath()
        if hole.feature.thread is not None:
            path = path.united(thread_path(hole, scale, axis, face))
        if hole.entry == "faced":
            return path
        part = QPainterPath(entry_edge(hole, self.width(), axis, face, scale))
        part.lineTo(QPointF(self.width(), self.height()))
        part.lineTo(QPointF(0, self.height()))
        part.closeSubpath()
        return path.intersected(part)

    def _outline(
        self, painter: QPainter, hole: Hole, scale: float, axis: float, face: float, bottom: float
    ) -> None:
        points = [QPointF(axis + r * scale, face + z * scale) for z, r in profile(hole, self.point_deg)]
        pen = QPen(theme.SCRIBE, 2.2)
        if hole.feature.thread is not None:
            painter.setPen(QPen(theme.SCRIBE, 2.0))
            painter.drawPath(thread_path(hole, scale, axis, face))
        painter.setPen(pen)
        for side in (1, -1):
            painter.drawPolyline(corners([QPointF(axis + side * (p.x() - axis), p.y()) for p in points]))
        painter.setPen(QPen(theme.SCRIBE, 1.2))
        shape = profile(hole, self.point_deg)
        for (_, before), (z, after) in pairwise(shape):
            if after != before and after > 0 and z * scale > 2:
                y = face + z * scale
                painter.drawLine(QPointF(axis - after * scale, y), QPointF(axis + after * scale, y))
        del bottom

    def _cross(self, painter: QPainter, hole: Hole, scale: float, axis: float, face: float) -> None:
        """The hole met inside, end on."""
        wide = (hole.cross_mm or hole.nominal_mm) * scale
        y = face + (hole.depth_mm - (0 if not hole.through else hole.depth_mm * 0.3)) * scale
        circle = QPainterPath()
        circle.addEllipse(QPointF(axis, y), wide / 2, wide / 2)
        painter.fillPath(circle, theme.BARE)
        painter.setPen(QPen(theme.SCRIBE, 2))
        painter.drawPath(circle)

    def _thin(self, painter: QPainter, scale: float, axis: float, face: float) -> None:
        """Metal that is too thin, hatched brass with its own figure."""
        hole = self.selection.hole
        for trouble in self.troubles:
            if trouble.thin is None or hole is None:
                continue
            top, bottom = (face + z * scale for z in trouble.thin)
            wide = max(hole.nominal_mm * scale * 0.6, 40)
            box = QRectF(axis - wide / 2, top, wide, max(bottom - top, 3))
            dye.lines(painter, box, 6, theme.BRASSDYE, 1.5)

    def _dimensions(
        self, painter: QPainter, hole: Hole, scale: float, axis: float, face: float, ink: QColor
    ) -> None:
        left = sorted((f for f in self.figures if f.left), key=lambda f: f.depth_mm)
        for index, figure in enumerate(left):
            callout = self.callouts[figure.id]
            x = self._line_x(hole, scale, axis, index)
            y = face + figure.depth_mm * scale
            color = theme.BRASSDYE if callout.editing else ink
            painter.setPen(QPen(color, 1))
            painter.setBrush(color)
            painter.drawLine(QPointF(x, face + 3), QPointF(x, y))
            painter.drawLine(QPointF(x - 8, y), QPointF(axis - figure.radius_mm * scale - 3, y))
            for end, way in ((face + 3, 1), (y, -1)):
                if y - face > 22:
                    arrow = [QPointF(x, end), QPointF(x - 4, end + 9 * way), QPointF(x + 4, end + 9 * way)]
                    painter.drawPolygon(corners(arrow))
            beside = callout.geometry()
            level = beside.top() + callout.face.height() * 0.55
            meet = min(max(level, face + 6), y - 3) if y > face + 9 else (face + y) / 2
            start = QPointF(beside.left() + min(callout.face.width(), beside.width()) + 2, level)
            painter.drawLine(start, QPointF(x, meet))
            painter.drawEllipse(QPointF(x, meet), 3, 3)
        painter.setBrush(theme.SCRIBE)

    def _leaders(self, painter: QPainter, scale: float, axis: float, face: float) -> None:
        for figure in self.figures:
            if figure.left or figure.radius_mm <= 0:
                continue
            callout = self.callouts[figure.id]
            box = callout.geometry()
            y = box.top() + callout.face.height() - 2
            edge = QPointF(axis + figure.radius_mm * scale, face + figure.depth_mm * scale)
            color = theme.BRASSDYE if callout.editing else theme.SCRIBE
            painter.setPen(QPen(color, 1.1))
            painter.setBrush(color)
            far = QPointF(box.left() + callout.face.width(), y)
            painter.drawPolyline(corners([far, QPointF(box.left() + 2, y), edge]))
            painter.drawEllipse(edge, 3, 3)


PLATE_ROOM = 262
