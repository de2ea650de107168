"""Changing a hole's sequence by hand: swap, step, add, remove, move, lock, speed, depth.

Each gives what the job's `sequence` then is; the plan goes around what is fixed in it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.choices import between, stepped, tools_for
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.files.sequence import operation_entry

Entry = dict[str, Any]
PLACED = ("counterbore", "guide", "part_way", "finish_pilot")


@dataclass(frozen=True)
class Edited:
    """An edit in words, the `sequence` it leaves and whether that is all there is; what is then in hand.

    `tool` is the tool whose operation is in hand then, `place` the place of it where no tool tells.
    """

    words: str
    entries: list[Entry]
    only: bool
    tool: Tool | None = None
    place: int | None = None


@dataclass(frozen=True)
class SequenceEdits:
    """The edits of one hole's sequence: `data` is the hole in the job's file, `route` the sequence shown."""

    hole: Hole
    data: Entry
    route: Route | None
    shop: Shop
    unit: str

    # -- what is there ---------------------------------------------------------------------

    @property
    def own(self) -> bool:
        """Whether anything of the sequence is the machinist's."""
        hole = self.data
        return bool(hole.get("sequence")) or bool(hole.get("sequence_only"))

    @property
    def only(self) -> bool:
        """Whether the sequence is exactly the machinist's, with nothing added."""
        return bool(self.data.get("sequence_only"))

    def choices(self, index: int) -> tuple[Tool, ...]:
        """Tools of the crib that could do an operation."""
        operation = self._operation(index)
        return tools_for(self.shop, operation, self.hole) if operation is not None else ()

    def locked(self, index: int) -> bool:
        """Whether an operation is fixed."""
        operation = self._operation(index)
        return operation is not None and bool(operation.locked)

    # -- edits -----------------------------------------------------------------------------

    def step(self, index: int, up: bool) -> Edited | None:
        """The next larger or smaller size that exists."""
        operation = self._operation(index)
        if operation is None or operation.tool is None:
            return None
        tool = stepped(self.choices(index), operation.tool, up)
        if tool is None:
            word = tr("larger") if up else tr("smaller")
            unit = operation.tool.diameter.unit
            raise InputError(
                "",
                tr(
                    "the crib has no {word} tool in {unit} for this step than {operation}",
                    word=word,
                    unit=unit,
                    operation=operation.tool.designation,
                ),
            )
        return self.swap(index, tool)

    def swap(self, index: int, tool: Tool) -> Edited | None:
        """Another tool for an operation; it is fixed, the rest is planned around it."""
        operation = self._operation(index)
        if operation is None:
            return None
        fresh = {"kind": operation.kind, **_tool_entry(tool), "locked": ["diameter"]}
        return self._put(
            index, tr("{tool} for step {index}", tool=tool.designation, index=index + 1), lambda _: fresh, tool
        )

    def lock(self, index: int) -> Edited | None:
        """Fix an operation's tool, or let it go again."""
        operation = self._operation(index)
        if operation is None or operation.tool is None:
            return None
        if operation.locked:
            return self._put(
                index, tr("Let go of {operation}", operation=operation.tool.designation), lambda _: None
            )
        return self._put(
            index,
            tr("Keep {operation}", operation=operation.tool.designation),
            lambda old: old | {"locked": ["diameter"]},
        )

    def set_speed(self, index: int, rpm: float) -> Edited | None:
        """Fix the speed of an operation."""
        return self._fix(index, tr("{rpm:g} rev/min", rpm=rpm), "rpm", rpm)

    def set_depth(self, index: int, text: str) -> Edited | None:
        """Fix the depth of an operation, as typed; nothing typed lets it go."""
        if not text.strip():
            return self._unfix(index, "depth")
        depth = parse(text, self.unit)
        if depth.mm <= 0:
            raise InputError("", tr("'{words}' is not more than zero; write a depth such as '32'", words=text))
        return self._fix(index, tr("{depth} deep", depth=depth), "depth", str(depth))

    def remove(self, index: int) -> Edited | None:
        """Take an operation out; the others stay as they are and nothing is added."""
        operation = self._operation(index)
        if operation is None:
            return None
        entries = self._all_entries()
        gone = entries.pop(index)
        if not entries:
            raise InputError("", tr("it is the only step; plan it freely instead, or remove the hole"))
        return Edited(tr("Remove {kind}", kind=tr(gone["kind"].replace("_", " "))), entries, only=True)

    def move(self, index: int, by: int) -> Edited | None:
        """Change the order: the sequence is then exactly the machinist's."""
        entries = self._all_entries()
        if not 0 <= index + by < len(entries):
            return None
        entries.insert(index + by, entries.pop(index))
        return Edited(tr("Change the order"), entries, only=True, place=index + by)

    def add(self, index: int) -> Edited:
        """A drill of the crib between the selected drill and the one before it."""
        operation = self._operation(index)
        if operation is None or operation.kind != "drill" or operation.tool is None:
            raise InputError("", tr("choose the drill that the new step should come before"))
        tool = between(self.shop, self.hole, operation.previous_mm, operation.tool)
        if tool is None:
            raise InputError(
                "", tr("the crib has no drill between it and {operation}", operation=operation.tool.designation)
            )
        fresh = {"kind": "drill", **_tool_entry(tool), "locked": ["diameter"]}
        if self.only:
            entries = self._all_entries()
            entries.insert(index, fresh)
        else:
            entries = [*self._fixed_entries(), fresh]
        return Edited(tr("Add {tool}", tool=tool.designation), entries, only=self.only, tool=tool)

    def free(self) -> Edited:
        """Plan anew: nothing is fixed any more."""
        return Edited(tr("Plan it freely"), [], only=False)

    # -- the entries -------------------------------------------------------------------------

    def _operation(self, index: int) -> Operation | None:
        route = self.route
        return route.operations[index] if route is not None and 0 <= index < len(route.operations) else None

    def _entry_of(self, operation: Operation) -> Entry | None:
        """The entry of the sequence that an operation answers to."""
        tool_id = operation.tool.id if operation.tool else None
        for entry in self.data.get("sequence") or []:
            known = (entry.get("tool") or {}).get("id")
            if entry["kind"] == operation.kind and (known is None or known == tool_id):
                return dict(entry)
        return None

    def _fixed_entries(self) -> list[Entry]:
        return [dict(e) for e in self.data.get("sequence") or [] if e.get("locked")]

    def _all_entries(self) -> list[Entry]:
        """Every operation shown as an entry, those already fixed as they are."""
        route = self.route
        return [self._entry_of(o) or _bare(o) for o in (route.operations if route is not None else ())]

    def _fix(self, index: int, words: str, key: str, value: object) -> Edited | None:
        def change(old: Entry) -> Entry:
            locked = [*dict.fromkeys([*old.get("locked", []), "diameter", key])]
            return old | {key: value, "locked": locked}

        return self._put(index, words, change)

    def _unfix(self, index: int, key: str) -> Edited | None:
        def change(old: Entry) -> Entry:
            rest = {k: v for k, v in old.items() if k != key}
            return rest | {"locked": [k for k in old.get("locked", []) if k != key]}

        return self._put(index, tr("Let go of the {key}", key=key), change)

    def _put(
        self, index: int, words: str, change: Callable[[Entry], Entry | None], tool: Tool | None = None
    ) -> Edited | None:
        operation = self._operation(index)
        if operation is None:
            return None
        if self.only:
            entries = self._all_entries()
            fresh = change(entries[index])
            entries[index] = fresh if fresh is not None else _bare(operation)
        else:
            old = self._entry_of(operation)
            entries = [e for e in self._fixed_entries() if e != old]
            fresh = change(old or _bare(operation))
            if fresh is not None:
                entries.append(fresh)
        return Edited(words, entries, only=self.only, tool=tool or operation.tool)


def _tool_entry(tool: Tool) -> Entry:
    return {
        "diameter": str(tool.diameter),
        "tool": {"id": tool.id, "designation": tool.designation, "series": tool.series},
    }


def _bare(operation: Operation) -> Entry:
    """An operation as an entry with nothing fixed but what it is."""
    entry = operation_entry(operation, ())
    kept = ("kind", "diameter", "tool", "role", *(("depth",) if operation.role in PLACED else ()))
    return {key: value for key, value in entry.items() if key in kept}
