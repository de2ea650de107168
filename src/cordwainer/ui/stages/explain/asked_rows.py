"""The questions of Explain: the few most telling now, what was said, and everything else that could be."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QLabel, QWidget

from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.explained import Explained
from cordwainer.core.diagnosis.knowledge import Question, questions
from cordwainer.core.diagnosis.next_check import here
from cordwainer.core.language import tr
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.kit.basics import Column, Rule, text_label
from cordwainer.ui.stages.explain.questions import QuestionRow

AT_ONCE = 2
NOW, SAID, ELSE = tr("Most telling now"), tr("What you said"), tr("Anything else seen")
Made = tuple[Rule, QuestionRow]
Key = tuple[str, tuple[str, ...], str]


class AskedRows(Column):
    """Three groups under their heads; a row is made once and moved from group to group.

    Rows that stay among the most telling keep their order while others come and go.
    """

    def __init__(self, causes: Causes) -> None:
        super().__init__((0, 0, 0, 0), 4)
        self.causes = causes
        self.heads: dict[str, QLabel] = {words: text_label(words, 20, True) for words in (NOW, SAID, ELSE)}
        for head in self.heads.values():
            head.setParent(self)  # without one it would be shown as a window of its own
            head.hide()
        self.made: dict[Key, Made] = {}
        self.unit = "mm"
        self.wanted: list[str | Question] = []
        self.now: list[str] = []
        self.placed = 0
        self.answers: dict[str, str] = {}
        self.rows: dict[str, QuestionRow] = {}

    def show_questions(self, found: Explained | None, case: Case, unit: str) -> None:
        """Mirror what is known; until the causes are weighed the questions stand as they were."""
        self.answers = case.answers
        for (question_id, *_), (_, row) in self.made.items():
            row.show_answer(case.answers.get(question_id))
        if found is None:
            return
        fresh = {question.id: question for question in found.telling}
        self.now = [q for q in self.now if q in fresh] + [q for q in fresh if q not in self.now]
        given = [here(case, questions()[q]) for q in case.answers if q in questions() and q[0] == "q"]
        wanted: list[str | Question] = []
        for head, group in ((NOW, [fresh[q] for q in self.now]), (SAID, given), (ELSE, found.others)):
            if group:
                wanted += [head, *group]
        if wanted != self.wanted or unit != self.unit:
            self.wanted, self.unit = wanted, unit
            self._lay_out()

    def _lay_out(self) -> None:
        """Everything wanted in its order; what is not wanted any more is put out of sight."""
        while self.box.takeAt(0) is not None:
            pass
        keys = {self._key(q) for q in self.wanted if isinstance(q, Question)}
        for key in self.made.keys() - keys:
            for widget in self.made[key]:
                widget.hide()
        for words, head in self.heads.items():
            if words not in self.wanted:
                head.hide()
        self.rows, self.placed = {}, 0
        if all(key in self.made for key in keys):
            self._add_rows()
        else:
            QTimer.singleShot(0, self._add_rows)  # what else came with them is shown first

    def _add_rows(self) -> None:
        """The rows still missing on the page; new ones a few at a time, so that nobody waits for them."""
        fresh = 0
        while self.placed < len(self.wanted):
            item = self.wanted[self.placed]
            if isinstance(item, str):
                self._place(self.heads[item])
                self.placed += 1
                continue
            if self._key(item) not in self.made:
                if fresh == AT_ONCE:
                    QTimer.singleShot(0, self._add_rows)
                    return
                fresh += 1
                row = QuestionRow(item, self.answers.get(item.id), self.causes, self.unit)
                self.made[self._key(item)] = Rule(), row
            rule, row = self.made[self._key(item)]
            self.rows[item.id] = row
            self._place(rule)
            self._place(row)
            self.placed += 1

    def _place(self, widget: QWidget) -> None:
        self.add(widget)
        if widget.isHidden():
            widget.show()

    def _key(self, question: Question) -> Key:
        """What a row is made for: the question, the answers that can be given here, the unit of its figures."""
        return question.id, question.answers, self.unit if any("mm" in text for _, text in question.bands) else ""
