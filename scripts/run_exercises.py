"""Exercises by seed: whether each can be solved, what they are about, what the program and a guesser score."""

from __future__ import annotations

import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor

from cordwainer.core.training.course import exercise_for, ladder
from cordwainer.core.training.scoring import score


def some(job: tuple[int, int]) -> list[tuple[str, str, tuple[str, ...], float, float, float, int]]:
    """Exercises of a lesson in a row: hole, causes, points of the program and a guesser, minutes left, checks."""
    number, many = job
    lesson, last, found = [one for one in ladder().lessons if one.exercise == "hole"][number], None, []
    for k in range(many):
        exercise, solved = exercise_for(lesson, 1 + 104_729 * k, last)
        assert solved.right(exercise)
        assert (exercise.setting_id, exercise.causes) != last
        last = exercise.setting_id, exercise.causes
        alike = dict.fromkeys(exercise.listed, 1 / len(exercise.listed))
        guess = score(alike, exercise.truth, exercise.budget, exercise.budget)
        told = (
            lesson.id,
            exercise.setting_id,
            exercise.causes,
            solved.points,
            guess,
            solved.left,
            len(solved.bought),
        )
        found.append(told)
    return found


def main() -> None:
    """Print what came of so many exercises."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 1000
    lessons = [one for one in ladder().lessons if one.exercise == "hole"]
    with ProcessPoolExecutor(2) as pool:
        rows = [
            row
            for found in pool.map(some, [(k, many // len(lessons)) for k in range(len(lessons))])
            for row in found
        ]
    causes = Counter(cause for row in rows for cause in row[2])
    how_many = Counter(len(row[2]) for row in rows)
    print(f"{len(rows)} exercises, each solved by the program within its minutes, none like the one before it")
    print(f"{how_many[0]} with nothing wrong, {how_many[1]} with one thing, {how_many[2]} with two")
    print(f"{len(causes)} causes met, the commonest in {max(causes.values())}, {len({r[1] for r in rows})} holes")
    points = sorted(row[3] for row in rows)
    print(f"the program: {sum(points) / len(points):.0f} points in the mean, the worst {points[0]:.0f}")
    print(f"a guesser: {sum(row[4] for row in rows) / len(rows):.1f} points")
    for lesson in lessons:
        own = [row for row in rows if row[0] == lesson.id]
        mean = sum(row[3] for row in own) / len(own)
        spent = lesson.budget - sum(row[5] for row in own) / len(own)
        print(f"  {lesson.name:30} {len(own):4}  {mean:4.0f} points, {spent:.1f} of {lesson.budget:g} min spent")


if __name__ == "__main__":
    main()
