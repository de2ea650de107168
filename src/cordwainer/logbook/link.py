"""The line between a bench's copy and the shop's server: what waits goes there once, what changed comes here.

A thread of its own. The server tells of every change; a line that breaks is taken up again, later each time.
"""

from __future__ import annotations

import os
import selectors
import threading
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from sqlalchemy import func, insert, select, text
from sqlalchemy.exc import DataError, IntegrityError
from sqlalchemy.orm import Session as Store

from cordwainer.core.language import tr
from cordwainer.logbook.bench import BenchCopy
from cordwainer.logbook.deeds import CHILDREN, Conflict, Deed, apply
from cordwainer.logbook.records import TABLES, Base, Changed, CribKept, HoleMade, Regrind, Taken
from cordwainer.logbook.safe import LogbookError
from cordwainer.logbook.server import CHANNEL, WRITING, AwayError, Server

AT_ONCE, CHANGES, ROWS = 100, 400, 2000
PAUSES_S = (0.2, 0.5, 1.0, 2.0, 5.0)
QUIET_S = 30.0  # a line that was silent so long is asked whether it still stands


@dataclass(frozen=True)
class State:
    """How a line stands: `away` is why the server is not there, `refused` why it is not to be used at all.

    `waiting` deeds are not there yet; `share` of the first whole copy is here, None once it all is.
    """

    away: str = ""
    refused: str = ""
    waiting: int = 0
    share: float | None = None
    linked: bool = False


@dataclass(frozen=True)
class News:
    """What came over the line: keys by kind that others changed, and deeds of this bench that were not taken."""

    changed: dict[str, set[str]]
    troubles: tuple[str, ...] = ()


class Link:
    """One bench's line. `told` and `stands` are called from its thread.

    `bench` is what this bench is called before the others.
    """

    def __init__(
        self,
        copy: BenchCopy,
        server: Server,
        bench: str,
        now: Callable[[], datetime],
        told: Callable[[News], None] = lambda news: None,
        stands: Callable[[State], None] = lambda state: None,
    ) -> None:
        self.copy, self.server, self.bench, self.now = copy, server, bench, now
        self.told, self.stands = told, stands
        self.state = State()
        self._ended = False
        self._read, self._write = os.pipe()
        os.set_blocking(self._write, False)
        self._thread: threading.Thread | None = None

    # -- its life ------------------------------------------------------------------------------

    def start(self) -> None:
        """Begin."""
        self.copy.wake = self.wake
        self._thread = threading.Thread(target=self._run, name="shop server", daemon=True)
        self._thread.start()

    def wake(self) -> None:
        """There is something to send."""
        with suppress(BlockingIOError, OSError):
            os.write(self._write, b".")

    def stop(self, patience_s: float = 10.0) -> None:
        """End, once the piece under way is through or so long; what waits stays in the queue."""
        self._ended = True
        self.wake()
        if self._thread is not None:
            self._thread.join(patience_s)
        self.copy.wake = lambda: None
        self.server.close()

    def _stand(self, **how: Any) -> None:
        new = replace(self.state, **how)
        if new != self.state:
            self.state = new
            self.stands(new)

    def _run(self) -> None:
        tries = 0
        while not self._ended:
            try:
                self.server.check()
                with self._listening() as heard:
                    tries = 0
                    share = 0.0 if self.copy.seen is None else None  # linked is said once it all is here
                    self._stand(away="", refused="", linked=True, share=share)
                    while not self._ended:
                        self.sync()
                        heard()
            except AwayError as bad:
                self._stand(away=str(bad), linked=False, waiting=self.copy.count_waiting())
            except LogbookError as bad:
                self._stand(refused=str(bad), linked=False, waiting=self.copy.count_waiting())
            except Exception as bad:  # a thread has nobody above it who would say so
                self._stand(away=f"{type(bad).__name__}: {self.server.told(bad)}", linked=False)
            self._wait(None, PAUSES_S[min(tries, len(PAUSES_S) - 1)])
            tries += 1

    @contextmanager
    def _listening(self) -> Iterator[Callable[[], None]]:
        """A connection that hears of changes; what it gives waits for one, or for something to send."""
        import psycopg

        with closing(self.server.line()) as line:
            line.execute(f"LISTEN {CHANNEL}")

            def heard() -> None:
                self._wait(line.fileno(), QUIET_S)
                try:
                    for _ in line.notifies(timeout=0):
                        pass
                    line.execute("SELECT 1")
                except psycopg.Error as bad:
                    raise self.server.told(bad) from None

            yield heard

    def _wait(self, line: int | None, seconds: float) -> None:
        """Until there is something to send or to hear, or so long."""
        with selectors.DefaultSelector() as both:
            both.register(self._read, selectors.EVENT_READ)
            if line is not None:
                both.register(line, selectors.EVENT_READ)
            ready = both.select(0 if self._ended else seconds)
        if any(key.fd == self._read for key, _ in ready):
            os.read(self._read, 4096)

    # -- what goes over it ---------------------------------------------------------------------

    def sync(self) -> None:
        """Send what waits, then fetch what changed. Raises `LogbookError`."""
        with self.server.trouble_told():
            while not self._ended and self._send():
                pass
            if self.copy.seen is None:
                self._fetch_whole()
            while not self._ended and self._fetch():
                pass
        self._stand(waiting=self.copy.count_waiting())

    def _send(self) -> int:
        """One lot of deeds to the server, in one transaction; how many there were."""
        if not self.copy.waiting(1):
            return 0
        with Store(self.server.engine) as store, store.begin():
            store.execute(text("SELECT pg_advisory_xact_lock(:n)"), {"n": WRITING})
            deeds = self.copy.waiting(AT_ONCE)  # read under the lock: another window of this bench may send too
            known = set(store.scalars(select(Taken.id).where(Taken.id.in_([d.id for d in deeds]))))
            fresh = [deed for deed in deeds if deed.id not in known]
            troubles = self._apply(store, fresh)
            at = self.now().isoformat(timespec="seconds")
            if fresh:
                store.execute(insert(Taken), [{"id": d.id, "bench": self.bench, "at": at} for d in fresh])
            wrong = {deed.id for deed, _ in troubles}
            own = {"bench": self.bench, "copy": self.copy.copy, "at": at}
            rows = [{"kind": k, "key": key, **own} for d in fresh if d.id not in wrong for k, key in keys(d)]
            if rows:
                store.execute(insert(Changed), rows)
                store.execute(text("SELECT pg_notify(:c, '')"), {"c": CHANNEL})
        self.copy.sent([deed.id for deed in deeds], [(deed.id, why) for deed, why in troubles])
        if troubles:
            self._mend(troubles)
        self._stand(waiting=self.copy.count_waiting())
        return len(deeds)

    def _apply(self, store: Store, deeds: list[Deed]) -> list[tuple[Deed, str]]:
        """Deeds in their order; those the server cannot take, with why."""
        troubles = []
        for deed in deeds:
            try:
                with store.begin_nested():
                    apply(store, deed)
                    store.flush()
            except (Conflict, LogbookError) as bad:
                troubles.append((deed, str(bad)))
            except (DataError, IntegrityError) as bad:
                troubles.append((deed, tr("the server cannot hold it ({name})", name=type(bad.orig).__name__)))
        return troubles

    def _mend(self, troubles: list[tuple[Deed, str]]) -> None:
        """What was not taken is undone here: the server's rows come in its place."""
        if self.copy.seen is not None:
            found: dict[str, set[str]] = {}
            for deed, _ in troubles:
                for kind, key in keys(deed):
                    found.setdefault(kind, set()).add(key)
            with Store(self.server.engine) as store:
                self.copy.take(found, rows_of(store, found), self.copy.seen)
            self.told(News(found, tuple(why for _, why in troubles)))
        else:
            self.told(News({}, tuple(why for _, why in troubles)))

    def _fetch(self) -> bool:
        """One lot of what others changed; whether there may be more."""
        seen = self.copy.seen or 0
        with Store(self.server.engine) as store, store.begin():
            store.connection(execution_options={"isolation_level": "REPEATABLE READ"})
            columns = (Changed.place, Changed.kind, Changed.key, Changed.copy)
            query = select(*columns).where(Changed.place > seen).order_by(Changed.place).limit(CHANGES)
            found: dict[str, set[str]] = {}
            changes = store.execute(query).all()
            if not changes:
                return False
            for _, kind, key, copy in changes:
                if copy != self.copy.copy:
                    found.setdefault(kind, set()).add(key)
            rows = rows_of(store, found)
        self.copy.take(found, rows, changes[-1][0])
        if found:
            self.told(News(found))
        return True

    def _fetch_whole(self) -> None:
        """All that the server has, as it stands at one moment."""
        self.copy.begin_whole()
        with Store(self.server.engine) as store, store.begin():
            store.connection(execution_options={"isolation_level": "REPEATABLE READ"})
            seen = store.scalar(select(func.max(Changed.place))) or 0
            tables = (*TABLES, CribKept)
            total = sum(store.scalar(select(func.count()).select_from(table)) or 0 for table in tables)
            done = 0
            for table in tables:
                columns = list(table.__table__.columns)
                query = select(*columns).order_by(*keys_of(table))
                found = store.execute(query, execution_options={"yield_per": ROWS})
                for lot in found.partitions(ROWS):
                    if self._ended:
                        return
                    self.copy.put_whole(table, [dict(row._mapping) for row in lot])
                    done += len(lot)
                    self._stand(share=done / max(total, 1))
        self.copy.end_whole(seen)
        self._stand(share=None)
        self.told(News({"hole": set(), "crib": set()}))


def keys(deed: Deed) -> list[tuple[str, str]]:
    """What a deed changed: kinds and keys."""
    if deed.what != "rows":
        return [(deed.kind, deed.key)]
    tables = deed.data["tables"]
    ground = dict.fromkeys(row["tool_id"] for row in tables.get("regrind", ()))
    return [*(("hole", row["id"]) for row in tables.get("hole", ())), *(("regrind", tool) for tool in ground)]


def rows_of(store: Store, found: dict[str, set[str]]) -> dict[str, list[dict[str, Any]]]:
    """The rows of some keys as they stand, by table; those of a hole without the numbers a copy gives itself."""
    rows: dict[str, list[dict[str, Any]]] = {}
    holes = sorted(found.get("hole", ()))
    if holes:
        rows[HoleMade.__tablename__] = _plain(store, HoleMade, HoleMade.id.in_(holes), keep_id=True)
        for table in CHILDREN:
            rows[table.__tablename__] = _plain(store, table, table.__table__.c.hole_id.in_(holes))
    tools = sorted(found.get("regrind", ()))
    if tools:
        rows[Regrind.__tablename__] = _plain(store, Regrind, Regrind.tool_id.in_(tools))
    shops = sorted(found.get("crib", ()))
    if shops:
        rows[CribKept.__tablename__] = _plain(store, CribKept, CribKept.shop.in_(shops), keep_id=True)
    return rows


def _plain(store: Store, table: type[Base], which: Any, *, keep_id: bool = False) -> list[dict[str, Any]]:
    columns = [c for c in table.__table__.columns if keep_id or c.name != "id"]
    query = select(*columns).where(which).order_by(*keys_of(table))
    return [dict(row._mapping) for row in store.execute(query)]


def keys_of(table: type[Base]) -> list[Any]:
    """The columns a table is ordered by."""
    return [column for column in table.__table__.columns if column.primary_key]
