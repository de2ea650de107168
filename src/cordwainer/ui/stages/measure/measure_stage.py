"""Measure: readings in, corrected, held against the print."""

from __future__ import annotations

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import fixed, limits_pair, micro, print_size
from cordwainer.core.shop.gauge import Gauge
from cordwainer.files.places import Settings
from cordwainer.ui.canvas.slot import Marker, Slot
from cordwainer.ui.canvas.where_read import WhereYouRead, depths_of
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.gauge_link import GaugeLink
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Chooser, Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.hole_head import HoleHead
from cordwainer.ui.stages.measure.otherwise import NARROW, PIN_WIDTH, WIDE, OffPlace, Points, Sends
from cordwainer.ui.stages.measure.reading_grid import NEAR_MM, ReadingBox, ReadingGrid
from cordwainer.ui.stages.measure.verdict_bar import PIN_LIKE, VerdictBar
from cordwainer.ui.stages.measure.which_one import WhichOne


class MeasureStage(Stage):
    """Readings and corrections at the left; section, slot and verdict at the right."""

    def __init__(
        self,
        document: Document,
        selection: Selection,
        stock: Stock,
        plans: Plans,
        readings: Readings,
        settings: Settings,
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.readings, self.settings = readings, settings
        self.link = GaugeLink(self.settings)
        self.link.sent.connect(self.take_sent)
        row = across(self, NONE, 0)
        row.addWidget(self._left())
        right = down(gap=0)
        self.where = WhereYouRead()
        right.addWidget(self.where, 10)
        middle = Pane(theme.PLATE, "t")
        column = down(middle, (0, 8, 0, 4))
        line = across(margins=(20, 0, 20, 0))
        fill(line, text_label(tr("Against the print"), 20, True), None)
        self.asked = text_label("", 18)
        line.addWidget(self.asked)
        column.addLayout(line)
        self.slot = Slot()
        column.addWidget(self.slot, 1)
        right.addWidget(middle, 10)
        self.verdict = VerdictBar(self.selection, self.stock, self.readings)
        self.verdict.setFixedHeight(140)
        right.addWidget(self.verdict)
        row.addLayout(right, 1)
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived)

    def _left(self) -> Pane:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(396)
        outer = down(pane, (0, 0, 1, 0))
        area = scroll_down()
        outer.addWidget(area)
        inside = QWidget()
        column = down(inside, (20, 12, 18, 12), 7)
        put_in_scroll(area, inside)
        self.head = HoleHead(self.document, self.selection)
        column.addWidget(self.head)
        self.which = WhichOne(self.document, self.selection, self.readings)
        column.addWidget(self.which)
        self.gauge = Chooser()
        self.gauge.setAccessibleName(tr("Gauge"))
        self.gauge.activated.connect(self._choose_gauge)
        column.addWidget(self.gauge)
        self.grid = ReadingGrid()
        self.grid.kept.connect(self._keep)
        self.grid.entered.connect(self._step_on)
        self.grid.regrown.connect(self.refresh)
        column.addWidget(self.grid)
        self.points = Points(self.readings)
        column.addWidget(self.points)
        self.sends = Sends(self.selection, self.plans, self.link)
        column.addWidget(self.sends)
        column.addWidget(self._pin_row())
        self.off_place = OffPlace(self.selection, self.readings)
        column.addWidget(self.off_place)
        self.trouble = text_label("", 14, True, wrap=True)
        column.addWidget(self.trouble)
        for part in (self.points, self.off_place):
            part.told.connect(self.trouble.setText)
        column.addWidget(text_label(tr("Corrections"), 20, True))
        column.addLayout(self._temperature_row())
        self.corrections = Column((0, 0, 0, 0), 4)
        fill(column, self.corrections, None)
        line = QHBoxLayout()
        self.explain = Link(tr("Explain this hole"), 16)
        self.explain.clicked.connect(lambda: self.wants.emit("go_explain"))
        fill(line, self.explain, None)
        clear = Link(tr("Clear the readings"), 14)
        clear.clicked.connect(self._clear)
        line.addWidget(clear)
        column.addLayout(line)
        return pane

    def _pin_row(self) -> QWidget:
        """The largest pin that goes and the smallest that will not."""
        self.pins, pins = line_of(gap=8)
        self.pin_goes, self.pin_refused = (
            Field(tr("Largest pin that goes"), 16),
            Field(tr("Smallest pin that will not"), 16),
        )
        self.pin_words = text_label("", 14, color=theme.INK2)
        for label, field, goes in (
            (self.pin_words, self.pin_goes, True),
            (text_label(tr("will not"), 14, color=theme.INK2), self.pin_refused, False),
        ):
            label.setFixedWidth(WIDE if goes else NARROW)
            pins.addWidget(label)
            field.setFixedSize(PIN_WIDTH, 32)
            field.setPlaceholderText("–")
            field.kept.connect(lambda text, g=goes: self._pin(g, text))
            pins.addWidget(field)
        pins.addStretch(1)
        return self.pins

    def _temperature_row(self) -> QHBoxLayout:
        """How warm part and gauge are, and whether the burr is off."""
        temperatures = across(gap=8)
        self.part_c, self.gauge_c = (
            Field(tr("Part temperature in degrees Celsius"), 16),
            Field(tr("Gauge temperature in degrees Celsius"), 16),
        )
        for words, field, key in (
            (tr("Part"), self.part_c, "part_temperature_c"),
            (tr("Gauge"), self.gauge_c, "gauge_temperature_c"),
        ):
            temperatures.addWidget(text_label(words, 14, color=theme.INK2))
            field.setFixedSize(56, 32)
            field.setPlaceholderText("20")
            field.kept.connect(lambda text, k=key: self._temperature(k, text))
            fill(temperatures, field, text_label("°C", 14, color=theme.INK2))
        temperatures.addStretch(1)
        self.burr = BoxButton(tr("Deburred"), tr("deburred"))
        self.burr.setFixedSize(90, 32)
        self.burr.clicked.connect(lambda: self.readings.put(tr("Deburred"), deburred=self.burr.isChecked()))
        temperatures.addWidget(self.burr)
        return temperatures

    # -- edits ---------------------------------------------------------------------------------

    def _keep(self, index: int, direction: float, text: str) -> None:
        hole = self.selection.hole
        if hole is None:
            return
        if text.strip() in ("", "–") and not self._shown(index, direction):
            return
        if text.strip() == self._shown(index, direction):
            return
        angles = [angle for angle, _ in self.grid.directions]
        box = self.grid.boxes[index][angles.index(direction)]
        try:
            self.readings.put_reading(self._depths(hole)[index], direction, text)
            box.field.set_wrong(False)
            self.trouble.setText("")
        except InputError as bad:
            box.field.set_wrong(True)
            self.trouble.setText(sentence(bad.problem))

    def _shown(self, index: int, direction: float) -> str:
        hole = self.selection.hole
        if hole is None:
            return ""
        entry = self.readings.entry()
        for reading in entry.readings if entry else []:
            if abs(reading.depth.mm - self._depths(hole)[index]) < NEAR_MM and reading.direction_deg == direction:
                same = reading.size.unit == self.selection.unit
                figure = str(reading.size).rsplit(" ", 1)[0]
                return figure if same else fixed(reading.size.mm, self.selection.unit, 4)
        return ""

    def _step_on(self) -> None:
        """After Enter the next empty box has the focus."""
        box = self.grid.next_empty()
        (box.field if box is not None else self).setFocus()

    @property
    def boxes(self) -> list[list[ReadingBox]]:
        """The boxes by depth and direction."""
        return self.grid.boxes

    def _depths(self, hole: Hole) -> tuple[float, ...]:
        return depths_of(hole, self.grid.depth_count)

    def _pin(self, goes: bool, text: str) -> None:
        field = self.pin_goes if goes else self.pin_refused
        if text.strip() == self._pin_shown(goes):
            return
        try:
            self.readings.put_pin(goes, text)
            field.set_wrong(False)
            self.trouble.setText("")
        except InputError as bad:
            field.set_wrong(True)
            self.trouble.setText(sentence(bad.problem))

    def _pin_shown(self, goes: bool) -> str:
        entry = self.readings.entry()
        pin = next((p for p in (entry.pins if entry else ()) if p.goes is goes), None)
        if pin is None:
            return ""
        same = pin.size.unit == self.selection.unit
        return str(pin.size).rsplit(" ", 1)[0] if same else fixed(pin.size.mm, self.selection.unit, 4)

    def _choose_gauge(self, index: int) -> None:
        kind = self.gauge.itemData(index)
        if kind:
            points = list(self.readings.points()) if kind == "cmm" else []
            self.readings.put(tr("Gauge"), gauge=kind, points=points or None)

    def _clear(self) -> None:
        nothing = dict.fromkeys(("pins", "points", "offset_entry", "offset_exit"))
        self.readings.put(tr("Clear readings"), readings=[], **nothing)

    def take_sent(self, text: str) -> None:
        """A size a gauge sent: into the box being filled in, else the first empty one."""
        if not self.isVisible() or not self.grid.isVisible():
            return
        row, direction = self.grid.place_to_fill() or (-1, 0.0)
        hole = self.selection.hole
        if hole is None or row < 0:
            self.trouble.setText(
                tr("The gauge sent {words}, and every box is filled. Empty the one it is for.", words=text)
            )
            return
        try:
            self.readings.put_reading(self._depths(hole)[row], direction, text)
            self.trouble.setText("")
        except InputError as bad:
            self.trouble.setText(sentence(bad.problem))

    def _temperature(self, key: str, text: str) -> None:
        text = text.replace(",", ".").replace("°", "").replace("C", "").strip()
        try:
            value = float(text) if text else None
            self.readings.put(tr("Temperature"), **{key: value})
            self.trouble.setText("")
        except ValueError:
            self.trouble.setText(
                tr("'{words}' is not a temperature from -60 to 400 °C; write one such as 31", words=text)
            )

    # -- mirror ---------------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up when shown, and listen to the gauge."""
        self.link.start()
        self.readings.newest_number()
        self.refresh()

    def hideEvent(self, event: object) -> None:
        """Let the gauge's port go."""
        self.link.stop()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        hole = self.selection.hole
        if hole is None:
            return
        unit = self.selection.unit
        self.head.refresh()
        self.which.refresh()
        self._show_gauges(hole, unit)
        finding = self.readings.finding()
        entry = self.readings.entry()
        self._show_ways(finding, hole, unit)
        self.grid.fit(hole, [(r.depth.mm, r.direction_deg) for r in (entry.readings if entry else ())])
        shown = {
            (row, angle): self._shown(row, angle)
            for row in range(self.grid.depth_count)
            for angle, _ in self.grid.directions
        }
        step, markers = self.grid.show_finding(hole, unit, finding, shown)
        depths: tuple[float, ...] = self._depths(hole)
        if self.grid.isHidden():
            corrected = finding.corrected if finding is not None else ()
            step, depths = None, tuple(sorted({c.reading.depth_mm for c in corrected}))
            markers = [
                Marker(
                    c.size_mm,
                    tr("{depth_mm} deep", depth_mm=fixed(c.reading.depth_mm, unit, 1)),
                    c.reading.direction_deg != 0,
                    c.verdict,
                )
                for c in corrected
                if c.reading.direction_deg in (0.0, 90.0)
            ]
        for field, goes in ((self.pin_goes, True), (self.pin_refused, False)):
            if not field.hasFocus():
                field.setText(self._pin_shown(goes))
        at, turned = step if step is not None else (None, 0.0)
        self.where.show_hole(hole, unit, at, turned, finding, depths)
        self.slot.show_readings(hole, unit, markers, finding.expanded_mm if finding else 0.0)
        upper, lower = limits_pair(hole, unit)
        self.asked.setText(f"{print_size(hole, unit)}   {upper}   {lower}")
        self.verdict.show_finding(finding)
        self.explain.setVisible(finding is not None)
        self._show_corrections(finding, unit)

    def _show_gauges(self, hole: Hole, unit: str) -> None:
        used = self.readings.gauge_used()
        self.gauge.blockSignals(True)
        self.gauge.clear()
        for gauge in self.stock.shop.gauges:
            fits = "" if gauge.low_mm <= hole.nominal_mm <= gauge.high_mm else tr(", not for this size")
            fits += tr(", calibration ran out") if gauge.overdue else ""
            off = fixed(gauge_expanded_mm(gauge), unit)
            self.gauge.addItem(f"{_title(gauge)}, ±{off} {unit}{fits}", gauge.kind)
            if gauge.kind == used.kind:
                self.gauge.setCurrentIndex(self.gauge.count() - 1)
        if used.kind not in [g.kind for g in self.stock.shop.gauges]:
            off = fixed(gauge_expanded_mm(used), unit)
            self.gauge.addItem(f"{_title(used)}, ±{off} {unit}", used.kind)
            self.gauge.setCurrentIndex(self.gauge.count() - 1)
        self.gauge.blockSignals(False)

    def _show_ways(self, finding: Finding | None, hole: Hole, unit: str) -> None:
        """Boxes for a gauge that reads sizes, pins alone for one that only goes or not, points for a machine."""
        kind = self.readings.gauge_used().kind
        self.grid.setVisible(kind not in PIN_LIKE and kind != "cmm")
        self.points.setVisible(kind == "cmm")
        self.points.refresh(finding, hole, unit)
        for part in (self.pins, self.off_place):
            part.setVisible(kind != "cmm")
        self.pin_words.setText(tr("End that goes") if kind == "plug" else tr("Pin that goes"))
        self.off_place.refresh()
        self.sends.refresh()

    def _show_corrections(self, finding: Finding | None, unit: str) -> None:
        entry = self.readings.entry()
        for field, value in (
            (self.part_c, entry.part_temperature_c if entry else None),
            (self.gauge_c, entry.gauge_temperature_c if entry else None),
        ):
            if not field.hasFocus():
                field.setText("" if value is None else localized(f"{value:g}"))
        self.burr.setChecked(entry.deburred if entry else True)
        self.burr.update()
        self.corrections.clear()
        if finding is None:
            return
        names = {"flat_jaws": tr("Jaw flats"), "temperature": tr("Warmth")}
        total = 0.0
        for correction in finding.corrections:
            self._line(
                names.get(correction.id, correction.id), correction.text, self._signed(correction.um / 1000, unit)
            )
            total += correction.um / 1000
        if finding.corrections:
            self._line(tr("Added to every reading"), "", self._signed(total, unit), 20)
        figure, word = micro(finding.expanded_mm, unit)
        self._line(tr("Could be off by"), "", f"±{figure} {word}", 20)
        shares = ", ".join(f"{s.words} {' '.join(micro(s.standard_mm, unit))}" for s in finding.budget)
        times = tr("{guard_factor:g} times", guard_factor=finding.guard_factor)
        note = tr(
            "19 readings in 20 fall inside that: {times} the root of the squares of {shares}.",
            times=times,
            shares=shares,
        )
        self.corrections.add(text_label(note, 13, color=theme.INK2, wrap=True))

    def _signed(self, value_mm: float, unit: str) -> str:
        figure, word = micro(abs(value_mm), unit)
        return f"{'−' if value_mm < 0 else '+'}{figure} {word}"

    def _line(self, name: str, note: str, value: str, size: float = 16) -> None:
        self.corrections.add(Rule())
        row, line = line_of()
        fill(line, text_label(name, 15, True), None, text_label(value, size, True))
        self.corrections.add(row)
        if note:
            self.corrections.add(text_label(note, 13, color=theme.INK2, wrap=True))


def _title(gauge: Gauge) -> str:
    return sentence(gauge.name).replace(" and ", ", ")
