"""Scales to read and drills to know: a figure, a question, the clock as a length, the answer and its working."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QPainter, QPen, QShowEvent
from PyQt6.QtWidgets import QPushButton, QWidget

from cordwainer.core.language import tr
from cordwainer.core.training.spacing import progress
from cordwainer.ui.desk.quiz import Quiz
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, Pressable, draw_focus, text_label
from cordwainer.ui.kit.keys import keeps
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, write
from cordwainer.ui.stages.train.figures import FigureView

ASK_WIDTH, TICK_MS = 470, 500
OWN_KEYS = frozenset(Qt.Key(Qt.Key.Key_1 + k) for k in range(6))
LONGEST = 3.0  # the clock's length in practiced hands' times


@layered
class ClockBar(QWidget):
    """Seconds as a length, with a stroke where a practiced hand is done."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(44)
        self.seconds, self.par = 0.0, 1.0

    def show_time(self, seconds: float, par: float) -> None:
        """Show how long it has taken."""
        self.seconds, self.par = seconds, par
        self.setAccessibleName(
            tr("{seconds:.0f} seconds; a practiced hand takes {par:.0f}", seconds=seconds, par=par)
        )
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Steel for the time there is, brass for what is gone."""
        bar = QRectF(0, 4, self.width() - 1, 16)
        painter.fillRect(bar, theme.LO)
        share = min(self.seconds / (LONGEST * self.par), 1.0)
        painter.fillRect(
            QRectF(0, 4, bar.width() * share, 16), theme.BRASS if self.seconds <= self.par else theme.INK
        )
        x = bar.width() / LONGEST
        painter.setPen(QPen(theme.INK, 2))
        painter.drawLine(int(x), 0, int(x), 24)
        write(painter, QRectF(0, 22, 200, 20), f"{self.seconds:.0f} s", 14, True)
        write(
            painter,
            QRectF(x + 8, 22, 260, 20),
            tr("a practiced hand: {par:.0f} s", par=self.par),
            14,
            color=theme.INK2,
        )


@layered
class ChoiceRow(Pressable):
    """One of the answers, with the key that takes it."""

    def __init__(self, number: int, words: str) -> None:
        super().__init__(words)
        self.number, self.words, self.state = number, words, ""
        self.setMinimumHeight(54)

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(400, 54)

    def show_state(self, state: str) -> None:
        """`right`, `wrong` or nothing yet."""
        self.state = state
        self.setEnabled(not state)
        self.setAccessibleDescription({"right": tr("right"), "wrong": tr("your answer, wrong")}.get(state, ""))
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Its number in a box; brass edge where it is right, struck through where it was taken and wrong."""
        ground = theme.HI if self.hovered and not self.state else theme.PLATE
        painter.fillRect(self.rect(), ground)
        if self.state == "right":
            painter.fillRect(QRectF(0, 0, 8, self.height()), theme.BRASS)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5))
        write(painter, QRectF(18, 0, 30, self.height()), str(self.number), 17, True, theme.INK2)
        painter.setFont(theme.font(17, self.state == "right"))
        painter.setPen(theme.INK)
        box = QRectF(48, 2, self.width() - 60, self.height() - 4)
        painter.drawText(box, int(Qt.AlignmentFlag.AlignVCenter) | int(Qt.TextFlag.TextWordWrap), self.words)
        if self.state == "wrong":
            painter.setPen(QPen(theme.INK, 2))
            painter.drawLine(44, self.height() // 2, self.width() - 16, self.height() // 2)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class QuestionPage(QWidget):
    """The figure at the left, what is asked and answered at the right."""

    choices: tuple[ChoiceRow, ...] = ()

    ladder_asked = pyqtSignal()

    def __init__(self, quiz: Quiz) -> None:
        super().__init__()
        self.quiz = quiz
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._shown: object = None
        self._typing = False
        line = across(self, NONE, 0)
        self.figure = FigureView()
        line.addWidget(self.figure, 1)
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(ASK_WIDTH)
        box = down(pane, (24, 14, 24, 18), 10)
        head, row = line_of(gap=10)
        self.place = text_label("", 20, True)
        self.level = Link(tr("All lessons"), 14)
        self.level.clicked.connect(self.ladder_asked.emit)
        fill(row, self.place, None, self.level)
        self.asked = text_label("", 20, wrap=True)
        self.clock = ClockBar()
        self.list = Column(NONE, 6)
        self.field = Field(tr("Your answer"), 24, True)
        self.field.returnPressed.connect(self._typed)
        self.why = text_label("", 15, True, wrap=True)
        self.verdict = text_label("", 24, True, wrap=True)
        self.working = text_label("", 16, wrap=True)
        self.so_far = text_label("", 15, color=theme.INK2, wrap=True)
        self.next = QPushButton(tr("Next"))
        self.next.setProperty("role", "act")
        self.next.clicked.connect(quiz.another)
        for part in (head, self.asked, self.clock, self.list, self.field, self.why, self.verdict, self.working):
            box.addWidget(part)
        box.addStretch(1)
        fill(box, self.so_far, self.next)
        line.addWidget(pane)
        self._tick = QTimer(self)
        self._tick.setInterval(TICK_MS)
        self._tick.timeout.connect(self._show_clock)
        quiz.changed.connect(self.refresh)

    def showEvent(self, event: QShowEvent | None) -> None:
        """The clock runs while it is seen."""
        super().showEvent(event)
        self._tick.start()
        self.refresh()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing to tick for."""
        super().hideEvent(event)
        self._tick.stop()

    def refresh(self) -> None:
        """Mirror the question."""
        quiz = self.quiz
        question, lesson = quiz.question, quiz.lesson
        if question is None or lesson is None or not self.isVisible():
            return
        if question is not self._shown:
            self._begin()
        answered = quiz.right is not None
        self.place.setText(f"{lesson.name}, {quiz.number}")
        self.why.setText(quiz.why)
        self.why.setVisible(bool(quiz.why))
        for row in self.choices:
            state = ""
            if answered:
                state = (
                    tr("right")
                    if row.words == question.right
                    else (tr("wrong") if row.words == quiz.answer else "no")
                )
            row.show_state(state)
        self.field.setReadOnly(answered)
        words = (
            tr("Right, {points:.0f} points.", points=quiz.points)
            if quiz.right
            else tr("No. {right}.", right=question.right)
        )
        self.verdict.setText(words if answered else "")
        self.working.setText(question.working if answered else "")
        made = progress(self.quiz.training.results, lesson.id)
        self.so_far.setText(
            tr("{right} of {made} right so far", right=made.right, made=made.made) if made.made else ""
        )
        self.next.setEnabled(answered)
        if answered:
            self.next.setFocus()
        self._show_clock()

    def _begin(self) -> None:
        question = self.quiz.question
        assert question is not None
        self._shown = question
        self.figure.show_figure(question.figure)
        self.asked.setText(question.words)
        self.list.clear()
        self.choices = tuple(ChoiceRow(k, words) for k, words in enumerate(question.choices, 1))
        for row in self.choices:
            row.clicked.connect(lambda _=False, words=row.words: self.quiz.give(words))
            self.list.add(row)
        self.list.setVisible(bool(self.choices))
        self.field.setVisible(not self.choices)
        self.field.clear()
        hint = tr("turns and divisions, such as 3 and 27") if question.turns is not None else question.unit
        self.field.setPlaceholderText(hint)
        if self.choices:
            self.setFocus()
        else:
            self.field.setFocus()

    def _show_clock(self) -> None:
        question = self.quiz.question
        if question is not None:
            self.clock.show_time(self.quiz.elapsed, question.par_s)

    def _typed(self) -> None:
        self._typing = True  # the field passes its Enter on to the page
        if self.quiz.right is None:
            self.quiz.give(self.field.text())
        else:
            self.quiz.another()

    def event(self, event: QEvent | None) -> bool:
        """Its own keys before the window's, unless something is typed."""
        return (bool(self.choices) and keeps(event, OWN_KEYS)) or super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """1 to 4 answer; Enter goes on."""
        typed, self._typing = self._typing, False
        if event is None or typed:
            return
        number = event.key() - Qt.Key.Key_1
        if 0 <= number < len(self.choices) and self.quiz.right is None:
            self.quiz.give(self.choices[number].words)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.quiz.right is not None:
            self.quiz.another()
        else:
            super().keyPressEvent(event)
