"""Commands for learning: the lessons of a course, an exercise of one, a class's results."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, Out, cli, guarded, put
from cordwainer.core.errors import InputError


@cli.command()
@click.option("--course", "course_file", default="", help="A teacher's own course file.")
@click.option("--lesson", default="", help="An exercise of this lesson, with its answer.")
@click.option("--seed", default=1, type=int, help="Of the exercise.")
@click.option("--results", "results_file", default="", help="FILE.csv or '-': what all learners here have made.")
@click.option("--force", is_flag=True, help="Write over a file that is there.")
@AS_JSON
@guarded
def train(course_file: str, lesson: str, seed: int, results_file: str, force: bool, as_json: bool) -> None:
    """Lessons in judging holes; an exercise of one; results of a class."""
    from cordwainer.core.training.course import exercise_for, ladder, read_course

    if results_file:
        _give_results(results_file, force, as_json)
        return
    course = read_course(Path(course_file)) if course_file else ladder()
    if not lesson:
        data = {
            "course": course.name,
            "lessons": [{"id": entry.id, "name": entry.name} for entry in course.lessons],
        }
        put(data, as_json, lambda: [course.name, *(f"  {entry.id}: {entry.name}" for entry in course.lessons)])
        return
    if not 0 <= seed < 2**31:
        raise InputError("--seed", "a whole number from 0 to 2147483647")
    chosen = course.lesson(lesson)
    if chosen.exercise in ("scales", "drills"):
        _give_question(chosen.exercise, seed, as_json)
        return
    if chosen.exercise == "plan":
        _give_plan(chosen.holes, seed, as_json)
        return
    exercise, solved = exercise_for(chosen, seed)
    put(_exercise_data(exercise, solved) if as_json else None, as_json, lambda: _exercise_lines(exercise, solved))


def _give_question(kind: str, seed: int, as_json: bool) -> None:
    """A short question with its answer."""
    from cordwainer.core.training import drills, scales

    found = scales.question(seed) if kind == "scales" else drills.question(seed)
    data = {
        "seed": seed, "about": found.about, "asked": found.words, "choices": list(found.choices),
        "right": found.right, "working": found.working, "practiced_seconds": found.par_s,
    }  # fmt: skip
    lines = [found.words, *(f"  {choice}" for choice in found.choices), f"  right: {found.right}", found.working]
    put(data, as_json, lambda: lines)


def _give_plan(holes: tuple[str, ...], seed: int, as_json: bool) -> None:
    """A hole to plan, and the program's own sequence."""
    import random

    from cordwainer.core.training.settings import planned, settings

    found = planned(random.Random(seed).choice(holes or tuple(settings())))
    steps = [
        f"{o.kind} {o.tool.designation if o.tool is not None else ''}".strip() for o in found.route.operations
    ]
    data = {
        "seed": seed, "part": found.setting.part, "callout": found.setting.callout, "machine": found.machine.id,
        "material": found.material.id, "program": steps, "minutes": round(found.route.minutes, 2),
    }  # fmt: skip
    on = f"{found.machine.name.lower()}, {found.material.name.lower()}"
    put(
        data, as_json, lambda: [f"{found.setting.part}: {found.setting.callout}, {on}", *(f"  {s}" for s in steps)]
    )


def _exercise_data(exercise: Any, solved: Any) -> dict[str, Any]:
    found = exercise.planned
    return {
        "seed": exercise.seed,
        "hole": {"part": found.setting.part, "callout": found.setting.callout, "machine": found.machine.id,
                 "material": found.material.id},
        "minutes": exercise.budget,
        "told": dict(exercise.heard),
        "listed": list(exercise.listed),
        "truth": list(exercise.truth),
        "true_sizes_mm": [round(size, 5) for size in exercise.three],
        "program": {
            "bought": [{"check": name, "bits": round(bits, 4)} for name, bits in solved.bought],
            "shares": {name: round(share, 4) for name, share in solved.shares.items()},
            "minutes_left": solved.left,
            "points": round(solved.points, 2),
        },
    }  # fmt: skip


def _exercise_lines(exercise: Any, solved: Any) -> list[str]:
    from cordwainer.core.diagnosis.knowledge import answer_words, causes, questions

    found = exercise.planned
    named = [causes()[name].name for name in exercise.causes] or ["nothing wrong"]
    on = f"{found.machine.name.lower()}, {found.material.name.lower()}"
    return [
        f"{found.setting.part}: {found.setting.callout}, {on}",
        *(f"  {questions()[q].text} {answer_words(q, a)}" for q, a in exercise.heard),
        f"  true: {' and '.join(named)}",
        f"  the program buys {', '.join(name for name, _ in solved.bought)} and has {solved.left:g} min left",
    ]


def _give_results(name: str, force: bool, as_json: bool) -> None:
    from datetime import datetime

    from cordwainer.files.places import data_folder
    from cordwainer.logbook.book import Book
    from cordwainer.logbook.training import as_csv, results

    out = Out(name, ".csv", force=force, as_json=as_json)
    path = data_folder() / "logbook.sqlite"
    found = []
    if path.exists():
        book = Book(path, datetime.now)
        found = results(book)
        book.close()
    out.write(as_csv(found).encode())
    out.told({"file": name, "results": len(found)}, as_json, lambda: [f"{name}: {len(found)} results"])
