"""Short questions against the clock: asked, answered once, judged; what was missed comes again."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence

if TYPE_CHECKING:
    from cordwainer.core.training.course import Lesson
    from cordwainer.core.training.questions import Question
    from cordwainer.ui.desk.stock import Stock
    from cordwainer.ui.desk.training import Training


class Quiz(QObject):
    """One question at a time; `right` is None until it is answered."""

    changed = pyqtSignal()

    def __init__(self, training: Training, stock: Stock, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__()
        self.training, self.stock, self.clock = training, stock, clock
        self.lesson: Lesson | None = None
        self.question: Question | None = None
        self.answer, self.why = "", ""
        self.right: bool | None = None
        self.seconds, self.points, self.number = 0.0, 0.0, 0
        self._begun = 0.0

    def begin(self, lesson: Lesson) -> None:
        """The first question of a lesson, unless one of it stands there."""
        if lesson is not self.lesson:
            self.lesson, self.number, self.question = lesson, 0, None
        if self.question is None:
            self.another()

    def another(self) -> None:
        """The next question; its clock runs from now."""
        from cordwainer.core.training import drills, scales
        from cordwainer.core.training.spacing import due

        assert self.lesson is not None
        training = self.training
        again = due(training.results, training.today().date())
        last = self.question.about if self.question is not None else ""
        self._seed = training.new_seed()
        if self.lesson.exercise == "scales":
            self.question = scales.question(self._seed, last, again, self.stock.machines)
        else:
            self.question = drills.question(self._seed, last, again)
        self.answer, self.why, self.right, self.points = "", "", None, 0.0
        self.number += 1
        self._begun = self.clock()
        self.changed.emit()

    @property
    def elapsed(self) -> float:
        """Seconds since it was asked; those it took once it is answered."""
        return self.seconds if self.right is not None else self.clock() - self._begun

    def give(self, answer: str) -> None:
        """Answer it. One that cannot be read is said and costs nothing but time."""
        from cordwainer.core.training.questions import points
        from cordwainer.core.training.spacing import Result

        question = self.question
        if question is None or self.right is not None or not answer.strip():
            return
        seconds = self.elapsed
        try:
            right = question.judged(answer)
        except InputError as bad:
            self.why = f"{sentence(str(bad))}."
            self.changed.emit()
            return
        self.answer, self.why, self.right, self.seconds = answer, "", right, seconds
        self.points = points(right, seconds, question.par_s)
        training = self.training
        assert self.lesson is not None
        training.keep(
            Result(
                training.learner, self.lesson.id, self._seed, question.kind, (question.about,),
                training.today().date(), right, self.points, seconds / 60,
            )
        )  # fmt: skip
        self.changed.emit()
