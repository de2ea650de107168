"""Stock-taking: sizes typed or sent as the drawers are walked; each names its drill and marks it seen."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSize
from PyQt6.QtWidgets import QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.stock_taking import Count, Named, count, name
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib import all_tools, change_tool
from cordwainer.ui.desk.gauge_link import GaugeLink
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, put_in_scroll, text_label
from cordwainer.ui.kit.following import Following
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.typed import parse

SHOWN, MOST_ASKED = 24, 5
EXAMPLE = {"in": ".201", "mm": "6.8"}


class CountPage(QWidget):
    """The reading at the left with what it is; at the right how far the count is and what is missing."""

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.selection, self.stock = selection, stock
        self.last: Named | None = None
        self.asked: list[Named] = []
        row = across(self, (20, 0, 16, 8), 28)
        left = Column(NONE, 8)
        left.setFixedWidth(360)
        left.add(text_label(tr("Stock-taking"), 20, True))
        words = tr("Across the margins, drill by drill as they stand. Each is named and marked seen in its place.")
        left.add(text_label(words, 14, color=theme.INK2, wrap=True))
        typed, line = line_of(gap=8)
        self.field = Field(tr("Size of the next one"), 26, True)
        self.field.setFixedSize(QSize(200, 56))
        self.unit = text_label("", 18)
        fill(line, self.field, self.unit, None)
        left.add(typed)
        self.answer = Column(NONE, 4)
        left.add(self.answer)
        left.box.addStretch(1)
        row.addWidget(left)
        right = down(gap=6)
        head, line = line_of(gap=14)
        self.stands = text_label("", 20, True)
        self.begin = Link(tr("Begin anew"), 14)
        self.begin.clicked.connect(lambda: self._write(tr("Begin the count anew"), {"seen": {}, "unmarked": []}))
        fill(line, self.stands, None, self.begin)
        right.addWidget(head)
        scroll = scroll_down()
        self.lists = Column((0, 0, 10, 0), 6)
        put_in_scroll(scroll, self.lists)
        right.addWidget(scroll, 1)
        self.strike = QPushButton(tr("Strike out what was not seen"))
        self.strike.clicked.connect(self.strike_out)
        foot, line = line_of()
        fill(line, None, self.strike)
        right.addWidget(foot)
        row.addLayout(right, 1)
        self.field.returnPressed.connect(lambda: self.take(self.field.text()))
        self.link = GaugeLink(stock.document.settings)
        self.link.sent.connect(self.take)
        self.following = Following(self, self.refresh, stock.changed, selection.unit_changed)
        self.refresh()

    def showEvent(self, event: object) -> None:
        """Ready to type; a gauge on the line is listened to."""
        self.field.setFocus()
        self.link.start()

    def hideEvent(self, event: object) -> None:
        """The gauge is let go."""
        self.link.stop()

    # -- what was counted ----------------------------------------------------------------------

    @property
    def counted(self) -> dict[str, Any]:
        """What was seen, by id, and the sizes nothing fits; kept with the crib from one day to the next."""
        found = self.stock.crib.data.get("count") or {}
        return {"seen": dict(found.get("seen", {})), "unmarked": list(found.get("unmarked", []))}

    def _write(self, words: str, counted: dict[str, Any]) -> None:
        self.stock.crib.edit(words, lambda data: data.__setitem__("count", counted))

    def take(self, text: str) -> None:
        """One more size: named, and marked where it can be only one tool."""
        if not self.isVisible() or not text.strip():
            return
        try:
            size = parse(text, self.selection.unit).mm
        except InputError as bad:
            self._say(sentence(bad.problem) + ".")
            return
        counted = self.counted
        self.last = name(size, all_tools(self.stock.shop), counted["seen"])
        self.field.clear()
        if self.last.sure is not None:
            self.mark(self.last.sure)
        elif not self.last.fits:
            counted["unmarked"].append(round(size, 4))
            self._write(tr("Nothing here fits it"), counted)
        else:
            self.asked.append(self.last)
            self.refresh()

    def say(self, asked: Named, tool: Tool) -> None:
        """Of those a size could be it is this one."""
        self.asked = [one for one in self.asked if one is not asked]
        self.last = Named(asked.size_mm, (tool,))
        self.mark(tool)

    def mark(self, tool: Tool) -> None:
        """It is this one: seen once more."""
        counted = self.counted
        counted["seen"][tool.id] = counted["seen"].get(tool.id, 0) + 1
        size = self.last.size_mm if self.last is not None else tool.diameter_mm
        self.last = Named(size, (tool,))
        self._write(tr("Seen: {tool}", tool=tool.name), counted)

    def strike_out(self) -> None:
        """What was not seen is to get from now on."""
        missing = self.stands_at().not_seen

        def change(data: dict[str, Any]) -> None:
            for tool in missing:
                change_tool(data, tool, quantity=0)

        if missing:
            self.stock.crib.edit(tr("Strike out {count} not seen", count=len(missing)), change)

    def stands_at(self) -> Count:
        """How far the count is."""
        counted = self.counted
        return count(all_tools(self.stock.shop), counted["seen"], counted["unmarked"])

    # -- showing -------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the count."""
        unit = self.selection.unit
        self.unit.setText(unit)
        self.field.setPlaceholderText(EXAMPLE[unit])
        found = self.stands_at()
        self.stands.setText(tr("{seen} of {of} seen", seen=found.seen, of=found.of))
        self.strike.setEnabled(bool(found.not_seen) and found.seen > 0)
        self._show_answer()
        self.lists.clear()
        self._show_not_seen(found)
        for title, lines in (
            (
                tr("More than the crib has"),
                [
                    tr("{t}: {n}, not {quantity}", t=t.name, n=n, quantity=max(t.quantity, 1))
                    for t, n in found.doubled
                ],
            ),
            (tr("Nothing here fits"), [f"{fixed(mm, unit, 3, 4)} {unit}" for mm in found.unmarked]),
            (tr("To get"), [t.name for t in found.to_get]),
        ):
            if not lines:
                continue
            self.lists.add(text_label(f"{title}: {len(lines)}", 16, True))
            more = [tr("and {count} more", count=len(lines) - SHOWN)] if len(lines) > SHOWN else []
            self.lists.add(text_label("; ".join([*lines[:SHOWN], *more]), 14, wrap=True))
        self.lists.box.addStretch(1)

    def _show_not_seen(self, found: Count) -> None:
        """What was not seen, drawer by drawer."""
        if not found.not_seen:
            return
        self.lists.add(text_label(tr("Not seen: {count}", count=len(found.not_seen)), 16, True))
        by_drawer: dict[str, list[str]] = {}
        for tool in found.not_seen:
            by_drawer.setdefault(tool.drawer, []).append(tool.name.removesuffix(" drill"))
        for drawer, names in sorted(by_drawer.items()):
            more = [tr("and {count} more", count=len(names) - SHOWN)] if len(names) > SHOWN else []
            words = "; ".join([*names[:SHOWN], *more])
            self.lists.add(text_label(f"{drawer or tr('No drawer noted')}: {words}", 14, wrap=True))

    def _show_answer(self) -> None:
        self.answer.clear()
        last, unit = self.last, self.selection.unit
        if last is not None and last.sure is not None:
            tool, size = last.sure, f"{fixed(last.size_mm, unit, 3, 4)} {unit}"
            self.answer.add(text_label(tool.name, 26, True, wrap=True))
            place = tr("Drawer {drawer}", drawer=tool.drawer) if tool.drawer else tr("No drawer noted")
            times = self.counted["seen"].get(tool.id, 0)
            often = tr("once") if times < 2 else tr("{times} times", times=times)
            self.answer.add(
                text_label(
                    tr("{size}. {place}; seen {often}.", size=size, place=place, often=often), 16, wrap=True
                )
            )
        elif last is not None and not last.fits:
            self._say(
                tr(
                    "{size_mm} {unit}: nothing here fits it. It is noted with the unmarked.",
                    size_mm=fixed(last.size_mm, unit, 3, 4),
                    unit=unit,
                )
            )
        for asked in self.asked:
            self.answer.add(
                text_label(
                    tr("{size_mm} {unit}: which one is it?", size_mm=fixed(asked.size_mm, unit, 3, 4), unit=unit),
                    16,
                    True,
                )
            )
            for one in asked.fits[:MOST_ASKED]:
                link = Link(one.name + (tr(", drawer {drawer}", drawer=one.drawer) if one.drawer else ""), 15)
                link.clicked.connect(lambda _=False, a=asked, t=one: self.say(a, t))
                self.answer.add(link)

    def _say(self, words: str) -> None:
        self.answer.clear()
        self.answer.add(text_label(words, 16, True, wrap=True))
