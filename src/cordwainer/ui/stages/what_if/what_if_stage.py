"""What would happen if: faults set on a planned sequence, and the hole they make next to the sound one."""

from __future__ import annotations

from PyQt6.QtCore import QSize, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.forecast import Forecast
from cordwainer.core.planning.model.forward import (
    Fault,
    fault_rows,
    metal_of,
    ops_of,
    read_fault,
    setup_of,
    with_faults,
)
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wording import finish_text, fixed, shop_words
from cordwainer.core.tables import by_key
from cordwainer.ui.canvas.slot import Slot
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.forecasts import Forecasts
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.plain import escape
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.what_if.envelope import Envelope, magnified

LIST_WIDTH, AT_ONCE = 344, 10
GROUPS = (
    (tr("Start"), ("no_start", "start")),
    (tr("Drill"), ("last_drill", "drills", "first_drill")),
    (tr("Machine and work"), ("setup",)),
    (tr("Reamer"), ("reamer",)),
    (tr("Boring bar"), ("bar",)),
)


class FaultRow(QWidget):
    """One fault: pressed it is set, with how much of it beside."""

    changed = pyqtSignal()

    def __init__(self, cause: str) -> None:
        super().__init__()
        self.cause = cause
        row = fault_rows()[cause]
        name = by_key("diagnosis/causes", "id")[cause].words("name")
        line = across(self, NONE, 8)
        self.box = BoxButton(name, "", 14)
        self.box.setFixedSize(24, 24)
        self.box.clicked.connect(self._press)
        line.addWidget(self.box)
        note = f' <span style="font-size:12px; color:{theme.INK2.name()}">' + tr("assumed") + "</span>"
        words = text_label("", 14, wrap=True)
        words.set_rich(escape(name) + (note if row.source == "assumed" else ""))
        words.setToolTip(tr("How much it does: {source}", source=tr(row.source)))
        line.addWidget(words, 1)
        self.amount = Field(tr("How much: {row}", row=row.words("words")), 14, True)
        self.amount.setFixedSize(QSize(84, 28))
        unit = {"ratio": "×", "share": tr("of 1"), "count": "", "deg": "°"}.get(row.text("unit"), row.text("unit"))
        self.unit = text_label(unit, 13, color=theme.INK2)
        self.unit.setFixedWidth(30)
        fill(line, self.amount, self.unit)
        if row.text("field"):
            self.amount.setText(localized(f"{row.number('usual'):g}"))
            self.amount.kept.connect(self._typed)
        else:
            self.amount.hide()
            self.unit.hide()

    def _press(self) -> None:
        self.box.setText("×" if self.box.isChecked() else "")
        self.changed.emit()

    def _typed(self, _text: str) -> None:
        if not self.box.isChecked():
            self.box.setChecked(True)
            self.box.setText("×")
        self.changed.emit()

    def fault(self) -> Fault | None:
        """The fault set here, None where it is not. Raises `InputError` for an amount that cannot be read."""
        if not self.box.isChecked():
            return None
        text = self.amount.text().strip()
        return read_fault(f"{self.cause}={text}" if self.amount.isVisibleTo(self) and text else self.cause)

    def clear(self) -> None:
        """Unset it."""
        self.box.setChecked(False)
        self.box.setText("")


class Side(Column):
    """One hole: chance with its band, the section, the slot, figures."""

    def __init__(self, name: str) -> None:
        super().__init__((18, 10, 18, 8), 6)
        head = QWidget()
        head.setFixedHeight(70)
        line = across(head, NONE)
        self.name = text_label(name, 18, True, wrap=True)
        line.addWidget(self.name, 1)
        self.band = text_label("", 14, color=theme.INK2)
        self.chance = text_label("", 34, True)
        fill(line, self.band, self.chance)
        self.add(head)
        self.envelope = Envelope(name)
        self.add(self.envelope, 3)
        self.slot = Slot()
        self.slot.setMinimumHeight(130)
        self.add(self.slot, 2)
        self.lines = Column((0, 0, 0, 0), 2)
        self.add(self.lines)

    def show_forecast(self, hole: Hole | None, unit: str, found: Forecast | None, times: int) -> None:
        """Show one forecast, or that it is being worked out."""
        self.envelope.show_forecast(hole, found, times, unit)
        self.lines.clear()
        if found is None:
            self.chance.setText("")
            self.band.setText("")
            return
        told = found.outcome
        self.chance.setText(chance_words(told.in_size.value))
        between = tr("{low:.0f} to {high:.0f}", low=100 * told.in_size.low, high=100 * told.in_size.high)
        own = told.in_size.holes
        words = (
            tr("{between} after {shop_words}", between=between, shop_words=shop_words(own))
            if own
            else tr("shop to shop {between}", between=between)
        )
        self.band.setText(tr("in 100 in tolerance\n{words}", words=words))
        curve = found.finished
        self.slot.show_expected(hole, unit, curve.mean_mm, curve.sd_mm, curve, (told.too_small, told.too_big))
        sizes = "  ".join(fixed(told.size[place].p50, unit) for place in ("entry", "middle", "exit"))
        clean = told.cleans_up
        cleans = tr(
            "{clean} in 100 ({low:.0f} to {high:.0f})",
            clean=chance_words(clean.value),
            low=100 * clean.low,
            high=100 * clean.high,
        )
        chips = tr("unequal") if told.chips_unequal > 0.3 else tr("equal")
        bell = tr(
            "{p50} {unit}, up to {p98}",
            p50=fixed(told.bell_mouth.p50, unit),
            unit=unit,
            p98=fixed(told.bell_mouth.p98, unit),
        )
        rows = (
            (tr("Mouth, middle, exit"), f"{sizes} {unit}"),
            (tr("Bell mouth"), bell),
            (tr("Axis off at the exit"), f"{fixed(told.exit_offset.p50, unit, 2, 4)} {unit}"),
            (tr("Cleans up all round"), cleans),
            (
                tr("Finish, chips"),
                tr(
                    "Ra {finish_text}, {chips} chips",
                    finish_text=finish_text(told.finish_ra_um, unit),
                    chips=chips,
                ),
            ),
        )
        for name, value in rows:
            self.lines.add(Rule())
            row, line = line_of((0, 1, 0, 1))
            fill(line, text_label(name, 13, color=theme.INK2), None, text_label(value, 14, True))
            self.lines.add(row)


class WhatIfStage(Stage):
    """Faults at the left, the sound hole and the other beside it."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, forecasts: Forecasts
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.forecasts = forecasts
        self.rows: dict[str, FaultRow] = {}
        self._shown: object = None
        self._waiting: list[str] = []
        row = across(self, NONE, 0)
        row.addWidget(self._list())
        self.sound, self.other = Side(tr("As planned")), Side(tr("With that"))
        row.addWidget(self.sound, 1)
        row.addWidget(Rule(theme.RULE))
        row.addWidget(self.other, 1)
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived)
        self.forecasts.ready.connect(self.refresh)

    def _list(self) -> QWidget:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(LIST_WIDTH)
        box = down(pane, (20, 12, 8, 10), 6)
        box.addWidget(text_label(tr("What would happen if"), 20, True))
        self.about: QLabel = text_label("", 14, color=theme.INK2, wrap=True)
        box.addWidget(self.about)
        self.faults = Column((0, 0, 10, 0), 5)
        area = scroll_down()
        put_in_scroll(area, self.faults)
        box.addWidget(area, 1)
        self.trouble = text_label("", 14, True, wrap=True)
        box.addWidget(self.trouble)
        note = tr("Directions are the trade's; most sizes of effect are assumed, which the band shows.")
        box.addWidget(text_label(note, 13, color=theme.INK2, wrap=True))
        line = QHBoxLayout()
        how = Link(tr("How this is worked out"), 14)
        how.clicked.connect(lambda: self.wants.emit("show_model"))
        box.addWidget(how)
        clear, back = Link(tr("Nothing wrong"), 14), Link(tr("Back to the plan"), 14)
        clear.clicked.connect(self.clear)
        back.clicked.connect(lambda: self.wants.emit("go_plan"))
        fill(line, back, None, clear)
        box.addLayout(line)
        return pane

    def clear(self) -> None:
        """No fault at all."""
        for row in self.rows.values():
            row.clear()
        self.refresh()

    def _show_faults(self) -> None:
        """The faults this sequence can have."""
        route, hole = self.plans.route, self.selection.hole
        if route is None or hole is None:
            return
        ops = ops_of(route, self.stock.machine, 100)
        setup = setup_of(hole, self.stock.machine, metal_of(self.document.job.material))
        able = []
        for cause in fault_rows():
            try:
                with_faults(ops, setup, [read_fault(cause)])
            except InputError:
                continue
            able.append(cause)
        key = tuple(able)
        if key == self._shown:
            return
        self._shown = key
        self.faults.clear()
        self.rows = {}
        self._waiting = []
        for title, targets in GROUPS:
            group = [cause for cause in able if fault_rows()[cause].text("target") in targets]
            self._waiting += [title, *group] if group else []
        self._add_rows()

    def _add_rows(self) -> None:
        """The rows still missing, a few at a time, so that nobody waits for all of them."""
        now, self._waiting = self._waiting[:AT_ONCE], self._waiting[AT_ONCE:]
        for item in now:
            if item not in fault_rows():
                self.faults.add(text_label(item, 15, True))
                continue
            row = FaultRow(item)
            row.changed.connect(self.refresh)
            self.faults.add(row)
            self.rows[item] = row
        if self._waiting:
            QTimer.singleShot(0, self._add_rows)
        elif now:
            self.faults.box.addStretch(1)

    def chosen(self) -> tuple[Fault, ...]:
        """The faults set; an amount that cannot be read is said and left out."""
        found = []
        self.trouble.setText("")
        for row in self.rows.values():
            try:
                fault = row.fault()
            except InputError as bad:
                self.trouble.setText(bad.problem)
                continue
            if fault is not None:
                found.append(fault)
        return tuple(found)

    def refresh(self) -> None:
        """Mirror the sequence and the faults set."""
        if not self.isVisible():
            return
        route, hole = self.plans.route, self.selection.hole
        self._show_faults()
        faults = self.chosen()
        sound = self.forecasts.of(route, hole)
        other = self.forecasts.of(route, hole, faults) if faults else sound
        words = self.forecasts.trouble(route, hole, faults) if faults else ""
        if words:
            self.trouble.setText(words)
        if hole is not None and route is not None:
            self.about.setText(
                f"{hole.id} {hole.name}".strip()
                + tr(", {count} steps, on {machine}", count=len(route.operations), machine=self.stock.machine.name)
            )
        else:
            self.about.setText(tr("Only holes with a sequence that the model judges are worked out."))
        known = [found for found in (sound, other) if found is not None]
        times = magnified(hole, known) if hole is not None and known else 1
        more = tr(" and {count} more", count=len(faults) - 1) if len(faults) > 1 else ""
        self.other.name.setText(
            tr("With {words}{more}", words=faults[0].words, more=more) if faults else tr("Nothing wrong")
        )
        self.sound.show_forecast(hole, self.selection.unit, sound, times)
        self.other.show_forecast(hole, self.selection.unit, other, times)
