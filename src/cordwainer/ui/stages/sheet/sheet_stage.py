"""Going through a drawing: its sheets at the left; at the right each callout, what it is, what is open."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QPushButton, QWidget

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import sentence, tr
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.core.prints.datum import lower_left
from cordwainer.core.prints.signs import spoken
from cordwainer.core.prints.words import Box
from cordwainer.files.prints.report import reading_words
from cordwainer.files.prints.review import Review
from cordwainer.files.shown import shown
from cordwainer.ui.desk.prints import Prints
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.sheet.review_rows import ReviewRow
from cordwainer.ui.stages.sheet.sheet_view import SheetView, Shown, words_in

PANE_WIDTH = 430
ORDER = {SURE: 1, DOUBT: 0, NO_HOLE: 2}


class SheetStage(Stage):
    """A drawing with its callouts marked, and the same as a list to be gone through."""

    def __init__(self, prints: Prints) -> None:
        super().__init__()
        self.prints = prints
        self.number = 0
        self.rows: list[ReviewRow] = []
        self.order: list[int] = []
        line = across(self, NONE, 0)
        line.addWidget(self._sheets(), 1)
        line.addWidget(self._pane())
        self.mirrors(prints.changed, prints.opened)
        self._seen: Review | None = None
        prints.pictured.connect(lambda _sheet: self.view.update())

    # -- what there is -----------------------------------------------------------------------------

    def _sheets(self) -> QWidget:
        side = Column(NONE, 0)
        bar = Pane(theme.PLATE, "b")
        bar.setFixedHeight(44)
        row = across(bar, (16, 4, 12, 4), 12)
        self.name = text_label("", 16, True)
        self.before, self.after = Link(tr("Sheet before"), 14), Link(tr("Sheet after"), 14)
        self.before.clicked.connect(lambda: self.turn(-1))
        self.after.clicked.connect(lambda: self.turn(1))
        self.which = text_label("", 14, color=theme.INK2)
        self.missed = Link(tr("Mark words passed over"), 14)
        self.missed.setToolTip(tr("Then drag over them; or hold Shift and drag"))
        self.missed.clicked.connect(self._mark)
        whole = Link(tr("Whole sheet"), 14)
        self.view = SheetView()
        whole.clicked.connect(self.view.whole)
        self.view.picked.connect(self.choose)
        self.view.marked.connect(self._take_marked)
        fill(row, self.name, None, self.before, self.which, self.after, self.missed, whole)
        side.add(bar)
        side.add(self.view, 1)
        return side

    def _pane(self) -> QWidget:
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(PANE_WIDTH)
        box = down(pane, (0, 10, 0, 10), 6)
        head, top = line_of((18, 0, 14, 0))
        column = Column(NONE, 2)
        self.counted = text_label("", 19, True, wrap=True)
        self.told = text_label("", 14, color=theme.INK2, wrap=True)
        column.add(self.counted)
        column.add(self.told)
        top.addWidget(column, 1)
        box.addWidget(head)
        asked, line = line_of((18, 0, 14, 0), 8)
        self.unit = Choices(tr("Unit of the drawing"), [("mm", "mm"), ("in", "in")], QSize(46, 32))
        self.unit.chosen.connect(self._set_unit)
        self.thickness = Field(tr("Thickness of the part"), 15, True)
        self.thickness.setPlaceholderText("12 mm")
        self.thickness.setFixedWidth(104)
        self.thickness.kept.connect(self._set_thickness)
        fill(line, text_label(tr("Drawn in"), 15), self.unit, 10, text_label(tr("part is"), 15), self.thickness)
        fill(line, text_label("thick", 15), None)
        box.addWidget(asked)
        self.zero_row, line = line_of((18, 0, 14, 0), 8)
        self.zero = Choices(
            tr("Zero of x and y"),
            [("own", tr("of the file")), ("corner", tr("lower left hole")), ("dimensions", tr("of dimensions"))],
            QSize(118, 30),
        )
        self.zero.set_value("own")
        self.zero.chosen.connect(self._set_zero)
        fill(line, text_label(tr("Zero"), 15), self.zero, None)
        box.addWidget(self.zero_row)
        box.addWidget(Rule())
        self.list = Column(NONE, 0)
        self.area = scroll_down()
        put_in_scroll(self.area, self.list)
        box.addWidget(self.area, 1)
        box.addWidget(Rule())
        box.addWidget(self._in_hand())
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.setContentsMargins(18, 0, 14, 0)
        box.addWidget(self.trouble)
        foot, line = line_of((18, 4, 14, 0), 12)
        back = Link(tr("To Print"), 15)
        back.clicked.connect(lambda: self.wants.emit("go_print"))
        self.take_all = QPushButton(tr("Take all that are sure"))
        self.take_all.setProperty("role", "act")
        self.take_all.clicked.connect(self.take_sure)
        self.balloons = Link(tr("Balloons out"), 15)
        self.balloons.setToolTip(tr("The drawing as PDF with a balloon at every hole taken"))
        self.balloons.clicked.connect(lambda: self.wants.emit("export_balloons"))
        fill(line, back, self.balloons, None, self.take_all)
        box.addWidget(foot)
        return pane

    def _in_hand(self) -> QWidget:
        """The callout in hand: typed over, answered, taken, put aside."""
        self.hand = Column((18, 2, 14, 2), 6)
        self.doubt = text_label("", 14, True, wrap=True)
        self.line = Field(tr("The callout as it is to be read"), 16, True)
        self.line.returnPressed.connect(self._retype)
        self.reading = text_label("", 14, color=theme.INK2, wrap=True)
        answers, row = line_of(gap=14)
        self.through, self.as_read = Link(tr("Goes through"), 14), Link(tr("Right as read"), 14)
        self.deep = Field(tr("How deep"), 14, True)
        self.deep.setPlaceholderText("deep")
        self.deep.setFixedWidth(76)
        self.deep.returnPressed.connect(lambda: self._settle(self.deep.text()))
        self.through.clicked.connect(lambda: self._settle("through"))
        self.as_read.clicked.connect(lambda: self._act(lambda r, k: r.accept(k)))
        self.aside, self.take_one = Link(tr("No hole"), 14), Link(tr("Take it"), 14)
        self.aside.clicked.connect(lambda: self._act(lambda r, k: r.is_no_hole(k)))
        self.take_one.clicked.connect(lambda: self._take([self.prints.index]))
        fill(row, self.through, self.deep, self.as_read, None, self.aside, self.take_one)
        for part in (self.doubt, self.line, self.reading, answers):
            self.hand.add(part)
        return self.hand

    # -- what is shown -----------------------------------------------------------------------------

    def _begin(self, review: Review) -> None:
        """Another drawing: its first sheet, the first in doubt in hand."""
        self.number, self.order = 0, []
        self.thickness.setText(str(review.thickness) if review.thickness is not None else "")
        drawn = self.prints.drawn
        dimensioned = drawn is not None and drawn.zero is not None
        self.zero.boxes["dimensions"].setVisible(dimensioned)
        self.zero.set_value("dimensions" if dimensioned else "own")
        first = next((k for k, item in enumerate(review.items) if item.state == DOUBT), -1)
        self.prints.index = first if first >= 0 else (0 if review.items else -1)
        self.trouble.setText("")

    def refresh(self) -> None:
        """Mirror the review."""
        review = self.prints.review
        if review is None or not self.isVisible():
            return
        if review is not self._seen:
            self._seen = review
            self._begin(review)
        sheets = review.read.sheets
        index = self.prints.index
        if 0 <= index < len(review.items) and review.items[index].found.boxes:
            self.number = review.items[index].found.sheet
        self.name.setText(shown(review.path.name, 46))
        self.counted.setText(sentence(review.counted()))
        notes = review.read.notes
        said = [*review.said]
        said += [] if review.unit_said else [tr("The drawing does not say its unit")]
        said += [tr("Material: {material}", material=notes.material)] if notes.material else []
        said += [notes.general_tolerance] if notes.general_tolerance else []
        self.told.setText(". ".join(sentence(s) for s in said))
        self.told.setVisible(bool(said))
        self.unit.set_value(review.unit if review.unit_said or review.settled else None)
        self.zero_row.setVisible(self.prints.drawn is not None)
        several = len(sheets) > 1
        for part in (self.before, self.after, self.which):
            part.setVisible(several)
        self.which.setText(tr("{number} of {count}", number=self.number + 1, count=len(sheets)))
        self.before.setEnabled(self.number > 0)
        self.after.setEnabled(self.number + 1 < len(sheets))
        self._show_sheet()
        self._show_rows()
        self._show_hand()
        sure = review.sure()
        self.take_all.setText(
            tr("Take all {count} that are sure", count=len(sure))
            if len(sure) > 1
            else tr("Take the one that is sure")
        )
        self.take_all.setVisible(bool(sure))
        pdf = self.prints.drawn is None and bool(sheets)
        self.balloons.setVisible(pdf and any(item.taken for item in review.items))

    def _show_sheet(self) -> None:
        review, drawn = self.prints.review, self.prints.drawn
        if review is None or self.number >= len(review.read.sheets):
            self.view.clear()
            return
        sheet, number = review.read.sheets[self.number], self.number
        items = tuple((k, item) for k, item in enumerate(review.items) if item.found.sheet == number)
        if drawn is not None:
            free = review.read.free if number == 0 else ()
            shows = Shown(sheet, items, drawn.seen[number], drawn.circles[number], free)
        else:
            shows = Shown(sheet, items, picture=lambda scale: self.prints.picture(number, scale))
        self.view.show_sheet(shows, self.prints.index)

    def _show_rows(self) -> None:
        """A row a callout, those in doubt first; rows are kept as long as there are as many."""
        review = self.prints.review
        assert review is not None
        several = len(review.read.sheets) > 1
        if len(self.order) != len(review.items):
            self.order = sorted(
                range(len(review.items)),
                key=lambda k: (ORDER[review.items[k].state], review.items[k].found.sheet if several else 0, k),
            )
            self.list.clear()
            self.rows = []
            for index in self.order:
                row = ReviewRow(review.items[index], index == self.prints.index)
                row.clicked.connect(lambda _=False, k=index: self.choose(k))
                self.list.add(row)
                self.rows.append(row)
            self.list.box.addStretch(1)
        for index, row in zip(self.order, self.rows, strict=True):
            row.show_item(review.items[index], index == self.prints.index)
            if index == self.prints.index:
                self.area.ensureWidgetVisible(row, 0, 60)

    def _show_hand(self) -> None:
        review, index = self.prints.review, self.prints.index
        there = review is not None and 0 <= index < len(review.items)
        self.hand.setVisible(there)
        if review is None or not there:
            return
        item = review.items[index]
        why = item.found.why if not item.taken else tr("Taken as {taken}", taken=item.taken)
        self.doubt.setText(sentence(why))
        self.doubt.setVisible(bool(why))
        if not self.line.hasFocus() or self.line.text() != spoken(item.shown):
            self.line.setText(spoken(item.shown))
        self.reading.setText(reading_words(item))
        free = not item.taken
        open_ = free and item.state != SURE and item.found.callout is not None
        depth = item.found.callout
        deep = depth is not None and not (depth.through or depth.has_depth or depth.pin is not None)
        self.through.setVisible(open_ and deep)
        self.deep.setVisible(open_ and deep)
        self.deep.setText("")
        self.as_read.setVisible(open_ and not deep)
        self.aside.setVisible(free and item.state != NO_HOLE)
        self.take_one.setVisible(free and item.state == SURE)
        self.line.setEnabled(free)

    # -- what is done ------------------------------------------------------------------------------

    def choose(self, index: int) -> None:
        """A callout in hand."""
        self.trouble.setText("")
        self.prints.choose(index)

    def turn(self, step: int) -> None:
        """Another sheet."""
        review = self.prints.review
        if review is not None:
            self.number = min(max(self.number + step, 0), len(review.read.sheets) - 1)
            first = next((k for k in self.order if review.items[k].found.sheet == self.number), -1)
            self.prints.index = first
            number = self.number
            self.refresh()
            self.number = number

    def _try(self, act: Callable[[], object]) -> None:
        try:
            act()
            self.trouble.setText("")
        except CordwainerError as bad:
            words = str(bad)
            self.trouble.setText(sentence(words))

    def _act(self, act: Callable[..., object]) -> None:
        review, index = self.prints.review, self.prints.index
        if review is not None and index >= 0:
            self._try(lambda: self.prints.change(lambda: act(review, index)))

    def _retype(self) -> None:
        text = self.line.text()
        self._act(lambda review, index: review.retype(index, text))

    def _settle(self, depth: str) -> None:
        self._act(lambda review, index: review.settle(index, depth))

    def _set_unit(self, unit: str | None) -> None:
        review = self.prints.review
        if review is not None and unit in ("mm", "in"):
            self._try(lambda: self.prints.change(lambda: review.set_unit(unit)))

    def _set_thickness(self, text: str) -> None:
        review = self.prints.review
        if review is None:
            return
        self._try(lambda: self.prints.set_thickness(parse(text, review.unit) if text.strip() else None))

    def _set_zero(self, value: str | None) -> None:
        review, drawn = self.prints.review, self.prints.drawn
        if review is None or drawn is None:
            return
        self.zero.set_value(value or "own")
        corner = lower_left(circle for sheet in drawn.circles for circle in sheet)
        chosen = {"corner": corner, "dimensions": drawn.zero}.get(value or "own")
        review.zero = chosen or (0.0, 0.0)

    def _mark(self) -> None:
        self.view.marking = not self.view.marking
        self.missed.setText(tr("Now drag over them") if self.view.marking else tr("Mark words passed over"))

    def _take_marked(self, area: Box) -> None:
        """Words dragged over become a callout; where there are none, one to be typed."""
        review = self.prints.review
        self.view.marking = False
        self.missed.setText(tr("Mark words passed over"))
        if review is None or self.number >= len(review.read.sheets):
            return
        words = words_in(review.read.sheets[self.number], area)
        self.prints.add(words or "?", area, self.number)
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)
        if not words:
            self.line.clear()
            self.trouble.setText(tr("No text there to be read; type what it says"))

    def take_sure(self) -> None:
        """All that are sure, by one undo."""
        review = self.prints.review
        if review is not None:
            self._take(review.sure())

    def _take(self, which: list[int]) -> None:
        told = ""

        def act() -> None:
            nonlocal told
            told = self.prints.take(which)

        self._try(act)
        if told:
            self.trouble.setText(told)
        if "thick" in told:
            self.thickness.setFocus()
