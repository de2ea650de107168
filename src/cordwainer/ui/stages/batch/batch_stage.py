"""The batch: in which order over all holes and parts, how long, what holds it back, what a hole costs."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.scheduling.build import shares
from cordwainer.core.scheduling.strip import laid_out
from cordwainer.files.following import done_so_far
from cordwainer.files.schedule import Batch, told_order
from cordwainer.ui.desk.batch import BatchOrder
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.run_records import run_record_of
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.batch.batch_holes import HolesOfBatch
from cordwainer.ui.stages.batch.batch_parts import OrderRow, ShareBar
from cordwainer.ui.stages.batch.batch_strip import BY_HAND, Bar, BatchStrip
from cordwainer.ui.stages.batch.cost_pane import CostPane

LEFT_WIDTH, BELOW_HEIGHT, NARROW = 256, 336, 1100
WAYS = (("best", tr("Quickest found")), ("part_by_part", tr("Part by part")), ("tool_by_tool", tr("Tool by tool")))
CHANGES = (
    ("part_change_minutes", tr("Another part")),
    ("tool_change_minutes", tr("Another tool")),
    ("speed_change_minutes", tr("Another speed")),
    ("set_up_minutes", tr("Another face")),
)
FOUND_AS = {
    "exact": tr("no order is quicker"),
    "blocks": tr("in blocks of parts"),
    "part_by_part": tr("each part to its end"),
    "tool_by_tool": tr("a tool over all parts"),
}


class BatchStage(Stage):
    """Orders at the left, the strip and what holds it back in the middle, cost at the right."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, batch: BatchOrder
    ) -> None:
        super().__init__()
        self.document, self.selection, self.keeper = document, selection, batch
        row = across(self, NONE, 0)
        row.addWidget(self._left())
        row.addLayout(self._middle(), 1)
        self.cost = CostPane(document, selection, stock, plans)
        row.addWidget(self.cost)
        self.cost_open = False
        self._cost_soon = QTimer(self)
        self._cost_soon.setSingleShot(True)
        self._cost_soon.timeout.connect(self.cost.refresh)
        self.keeper.ready.connect(self.refresh)
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived)

    def _left(self) -> QWidget:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(LEFT_WIDTH)
        outer = down(pane, (0, 0, 1, 0))
        content = QWidget()
        area = scroll_down()
        put_in_scroll(area, content)
        outer.addWidget(area)
        box = down(content, (16, 12, 12, 8), 5)
        head = QHBoxLayout()
        fill(head, text_label(tr("The batch"), 20, True), None)
        self.parts = Field(tr("How many parts"), 17, True)
        self.parts.setFixedSize(68, 32)
        self.parts.kept.connect(self._keep_parts)
        fill(head, self.parts, text_label(tr("parts"), 14))
        box.addLayout(head)
        self.orders: dict[str, OrderRow] = {}
        for way, words in WAYS:
            row = OrderRow(way, words)
            row.clicked.connect(lambda _=False, w=way: self.choose(w))
            self.orders[way] = row
            box.addWidget(row)
        self.bound = text_label("", 14, color=theme.INK2, wrap=True)
        box.addWidget(self.bound)
        self.follow_button = BoxButton(tr("Follow this order at the machine"), tr("Follow it at the machine"), 15)
        self.follow_button.setCheckable(True)
        self.follow_button.setFixedHeight(36)
        self.follow_button.clicked.connect(self._follow)
        box.addWidget(self.follow_button)
        self.progress = text_label("", 14, wrap=True)
        fill(box, self.progress, Rule(), text_label(tr("Minutes of a change"), 16, True))
        self.changes: dict[str, Field] = {}
        for key, words in CHANGES:
            line = QHBoxLayout()
            fill(line, text_label(words, 14), None)
            field = Field(tr("{words}, minutes", words=words), 15)
            field.setFixedSize(62, 28)
            field.kept.connect(lambda text, k=key: self._keep_minutes(k, text))
            self.changes[key] = field
            fill(line, field, text_label("min", 13, color=theme.INK2))
            box.addLayout(line)
        self.pace = text_label("", 13, color=theme.INK2, wrap=True)
        box.addWidget(self.pace)
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.hide()
        fill(box, self.trouble, Rule())
        self.holes = HolesOfBatch(self.document)
        self.holes.told.connect(self._tell)
        fill(box, self.holes, None)
        back = Link(tr("Back to the plan"), 14)
        back.clicked.connect(lambda: self.wants.emit("go_plan"))
        box.addWidget(back)
        return pane

    def _middle(self) -> QVBoxLayout:
        middle = down(gap=0)
        top = Pane(theme.HI, "b")
        box = down(top, (0, 10, 0, 0))
        line = across(margins=(16, 0, 12, 0))
        self.title = text_label("", 20, True)
        fill(line, self.title, None)
        self.counts = text_label("", 14, color=theme.INK2)
        line.addWidget(self.counts)
        self.cost_link = Link(tr("What a hole costs"), 15)
        self.cost_link.clicked.connect(self.open_cost)
        line.addWidget(self.cost_link)
        box.addLayout(line)
        self.strip = BatchStrip()
        box.addWidget(self.strip, 1)
        middle.addWidget(top, 1)
        below = Pane(theme.PLATE)
        below.setFixedHeight(BELOW_HEIGHT)
        column = down(below, (16, 10, 12, 8), 4)
        head = QHBoxLayout()
        self.below_title = text_label(tr("What holds it back"), 18, True)
        fill(head, self.below_title, None)
        self.turn = Link(tr("In which order"), 15)
        self.turn.clicked.connect(self.turn_over)
        head.addWidget(self.turn)
        column.addLayout(head)
        self.pages = QStackedWidget()
        held = scroll_down()
        put_in_scroll(held, self._held())
        self.pages.addWidget(held)
        self.listed = Column((0, 0, 8, 0), 2)
        area = QScrollArea()
        area.setWidgetResizable(True)
        put_in_scroll(area, self.listed)
        self.pages.addWidget(area)
        column.addWidget(self.pages, 1)
        middle.addWidget(below)
        return middle

    def _held(self) -> QWidget:
        page = QWidget()
        box = down(page, NONE, 0)
        self.bars = [ShareBar() for _ in range(5)]
        for bar in self.bars:
            box.addWidget(bar)
        box.addSpacing(4)
        self.worth = Column((0, 0, 0, 0), 1)
        fill(box, self.worth, None)
        return page

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """In a narrow window the cost opens over the strip's room and closes again."""
        self._fit()

    def open_cost(self) -> None:
        """The cost in a narrow window, or away again."""
        self.cost_open = not self.cost_open
        self._fit()

    def _fit(self) -> None:
        narrow = self.width() < NARROW
        self.cost.setVisible(not narrow or self.cost_open)
        self.cost_link.setVisible(narrow)
        self.counts.setVisible(not narrow)
        words = tr("Close the cost") if self.cost_open else tr("What a hole costs")
        self.cost_link.setText(words)
        self.cost_link.setAccessibleName(words)

    # -- what is chosen ------------------------------------------------------------------------

    def choose(self, way: str) -> None:
        """Another order."""
        self._try(lambda: self.document.set_batch(tr("Order of the batch"), order=way if way != "best" else None))
        self.refresh()

    def _follow(self) -> None:
        on = not self.document.job.file.batch.follow
        self._try(lambda: self.document.set_batch(tr("Follow the order"), follow=True if on else None))
        if on:
            self.said.emit(tr("At the machine the next step is now the next of this order."))

    def _keep_parts(self, text: str) -> None:
        if not text.strip().isdigit() or int(text) < 1:
            self.parts.set_wrong(True)
            self._tell(tr("'{words}' is no number of parts; write a whole number such as 24", words=text))
            return
        self.parts.set_wrong(False)
        self._try(lambda: self.document.edit(tr("Parts"), lambda data: data.__setitem__("quantity", int(text))))

    def _keep_minutes(self, key: str, text: str) -> None:
        field = self.changes[key]
        try:
            value = float(text.replace(",", ".")) if text.strip() else None
            self.document.set_batch(tr("Minutes of a change"), **{key: value})
            field.set_wrong(False)
            self.trouble.hide()
        except (ValueError, InputError):
            field.set_wrong(True)
            self._tell(tr("'{words}' is not a number of minutes; write a figure such as 1.5", words=text))

    def _try(self, work: Callable[[], object]) -> None:
        try:
            work()
            self.trouble.hide()
        except InputError as bad:
            self._tell(bad.problem)

    def _tell(self, words: str) -> None:
        self.trouble.setText(sentence(words))
        self.trouble.show()

    def turn_over(self) -> None:
        """From what holds it back to the order in words, and back."""
        listed = 1 - self.pages.currentIndex()
        self.pages.setCurrentIndex(listed)
        self.below_title.setText(tr("In which order") if listed else tr("What holds it back"))
        words = tr("What holds it back") if listed else tr("In which order")
        self.turn.setText(words)
        self.turn.setAccessibleName(words)

    # -- mirror --------------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up, and keep up from now on."""
        self.keeper.watch(True)
        self.refresh()

    def hideEvent(self, event: object) -> None:
        """Nobody looks any more."""
        self.keeper.watch(False)

    def refresh(self) -> None:
        """Mirror the batch as it is known."""
        if not self.isVisible():
            return
        keeper = self.keeper
        file = self.document.job.file
        if not self.parts.hasFocus() or not self.parts.isModified():
            self.parts.setText(str(file.quantity))
            self.parts.set_wrong(False)
        self.holes.refresh()
        self._cost_soon.start()  # order first, cost in the next turn, so that nobody waits for both
        batch = keeper.batch
        self.follow_button.setChecked(file.batch.follow)
        working = tr(", working") if keeper.working else ""
        if batch is None:
            self.title.setText(
                tr("No order yet{working}", working=working) if not keeper.why_not else keeper.why_not
            )
            self.strip.show_bars([], 0, 0)
            return
        found = batch.found
        for way, row in self.orders.items():
            own = keeper.ways.get(way)
            note = FOUND_AS[own.way] if own is not None else ""
            row.show_minutes(own.minutes if own is not None else None, note, file.batch.order == way)
        self._show_bound(batch)
        self.title.setText(
            tr(
                "{minutes:.0f} min for {holes} holes{working}",
                minutes=found.minutes,
                holes=batch.holes,
                working=working,
            )
        )
        faces = (
            tr(", {setup_changes} other faces", setup_changes=found.setup_changes) if found.setup_changes else ""
        )
        self.counts.setText(
            tr(
                "{tool_changes} tool changes, {part_changes} loadings{faces}",
                tool_changes=found.tool_changes,
                part_changes=found.part_changes,
                faces=faces,
            )
        )
        self._show_changes(batch)
        self._show_strip(batch)
        self._show_held(batch)
        self._show_order(batch)

    def _show_bound(self, batch: Batch) -> None:
        best = self.keeper.ways.get("best", batch.found)
        if best.exact:
            self.bound.setText(tr("No order of this batch is quicker: all were looked at."))
            return
        over = 100 * (best.minutes / best.bound - 1)
        self.bound.setText(
            tr(
                "None can be under {bound:.0f} min, so the quickest found is at most {over:.1f} % over it.",
                bound=best.bound,
                over=over,
            )
        )

    def _show_changes(self, batch: Batch) -> None:
        changes, own = batch.found.task.changes, batch.job.file.batch
        tools = sorted(changes.tools.values())
        usual = {
            "part_change_minutes": changes.part,
            "tool_change_minutes": tools[len(tools) // 2] if tools else 0.0,
            "speed_change_minutes": changes.speed,
            "set_up_minutes": changes.setup,
        }
        for key, field in self.changes.items():
            value = getattr(own, key)
            field.setPlaceholderText(localized(f"{usual[key]:.2g}"))
            if not field.hasFocus() or not field.isModified():
                field.setText("" if value is None else localized(f"{value:g}"))
        holes = self.keeper.paced_by
        words = tr(
            "This shop takes {pace:.2f} times the planned minutes ({holes} holes logged).",
            pace=self.keeper.pace,
            holes=holes,
        )
        self.pace.setText(words if holes else tr("Usual minutes are assumed; the logbook corrects them."))

    def _show_strip(self, batch: Batch) -> None:
        made = done_so_far(run_record_of(self.document), batch)
        bars = []
        for place, block in enumerate(laid_out(batch.found)):
            wanted, operation = batch.operation(block.done)
            step = batch.found.task.pieces[block.done.piece].steps[block.done.step]
            machined = step.config is not None and operation.tool is not None
            row = operation.tool.name.partition(",")[0] if machined and operation.tool is not None else BY_HAND
            copies = tr(", {count} of it", count=wanted.hole.count) if wanted.hole.count > 1 else ""
            words = tr(
                "Part {part}, {hole}{copies}: {kind}, {minutes:.1f} min from {start:.0f}",
                part=block.done.part + 1,
                hole=wanted.hole.id,
                copies=copies,
                kind=tr(operation.kind.replace("_", " ")),
                minutes=step.minutes,
                start=block.start,
            )
            bars.append(Bar(row, block, words, place in made))
        self.strip.show_bars(bars, batch.found.minutes, batch.found.task.parts)
        if not made:
            self.progress.setText("")
            return
        left = sum(b.block.end - b.block.start for k, b in enumerate(bars) if k not in made)
        whole = [
            part
            for part in range(batch.found.task.parts)
            if all(k in made for k, b in enumerate(bars) if b.block.done.part == part)
        ]
        self.progress.setText(
            tr(
                "{count} of {count_2} steps done, {count_3} of {parts} parts whole, about {left:.0f} min left.",
                count=len(made),
                count_2=len(bars),
                count_3=len(whole),
                parts=batch.found.task.parts,
                left=left,
            )
        )

    def _show_held(self, batch: Batch) -> None:
        spent = sorted(shares(batch.found.task, batch.found.change_minutes).items(), key=lambda kv: -kv[1])
        whole = max(batch.found.minutes, 1e-9)
        for place, bar in enumerate(self.bars):
            words, minutes = spent[place]
            bar.show_share(sentence(tr(words)), minutes, minutes / whole, place == 0)
        self.worth.clear()
        for way in self.keeper.better[:4]:
            note = f" ({way.note})" if way.note else ""
            words = tr(
                "{way}: saves {saves} of {whole:.0f} min{note}.",
                way=sentence(way.words),
                saves=localized(f"{way.saves:.{0 if way.saves >= 1 else 1}f}"),
                whole=whole,
                note=note,
            )
            self.worth.add(text_label(words, 14, wrap=True))

    def _show_order(self, batch: Batch) -> None:
        self.listed.clear()
        for told in told_order(batch):
            each = tr(", each") if tr(" to ") in told.parts else ""
            self.listed.add(text_label(f"{sentence(told.parts)}{each}", 15, True))
            for tool, holes in told.tools:
                self.listed.add(text_label(f"{tool}: {holes}", 14, wrap=True))
        self.listed.box.addStretch(1)
