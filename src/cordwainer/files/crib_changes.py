"""The notes on a crib as single entries, so that two people at different drawers do not meet.

A change is one entry with what it was and what it became; it goes in where the entry still is what it was.
"""

from __future__ import annotations

import copy
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from cordwainer.files.crib import blank

Path = tuple[str, ...]
GONE = None
BY_FIELD = ("changed", "machines", "gauges")
BY_ID = ("added", "more_machines", "more_gauges")
NAMES = ("removed", "no_machines", "no_gauges", "sets")


@dataclass(frozen=True)
class CribChange:
    """One entry of the notes: where it stands, what it was and what it became; None where there is none."""

    path: Path
    was: Any
    now: Any

    @property
    def back(self) -> CribChange:
        """The change that takes this one back."""
        return CribChange(self.path, self.now, self.was)

    @property
    def data(self) -> list[Any]:
        """As JSON has it."""
        return [list(self.path), self.was, self.now]


def read_change(entry: list[Any]) -> CribChange:
    """A change as JSON has it."""
    path, was, now = entry
    return CribChange(tuple(path), was, now)


def flat(notes: Mapping[str, Any]) -> dict[Path, Any]:
    """The entries of the notes by where they stand.

    >>> flat({"changed": {"d1": {"out": 1}}, "removed": ["d2"]})
    {('changed', 'd1', 'out'): 1, ('removed', 'd2'): True}
    """
    found: dict[Path, Any] = {}
    for part in BY_FIELD:
        for name, fields in notes.get(part, {}).items():
            found |= {(part, name, field): value for field, value in fields.items()}
    for part in BY_ID:
        found |= {(part, str(entry["id"])): entry for entry in notes.get(part, ())}
    for part in NAMES:
        found |= {(part, name): True for name in notes.get(part, ())}
    found |= {("practice", name): value for name, value in notes.get("practice", {}).items()}
    for name, value in notes.get("count", {}).items():
        if name == "seen":
            found |= {("count", "seen", tool): n for tool, n in value.items()}
        else:
            found["count", name] = value
    return found


def whole(entries: Mapping[Path, Any], shop: str) -> dict[str, Any]:
    """The notes made of such entries, in their order."""
    notes = blank(shop)
    for path, value in entries.items():
        part = path[0]
        if part in BY_FIELD:
            notes[part].setdefault(path[1], {})[path[2]] = value
        elif part in BY_ID:
            notes[part].append(value)
        elif part in NAMES:
            notes[part].append(path[1])
        elif path[:2] == ("count", "seen"):
            notes["count"].setdefault("seen", {})[path[2]] = value
        else:
            notes[part][path[1]] = value
    return notes


def changes(before: Mapping[str, Any], after: Mapping[str, Any]) -> list[CribChange]:
    """What makes one set of notes of another, entry by entry."""
    old, new = flat(before), flat(after)
    paths = dict.fromkeys((*old, *new))
    return [CribChange(p, old.get(p), new.get(p)) for p in paths if old.get(p) != new.get(p)]


def put(
    notes: Mapping[str, Any], wanted: Iterable[CribChange]
) -> tuple[dict[str, Any], list[tuple[CribChange, Any]]]:
    """Notes with the changes in them, and those not taken with what stands there instead.

    A change whose entry is what it became already is no quarrel.
    """
    entries, refused = flat(copy.deepcopy(dict(notes))), []
    for change in wanted:
        there = entries.get(change.path)
        if there == change.now:
            continue
        if there != change.was:
            refused.append((change, there))
        elif change.now is GONE:
            entries.pop(change.path)
        else:
            entries[change.path] = change.now
    return whole(entries, str(notes.get("shop", ""))), refused
