"""The exercise at hand: begun beside the window, bought at, thought about, cut open; what was learned is kept."""

from __future__ import annotations

import random
from datetime import datetime
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.ui.desk.background import FIRST, MODEL, Answer, Background, Turn

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

    from cordwainer.core.training.course import Course, Lesson
    from cordwainer.core.training.engine import Solved
    from cordwainer.core.training.exercise import Exercise, Sitting
    from cordwainer.core.training.spacing import Result
    from cordwainer.files.places import Settings
    from cordwainer.logbook.book import Book
    from cordwainer.ui.desk.log import Log

NEXT_EXERCISE = "exercise"
RIGHT = 0.6  # of a hundred on what is true: judged right


class Training(QObject):
    """One sitting at a time."""

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(
        self,
        background: Background,
        log: Log,
        settings: Settings,
        seed: Callable[[], int] = lambda: random.randrange(2**31),
        today: Callable[[], datetime] = lambda: datetime.now().astimezone(),
    ) -> None:
        super().__init__()
        self.background, self.log, self.settings = background, log, settings
        self.new_seed, self.today = seed, today
        self.results: list[Result] = []
        self._course: Course | None = None
        self._read = False
        self.sitting: Sitting | None = None
        self.solved: Solved | None = None
        self.worth: list[tuple[str, float]] = []
        self.points = 0.0
        self.number = 0
        self.last: tuple[str, tuple[str, ...]] | None = None
        self._lesson: Lesson | None = None

    # -- beginning ---------------------------------------------------------------------------------

    @property
    def learner(self) -> str:
        """Who learns, by name; without one it is whoever sits here."""
        return str(self.settings.get("learner", ""))

    def set_learner(self, name: str) -> None:
        """Another learner: the results are his own."""
        self.settings.put("learner", name.strip()[:80])
        self._read = False
        self.read_results()

    @property
    def course(self) -> Course:
        """The course at hand: the ladder that ships, unless another was opened."""
        if self._course is None:
            from cordwainer.core.training.course import ladder

            self._course = ladder()
        return self._course

    def open_course(self, path: Path) -> None:
        """A teacher's own course. Raises `InputError`."""
        from cordwainer.core.training.course import read_course

        self._course = read_course(path)
        self._lesson, self.sitting = None, None
        self.changed.emit()

    @property
    def lesson(self) -> Lesson:
        """The lesson at hand: the first of the course."""
        return self._lesson or self.course.lessons[0]

    def read_results(self) -> None:
        """Read what this learner has made before."""
        if self._read:
            return
        self._read = True
        learner = self.learner

        def read(book: Book) -> object:
            from cordwainer.logbook.training import results

            return results(book, learner)

        def then(found: object) -> None:
            assert isinstance(found, list)
            self.results = found
            self.changed.emit()

        self.log.ask(read, then, "trained")

    def choose(self, lesson: Lesson) -> None:
        """Another lesson, from its next exercise on."""
        self._lesson, self.number = lesson, 0
        if lesson.exercise == "hole":
            self.another()
        else:
            self.changed.emit()

    @property
    def place_words(self) -> str:
        """Where in the lesson."""
        return tr("{lesson}, hole {number}", lesson=self.lesson.name, number=self.number)

    def begin(self) -> None:
        """The first exercise, unless one is there or under way."""
        if self.sitting is None and not self.background.under_way(NEXT_EXERCISE):
            self.another()

    def another(self) -> None:
        """The next exercise of the lesson, made beside the window."""
        from cordwainer.core.training.spacing import due

        asked = (self.lesson, self.new_seed(), self.last, due(self.results, self.today().date()))

        def work(_asked: object, turn: Turn) -> tuple[Exercise, Solved]:
            from cordwainer.core.training.course import exercise_for

            return exercise_for(*asked)

        self.background.ask(
            NEXT_EXERCISE, asked, work, self._take, lane=MODEL, urgency=FIRST, words=tr("Making a hole to judge")
        )

    def _take(self, answer: Answer) -> None:
        from cordwainer.core.training.exercise import Sitting

        if answer.value is None:
            return
        exercise, self.solved = answer.value
        self.sitting = Sitting(exercise)
        self.last = exercise.setting_id, exercise.causes
        self.worth, self.points = [], 0.0
        self.number += 1
        self.changed.emit()

    # -- at it -------------------------------------------------------------------------------------

    def buy(self, name: str) -> None:
        """Buy a check; what it is worth is kept for later."""
        from cordwainer.core.training.engine import bits

        sitting = self.sitting
        if sitting is None or sitting.opened:
            return
        before = sitting.exercise.shares(sitting.case)
        try:
            sitting.buy(name)
        except ValueError:
            return
        self.worth.append((name, bits(before, sitting.exercise.shares(sitting.case))))
        self.changed.emit()

    def found_words(self, name: str, unit: str) -> str:
        """What a check that was bought told."""
        from cordwainer.core.diagnosis.evidence import mean
        from cordwainer.core.diagnosis.knowledge import answer_words, questions
        from cordwainer.core.training.exercise import MEASUREMENTS

        sitting = self.sitting
        assert sitting is not None
        case = sitting.case
        if name == "m_place":
            ends = (case.offset.entry_mm or 0.0, case.offset.exit_mm or 0.0)
            near, far = (in_unit(end, unit, 2, 3) for end in ends)
            return tr(
                "Off its place: {near} {unit} at the mouth, {far} {unit} at the far end",
                near=near,
                unit=unit,
                far=far,
            )
        if name == "m_second":
            told = ", ".join(in_unit(size, unit, 3, 4) for size in sitting.exercise.second_read())
            return tr("Another hole cut the same way: {told} {unit}", told=told, unit=unit)
        if name in MEASUREMENTS:
            sizes = [mean(s) for s in (case.sizes.entry, case.sizes.middle, case.sizes.exit)]
            told = ", ".join(in_unit(s, unit, 3, 4) for s in sizes if s is not None)
            return f"{MEASUREMENTS[name].words}: {told} {unit}"
        return f"{questions()[name].text} {answer_words(name, case.answers[name], unit)}"

    def think(self, name: str, share: float) -> None:
        """Another share for a cause, of a hundred; the others make room."""
        from cordwainer.core.training.scoring import shifted

        sitting = self.sitting
        if sitting is not None and not sitting.opened and name not in sitting.locked:
            sitting.shares = shifted(sitting.shares, name, share / 100, tuple(sitting.locked))
            self.changed.emit()

    def lock(self, name: str) -> None:
        """Keep a share whatever the others do, or let it go."""
        sitting = self.sitting
        if sitting is not None:
            sitting.locked ^= {name}
            self.changed.emit()

    # -- the end -----------------------------------------------------------------------------------

    def open(self) -> None:
        """Cut it open: nothing more is bought, the points stand."""
        from cordwainer.core.training.scoring import score

        sitting = self.sitting
        if sitting is None or sitting.opened:
            return
        sitting.opened = True
        exercise = sitting.exercise
        self.points = score(sitting.shares, exercise.truth, sitting.left, exercise.budget)
        self._keep()
        self.changed.emit()

    def _keep(self) -> None:
        """The result, into the logbook's database."""
        from cordwainer.core.training.spacing import Result

        sitting = self.sitting
        assert sitting is not None
        exercise, at = sitting.exercise, self.today()
        right = sum(sitting.shares[name] for name in exercise.truth) >= RIGHT
        spent = exercise.budget - sitting.left
        self.keep(
            Result(
                self.learner, self.lesson.id, exercise.seed, exercise.setting_id, exercise.causes, at.date(),
                right, self.points, spent,
            )
        )  # fmt: skip

    def keep(self, result: Result) -> None:
        """A result, into the logbook's database."""
        at = self.today()
        self.results.append(result)

        def put(book: Book) -> None:
            from cordwainer.logbook.training import keep_result

            keep_result(book, result, at)

        self.log.ask(put)

    @property
    def verdict(self) -> str:
        """The points in words: what they reward."""
        sitting = self.sitting
        if sitting is None:
            return ""
        truth = sum(sitting.shares[name] for name in sitting.exercise.truth)
        leader = max(sitting.shares.values())
        if truth >= 0.6:
            return tr("You had it, and were as sure as you could be.") if truth >= 0.85 else tr("You had it.")
        if leader >= 0.6:
            return tr("Sure of another: that costs most.")
        return tr("Honest doubt loses little; one more check would have told.")

    @property
    def engine_words(self) -> str:
        """Where the program would have stood."""
        if self.solved is None or self.sitting is None:
            return ""
        had = 100 * sum(self.solved.shares.get(name, 0.0) for name in self.sitting.exercise.truth)
        return tr(
            "The program would stand at {had:.0f} in 100 with {left:g} min left.", had=had, left=self.solved.left
        )
