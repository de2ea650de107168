"""Measure: readings in, corrected, held against the print."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.measuring.verdict import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.shop.gauge import WORDS
from cordwainer.ui import theme
from cordwainer.ui.canvas import dye
from cordwainer.ui.canvas.slot import Marker, Slot
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import (
    BoxButton,
    Chooser,
    Column,
    Field,
    Link,
    Mark,
    Pane,
    Rule,
    corners,
    figure_html,
    text_label,
)
from cordwainer.ui.wording import VERDICT_WORDS, fixed, limits_pair, micro, plain, print_size

NO_SIZE = ("pin", "plug", "cmm")
PLACES = ("mouth", "middle", "far end")
DIRECTIONS = ((0.0, "12 to 6"), (90.0, "3 to 9"))
FORM_WORDS = {
    "ok": "straight and round",
    "bell_mouth": "bell mouth",
    "taper": "tapered",
    "barrel": "barrel",
    "waist": "waist",
    "oval": "oval",
    "lobed": "lobed",
}


def depths_of(hole: Hole) -> tuple[float, float, float]:
    """Where to read: just inside the mouth, half way, and short of the far end."""
    inset = min(3.0, 0.12 * hole.depth_mm)
    return round(inset, 1), round(hole.depth_mm / 2, 1), round(hole.depth_mm - inset, 1)


class ReadingBox(QWidget):
    """One reading: a field, and under it what it comes to and its mark."""

    def __init__(self, name: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        self.field = Field(name, 22, True)
        self.field.setFixedHeight(42)
        self.field.setPlaceholderText("–")
        column.addWidget(self.field)
        line = QHBoxLayout()
        line.setContentsMargins(2, 0, 0, 0)
        self.note = text_label("", 13, color=theme.INK2)
        self.mark = Mark("none", 6)
        line.addWidget(self.note, 1)
        line.addWidget(self.mark)
        column.addLayout(line)


class WhereYouRead(QWidget):
    """The hole lying down with a gauge at each depth, the next place in brass."""

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.unit, self.next, self.direction = "mm", 0, 0.0
        self.finding: Finding | None = None
        self.setMinimumHeight(220)

    def show_hole(
        self, hole: Hole | None, unit: str, position: int | None, direction: float, finding: Finding | None
    ) -> None:
        """Show where the next reading is taken."""
        self.hole, self.unit, self.finding = hole, unit, finding
        self.next, self.direction = -1 if position is None else position, direction
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Section, arrows at the depths, form in figures, the face with its direction."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.HI)
        hole = self.hole
        if hole is None:
            return
        face = self.width() - 240.0
        axis = self.height() / 2 + 8
        block = QPainterPath()
        left = 0.0
        scale = min((face - 210) / hole.depth_mm, (self.height() - 110) / hole.nominal_mm)
        if hole.through:
            left = face - hole.depth_mm * scale
        block.addRect(
            QRectF(0 if not hole.through else left, 0, face - (left if hole.through else 0), self.height())
        )
        dye.fill_dye(painter, block, QRectF(0, 0, self.width(), self.height()))
        r = hole.nominal_mm / 2 * scale
        end = face - hole.depth_mm * scale
        bore = QPainterPath()
        bore.addRect(QRectF(end, axis - r, face - end, 2 * r))
        painter.fillPath(bore, theme.BARE)
        dye.hatch_path(painter, bore, 6, theme.BARE2, 0.7)
        painter.setPen(QPen(theme.SCRIBE, 2.4))
        painter.drawLine(QPointF(end, axis - r), QPointF(face, axis - r))
        painter.drawLine(QPointF(end, axis + r), QPointF(face, axis + r))
        if not hole.through:
            painter.drawLine(QPointF(end, axis - r), QPointF(end, axis + r))
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawLine(QPointF(face, 0), QPointF(face, self.height()))
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(end - 20, axis), QPointF(face + 10, axis))
        for index, depth in enumerate(depths_of(hole)):
            x = face - depth * scale
            now = index == self.next
            if now:
                painter.fillRect(QRectF(x - 15, axis - r, 30, 2 * r), theme.BRASS)
            painter.setPen(QPen(theme.INK, 2.4))
            painter.drawLine(QPointF(x, axis - r + 2), QPointF(x, axis + r - 2))
            painter.setBrush(theme.INK)
            for s in (-1, 1):
                tip = axis + s * (r - 1)
                painter.drawPolygon(
                    corners([QPointF(x, tip), QPointF(x - 5, tip - 10 * s), QPointF(x + 5, tip - 10 * s)])
                )
            painter.setPen(theme.BRASSDYE if now else theme.SCRIBE)
            painter.setFont(theme.font(16, True))
            painter.drawText(
                QRectF(x - 40, axis + r + 6, 80, 22),
                Qt.AlignmentFlag.AlignCenter,
                plain(depth, self.unit, 1) if self.unit == "mm" else fixed(depth, "in", decimals_in=2),
            )
        painter.setFont(theme.font(20, True))
        outside = hole.through and left > 180
        painter.setPen(theme.INK if outside else theme.SCRIBE)
        painter.drawText(QPointF(24, 34), "Where you read")
        self._form(painter, outside)
        self._face(painter, face, axis, hole)

    def _form(self, painter: QPainter, outside: bool) -> None:
        finding = self.finding
        if finding is None:
            return
        ink, quiet = (theme.INK, theme.INK2) if outside else (theme.SCRIBE, theme.SCRIBE2)
        y = 66.0
        entries = []
        if finding.taper_mm is not None:
            where = "wider at the mouth" if finding.taper_mm >= 0 else "wider at the far end"
            entries.append((abs(finding.taper_mm), where))
        if finding.out_of_round_mm is not None:
            entries.append((finding.out_of_round_mm, "out of round at most"))
        for value, words in entries:
            figure, unit = micro(value, self.unit)
            painter.setPen(ink)
            painter.setFont(theme.font(30, True))
            painter.drawText(QPointF(24, y + 22), figure)
            taken = painter.fontMetrics().horizontalAdvance(figure) + 6
            painter.setFont(theme.font(15))
            painter.drawText(QPointF(24 + taken, y + 22), unit)
            painter.setPen(quiet)
            painter.setFont(theme.font(14))
            painter.drawText(QPointF(24, y + 42), words)
            y += 70
        painter.setPen(ink)
        painter.setFont(theme.font(16, True))
        words = ", ".join(FORM_WORDS.get(f, f) for f in finding.form)
        painter.drawText(QPointF(24, y + 16), words)

    def _face(self, painter: QPainter, face: float, axis: float, hole: Hole) -> None:
        center = QPointF(face + (self.width() - face) / 2, axis + 4)
        R, r = 88.0, 68.0
        ring = QPainterPath()
        ring.addEllipse(center, R, R)
        dye.fill_dye(painter, ring, QRectF(0, 0, self.width(), self.height()))
        painter.setPen(QPen(theme.INK, 1.4))
        painter.setBrush(theme.BARE)
        painter.drawEllipse(center, r, r)
        painter.setFont(theme.font(13, True))
        painter.setPen(theme.SCRIBE)
        for words, x, y in (("12", 0, -78), ("6", 0, 78), ("9", -78, 0), ("3", 78, 0)):
            painter.drawText(
                QRectF(center.x() + x - 14, center.y() + y - 10, 28, 20), Qt.AlignmentFlag.AlignCenter, words
            )
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        depths = depths_of(hole)
        if 0 <= self.next < 3:
            deep = (
                plain(depths[self.next], self.unit, 1)
                if self.unit == "mm"
                else fixed(depths[self.next], "in", decimals_in=2)
            )
            way = "12 to 6" if self.direction == 0 else "3 to 9"
            words = f"Next: {deep} deep, {way}"
            painter.save()
            painter.translate(center)
            if self.direction == 0:
                painter.rotate(90)
            painter.fillRect(QRectF(-r, -13, 2 * r, 26), theme.BRASS)
            painter.setPen(QPen(theme.INK, 2.4))
            painter.drawLine(QPointF(-r + 3, 0), QPointF(r - 3, 0))
            painter.setBrush(theme.INK)
            for s in (-1, 1):
                painter.drawPolygon(
                    corners([QPointF(s * (r - 1), 0), QPointF(s * (r - 11), -5), QPointF(s * (r - 11), 5)])
                )
            painter.restore()
            painter.setPen(theme.INK)
        else:
            words = "All readings are in"
        painter.drawText(QRectF(face + 6, 14, self.width() - face - 12, 24), Qt.AlignmentFlag.AlignCenter, words)


class Verdict(Pane):
    """The decision, on ink, with what would settle it."""

    def __init__(self) -> None:
        super().__init__(theme.INK)
        row = QHBoxLayout(self)
        row.setContentsMargins(28, 14, 20, 14)
        row.setSpacing(22)
        self.mark = Mark("none", 32, theme.SCRIBE, theme.INK)
        row.addWidget(self.mark)
        words = Column((0, 0, 0, 0), 2)
        words.box.addStretch(1)
        self.head = text_label("", 36, True, theme.SCRIBE)
        self.why = text_label("", 15, color=theme.LO, wrap=True)
        words.add(self.head)
        words.add(self.why)
        words.box.addStretch(1)
        row.addWidget(words, 1)
        self.settle = Column((0, 0, 0, 0), 6)
        self.settle.setFixedWidth(240)
        row.addWidget(self.settle)

    def show_finding(self, finding: Finding | None, session: Session) -> None:
        """Show a verdict, or that nothing is measured."""
        self.settle.clear()
        unit = session.unit
        if finding is None:
            self.mark.status = "none"
            self.head.setText("Nothing measured yet")
            self.why.setText(
                "Three depths, two directions. Deburr first; let the part cool, or say how warm it is."
            )
        else:
            self.mark.status = finding.verdict
            self.head.setText(VERDICT_WORDS[finding.verdict])
            self.why.setText(finding.why[0].upper() + finding.why[1:] + ".")
        self.mark.update()
        if finding is None or finding.verdict != "cannot_tell":
            return
        if finding.settle_with:
            self.settle.add(text_label("To settle it", 15, color=theme.LO))
            for index, kind in enumerate([k for k in finding.settle_with if k not in NO_SIZE][:2]):
                known = [g for g in session.shop.gauges if g.kind == kind]
                off = f"±{fixed(gauge_expanded_mm(known[0]), unit)}" if known else ""
                button = SettleButton(WORDS[kind][0].upper() + WORDS[kind][1:], off, index == 0)
                button.clicked.connect(lambda _=False, k=kind: session.put_measured("Gauge", gauge=k, readings=[]))
                button.setToolTip("Take the readings again with this gauge")
                self.settle.add(button)
        elif not finding.flags:
            self.settle.add(
                text_label(
                    "No gauge of the shop is sure enough. Borrow a finer one, or ask the drawing's owner.",
                    14,
                    color=theme.LO,
                    wrap=True,
                )
            )
        self.settle.box.addStretch(1)


class SettleButton(BoxButton):
    """A gauge offered, with what it could be off by."""

    def __init__(self, words: str, off: str, brass: bool) -> None:
        super().__init__(f"Measure again with the {words}", words)
        self.off, self.brass = off, brass
        self.setCheckable(False)
        self.setFixedHeight(46 if brass else 36)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Brass when it can settle it first."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.BRASS if self.brass else theme.HI)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        painter.drawText(self.rect().adjusted(12, 0, -70, 0), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.setFont(theme.font(15))
        painter.drawText(
            self.rect().adjusted(0, 0, -10, 0),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            self.off,
        )
        if self.ring:
            painter.setPen(QPen(theme.SCRIBE, 3))
            painter.drawRect(self.rect().adjusted(2, 2, -3, -3))


class MeasureStage(QWidget):
    """Readings and corrections at the left; section, slot and verdict at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left())
        right = QVBoxLayout()
        right.setSpacing(0)
        self.where = WhereYouRead()
        right.addWidget(self.where, 10)
        middle = Pane(theme.PLATE, "t")
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 8, 0, 4)
        line = QHBoxLayout()
        line.setContentsMargins(20, 0, 20, 0)
        line.addWidget(text_label("Against the print", 20, True))
        line.addStretch(1)
        self.asked = text_label("", 18)
        line.addWidget(self.asked)
        column.addLayout(line)
        self.slot = Slot()
        column.addWidget(self.slot, 1)
        right.addWidget(middle, 10)
        self.verdict = Verdict()
        self.verdict.setFixedHeight(140)
        right.addWidget(self.verdict)
        row.addLayout(right, 1)
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def _left(self) -> Pane:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(396)
        column = QVBoxLayout(pane)
        column.setContentsMargins(20, 12, 20, 12)
        column.setSpacing(7)
        line = QHBoxLayout()
        self.heading = text_label("", 20, True)
        line.addWidget(self.heading)
        line.addStretch(1)
        self.switch = Link("", 15)
        self.switch.clicked.connect(
            lambda: self.session.select_hole((self.session.hole_index + 1) % max(len(self.session.job.holes), 1))
        )
        line.addWidget(self.switch)
        column.addLayout(line)
        self.gauge = Chooser()
        self.gauge.setAccessibleName("Gauge")
        self.gauge.activated.connect(self._choose_gauge)
        column.addWidget(self.gauge)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(8)
        grid.addWidget(text_label("Depth", 14, color=theme.INK2), 0, 0)
        for index, (_, words) in enumerate(DIRECTIONS):
            grid.addWidget(text_label(words, 14, color=theme.INK2), 0, index + 1)
        self.depth_labels: list[QLabel] = []
        self.boxes: list[list[ReadingBox]] = []
        for index, place in enumerate(PLACES):
            depth = Column((0, 0, 0, 0), 0)
            label = QLabel()
            self.depth_labels.append(label)
            depth.add(label)
            depth.add(text_label(place, 14, color=theme.INK2))
            depth.box.addStretch(1)
            grid.addWidget(depth, index + 1, 0)
            boxes = []
            for d, (direction, words) in enumerate(DIRECTIONS):
                box = ReadingBox(f"Size at the {place}, {words}")
                box.field.kept.connect(lambda text, i=index, a=direction: self._keep(i, a, text))
                box.field.returnPressed.connect(self._step_on)
                grid.addWidget(box, index + 1, d + 1)
                boxes.append(box)
            self.boxes.append(boxes)
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(2, 1)
        column.addLayout(grid)
        self.trouble = text_label("", 14, True, wrap=True)
        column.addWidget(self.trouble)
        column.addWidget(text_label("Corrections", 20, True))
        temperatures = QHBoxLayout()
        temperatures.setSpacing(8)
        self.part_c, self.gauge_c = (
            Field("Part temperature in degrees Celsius", 16),
            Field("Gauge temperature in degrees Celsius", 16),
        )
        for words, field, key in (
            ("Part", self.part_c, "part_temperature_c"),
            ("Gauge", self.gauge_c, "gauge_temperature_c"),
        ):
            temperatures.addWidget(text_label(words, 14, color=theme.INK2))
            field.setFixedSize(56, 32)
            field.setPlaceholderText("20")
            field.kept.connect(lambda text, k=key: self._temperature(k, text))
            temperatures.addWidget(field)
            temperatures.addWidget(text_label("°C", 14, color=theme.INK2))
        temperatures.addStretch(1)
        self.burr = BoxButton("Deburred", "deburred")
        self.burr.setFixedSize(90, 32)
        self.burr.clicked.connect(lambda: self.session.put_measured("Deburred", deburred=self.burr.isChecked()))
        temperatures.addWidget(self.burr)
        column.addLayout(temperatures)
        self.corrections = Column((0, 0, 0, 0), 4)
        column.addWidget(self.corrections)
        column.addStretch(1)
        line = QHBoxLayout()
        self.explain = Link("Explain this hole", 16)
        self.explain.clicked.connect(lambda: self.window().go("explain"))  # type: ignore[union-attr]
        line.addWidget(self.explain)
        line.addStretch(1)
        clear = Link("Clear the readings", 14)
        clear.clicked.connect(lambda: self.session.put_measured("Clear readings", readings=[]))
        line.addWidget(clear)
        column.addLayout(line)
        return pane

    # -- edits ---------------------------------------------------------------------------------

    def _keep(self, index: int, direction: float, text: str) -> None:
        hole = self.session.hole
        if hole is None:
            return
        if text.strip() in ("", "–") and not self._shown(index, direction):
            return
        if text.strip() == self._shown(index, direction):
            return
        box = self.boxes[index][0 if direction == 0 else 1]
        try:
            self.session.put_reading(depths_of(hole)[index], direction, text)
            box.field.set_wrong(False)
            self.trouble.setText("")
        except InputError as bad:
            box.field.set_wrong(True)
            self.trouble.setText(bad.problem[0].upper() + bad.problem[1:])

    def _shown(self, index: int, direction: float) -> str:
        hole = self.session.hole
        if hole is None:
            return ""
        entry = self.session.job.file.holes[self.session.hole_index].measured
        for reading in entry.readings if entry else []:
            if abs(reading.depth.mm - depths_of(hole)[index]) < 0.06 and reading.direction_deg == direction:
                same = reading.size.unit == self.session.unit
                figure = str(reading.size).rsplit(" ", 1)[0]
                return figure if same else fixed(reading.size.mm, self.session.unit, 4)
        return ""

    def _step_on(self) -> None:
        """After Enter the next empty box has the focus."""
        for boxes in self.boxes:
            for box in boxes:
                if not box.field.text():
                    box.field.setFocus()
                    return

    def _choose_gauge(self, index: int) -> None:
        kind = self.gauge.itemData(index)
        if kind:
            self.session.put_measured("Gauge", gauge=kind)

    def _temperature(self, key: str, text: str) -> None:
        text = text.replace(",", ".").replace("°", "").replace("C", "").strip()
        try:
            value = float(text) if text else None
            self.session.put_measured("Temperature", **{key: value})
            self.trouble.setText("")
        except ValueError:
            self.trouble.setText(f"'{text}' is not a temperature from -60 to 400 °C; write one such as 31")

    # -- mirror ---------------------------------------------------------------------------------

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        session, hole = self.session, self.session.hole
        if hole is None:
            return
        unit = session.unit
        self.heading.setText(f"{hole.id} {hole.name}".strip())
        many = len(session.job.holes)
        self.switch.setText(f"Next of {many}")
        self.switch.setVisible(many > 1)
        self._show_gauges(hole, unit)
        finding = session.finding()
        found = (
            {(round(c.reading.depth_mm, 3), c.reading.direction_deg): c for c in finding.corrected}
            if finding
            else {}
        )
        step: tuple[int, float] | None = None
        markers = []
        for index, depth in enumerate(depths_of(hole)):
            shown = plain(depth, unit, 1) if unit == "mm" else fixed(depth, "in", decimals_in=2)
            self.depth_labels[index].setText(figure_html(shown, unit, 22, 13))
            for d, (direction, _) in enumerate(DIRECTIONS):
                box = self.boxes[index][d]
                if not (box.field.hasFocus() and box.field.isModified()):
                    box.field.setText(self._shown(index, direction))
                item = found.get((round(depth, 3), direction))
                box.note.setText(f"20 °C {fixed(item.size_mm, unit, 4)}" if item else "")
                box.mark.status = item.verdict if item else "none"
                box.mark.update()
                if item is None and step is None:
                    step = index, direction
                if item is not None:
                    markers.append(Marker(item.size_mm, f"{shown} deep", direction != 0, item.verdict))
        self.where.show_hole(hole, unit, step[0] if step else None, step[1] if step else 0.0, finding)
        self.slot.show_readings(hole, unit, markers, finding.expanded_mm if finding else 0.0)
        upper, lower = limits_pair(hole, unit)
        self.asked.setText(f"{print_size(hole, unit)}   {upper}   {lower}")
        self.verdict.show_finding(finding, session)
        self.explain.setVisible(finding is not None)
        self._show_corrections(finding, unit)

    def _show_gauges(self, hole: Hole, unit: str) -> None:
        used = self.session.gauge_used()
        self.gauge.blockSignals(True)
        self.gauge.clear()
        for gauge in self.session.shop.gauges:
            if gauge.kind in NO_SIZE:
                continue
            fits = "" if gauge.low_mm <= hole.nominal_mm <= gauge.high_mm else ", not for this size"
            off = fixed(gauge_expanded_mm(gauge), unit)
            self.gauge.addItem(f"{gauge.name[0].upper()}{gauge.name[1:]}, ±{off} {unit}{fits}", gauge.kind)
            if gauge.kind == used.kind:
                self.gauge.setCurrentIndex(self.gauge.count() - 1)
        self.gauge.blockSignals(False)

    def _show_corrections(self, finding: Finding | None, unit: str) -> None:
        entry = self.session.job.file.holes[self.session.hole_index].measured
        for field, value in (
            (self.part_c, entry.part_temperature_c if entry else None),
            (self.gauge_c, entry.gauge_temperature_c if entry else None),
        ):
            if not field.hasFocus():
                field.setText("" if value is None else f"{value:g}")
        self.burr.setChecked(entry.deburred if entry else True)
        self.burr.update()
        self.corrections.clear()
        if finding is None:
            return
        names = {"flat_jaws": "Jaw flats", "temperature": "Warmth"}
        total = 0.0
        for correction in finding.corrections:
            self._line(
                names.get(correction.id, correction.id), correction.text, self._signed(correction.um / 1000, unit)
            )
            total += correction.um / 1000
        if finding.corrections:
            self._line("Added to every reading", "", self._signed(total, unit), 20)
        figure, word = micro(finding.expanded_mm, unit)
        self._line("Could be off by", "", f"±{figure} {word}", 20)
        self.corrections.add(
            text_label(
                f"19 readings in 20 fall inside that (factor {finding.guard_factor:g}).", 14, color=theme.INK2
            )
        )

    def _signed(self, value_mm: float, unit: str) -> str:
        figure, word = micro(abs(value_mm), unit)
        return f"{'−' if value_mm < 0 else '+'}{figure} {word}"

    def _line(self, name: str, note: str, value: str, size: float = 16) -> None:
        self.corrections.add(Rule())
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label(name, 15, True))
        line.addStretch(1)
        line.addWidget(text_label(value, size, True))
        self.corrections.add(row)
        if note:
            self.corrections.add(text_label(note, 13, color=theme.INK2, wrap=True))
