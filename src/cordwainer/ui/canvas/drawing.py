"""The hole standing up as the print shows it; each figure is changed where it is drawn."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QLabel, QWidget

from cordwainer.core.cutting.depth import point_length
from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import is_code
from cordwainer.ui import theme
from cordwainer.ui.canvas import dye
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import Field, Pressable, corners
from cordwainer.ui.wording import as_written, limits_pair, plain, print_size

SHOWN_POINT_DEG = 118.0
SCALES = (1, 2, 3, 4, 6, 8, 11, 14, 18, 24, 36, 60)


class Callout(QWidget):
    """One figure on the drawing: scribed, and a field when pressed."""

    kept = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget, size: float = 30, right: bool = True) -> None:
        super().__init__(parent)
        self.name, self.on_right = name, right
        self.face = CalloutFace(name, self, size)
        self.face.clicked.connect(self.begin)
        self.field = Field(name, min(size, 26), True)
        self.field.setParent(self)
        self.field.hide()
        self.trouble = QLabel("", self)
        self.trouble.setWordWrap(True)
        self.trouble.setFont(theme.font(14))
        self.trouble.setStyleSheet(
            f"background: {theme.HI.name()}; border: 2px solid {theme.INK.name()}; padding: 6px;"
        )
        self.trouble.hide()
        self.field.kept.connect(self._keep)
        self.typed = ""
        self.resize(280, 150)

    def show_figure(self, figure: str, note: str, typed: str, upper: str = "", lower: str = "") -> None:
        """Show a figure with its note; `typed` is what the field starts with."""
        self.face.set_texts(figure, note, upper, lower)
        self.typed = typed
        self.setAccessibleName(f"{self.name} {figure} {note}")
        self.face.move(0, 0)

    def begin(self) -> None:
        """Turn into a field."""
        self.raise_()
        self.face.hide()
        self.field.setText(self.typed)
        self.field.setGeometry(0, 0, 230, 46)
        self.field.show()
        self.field.setFocus()
        self.field.selectAll()

    def _keep(self, text: str) -> None:
        self.field.setModified(False)
        self.kept.emit(text)

    def settle(self) -> None:
        """Back to scribed: kept or put back."""
        self.trouble.hide()
        self.field.set_wrong(False)
        self.field.hide()
        self.face.show()

    def refuse(self, words: str) -> None:
        """Say under the field what is wrong; the last good figure stays in use."""
        self.raise_()
        self.field.set_wrong(True)
        self.trouble.setText(f"{words[0].upper()}{words[1:]}. Still in use: {self.typed}")
        self.trouble.setGeometry(0, 50, 240, 10)
        self.trouble.setFixedWidth(240)
        self.trouble.adjustSize()
        self.trouble.show()

    def keyPressEvent(self, event: object) -> None:
        """Escape puts it back."""
        if getattr(event, "key", lambda: None)() == Qt.Key.Key_Escape:
            self.field.setModified(False)
            self.settle()
            self.face.setFocus()


class CalloutFace(Pressable):
    """The scribed look of a figure."""

    def __init__(self, name: str, parent: QWidget, size: float) -> None:
        super().__init__(name, parent)
        self.size_px = size
        self.figure = self.note = self.over = self.under = ""

    def set_texts(self, figure: str, note: str, upper: str, lower: str) -> None:
        """New words; the size follows."""
        self.figure, self.note, self.over, self.under = figure, note, upper, lower
        self.setFont(theme.font(self.size_px, True))
        wide = self.fontMetrics().horizontalAdvance(figure) + 12
        self.setFont(theme.font(16))
        wide += max(self.fontMetrics().horizontalAdvance(t) for t in (note, upper, lower)) + 14
        self.resize(wide, 50)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Figure, note, a brass line under the pointer."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(theme.SCRIBE)
        painter.setFont(theme.font(self.size_px, True))
        painter.drawText(QPointF(4, 36), self.figure)
        left = 12 + painter.fontMetrics().horizontalAdvance(self.figure)
        painter.setFont(theme.font(16))
        if self.over or self.under:
            painter.drawText(QPointF(left, 18), self.over)
            painter.drawText(QPointF(left, 38), self.under)
        else:
            painter.drawText(QPointF(left, 36), self.note)
        if self.hovered or self.ring:
            painter.setPen(QPen(theme.BRASSDYE, 3))
            painter.drawLine(4, self.height() - 3, self.width() - 4, self.height() - 3)


class Drawing(QWidget):
    """The hole standing up, as the print shows it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setMinimumSize(440, 320)
        self.size_callout = Callout("Diameter and tolerance", self, 34)
        self.depth_callout = Callout("Depth", self, 30, right=False)
        self.thick_callout = Callout("Metal to the far side", self, 22)
        self.position_callout = Callout("Position zone", self, 20)
        self.callouts = (self.size_callout, self.depth_callout, self.thick_callout, self.position_callout)
        self.size_callout.kept.connect(self._keep_size)
        self.depth_callout.kept.connect(lambda t: self._keep(self.depth_callout, "Depth", "depth", t))
        self.thick_callout.kept.connect(self._keep_thickness)
        self.position_callout.kept.connect(self._keep_position)

    # -- edits ---------------------------------------------------------------------------------

    def _keep(self, callout: Callout, words: str, field: str, text: str) -> None:
        try:
            self.session.edit_hole(words, **{field: str(parse(text, self._typing_unit()))})
        except InputError as bad:
            callout.refuse(bad.problem)
            return
        callout.settle()

    def _typing_unit(self) -> str:
        """A bare figure is in the unit the hole is drawn in."""
        return self.session.hole.unit if self.session.hole else self.session.unit

    def _keep_size(self, text: str) -> None:
        try:
            found = read_callout(text, self._typing_unit())
            values: dict[str, object] = {
                "diameter": str(found.diameter),
                "tolerance": found.tolerance,
                "limits": None,
            }
            values["kind"] = "sized" if found.tolerance else "plain"
            if found.depth is not None:
                values |= {"depth": str(found.depth), "through": found.through}
            self.session.edit_hole(f"Size {found.diameter}", **values)
        except InputError as bad:
            self.size_callout.refuse(bad.problem)
            return
        self.size_callout.settle()

    def _keep_thickness(self, text: str) -> None:
        text = text.strip()
        if text in ("", "-", "not said"):
            self.session.edit_hole("Metal behind", part_thickness=None)
            self.thick_callout.settle()
            return
        self._keep(self.thick_callout, "Metal behind", "part_thickness", text)

    def _keep_position(self, text: str) -> None:
        text = text.strip()
        if text in ("", "-", "general"):
            self.session.edit_hole("Position", position_tolerance=None)
            self.position_callout.settle()
            return
        self._keep(self.position_callout, "Position", "position_tolerance", text)

    # -- layout and painting ----------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the selected hole."""
        hole = self.session.hole
        for callout in self.callouts:
            callout.setVisible(hole is not None)
        if hole is None:
            return
        unit = hole.unit
        upper, lower = limits_pair(hole, unit)
        file = self.session.job.file.holes[self.session.hole_index]
        tolerance = hole.tolerance
        typed = f"{hole.diameter} {tolerance}".strip()
        code = tolerance if is_code(tolerance) else ""
        self.size_callout.show_figure(f"{print_size(hole, unit)} {code}".strip(), "", typed, upper, lower)
        deep = "through" if hole.through else "deep"
        self.depth_callout.show_figure(as_written(hole.depth), deep, str(hole.depth))
        self.thick_callout.setVisible(not hole.through)
        thick = as_written(file.part_thickness) if file.part_thickness else "not said"
        self.thick_callout.show_figure(thick, "to the far side", str(file.part_thickness or ""))
        zone = plain(hole.position_tolerance_mm, unit) if hole.position_tolerance_mm else "general"
        self.position_callout.show_figure(
            zone,
            "position zone, Ø" if hole.position_tolerance_mm else "position",
            str(file.position_tolerance or ""),
        )
        self._place()
        self.update()

    def _frame(self) -> tuple[float, float, float, float]:
        """Pixels per millimeter, x of the axis, y of the face, y of the far face."""
        hole = self.session.hole
        face = 0.0
        axis = self.width() * 0.44
        if hole is None:
            return 8.0, axis, face, self.height() - 40.0
        thick = hole.depth_mm if hole.through else (hole.part_thickness_mm or hole.depth_mm + hole.nominal_mm)
        room = self.height() - 60
        fits = [s for s in SCALES if thick * s <= room and hole.nominal_mm * s <= self.width() * 0.26]
        scale = float(fits[-1] if fits else min(room / thick, self.width() * 0.26 / hole.nominal_mm))
        return scale, axis, face, face + thick * scale

    def _place(self) -> None:
        hole = self.session.hole
        if hole is None:
            return
        scale, axis, face, _ = self._frame()
        r = hole.nominal_mm / 2 * scale
        right = min(axis + r + 44, self.width() - 250)
        self.size_callout.move(round(right), round(face + 36))
        bottom = face + hole.depth_mm * scale
        self.depth_callout.move(
            round(max(axis - r - 52 - self.depth_callout.face.width(), 8)),
            round(min((face + bottom) / 2 - 20, self.height() - 120)),
        )
        self.position_callout.move(round(right), round(face + 110))
        self.thick_callout.move(round(right), round(min(bottom - 20, self.height() - 100)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Callouts stay with their edges."""
        self.refresh()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dyed part, bare bore, scribed outline, dimension lines."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.HI)
        hole = self.session.hole
        if hole is None:
            return
        scale, axis, face, far = self._frame()
        known = hole.through or hole.part_thickness_mm is not None
        bottom = far if known else float(self.height())
        block = QPainterPath()
        block.addRect(QRectF(0, face, self.width(), bottom - face))
        dye.fill_dye(painter, block, QRectF(0, 0, self.width(), self.height()))
        r = hole.nominal_mm / 2 * scale
        deep = face + hole.depth_mm * scale
        bore = QPainterPath(QPointF(axis - r, face))
        bore.lineTo(QPointF(axis - r, deep))
        if not hole.through:
            bore.lineTo(QPointF(axis, deep + point_length(hole.nominal_mm, SHOWN_POINT_DEG) * scale))
        bore.lineTo(QPointF(axis + r, deep))
        bore.lineTo(QPointF(axis + r, face))
        painter.fillPath(bore, theme.BARE)
        dye.hatch_path(painter, bore, 6, theme.BARE2, 0.7)
        painter.setPen(QPen(theme.SCRIBE, 2.4))
        painter.drawLine(QPointF(axis - r, face), QPointF(axis - r, deep))
        painter.drawLine(QPointF(axis + r, face), QPointF(axis + r, deep))
        if not hole.through:
            painter.drawPolyline(
                corners(
                    [
                        QPointF(axis - r, deep),
                        QPointF(axis, deep + point_length(hole.nominal_mm, SHOWN_POINT_DEG) * scale),
                        QPointF(axis + r, deep),
                    ]
                )
            )
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawLine(QPointF(0, face + 0.8), QPointF(self.width(), face + 0.8))
        if known:
            painter.drawLine(QPointF(0, far), QPointF(self.width(), far))
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(axis, 0), QPointF(axis, min(deep + 40, self.height())))
        self._dimensions(painter, axis, r, face, deep, scale, hole)

    def _dimensions(
        self, painter: QPainter, axis: float, r: float, face: float, deep: float, scale: float, hole: Hole
    ) -> None:
        painter.setPen(QPen(theme.SCRIBE, 1))
        x = axis - r - 30
        painter.drawLine(QPointF(x, face + 4), QPointF(x, deep))
        for y, way in ((face + 4, 1), (deep, -1)):
            painter.setBrush(theme.SCRIBE)
            painter.drawPolygon(corners([QPointF(x, y), QPointF(x - 4, y + 9 * way), QPointF(x + 4, y + 9 * way)]))
        painter.drawLine(QPointF(x - 8, deep), QPointF(axis - r - 4, deep))
        leader = self.size_callout.geometry()
        start = QPointF(leader.left() + 2, leader.top() + 52)
        edge = QPointF(axis + r, min(start.y() + 34, deep - 6))
        painter.setPen(QPen(theme.SCRIBE, 1.1))
        painter.drawPolyline(
            corners([QPointF(leader.left() + self.size_callout.face.width(), start.y()), start, edge])
        )
        painter.drawEllipse(edge, 3, 3)
        room = hole.tip_room_mm
        if room is not None and hole.part_thickness_mm is not None:
            y = face + hole.part_thickness_mm * scale
            tip = deep + point_length(hole.nominal_mm, SHOWN_POINT_DEG) * scale
            if y - tip > 1:
                painter.setPen(QPen(theme.BRASSDYE, 1))
                painter.drawLine(QPointF(axis, tip), QPointF(axis, y))
