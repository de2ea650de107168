"""Likely causes and the check worth making next."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.diagnosis.applies import told
from cordwainer.core.diagnosis.doubt import pulls_apart, together, worth_asking
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.next_check import Check, clears, leads_after, next_checks, outcomes
from cordwainer.core.diagnosis.posterior import ENOUGH_ANSWERS, UNEXPLAINED, Ranked
from cordwainer.core.measuring.finding import Finding
from cordwainer.ui.desk.session import Session
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Mark, Pane, put_in_scroll, text_label
from cordwainer.ui.stages.explain.questions import AnswerButton, CauseRow, FlowRow, answer_words

NO_TOOL = ("nothing", "memory", "eyes", "ears")
LONGEST_HALF, SHOWN, WIDE = 20, 3, 404


class Causes(Pane):
    """The right column of Explain: causes above, the next check in brass below."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(theme.HI, "l")
        self.session = session
        self.asked_anyway = False
        self.setFixedWidth(WIDE)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 0, 0, 0)
        column.setSpacing(0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.column = Column((24, 12, 20, 8), 4)
        put_in_scroll(scroll, self.column)
        column.addWidget(scroll, 1)
        self.check = Pane(theme.BRASS)
        check = QVBoxLayout(self.check)
        check.setContentsMargins(24, 12, 20, 14)
        self.check_column = Column((0, 0, 0, 0), 4)
        check.addWidget(self.check_column)
        column.addWidget(self.check)

    def show_case(self, case: Case, ranked: list[Ranked], chosen: str, finding: Finding | None) -> None:
        """Mirror the ranking; `chosen` is the cause the section and the mend speak of."""
        check = worth_asking(case)
        if check is None and self.asked_anyway:
            check = next(iter(next_checks(case, 1)), None)
        self._show_causes(case, ranked, chosen, finding, check.question.id if check is not None else "")
        self._show_check(check, case, ranked)

    def _show_causes(
        self, case: Case, ranked: list[Ranked], chosen: str, finding: Finding | None, asked: str
    ) -> None:
        column, answered = self.column, told(case)
        column.clear()
        shown = ranked[:SHOWN]
        if chosen not in {r.id for r in shown} and chosen in causes():
            shown = [*shown, next(r for r in ranked if r.id == chosen)]
        figures = any(r.in_100 is not None for r in shown)
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label("Likely causes", 20, True))
        line.addStretch(1)
        if figures:
            line.addWidget(text_label("about, in 100", 14, color=theme.INK2))
        column.add(head)
        apart = pulls_apart(case)
        if apart is not None:
            self._caution(apart.words)
        if ranked[0].id == UNEXPLAINED and answered:
            self._caution("None of the causes on the list explains this well. Look for something else, too.")
        if finding is not None and finding.verdict == "accept":
            words = "The hole is inside its limits. These are the causes to keep an eye on."
            column.add(text_label(words, 14, color=theme.INK2, wrap=True))
        most = max(r.probability for r in shown)
        for entry in shown:
            row = CauseRow(entry, entry.id == chosen, most)
            row.chosen.connect(self.chosen)
            column.add(row)
            test = clears(case, entry.id) if entry.id == chosen and entry.id in causes() else None
            if test is not None and test.question.id != asked:
                column.add(text_label(f"To test it: {test.question.text}", 14, True, wrap=True))
                answers = FlowRow(
                    [(a, answer_words(a)) for a in test.question.answers], None, test.question.text, 356
                )
                answers.chosen.connect(lambda a, q=test.question.id: self.session.answer(q, a))
                column.add(answers)
                column.box.addSpacing(8)
        pair = together(case)
        if pair is not None:
            one, two = (causes()[cause].name for cause in pair)
            column.add(
                text_label(f"It may be two at once: {one}, with {two[:1].lower()}{two[1:]}.", 14, wrap=True)
            )
        if answered < ENOUGH_ANSWERS:
            words = f"From {answered} answers: too few for figures. Bars show the order, not odds."
        else:
            words = f"From {answered} answers. Figures come true on simulated holes; below 20 they say no more."
        column.add(text_label(words, 13, color=theme.INK2, wrap=True))
        column.box.addStretch(1)

    def _caution(self, words: str) -> None:
        row = Pane(theme.LO)
        line = QHBoxLayout(row)
        line.setContentsMargins(10, 8, 8, 8)
        line.addWidget(Mark("caution", 9, theme.INK, theme.LO), 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(text_label(words, 14, True, wrap=True), 1)
        self.column.add(row)

    def _show_check(self, check: Check | None, case: Case, ranked: list[Ranked]) -> None:
        column = self.check_column
        column.clear()
        self.check.color = theme.BRASS if check is not None else theme.LO
        self.check.update()
        if check is not None:
            self._show_question(check, case, ranked)
            return
        column.add(text_label("Asked enough", 20, True))
        words = "Mending the first is worth more now than another check. If it comes back, ask on."
        column.add(text_label(words, 14, wrap=True))
        if next_checks(case, 1):
            link = Link("Ask on all the same", 15)
            link.clicked.connect(self._ask_on)
            column.add(link)

    def _ask_on(self) -> None:
        self.asked_anyway = True
        self.session.selection.emit()

    def _show_question(self, check: Check, case: Case, ranked: list[Ranked]) -> None:
        column = self.check_column
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label("Check this next", 15, True))
        line.addStretch(1)
        needs = (
            "" if check.question.needs in ("nothing", "memory", "eyes", "ears") else f"{check.question.needs},  "
        )
        minutes = "free" if check.minutes == 0 else f"{check.minutes:g} min"
        line.addWidget(text_label(needs, 14))
        line.addWidget(text_label(minutes, 18, True))
        column.add(head)
        column.add(text_label(check.question.text, 20, True, wrap=True))
        column.add(text_label(check.question.how, 14, wrap=True))
        leader = next((r for r in ranked if r.id in causes()), None)
        grid = QWidget()
        lines = QVBoxLayout(grid)
        lines.setContentsMargins(0, 4, 0, 0)
        lines.setSpacing(5)
        row: QHBoxLayout | None = None
        after = dict(outcomes(case, check.question, leader.id)) if leader else {}
        found = leads_after(case, check.question)
        across = 2 if all(len(answer_words(answer)) <= LONGEST_HALF for answer, _ in found) else 1
        for index, (answer, lead) in enumerate(found):
            if index % across == 0:
                row = QHBoxLayout()
                row.setSpacing(8)
                lines.addLayout(row)
            effect = f"then: {causes()[lead].name[0].lower()}{causes()[lead].name[1:]}"
            if leader is not None and lead == leader.id:
                gain = after[answer] / leader.probability
                effect = (
                    "speaks for the first"
                    if gain > 1.15
                    else ("speaks against it" if gain < 0.85 else "changes little")
                )
            button = AnswerButton(answer, effect)
            button.clicked.connect(lambda _=False, a=answer: self.session.answer(check.question.id, a))
            if row is not None:
                row.addWidget(button)
        column.add(grid)
