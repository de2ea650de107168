"""Which hole of a row is being measured, how many are, and whether the print is held so far."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill

MOST = 300


class WhichOne(QWidget):
    """Steps through all like holes of the batch; hidden where there is only one."""

    def __init__(self, document: Document, selection: Selection, readings: Readings) -> None:
        super().__init__()
        self.document, self.selection, self.readings = document, selection, readings
        column = down(self, NONE, 2)
        row = across(gap=6)
        self.back, self.on = BoxButton(tr("The hole before"), "−", 16), BoxButton(tr("The next hole"), "+", 16)
        for button, by in ((self.back, -1), (self.on, 1)):
            button.setCheckable(False)
            button.setFixedSize(34, 30)
            button.clicked.connect(
                lambda _=False, step=by: self.selection.set_number(self.selection.number_of() + step)
            )
        self.words = text_label("", 15, True)
        fill(row, self.back, self.words, self.on, None)
        self.so_far = text_label("", 14, color=theme.INK2)
        row.addWidget(self.so_far)
        column.addLayout(row)
        self.holds = text_label("", 13, color=theme.INK2, wrap=True)
        column.addWidget(self.holds)

    def refresh(self) -> None:
        """Mirror the hole in hand."""
        many = self.selection.instances()
        self.setVisible(many > 1)
        if many < 2:
            return
        number = self.selection.number_of()
        self.words.setText(tr("{number} of {many}", number=number, many=many))
        self.back.setEnabled(number > 1)
        self.on.setEnabled(number < many)
        entry = self.document.job.file.holes[self.selection.hole_index]
        numbers = [1] if entry.measured is not None else []
        numbers += sorted(int(n) for n in entry.more_measured if int(n) <= many)
        self.so_far.setText(tr("{count} measured", count=len(numbers)) if numbers else tr("none measured"))
        self.holds.setText(self._holds(numbers[:MOST]))
        self.holds.setVisible(bool(self.holds.text()))

    def _holds(self, numbers: list[int]) -> str:
        """Cp and Cpk of those measured, with their limits; empty under five."""
        hole = self.selection.hole
        if hole is None or len(numbers) < 5:
            return ""
        from cordwainer.core.learning.capability import capability

        found = [self.readings.finding(None, number) for number in numbers]
        sizes = [f.middle_mm for f in found if f is not None and f.middle_mm is not None and not f.flags]
        known = capability(sizes, hole.limits.lower_mm, hole.limits.upper_mm)
        if known is None:
            return ""
        word = {"holds": tr("Held"), "fails": tr("Not held"), "unsure": tr("Not sure yet whether held")}[
            known.word
        ]
        return tr(
            "{word}: Cp {cp:.2f} ({cp_low:.2f} to {cp_high:.2f}), Cpk {cpk:.2f} "
            "({cpk_low:.2f} to {cpk_high:.2f}), {holes} holes.",
            word=word,
            cp=known.cp,
            cp_low=known.cp_low,
            cp_high=known.cp_high,
            cpk=known.cpk,
            cpk_low=known.cpk_low,
            cpk_high=known.cpk_high,
            holes=known.holes,
        )
