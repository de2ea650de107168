"""Print: the drawing is the form. Each figure is changed where it is drawn."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import is_code
from cordwainer.core.planning.finish import choose_process
from cordwainer.ui import theme
from cordwainer.ui.canvas import dye
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import (
    Choices,
    Column,
    Field,
    Link,
    Mark,
    Pane,
    Pressable,
    Rule,
    Tile,
    corners,
    text_label,
)
from cordwainer.ui.wording import as_written, fixed, limits_pair, plain, print_size

SCALES = (1, 2, 3, 4, 6, 8, 11, 14, 18, 24, 36, 60)
ENTRIES = (
    ("faced", "faced"),
    ("pip", "pip left"),
    ("sawn", "sawn"),
    ("cast", "cast"),
    ("sloped", "sloped"),
    ("curved", "round"),
)


def paint_entry(kind: str) -> object:
    """A painter of one entry face."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        painter.fillRect(box, theme.HI)
        y = box.center().y()
        edge = QPainterPath(QPointF(box.left(), y))
        if kind == "pip":
            for x, dy in ((-5, 0), (-5, -12), (5, -12), (5, 0)):
                edge.lineTo(QPointF(box.center().x() + x, y + dy))
        elif kind in ("sawn", "cast"):
            steps = 9 if kind == "sawn" else 14
            for i in range(1, steps):
                high = (4 if i % 2 else -4) if kind == "sawn" else ((i * 29) % 11 - 5)
                edge.lineTo(QPointF(box.left() + i * box.width() / steps, y + high))
        elif kind == "sloped":
            edge = QPainterPath(QPointF(box.left(), y - 10))
            edge.lineTo(QPointF(box.right(), y + 12))
        elif kind == "curved":
            edge = QPainterPath(QPointF(box.left(), y + 12))
            edge.quadTo(QPointF(box.center().x(), y - 22), QPointF(box.right(), y + 12))
        if kind not in ("sloped", "curved"):
            edge.lineTo(QPointF(box.right(), y))
        body = QPainterPath(edge)
        body.lineTo(box.bottomRight())
        body.lineTo(box.bottomLeft())
        body.closeSubpath()
        if chosen:
            dye.fill_dye(painter, body, box)
        else:
            painter.fillPath(body, theme.BARE2)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawPath(edge)

    return paint


def paint_kind(through: bool, sized: bool) -> object:
    """A painter of one kind of hole."""

    def paint(painter: QPainter, box: QRectF, chosen: bool) -> None:
        dye.lines(painter, box, 7, theme.RULE if not chosen else theme.DYEHI, 0.8)
        r, top = 14.0, box.top()
        center = box.center().x()
        path = QPainterPath(QPointF(center - r, top))
        if through:
            path.lineTo(QPointF(center - r, box.bottom()))
            path.lineTo(QPointF(center + r, box.bottom()))
        else:
            deep = box.bottom() - 20
            path.lineTo(QPointF(center - r, deep))
            path.lineTo(QPointF(center, deep + 9))
            path.lineTo(QPointF(center + r, deep))
        path.lineTo(QPointF(center + r, top))
        painter.fillPath(path, theme.HI)
        painter.setPen(QPen(theme.SCRIBE if chosen else theme.INK, 3 if sized else 1.4))
        painter.drawPath(path)

    return paint


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
            bore.lineTo(QPointF(axis, deep + 0.3004 * hole.nominal_mm * scale))
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
                        QPointF(axis, deep + 0.3004 * hole.nominal_mm * scale),
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
            tip = deep + 0.3004 * hole.nominal_mm * scale
            if y - tip > 1:
                painter.setPen(QPen(theme.BRASSDYE, 1))
                painter.drawLine(QPointF(axis, tip), QPointF(axis, y))


def as_typed(hole: Hole) -> str:
    """The hole in one line, as the typed line takes it."""
    figures = [as_written(hole.diameter), as_written(hole.depth)]
    tolerance = hole.tolerance.removesuffix(" mm").removesuffix(" in")
    size = f"{figures[0]} {tolerance}".strip()
    way = f"through {figures[1]}" if hole.through else f"{figures[1]} deep"
    return f"{size} {way}"


class PrintStage(QWidget):
    """Kind and one-line callout at the left, the drawing, what it asks at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left())
        row.addLayout(self._middle(), 1)
        row.addWidget(self._right())
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def _left(self) -> Pane:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(224)
        column = QVBoxLayout(pane)
        column.setContentsMargins(16, 12, 14, 12)
        column.setSpacing(6)
        column.addWidget(text_label("Kind of hole", 20, True))
        self.kind_tiles: dict[tuple[bool, bool], Tile] = {}
        for sized, word in ((False, "Plain"), (True, "Sized")):
            line = QHBoxLayout()
            line.setSpacing(2)
            for through, way in ((True, "through"), (False, "blind")):
                paint = paint_kind(through, sized)
                caption = word if through else f"{word}, blind"
                tile = Tile(f"{word}, {way}", caption, paint, QSize(84, 58))  # type: ignore[arg-type]
                tile.clicked.connect(lambda _=False, s=sized, t=through: self._choose_kind(s, t))
                self.kind_tiles[(sized, through)] = tile
                line.addWidget(tile)
            column.addLayout(line)
        column.addSpacing(8)
        column.addWidget(text_label("Or type it as printed", 15, True))
        self.typed = Field("The hole as printed", 16)
        self.typed.setFixedHeight(38)
        self.typed.kept.connect(self._type)
        column.addWidget(self.typed)
        self.typed_trouble = text_label("", 13, wrap=True)
        column.addWidget(self.typed_trouble)
        column.addSpacing(4)
        for name, attribute in (("Hole", "id_field"), ("Name", "name_field"), ("Alike on a part", "count_field")):
            column.addWidget(text_label(name, 14, color=theme.INK2))
            field = Field(name, 16, True)
            field.setFixedHeight(34)
            setattr(self, attribute, field)
            column.addWidget(field)
        self.id_field: Field
        self.name_field: Field
        self.count_field: Field
        self.id_field.kept.connect(lambda t: self._set("Hole id", "id", t.strip()))
        self.name_field.kept.connect(lambda t: self._set("Name", "name", t.strip()))
        self.count_field.kept.connect(self._set_count)
        column.addStretch(1)
        line = QHBoxLayout()
        add = Link("Add a hole", 15)
        add.clicked.connect(lambda: self.window().add_hole())  # type: ignore[union-attr]
        line.addWidget(add)
        line.addStretch(1)
        self.switch = Link("Next", 15)
        self.switch.clicked.connect(self._next)
        line.addWidget(self.switch)
        column.addLayout(line)
        return pane

    def _middle(self) -> QVBoxLayout:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        head = Pane(theme.HI)
        head.setFixedHeight(140)
        column = QVBoxLayout(head)
        column.setContentsMargins(20, 10, 20, 2)
        column.setSpacing(4)
        line = QHBoxLayout()
        self.heading = text_label("", 20, True)
        line.addWidget(self.heading)
        line.addStretch(1)
        line.addWidget(text_label("press a figure to change it", 14, color=theme.INK2))
        column.addLayout(line)
        tiles = QHBoxLayout()
        tiles.setSpacing(6)
        tiles.addWidget(text_label("Tool\nenters", 14, color=theme.INK2))
        self.entry_tiles: dict[str, Tile] = {}
        for key, word in ENTRIES:
            tile = Tile(f"Entry {word}", word, paint_entry(key), QSize(66, 42))  # type: ignore[arg-type]
            tile.clicked.connect(lambda _=False, k=key: self._set("Entry", "entry", k))
            self.entry_tiles[key] = tile
            tiles.addWidget(tile)
        tiles.addStretch(1)
        column.addLayout(tiles)
        middle.addWidget(head)
        self.drawing = Drawing(self.session)
        middle.addWidget(self.drawing, 1)
        foot = Pane(theme.LO, "t")
        foot.setFixedHeight(88)
        self.foot = QHBoxLayout(foot)
        self.foot.setContentsMargins(20, 10, 20, 10)
        self.foot.setSpacing(30)
        self.foot_columns: dict[str, QLabel] = {}
        for name in ("where nothing is said", "left under it"):
            column_ = Column((0, 0, 0, 0), 2)
            column_.add(text_label(name, 14, color=theme.INK2))
            label = text_label("", 16, True)
            self.foot_columns[name] = label
            column_.add(label)
            self.foot.addWidget(column_)
        self.foot.addStretch(1)
        self.finish = Choices(
            "Finish", [("", "any"), ("3.2", "3.2"), ("1.6", "1.6"), ("0.8", "0.8")], QSize(46, 32)
        )
        self.finish.chosen.connect(self._set_finish)
        column_ = Column((0, 0, 0, 0), 2)
        column_.add(text_label("finish, Ra in µm", 14, color=theme.INK2))
        column_.add(self.finish)
        self.foot.addWidget(column_)
        middle.addWidget(foot)
        return middle

    def _right(self) -> Pane:
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(300)
        column = QVBoxLayout(pane)
        column.setContentsMargins(20, 12, 16, 12)
        self.asks = Column((0, 0, 0, 0), 6)
        column.addWidget(self.asks)
        column.addStretch(1)
        return pane

    # -- edits ---------------------------------------------------------------------------------

    def _set(self, words: str, key: str, value: object) -> None:
        try:
            self.session.edit_hole(words, **{key: value})
            self.typed_trouble.setText("")
        except InputError as bad:
            self.typed_trouble.setText(f"{bad.field}: {bad.problem}")
            self.refresh()

    def _set_count(self, text: str) -> None:
        self._set("Count", "count", int(text) if text.strip().isdigit() and len(text) < 7 else text)

    def _set_finish(self, value: str) -> None:
        self._set("Finish", "finish_ra_um", float(value) if value else None)

    def _choose_kind(self, sized: bool, through: bool) -> None:
        hole = self.session.hole
        if hole is None:
            return
        values: dict[str, object] = {"kind": "sized" if sized else "plain", "through": through}
        if sized and not hole.tolerance and self.session.job.file.holes[self.session.hole_index].limits is None:
            values["tolerance"] = "H7" if hole.unit == "mm" else "+.0010/-.0000 in"
        if not sized:
            values |= {"tolerance": None, "limits": None}
        try:
            self.session.edit_hole(
                f"{'Sized' if sized else 'Plain'}, {'through' if through else 'blind'}", **values
            )
        except InputError as bad:
            self.typed_trouble.setText(bad.problem)
        self.refresh()

    def _type(self, text: str) -> None:
        self.drawing._keep_size(text)
        trouble = self.drawing.size_callout.trouble
        if trouble.isVisible():
            self.typed_trouble.setText(trouble.text())
            self.typed.set_wrong(True)
            self.drawing.size_callout.settle()
            return
        self.typed.set_wrong(False)
        self.typed_trouble.setText("")

    def _next(self) -> None:
        count = len(self.session.job.holes)
        self.session.select_hole((self.session.hole_index + 1) % max(count, 1))

    # -- mirror ---------------------------------------------------------------------------------

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.setFocus()
        self.refresh()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        hole = self.session.hole
        self.drawing.refresh()
        if hole is None:
            return
        self.heading.setText(f"{hole.id} {hole.name}, as the drawing asks".replace(" ,", ","))
        sized = hole.kind == "sized"
        for (tile_sized, tile_through), tile in self.kind_tiles.items():
            tile.setChecked(
                hole.kind in ("plain", "sized") and (tile_sized, tile_through) == (sized, hole.through)
            )
            tile.update()
        for key, tile in self.entry_tiles.items():
            tile.setChecked(key == hole.entry)
            tile.update()
        if not self.typed.hasFocus():
            self.typed.setText(as_typed(hole))
            self.typed.setCursorPosition(0)
        self.id_field.setText(hole.id)
        self.name_field.setText(hole.name)
        self.count_field.setText(str(hole.count))
        many = len(self.session.job.holes)
        self.switch.setText(f"Next of {many}")
        self.switch.setVisible(many > 1)
        unit = self.session.unit
        self.foot_columns["where nothing is said"].setText(self.session.job.file.general_tolerance)
        floor = "nothing, it goes through" if hole.through else f"{plain(hole.floor_mm, unit, 2)} {unit} at least"
        self.foot_columns["left under it"].setText(floor)
        value = f"{hole.finish_ra_um:g}" if hole.finish_ra_um else ""
        self.finish.set_value(value)
        self._show_asks(hole, unit)

    def _show_asks(self, hole: Hole, unit: str) -> None:
        asks = self.asks
        asks.clear()
        asks.add(text_label("What it asks", 20, True))
        for name, value in (
            ("Largest", f"{fixed(hole.limits.upper_mm, unit)} {unit}"),
            ("Smallest", f"{fixed(hole.limits.lower_mm, unit)} {unit}"),
            ("Between them", f"{fixed(hole.limits.width_mm, unit)} {unit}"),
            ("As fine as", f"IT{hole.grade}" if hole.grade >= 3 else "finer than IT3"),
            ("Depth over Ø", f"{hole.depth_mm / hole.nominal_mm:.1f}"),
        ):
            asks.add(Rule())
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(text_label(name, 14, color=theme.INK2))
            row.addStretch(1)
            row.addWidget(text_label(value, 16, True))
            asks.add(line)
        asks.add(Rule())
        asks.box.addSpacing(10)
        finisher = choose_process(hole)
        asks.add(text_label("So it wants", 20, True))
        if finisher.processes:
            words = {
                "ream": "Reaming. A drill alone spreads wider than this.",
                "drill": "Drilling with care: the expected hole must fall inside.",
            }
            asks.add(text_label(words[finisher.processes[0]], 15, wrap=True))
        for reason in finisher.why_not:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(Mark("reject", 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(text_label(reason[0].upper() + reason[1:] + ".", 15, wrap=True), 1)
            asks.add(line)
        plan = self.session.plan
        if plan is not None and not plan.routes and not finisher.why_not:
            asks.box.addSpacing(8)
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(Mark("reject", 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(text_label(plan.why_not[0][0].upper() + plan.why_not[0][1:] + ".", 15, wrap=True), 1)
            asks.add(line)
        if plan is not None and plan.routes:
            asks.box.addSpacing(8)
            go = Link(f"Plan: {plan.routes[0].minutes:.0f} min, {len(plan.routes[0].operations)} steps", 16)
            go.clicked.connect(lambda: self.window().go("plan"))  # type: ignore[union-attr]
            asks.add(go)
