"""Explain: what was seen, likely causes, the next check, how to mend it."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.diagnosis.applies import answers_of
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.knowledge import causes, questions
from cordwainer.core.diagnosis.next_check import Check, clears, free_questions, leads_after, next_checks, outcomes
from cordwainer.core.diagnosis.posterior import Ranked, rank
from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.formation.point import lip_offset
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import Operation
from cordwainer.ui import theme
from cordwainer.ui.canvas.error_section import ErrorSection, Swatch
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import Column, Mark, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.widgets.hole_head import HoleHead
from cordwainer.ui.widgets.questions import AnswerButton, CauseRow, FlowRow, QuestionRow, answer_words
from cordwainer.ui.wording import fixed

LONGEST_HALF = 20
SHOWN_CAUSES = 3


class ExplainStage(QWidget):
    """Seen and answered at the left, the hole, causes and the next check at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.drilled: Operation | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = Pane(theme.PLATE, "r")
        left.setFixedWidth(316)
        box = QVBoxLayout(left)
        box.setContentsMargins(0, 0, 0, 0)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.seen = Column((20, 12, 14, 12), 4)
        put_in_scroll(scroll, self.seen)
        box.addWidget(scroll)
        row.addWidget(left)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        head = Pane(theme.HI, "b")
        head.setFixedHeight(52)
        line = QHBoxLayout(head)
        line.setContentsMargins(20, 0, 16, 0)
        self.head = HoleHead(session)
        line.addWidget(self.head)
        middle.addWidget(head)
        self.section = ErrorSection()
        middle.addWidget(self.section, 1)
        self.legend = Pane(theme.HI, "t")
        self.legend.setFixedHeight(46)
        legend = QHBoxLayout(self.legend)
        legend.setContentsMargins(20, 0, 16, 0)
        self.legend_text = text_label("", 14)
        legend.addWidget(Swatch("expected"))
        legend.addWidget(self.legend_text)
        legend.addSpacing(14)
        legend.addWidget(Swatch("past"))
        self.past_text = text_label("", 14)
        legend.addWidget(self.past_text)
        legend.addStretch(1)
        middle.addWidget(self.legend)
        mend = Pane(theme.PLATE, "t")
        mend.setFixedHeight(214)
        mend_box = QVBoxLayout(mend)
        mend_box.setContentsMargins(20, 10, 20, 10)
        self.mend = Column((0, 0, 0, 0), 3)
        mend_box.addWidget(self.mend)
        mend_box.addStretch(1)
        middle.addWidget(mend)
        row.addLayout(middle, 1)
        right = Pane(theme.HI, "l")
        right.setFixedWidth(404)
        column = QVBoxLayout(right)
        column.setContentsMargins(1, 0, 0, 0)
        column.setSpacing(0)
        cause_scroll = QScrollArea()
        cause_scroll.setWidgetResizable(True)
        cause_scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.causes = Column((24, 12, 20, 8), 4)
        put_in_scroll(cause_scroll, self.causes)
        column.addWidget(cause_scroll, 1)
        self.check = Pane(theme.BRASS)
        check = QVBoxLayout(self.check)
        check.setContentsMargins(24, 12, 20, 14)
        self.check_column = Column((0, 0, 0, 0), 4)
        check.addWidget(self.check_column)
        column.addWidget(self.check)
        row.addWidget(right)
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        session, hole = self.session, self.session.hole
        case = session.case()
        if hole is None or case is None:
            return
        finding, unit = session.finding(), session.unit
        self.head.refresh()
        expected = None
        route = session.route
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        if last is not None and last.expected_mm is not None and last.expected_sd_mm is not None:
            expected = (last.expected_mm - 2 * last.expected_sd_mm, last.expected_mm + 2 * last.expected_sd_mm)
        self.section.show_hole(hole, finding, unit, expected)
        self.drilled = last if last is not None and last.kind == "drill" else None
        if expected is not None:
            self.legend_text.setText(f"expected {fixed(expected[0], unit)} to {fixed(expected[1], unit)}")
        self.past_text.setText(f"past {fixed(hole.limits.upper_mm, unit)}")
        ranked = rank(case)
        checks = next_checks(case)
        self._show_seen(hole, finding, case, unit)
        self._show_causes(ranked, case, finding)
        self._show_check(checks, ranked, case)
        self._show_mend(ranked)

    def _off_center(self, finding: Finding, unit: str) -> str:
        """How far off its middle the last drill's point would be, if that is what cut the hole over."""
        drilled = self.drilled
        if drilled is None or drilled.diameter_mm is None or finding.middle_mm is None:
            return ""
        ordinary = survey_oversize(drilled.diameter_mm)
        over = finding.middle_mm - drilled.diameter_mm
        if over <= ordinary[2]:
            return ""
        low, high = (fixed(e, unit) for e in lip_offset(over, ordinary[1]))
        return f"More than drills of this size leave. If its point is off center, then by {low} to {high} {unit}."

    def _show_seen(self, hole: Hole, finding: Finding | None, case: Case, unit: str) -> None:
        seen = self.seen
        seen.clear()
        seen.add(text_label("What you measured", 20, True))
        if finding is None:
            seen.add(text_label("Nothing yet. Three sizes on Measure say most.", 14, color=theme.INK2, wrap=True))
        else:
            for words, size in (
                ("Mouth", finding.entry_mm),
                ("Middle", finding.middle_mm),
                ("Far end", finding.exit_mm),
            ):
                if size is None:
                    continue
                seen.add(Rule())
                row = QWidget()
                line = QHBoxLayout(row)
                line.setContentsMargins(0, 0, 0, 0)
                line.addWidget(text_label(words, 15))
                line.addStretch(1)
                line.addWidget(text_label(fixed(size, unit), 20, True))
                over = size - hole.limits.upper_mm
                under = hole.limits.lower_mm - size
                status = "accept" if over <= 0 and under <= 0 else "reject"
                line.addWidget(Mark(status, 6))
                note = (
                    "inside"
                    if status == "accept"
                    else (f"{fixed(over, unit)} over" if over > 0 else f"{fixed(under, unit)} under")
                )
                label = text_label(note, 13, color=theme.INK2)
                label.setFixedWidth(82)
                line.addWidget(label)
                seen.add(row)
            seen.add(Rule())
            limits = f"{fixed(hole.limits.lower_mm, unit)} to {fixed(hole.limits.upper_mm, unit)}"
            seen.add(text_label(f"Print allows {limits} {unit}", 14, color=theme.INK2))
            words = self._off_center(finding, unit)
            if words:
                seen.add(text_label(words, 14, wrap=True))
        seen.box.addSpacing(8)
        seen.add(text_label("What else", 20, True))
        seen.add(text_label("Free to answer; the most telling first.", 14, color=theme.INK2))
        free = [question.id for question in free_questions(case)]
        given = self.session.job.file.holes[self.session.hole_index].evidence
        paid = [q for q in given if q in questions() and q[0] == "q" and q not in free]
        asked = [*paid, *free]
        for question_id in asked:
            seen.add(Rule())
            value = case.answers.get(question_id)
            seen.add(QuestionRow(questions()[question_id], value, self.session))
        seen.box.addStretch(1)

    def _show_causes(self, ranked: list[Ranked], case: Case, finding: Finding | None) -> None:
        column = self.causes
        column.clear()
        column.add(text_label("Likely causes", 20, True))
        if finding is not None and finding.verdict == "accept":
            column.add(
                text_label(
                    "The hole is inside its limits. These are the causes to keep an eye on.",
                    14,
                    color=theme.INK2,
                    wrap=True,
                )
            )
        most = max(r.probability for r in ranked[:SHOWN_CAUSES])
        for index, entry in enumerate(ranked[:SHOWN_CAUSES]):
            column.add(CauseRow(entry, index == 0, most))
            test = clears(case, entry.id) if index == 0 else None
            if test is not None:
                column.add(text_label(f"To test it: {test.question.text}", 14, True, wrap=True))
                answers = FlowRow(
                    [(a, answer_words(a)) for a in test.question.answers], None, test.question.text, 356
                )
                answers.chosen.connect(lambda a, q=test.question.id: self.session.answer(q, a))
                column.add(answers)
                column.box.addSpacing(8)
        count = len(answers_of(case))
        column.add(
            text_label(
                f"From {count} answers, by judgement: bars show the order, not odds.",
                13,
                color=theme.INK2,
                wrap=True,
            )
        )
        column.box.addStretch(1)

    def _show_check(self, checks: list[Check], ranked: list[Ranked], case: Case) -> None:
        column = self.check_column
        column.clear()
        self.check.setVisible(bool(checks))
        if not checks:
            return
        check = checks[0]
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label("Check this next", 15, True))
        line.addStretch(1)
        minutes = "free" if check.minutes == 0 else f"{check.minutes:g} min"
        line.addWidget(text_label(minutes, 18, True))
        column.add(head)
        column.add(text_label(check.question.text, 22, True, wrap=True))
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

    def _show_mend(self, ranked: list[Ranked]) -> None:
        column = self.mend
        column.clear()
        leader = next((r for r in ranked if r.id in causes()), None)
        if leader is None:
            return
        cause = causes()[leader.id]
        column.add(text_label("If it is the first: mend the cause", 16, True))
        column.add(text_label(cause.fix, 14, wrap=True))
        if cause.rescue:
            column.box.addSpacing(4)
            column.add(text_label("Rescue this part", 16, True))
            column.add(text_label(f"{cause.rescue} Ask first if it is not your drawing.", 14, wrap=True))
        if cause.safety:
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 4, 0, 0)
            line.addWidget(Mark("caution", 9, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            line.addWidget(text_label(cause.safety, 14, True, wrap=True), 1)
            column.add(row)
