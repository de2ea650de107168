"""The ladder: a rung a lesson, how far the learner is, and who that is."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen

from cordwainer.core.language import tr
from cordwainer.core.training.course import Lesson
from cordwainer.core.training.spacing import Progress, due, progress
from cordwainer.ui.desk.training import Training
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pressable, draw_ring, put_in_scroll, text_label
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import RIGHT, fill, line_of, scroll_down, write

ROW_HEIGHT, FULL_POINTS = 62, 150.0
KINDS = {
    "hole": tr("read a hole"),
    "plan": tr("plan a hole"),
    "scales": tr("read a scale"),
    "drills": tr("know a drill"),
}


@layered
class Rung(Pressable):
    """A lesson: its name, exercises made as ticks, right ones filled, the points of the last ten as a length."""

    def __init__(self, lesson: Lesson) -> None:
        super().__init__(lesson.name)
        self.lesson = lesson
        self.made = Progress(0, 0, 0.0)
        self.current = False
        self.setFixedHeight(ROW_HEIGHT)

    def show_progress(self, made: Progress, current: bool) -> None:
        """Show how far it is."""
        self.made, self.current = made, current
        told = (
            tr(
                "{right} of {made} right, {points:.0f} points",
                right=made.right,
                made=made.made,
                points=made.points,
            )
            if made.made
            else tr("not begun")
        )
        self.setAccessibleName(
            tr("{lesson}: {told}{at}", lesson=self.lesson.name, told=told, at=tr(", at hand") if current else "")
        )
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Between two rails, ink where at hand."""
        wide, made = self.width(), self.made
        ground = theme.INK if self.current else (theme.HI if self.hovered else theme.PLATE)
        ink, soft = (theme.HI, theme.HAIR) if self.current else (theme.INK, theme.INK2)
        painter.fillRect(self.rect(), ground)
        if self.current:
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(0, self.height() - 1, wide, self.height() - 1)
        write(painter, QRectF(24, 6, 300, 26), self.lesson.name, 17, True, ink)
        words = tr("{right} of {made} right", right=made.right, made=made.made) if made.made else tr("not begun")
        write(painter, QRectF(24, 32, 320, 22), f"{KINDS[self.lesson.exercise]}, {words}", 14, False, soft)
        wanted = self.lesson.count
        for k in range(wanted):
            center = QPointF(350 + 22 * k, self.height() / 2)
            painter.setPen(QPen(ink, 1.4))
            done = k < made.made
            painter.setBrush(theme.BRASS if k < made.right else (soft if done else Qt.BrushStyle.NoBrush))
            painter.drawEllipse(center, 7, 7)
        if made.made:
            left, room = 350 + 22 * wanted + 20, wide - 350 - 22 * wanted - 130
            share = min(max(made.points, 0.0) / FULL_POINTS, 1.0)
            painter.fillRect(QRectF(left, self.height() / 2 - 5, room, 10), theme.LO)
            bar = QRectF(left, self.height() / 2 - 5, room * share, 10)
            painter.fillRect(bar, theme.BRASS if self.current else theme.INK)
            points = tr("{points:.0f} points", points=made.points)
            write(painter, QRectF(wide - 110, 16, 92, 28), points, 15, True, ink, RIGHT)
        if self.ring:
            draw_ring(painter, QRectF(self.rect()).adjusted(2, 2, -3, -3))


class Ladder(Column):
    """The lessons of the course at hand, a rung each."""

    chosen = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, training: Training) -> None:
        super().__init__((0, 12, 0, 12), 8)
        self.training = training
        self.rungs: list[Rung] = []
        self._course: object = None
        head, line = line_of((24, 0, 24, 0), 14)
        self.name = text_label("", 22, True)
        self.due = text_label("", 15, color=theme.INK2)
        self.learner = Field(tr("Who learns"), 15, True)
        self.learner.setPlaceholderText(tr("your name"))
        self.learner.setFixedWidth(170)
        self.learner.kept.connect(training.set_learner)
        back = Link(tr("Back to the lesson"), 15)
        back.clicked.connect(self.left.emit)
        fill(line, self.name, self.due, None, text_label(tr("Learner"), 15), self.learner, back)
        self.add(head)
        self.list = Column((0, 0, 0, 0), 0)
        area = scroll_down()
        put_in_scroll(area, self.list)
        self.add(area, 1)
        words = tr(
            "Nothing is scrapped here and nothing is sent anywhere: results stay in this bench's logbook file. "
            "What was missed comes again, by Leitner's boxes: after 1, 2, 4, 8 days."
        )
        foot, line = line_of((24, 0, 24, 0))
        line.addWidget(text_label(words, 14, color=theme.INK2, wrap=True), 1)
        self.add(foot)

    def refresh(self) -> None:
        """Mirror the course and what was made of it."""
        training = self.training
        course = training.course
        if course is not self._course:
            self._course = course
            self.list.clear()
            self.rungs = []
            for lesson in course.lessons:
                rung = Rung(lesson)
                rung.clicked.connect(lambda _=False, at=lesson: self.chosen.emit(at))
                self.list.add(rung)
                self.rungs.append(rung)
            self.list.box.addStretch(1)
        self.name.setText(course.name)
        again = len(due(training.results, training.today().date()))
        many = tr("thing is") if again == 1 else tr("things are")
        self.due.setText(tr("{again} {many} to come again", again=again, many=many) if again else "")
        if not self.learner.hasFocus():
            self.learner.setText(training.learner)
        for rung in self.rungs:
            rung.show_progress(progress(training.results, rung.lesson.id), rung.lesson is training.lesson)
