"""How true a machine runs, measured: what to set up, two readings, what they come to with the working."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.indicated import RUNOUT, SIDE, UP, Way, from_readings
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, text_label
from cordwainer.ui.kit.layout import NONE, fill, line_of
from cordwainer.ui.kit.typed import parse


class Indicated(Column):
    """One thing measured. `taken`: what came of it, millimeters."""

    taken = pyqtSignal(float)

    def __init__(self, way: Way, unit: Callable[[], str]) -> None:
        super().__init__(NONE, 4)
        self.way, self.unit = way, unit
        self.found: float | None = None
        self.units: list[QLabel] = []
        self.add(text_label(way.name, 14, True))
        self.add(text_label(way.how, 14, color=theme.INK2, wrap=True))
        self.fields = [Field(f"{way.name}: {name}", 15, True) for name in (way.first, way.second)]
        for field, name in zip(self.fields, (way.first, way.second), strict=True):
            row, line = line_of(gap=8)
            field.setFixedSize(92, 30)
            field.textChanged.connect(self.work_out)
            beside = text_label("", 14, color=theme.INK2)
            beside.setFixedWidth(26)
            self.units.append(beside)
            fill(line, text_label(name, 14, color=theme.INK2), None, field, beside)
            self.add(row)
        row, line = line_of(gap=8)
        self.working = text_label("", 14, True)
        self.take = Link(tr("Take it"), 14)
        self.take.setAccessibleName(tr("{way}: take it", way=way.name))
        self.take.clicked.connect(self._take)
        fill(line, self.working, None, self.take)
        self.add(row)
        self.work_out()

    def work_out(self) -> None:
        """The working of what stands there."""
        texts, unit = [field.text().strip() for field in self.fields], self.unit()
        self.found = None
        words = ""
        for beside in self.units:
            beside.setText(unit)
        if all(texts):
            try:
                first, second = (parse(text, unit, signed=True).mm for text in texts)
                self.found = from_readings(self.way, first, second)
                a, b, c = (fixed(value, unit, 3, 4) for value in (first, second, self.found))
                words = f"{a} − {b if second >= 0 else f'({b})'} = {c} {unit}"
            except InputError as bad:
                words = sentence(bad.problem)
        self.working.setText(words)
        self.take.setEnabled(self.found is not None)
        self.take.setVisible(self.found is not None)

    def _take(self) -> None:
        if self.found is not None:
            found = self.found
            for field in self.fields:
                field.clear()
            self.taken.emit(found)


class Indicator(Column):
    """All that is measured of one machine; a lathe's tailstock only on a lathe. `taken`: which, millimeters."""

    taken = pyqtSignal(str, float)

    def __init__(self, unit: Callable[[], str]) -> None:
        super().__init__(NONE, 10)
        self.parts = [Indicated(way, unit) for way in (RUNOUT, SIDE, UP)]
        for part in self.parts:
            self.add(part)
            part.taken.connect(lambda mm, of=part.way.id: self.taken.emit(of, mm))

    def show_for(self, is_lathe: bool) -> None:
        """What can be measured on this machine."""
        for part in self.parts[1:]:
            part.setVisible(is_lathe)
        for part in self.parts:
            part.work_out()


def toggled(link: Link, shown: QWidget, words: tuple[str, str]) -> None:
    """A link that opens something and closes it again."""

    def turn() -> None:
        shown.setVisible(not shown.isVisible())
        link.setText(words[shown.isVisible()])

    shown.hide()
    link.clicked.connect(turn)
