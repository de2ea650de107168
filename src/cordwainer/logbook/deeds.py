"""What is done to a logbook, as single deeds that can wait, be sent and be taken in once.

A deed changes rows and strikes them, it deletes none: a bench needs no right to delete on a server.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from sqlalchemy import insert, select
from sqlalchemy.orm import Session as Store

from cordwainer.core.language import tr
from cordwainer.core.planning.words.operation import SIZING
from cordwainer.files.crib_changes import CribChange, put, read_change
from cordwainer.logbook.records import (
    STRUCK,
    TABLES,
    CribKept,
    Diagnosed,
    HoleMade,
    OperationDone,
    ReadingTaken,
    Regrind,
    Seen,
)
from cordwainer.logbook.safe import LogbookError

OF_HOLE = ("operations", "evidence")
CHILDREN = tuple(table for table in TABLES if table not in (HoleMade, Regrind))


class Conflict(LogbookError):
    """Somebody else changed the same thing first; theirs stands."""


@dataclass(frozen=True)
class Deed:
    """One thing done: what, to which key (hole, tool or shop), when, and all that is needed to do it again."""

    id: str
    what: str
    key: str
    at: str
    data: dict[str, Any]

    @property
    def kind(self) -> str:
        """What its key is of: a hole, a tool's regrinds, a crib."""
        return {"regrind": "regrind", "crib": "crib"}.get(self.what, "hole")


def apply(store: Store, deed: Deed) -> None:
    """Do a deed in an open transaction. Raises `Conflict` where somebody else came first, `LogbookError` else."""
    DOING[deed.what](store, deed)


def _known(store: Store, deed: Deed) -> HoleMade:
    """The hole of a deed, at the version the deed was done at; its version rises by one."""
    hole = store.get(HoleMade, deed.key)
    if hole is None:
        raise LogbookError(tr("there is no hole '{key}' in the logbook", key=deed.key))
    if deed.data.setdefault("base", hole.version) != hole.version:
        raise Conflict(tr("{hole} was changed at another bench meanwhile", hole=hole.name or tr("the hole")))
    hole.version += 1
    return hole


def _run(store: Store, deed: Deed) -> None:
    """A hole as it was made. Taken again it replaces what it said, but for what was measured and answered."""
    made: dict[str, Any] = deed.data["hole"]
    hole = store.get(HoleMade, deed.key)
    if hole is None:
        hole = HoleMade(**made)
        store.add(hole)
        store.flush()
        known: dict[int, OperationDone] = {}
        answers: dict[str, Seen] = {}
    else:
        for name in ("state", "ended", "snapshot", "number", "name", "job", "material", "machine", "begun"):
            setattr(hole, name, made[name])
        hole.version += 1
        each = select(OperationDone).where(OperationDone.hole_id == deed.key)
        known = {operation.place: operation for operation in store.scalars(each)}
        answers = {s.question: s for s in store.scalars(select(Seen).where(Seen.hole_id == deed.key))}
    fresh = []
    for row in deed.data["operations"]:
        operation = known.pop(row["place"], None)
        if operation is None:
            fresh.append({**row, "hole_id": deed.key})
            continue
        for name, value in row.items():
            setattr(operation, name, value)
    for operation in known.values():
        operation.state, operation.tool_id, operation.tool, operation.left_mm = STRUCK, "", "", None
    if fresh:
        store.execute(insert(OperationDone), fresh)
    _answer(store, deed.key, answers, deed.data["evidence"])
    store.expire(hole, ["operations"])


def _answer(store: Store, hole_id: str, known: dict[str, Seen], given: dict[str, str]) -> None:
    fresh = []
    for question, answer in given.items():
        if question in known:
            known[question].answer = answer
        else:
            fresh.append({"hole_id": hole_id, "question": question, "answer": answer})
    if fresh:
        store.execute(insert(Seen), fresh)


def _readings(store: Store, deed: Deed) -> None:
    """What was measured of a hole, in place of what was before."""
    hole, data = _known(store, deed), deed.data
    there = select(ReadingTaken).where(ReadingTaken.hole_id == deed.key).order_by(ReadingTaken.id)
    known, rows = list(store.scalars(there)), data["readings"]
    for reading, row in zip(known, rows, strict=False):
        for name, value in row.items():
            setattr(reading, name, value)
        reading.struck = 0
    for reading in known[len(rows) :]:
        reading.struck = 1
    fresh = [{**row, "hole_id": deed.key, "struck": 0} for row in rows[len(known) :]]
    if fresh:
        store.execute(insert(ReadingTaken), fresh)
    hole.verdict = data["verdict"]
    if data["limits_mm"] is not None:
        hole.lower_mm, hole.upper_mm = data["limits_mm"]
    operations = list(hole.operations)
    sizing = [o for o in operations if o.kind in SIZING and o.state == "done"]
    for operation in operations:
        operation.left_mm = data["size_mm"] if sizing and operation is sizing[-1] else None


def _diagnosis(store: Store, deed: Deed) -> None:
    """What was made of a hole."""
    hole, data = _known(store, deed), deed.data
    hole.cause = data["confirmed"]
    store.add(
        Diagnosed(
            hole_id=deed.key,
            at=deed.at,
            leading=data["leading"],
            confirmed=data["confirmed"],
            ranking=data["ranking"],
        )
    )
    _answer(store, deed.key, {seen.question: seen for seen in hole.evidence}, data["answers"])


def _strike(store: Store, deed: Deed) -> None:
    """A hole struck through, or back."""
    _known(store, deed).removed = deed.data["removed"]


def _regrind(store: Store, deed: Deed) -> None:
    """A tool reground."""
    store.add(Regrind(tool_id=deed.key, at=deed.at, how=deed.data["how"]))


def _crib(store: Store, deed: Deed) -> None:
    """Entries of the notes on a crib; where one is no longer what it was, none of them goes in."""
    row = store.get(CribKept, deed.key, with_for_update=True)
    if row is None:
        raise LogbookError(tr("there is no shop '{key}' on the server", key=deed.key))
    notes, refused = put(row.notes, [read_change(entry) for entry in deed.data["changes"]])
    if refused:
        raise Conflict("; ".join(_met(change, there) for change, there in refused[:3]))
    row.notes, row.version = notes, row.version + 1


def _met(change: CribChange, there: Any) -> str:
    """Two people at one entry, in words."""
    what = " ".join(change.path[1:]).replace("_", " ")
    wanted = "nothing" if change.now is None else _short(change.now)
    stands = "nothing" if there is None else _short(there)
    return tr(
        "{what} became {stands} at another bench meanwhile, not {wanted}", what=what, stands=stands, wanted=wanted
    )


def _short(value: Any) -> str:
    text = str(value.get("designation") or value.get("id")) if isinstance(value, dict) else str(value)
    return text if len(text) <= 40 else text[:39] + "…"


def _rows(store: Store, deed: Deed) -> None:
    """Holes and regrinds of another logbook, with all that belongs to them; what is here already stays."""
    tables = deed.data["tables"]
    ids = [row["id"] for row in tables.get("hole", ())]
    known = set(store.scalars(select(HoleMade.id).where(HoleMade.id.in_(ids)))) if ids else set()
    ground = {(tool, at) for tool, at in store.execute(select(Regrind.tool_id, Regrind.at))}
    _put(store, HoleMade, (row for row in tables.get("hole", ()) if row["id"] not in known))
    for table in CHILDREN:
        rows = tables.get(table.__tablename__, ())
        _put(store, table, ({k: v for k, v in r.items() if k != "id"} for r in rows if r["hole_id"] not in known))
    fresh = (r for r in tables.get("regrind", ()) if (r["tool_id"], r["at"]) not in ground)
    _put(store, Regrind, ({k: v for k, v in row.items() if k != "id"} for row in fresh))


def _put(store: Store, table: Any, rows: Iterable[dict[str, Any]]) -> None:
    """Rows into a table; those with the same columns go together."""
    alike: dict[tuple[str, ...], list[dict[str, Any]]] = {}
    for row in rows:
        alike.setdefault(tuple(row), []).append(row)
    for found in alike.values():
        store.execute(insert(table), found)


DOING: dict[str, Callable[[Store, Deed], None]] = {
    "run": _run,
    "readings": _readings,
    "diagnosis": _diagnosis,
    "strike": _strike,
    "regrind": _regrind,
    "crib": _crib,
    "rows": _rows,
}
