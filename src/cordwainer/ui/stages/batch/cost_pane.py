"""What a hole costs: kinds of drill side by side, where they cross, a tool to buy and when it pays."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.scheduling.cost import (
    Drilling,
    break_even,
    cost_per_hole,
    drillings,
    first_lot,
    pays_from,
    spread_of,
)
from cordwainer.core.shop.advice import drill_choice
from cordwainer.files.schedule import DRILLS, drilling_of
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, scroll_down
from cordwainer.ui.stages.batch.batch_parts import KindRow
from cordwainer.ui.stages.batch.cost_plot import MOST, CostPlot, Crossing

WIDE = 420


class CostPane(Pane):
    """The right column of Batch."""

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        super().__init__(theme.HI, "l")
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.kinds: list[Drilling] = []
        self._shown: object = None
        self.setFixedWidth(WIDE)
        box = down(self, (16, 12, 6, 8), 4)
        self.head = text_label(tr("What a hole costs"), 20, True)
        box.addWidget(self.head)
        self.about = text_label("", 14, color=theme.INK2, wrap=True)
        box.addWidget(self.about)
        money = across(gap=8)
        self.rate, self.currency = Field(tr("Cost of an hour of machine and hand"), 15), Field(tr("Currency"), 15)
        for words, field, wide in ((tr("An hour costs"), self.rate, 74), ("in", self.currency, 52)):
            money.addWidget(text_label(words, 14, color=theme.INK2))
            field.setFixedSize(wide, 30)
            money.addWidget(field)
        self.rate.setPlaceholderText("–")
        self.currency.setPlaceholderText("–")
        money.addStretch(1)
        self.rate.kept.connect(self._keep_rate)
        self.currency.kept.connect(self._keep_currency)
        box.addLayout(money)
        self.plot = CostPlot()
        box.addWidget(self.plot, 3)
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.hide()
        box.addWidget(self.trouble)
        titles = across(gap=5)
        titles.setContentsMargins(0, 0, 10, 0)
        for words, wide in (
            ("", 144),
            (tr("price"), 68),
            (tr("holes"), 56),
            (tr("again"), 38),
            (tr("a hole"), 58),
        ):
            label = text_label(words, 13, color=theme.INK2)
            label.setFixedWidth(wide)
            titles.addWidget(label)
        titles.addStretch(1)
        box.addLayout(titles)
        self.column = Column((0, 0, 8, 0), 3)
        self.rows: dict[str, KindRow] = {}
        self.words = Column((0, 4, 4, 0), 3)
        content = QWidget()
        inner = down(content, NONE)
        fill(inner, self.column, self.words, None)
        area = scroll_down()
        put_in_scroll(area, content)
        box.addWidget(area, 3)

    def drill(self) -> Operation | None:
        """The drill looked at: the one selected, else the last of the hole's that makes size."""
        chosen, route = self.plans.operation, self.plans.route
        if chosen is not None and chosen.kind in DRILLS:
            return chosen
        drills = [o for o in (route.operations if route is not None else ()) if o.kind in DRILLS and not o.role]
        return drills[-1] if drills else None

    def refresh(self) -> None:
        """Mirror the drill in hand."""
        operation, hole = self.drill(), self.selection.hole
        own = self.document.job.file.batch
        rate = own.rate_per_hour if own.rate_per_hour is not None else self.stock.machine.rate_per_hour
        for field, text in (
            (self.rate, localized(f"{rate:g}") if rate is not None else ""),
            (self.currency, own.currency),
        ):
            if not field.hasFocus() or not field.isModified():
                field.setText(text)
        if operation is None or hole is None or operation.diameter_mm is None:
            self.about.setText(tr("No drill in this hole's sequence."))
            self.kinds = []
            self._clear()
            return
        depth = operation.depth_mm or hole.depth_mm
        count = self.document.job.file.quantity * hole.count
        costs = {kind: dict(figures) for kind, figures in own.costs.items()}
        material, machine = self.document.job.material.id, self.stock.machine.id
        key = (operation.diameter_mm, depth, material, machine, rate, own.currency,
               count, repr(costs), self.selection.unit)  # fmt: skip
        name = operation.tool.designation if operation.tool is not None else ""
        self.about.setText(
            tr(
                "{hole}, the {name} drill, {count} holes in this lot; figures are yours to change.",
                hole=hole.id,
                name=name,
                count=count,
            )
        )
        if key == self._shown:
            return
        self._shown = key
        try:
            self.kinds = drillings(
                operation.diameter_mm, depth, self.document.job.material, self.stock.machine, costs
            )
        except InputError as bad:
            self._tell(f"{bad.field}: {bad.problem}")
            return
        self.trouble.hide()
        self._show(rate or 0.0, own.currency, count)

    def _clear(self) -> None:
        self._shown = None
        self.plot.show_kinds([], 0, "", 0, [])
        self.column.clear()
        self.words.clear()
        self.rows = {}

    def _show(self, rate: float, currency: str, count: int) -> None:
        kinds = self.kinds
        cheap = kinds[0]
        crossings, told = [], []
        for dear in kinds[1:]:
            at = break_even(cheap, dear, rate, 200_000)
            if at is None:
                told.append(
                    tr("{dear}: never cheaper than {cheap} here.", dear=sentence(dear.words), cheap=cheap.words)
                )
                continue
            soon, late = spread_of(cheap, dear, rate)
            if at <= MOST:
                crossings.append(Crossing(at, float(cost_per_hole(dear, at, rate)), soon, late))
            spread = (
                tr("{soon} to {late}", soon=soon or 1, late=late)
                if late is not None
                else tr("from {soon} to never", soon=soon or 1)
            )
            even = first_lot(cheap, dear, rate)
            told.append(
                tr(
                    "{dear} pays from {at} holes, {spread} as lives fall out (by the closed form {even:.0f}).",
                    dear=sentence(dear.words),
                    at=at,
                    spread=spread,
                    even=even,
                )
            )
        self.plot.show_kinds(kinds, rate, currency, count, crossings)
        if list(self.rows) != [k.kind for k in kinds]:
            self.column.clear()
            self.rows = {}
            for kind in kinds:
                row = KindRow(kind.kind)
                row.changed.connect(self._keep_cost)
                self.rows[kind.kind] = row
                self.column.add(row)
        for kind in kinds:
            self.rows[kind.kind].show_kind(kind, float(cost_per_hole(kind, count, rate)))
        self.words.clear()
        for words in (*told, *self._buy(rate), self._coating()):
            self.words.add(text_label(words, 14, wrap=True))
        note = tr("Prices and lives are assumed until you write yours; money is never converted.")
        self.words.add(text_label(note, 13, color=theme.INK2, wrap=True))

    def _buy(self, rate: float) -> list[str]:
        """A tool to buy, and from how many holes the minutes it saves have paid for it."""
        plan, route = self.plans.plan, self.plans.route
        if plan is None or plan.to_get is None or route is None or not plan.to_get.missing_tools:
            return []
        names = ", ".join(plan.to_get.missing_tools)
        saved = route.minutes - plan.to_get.minutes
        if saved <= 0:
            return [tr("To get: {names}. It saves no minutes; look at its chance on Plan.", names=names)]
        here = {tool.id for tool in self.stock.shop.tools}
        prices = [self._price(o) for o in plan.to_get.operations if o.tool is not None and o.tool.id not in here]
        known = [price for price in prices if price is not None]
        if len(known) < len(prices) or not known:
            return [
                tr(
                    "To get: {names}. It saves {saved:.1f} min a hole; its price is not known here.",
                    names=names,
                    saved=saved,
                )
            ]
        price = sum(known)
        pays = pays_from(price, saved, rate)
        when = (
            tr(", pays from {pays} holes", pays=pays)
            if pays is not None
            else tr("; say what an hour costs to see when it pays")
        )
        return [
            tr(
                "To get: {names}, about {price:.0f}. It saves {saved:.1f} min a hole{when}.",
                names=names,
                price=price,
                saved=saved,
                when=when,
            )
        ]

    def _price(self, operation: Operation) -> float | None:
        """What a tool to get costs: its own price, a drill's from the table; None for others."""
        hole = self.selection.hole
        if operation.tool is not None and operation.tool.price is not None:
            return operation.tool.price
        if hole is None:
            return None
        own = self.document.job.file.batch.costs
        found = drilling_of(operation, hole, self.document.job.material, self.stock.machine, own)
        return found.price if found is not None else None

    def _coating(self) -> str:
        choice = drill_choice(self.document.job.material)
        avoid = tr("; not {avoid}", avoid=choice.avoid) if choice.avoid else ""
        return tr(
            "Coating for {material}: {coating}{avoid}. Point {point}.",
            material=self.document.job.material.name,
            coating=choice.coating,
            avoid=avoid,
            point=choice.point,
        )

    # -- what is typed -------------------------------------------------------------------------

    def _tell(self, words: str) -> None:
        self.trouble.setText(sentence(words))
        self.trouble.show()

    def _number(self, text: str) -> float | None:
        return float(text.replace(",", ".")) if text.strip() else None

    def _keep_rate(self, text: str) -> None:
        try:
            self.document.set_batch(tr("Cost of an hour"), rate_per_hour=self._number(text))
            self.rate.set_wrong(False)
            self.trouble.hide()
        except (ValueError, InputError):
            self.rate.set_wrong(True)
            self._tell(tr("'{words}' is not what an hour costs; write a figure such as 45", words=text))

    def _keep_currency(self, text: str) -> None:
        try:
            self.document.set_batch(tr("Currency"), currency=text.strip() or None)
            self.currency.set_wrong(False)
            self.trouble.hide()
        except InputError:
            self.currency.set_wrong(True)
            self._tell(tr("a currency is a sign or a few letters, such as EUR"))

    def _keep_cost(self, kind: str, key: str, text: str) -> None:
        field = self.rows[kind].fields[key]
        costs = {k: dict(v) for k, v in (self.document.batch_settings.get("costs") or {}).items()}
        try:
            value = self._number(text)
            own = costs.setdefault(kind, {})
            if value is None:
                own.pop(key, None)
            else:
                own[key] = int(value) if key == "regrinds" else value
            kept = {k: v for k, v in costs.items() if v}
            self.document.set_batch(tr("{key} of {kind}", key=sentence(key), kind=kind), costs=kept or None)
            field.set_wrong(False)
            self.trouble.hide()
        except (ValueError, InputError):
            field.set_wrong(True)
            self._tell(
                tr(
                    "'{words}' cannot be {key}; write a figure such as {value}",
                    words=text,
                    key=key,
                    value="12.50" if key == "price" else "150",
                )
            )
