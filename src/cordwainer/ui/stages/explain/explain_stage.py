"""Explain: what was seen, likely causes, the next check, how to mend it and what to do with the part."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.explained import Explained
from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plan_change import PlanChanges
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Link, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.explain.error_section import ErrorSection, Swatch
from cordwainer.ui.stages.explain.explain_causes import CausesColumn
from cordwainer.ui.stages.explain.explain_seen import SeenColumn
from cordwainer.ui.stages.explain.mend import Mend
from cordwainer.ui.stages.explain.rescue_view import RescueView
from cordwainer.ui.stages.hole_head import HoleHead

SEEN_WIDTH, MEND_HEIGHT, KEPT = 316, 232, 10


class ExplainStage(Stage):
    """Seen and answered at the left, the hole and its mend in the middle, causes and checks at the right."""

    def __init__(
        self,
        document: Document,
        selection: Selection,
        stock: Stock,
        plans: Plans,
        readings: Readings,
        causes: Causes,
        changes: PlanChanges,
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.readings, self.causes, self.changes = readings, causes, changes
        self.picked: tuple[str, str] = ("", "")
        self.asked_anyway = False
        self._known: object = None
        self._turned = False
        row = across(self, NONE, 0)
        left = Pane(theme.PLATE, "r")
        left.setFixedWidth(SEEN_WIDTH)
        box = down(left, (0, 0, 1, 0))
        scroll = scroll_down()
        self.seen = SeenColumn(self.document, self.selection, self.readings, self.causes)
        put_in_scroll(scroll, self.seen)
        box.addWidget(scroll)
        row.addWidget(left)
        row.addLayout(self._middle(), 1)
        self.column = CausesColumn(causes)
        self.column.chosen.connect(self.pick)
        self.column.more_asked.connect(self.ask_on)
        self.column.again_asked.connect(causes.again)
        row.addWidget(self.column)
        self.mirrors(
            self.document.edited,
            self.selection.moved,
            self.selection.unit_changed,
            self.stock.changed,
            self.plans.arrived,
            self.causes.ready,
        )

    def _middle(self) -> QVBoxLayout:
        middle = down(gap=0)
        head = Pane(theme.HI, "b")
        head.setFixedHeight(52)
        line = across(head, (20, 0, 16, 0))
        self.head = HoleHead(self.document, self.selection)
        line.addWidget(self.head, 1)
        self.turn = Link(tr("Rescue this part"), 15)
        self.turn.clicked.connect(self.turn_over)
        line.addWidget(self.turn)
        middle.addWidget(head)
        self.pages = QStackedWidget()
        drawn = QWidget()
        column = down(drawn, NONE, 0)
        self.section = ErrorSection()
        column.addWidget(self.section, 1)
        column.addWidget(self._legend())
        self.mend = Mend(self.causes, self.changes)
        self.mend.setMinimumHeight(MEND_HEIGHT)
        self.mend.planned.connect(lambda: self.wants.emit("go_plan"))
        self.mend.said.connect(self.said)
        column.addWidget(self.mend)
        self.rescue = RescueView(self.document, self.selection, self.stock, self.plans, self.readings)
        self.rescue.said.connect(self.said)
        self.pages.addWidget(drawn)
        self.pages.addWidget(self.rescue)
        middle.addWidget(self.pages, 1)
        return middle

    def _legend(self) -> Pane:
        self.legend = Pane(theme.HI, "t")
        legend = down(self.legend, (20, 6, 16, 6), 3)
        first, second = QHBoxLayout(), QHBoxLayout()
        self.legend_text, self.past_text, self.would_text = (text_label("", 14) for _ in range(3))
        self.would_swatch = Swatch("would")
        self.expected_swatch = Swatch("expected")
        for line, parts in (
            (first, (self.expected_swatch, self.legend_text, Swatch("past"), self.past_text)),
            (second, (self.would_swatch, self.would_text)),
        ):
            line.setSpacing(8)
            for part in parts:
                line.addWidget(part)
                if part is self.legend_text:
                    line.addSpacing(12)
            line.addStretch(1)
            legend.addLayout(line)
        return self.legend

    # -- what is chosen ------------------------------------------------------------------------

    def pick(self, cause: str) -> None:
        """Look at another cause: the section and the mend then speak of it."""
        hole = self.selection.hole
        self.picked = (hole.id if hole is not None else "", cause)
        self.refresh()

    def turn_over(self) -> None:
        """From the section to the rescue and back."""
        self.pages.setCurrentIndex(1 - self.pages.currentIndex())
        words = tr("Back to the section") if self.pages.currentIndex() else tr("Rescue this part")
        self.turn.setText(words)
        self.turn.setAccessibleName(words)
        self.refresh()

    def ask_on(self) -> None:
        """Another check all the same, worth its minutes or not."""
        self.asked_anyway = True
        self.refresh()

    def look(self, case: Case) -> Explained | None:
        """What is known of the case of the hole in hand, with the cause picked for it in view."""
        hole = self.selection.hole
        picked = self.picked[1] if hole is not None and self.picked[0] == hole.id else ""
        return self.causes.look(case, picked, self.asked_anyway)

    # -- mirror --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the selected hole; until the causes are weighed only what was seen and measured."""
        hole, case = self.selection.hole, self.causes.case()
        if not self.isVisible() or hole is None or case is None:
            return
        found = self.look(case)
        finding, unit = self.readings.finding(), self.selection.unit
        self.head.refresh()
        route, expected = self.plans.route, None
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        if last is not None and last.expected_mm is not None and last.expected_sd_mm is not None:
            expected = (last.expected_mm - 2 * last.expected_sd_mm, last.expected_mm + 2 * last.expected_sd_mm)
        drilled = last if last is not None and last.kind == "drill" else None
        self.seen.show_case(hole, finding, case, found, unit, drilled)
        known = (found, finding, self.causes.why_not, unit, self.causes.confirmed, self.stock.practice)
        fresh = known != self._known
        self._known = known
        if fresh:
            self.column.show_causes(found, finding, unit, self.causes.why_not)
        turned, self._turned = self._turned, bool(self.pages.currentIndex())
        if self._turned:
            self.rescue.show_hole(hole, finding, unit)
            return
        would = found.leaves if found is not None else None
        self.section.show_hole(hole, finding, unit, expected, would)
        if expected is not None:
            self.legend_text.setText(
                tr(
                    "expected {expected} to {expected_2}",
                    expected=fixed(expected[0], unit),
                    expected_2=fixed(expected[1], unit),
                )
            )
        self.expected_swatch.setVisible(expected is not None)
        self.legend_text.setVisible(expected is not None)
        self.past_text.setText(tr("past {upper_mm}", upper_mm=fixed(hole.limits.upper_mm, unit)))
        self.would_text.setText(tr("with the cause chosen, 8 holes in 10") if would is not None else "")
        self.would_swatch.setVisible(would is not None)
        if fresh or turned:
            self.mend.show_cause(found, finding, unit)
