"""The verdict on a hole, with what would settle it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QPainter, QPaintEvent, QPen

from cordwainer.core.language import sentence, tr
from cordwainer.core.lengths import Length
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.planning.words.wording import VERDICT_WORDS, fixed
from cordwainer.core.shop.gauge import WORDS
from cordwainer.files.entries import MeasuredEntry
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Mark, Pane, Pressable, text_label
from cordwainer.ui.kit.layout import MIDDLE, RIGHT, across

PIN_LIKE = ("pin", "plug")


class VerdictBar(Pane):
    """The decision, on ink, with what would settle it."""

    def __init__(self, selection: Selection, stock: Stock, readings: Readings) -> None:
        super().__init__(theme.INK)
        self.selection, self.stock, self.readings = selection, stock, readings
        row = across(self, (28, 14, 20, 14), 22)
        self.mark = Mark("none", 32, theme.HI, theme.INK)
        row.addWidget(self.mark)
        words = Column((0, 0, 0, 0), 2)
        words.box.addStretch(1)
        self.head = text_label("", 36, True, theme.HI)
        self.why = text_label("", 15, color=theme.LO, wrap=True)
        words.add(self.head)
        words.add(self.why)
        words.box.addStretch(1)
        row.addWidget(words, 1)
        self.settle = Column((0, 0, 0, 0), 6)
        self.settle.setFixedWidth(240)
        row.addWidget(self.settle)

    def show_finding(self, finding: Finding | None) -> None:
        """Show a verdict, or that nothing is measured."""
        self.settle.clear()
        aside = self.readings.aside() if finding is None else None
        if aside is not None and aside.of is not None:
            self._show_aside(aside, aside.of)
        elif finding is None:
            self.mark.status = "none"
            self.head.setText(tr("Nothing measured yet"))
            self.why.setText(
                tr("Three depths, two directions. Deburr first; let the part cool, or say how warm it is.")
            )
        else:
            self.mark.status = finding.verdict
            self.head.setText(VERDICT_WORDS[finding.verdict])
            self.why.setText(sentence(finding.why) + ".")
        self.mark.update()
        if finding is None or finding.verdict != "cannot_tell":
            return
        self.settle.add(text_label(tr("To settle it"), 15, color=theme.LO))
        offers = self._offers(finding)
        for index, (words, note, act) in enumerate(offers[:2]):
            button = SettleButton(words, note, index == 0)
            button.clicked.connect(lambda _=False, do=act: do())
            self.settle.add(button)
        if not offers:
            self.settle.add(
                text_label(
                    tr("No gauge of the shop is sure enough. Borrow a finer one, or ask the drawing's owner."),
                    14,
                    color=theme.LO,
                    wrap=True,
                )
            )
        self.settle.box.addStretch(1)

    def _show_aside(self, aside: MeasuredEntry, of: Length) -> None:
        """Readings from before the size was typed anew: what they are of, and what can be done with them."""
        unit = self.selection.unit
        count = len(aside.readings) + len(aside.pins) + len(aside.points)
        self.mark.status = "none"
        self.head.setText(tr("Set aside"))
        readings = tr("1 reading is") if count == 1 else tr("{count} readings are", count=count)
        self.why.setText(
            tr(
                "{readings} of this hole when it was to be {of} {unit}. They are kept and not "
                "judged; measure it anew, or say that they are of this one.",
                readings=readings,
                of=fixed(of.mm, unit),
                unit=unit,
            )
        )
        button = SettleButton(tr("They are of this one"), "", True)
        button.clicked.connect(self.readings.take_over)
        self.settle.add(button)
        self.settle.box.addStretch(1)

    def _offers(self, finding: Finding) -> list[tuple[str, str, Callable[[], None]]]:
        """What would settle it: words, a note, and the act."""
        put = self.readings.put
        if "burr" in finding.flags:
            return [(tr("Deburred, read again"), "", lambda: put(tr("Deburred"), deburred=True, readings=[]))]
        if "unit_slip" in finding.flags:
            return [
                (tr("They were inches"), "in", lambda: self.readings.take_as_unit("in")),
                (tr("They were millimeters"), "mm", lambda: self.readings.take_as_unit("mm")),
            ]
        if "repeat" in finding.flags:
            return [(tr("Read that place again"), "", self.readings.drop_doubted)]
        if "outlier" in finding.flags:
            return [(tr("Read that one again"), "", self.readings.drop_doubted)]
        offers: list[tuple[str, str, Callable[[], None]]] = []
        for kind in finding.settle_with:
            known = [g for g in self.stock.shop.gauges if g.kind == kind]
            off = f"±{fixed(gauge_expanded_mm(known[0]), self.selection.unit)}" if known else ""
            words = sentence(WORDS[kind])
            offers.append((words, off, partial(put, tr("Gauge"), gauge=kind, readings=[], points=None)))
        return offers


class SettleButton(Pressable):
    """A gauge offered, with what it could be off by."""

    def __init__(self, words: str, off: str, brass: bool) -> None:
        super().__init__(tr("Measure again with the {words}", words=words) if off.startswith("±") else words)
        self.setText(words)
        self.off, self.brass = off, brass
        self.setFixedHeight(46 if brass else 36)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Brass when it can settle it first."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.BRASS if self.brass else theme.HI)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        painter.drawText(self.rect().adjusted(12, 0, -70, 0), MIDDLE, self.text())
        painter.setFont(theme.font(15))
        painter.drawText(self.rect().adjusted(0, 0, -10, 0), RIGHT, self.off)
        if self.ring:
            painter.setPen(QPen(theme.HI, 3))
            painter.drawRect(self.rect().adjusted(2, 2, -3, -3))
