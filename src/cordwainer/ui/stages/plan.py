"""Plan: the sequence that makes the hole, drawn, explained, and rated."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import HolePlan, Route
from cordwainer.ui import theme
from cordwainer.ui.canvas.section import Section
from cordwainer.ui.canvas.slot import Slot
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import Column, Mark, Pane, figure_html, put_in_scroll, text_label
from cordwainer.ui.widgets.card import Card
from cordwainer.ui.widgets.sequence import HoleTag, RouteRow, Strip
from cordwainer.ui.wording import VERDICT_WORDS, fixed

HOLES_WIDTH = 204


class Outcome(Pane):
    """What the route should leave, against the print."""

    def __init__(self) -> None:
        super().__init__(theme.PLATE, "t")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 10, 16, 6)
        row.setSpacing(18)
        words = Column((0, 0, 0, 0), 0)
        words.setFixedWidth(176)
        words.add(text_label("Against the print", 18, True))
        self.figure = QLabel()
        self.figure.setTextFormat(Qt.TextFormat.RichText)
        words.add(self.figure)
        self.note = text_label("", 13, color=theme.INK2, wrap=True)
        words.add(self.note)
        words.box.addStretch(1)
        row.addWidget(words)
        self.slot = Slot()
        row.addWidget(self.slot, 1)

    def show_route(self, hole: Hole | None, route: Route | None, unit: str) -> None:
        """Show where the finished size should fall."""
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        self.slot.show_expected(
            hole, unit, last.expected_mm if last else None, last.expected_sd_mm if last else None
        )
        if route is None or last is None or last.expected_mm is None:
            self.figure.setText("")
            self.note.setText("")
            return
        self.figure.setText(figure_html(f"{100 * route.screen_chance:.0f}", "in 100", 46, 16))
        self.note.setText(f"good, a rough figure. Expect {fixed(last.expected_mm, unit)} {unit}.")


class PlanStage(QWidget):
    """Holes and routes, section, sequence, outcome, operation card."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.left = Pane(theme.PLATE, "r")
        self.left.setFixedWidth(HOLES_WIDTH)
        left = QVBoxLayout(self.left)
        left.setContentsMargins(16, 12, 8, 8)
        left.setSpacing(8)
        self.heading = text_label("Holes", 20, True)
        left.addWidget(self.heading)
        self.tag_scroll = QScrollArea()
        self.tag_scroll.setWidgetResizable(True)
        self.tag_scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.tags = Column((0, 0, 0, 0), 8)
        put_in_scroll(self.tag_scroll, self.tags)
        left.addWidget(self.tag_scroll, 1)
        self.route_head = text_label("Routes", 20, True)
        left.addWidget(self.route_head)
        self.routes = Column((0, 0, 0, 0), 0)
        left.addWidget(self.routes)
        row.addWidget(self.left)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        self.section = Section()
        self.strip = Strip()
        self.outcome = Outcome()
        self.outcome.setFixedHeight(190)
        self.reason = Pane(theme.HI, "t")
        self.reason.setMinimumHeight(230)
        reason_box = QVBoxLayout(self.reason)
        reason_box.setContentsMargins(28, 24, 28, 24)
        self.reason_column = Column((0, 0, 0, 0), 10)
        reason_box.addWidget(self.reason_column)
        reason_box.addStretch(1)
        middle.addWidget(self.section, 1)
        middle.addWidget(self.reason)
        middle.addWidget(self.strip)
        middle.addWidget(self.outcome)
        row.addLayout(middle, 1)
        self.card = Card()
        row.addWidget(self.card)
        self.section.picked.connect(session.select_operation)
        self.strip.picked.connect(session.select_operation)
        session.selection.connect(self.refresh)
        session.changed.connect(self.refresh)
        self._tags_shown: object = None
        self._routes_shown: object = None

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def refresh(self) -> None:
        """Mirror the session."""
        if not self.isVisible():
            return
        session = self.session
        self._show_tags()
        self._show_routes()
        plan, route, hole = session.plan, session.route, session.hole
        blocked = plan is not None and not plan.routes
        self.section.working = session.planning
        self.section.show_route(hole, route, session.operation_index, session.unit)
        self.strip.setVisible(not blocked)
        self.outcome.setVisible(not blocked)
        self.reason.setVisible(blocked)
        self.card.setVisible(not blocked)
        self.strip.show_route(route, session.operation_index, session.unit)
        self.outcome.show_route(hole, route, session.unit)
        empty = "Working out the sequence." if session.planning else ""
        if hole is None:
            empty = "No hole yet. Say on Print what the drawing asks for."
        if blocked:
            empty = ""
        self.card.show_operation(route, session.operation_index, session.unit, empty)
        if blocked and plan is not None:
            self._show_reasons(plan)

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    def _show_reasons(self, plan: HolePlan) -> None:
        column = self.reason_column
        column.clear()
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(Mark("reject", 10, theme.INK, theme.HI))
        line.addWidget(text_label("No sequence with this crib and machine", 22, True), 1)
        column.add(head)
        for reason in plan.why_not:
            column.add(text_label(reason[0].upper() + reason[1:] + ".", 16, wrap=True))

    def _show_tags(self) -> None:
        session = self.session
        found = []
        for index, hole in enumerate(session.job.holes):
            finding = session.finding(index)
            plan = session.plans.get(hole.id)
            if finding is not None:
                status, words = finding.verdict, VERDICT_WORDS[finding.verdict]
            elif plan is None:
                status, words = "none", "Working it out"
            else:
                status, words = ("planned", "Planned") if plan.routes else ("reject", "No sequence")
            found.append((hole, session.unit, status, words))
        key = (tuple(found), session.hole_index)
        if key == self._tags_shown:
            return
        self._tags_shown = key
        self.heading.setText(f"Holes  {len(found)}" if found else "Holes")
        self.tags.clear()
        for index, entry in enumerate(found):
            tag = HoleTag(*entry)
            tag.setChecked(index == session.hole_index)
            tag.clicked.connect(lambda _=False, i=index: session.select_hole(i))
            self.tags.add(tag)
        self.tags.box.addStretch(1)

    def _show_routes(self) -> None:
        plan, route = self.session.plan, self.session.route
        key = (id(plan), route.label if route else None)
        if key == self._routes_shown:
            return
        self._routes_shown = key
        self.routes.clear()
        hole = self.session.hole
        shown = plan.routes if plan else ()
        self.route_head.setText(f"Routes to {hole.id}" if hole and shown else "")
        for found in sorted(shown, key=lambda r: r.minutes):
            row = RouteRow(found)
            row.setChecked(route is not None and found.label == route.label)
            row.clicked.connect(lambda _=False, label=found.label: self.session.use_route(label))
            self.routes.add(row)
