"""Every call on the logbook's file going wrong in turn: said in words, the book whole, the next one goes.

The table stands in `docs/promises.md`.
"""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from alembic import op
from sqlalchemy import event

from cordwainer.core.errors import CordwainerError
from cordwainer.logbook.book import Book, Filter, Measurement
from tests.core.learning.test_oversize import drill
from tests.logbook.test_book import Clock, run

FAULTS = {
    "full": "database or disk is full",
    "read-only": "attempt to write a readonly database",
    "failing": "disk I/O error",
    "slow": "database is locked",
}
WRITES: dict[str, Callable[[Book], object]] = {
    "take_run": lambda book: book.take_run(run(2)),
    "put_readings": lambda book: book.put_readings(run(1).id, [Measurement(5, 0, 9.8, 9.8)], "pin", "accept", 9.8),
    "put_diagnosis": lambda book: book.put_diagnosis(run(1).id, {"c": 1.0}, {"q": "yes"}, "c"),
    "strike": lambda book: book.strike(run(1).id),
    "regrind": lambda book: book.regrind(drill().id, "by hand"),
}
READS: dict[str, Callable[[Book], object]] = {
    "count": lambda book: book.count(),
    "search": lambda book: book.search(Filter(text="arm")),
    "hole": lambda book: book.hole(run(1).id),
    "beliefs": lambda book: book.beliefs([drill()], lambda m: m, "medium_carbon_steel"),
    "causes": lambda book: book.causes(),
    "paces": lambda book: book.paces(),
    "grinds": lambda book: book.grinds(),
}


@pytest.fixture
def book(tmp_path: Path) -> Iterator[Book]:
    found = Book(tmp_path / "logbook.sqlite", Clock())
    found.take_run(run(1))
    yield found
    found.close()


def dump(path: Path) -> list[str]:
    """All that is in a book, as another program reads it."""
    with closing(sqlite3.connect(path)) as raw:
        return list(raw.iterdump())


class Breaking:
    """Breaks the so-manieth statement of what follows; `met` is how many there were."""

    def __init__(self, book: Book, at: int, words: str) -> None:
        self.book, self.at, self.words, self.met = book, at, words, 0

    def __enter__(self) -> Breaking:
        event.listen(self.book.engine, "before_cursor_execute", self._break)
        return self

    def __exit__(self, *_: object) -> None:
        event.remove(self.book.engine, "before_cursor_execute", self._break)

    def _break(self, *_: Any) -> None:
        self.met += 1
        if self.met == self.at:
            raise sqlite3.OperationalError(self.words)


@pytest.mark.parametrize("fault", FAULTS)
@pytest.mark.parametrize("name", [*WRITES, *READS])
def test_a_fault_at_any_statement_is_told_and_changes_nothing(book: Book, name: str, fault: str) -> None:
    do, before = {**WRITES, **READS}[name], dump(book.path)
    with Breaking(book, 10**9, "") as counted, book.trouble_told():
        do(book)
    if name in WRITES:
        assert dump(book.path) != before  # the count is of a write that does something
        with closing(sqlite3.connect(book.path)) as raw:
            for table in ("operation", "reading", "diagnosis", "evidence", "regrind", "hole"):
                raw.execute(f"DELETE FROM {table}")
            raw.commit()
        book.take_run(run(1))
        before = dump(book.path)
    assert counted.met > 0
    for at in range(1, counted.met + 1):
        told = pytest.raises(CordwainerError, match=FAULTS[fault])
        with Breaking(book, at, FAULTS[fault]), told, book.trouble_told():
            do(book)
        assert dump(book.path) == before, at
    with book.trouble_told():
        do(book)


@pytest.mark.parametrize("moment", ["before_cursor_execute", "commit", "after"])
@pytest.mark.parametrize("name", WRITES)
def test_killed_before_or_after_the_commit_it_is_there_whole_or_not_at_all(
    book: Book, tmp_path: Path, name: str, moment: str
) -> None:
    before = dump(book.path)
    book.close()
    child = os.fork()
    if not child:
        own = Book(book.path, Clock())
        if moment == "after":
            WRITES[name](own)
            os._exit(9)
        event.listen(own.engine, moment, lambda *_: os._exit(9))
        WRITES[name](own)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    assert os.waitstatus_to_exitcode(status) == 9
    again = Book(book.path, Clock())
    assert not again.said and (dump(book.path) == before) == (moment != "after")
    again.close()


def test_the_folder_goes_away_under_it(book: Book, tmp_path: Path) -> None:
    book.close()
    (tmp_path / "elsewhere").mkdir()
    book.path.rename(tmp_path / "elsewhere" / "logbook.sqlite")
    book.path.mkdir()
    with pytest.raises(CordwainerError), book.trouble_told():
        book.take_run(run(3))


def test_nobody_else_reads_a_new_book(tmp_path: Path) -> None:
    book = Book(tmp_path / "own" / "logbook.sqlite", Clock())
    book.take_run(run(1))
    modes = {p.name: oct(p.stat().st_mode)[-3:] for p in book.path.parent.glob("logbook.*")}
    assert set(modes.values()) == {"600"} and oct(book.path.parent.stat().st_mode)[-3:] == "700"
    book.close()


def test_a_program_ended_while_the_tables_are_made_leaves_a_book_that_opens(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    make, made = op.create_table, list[str]()

    def ended(name: str, *columns: Any) -> Any:
        made.append(name)
        if len(made) == 4:
            raise KeyboardInterrupt
        return make(name, *columns)

    monkeypatch.setattr(op, "create_table", ended)
    with pytest.raises(KeyboardInterrupt):
        Book(tmp_path / "logbook.sqlite", Clock())
    assert len(made) == 4
    monkeypatch.undo()
    opened = Book(tmp_path / "logbook.sqlite", Clock())
    opened.take_run(run(1))
    assert (opened.count(), opened.said) == (1, [])
    opened.close()


def test_a_book_left_with_half_its_tables_is_set_aside_and_begun_anew(tmp_path: Path) -> None:
    with closing(sqlite3.connect(tmp_path / "logbook.sqlite")) as raw:
        raw.executescript("CREATE TABLE alembic_version (version_num TEXT); CREATE TABLE hole (id TEXT)")
    opened = Book(tmp_path / "logbook.sqlite", Clock())
    opened.take_run(run(1))
    assert opened.count() == 1 and "a new one was begun" in opened.said[0]
    opened.close()
