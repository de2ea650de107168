"""Crib: the drills in order of true size, what an unmarked one is, and every other tool, gauge and machine."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QEvent, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPaintEvent, QPen, QShowEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QScrollArea, QStackedWidget, QWidget

from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.find import Haystack
from cordwainer.core.shop.machine import taper_number
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib import all_tools
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, Link, Pane, Pressable, draw_focus, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down, smooth, write
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.crib.crib_card import CribCard
from cordwainer.ui.stages.crib.drawers_page import DrawersPage
from cordwainer.ui.stages.crib.tool_list import ToolList
from cordwainer.ui.stages.crib.what_drill import WhatDrill

CARD_WIDTH, FEW_AT_ONCE = 352, 100
OWN_PAGES = ("gauges", "machines", "fill", "count")
DIGITS = frozenset("0123456789.")


class Door(Pressable):
    """A door under the drawers: what is behind it."""

    def __init__(self, title: str) -> None:
        super().__init__(title)
        self.title, self.words = title, ""
        self.one_of_several()
        self.setMinimumWidth(150)
        self.setFixedHeight(58)

    def say(self, words: str) -> None:
        """What is behind it, in a few words."""
        self.words = words
        self.setAccessibleName(f"{self.title}, {words}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Title, words, and a pointer to where it opens."""
        painter = smooth(self)
        open_ = self.isChecked()
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.INK if open_ else (theme.SCRIBE if self.hovered else theme.HI))
        painter.setPen(QPen(theme.INK2, 1))
        painter.drawRect(QRectF(0.5, 0.5, w - 1, h - 1))
        write(painter, QRectF(14, 6, w - 28, 24), self.title, 16, True, color=theme.HI if open_ else theme.INK)
        write(painter, QRectF(14, 29, w - 20, 22), self.words, 14, color=theme.HI if open_ else theme.INK2)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


OwnPage = Callable[[Selection, Stock], QWidget]


class CribStage(Stage):
    """What is this drill, drawers and doors, and the card of the tool chosen."""

    check_asked = pyqtSignal(object)

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.page = "drawers"
        self.chosen: Tool | None = None
        self._tools: tuple[Tool, ...] = ()
        self._hay = Haystack(())
        self._known: object = None
        self._own: dict[OwnPage, QWidget] = {}
        row = across(self, NONE, 0)
        left = down(gap=0)
        self.what = WhatDrill(self.selection, self.stock)
        self.what.answered.connect(self._answered)
        self.what.taken.connect(self.take_likely)
        fill(left, self.what, self._head())
        self.pages = QStackedWidget()
        left.addWidget(self.pages, 1)
        left.addWidget(self._doors())
        row.addLayout(left, 1)
        side = Pane(theme.HI, "l")
        side.setFixedWidth(CARD_WIDTH)
        box = down(side, (24, 14, 8, 10))
        self.card = CribCard(self.document, self.selection, self.stock)
        self.card.check_point.connect(self.check_asked)
        self.card.noted_down.connect(self.setFocus)
        self.card.box.setContentsMargins(0, 0, 14, 0)
        box.addWidget(_scroll(self.card))
        row.addWidget(side)
        self.drawers = DrawersPage()
        self.drawers.chosen.connect(self.show_tool)
        self.pages.addWidget(self.drawers)
        self.list = ToolList()
        self.list.chosen.connect(self.show_tool)
        self.pages.addWidget(self.list)
        self.mirrors(document.edited, selection.unit_changed, stock.changed)
        for told in (self.selection.moved, self.plans.arrived):
            told.connect(self._wanted_changed)

    def _head(self) -> QWidget:
        head = QWidget()
        head.setFixedHeight(48)
        line = across(head, (20, 8, 16, 4), 14)
        self.finder = Field(tr("Find a tool"), 15)
        self.finder.setPlaceholderText(tr("Find: 6.8, 17/64, #7, worn"))
        self.finder.setClearButtonEnabled(False)
        self.finder.setFixedHeight(34)
        self.finder.setMinimumWidth(130)
        self.finder.setMaximumWidth(280)
        self.finder.textChanged.connect(lambda _text: self._show_page())
        self.found_words = text_label("", 14, color=theme.INK2)
        self.back = Link(tr("Drawers"), 14)
        self.back.setAccessibleName(tr("Back to the drawers"))
        self.back.clicked.connect(lambda: self.open_page("drawers"))
        bring, send, put = Link(tr("Import a list"), 14), Link(tr("Export"), 14), Link(tr("Fill the crib"), 14)
        put.clicked.connect(lambda: self.open_page("fill"))
        take = Link(tr("Stock-taking"), 14)
        take.clicked.connect(lambda: self.open_page("count"))
        bring.clicked.connect(lambda: self.wants.emit("import_tools"))
        send.clicked.connect(lambda: self.wants.emit("export_tools"))
        line.addWidget(self.finder, 4)
        line.addWidget(self.found_words)
        line.addStretch(1)
        for link in (self.back, put, take, bring, send):
            line.addWidget(link)
        return head

    def _doors(self) -> QWidget:
        pane, line = line_of((20, 8, 16, 12), gap=12)
        self.doors = {
            "taper": Door(tr("Taper shank")),
            "others": Door(tr("Reamers, taps, rest")),
            "gauges": Door(tr("Gauges")),
            "machines": Door(tr("Machines")),
        }
        for page, door in self.doors.items():
            door.clicked.connect(lambda _=False, p=page: self.open_page("drawers" if p == self.page else p))
            line.addWidget(door, 1)
        return pane

    # -- keys ------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        """A digit or a point typed anywhere here is a reading, not a stage."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.ShortcutOverride
            and event.text() in DIGITS
            and event.text()
            and not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        ):
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Begin the reading with a digit typed anywhere."""
        if event is not None and event.text() and event.text() in DIGITS:
            if not self.what.isVisible():
                self.open_page("drawers")
            self.what.type_on(event.text())
            return
        super().keyPressEvent(event)

    def walk(self, step: int) -> None:
        """Along the open drawer."""
        if self.pages.currentWidget() is self.drawers:
            self.drawers.walk(step)

    def other_drawer(self, step: int) -> None:
        """The drawer above or below; in a list, the row."""
        if self.pages.currentWidget() is self.list:
            self.list.step(step)
        elif self.pages.currentWidget() is self.drawers:
            self.drawers.open(self.drawers.open_drawer + step)

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up, ready to type."""
        self.refresh()
        self.what.ready()
        if not isinstance(QApplication.focusWidget(), QLineEdit):
            self.what.reading.setFocus()

    # -- what commands do here ---------------------------------------------------------------

    def to_finder(self) -> None:
        """To the field that finds tools."""
        self.finder.setFocus()
        self.finder.selectAll()

    def to_machine(self, machine_id: str) -> None:
        """To what is known of a machine."""
        from cordwainer.ui.stages.crib.machine_page import MachinePage

        self.open_page("machines")
        page = self.pages.currentWidget()
        if isinstance(page, MachinePage):
            page.show_machine(machine_id)
            page.fields["speeds_rpm"].setFocus()

    def to_new_shop(self) -> None:
        """To a shop of one's own, to be begun."""
        from cordwainer.ui.stages.crib.fill_page import FillPage

        self.open_page("fill")
        page = self.pages.currentWidget()
        if isinstance(page, FillPage):
            page.ask_new(True)

    def to_page(self, page: str) -> None:
        """To filling the crib, or to stock-taking."""
        self.open_page(page)

    # -- what is this drill ----------------------------------------------------------------

    def _answered(self) -> None:
        what = self.what
        picked = what.pick.tool or (what.owned[0] if what.owned else None)
        if picked is None:
            return
        self.show_tool(picked)
        self.drawers.mark({picked.id} if what.pick.tool else {tool.id for tool in what.owned})

    def take_likely(self) -> None:
        """Enter: it is this one; a drill that was out is back in its place."""
        tool = self.what.pick.tool
        if tool is not None:
            self.show_tool(tool)
            if tool.out:
                self.card.out_or_back()

    # -- pages -----------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the shop."""
        if not self.isVisible():
            return
        key = (id(self.stock.shop), self.document.shop_name, self.stock.crib.edits)
        if key != self._known:
            self._known = key
            self._tools = all_tools(self.stock.shop)
            self._hay = Haystack(self._tools)
            QTimer.singleShot(0, self._gather)
            if self.chosen is not None:
                here = {tool.id: tool for tool in self._tools}
                self.chosen = here.get(self.chosen.id)
        self._say_doors()
        self._show_page()
        self._show_card()

    def _gather(self) -> None:
        """What tools are found by, a few at a time while nobody waits for it."""
        if self.isVisible() and self._hay.gather(FEW_AT_ONCE):
            QTimer.singleShot(0, self._gather)

    def _wanted_changed(self) -> None:
        if self.isVisible() and self.page == "drawers" and not self.finder.text().strip():
            self._show_drawers()

    def open_page(self, page: str) -> None:
        """Open a door, or the drawers again."""
        self.page = page
        self.finder.blockSignals(True)
        self.finder.clear()
        self.finder.blockSignals(False)
        self._show_page()

    def _show_page(self) -> None:
        text, unit = self.finder.text().strip(), self.selection.unit
        for page, door in self.doors.items():
            door.setChecked(page == self.page and not text)
        self.what.setVisible(bool(text) or self.page not in OWN_PAGES)
        self.back.setVisible(self.page != "drawers" or bool(text))
        self.found_words.setText("")
        if text:
            found = self._hay.find(text, unit)
            self._show_list(
                found,
                tr("{count} found", count=len(found))
                if found
                else tr("None found; try a size, or a word of its note."),
            )
        elif self.page == "taper":
            self._show_list(self._taper(), "")
        elif self.page == "others":
            self._show_list([tool for tool in self._tools if tool.kind != "drill"], "")
        elif self.page == "gauges":
            from cordwainer.ui.stages.crib.gauge_page import GaugePage

            self._show_own(GaugePage)
        elif self.page == "machines":
            from cordwainer.ui.stages.crib.machine_page import MachinePage

            self._show_own(MachinePage)
        elif self.page == "fill":
            from cordwainer.ui.stages.crib.fill_page import FillPage

            self._show_own(FillPage)
        elif self.page == "count":
            from cordwainer.ui.stages.crib.count_page import CountPage

            self._show_own(CountPage)
        else:
            self.pages.setCurrentWidget(self.drawers)
            self._show_drawers()

    def _show_list(self, found: Sequence[Tool], words: str) -> None:
        self.found_words.setText(words)
        self.list.show_tools(found, self.chosen.id if self.chosen else "")
        self.pages.setCurrentWidget(self.list)

    def _show_own(self, kind: OwnPage) -> None:
        if kind not in self._own:
            self._own[kind] = kind(self.selection, self.stock)
            self.pages.addWidget(self._own[kind])
        self.pages.setCurrentWidget(self._own[kind])

    def _taper(self) -> list[Tool]:
        return [tool for tool in self._tools if tool.kind == "drill" and taper_number(tool.shank) is not None]

    def _say_doors(self) -> None:
        unit, taper = self.selection.unit, self._taper()
        words = "none"
        if taper:
            low, high = fixed(taper[0].diameter_mm, unit, 1, 2), fixed(taper[-1].diameter_mm, unit, 1, 2)
            words = tr("{low} to {high}, {count} drills", low=low, high=high, count=len(taper))
        self.doors["taper"].say(words)
        rest = [tool for tool in self._tools if tool.kind != "drill"]
        worn = sum(tool.condition != "good" for tool in rest)
        self.doors["others"].say(
            tr("{count}, {worn} worn", count=len(rest), worn=worn)
            if worn
            else tr("{count} tools", count=len(rest))
        )
        self.doors["gauges"].say(tr("{count}, how fine each reads", count=len(self.stock.shop.gauges)))
        machines = self.stock.shop.machines
        self.doors["machines"].say(tr("{count}, speeds and scales", count=len(machines)))

    # -- drawers ---------------------------------------------------------------------------

    def wanted(self) -> list[Tool]:
        """Drills the job's plans would have bought: gaps worth showing."""
        found: dict[str, Tool] = {}
        for plan in self.plans.fresh.values():
            for route in (*plan.routes, *((plan.to_get,) if plan.to_get else ())):
                if not route.missing_tools:
                    continue
                for operation in route.operations:
                    tool = operation.tool
                    if tool is not None and tool.kind == "drill" and not self.stock.shop.has(tool):
                        found[tool.id] = tool
        return list(found.values())

    def _show_drawers(self) -> None:
        drills = [tool for tool in self._tools if tool.kind == "drill" and taper_number(tool.shank) is None]
        self.drawers.show_drills(drills, self.wanted(), self.selection.unit)
        if self.chosen is not None and not self.what.found:
            self.drawers.mark({self.chosen.id})

    def show_tool(self, tool: Tool) -> None:
        """Show the card of a tool, and open its drawer where drawers are shown."""
        self.chosen = tool
        if self.pages.currentWidget() is self.drawers:
            self.drawers.open_at(tool)
            self.drawers.mark({tool.id})
        self._show_card()

    def _show_card(self) -> None:
        what, tool = self.what, self.chosen
        likely = tool is not None and what.pick.tool is not None and tool.id == what.pick.tool.id
        reason = what.pick.why if likely else ""
        if tool is not None and not likely and any(tool.id == other.id for other in what.owned):
            others = [t.designation for t in what.owned if t.designation != tool.designation]
            reason = (
                tr(
                    "Or {fromkeys}: the caliper cannot tell them apart.",
                    fromkeys=tr(" or ").join(dict.fromkeys(others)),
                )
                if others
                else ""
            )
        self.card.show_tool(tool, likely, reason)


def _scroll(content: QWidget) -> QScrollArea:
    area = scroll_down()
    put_in_scroll(area, content)
    return area
