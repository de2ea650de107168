"""Exercises of learners in the logbook's database, and a class's results as a list."""

from __future__ import annotations

import csv
import io
from datetime import date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session as Store

from cordwainer.core.training.spacing import Result
from cordwainer.files.shown import cell
from cordwainer.logbook.book import Book
from cordwainer.logbook.records import Trained

COLUMNS = ("learner", "lesson", "on", "hole", "causes", "right", "points", "minutes", "seed")
MOST = 20_000


def keep_result(book: Book, result: Result, at: datetime) -> None:
    """Keep one exercise. Raises what the book raises where it cannot be written."""
    row = Trained(
        learner=result.learner[:80], lesson=result.lesson[:80], seed=result.seed, setting=result.setting[:60],
        causes=",".join(result.causes)[:200], at=at.isoformat(), right=int(result.right), points=result.points,
        minutes=result.minutes,
    )  # fmt: skip
    with Store(book.engine) as store, store.begin():
        store.add(row)


def results(book: Book, learner: str | None = None) -> list[Result]:
    """Exercises in the order they were made, the newest twenty thousand; of one learner or of all."""
    wanted = select(Trained).order_by(Trained.id.desc()).limit(MOST)
    if learner is not None:
        wanted = wanted.where(Trained.learner == learner)
    with Store(book.engine) as store:
        rows = [*store.scalars(wanted)][::-1]
        return [
            Result(
                row.learner, row.lesson, row.seed, row.setting, tuple(c for c in row.causes.split(",") if c),
                date.fromisoformat(row.at[:10]), bool(row.right), row.points, row.minutes,
            )
            for row in rows
        ]  # fmt: skip


def as_csv(found: list[Result]) -> str:
    """Results as a list for a teacher's table."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for r in found:
        told = (r.learner, r.lesson, r.on.isoformat(), r.setting, " ".join(r.causes) or "none", int(r.right))
        writer.writerow([cell(str(v)) for v in (*told, f"{r.points:.0f}", f"{r.minutes:g}", r.seed)])
    return out.getvalue()
