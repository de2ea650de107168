"""A logbook file opened safely: damage set aside and mended from a copy, tables up to date, copies made."""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import Any
from urllib.parse import quote, urlencode

from sqlalchemy import URL, Engine, create_engine, event
from sqlalchemy.exc import DatabaseError, SQLAlchemyError

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.files.writing import begin_own, make_folder, move, remove, take_place, why
from cordwainer.logbook.tables import head, standing, upgrade

BACKUPS, BUSY_MS = 7, 5000
FIRST_TABLES = ("hole", "operation", "reading", "evidence", "regrind")


class LogbookError(CordwainerError):
    """The logbook cannot be opened or written; the text says why and what is safe."""


class Kept:
    """A logbook file opened safely: whole, at the right version, copied once a day.

    Raises `LogbookError` where the file cannot be opened; `said` holds what had to be mended on the way.
    """

    def __init__(self, path: Path, now: Callable[[], datetime]) -> None:
        self.path, self.now = path, now
        self.said: list[str] = []
        try:
            make_folder(path.parent)
            if os.access(path.parent, os.W_OK):
                begin_own(path)
        except OSError as bad:
            raise LogbookError(tr("the folder of the logbook cannot be made: {why}", why=why(bad))) from None
        self.read_only = path.exists() and not (os.access(path.parent, os.W_OK) and os.access(path, os.W_OK))
        self._mend()
        self.engine = self._engine()
        if self.read_only:
            self._same_version()
        else:
            self._upgrade()
        self._back_up()

    # -- opening -------------------------------------------------------------------------------

    def _engine(self) -> Engine:
        where = URL.create("sqlite", database=str(self.path))
        if self.read_only:
            own = quote(str(self.path.absolute()))
            where = URL.create("sqlite", database=f"file:{own}", query=self._only_read() | {"uri": "true"})
        engine = create_engine(where, connect_args={"timeout": BUSY_MS / 1000})

        @event.listens_for(engine, "connect")
        def prepare(connection: Any, _record: Any) -> None:
            cursor = connection.cursor()
            cursor.execute("PRAGMA foreign_keys=ON")
            cursor.execute(f"PRAGMA busy_timeout={BUSY_MS}")
            # A file system that bears no such log keeps the older journal, which is as safe and slower.
            with suppress(sqlite3.OperationalError):
                cursor.execute("PRAGMA journal_mode=WAL")
            cursor.execute("PRAGMA synchronous=FULL")
            cursor.close()

        return engine

    def _only_read(self) -> dict[str, str]:
        """How SQLite is to open a file that cannot be written; with no log beside it, it may make none."""
        log = self.path.with_name(self.path.name + "-wal")
        return {"mode": "ro"} if log.exists() and log.stat().st_size else {"mode": "ro", "immutable": "1"}

    def _same_version(self) -> None:
        """Tables that cannot be brought up to date have to be of this program's version."""
        try:
            with self.engine.connect() as connection:
                there = standing(connection)
        except DatabaseError as bad:
            raise LogbookError(tr("the logbook cannot be opened: {orig}", orig=bad.orig)) from None
        if there != head():
            raise LogbookError(
                tr("{path} is of another version and cannot be written; it is left as it is", path=self.path.name)
            )
        self.said.append(tr("The logbook cannot be written where it is: it is read here, nothing is added."))

    def _sound(self, path: Path) -> bool:
        """Whether a file is a logbook that SQLite finds whole."""
        try:
            ways = self._only_read() if self.read_only else {"mode": "ro"}
            where = f"{path.absolute().as_uri()}?{urlencode(ways)}"
            with closing(sqlite3.connect(where, uri=True)) as raw:
                whole = raw.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
                return bool(whole) and not self._half_begun(raw)
        except sqlite3.DatabaseError:
            return False

    @staticmethod
    def _half_begun(raw: sqlite3.Connection) -> bool:
        """Empty first tables and no version: a program was ended while it made them."""
        names = {name for (name,) in raw.execute("SELECT name FROM sqlite_master WHERE type='table'")}
        if "hole" not in names or names - {*FIRST_TABLES, "alembic_version"}:
            return False
        if "alembic_version" in names and raw.execute("SELECT 1 FROM alembic_version").fetchone():
            return False
        return not any(raw.execute(f"SELECT 1 FROM {name}").fetchone() for name in names)

    def _mend(self) -> None:
        """A damaged file is set aside, and the newest whole backup takes its place."""
        if not self.path.exists() or self.path.stat().st_size == 0 or self._sound(self.path):
            return
        aside = self.path.with_name(f"{self.path.stem}.damaged-{self.now():%Y%m%d-%H%M%S}{self.path.suffix}")
        try:
            move(self.path, aside)
            for rest in ("-wal", "-shm"):
                tail = self.path.with_name(self.path.name + rest)
                if tail.exists():
                    move(tail, aside.with_name(aside.name + rest))
        except InputError as bad:
            raise LogbookError(tr("the logbook is damaged and cannot be set aside: {bad}", bad=bad)) from None
        for backup in self.backups():
            if self._sound(backup):
                self._copy(backup, self.path)
                self.said.append(
                    tr(
                        "The logbook was damaged. It is kept as {aside}; the copy of {rpartition} took its place.",
                        aside=aside.name,
                        rpartition=backup.stem.rpartition("-")[2],
                    )
                )
                return
        self.said.append(
            tr("The logbook was damaged. It is kept as {aside}; a new one was begun.", aside=aside.name)
        )

    def _upgrade(self) -> None:
        """Bring the tables up to what this program knows; a newer file is refused."""
        from alembic.util import CommandError

        try:
            with self.engine.connect() as connection:
                # Left to itself the driver writes each new table for good at once, and a program killed
                # between two of them would leave a book that no later one can bring up to date.
                raw = connection.connection.driver_connection
                assert raw is not None
                raw.isolation_level = None
                try:
                    connection.exec_driver_sql("BEGIN IMMEDIATE")
                    upgrade(connection)
                    connection.commit()
                finally:
                    connection.rollback()
                    raw.isolation_level = ""
        except CommandError:
            raise LogbookError(
                tr("{path} was written by a newer program; it is left as it is", path=self.path.name)
            ) from None
        except DatabaseError as bad:
            raise LogbookError(tr("the logbook cannot be opened: {orig}", orig=bad.orig)) from None

    # -- backups -------------------------------------------------------------------------------

    def backups(self) -> list[Path]:
        """Copies made by day, newest first."""
        return sorted(self.path.parent.glob(f"{self.path.stem}.backup-*{self.path.suffix}"), reverse=True)

    def _back_up(self) -> None:
        """A copy for each day the logbook is opened on, the newest few kept."""
        target = self.path.with_name(f"{self.path.stem}.backup-{self.now():%Y%m%d}{self.path.suffix}")
        if self.read_only or target.exists():
            return
        try:
            self._copy(self.path, target)
            for old in self.backups()[BACKUPS:]:
                remove(old)
        except (OSError, sqlite3.DatabaseError) as bad:
            self.said.append(tr("Today's copy of the logbook could not be made: {bad}.", bad=bad))

    @staticmethod
    def _copy(source: Path, target: Path) -> None:
        """SQLite's own copy, through a file beside the target."""
        beside = target.with_name(target.name + ".part")
        begin_own(beside)
        with closing(sqlite3.connect(source)) as old, closing(sqlite3.connect(beside)) as new:
            old.backup(new)
        take_place(beside, target)

    @contextmanager
    def trouble_told(self) -> Iterator[None]:
        """What SQLite has against something asked comes out as a `LogbookError`."""
        try:
            yield
        except SQLAlchemyError as bad:
            why = getattr(bad, "orig", None) or bad
            raise LogbookError(
                tr("the logbook could not be used ({why}); what is in it stays as it is", why=why)
            ) from None

    def note(self, store: Any, deed: Any) -> None:
        """A deed is done with once it stands in the file."""

    def noted(self) -> None:
        """Nobody else waits for it."""

    def close(self) -> None:
        """Let the file go."""
        self.engine.dispose()
