"""The part's own size and what it lies on: asked once for all its through holes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.part.hole import UNDER
from cordwainer.core.planning.words.wording import fixed, length_in
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of
from cordwainer.ui.kit.plain import on_tip
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.kit.typed import parse

SIDE_WORDS = [("left_right", tr("left, right")), ("lower_upper", tr("front, back"))]


class LiesOn(QWidget):
    """Width and height of the part; what is under it, how far below, and where its parallels stand."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, trying: Callable[[Callable[[], None]], None]
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        box = down(self, NONE, 5)
        self.wide, self.high = Field(tr("Width of the part"), 14, True), Field(tr("Height of the part"), 14, True)
        size = across(gap=7)
        for words, field in ((tr("Part"), self.wide), (tr("by"), self.high)):
            self._put(size, words, field, tr("From the lower left corner; gives the metal to its edges"))
            field.kept.connect(lambda _: trying(self.set_part))
        size.addStretch(1)
        box.addLayout(size)
        self.jaws = text_label("", 14, color=theme.INK2, wrap=True)
        box.addWidget(self.jaws)
        line = across(gap=7)
        self.gap = Field(tr("How far below the part it lies"), 14, True)
        self.gap.setPlaceholderText("6 mm")
        self._put(line, tr("Under the part, at"), self.gap, tr("From the far face to what is under it"))
        self.gap.kept.connect(lambda _: trying(self.set_under))
        line.addStretch(1)
        box.addLayout(line)
        self.under = Choices(tr("Under the part"), [(key, tr(key)) for key in UNDER], QSize(77, 30))
        self.under.chosen.connect(lambda _: trying(self.set_under))
        box.addWidget(self.under)
        self.stand, stand = line_of(gap=6)
        self.thick, self.inset = (
            Field(tr("Thickness of a parallel"), 14, True),
            Field(tr("In from the edge"), 14, True),
        )
        self._put(stand, tr("Each"), self.thick, tr("How thick a parallel is, as it stands under the part"), 66)
        self._put(stand, "in", self.inset, tr("From the part's edge to its outer side"), 58)
        self.thick.setPlaceholderText("8 mm")
        self.inset.setPlaceholderText("0")
        for field in (self.thick, self.inset):
            field.kept.connect(lambda _: trying(self.set_under))
        self.sides = Choices(tr("Where the parallels stand"), SIDE_WORDS, QSize(88, 30))
        self.sides.set_value("left_right")
        self.sides.chosen.connect(lambda _: trying(self.set_under))
        fill(stand, self.sides, None)
        box.addWidget(self.stand)

    def _put(self, line: QHBoxLayout, words: str, field: Field, tip: str, wide: int = 84) -> None:
        line.addWidget(text_label(words, 15))
        field.setFixedSize(QSize(wide, 30))
        field.setToolTip(on_tip(tip))
        line.addWidget(field)

    def refresh(self) -> None:
        """Mirror what is in hand."""
        file = self.document.job.file
        part, under = file.part, file.under
        shown: list[tuple[Field, Any]] = [(self.wide, part and part.width), (self.high, part and part.height)]
        if under is not None:
            shown += [(self.gap, under.gap), (self.thick, under.thick), (self.inset, under.inset)]
            self.sides.set_value(under.sides)
        for field, own in shown:
            if not field.hasFocus():
                field.setText(length_in(own, self.selection.unit) if own is not None else "")
        self.jaws.setText(self._jaw_words(part.width.mm, part.height.mm) if part else "")
        self.jaws.setVisible(bool(self.jaws.text()))
        self.under.set_value(under.what if under is not None else self.under.value)
        self.stand.setVisible(self.under.value == "parallels")

    def _jaw_words(self, wide_mm: float, high_mm: float) -> str:
        """Whether the machine's vise opens far enough for the part, where that is known of it."""
        machine, unit = self.stock.machine, self.selection.unit
        if machine.jaws_mm is None:
            return ""
        opens = tr(
            "{machine}'s jaws open {jaws_mm} {unit}",
            machine=machine.name,
            jaws_mm=fixed(machine.jaws_mm, unit, 1, 3),
            unit=unit,
        )
        if min(wide_mm, high_mm) > machine.jaws_mm + 1e-6:
            return tr("{opens}: the part does not go in, clamp it to the table.", opens=opens)
        way = tr("either way") if max(wide_mm, high_mm) <= machine.jaws_mm + 1e-6 else tr("the narrow way")
        return tr("{opens}: it goes in {way}.", opens=opens, way=way)

    def set_part(self) -> None:
        """The part's own size; both empty, nothing is known of it."""
        texts = [field.text().strip() for field in (self.wide, self.high)]
        if not any(texts):
            self.document.edit(tr("The part's size is not known"), lambda job: job.pop("part", None))
        elif all(texts):
            wide, high = (str(parse(text, self.selection.unit)) for text in texts)
            self.document.edit(
                tr("Size of the part"), lambda job: job.update(part={"width": wide, "height": high})
            )

    def set_under(self) -> None:
        """What lies under the part; nothing chosen, nothing said."""
        what = self.under.value
        self.stand.setVisible(what == "parallels")
        if what is None:
            self.document.edit(tr("Nothing said of what is under"), lambda job: job.pop("under", None))
            return
        if not self.gap.text().strip():
            what = what.removesuffix("s")
            raise InputError("", tr("how far below the part is the {what}? Write it, such as '6 mm'", what=what))
        said: dict[str, str] = {"what": what, "gap": str(parse(self.gap.text(), self.selection.unit))}
        if what == "parallels":
            said |= self._parallels()
        self.document.edit(tr("What is under"), lambda job: job.update(under=said))

    def _parallels(self) -> dict[str, str]:
        """Where the parallels stand, as far as it is said."""
        unit, found = self.selection.unit, {"sides": self.sides.value or "left_right"}
        self.sides.set_value(found["sides"])
        if self.thick.text().strip():
            found["thick"] = str(parse(self.thick.text(), unit))
            if self.inset.text().strip():
                found["inset"] = str(parse(self.inset.text(), unit))
            if self.document.job.file.part is None:
                raise InputError("", tr("how large is the part? Its parallels stand in from its edges"))
        return found
