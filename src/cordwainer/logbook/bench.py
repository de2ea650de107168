"""A bench's own copy of the shop's logbook: used like any other, whether the server answers or not.

Every deed is done in the copy and put into its queue in one transaction; from there it goes to the server once.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

from sqlalchemy import delete, func, insert, select, update
from sqlalchemy.orm import Session as Store

from cordwainer.core.language import tr
from cordwainer.files.places import data_folder, name_for
from cordwainer.logbook.deeds import CHILDREN, Conflict, Deed, apply
from cordwainer.logbook.records import TABLES, CribKept, HoleMade, Regrind, Standing, Waiting
from cordwainer.logbook.safe import Kept, LogbookError
from cordwainer.logbook.server import Address

SEEN, COPY = "seen", "copy"
TOGETHER = 500  # holes of another logbook that are sent as one deed


def copy_path(address: Address) -> Path:
    """Where a bench's copy of a server's logbook lies."""
    url = address.url
    return data_folder() / "servers" / f"{name_for(f'{url.host}-{url.port}-{url.database}')}.sqlite"


class BenchCopy:
    """The copy and its queue. `wake` is called after each deed, once there is somebody to send it.

    Raises `LogbookError` where the copy cannot be opened or only be read.
    """

    def __init__(self, path: Path, now: Callable[[], datetime]) -> None:
        self.kept = Kept(path, now)
        self.path = path
        self.engine, self.said, self.read_only = self.kept.engine, self.kept.said, self.kept.read_only
        self.trouble_told, self.close = self.kept.trouble_told, self.kept.close
        self.wake: Callable[[], None] = lambda: None
        if self.read_only:
            raise LogbookError(tr("the copy of the shop's logbook cannot be written: {path}", path=path))
        self.copy = self.standing(COPY) or self._stand(COPY, uuid4().hex)

    # -- deeds ---------------------------------------------------------------------------------

    def note(self, store: Store, deed: Deed) -> None:
        """Put a deed just done into the queue, in its own transaction."""
        for part in parts(deed):
            store.add(Waiting(id=part.id, at=part.at, what=part.what, key=part.key, data=part.data))

    def noted(self) -> None:
        """There is something to send."""
        self.wake()

    def waiting(self, most: int) -> list[Deed]:
        """The oldest deeds the server has not had."""
        query = select(Waiting).where(Waiting.trouble == "").order_by(Waiting.place).limit(most)
        with Store(self.engine) as store:
            return [Deed(w.id, w.what, w.key, w.at, dict(w.data)) for w in store.scalars(query)]

    def count_waiting(self) -> int:
        """How many deeds wait."""
        with Store(self.engine) as store:
            query = select(func.count()).select_from(Waiting).where(Waiting.trouble == "")
            return int(store.scalar(query) or 0)

    def troubles(self) -> list[tuple[str, str, str]]:
        """Deeds the server did not take: what, to which key, and why."""
        with Store(self.engine) as store:
            query = select(Waiting.what, Waiting.key, Waiting.trouble).where(Waiting.trouble != "")
            return [(what, key, why) for what, key, why in store.execute(query.order_by(Waiting.place))]

    def sent(self, ids: Sequence[str], troubles: Iterable[tuple[str, str]] = ()) -> None:
        """The server has had these; of those with trouble the reason is kept, and the deed with it."""
        wrong = dict(troubles)
        with Store(self.engine) as store, store.begin():
            for name, why in wrong.items():
                store.execute(update(Waiting).where(Waiting.id == name).values(trouble=why))
            store.execute(delete(Waiting).where(Waiting.id.in_([i for i in ids if i not in wrong])))

    # -- what the server has -------------------------------------------------------------------

    def standing(self, name: str) -> str | None:
        """How far something has come."""
        with Store(self.engine) as store:
            found = store.get(Standing, name)
            return found.value if found is not None else None

    def _stand(self, name: str, value: str) -> str:
        with Store(self.engine) as store, store.begin():
            store.merge(Standing(name=name, value=value))
        return value

    @property
    def seen(self) -> int | None:
        """The last change of the server that is in here; None before the first whole copy."""
        found = self.standing(SEEN)
        return int(found) if found is not None else None

    def begin_whole(self) -> None:
        """Make room for a whole copy; the queue stays."""
        with Store(self.engine) as store, store.begin():
            for table in (*reversed(TABLES), CribKept):
                store.execute(delete(table))

    def put_whole(self, table: Any, rows: Sequence[dict[str, Any]]) -> None:
        """A part of a whole copy."""
        with Store(self.engine) as store, store.begin():
            store.execute(insert(table), rows)

    def end_whole(self, seen: int) -> None:
        """The copy is whole; what waits is done in it again."""
        with Store(self.engine) as store, store.begin():
            store.merge(Standing(name=SEEN, value=str(seen)))
            store.flush()
            self._again(store, None)

    def take(self, keys: dict[str, set[str]], rows: dict[str, list[dict[str, Any]]], seen: int) -> None:
        """The rows of what changed on the server, in place of those here; what waits is done again over them."""
        with Store(self.engine) as store, store.begin():
            holes = keys.get("hole", set())
            if holes:
                store.execute(delete(HoleMade).where(HoleMade.id.in_(holes)))
            for tool in keys.get("regrind", ()):
                store.execute(delete(Regrind).where(Regrind.tool_id == tool))
            if keys.get("crib"):
                store.execute(delete(CribKept).where(CribKept.shop.in_(keys["crib"])))
            for table in (*TABLES, CribKept):
                found = rows.get(table.__tablename__)
                if found:
                    store.execute(insert(table), found)
            self._again(store, {(kind, key) for kind, each in keys.items() for key in each})
            store.merge(Standing(name=SEEN, value=str(seen)))

    def _again(self, store: Store, which: set[tuple[str, str]] | None) -> None:
        """Do the waiting deeds once more over fresh rows; one that no longer fits waits for the server's word."""
        query = select(Waiting).where(Waiting.trouble == "").order_by(Waiting.place)
        if which is not None:
            query = query.where(Waiting.key.in_({key for _, key in which}))
        for waits in store.scalars(query).all():
            deed = Deed(waits.id, waits.what, waits.key, waits.at, dict(waits.data))
            if which is not None and (deed.kind, deed.key) not in which:
                continue
            try:
                with store.begin_nested():
                    apply(store, deed)
                    store.flush()
            except (Conflict, LogbookError):
                continue


def parts(deed: Deed) -> list[Deed]:
    """A deed as it is sent: many holes of another logbook in several."""
    tables = deed.data.get("tables") if deed.what == "rows" else None
    if tables is None or len(tables.get("hole", ())) <= TOGETHER:
        return [deed]
    found = []
    holes = tables["hole"]
    belong: dict[str, dict[str, list[dict[str, Any]]]] = {}
    for table in CHILDREN:
        for row in tables.get(table.__tablename__, ()):
            belong.setdefault(row["hole_id"], {}).setdefault(table.__tablename__, []).append(row)
    for number, first in enumerate(range(0, len(holes), TOGETHER)):
        some: dict[str, list[dict[str, Any]]] = {"hole": holes[first : first + TOGETHER]}
        for hole in some["hole"]:
            for name, rows in belong.get(hole["id"], {}).items():
                some.setdefault(name, []).extend(rows)
        if number == 0:
            some["regrind"] = tables.get("regrind", [])
        found.append(Deed(f"{deed.id}-{number}", "rows", "", deed.at, {"tables": some}))
    return found
