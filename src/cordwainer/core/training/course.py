"""Courses: ladders of lessons as data, a teacher's own among them, and exercises made to be fair."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from cordwainer.core.diagnosis.applies import family
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.tables import document
from cordwainer.core.training.engine import Solved, solve
from cordwainer.core.training.exercise import Exercise, allowed
from cordwainer.core.training.settings import planned, settings

EXERCISES = ("hole", "plan", "scales", "drills")
FORMAT, VERSION = "cordwainer-course", 1
TRIES, PATIENT, STEP, AGAIN = 200, 20, 1_000_003, 6.0
LEAST_BUDGET, MOST_BUDGET = 8.0, 40.0
MOST_LESSONS, MOST_NAME = 200, 80


@dataclass(frozen=True)
class Lesson:
    """One rung: which holes, which families of faults, how often nothing or two things are wrong, what it takes.

    `holes` and `families` empty for all; `nothing` and `two` are shares of exercises; `budget` in minutes. The
    `exercise` is a ``hole`` to read, one to ``plan``, ``scales`` to read or ``drills`` to know.
    """

    id: str
    name: str
    holes: tuple[str, ...] = ()
    families: tuple[str, ...] = ()
    nothing: float = 0.1
    two: float = 0.0
    budget: float = 24.0
    count: int = 10
    exercise: str = "hole"


@dataclass(frozen=True)
class Course:
    """Lessons in order."""

    name: str
    lessons: tuple[Lesson, ...]

    def lesson(self, identifier: str) -> Lesson:
        """A lesson by its id. Raises `InputError`."""
        for lesson in self.lessons:
            if lesson.id == identifier:
                return lesson
        known = ", ".join(f"'{lesson.id}'" for lesson in self.lessons)
        raise InputError(
            "lesson",
            tr(
                "'{identifier}' is no lesson of {name}; write one of {known}",
                identifier=identifier,
                name=self.name,
                known=known,
            ),
        )


@cache
def ladder() -> Course:
    """The course that ships: from the first hole to two things wrong at once."""
    return course_of(document("training/course.json"))


def course_of(data: Any) -> Course:
    """A course from its file's object. Raises `InputError` with the place."""
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InputError("format", tr("a course says '{format}' here", format=FORMAT))
    if not isinstance(data.get("version"), int) or data["version"] > VERSION:
        raise InputError("version", tr("this program reads courses up to version {version}", version=VERSION))
    raw = data.get("lessons")
    if not isinstance(raw, list) or not 0 < len(raw) <= MOST_LESSONS:
        raise InputError("lessons", tr("a list of 1 to {most_lessons} lessons", most_lessons=MOST_LESSONS))
    lessons = tuple(_lesson(entry, f"lessons[{k}]") for k, entry in enumerate(raw))
    if len({lesson.id for lesson in lessons}) < len(lessons):
        raise InputError("lessons", tr("two lessons have the same id"))
    return Course(_text(data, "name", "course"), lessons)


def _lesson(entry: Any, where: str) -> Lesson:
    if not isinstance(entry, dict):
        raise InputError(where, tr("a lesson is an object with an id and a name"))
    known = {
        "holes": ([*settings()], _names(entry, "holes", where)),
        "families": (FAMILIES, _names(entry, "families", where)),
    }
    for key, (all_, named) in known.items():
        for name in named:
            if name not in all_:
                raise InputError(
                    f"{where}.{key}", tr("'{name}' is not known; write of {all}", name=name, all=", ".join(all_))
                )
    shares = {
        key: _number(entry, key, where, default, 0.0, 1.0) for key, default in (("nothing", 0.1), ("two", 0.0))
    }
    return Lesson(
        _text(entry, "id", where), tr(_text(entry, "name", where)), known["holes"][1], known["families"][1],
        shares["nothing"], shares["two"], _number(entry, "budget", where, 24.0, LEAST_BUDGET, MOST_BUDGET),
        int(_number(entry, "count", where, 10, 1, 1000)), _exercise(entry, where),
    )  # fmt: skip


def _exercise(entry: dict[str, Any], where: str) -> str:
    value = entry.get("exercise", EXERCISES[0])
    if value not in EXERCISES:
        raise InputError(
            f"{where}.exercise",
            tr("'{value}' is not known; write one of {exercises}", value=value, exercises=", ".join(EXERCISES)),
        )
    return str(value)


FAMILIES = ("start", "drill", "ream", "bore", "tap", "countersink", "setup", "measure")


def _text(entry: dict[str, Any], key: str, where: str) -> str:
    value = entry.get(key)
    if not isinstance(value, str) or not value.strip() or len(value) > MOST_NAME:
        raise InputError(f"{where}.{key}", tr("a name of 1 to {most_name} letters", most_name=MOST_NAME))
    return value


def _names(entry: dict[str, Any], key: str, where: str) -> tuple[str, ...]:
    value = entry.get(key, [])
    if not isinstance(value, list) or not all(isinstance(v, str) for v in value):
        raise InputError(f"{where}.{key}", tr("a list of names"))
    return tuple(value)


def _number(entry: dict[str, Any], key: str, where: str, default: float, least: float, most: float) -> float:
    value = entry.get(key, default)
    if isinstance(value, bool) or not isinstance(value, int | float) or not least <= value <= most:
        raise InputError(f"{where}.{key}", tr("a number from {least:g} to {most:g}", least=least, most=most))
    return float(value)


def read_course(path: Path) -> Course:
    """A teacher's own course. Raises `InputError`."""
    try:
        return course_of(json.loads(path.read_text(encoding="utf-8")[:1_000_000]))
    except (OSError, UnicodeDecodeError, json.JSONDecodeError, RecursionError) as bad:
        raise InputError(
            "", tr("{path} is no course that can be read ({name})", path=path.name, name=type(bad).__name__)
        ) from None


def exercise_for(
    lesson: Lesson, seed: int, last: tuple[str, tuple[str, ...]] | None = None, due: frozenset[str] = frozenset()
) -> tuple[Exercise, Solved]:
    """An exercise of a lesson that is fair, and how the program goes about it; the same for the same seed.

    Causes that are `due` again come oftener. Fair: the program reaches eighty in a hundred for what is true within
    the minutes; where twenty holes with nothing or two things wrong are not, one thing is wrong instead. Never the
    hole and fault of `last` again. Raises `InputError` where a lesson allows no such exercise.
    """
    kind = np.random.default_rng((seed, 2)).random()
    many = 0 if kind < lesson.nothing else (2 if kind < lesson.nothing + lesson.two else 1)
    for attempt in range(TRIES):
        exercise = _drawn(lesson, seed + attempt * STEP, many if attempt < PATIENT else 1, due)
        if exercise is None or (exercise.setting_id, exercise.causes) == last:
            continue
        solved = solve(exercise)
        if solved.right(exercise):
            return exercise, solved
    raise InputError(
        "lesson",
        tr("'{lesson}' allows no exercise that can be solved; widen its holes or families", lesson=lesson.name),
    )


def _drawn(lesson: Lesson, seed: int, many: int, due: frozenset[str]) -> Exercise | None:
    """A hole of the lesson with so many things wrong."""
    luck = np.random.default_rng((seed, 1))
    names = lesson.holes or tuple(settings())
    setting = names[int(luck.integers(len(names)))]
    found = planned(setting)
    may = [name for name in allowed(found) if not lesson.families or _family(name) in lesson.families]
    if len(may) < many:
        return None
    chosen: Sequence[str] = ()
    if many:
        weight = np.array([np.sqrt(causes()[name].prior) for name in may])  # rare ones are met, too
        weight *= np.where([name in due for name in may], AGAIN, 1.0)
        chosen = [may[k] for k in luck.choice(len(may), many, replace=False, p=weight / weight.sum())]
    return Exercise(seed, setting, tuple(sorted(chosen)), lesson.budget, lesson.nothing)


def _family(cause: str) -> str:
    return family(causes()[cause].operation)
