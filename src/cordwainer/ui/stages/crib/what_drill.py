"""What is this drill? A reading over the magnified axis of all drill names."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr, trn
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.identify import Candidate, Pick, identify, in_plate, neighbors, pick
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib import of_kind
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, text_label
from cordwainer.ui.kit.layout import across, fill, line_of
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.crib.name_axis import NameAxis

ASK_WIDTH = 256
OFF_BY = {"mm": "0.02", "in": ".0010"}


class WhatDrill(Pane):
    """The reading, what it could be off by, the answer; `found` are the names, `owned` the crib's own of them."""

    answered = pyqtSignal()
    taken = pyqtSignal()

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__(theme.PLATE, "b")
        self.selection, self.stock = selection, stock
        self.plate = False
        self.found: tuple[Candidate, ...] = ()
        self.owned: list[Tool] = []
        self.pick = Pick(None)
        self.setFixedHeight(250)
        row = across(self, (20, 10, 16, 8), 20)
        ask = Column((0, 0, 0, 0), 4)
        ask.setFixedWidth(ASK_WIDTH)
        ask.add(text_label(tr("What is this drill?"), 20, True))
        self.hint = text_label("", 14, color=theme.INK2)
        ask.add(self.hint)
        self.reading = Field(tr("Reading, or the hole it goes into"), 30, True)
        self.reading.setFixedHeight(56)
        ask.add(self.reading)
        second, line = line_of()
        self.second_words = text_label("", 14, color=theme.INK2)
        self.second = Field(tr("Could be off by, or the hole it does not go into"), 16, True)
        self.second.setFixedWidth(110)
        fill(line, self.second_words, None, self.second)
        ask.add(second)
        self.swap = Link(tr("Use a gauge plate instead"), 14)
        self.swap.clicked.connect(self.use_other)
        ask.add(self.swap)
        self.answer = text_label("", 15, True, wrap=True)
        ask.add(self.answer)
        ask.box.addStretch(1)
        row.addWidget(ask)
        self.axis = NameAxis()
        row.addWidget(self.axis, 1)
        self._say()
        for field in (self.reading, self.second):
            field.textChanged.connect(lambda _text: self.ask())
            field.returnPressed.connect(self.taken)

    def _say(self) -> None:
        self.hint.setText(
            tr("Holes of the gauge plate.") if self.plate else tr("Across the margins, at the point.")
        )
        self.second_words.setText(tr("Will not go in") if self.plate else tr("Could be off by"))
        self.swap.setText(tr("Use a caliper instead") if self.plate else tr("Use a gauge plate instead"))
        self.swap.setAccessibleName(self.swap.text())
        self.swap.updateGeometry()

    def ready(self) -> None:
        """Set what a caliper could be off by, where nothing is set."""
        if not self.second.text() and not self.plate:
            self.second.setText(OFF_BY[self.selection.unit])

    def use_other(self) -> None:
        """Caliper or gauge plate."""
        self.plate = not self.plate
        self._say()
        self.second.setText("" if self.plate else OFF_BY[self.selection.unit])
        self.reading.setPlaceholderText(tr("goes in") if self.plate else "")
        self.ask()

    def type_on(self, text: str) -> None:
        """Begin a new reading with a key pressed elsewhere."""
        self.reading.setFocus()
        self.reading.setText(text)

    def ask(self) -> None:
        """Answer what is typed, while it is typed."""
        unit = self.selection.unit
        drills = [tool for tool in of_kind(self.stock.shop, "drill") if tool.quantity > 0]
        owned = frozenset(round(t.diameter_mm, 5) for t in drills)
        try:
            size = parse(self.reading.text(), unit).mm
            other = parse(self.second.text(), unit).mm
        except InputError:
            self.found, self.owned, self.pick = (), [], Pick(None)
            self.axis.show_band(0, 0, None, unit, owned)
            self.answer.setText(
                "" if not self.reading.text().strip() else tr("Type a size, such as .2342 or 5.95.")
            )
            return
        low, high = sorted((size, other)) if self.plate else (size - other, size + other)
        self.found = in_plate(high, low) if self.plate else identify(size, other)
        names = [candidate.named.name for candidate in self.found]
        self.owned = sorted(
            (tool for tool in drills if tool.designation in names), key=lambda t: names.index(t.designation)
        )
        self.pick = pick(self.owned)
        if self.plate and self.owned and self.owned[0].designation == names[0]:
            self.pick = Pick(self.owned[0], tr("It goes into its own hole of the plate."))
        self.axis.show_band(low, high, None if self.plate else size, unit, owned)
        self.answer.setText(self._answer(size))
        self.answered.emit()

    def _answer(self, size: float) -> str:
        if not self.found:
            names = tr(" and ").join(c.named.name for c in neighbors(size))
            return tr("Worn, or not a drill? The nearest are {names}.", names=names)
        count = len(self.found)
        words = trn("{count} fits. ", "{count} fit. ", count, count=count)
        if self.plate:
            best = self.found[0].named
            size_words = f"{fixed(best.size.mm, self.selection.unit, 2, 4)} {self.selection.unit}"
            words = tr("{best} by the plate, {size_words}. ", best=best.name, size_words=size_words)
            words += tr("{count} of other series would go in too. ", count=count - 1) if count > 1 else ""
        here = list(dict.fromkeys(tool.designation for tool in self.owned))
        if not here:
            return words + tr("None is in this crib.")
        if len(here) == 1:
            return words + tr("Only {here} is in this crib.", here=here[0])
        if self.pick.tool is not None:
            return words + tr(
                "{count} are in this crib, and the place of {pick} is empty.",
                count=len(here),
                pick=self.pick.tool.designation,
            )
        apart = fixed(self.pick.apart_mm or 0.0, self.selection.unit, 3, 4)
        return words + tr(
            "{count} are in this crib. A micrometer would say: {apart} apart.", count=len(here), apart=apart
        )
