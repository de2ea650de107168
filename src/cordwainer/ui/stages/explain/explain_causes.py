"""Likely causes and the check worth making next."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from cordwainer.core.diagnosis.explained import AnswerOutcome, Explained
from cordwainer.core.diagnosis.knowledge import Question, answer_words, causes
from cordwainer.core.diagnosis.next_check import Check
from cordwainer.core.diagnosis.posterior import ENOUGH_ANSWERS, UNEXPLAINED
from cordwainer.core.language import inner, localized, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Mark, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import across, down, fill, line_of, scroll_down
from cordwainer.ui.stages.explain.questions import NO_TOOL, AnswerButton, CauseRow, FlowRow

LIFTS = 1.25
LONGEST_HALF, MANY, SHOWN, WIDE = 20, 4, 3, 404


class CausesColumn(Pane):
    """The right column of Explain: causes above, the next check in brass below."""

    chosen = pyqtSignal(str)
    more_asked = pyqtSignal()
    again_asked = pyqtSignal()

    def __init__(self, causes: Causes) -> None:
        super().__init__(theme.HI, "l")
        self.causes, self.unit = causes, "mm"
        self.setFixedWidth(WIDE)
        column = down(self, (1, 0, 0, 0), 0)
        scroll = scroll_down()
        self.column = Column((24, 12, 20, 8), 4)
        put_in_scroll(scroll, self.column)
        column.addWidget(scroll, 1)
        self.check = Pane(theme.BRASS)
        check = down(self.check, (24, 12, 20, 14))
        self.check_column = Column((0, 0, 0, 0), 4)
        check.addWidget(self.check_column)
        column.addWidget(self.check)

    def show_causes(self, found: Explained | None, finding: Finding | None, unit: str, why_not: str = "") -> None:
        """Mirror what is known; before the first word that it is being worked out, or why it cannot be."""
        self.column.clear()
        self.unit = unit
        if found is None:
            self.column.add(text_label(tr("Likely causes"), 20, True))
            words = (
                tr("The causes could not be weighed: {why_not}.", why_not=why_not)
                if why_not
                else tr("Weighing the causes.")
            )
            self.column.add(text_label(words, 14, color=theme.INK2, wrap=True))
            if why_not:
                again = Link(tr("Weigh them again"), 15)
                again.clicked.connect(self.again_asked)
                self.column.add(again)
            self.column.box.addStretch(1)
            self.check_column.clear()
            self.check.color = theme.LO
            self.check.update()
            return
        self._show_causes(found, finding)
        self._show_check(found)

    def _show_causes(self, found: Explained, finding: Finding | None) -> None:
        column, ranked, chosen = self.column, found.ranked, found.chosen
        shown = list(ranked[:SHOWN])
        if chosen not in {r.id for r in shown} and chosen in causes():
            shown = [*shown, next(r for r in ranked if r.id == chosen)]
        figures = any(r.in_100 is not None for r in shown)
        head, line = line_of()
        fill(
            line,
            text_label(tr("Usual causes") if found.bare or found.undecided else tr("Likely causes"), 20, True),
            None,
        )
        if figures:
            line.addWidget(text_label(tr("about, in 100"), 14, color=theme.INK2))
        column.add(head)
        if found.apart is not None:
            self._caution(found.apart.words(self.unit))
        if ranked[0].id == UNEXPLAINED and found.answered:
            self._caution(tr("None of the causes on the list explains this well. Look for something else, too."))
        if finding is not None and finding.verdict == "accept":
            words = tr("The hole is inside its limits. These are the causes to keep an eye on.")
            column.add(text_label(words, 14, color=theme.INK2, wrap=True))
        most = max(r.probability for r in shown)
        asked = found.next.question.id if found.next is not None else ""
        for entry in shown:
            row = CauseRow(entry, entry.id == chosen, most)
            row.chosen.connect(self.chosen)
            column.add(row)
            if entry.id == chosen and found.test is not None and found.test.question.id != asked:
                self._show_test(found.test.question)
        for cause in found.case.mended:
            self._show_mended(cause)
        if found.pair is not None:
            one, two = (causes()[cause].name for cause in found.pair)
            column.add(
                text_label(tr("It may be two at once: {one}, with {two}.", one=one, two=inner(two)), 14, wrap=True)
            )
        if found.bare:
            words = tr(
                "Nothing to go by yet: this is only how often each comes up with such a hole. Measure it, or say "
                "what was seen."
            )
        elif found.undecided:
            words = tr(
                "Nothing said or measured so far speaks for one of them: this is how often each comes up with "
                "such a hole."
            )
        elif found.answered < ENOUGH_ANSWERS:
            words = tr(
                "From {count}: too few for figures. Bars show the order, not odds.", count=_count(found.answered)
            )
        else:
            words = tr(
                "From {count}. Figures come true on simulated holes; below 20 they say no more.",
                count=_count(found.answered),
            )
        column.add(text_label(words, 13, color=theme.INK2, wrap=True))
        column.box.addStretch(1)

    def _show_test(self, question: Question) -> None:
        self.column.add(text_label(tr("To test it: {question}", question=question.text), 14, True, wrap=True))
        answers = FlowRow(
            [(a, answer_words(question.id, a, self.unit)) for a in question.answers], None, question.text, 356
        )
        answers.chosen.connect(lambda a: self.causes.answer(question.id, a))
        self.column.add(answers)
        self.column.box.addSpacing(8)

    def _show_mended(self, cause: str) -> None:
        """A mend that did not help, and its taking back."""
        row, line = line_of(gap=8)
        line.addWidget(
            text_label(tr("Mended, and it came back: {name}.", name=causes()[cause].name), 14, wrap=True), 1
        )
        link = Link(tr("Take back"), 14)
        link.setAccessibleName(tr("Take back that {name} was mended in vain", name=causes()[cause].name))
        link.clicked.connect(lambda: self.causes.mended(cause, True))
        line.addWidget(link, 0, Qt.AlignmentFlag.AlignTop)
        self.column.add(row)

    def _caution(self, words: str) -> None:
        row = Pane(theme.LO)
        line = across(row, (10, 8, 8, 8))
        line.addWidget(Mark("caution", 9, theme.INK, theme.LO), 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(text_label(words, 14, True, wrap=True), 1)
        self.column.add(row)

    def _show_check(self, found: Explained) -> None:
        column = self.check_column
        column.clear()
        self.check.color = theme.BRASS if found.next is not None else theme.LO
        self.check.update()
        if found.next is not None:
            self._show_question(found.next, found)
            return
        column.add(text_label(tr("Asked enough"), 20, True))
        words = tr("Mending the first is worth more now than another check. If it comes back, ask on.")
        column.add(text_label(words, 14, wrap=True))
        if found.ask_on is not None:
            link = Link(tr("Ask on all the same"), 15)
            link.clicked.connect(self.more_asked)
            column.add(link)

    def _show_question(self, check: Check, known: Explained) -> None:
        column, question = self.check_column, check.question
        head, line = line_of()
        fill(line, text_label(tr("Check this next"), 15, True), None)
        needs = "" if question.needs in NO_TOOL else f"{tr(question.needs)},  "
        minutes = tr("free") if check.minutes == 0 else localized(f"{check.minutes:g} min")
        fill(line, text_label(needs, 14), text_label(minutes, 18, True))
        column.add(head)
        column.add(text_label(question.text, 20, True, wrap=True))
        column.add(text_label(question.how, 14, wrap=True))
        grid = QWidget()
        lines = down(grid, (0, 4, 0, 0), 5)
        row: QHBoxLayout | None = None
        columns = (
            2
            if all(len(answer_words(question.id, o.answer, self.unit)) <= LONGEST_HALF for o in known.outcomes)
            else 1
        )
        for index, outcome in enumerate(known.outcomes):
            if index % columns == 0:
                row = across(gap=8)
                lines.addLayout(row)
            low = columns == 1 and len(known.outcomes) > MANY
            button = AnswerButton(
                answer_words(question.id, outcome.answer, self.unit), _effect(outcome, known), low
            )
            button.clicked.connect(lambda _=False, a=outcome.answer: self.causes.answer(question.id, a))
            if row is not None:
                row.addWidget(button)
        column.add(grid)


def _effect(outcome: AnswerOutcome, known: Explained) -> str:
    """What an answer would do to the leader, in words."""
    leader = known.leader
    if leader is None or outcome.leader != leader.id:
        if outcome.lift < LIFTS and known.undecided:
            return tr("changes little")
        name = causes()[outcome.leader].name
        return tr("then: {name}{name_2}", name=inner(name[0]), name_2=name[1:])
    if outcome.gain > 1.15:
        return tr("speaks for the first")
    return tr("speaks against it") if outcome.gain < 0.85 else tr("changes little")


def _count(answered: int) -> str:
    """How much was found, in words."""
    if not answered:
        return tr("what was measured alone")
    return tr("1 answer") if answered == 1 else tr("{answered} answers", answered=answered)
