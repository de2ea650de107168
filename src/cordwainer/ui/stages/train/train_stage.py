"""Train, read a hole: what is told, checks for minutes, an opinion in a hundred, and then it is cut open."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton, QStackedLayout, QWidget

from cordwainer.core.diagnosis.knowledge import answer_words, causes, questions
from cordwainer.core.diagnosis.posterior import UNEXPLAINED
from cordwainer.core.language import inner, localized, tr
from cordwainer.core.planning.words.wording import size_shown
from cordwainer.core.training.course import Lesson
from cordwainer.core.training.exercise import MEASUREMENTS, price
from cordwainer.core.training.scoring import prices
from cordwainer.ui.desk.plan_try import PlanTry
from cordwainer.ui.desk.quiz import Quiz
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.training import Training
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.keys import keeps
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.train.ladder import Ladder
from cordwainer.ui.stages.train.minutes import BudgetRule, CheckRow, WorthRow, minutes_words
from cordwainer.ui.stages.train.opinion import FULL, OpinionBar, cause_words
from cordwainer.ui.stages.train.plan_page import PlanPage
from cordwainer.ui.stages.train.question_page import QuestionPage
from cordwainer.ui.stages.train.told_section import ToldSection

TOLD_WIDTH, OPINION_WIDTH = 370, 400
OWN_KEYS = frozenset({Qt.Key.Key_B, *(Qt.Key(Qt.Key.Key_1 + k) for k in range(9))})


def check_words(name: str) -> tuple[str, str]:
    """A check in words, and what it is done with."""
    if name in MEASUREMENTS:
        return MEASUREMENTS[name].words, tr(MEASUREMENTS[name].with_)
    question = questions()[name]
    needs = tr("look or ask") if question.needs in ("nothing", "") else tr(question.needs)
    return question.text, needs


class TrainStage(Stage):
    """Told, for sale, opinion, left to right; cut open, the right column tells what it was and was worth."""

    at_hole = True  # its keys are those of the hole

    def __init__(self, training: Training, quiz: Quiz, plan_try: PlanTry, selection: Selection) -> None:
        super().__init__()
        self.pages = QStackedLayout(self)
        self.quiz, self.plan_try = quiz, plan_try
        self.training, self.selection = training, selection
        self.rows: dict[str, CheckRow] = {}
        self.bars: dict[str, OpinionBar] = {}
        self.worth: list[QWidget] = []
        self.chosen = ""
        self._seed: object = None
        self.hole = QWidget()
        line = across(self.hole, NONE, 0)
        line.addWidget(self._told_column())
        line.addWidget(self._for_sale(), 1)
        line.addWidget(self._opinion())
        self.ladder = Ladder(training)
        self.ladder.left.connect(self._show_page)
        self.ladder.chosen.connect(self._choose_lesson)
        self.questions = QuestionPage(quiz)
        self.plan = PlanPage(plan_try)
        for page in (self.hole, self.questions, self.plan, self.ladder):
            self.pages.addWidget(page)
        for other in (self.questions, self.plan):
            other.ladder_asked.connect(self.show_ladder)
        self.mirrors(training.changed, selection.unit_changed)

    # -- the columns -------------------------------------------------------------------------------

    def _told_column(self) -> QWidget:
        pane = Pane(theme.HI, "r")
        pane.setFixedWidth(TOLD_WIDTH)
        box = down(pane, (0, 10, 0, 10), 6)
        head, line = line_of((20, 0, 16, 0))
        self.level = Link(tr("All lessons"), 14)
        self.level.setToolTip(tr("The ladder: all lessons, and how far you are"))
        self.level.clicked.connect(self.show_ladder)
        fill(line, text_label(tr("What you are told"), 20, True), None, self.level)
        box.addWidget(head)
        self.section = ToldSection()
        box.addWidget(self.section)
        self.facts = Column((20, 4, 16, 0), 3)
        area = scroll_down()
        put_in_scroll(area, self.facts)
        box.addWidget(area, 1)
        foot, line = line_of((20, 0, 16, 0))
        words = tr(
            "Nothing told here is a lie; something is left out. At a real machine the spindle stands still and "
            "cannot start before anything is measured, felt or wiped."
        )
        line.addWidget(text_label(words, 13, color=theme.INK2, wrap=True))
        box.addWidget(foot)
        return pane

    def _for_sale(self) -> QWidget:
        pane = Pane(theme.PLATE)
        box = down(pane, (0, 10, 0, 10), 6)
        head, line = line_of((18, 0, 16, 0))
        self.left_words = text_label("", 30, True)
        self.sale_head, self.left_unit = text_label("", 20, True), text_label(tr("min left"), 15)
        fill(line, self.sale_head, None, self.left_words, self.left_unit)
        box.addWidget(head)
        holder, line = line_of((18, 0, 16, 0))
        self.rule = BudgetRule()
        line.addWidget(self.rule)
        box.addWidget(holder)
        self.sale = Column(NONE, 0)
        self.area = scroll_down()
        put_in_scroll(self.area, self.sale)
        box.addWidget(self.area, 1)
        box.addWidget(Rule())
        foot, line = line_of((18, 2, 16, 0), 12)
        self.how = text_label("", 14, color=theme.INK2, wrap=True)
        self.buy_button = QPushButton(tr("Buy"))
        self.buy_button.setProperty("role", "act")
        self.buy_button.clicked.connect(self.buy)
        line.addWidget(self.how, 1)
        line.addWidget(self.buy_button)
        box.addWidget(foot)
        return pane

    def _opinion(self) -> QWidget:
        pane = Pane(theme.HI, "l")
        pane.setFixedWidth(OPINION_WIDTH)
        box = down(pane, (0, 10, 0, 0), 4)
        head, line = line_of((20, 0, 16, 0))
        self.opinion_head = text_label(tr("Your opinion"), 20, True)
        fill(line, self.opinion_head, None, text_label(tr("drag an end; all make 100"), 14, color=theme.INK2))
        box.addWidget(head)
        self.list = Column((20, 0, 16, 0), 0)
        area = scroll_down()
        put_in_scroll(area, self.list)
        box.addWidget(area, 1)
        self.stakes = text_label("", 15, wrap=True)
        self.stakes.setContentsMargins(20, 2, 16, 4)
        box.addWidget(self.stakes)
        self.end = Pane(theme.DYELO, "t")
        inner = down(self.end, (20, 12, 16, 14), 6)
        self.end_head = text_label(tr("Cut it open"), 20, True, theme.SCRIBE)
        self.end_words = text_label("", 14, False, theme.SCRIBE, wrap=True)
        row, line = line_of(gap=16)
        self.open_button = QPushButton(tr("Open, end of buying"))
        self.open_button.setProperty("role", "act")
        self.open_button.clicked.connect(self.open_or_next)
        self.leave = Link(tr("Another one"), 14, on_dye=True)
        self.leave.clicked.connect(self.training.another)
        fill(line, self.open_button, None, self.leave)
        for part in (self.end_head, self.end_words, row):
            inner.addWidget(part)
        box.addWidget(self.end)
        return pane

    # -- what is shown -----------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the sitting."""
        if not self.isVisible():
            return
        sitting = self.training.sitting
        self.training.read_results()
        self.ladder.refresh()
        if self.pages.currentWidget() is not self.ladder:
            self._show_page()
        if self.training.lesson.exercise != "hole":
            return
        if sitting is None:
            self.training.begin()
            return
        if self._seed != (sitting.exercise.seed, sitting.exercise.setting_id):
            self._seed = sitting.exercise.seed, sitting.exercise.setting_id
            self._begin()
        self._show_told()
        self._show_sale()
        self._show_opinion()
        self._show_end()

    def _begin(self) -> None:
        """Another exercise: rows and bars anew."""
        sitting = self.training.sitting
        assert sitting is not None
        self.sale.clear()
        self.list.clear()
        self.rows, self.bars, self.chosen, self.worth = {}, {}, "", []
        others = [m for m in MEASUREMENTS.values() if m.id == "m_second"]  # for sale once the first is measured
        for thing in [*others, *sitting.for_sale()]:
            words, with_ = check_words(thing.id)
            row = CheckRow(thing.id, words, with_, price(thing), sitting.exercise.budget)
            row.clicked.connect(lambda _=False, name=thing.id: self.choose(name))
            self.rows[thing.id] = row
            self.sale.add(row)
        self.sale.box.addStretch(1)
        for name in sitting.exercise.listed:
            bar = OpinionBar(name)
            bar.moved.connect(self.training.think)
            bar.lock_asked.connect(self.training.lock)
            self.bars[name] = bar
            self.list.add(bar)
        self.list.box.addStretch(1)

    def _show_told(self) -> None:
        sitting = self.training.sitting
        assert sitting is not None
        exercise, unit = sitting.exercise, self.selection.unit
        found = exercise.planned
        true = exercise.three if sitting.opened else None
        self.level.setText(self.training.place_words)
        self.section.show_hole(found.hole, sitting.case.sizes, unit, true)
        cut = [o for o in found.route.operations if o.tool is not None]
        order = [f"{tr(o.kind.replace('_', ' '))} {size_shown(o, unit)}".strip() for o in cut]
        facts = [
            (tr("Part"), f"{found.setting.part}, {inner(found.material.name)}"),
            (tr("Made on"), inner(found.machine.name)),
            (tr("Order"), ", ".join(order)),
        ]
        facts += [(tr("Heard"), f"{check_words(q)[0]} {answer_words(q, a, unit)}") for q, a in exercise.heard]
        self.facts.clear()
        for head, words in facts:
            self._fact(head, words)
        if sitting.bought:
            self.facts.add(text_label(tr("Found so far"), 17, True))
        for name, minutes in sitting.bought:
            self._fact(minutes_words(minutes), self.training.found_words(name, unit))
        self.facts.box.addStretch(1)

    def _fact(self, head: str, words: str) -> None:
        row, line = line_of(gap=10)
        label = text_label(head, 14, color=theme.INK2, align=Qt.AlignmentFlag.AlignTop)
        label.setFixedWidth(62)
        line.addWidget(label, 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(text_label(words, 14, wrap=True), 1)
        self.facts.add(row)

    def _show_sale(self) -> None:
        sitting = self.training.sitting
        assert sitting is not None
        on_sale = {thing.id for thing in sitting.for_sale()}
        chosen = self.rows.get(self.chosen)
        if self.chosen not in on_sale or sitting.opened:
            self.chosen, chosen = "", None
        self.left_words.setText(localized(f"{sitting.left:g}"))
        for part in (self.left_words, self.left_unit):
            part.setVisible(not sitting.opened)
        spent = tuple(minutes for _, minutes in sitting.bought)
        self.rule.show_minutes(sitting.exercise.budget, spent, chosen.minutes if chosen is not None else 0.0)
        for name, row in self.rows.items():
            row.setVisible(name in on_sale and not sitting.opened)
            row.setChecked(name == self.chosen)
            row.show_left(sitting.left)
        reach = chosen is not None and not chosen.short
        self.buy_button.setEnabled(reach)
        self.buy_button.setText(
            tr("Buy, {minutes_words}", minutes_words=minutes_words(chosen.minutes))
            if chosen is not None
            else tr("Buy")
        )
        words = tr("Ask what would change your mind most. A minute kept stretches the score.")
        if chosen is not None:
            words = (
                questions()[self.chosen].how
                if self.chosen in questions()
                else tr("With the {with_}.", with_=tr(chosen.with_))
            )
        self.how.setText(words if not sitting.opened else self.training.engine_words)
        self.buy_button.setVisible(not sitting.opened)
        self.sale_head.setText(tr("What each check was worth") if sitting.opened else tr("Buy a check"))
        self._show_worth()

    def _show_worth(self) -> None:
        """Once it is open: how far each check should have moved an opinion, one's own and the program's."""
        sitting = self.training.sitting
        assert sitting is not None
        if not sitting.opened or self.worth:
            return
        solved = self.training.solved
        groups = [(tr("What you bought"), self.training.worth)]
        groups += [(tr("What the program would buy"), list(solved.bought))] if solved is not None else []
        most = max([bits for _, checks in groups for _, bits in checks] + [0.1])
        for place, (head, checks) in enumerate(groups):
            rows: list[QWidget] = [text_label(head, 17, True)]
            rows[0].setContentsMargins(18, 6 if place else 0, 0, 0)
            rows += [WorthRow(check_words(name)[0], bits, most) for name, bits in checks]
            if not checks:
                rows.append(text_label(tr("Nothing."), 15, color=theme.INK2))
                rows[-1].setContentsMargins(18, 0, 0, 0)
            for row in rows:
                self.sale.box.insertWidget(self.sale.box.count() - 1, row)
                self.worth.append(row)

    def _show_opinion(self) -> None:
        sitting = self.training.sitting
        assert sitting is not None
        most = 100 * max(sitting.shares.values())
        full = FULL if most <= FULL else 100.0
        true = {name: 100.0 / len(sitting.exercise.truth) for name in sitting.exercise.truth}
        for name, bar in self.bars.items():
            told = true.get(name, 0.0) if sitting.opened else None
            bar.show_share(
                100 * sitting.shares[name], 100 * sitting.before[name], full, name in sitting.locked, told
            )
        if sitting.opened:
            self.stakes.setText(tr("Brass stroke: what it was."))
            return
        first, (least, best) = prices(sitting.shares, sitting.left, sitting.exercise.budget)
        self.stakes.setText(
            tr(
                "If the longest is it, you score {first:.0f}; if another is, {least:.0f} to "
                "{best:.0f}. All alike scores 0.",
                first=first,
                least=least,
                best=best,
            )
        )

    def _show_end(self) -> None:
        sitting = self.training.sitting
        assert sitting is not None
        if not sitting.opened:
            self.end_head.setText(tr("Cut it open"))
            self.end_words.setText(
                tr("Shows what it was, what each check was worth, and what would have been asked first.")
            )
            self.open_button.setText(tr("Open, end of buying"))
            self.leave.show()
            return
        self.leave.hide()
        truth = sitting.exercise.truth
        self.end_head.setText(tr(" and ").join(cause_words(name) for name in truth))
        lines = [causes()[name].mechanism for name in truth if name != UNEXPLAINED]
        lines.append(
            tr("{points:.0f} points. {verdict}", points=self.training.points, verdict=self.training.verdict)
        )
        self.end_words.setText("\n".join(filter(None, lines)))
        self.open_button.setText(tr("Next hole"))

    # -- what is done ------------------------------------------------------------------------------

    def show_ladder(self) -> None:
        """All lessons, and how far one is."""
        self.ladder.refresh()
        self.at_hole = False
        self.pages.setCurrentWidget(self.ladder)

    def _choose_lesson(self, lesson: Lesson) -> None:
        self.training.choose(lesson)
        self._show_page()

    def _show_page(self) -> None:
        """The page of the lesson at hand, with something to do on it."""
        lesson = self.training.lesson
        page = {"scales": self.questions, "drills": self.questions, "plan": self.plan}.get(
            lesson.exercise, self.hole
        )
        if page is self.questions:
            self.quiz.begin(lesson)
        elif page is self.plan:
            self.plan_try.begin(lesson)
        self.at_hole = page is self.hole
        if self.pages.currentWidget() is not page:
            self.pages.setCurrentWidget(page)

    def choose(self, name: str) -> None:
        """A check in hand; pressed again it is bought."""
        if name == self.chosen:
            self.buy()
            return
        self.chosen = name
        self._show_sale()

    def buy(self) -> None:
        """Buy the check in hand."""
        if self.chosen and not self.rows[self.chosen].short:
            self.training.buy(self.chosen)

    def open_or_next(self) -> None:
        """Cut it open, or go on to the next."""
        sitting = self.training.sitting
        if sitting is not None and sitting.opened:
            self.training.another()
        else:
            self.training.open()

    def event(self, event: QEvent | None) -> bool:
        """Its own keys before the window's, unless something is typed."""
        if not self.at_hole:
            return super().event(event)
        typing = isinstance(QApplication.focusWidget(), QLineEdit)
        return (not typing and keeps(event, OWN_KEYS)) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """B buys; 1 to 9 a check; Ctrl+Enter opens."""
        if event is None:
            return
        if not self.at_hole:
            super().keyPressEvent(event)
            return
        visible = [name for name, row in self.rows.items() if not row.isHidden()]
        number = event.key() - Qt.Key.Key_1
        if event.key() == Qt.Key.Key_B:
            self.buy()
        elif (
            event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            and event.modifiers() & Qt.KeyboardModifier.ControlModifier
        ):
            self.open_or_next()
        elif 0 <= number < 9 and number < len(visible):
            self.choose(visible[number])
        else:
            super().keyPressEvent(event)
