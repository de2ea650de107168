"""The gauges of the shop: what each reaches on one scale of size, how fine it reads, how far off it may be."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QScrollArea, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.gauge import WORDS, Gauge, standard_uncertainty_mm
from cordwainer.files.crib import gauge_with
from cordwainer.files.new_shop import gauge_kinds
from cordwainer.ui.desk.own_shop import OwnShop
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Picture, put_in_scroll, text_label
from cordwainer.ui.kit.following import Following
from cordwainer.ui.kit.layout import NONE, down, line_of, write
from cordwainer.ui.kit.typed import parse

LOW_MM, HIGH_MM = 0.5, 400.0


class Reach(Picture):
    """The sizes a gauge reaches, on a scale that all of them share."""

    def __init__(self, gauge: Gauge, unit: str) -> None:
        super().__init__()
        self.gauge, self.unit = gauge, unit
        self.setMinimumSize(96, 34)
        low, high = fixed(gauge.low_mm, unit, 0, 2), fixed(gauge.high_mm, unit, 0, 2)
        self.words = tr("{low} to {high} {unit}", low=low, high=high, unit=unit)
        self.setAccessibleName(tr("{gauge} reaches {words}", gauge=gauge.name, words=self.words))

    def _x(self, mm: float) -> float:
        share = math.log(min(max(mm, LOW_MM), HIGH_MM) / LOW_MM) / math.log(HIGH_MM / LOW_MM)
        return 2 + share * (self.width() - 4)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A rule with a dyed length."""
        painter = QPainter(self)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(QPointF(0, 12), QPointF(self.width(), 12))
        left, right = self._x(self.gauge.low_mm), self._x(self.gauge.high_mm)
        painter.fillRect(QRectF(left, 8, max(right - left, 3), 8), theme.DYE)
        write(
            painter,
            QRectF(0, 18, self.width(), 16),
            self.words,
            12,
            color=theme.INK2,
            flags=Qt.AlignmentFlag.AlignLeft,
        )


class GaugePage(QScrollArea):
    """All gauges, one row each."""

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.selection, self.stock = selection, stock
        self.own = OwnShop(selection, stock)
        self.setWidgetResizable(True)
        self.fields: dict[tuple[str, str], Field] = {}
        self._shown: object = None
        self.following = Following(self, self.refresh, self.stock.changed, self.selection.unit_changed)
        self.refresh()

    def refresh(self) -> None:
        """Mirror the shop's gauges."""
        key = (self.stock.shop.gauges, self.selection.unit)
        if key == self._shown:
            return
        self._shown = key
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(20, 4, 14, 12)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(8)
        unit = self.selection.unit
        for column, words in enumerate(
            (
                tr("Gauge"),
                tr("Reaches"),
                tr("Reads to, {unit}", unit=unit),
                tr("Give or take, {unit}", unit=unit),
                tr("Jaw land, {unit}", unit=unit),
                tr("Calibrated until"),
            )
        ):
            grid.addWidget(text_label(words, 14, color=theme.INK2), 0, column)
        focused = next((key for key, field in self.fields.items() if field.hasFocus()), None)
        self.fields = {}
        for row, gauge in enumerate(self.stock.shop.gauges, 1):
            name = Column(NONE, 0)
            name.add(text_label(sentence(gauge.name), 16, True, wrap=True))
            if gauge.overdue:
                name.add(text_label(tr("calibration ran out, the usual counts"), 13, wrap=True))
            grid.addWidget(name, row, 0)
            grid.addWidget(Reach(gauge, unit), row, 1)
            grid.addWidget(self._field(gauge, "resolution", gauge.resolution_mm), row, 2)
            known = gauge.expanded_mm
            grid.addWidget(self._field(gauge, "expanded_uncertainty", known), row, 3)
            if known is None:
                usual = fixed(2 * standard_uncertainty_mm(gauge.kind), unit, 3, 4)
                self.fields[(gauge.id, "expanded_uncertainty")].setPlaceholderText(
                    tr("usual {usual}", usual=usual)
                )
            if gauge.kind == "caliper":
                grid.addWidget(self._field(gauge, "jaw_land", gauge.jaw_land_mm), row, 4)
            grid.addWidget(self._due_field(gauge), row, 5)
            away = Link(tr("Take away"), 13)
            away.setAccessibleName(tr("Take away {gauge}", gauge=gauge.name))
            away.clicked.connect(lambda _=False, i=gauge.id: self.own.remove_gauge(i))
            grid.addWidget(away, row, 6)
        self.trouble = text_label("", 14, True, wrap=True)
        rows = len(self.stock.shop.gauges)
        grid.addWidget(self.trouble, rows + 1, 0, 1, 7)
        grid.addWidget(self._to_add(), rows + 2, 0, 1, 7)
        words = tr(
            "Give or take is the expanded uncertainty, k = 2, in a practiced hand. A hole is accepted or rejected "
            "with it, so a gauge better than usual is worth noting here. Once its calibration has run out, the "
            "usual figure of its kind counts again where that is the larger one."
        )
        grid.addWidget(text_label(words, 14, color=theme.INK2, wrap=True), rows + 3, 0, 1, 7)
        grid.setRowStretch(rows + 4, 1)
        grid.setColumnMinimumWidth(0, 150)
        grid.setColumnStretch(1, 1)
        # The field being typed in may be on the old page: it goes when its event is over.
        old = self.takeWidget()
        put_in_scroll(self, page)
        if old is not None:
            old.hide()
            old.deleteLater()
        if focused in self.fields:
            self.fields[focused].setFocus()

    def _to_add(self) -> QWidget:
        """Each kind of gauge, to be put in with its usual figures."""
        whole = QWidget()
        rows = down(whole, NONE, 6)
        kinds = list(gauge_kinds().items())
        half = -(-len(kinds) // 2)
        for some in (kinds[:half], kinds[half:]):
            row, line = line_of(gap=12)
            line.addWidget(text_label(tr("Add"), 14, color=theme.INK2))
            for kind, entry in some:
                link = Link(WORDS[kind], 14)
                link.setAccessibleName(tr("Add {words}", words=WORDS[kind]))
                link.clicked.connect(lambda _=False, e=entry: self.own.add_gauge(e))
                line.addWidget(link)
            line.addStretch(1)
            rows.addWidget(row)
        return whole

    def _field(self, gauge: Gauge, key: str, value: float | None) -> Field:
        unit = self.selection.unit
        field = Field(f"{gauge.name}, {tr(key.replace('_', ' '))}", 15, True)
        field.setText("" if value is None else fixed(value, unit, 3, 5))
        field.setFixedSize(116 if key == "expanded_uncertainty" else 84, 32)
        field.kept.connect(self._keeper(gauge, key, field, field.text()))
        self.fields[(gauge.id, key)] = field
        return field

    def _due_field(self, gauge: Gauge) -> Field:
        """The day its calibration runs out; outlined once that is past."""
        field = Field(tr("{gauge}, calibrated until", gauge=gauge.name), 15, True)
        field.setText(gauge.due)
        field.setPlaceholderText(tr("not noted"))
        field.setFixedSize(116, 32)
        field.set_wrong(gauge.overdue)
        field.kept.connect(lambda text: self._keep_due(gauge, field, text.strip()))
        self.fields[(gauge.id, "due")] = field
        return field

    def _keep_due(self, gauge: Gauge, field: Field, text: str) -> None:
        if text == gauge.due:
            return
        try:
            gauge_with(gauge, {"calibrated_until": text})
        except InputError as bad:
            field.set_wrong(True)
            self.trouble.setText(f"{field.accessibleName()}: {bad.problem}")
            return
        self.stock.crib.edit(
            tr("Change {gauge}", gauge=gauge.name),
            lambda data: data["gauges"].setdefault(gauge.id, {}).update({"calibrated_until": text}),
        )

    def _keeper(self, gauge: Gauge, key: str, field: Field, known: str) -> Callable[[str], None]:
        def keep(text: str) -> None:
            if text.strip() == known:
                return
            try:
                value = str(parse(text, self.selection.unit)) if text.strip() else None
                if value is None and key == "resolution":
                    raise InputError("", tr("a gauge reads to something; write it"))
            except InputError as bad:
                field.set_wrong(True)
                self.trouble.setText(f"{field.accessibleName()}: {bad.problem}")
                return
            self.stock.crib.edit(
                tr("Change {gauge}", gauge=gauge.name),
                lambda data: data["gauges"].setdefault(gauge.id, {}).update({key: value}),
            )

        return keep
