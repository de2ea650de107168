"""The logbook: which tools have cut what, hole by hole, and what was learned of each."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.language import inner, tr, trn
from cordwainer.core.lengths import in_unit
from cordwainer.core.planning.words.wording import VERDICT_WORDS
from cordwainer.ui.desk.log import Log
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Mark, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, scroll_down
from cordwainer.ui.kit.questions import Questions
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.stages.logbook.history import HistoryPlot, charted
from cordwainer.ui.stages.logbook.logged_holes import PickRow, compared_words

if TYPE_CHECKING:
    from cordwainer.core.learning.capability import Capability
    from cordwainer.core.learning.oversize import Belief
    from cordwainer.logbook.book import History, MeasuredBatch, ToolUsed
    from cordwainer.logbook.records import HoleMade

SIDE_WIDTH, ROWS, TYPING_MS = 268, 200, 150
VERDICTS = [("accept", tr("accept")), ("reject", tr("reject")), ("cannot_tell", tr("cannot tell"))]
HOLDS = {"holds": tr("Held."), "fails": tr("Not held."), "unsure": tr("Not sure yet whether it is held.")}
NOTHING = tr(
    "Nothing is in the logbook yet. Holes finished at the machine go in by themselves, and what is measured of "
    "them; those of the demo do not. Press two holes to compare them."
)

REAMER_KNOWN = tr("It is learned together with the shop: plans at this machine count on what stands at the left.")
REAMER_UNKNOWN = tr(
    "It is learned together with the shop, from finished holes whose sequence fits the crib in use."
)


def _capable(batch: MeasuredBatch | None) -> tuple[MeasuredBatch | None, Capability | None]:
    """A batch with what it says of the process, worked out where it is asked."""
    from cordwainer.core.learning.capability import capability

    return batch, capability(batch.sizes_mm, batch.lower_mm, batch.upper_mm) if batch is not None else None


class LogbookStage(Stage):
    """Tools and filters at the left; one tool in time, what was learned, and its holes at the right."""

    explain_asked = pyqtSignal(str)

    def __init__(self, selection: Selection, stock: Stock, log: Log) -> None:
        super().__init__()
        self.selection, self.stock, self.log = selection, stock, log
        self.tool: ToolUsed | None = None
        self.holes: list[HoleMade] = []
        self.past: list[History] = []
        self.picked: list[str] = []
        line = across(self, NONE, 0)
        line.addWidget(self._side())
        line.addLayout(self._main(), 1)
        self.log.taught.connect(lambda _: self._learned())
        self.stock.changed.connect(self._say_shop)
        self.log.elsewhere.connect(lambda: self.look() if self.isVisible() else None)

    def _side(self) -> QWidget:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(SIDE_WIDTH)
        box = down(pane, (20, 16, 14, 12), 8)
        box.addWidget(text_label(tr("Log of"), 20, True))
        self.tools = Column((0, 0, 6, 0), 2)
        area = QScrollArea()
        area.setWidgetResizable(True)
        put_in_scroll(area, self.tools)
        box.addWidget(area, 1)
        self.shop = Column((0, 0, 6, 0), 2)
        box.addWidget(self.shop)
        fill(box, Rule(), text_label(tr("Only holes with"), 15, True))
        self.text = Field(tr("Words to look for in job, hole, tool and cause"), 15)
        self.text.setPlaceholderText(tr("job, hole, tool, cause"))
        self.text.textChanged.connect(lambda _: self.search())
        box.addWidget(self.text)
        self.verdict = Choices(tr("Verdict"), VERDICTS, QSize(78, 32))
        self.verdict.chosen.connect(lambda _: self.search())
        fill(box, self.verdict, Rule())
        ways = ((tr("Out as JSON"), self.export_json), (tr("Out as lists (CSV)"), self.export_csv))
        for words, what in (*ways, (tr("Take in JSON"), self.take_in)):
            link = Link(words, 14)
            link.clicked.connect(what)
            box.addWidget(link)
        return pane

    def _main(self) -> QVBoxLayout:
        column = down(gap=0)
        head = Pane(theme.HI, "b")
        top = down(head, (20, 14, 20, 8))
        row = QHBoxLayout()
        self.title = text_label("", 20, True)
        fill(row, self.title, None)
        self.reground = Link(tr("Reground now"), 15)
        self.reground.setToolTip(tr("Learning starts again; what was known counts for little"))
        self.reground.clicked.connect(self.regrind)
        row.addWidget(self.reground)
        top.addLayout(row)
        self.apart = text_label("", 15, True, wrap=True)
        top.addWidget(self.apart)
        self.about = text_label("", 15, color=theme.INK2, wrap=True)
        top.addWidget(self.about)
        self.steady = text_label("", 15, color=theme.INK2, wrap=True)
        top.addWidget(self.steady)
        self.holds = text_label("", 15, color=theme.INK2, wrap=True)
        top.addWidget(self.holds)
        self.plot = HistoryPlot()
        top.addWidget(self.plot, 1)
        key = tr(
            "ring accept, diamond cannot tell, square reject; dashed its own mean, full its own limits; "
            "band and dots the handbook"
        )
        self.key = text_label(key, 13, color=theme.INK2)
        top.addWidget(self.key)
        column.addWidget(head, 5)
        below = Pane(theme.PLATE)
        below.setMinimumHeight(288)
        low = down(below, (20, 10, 14, 8))
        above = across(gap=14)
        self.found = text_label("", 15, True)
        fill(above, self.found, None)
        self.explain = Link(tr("Explain the hole chosen"), 15)
        self.explain.clicked.connect(lambda: self.explain_asked.emit(self.picked[-1]))
        above.addWidget(self.explain)
        low.addLayout(above)
        self.compared = text_label("", 14, wrap=True)
        low.addWidget(self.compared)
        self.list = Column((0, 0, 8, 0), 0)
        area = scroll_down()
        put_in_scroll(area, self.list)
        low.addWidget(area, 1)
        column.addWidget(below, 4)
        return column

    # -- what is shown -------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Look again: another window may have written."""
        self.look()
        self.log.learn()

    def _say_shop(self) -> None:
        """What the shop's holes say of it at the job's machine."""
        self.shop.clear()
        machine = self.stock.machine
        law = machine.law
        if law is None:
            return
        from cordwainer.core.learning.shop_words import shop_says

        count = trn("{holes} hole", "{holes} holes", law.holes, holes=law.holes)
        self.shop.add(
            text_label(
                tr("This shop, {machine}, from {count}", machine=inner(machine.name), count=count),
                15,
                True,
                wrap=True,
            )
        )
        for what, between in shop_says(law, self.stock.shop.tools, self.selection.unit):
            self.shop.add(text_label(f"{what}: {between}", 14, color=theme.INK2, wrap=True))
        counted = tr("Nine in ten. Plans at this machine count on it.")
        self.shop.add(text_label(counted, 13, color=theme.INK2, wrap=True))

    def look(self) -> None:
        """Read the book anew."""
        self._say_shop()
        self.apart.setText(self.log.apart)
        self.apart.setVisible(bool(self.log.apart))
        if not self.log.path.exists():
            self._nothing()
            return
        if self.tool is not None:
            self.choose(self.tool)
        else:
            self.log.ask(lambda book: book.tools(), self._show_tools)
            self.search()

    def _nothing(self) -> None:
        self.title.setText(tr("The logbook is empty"))
        self.about.setText(NOTHING)
        self.found.setText("")
        self.steady.setText("")
        self.holds.setText("")
        self.explain.hide()
        self.reground.hide()
        self.key.hide()
        self.plot.show_history(None, [], self.selection.unit)

    def _show_tools(self, found: Any) -> None:
        """The tools with measured holes; the first of them where none is chosen."""
        tools: list[ToolUsed] = found
        self.tools.clear()
        for tool in tools:
            words = f"{tool.name}   {tool.holes}"
            if self.tool is not None and tool.id == self.tool.id:
                self.tools.add(text_label(words, 15, True))
                continue
            link = Link(words, 15)
            link.clicked.connect(lambda _=False, t=tool: self.choose(t))
            self.tools.add(link)
        self.tools.box.addStretch(1)
        if not tools:
            self._nothing()
        elif self.tool is None:
            self.choose(tools[0])

    def choose(self, tool: ToolUsed) -> None:
        """Another tool."""
        self.tool = tool
        self.log.ask(lambda book: book.history(tool.id, tool.diameter_mm), self._show_history)
        self.log.ask(lambda book: _capable(book.batch(tool.id)), self._show_batch)
        self.log.ask(lambda book: book.tools(), self._show_tools)
        self.search()

    def _show_batch(self, found: Any) -> None:
        """Whether the newest print this tool made was held, as far as its holes can tell."""
        batch, capable = found
        if batch is None:
            self.holds.setText("")
            return
        unit = self.selection.unit
        low, high = (in_unit(v, unit, 3, 4) for v in (batch.lower_mm, batch.upper_mm))
        of = tr(
            "{batch} of {job}, {low} to {high} {unit}",
            batch=batch.name,
            job=batch.job,
            low=low,
            high=high,
            unit=unit,
        ).strip()
        if capable is None:
            few = tr(
                "{count} measured; 5 that differ are needed to say whether it is held.", count=len(batch.sizes_mm)
            )
            self.holds.setText(f"{of}: {few}")
            return
        cp, cpk = (
            tr("{mid:.2f} ({low:.2f} to {high:.2f})", mid=mid, low=low, high=high)
            for mid, low, high in (
                (capable.cp, capable.cp_low, capable.cp_high),
                (capable.cpk, capable.cpk_low, capable.cpk_high),
            )
        )
        self.holds.setText(
            tr(
                "{holds} {of}: Cp {cp}, Cpk {cpk}, {holes} holes, 95 in 100 sure.",
                holds=HOLDS[capable.word],
                of=of,
                cp=cp,
                cpk=cpk,
                holes=capable.holes,
            )
        )

    def _show_history(self, found: Any) -> None:
        self.past = found
        tool = self.tool
        if tool is None:
            return
        self.reground.show()
        self.key.show()
        kind = tr("drill") if tool.kind in ("drill", "core_drill", "spade_drill") else tool.kind
        holes = tr("hole") if len(self.past) == 1 else tr("holes")
        self.title.setText(
            tr(
                "{tool}, {kind}: {count} measured {holes}",
                tool=tool.name,
                kind=tr(kind.replace("_", " ")),
                count=len(self.past),
                holes=holes,
            )
        )
        self.plot.show_history(tool, self.past, self.selection.unit, kind)
        self.steady.setText(self._steady())
        self._learned()

    def _steady(self) -> str:
        """Whether the tool still cuts as it did, by the chart of its newest like holes."""
        at, chart = charted(self.past)
        if chart is None:
            return tr(
                "{count} alike since the last change; 8 are needed to say whether it cuts steadily.", count=len(at)
            )
        unit = self.selection.unit
        low, high = (in_unit(v, unit, 3, 4) for v in (chart.lower, chart.upper))
        of = tr(
            "the newest {count} alike, between {low} and {high} {unit} by their own spread",
            count=len(at),
            low=low,
            high=high,
            unit=unit,
        )
        if chart.beyond:
            holes = ", ".join(str(at[k] + 1) for k in chart.beyond[:6])
            return tr(
                "Not steady: hole {holes} stands outside {of}. Look at what was different there.",
                holes=holes,
                of=of,
            )
        if chart.run and chart.run[-1] == len(at) - 1:
            side = tr("over") if self.past[-1].over_mm > chart.center else tr("under")
            return tr(
                "Drifting: the newest 8 or more all lie {side} the mean of {of}. Look at lips and margins.",
                side=side,
                of=of,
            )
        return tr("Steady: {of}.", of=of)

    @property
    def belief(self) -> Belief | None:
        """What is believed of the tool chosen."""
        return self.stock.beliefs.get(self.tool.id) if self.tool is not None else None

    def _learned(self) -> None:
        """What was learned, in a sentence with its weight."""
        tool, belief = self.tool, self.belief
        if tool is None:
            return
        law = self.stock.machine.law
        if tool.kind == "ream":
            self.about.setText(REAMER_KNOWN if law is not None and law.knows(tool.id) else REAMER_UNKNOWN)
            return
        if belief is None:
            self.about.setText(tr("It is not in the crib in use, so plans do not count on it."))
            return
        unit = self.selection.unit
        over = in_unit(belief.over_mm, unit, 3, 4)
        sure = tr(
            "{mean:.0f} % of the handbook's oversize, give or take {sd_of_mean:.0f}",
            mean=100 * belief.mean,
            sd_of_mean=200 * belief.sd_of_mean,
        )
        holes = tr("hole weighs") if belief.holes == 1 else tr("holes weigh")
        weighs = tr(
            "{holes} {holes_2} {weight:.1f} against the handbook's 1",
            holes=belief.holes,
            holes_2=holes,
            weight=belief.weight,
        )
        self.about.setText(
            tr(
                "Cuts {over} {unit} over in the mean; plans count on {sure} ({weighs}).",
                over=over,
                unit=unit,
                sure=sure,
                weighs=weighs,
            )
        )

    def search(self) -> None:
        """Holes by words, verdict and tool."""
        from cordwainer.logbook.book import Filter

        if not self.log.path.exists():
            return
        tool = self.tool.id if self.tool is not None else ""
        wanted = Filter(text=self.text.text(), verdict=self.verdict.value or "", tool_id=tool, removed=True)
        self.log.ask(
            lambda book: (book.search(wanted, most=ROWS), book.count(wanted)), self._show_holes, "search",
            after_ms=TYPING_MS if self.text.isModified() else 0,
        )  # fmt: skip

    def _show_holes(self, found: Any) -> None:
        self.holes, count = found
        over = {h.hole_id: h.over_mm for h in self.past}
        more = tr(", the newest {count} shown", count=len(self.holes)) if count > len(self.holes) else ""
        self.found.setText(tr("{count} holes{more}", count=count, more=more) if count != 1 else tr("1 hole"))
        self.list.clear()
        for hole in self.holes:
            self.list.add(self._row(hole, over.get(hole.id)))
        self.list.box.addStretch(1)
        self._show_picked()

    def pick(self, hole_id: str) -> None:
        """Choose a hole to explain, or a second one to hold against it; chosen again it is let go."""
        if hole_id in self.picked:
            self.picked.remove(hole_id)
        else:
            self.picked = [*self.picked[-1:], hole_id]
        for row in self.list.findChildren(PickRow):
            row.setChecked(row.hole_id in self.picked)
        self._show_picked()

    def _show_picked(self) -> None:
        self.picked = [p for p in self.picked if p in {h.id for h in self.holes}]
        self.explain.setVisible(len(self.picked) == 1)
        if len(self.picked) < 2:
            many = len(self.holes) > 1
            words = tr("Choose a hole to explain it") + (tr(", two to hold against each other.") if many else ".")
            self.compared.setText(words if self.holes and not self.picked else "")
            return
        from cordwainer.logbook.compare import compare

        one, two = self.picked
        self.log.ask(
            lambda book: (
                compare(first, second)
                if (first := book.hole(one)) is not None and (second := book.hole(two)) is not None
                else None
            ),
            self._show_compared,
        )

    def _show_compared(self, found: Any) -> None:
        """What differs between two holes, as one or more sentences."""
        if found is not None and len(self.picked) == 2:
            self.compared.setText(compared_words(found, self.selection.unit))

    def _row(self, hole: HoleMade, over_mm: float | None) -> QWidget:
        row = PickRow(hole.id, f"{hole.begun[:10]} {hole.name} {hole.number}")
        row.setChecked(hole.id in self.picked)
        row.clicked.connect(lambda: self.pick(hole.id))
        row.setFixedHeight(34)
        line = across(row, (8, 0, 0, 0), 9)
        struck = bool(hole.removed)
        line.addWidget(Mark(hole.verdict or "none", 7))
        unit = self.selection.unit
        size = in_unit(over_mm, unit, 3, 4) if over_mm is not None else ""
        words = (
            (hole.begun[:10], 92),
            (f"{hole.name} {hole.number}", 122),
            (hole.job, 186),
            (tr(hole.material.replace("_", " ")), 156),
            (size, 58),
            (VERDICT_WORDS.get(hole.verdict, tr("not measured") if over_mm is None else tr("not judged")), 104),
        )
        for text, wide in words:
            label = text_label(text, 14, color=theme.INK2 if struck else theme.INK)
            if struck:
                through = label.font()
                through.setStrikeOut(True)
                label.setFont(through)
            label.setFixedWidth(wide)
            line.addWidget(label)
        line.addStretch(1)
        strike = Link(tr("Put back") if struck else tr("Strike out"), 13)
        strike.clicked.connect(lambda: self.strike(hole.id, back=struck))
        line.addWidget(strike)
        return row

    # -- edits ---------------------------------------------------------------------------------

    def _changed(self, _: object = None) -> None:
        if self.tool is not None:
            self.choose(self.tool)
        self.log.learn()

    def regrind(self) -> None:
        """The tool chosen was reground."""
        tool = self.tool
        if tool is not None:
            self.log.ask(lambda book: book.regrind(tool.id), self._changed)

    def strike(self, hole_id: str, *, back: bool) -> None:
        """A hole counts no more, or again."""
        self.log.ask(lambda book: book.strike(hole_id, back=back), self._changed)

    def export_json(self) -> None:
        """All of it into one file."""
        path = Questions(self).file_to_write(tr("Logbook out"), "logbook.json", tr("JSON (*.json)"), ".json")
        if path is not None:
            self.export_to(path)

    def export_to(self, path: Path) -> None:
        """All of it into a JSON file, or where that is a folder into lists."""
        from cordwainer.logbook import carry

        work = carry.export_csv if path.is_dir() else carry.export_json
        self.log.ask(
            lambda book: work(book, path), lambda _: self.said.emit(tr("Written: {path}.", path=path.name))
        )

    def export_csv(self) -> None:
        """All of it as lists into a folder."""
        folder = Questions(self).folder(tr("Logbook out as lists"))
        if folder is not None:
            self.export_to(folder)

    def take_in(self) -> None:
        """What another logbook gave out."""
        path = Questions(self).file_to_open(tr("Take in a logbook"), tr("JSON (*.json)"))
        if path is not None:
            self.take_in_from(path)

    def take_in_from(self, path: Path) -> None:
        """What another logbook gave out, from a file; what is here stays."""
        from cordwainer.logbook import carry

        def told(fresh: object) -> None:
            self.said.emit(tr("{fresh} holes taken in.", fresh=fresh))
            self._changed()

        self.log.ask(lambda book: carry.import_json(book, path), told)
