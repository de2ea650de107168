"""A logbook carried from a file to a server, or back: counted, and held against checksums on both sides."""

from __future__ import annotations

import hashlib
import json
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Engine, insert, select, text
from sqlalchemy.orm import Session as Store

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.logbook.deeds import CHILDREN
from cordwainer.logbook.link import rows_of
from cordwainer.logbook.records import Changed, HoleMade, Regrind
from cordwainer.logbook.server import CHANNEL, WRITING

TOGETHER = 500


@dataclass(frozen=True)
class Moved:
    """Rows carried of each table, holes that were there already, and the checksum of both sides."""

    counts: dict[str, int]
    there: int
    checksum: str


def move(
    source: Engine, target: Engine, bench: str, progress: Callable[[int, int], None] = lambda done, of: None
) -> Moved:
    """Carry holes and regrinds that the target has not, in one transaction; the source stays as it is.

    Raises `InputError` where the target does not hold the same afterwards; then nothing was carried.
    """
    counts: Counter[str] = Counter()
    with Store(source) as old, Store(target) as new, new.begin():
        on_server = target.dialect.name == "postgresql"
        if on_server:
            new.execute(text("SELECT pg_advisory_xact_lock(:n)"), {"n": WRITING})
            new.execute(text("SET LOCAL statement_timeout = 0"))
        known = set(new.scalars(select(HoleMade.id)))
        every = list(old.scalars(select(HoleMade.id).order_by(HoleMade.begun, HoleMade.id)))
        holes = [name for name in every if name not in known]
        sums: dict[str, str] = {}
        for lot in _lots(holes):
            rows = rows_of(old, {"hole": set(lot)})
            sums |= _sums(rows)
            for table in (HoleMade, *CHILDREN):
                found = rows[table.__tablename__]
                counts[table.__tablename__] += len(found)
                if found:
                    new.execute(insert(table), found)
            if on_server:
                changed = {"kind": "hole", "bench": bench, "copy": "", "at": ""}
                new.execute(insert(Changed), [{**changed, "key": name} for name in lot])
            progress(len(sums), 2 * len(holes))
        counts[Regrind.__tablename__] = _regrinds(old, new, bench if on_server else "")
        arrived: dict[str, str] = {}
        for lot in _lots(holes):
            arrived |= _sums(rows_of(new, {"hole": set(lot)}))
            progress(len(holes) + len(arrived), 2 * len(holes))
        if arrived != sums:
            wrong = sum(arrived.get(name) != own for name, own in sums.items())
            raise InputError(
                "",
                tr(
                    "{wrong} of {count} holes did not arrive as they are; nothing was carried",
                    wrong=wrong,
                    count=len(holes),
                ),
            )
        if on_server:
            new.execute(text("SELECT pg_notify(:c, '')"), {"c": CHANNEL})
    whole = hashlib.sha256("".join(sums[name] for name in sorted(sums)).encode()).hexdigest()
    return Moved(dict(counts), len(every) - len(holes), whole)


def _lots(names: list[str]) -> Iterator[list[str]]:
    for first in range(0, len(names), TOGETHER):
        yield names[first : first + TOGETHER]


def _sums(rows: dict[str, list[dict[str, Any]]]) -> dict[str, str]:
    """A checksum for each hole, over its row and all that belongs to it."""
    parts: dict[str, list[str]] = {row["id"]: [_text(row)] for row in rows[HoleMade.__tablename__]}
    for table in CHILDREN:
        for row in rows[table.__tablename__]:
            parts[row["hole_id"]].append(f"{table.__tablename__} {_text(row)}")
    return {name: hashlib.sha256("\n".join(sorted(found)).encode()).hexdigest() for name, found in parts.items()}


def _text(row: dict[str, Any]) -> str:
    return json.dumps(row, sort_keys=True, ensure_ascii=True)


def _regrinds(old: Store, new: Store, bench: str) -> int:
    """Regrinds that are not there yet."""
    columns = (Regrind.tool_id, Regrind.at, Regrind.how)
    known = {(tool, at) for tool, at, _ in new.execute(select(*columns))}
    fresh = [
        {"tool_id": tool, "at": at, "how": how}
        for tool, at, how in old.execute(select(*columns).order_by(Regrind.id))
        if (tool, at) not in known
    ]
    if fresh:
        new.execute(insert(Regrind), fresh)
    if fresh and bench:
        tools = dict.fromkeys(row["tool_id"] for row in fresh)
        own = {"kind": "regrind", "bench": bench, "copy": "", "at": ""}
        new.execute(insert(Changed), [{**own, "key": tool} for tool in tools])
    return len(fresh)
