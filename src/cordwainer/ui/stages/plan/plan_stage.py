"""Plan: the sequence that makes the hole, drawn, explained, rated, and changed by hand."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, QTimer
from PyQt6.QtWidgets import QMenu, QVBoxLayout

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wording import VERDICT_WORDS, fixed, instead_words, shown_chance, words_in
from cordwainer.files.job import practice_in
from cordwainer.ui.commands.table import with_keys
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.forecasts import Forecasts
from cordwainer.ui.desk.log import Log
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.sequence import Sequence
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Mark, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.passing import once
from cordwainer.ui.kit.plain import on_menu
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.plan.card import StepCard
from cordwainer.ui.stages.plan.ladder import Ladder
from cordwainer.ui.stages.plan.section import SectionView
from cordwainer.ui.stages.plan.sequence import HoleTag, RouteHead, RouteRow, Strip

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import HolePlan, Route
    from cordwainer.files.sequence_edits import Edited, SequenceEdits

HOLES_WIDTH = 204
PATIENCE_MS = 200


class PlanStage(Stage):
    """Holes and routes, section, sequence, outcome, operation card."""

    def __init__(
        self,
        document: Document,
        selection: Selection,
        stock: Stock,
        plans: Plans,
        readings: Readings,
        forecasts: Forecasts,
        sequence: Sequence,
        log: Log,
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.readings, self.forecasts, self.sequence, self.log = readings, forecasts, sequence, log
        row = across(self, NONE, 0)
        row.addWidget(self._left())
        row.addLayout(self._middle(), 1)
        self.card = StepCard()
        row.addWidget(self.card)
        self._connect()
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived)
        plans.neared.connect(self._come_near)
        self._tags_shown: object = None
        self._hole_shown: str | None = None
        self._late = False
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(PATIENCE_MS)
        self._patience.timeout.connect(self._grow_late)
        self._routes_shown: object = None
        self._leans_shown: object = None

    def _left(self) -> Pane:
        """Holes and routes, and the ways to what is beside the plan."""
        self.left = Pane(theme.PLATE, "r")
        self.left.setFixedWidth(HOLES_WIDTH)
        left = down(self.left, (16, 12, 8, 8), 8)
        self.heading = text_label(tr("Holes"), 20, True)
        left.addWidget(self.heading)
        self.tag_scroll = scroll_down()
        self.tags = Column((0, 0, 0, 0), 8)
        put_in_scroll(self.tag_scroll, self.tags)
        left.addWidget(self.tag_scroll, 1)
        self.route_head = text_label(tr("Routes"), 20, True)
        left.addWidget(self.route_head)
        self.routes = Column((0, 0, 0, 0), 0)
        left.addWidget(self.routes)
        links = across(margins=(0, 0, 8, 0))
        what_if, self.practice_link = Link(tr("What if"), 14), Link(tr("Your practice"), 14)
        what_if.setToolTip(with_keys(tr("What would happen if something were wrong"), "what_if"))
        self.practice_link.setToolTip(
            with_keys(tr("Where good machinists disagree, and what it changes"), "open_practice")
        )
        what_if.clicked.connect(lambda: self.wants.emit("what_if"))
        self.practice_link.clicked.connect(lambda: self.wants.emit("open_practice"))
        fill(links, what_if, None, self.practice_link)
        left.addLayout(links)
        self.batch_link = Link(tr("The batch"), 14)
        self.batch_link.setToolTip(with_keys(tr("In which order, how long, what a hole costs"), "open_batch"))
        self.batch_link.clicked.connect(lambda: self.wants.emit("open_batch"))
        left.addWidget(self.batch_link)
        return self.left

    def _middle(self) -> QVBoxLayout:
        """What speaks against the plan, the section, the sequence, the outcome."""
        middle = down(gap=0)
        self.section = SectionView()
        self.strip = Strip()
        self.ladder = Ladder()
        self.reason = Pane(theme.HI, "t")
        self.reason.setMinimumHeight(230)
        reason_box = down(self.reason, (28, 24, 28, 24))
        self.reason_column = Column((0, 0, 0, 0), 10)
        fill(reason_box, self.reason_column, None)
        self.doubt = Pane(theme.HI, "t")
        doubt_box = across(self.doubt, (20, 8, 20, 8))
        doubt_box.addWidget(Mark("cannot_tell", 9, theme.INK, theme.HI))
        self.doubt_words = text_label("", 15, True, wrap=True)
        doubt_box.addWidget(self.doubt_words, 1)
        middle.addWidget(self.doubt)
        middle.addWidget(self.section, 352)
        fill(middle, self.reason, self.strip)
        middle.addWidget(self.ladder, 296)
        return middle

    def _connect(self) -> None:
        self.section.picked.connect(self.plans.select_operation)
        self.strip.picked.connect(self.plans.select_operation)
        self.strip.add_asked.connect(lambda: self.wants.emit("add_step"))
        self.ladder.picked.connect(self.plans.select_operation)
        self.ladder.stepped.connect(self.step_tool)
        self.ladder.opened.connect(self.open_sizes)
        self.card.sizes_asked.connect(lambda at: self.open_sizes(self.selection.operation_index, at))
        self.card.lock_asked.connect(lambda: self.wants.emit("keep_step"))
        self.card.remove_asked.connect(lambda: self.wants.emit("remove_step"))
        self.card.working_asked.connect(lambda: self.wants.emit("show_working"))
        self.card.speed_asked.connect(
            lambda rpm: self._try(lambda e: e.set_speed(self.selection.operation_index, rpm))
        )
        self.card.depth_asked.connect(
            lambda text: self._try(lambda e: e.set_depth(self.selection.operation_index, text))
        )
        self.card.bite_asked.connect(self._set_bite)
        self.card.scrap_asked.connect(self._take_scrap)
        self.forecasts.ready.connect(self.refresh)

    def _set_bite(self, text: str) -> None:
        """Chips cleared after a bite of one's own in this hole; nothing typed, by the rule."""
        try:
            bite = str(parse(text, self.selection.unit)) if text.strip() else None
            self.selection.edit_hole(
                tr("Bites of {bite}", bite=bite) if bite else tr("Bites by the rule"), peck=bite
            )
        except CordwainerError as bad:
            self.said.emit(str(bad))

    def _take_scrap(self, text: str) -> None:
        """A hole measured that the selected drill left in scrap."""
        operation = self.plans.operation
        if operation is None or operation.tool is None:
            return
        try:
            self.said.emit(self.log.take_scrap(operation, parse(text, self.selection.unit).mm))
        except CordwainerError as bad:
            self.said.emit(sentence(str(bad)))

    def refresh(self) -> None:
        """Mirror the hole in hand; while a plan is worked out the last one stays, until that takes long."""
        if not self.isVisible():
            return
        same_hole = self.selection.hole is not None and self.selection.hole.id == self._hole_shown
        if self.plans.planning and same_hole and self.plans.route is not None and not self._late:
            if not self._patience.isActive():
                self._patience.start()
            return
        self._patience.stop()
        self._late = self._late and self.plans.planning
        self._hole_shown = self.selection.hole.id if self.selection.hole is not None else None
        self._show_tags()
        self._show_routes()
        self._show_leans()
        own = len(practice_in(self.document.job, self.stock.shop).departs())
        self.practice_link.setText(tr("Practice, {own} own", own=own) if own else tr("Your practice"))
        many = self.document.job.file.quantity * sum(hole.count for hole in self.document.job.holes)
        self.batch_link.setText(tr("The batch of {many} holes", many=many) if many > 1 else tr("The batch"))
        plan, route, hole = self.plans.plan, self.plans.route, self.selection.hole
        blocked = plan is not None and not plan.routes
        self.section.working = self.plans.planning
        forecast = self.forecasts.of(route, hole)
        self.section.show_route(hole, route, self.selection.operation_index, self.selection.unit, forecast)
        self._show_doubt(route)
        self.strip.setVisible(not blocked)
        self.ladder.setVisible(not blocked)
        self.reason.setVisible(blocked)
        self.card.setVisible(not blocked)
        self.strip.show_route(route, self.selection.operation_index, self.selection.unit)
        self.ladder.show_route(
            hole, route, self.selection.operation_index, self.selection.unit, self.plans.planning, forecast
        )
        empty = tr("Working out the sequence.") if self.plans.planning else ""
        if hole is None:
            empty = tr("No hole yet. Say on Print what the drawing asks for.")
        if blocked:
            empty = ""
        self.card.show_operation(route, self.selection.operation_index, self.selection.unit, empty, hole)
        if blocked and plan is not None:
            self._show_reasons(plan)

    def _come_near(self, hole_id: str) -> None:
        """The likely route of the hole in hand, before it is scored; its chances follow."""
        hole, route = self.selection.hole, self.plans.route
        if not self.isVisible() or hole is None or route is None or hole_id != hole.id:
            return
        if hole.id != self._hole_shown:
            return
        index, unit = self.selection.operation_index, self.selection.unit
        self.section.show_route(hole, route, index, unit)
        self.strip.show_route(route, index, unit)
        self.card.show_operation(route, index, unit, "", hole)

    def _show_doubt(self, route: Route | None) -> None:
        """What the plan says against itself, before anything else."""
        if route is None:
            self.doubt.hide()
            return
        from cordwainer.core.planning.doubt import doubt_of, headline

        doubt = doubt_of(route)
        self.doubt.setVisible(doubt is not None)
        if doubt is not None:
            self.doubt_words.setText(headline(route) or doubt.text)

    def _grow_late(self) -> None:
        """Say that it is being worked out."""
        self._late = True
        self.refresh()

    def _show_reasons(self, plan: HolePlan) -> None:
        column = self.reason_column
        column.clear()
        head, line = line_of()
        halted = plan.hole.id in self.plans.halted
        line.addWidget(Mark("none" if halted else "reject", 10, theme.INK, theme.HI))
        words = tr("No sequence was worked out") if halted else tr("No sequence with this crib and machine")
        line.addWidget(text_label(words, 22, True), 1)
        column.add(head)
        for reason in plan.why_not:
            column.add(text_label(sentence(reason) + ".", 16, wrap=True))
        if halted:
            again = Link(tr("Plan it again"), 16)
            again.clicked.connect(self.plans.replan)
            column.add(again)
        if plan.to_get is not None:
            names = ", ".join(plan.to_get.missing_tools)
            words = tr("With {names} to get: {minutes:.0f} min", names=names, minutes=plan.to_get.minutes)
            if plan.to_get.chance is not None:
                words += tr(", {chance} in 100 in tolerance", chance=chance_words(plan.to_get.chance))
            column.add(text_label(f"{words}.", 16, True, wrap=True))
            for told in instead_words(plan.to_get):
                column.add(text_label(told, 15, wrap=True))

    def _show_tags(self) -> None:
        found = []
        for index, hole in enumerate(self.document.job.holes):
            finding = self.readings.finding(index)
            plan = self.plans.fresh.get(hole.id)
            if finding is not None:
                status, words = finding.verdict, VERDICT_WORDS[finding.verdict]
            elif plan is None:
                status, words = "none", tr("Working it out")
            elif hole.id in self.plans.halted:
                status, words = "none", tr("Not worked out")
            else:
                status, words = ("planned", tr("Planned")) if plan.routes else ("reject", tr("No sequence"))
            found.append((hole, self.selection.unit, status, words))
        key = (tuple(found), self.selection.hole_index)
        if key == self._tags_shown:
            return
        self._tags_shown = key
        self.heading.setText(tr("Holes  {count}", count=len(found)) if found else tr("Holes"))
        self.tags.clear()
        for index, entry in enumerate(found):
            tag = HoleTag(*entry)
            tag.setChecked(index == self.selection.hole_index)
            tag.clicked.connect(lambda _=False, i=index: self.selection.select_hole(i))
            self.tags.add(tag)
        self.tags.box.addStretch(1)

    def _show_routes(self) -> None:
        plan, route = self.plans.plan, self.plans.route
        own = (self.sequence.own, self.sequence.only)
        hole = self.selection.hole
        told = {}
        for found in plan.routes if plan else ():
            forecast = self.forecasts.of(found, hole)
            if forecast is not None and hole is not None:
                told[found.label] = shown_chance(forecast.outcome, hole)
        key = (id(plan), route.label if route else None, own, tuple(told))
        if key == self._routes_shown:
            return
        self._routes_shown = key
        self.routes.clear()
        shown = plan.routes if plan else ()
        self.route_head.setText(tr("Routes to {hole}", hole=hole.id) if hole and shown else "")
        if shown:
            self.routes.add(RouteHead())
        for found in sorted(shown, key=lambda r: (bool(r.missing_tools), r.minutes)):
            row = RouteRow(found, own[1], told.get(found.label))
            row.setChecked(route is not None and found.label == route.label)
            row.clicked.connect(lambda _=False, label=found.label: self.plans.use_route(label))
            self.routes.add(row)
        if own[0]:
            words = tr("Exactly your steps") if own[1] else tr("Planned around what you fixed")
            self.routes.add(text_label(words, 14, color=theme.INK2, wrap=True))
            free = Link(tr("Plan it freely"))
            free.clicked.connect(lambda: self._try(lambda e: e.free()))
            self.routes.add(free)

    def _show_leans(self) -> None:
        """The assumptions that move the chance most, each with the chance on its worse side."""
        found = self.forecasts.leans_of(self.plans.route, self.selection.hole)
        before = self.forecasts.before_of(self.plans.route, self.selection.hole)
        if (found, before, self.selection.unit) == self._leans_shown:
            return
        self._leans_shown = (found, before, self.selection.unit)
        lines = []
        for entry in found or ():
            side, chance = entry.worst
            words = words_in(f"{entry.words}, {side}", self.selection.unit)
            lines.append((words, f"{100 * chance:.0f}"))
        unit = self.selection.unit
        checks = [
            (
                localized(f"{c.words}, {c.minutes:g} min"),
                f"{100 * c.now:.0f} → {100 * c.good:.0f}",
                words_in(f"{c.how} {c.if_not}", unit),
            )
            for c in before
        ]
        self.ladder.show_leans(lines, checks)

    # -- edits of the sequence ------------------------------------------------------------

    def _try(self, edit: Callable[[SequenceEdits], Edited | None]) -> None:
        """Make an edit; what does not add up is said in the strip above the stage."""
        try:
            self.sequence.change(edit)
        except CordwainerError as bad:
            self.said.emit(str(bad))
        else:
            self.said.emit("")

    def step_tool(self, index: int, up: bool) -> None:
        """The next size that exists for a rung."""
        self.plans.select_operation(index)
        self._try(lambda e: e.step(index, up))

    def open_sizes_of_selected(self) -> None:
        """The crib's other tools for the selected operation, beside its rung."""
        rung = next((r for r in self.ladder.rungs if r.current), None)
        at = rung.mapToGlobal(QPoint(28, 28)) if rung is not None else self.strip.mapToGlobal(QPoint(0, 0))
        self.open_sizes(self.selection.operation_index, at)

    def open_sizes(self, index: int, at: QPoint) -> None:
        """The crib's other tools for an operation, those nearest in size."""
        self.sizes_menu(index).popup(at)

    def sizes_menu(self, index: int) -> QMenu:
        """Menu of the other tools, each with the hole it would leave."""
        from cordwainer.core.planning.choices import around, leaves_mm

        menu = once(QMenu(self))
        route = self.plans.route
        operation = route.operations[index] if route is not None else None
        if operation is None:
            return menu
        now = self.sequence.now
        for tool in around(now.choices(index) if now is not None else (), operation.tool):
            leaves = leaves_mm(operation, tool)
            words = (
                tool.name
                if leaves is None
                else tr("{tool}\tleaves {leaves}", tool=tool.name, leaves=fixed(leaves, self.selection.unit, 2))
            )
            action = menu.addAction(on_menu(words))
            if action is None:
                continue
            action.setCheckable(True)
            action.setChecked(operation.tool is not None and tool.id == operation.tool.id)
            action.triggered.connect(lambda _=False, t=tool: self._try(lambda e: e.swap(index, t)))
        if menu.isEmpty():
            none = menu.addAction(tr("The crib has no other tool for this step"))
            if none is not None:
                none.setEnabled(False)
        return menu
