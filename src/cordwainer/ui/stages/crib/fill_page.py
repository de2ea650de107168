"""Filling a crib of one's own: begun with a name and a machine, then by sets, and by lines typed as one talks."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.shop.sets import ToolSet, sets
from cordwainer.core.shop.typed import Doubt, Read, read_tools
from cordwainer.files.new_shop import machine_kinds
from cordwainer.ui.desk.own_shop import OwnShop
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import (
    BoxButton,
    Column,
    Field,
    Link,
    Mark,
    Pressable,
    draw_focus,
    put_in_scroll,
    text_label,
)
from cordwainer.ui.kit.following import Following
from cordwainer.ui.kit.layout import MIDDLE, NONE, across, down, fill, line_of, scroll_down, smooth
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.stages.crib.set_drawer import SetDrawer

MOST_SHOWN = 6
SETS_LEAST, SETS_WIDTH = 280, 424


class SetRow(Pressable):
    """A set: what it is, and how much of it is here."""

    def __init__(self, of: ToolSet) -> None:
        super().__init__(of.words)
        self.of, self.here, self.put_in = of, 0, False
        self.setFixedHeight(34)
        self.setCheckable(True)

    def nextCheckState(self) -> None:
        """The page says which one is open."""

    def show_count(self, here: int, put_in: bool, opened: bool) -> None:
        """How many of its tools are here, whether it was put in, whether its drawer is the one drawn."""
        self.here, self.put_in = here, put_in
        self.setChecked(opened)
        self.setAccessibleName(f"{self.of.words}, {self.words}")
        self.update()

    @property
    def words(self) -> str:
        """What a press would do, or how much is here."""
        every = self.of.count
        if not self.put_in:
            return tr("add {every}", every=every - self.here) if self.here < every else tr("here")
        return (
            tr("all {every} here", every=every)
            if self.here == every
            else tr("{here} of {every} here", here=self.here, every=every)
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Its words at the left, its count at the right; brass at the edge while its drawer is drawn."""
        painter = smooth(self)
        if self.isChecked() or self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if self.isChecked():
            painter.fillRect(0, 0, 4, self.height(), theme.BRASS)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.setFont(theme.font(13, not self.put_in))
        painter.setPen(theme.INK2 if self.put_in else theme.INK)
        flags = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        painter.drawText(self.rect().adjusted(0, 0, -10, 0), flags, self.words)
        room = self.rect().adjusted(12, 0, -22 - painter.fontMetrics().horizontalAdvance(self.words), 0)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, self.put_in))
        text = painter.fontMetrics().elidedText(self.of.words, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, MIDDLE, text)
        if self.ring:
            draw_focus(painter, self.rect().toRectF())


class Beginning(Column):
    """What a new shop is asked: its name, its unit, its first machine."""

    begun = pyqtSignal()

    def __init__(self, own: OwnShop) -> None:
        super().__init__((20, 8, 20, 12), 10)
        self.own = own
        self.kind = "bench_lathe"
        self.add(text_label(tr("A shop of your own"), 22, True))
        words = tr(
            "Its name, the unit its tools are spoken of in, and one machine. The rest follows, and can be undone."
        )
        self.add(text_label(words, 15, wrap=True))
        row, line = line_of(gap=10)
        self.name = Field(tr("Name of the shop"), 18, True)
        self.name.setPlaceholderText(tr("North bay"))
        self.name.setFixedSize(QSize(300, 40))
        self.unit = Choices(tr("Unit of the shop"), [("in", "in"), ("mm", "mm")], QSize(56, 38))
        self.unit.set_value(own.selection.unit)
        self.unit.chosen.connect(lambda value: self.unit.set_value(value or self.unit.value))
        fill(line, self.name, self.unit, None)
        self.add(row)
        machines, line = line_of(gap=8)
        self.machines: dict[str, BoxButton] = {}
        for key, entry in machine_kinds().items():
            button = BoxButton(entry["name"], entry["name"], 15)
            button.one_of_several()
            button.setFixedHeight(36)
            button.setMinimumWidth(button.fontMetrics().horizontalAdvance(entry["name"]) + 28)
            button.clicked.connect(lambda _=False, k=key: self._choose(k))
            self.machines[key] = button
            line.addWidget(button)
        line.addStretch(1)
        self.add(machines)
        self.trouble = text_label("", 15, True, wrap=True)
        self.trouble.hide()
        self.add(self.trouble)
        act, line = line_of()
        self.begin = QPushButton(tr("Begin this shop"))
        self.begin.setProperty("role", "act")
        self.begin.clicked.connect(self.do)
        self.name.returnPressed.connect(self.do)
        fill(line, self.begin, None)
        self.add(act)
        self.box.addStretch(1)
        self._choose(self.kind)

    def _choose(self, kind: str) -> None:
        self.kind = kind
        for key, button in self.machines.items():
            button.setChecked(key == kind)

    def do(self) -> None:
        """Begin it, or say why not."""
        try:
            self.own.begin(self.name.text(), self.unit.value or "mm", self.kind)
        except InputError as bad:
            self.trouble.setText(sentence(bad.problem) + ".")
            self.trouble.show()
            return
        self.trouble.hide()
        self.name.clear()
        self.begun.emit()


class TypedLine(Column):
    """Tools typed in one line, each piece shown as understood before any is put in."""

    def __init__(self, own: OwnShop) -> None:
        super().__init__(NONE, 4)
        self.own = own
        row, line = line_of(gap=10)
        self.field = Field(tr("Tools to put in"), 17)
        self.field.setPlaceholderText(tr("3x 6.8 jobber, 5/16 reamer, #4 center drill, M6 taps plug bottoming"))
        self.field.setFixedHeight(40)
        self.put = QPushButton(tr("Put in"))
        self.put.setProperty("role", "act")
        self.put.clicked.connect(self.take)
        line.addWidget(self.field, 1)
        line.addWidget(self.put)
        self.add(row)
        self.read = Column((2, 0, 0, 0), 2)
        self.add(self.read)
        self.field.textChanged.connect(lambda _text: self.show_read())
        self.field.returnPressed.connect(self.take)
        self.show_read()

    def found(self) -> list[Read | Doubt]:
        """What is understood of the line now."""
        return read_tools(self.field.text(), self.own.selection.unit)

    def show_read(self) -> None:
        """Mirror what is understood."""
        self.read.clear()
        found = self.found()
        good = [one for one in found if isinstance(one, Read)]
        doubts = [one for one in found if isinstance(one, Doubt)]
        many = sum(tool.quantity for one in good for tool in one.tools)
        self.put.setEnabled(bool(good))
        self.put.setText(tr("Put in {many}", many=many) if good else tr("Put in"))
        if good:
            words = ", ".join(one.words for one in good[:MOST_SHOWN])
            more = tr(", and {count} more", count=len(good) - MOST_SHOWN) if len(good) > MOST_SHOWN else ""
            self.read.add(text_label(words + more, 14, wrap=True))
        for doubt in doubts[:MOST_SHOWN]:
            row, line = line_of(gap=8)
            line.addWidget(Mark("caution", 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            line.addWidget(text_label(f"\u201c{doubt.text}\u201d: {doubt.why}", 14, True, wrap=True), 1)
            for offer in doubt.offers:
                link = Link(offer, 14)
                link.clicked.connect(lambda _=False, d=doubt, o=offer: self._mend(d, o))
                line.addWidget(link)
            self.read.add(row)

    def _mend(self, doubt: Doubt, offer: str) -> None:
        """Write what was offered in the place of what was doubted."""
        text = self.field.text()
        end = doubt.at + len(doubt.text)
        self.field.setText(text[: doubt.at] + offer + text[end:])
        self.field.setFocus()

    def take(self) -> None:
        """Put in what was understood; what was not stays in the line, to be mended."""
        found = self.found()
        good = [one for one in found if isinstance(one, Read)]
        if good:
            self.own.add_read(good)
            self.field.setText(", ".join(one.piece for one in found if isinstance(one, Doubt)))


class FillPage(QWidget):
    """Sets at the left, the drawer of the one in hand at the right, typed tools above; or a shop to begin."""

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.own = OwnShop(selection, stock)
        self.selection, self.stock = selection, stock
        self.beginning = False
        self.opened: ToolSet = sets()[0]
        outer = down(self, NONE, 0)
        self.begin = Beginning(self.own)
        self.begin.begun.connect(self._begun)
        outer.addWidget(self.begin)
        self.filling = QWidget()
        outer.addWidget(self.filling, 1)
        inner = down(self.filling, (20, 0, 16, 8), 6)
        head, line = line_of(gap=14)
        self.title = text_label("", 20, True)
        self.another = Link(tr("Begin another shop"), 14)
        self.another.clicked.connect(lambda: self.ask_new(True))
        fill(line, self.title, None, self.another)
        self.typed = TypedLine(self.own)
        fill(inner, head, self.typed)
        inner.addLayout(self._two(), 1)
        self.following = Following(self, self.refresh, stock.changed, selection.unit_changed)
        self.refresh()

    def _two(self) -> QHBoxLayout:
        row = across(gap=16)
        scroll = scroll_down()
        scroll.setMinimumWidth(SETS_LEAST)
        scroll.setMaximumWidth(SETS_WIDTH)
        column = Column((0, 0, 10, 0), 0)
        self.rows: list[SetRow] = []
        self.groups: dict[str, list[QWidget]] = {}
        group = ""
        for of in sets():
            if of.group != group:
                group = of.group
                column.box.addSpacing(8)
                column.add(text_label(group, 15, True, color=theme.INK2))
            one = SetRow(of)
            one.clicked.connect(lambda _=False, s=of: self.press(s))
            self.rows.append(one)
            column.add(one)
        column.box.addStretch(1)
        put_in_scroll(scroll, column)
        row.addWidget(scroll, 3)
        right = down(gap=6)
        head, line = line_of(gap=14)
        self.set_words = text_label("", 16, True)
        self.missing, self.out = Link("", 14), Link(tr("Take the set out"), 14)
        self.missing.clicked.connect(lambda: self.own.add_set(self.opened))
        self.out.clicked.connect(lambda: self.own.take_set(self.opened))
        fill(line, self.missing, self.out, None)
        fill(right, self.set_words, head)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.drawer = SetDrawer()
        self.drawer.struck.connect(self.own.strike)
        put_in_scroll(area, self.drawer)
        right.addWidget(area, 1)
        row.addLayout(right, 2)
        return row

    def showEvent(self, event: object) -> None:
        """Ready to type."""
        (self.begin.name if self.begin.isVisible() else self.typed.field).setFocus()

    def ask_new(self, on: bool) -> None:
        """Ask for a new shop, or go back to filling the one in use."""
        self.beginning = on
        self.refresh()
        if on:
            self.begin.name.setFocus()

    def _begun(self) -> None:
        self.ask_new(False)
        self.typed.field.setFocus()

    def press(self, of: ToolSet) -> None:
        """Put a set in the first time; what was struck out of it since stays so. Its drawer is drawn."""
        self.opened = of
        if not self.own.has_set(of):
            self.own.add_set(of)
        self.refresh()

    def refresh(self) -> None:
        """Mirror the crib."""
        asking = self.beginning or not self.own.is_own
        self.begin.setVisible(asking)
        self.filling.setVisible(not asking)
        if asking:
            return
        present = set(self.own.here())
        self.title.setText(
            tr("{shop}: {count} tools", shop=self.stock.shop.name, count=len(present))
            if present
            else tr("{shop}: empty yet", shop=self.stock.shop.name)
        )
        for row in self.rows:
            here = sum(tool.id in present for part in row.of.parts for _, tool in part.tools())
            row.show_count(here, self.own.has_set(row.of), row.of is self.opened)
        of = self.opened
        tools = [(tool, _label(tool.designation), part.drawer) for part in of.parts for _, tool in part.tools()]
        self.drawer.show_set(of.id, tools, present)
        here = sum(tool.id in present for tool, _, _ in tools)
        self.set_words.setText(sentence(of.words))
        self.missing.setText(
            tr("Add the {count} missing", count=len(tools) - here)
            if here
            else tr("Add all {count}", count=len(tools))
        )
        self.missing.setVisible(here < len(tools))
        self.out.setVisible(here > 0)


def _label(designation: str) -> str:
    """A size under its place: without the unit it shares with all others."""
    return (
        designation.removesuffix(" mm")
        .removesuffix(" in")
        .removeprefix("letter ")
        .removesuffix(" UNC")
        .removesuffix(" UNF")
    )
