"""A hole to plan: steps laid down one after the other, then run on the model and held against the program's."""

from __future__ import annotations

import random
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.language import sentence, tr
from cordwainer.ui.desk.background import FIRST, MODEL, Answer, Background, Turn

if TYPE_CHECKING:
    from cordwainer.core.training.course import Lesson
    from cordwainer.core.training.planning import Judged, Laid
    from cordwainer.core.training.settings import Setting
    from cordwainer.ui.desk.training import Training

RUN = tr("plan laid down")
RIGHT = 80.0  # points from which a sequence counts as right


class PlanTry(QObject):
    """One hole at a time; only its first run counts, more may be tried."""

    changed = pyqtSignal()

    def __init__(self, training: Training, background: Background) -> None:
        super().__init__()
        self.training, self.background = training, background
        self.lesson: Lesson | None = None
        self.setting: Setting | None = None
        self.steps: list[Laid] = []
        self.judged: Judged | None = None
        self.why = ""
        self.number, self.counted = 0, False
        self._seed = 0

    def begin(self, lesson: Lesson) -> None:
        """The first hole of a lesson, unless one of it stands there."""
        if lesson is not self.lesson:
            self.lesson, self.number, self.setting = lesson, 0, None
        if self.setting is None:
            self.another()

    def another(self) -> None:
        """The next hole, never the last again."""
        from cordwainer.core.training.settings import settings

        assert self.lesson is not None
        names = [name for name in self.lesson.holes or tuple(settings()) if self.setting != settings()[name]]
        self._seed = self.training.new_seed()
        self.setting = settings()[random.Random(self._seed).choice(names or list(self.lesson.holes))]
        self.steps, self.judged, self.why, self.counted = [], None, "", False
        self.number += 1
        self.changed.emit()

    def add(self, kind: str, size: str = "") -> None:
        """One step more at the end; one that is not to be had is said and not laid down."""
        from cordwainer.core.errors import InputError
        from cordwainer.core.training.planning import Laid, wishes_of
        from cordwainer.core.training.settings import planned

        assert self.setting is not None
        laid = Laid(kind, size.strip())
        try:
            wishes_of([*self.steps, laid], planned(self.setting.id))
        except InputError as bad:
            self.why = f"{sentence(str(bad))}."
        else:
            self.steps, self.why, self.judged = [*self.steps, laid], "", None
        self.changed.emit()

    def take_away(self, place: int) -> None:
        """Without a step."""
        self.steps = [laid for k, laid in enumerate(self.steps) if k != place]
        self.judged, self.why = None, ""
        self.changed.emit()

    def move(self, place: int, by: int) -> None:
        """A step earlier or later."""
        to = place + by
        if 0 <= to < len(self.steps):
            steps = list(self.steps)
            steps.insert(to, steps.pop(place))
            self.steps, self.judged = steps, None
            self.changed.emit()

    def run(self) -> None:
        """Have it judged, beside the window."""
        from cordwainer.core.training.planning import judged

        if self.setting is None or not self.steps:
            return
        asked = (self.setting.id, tuple(self.steps))

        def work(_asked: object, _turn: Turn) -> Judged:
            return judged(*asked)

        self.background.ask(
            RUN, asked, work, lambda answer: self._take(asked, answer), lane=MODEL, urgency=FIRST,
            words=tr("Running your sequence"),
        )  # fmt: skip

    def _take(self, asked: tuple[str, tuple[Laid, ...]], answer: Answer) -> None:
        from cordwainer.core.training.spacing import Result

        if self.setting is None or asked != (self.setting.id, tuple(self.steps)):
            return
        if answer.value is None:
            self.why = answer.why
            self.changed.emit()
            return
        self.judged, self.why = answer.value, ""
        if not self.counted and self.lesson is not None:
            self.counted = True
            points, training = self.judged.points, self.training
            training.keep(
                Result(
                    training.learner, self.lesson.id, self._seed, self.setting.id, (f"plan {self.setting.id}",),
                    training.today().date(), points >= RIGHT, points, 0.0,
                )
            )  # fmt: skip
        self.changed.emit()
