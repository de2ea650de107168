"""Explain: what was seen, likely causes, the next check, how to mend it and what to do with the part."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from cordwainer.core.diagnosis.applies import answers_of
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.numbers import would_leave
from cordwainer.core.diagnosis.posterior import Ranked, rank
from cordwainer.ui.desk.session import Session
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Link, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.hole_head import HoleHead
from cordwainer.ui.kit.wording import fixed
from cordwainer.ui.stages.explain.error_section import ErrorSection, Swatch
from cordwainer.ui.stages.explain.explain_causes import Causes
from cordwainer.ui.stages.explain.explain_seen import Seen
from cordwainer.ui.stages.explain.mend import Mend
from cordwainer.ui.stages.explain.rescue_view import RescueView

SEEN_WIDTH, MEND_HEIGHT, KEPT = 316, 232, 10


class ExplainStage(QWidget):
    """Seen and answered at the left, the hole and its mend in the middle, causes and checks at the right."""

    planned = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.picked: tuple[str, str] = ("", "")
        self.ranked: list[Ranked] = []
        self.case: Case | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = Pane(theme.PLATE, "r")
        left.setFixedWidth(SEEN_WIDTH)
        box = QVBoxLayout(left)
        box.setContentsMargins(0, 0, 1, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.seen = Seen(session)
        put_in_scroll(scroll, self.seen)
        box.addWidget(scroll)
        row.addWidget(left)
        row.addLayout(self._middle(), 1)
        self.causes = Causes(session)
        self.causes.chosen.connect(self.pick)
        row.addWidget(self.causes)
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def _middle(self) -> QVBoxLayout:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        head = Pane(theme.HI, "b")
        head.setFixedHeight(52)
        line = QHBoxLayout(head)
        line.setContentsMargins(20, 0, 16, 0)
        self.head = HoleHead(self.session)
        line.addWidget(self.head, 1)
        self.turn = Link("Rescue this part", 15)
        self.turn.clicked.connect(self.turn_over)
        line.addWidget(self.turn)
        middle.addWidget(head)
        self.pages = QStackedWidget()
        drawn = QWidget()
        column = QVBoxLayout(drawn)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.section = ErrorSection()
        column.addWidget(self.section, 1)
        column.addWidget(self._legend())
        self.mend = Mend(self.session)
        self.mend.setFixedHeight(MEND_HEIGHT)
        self.mend.planned.connect(self.planned)
        self.mend.confirmed.connect(self.confirm)
        column.addWidget(self.mend)
        self.rescue = RescueView(self.session)
        self.pages.addWidget(drawn)
        self.pages.addWidget(self.rescue)
        middle.addWidget(self.pages, 1)
        return middle

    def _legend(self) -> Pane:
        self.legend = Pane(theme.HI, "t")
        legend = QVBoxLayout(self.legend)
        legend.setContentsMargins(20, 6, 16, 6)
        legend.setSpacing(3)
        first, second = QHBoxLayout(), QHBoxLayout()
        self.legend_text, self.past_text, self.would_text = (text_label("", 14) for _ in range(3))
        self.would_swatch = Swatch("would")
        for line, parts in (
            (first, (Swatch("expected"), self.legend_text, Swatch("past"), self.past_text)),
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

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    # -- what is chosen ------------------------------------------------------------------------

    def pick(self, cause: str) -> None:
        """Look at another cause: the section and the mend then speak of it."""
        hole = self.session.hole
        self.picked = (hole.id if hole is not None else "", cause)
        self.refresh()

    def turn_over(self) -> None:
        """From the section to the rescue and back."""
        self.pages.setCurrentIndex(1 - self.pages.currentIndex())
        words = "Back to the section" if self.pages.currentIndex() else "Rescue this part"
        self.turn.setText(words)
        self.turn.setAccessibleName(words)
        self.refresh()

    def confirm(self, cause: str) -> None:
        """Keep what the cause turned out to be; empty takes it back."""
        if self.case is None:
            return
        ranking = {r.id: round(r.probability, 4) for r in self.ranked[:KEPT]}
        self.session.confirm_cause(cause, ranking, answers_of(self.case))

    @property
    def chosen(self) -> str:
        """The cause looked at: the one picked for this hole, else the first of the ranking."""
        hole = self.session.hole
        if hole is not None and self.picked[0] == hole.id and self.picked[1] in {r.id for r in self.ranked}:
            return self.picked[1]
        return next((r.id for r in self.ranked if r.id in causes()), "")

    # -- mirror --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        session, hole = self.session, self.session.hole
        case = session.case()
        if hole is None or case is None:
            return
        self.case, self.ranked = case, rank(case)
        finding, unit, chosen = session.finding(), session.unit, self.chosen
        self.head.refresh()
        route, expected = session.route, None
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        if last is not None and last.expected_mm is not None and last.expected_sd_mm is not None:
            expected = (last.expected_mm - 2 * last.expected_sd_mm, last.expected_mm + 2 * last.expected_sd_mm)
        drilled = last if last is not None and last.kind == "drill" else None
        self.seen.show_case(hole, finding, case, unit, drilled)
        self.causes.show_case(case, self.ranked, chosen, finding)
        if self.pages.currentIndex():
            self.rescue.show_hole(hole, finding, unit)
            return
        would = would_leave(case, chosen)
        self.section.show_hole(hole, finding, unit, expected, would)
        if expected is not None:
            self.legend_text.setText(f"expected {fixed(expected[0], unit)} to {fixed(expected[1], unit)}")
        self.past_text.setText(f"past {fixed(hole.limits.upper_mm, unit)}")
        self.would_text.setText("with the cause chosen, 8 holes in 10" if would is not None else "")
        self.would_swatch.setVisible(would is not None)
        self.mend.show_cause(chosen, finding, would, would_leave(case), unit)
