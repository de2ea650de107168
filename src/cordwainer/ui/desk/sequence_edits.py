"""Changing a hole's sequence by hand: swap, step, add, remove, move, lock, speed, depth.

Each is one undoable edit of the job's `sequence`; the plan then goes around what is fixed.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.ui.desk.session import Session

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import Operation
    from cordwainer.core.shop.tool import Tool

Entry = dict[str, Any]
PLACED = ("counterbore", "guide", "part_way", "finish_pilot")


class SequenceEdits:
    """The edits of the selected hole's sequence."""

    def __init__(self, session: Session) -> None:
        self.session = session

    # -- what is there ---------------------------------------------------------------------

    @property
    def own(self) -> bool:
        """Whether anything of the sequence is the machinist's."""
        hole = self._hole_data()
        return bool(hole.get("sequence")) or bool(hole.get("sequence_only"))

    @property
    def only(self) -> bool:
        """Whether the sequence is exactly the machinist's, with nothing added."""
        return bool(self._hole_data().get("sequence_only"))

    def choices(self, index: int) -> tuple[Tool, ...]:
        """Tools of the crib that could do an operation."""
        from cordwainer.core.planning.choices import tools_for

        operation, hole = self._operation(index), self.session.hole
        return tools_for(self.session.shop, operation, hole) if operation is not None and hole is not None else ()

    def locked(self, index: int) -> bool:
        """Whether an operation is fixed."""
        operation = self._operation(index)
        return operation is not None and bool(operation.locked)

    # -- edits -----------------------------------------------------------------------------

    def step(self, index: int, up: bool) -> None:
        """The next larger or smaller size that exists."""
        from cordwainer.core.planning.choices import stepped

        operation = self._operation(index)
        if operation is None or operation.tool is None:
            return
        tool = stepped(self.choices(index), operation.tool, up)
        if tool is None:
            word = "larger" if up else "smaller"
            unit = operation.tool.diameter.unit
            raise InputError(
                "", f"the crib has no {word} tool in {unit} for this step than {operation.tool.designation}"
            )
        self.swap(index, tool)

    def swap(self, index: int, tool: Tool) -> None:
        """Another tool for an operation; it is fixed, the rest is planned around it."""
        operation = self._operation(index)
        if operation is None:
            return
        fresh = {"kind": operation.kind, **_tool_entry(tool), "locked": ["diameter"]}
        self._put(index, f"{tool.designation} for step {index + 1}", lambda _: fresh, tool)

    def lock(self, index: int) -> None:
        """Fix an operation's tool, or let it go again."""
        operation = self._operation(index)
        if operation is None or operation.tool is None:
            return
        if operation.locked:
            self._put(index, f"Let go of {operation.tool.designation}", lambda _: None)
            return
        self._put(index, f"Keep {operation.tool.designation}", lambda old: old | {"locked": ["diameter"]})

    def set_speed(self, index: int, rpm: float) -> None:
        """Fix the speed of an operation."""
        self._fix(index, f"{rpm:g} rev/min", "rpm", rpm)

    def set_depth(self, index: int, text: str) -> None:
        """Fix the depth of an operation, as typed; nothing typed lets it go."""
        if not text.strip():
            self._unfix(index, "depth")
            return
        depth = parse(text, self.session.unit)
        if depth.mm <= 0:
            raise InputError("", f"'{text}' is not more than zero; write a depth such as '32'")
        self._fix(index, f"{depth} deep", "depth", str(depth))

    def remove(self, index: int) -> None:
        """Take an operation out; the others stay as they are and nothing is added."""
        operation = self._operation(index)
        if operation is None:
            return
        entries = self._all_entries()
        gone = entries.pop(index)
        self._write(f"Remove {gone['kind'].replace('_', ' ')}", entries, only=True)

    def move(self, index: int, by: int) -> None:
        """Change the order: the sequence is then exactly the machinist's."""
        entries = self._all_entries()
        if not 0 <= index + by < len(entries):
            return
        entries.insert(index + by, entries.pop(index))
        self._write("Change the order", entries, only=True)
        self.session.operation_index = index + by

    def add(self, index: int) -> None:
        """A drill of the crib between the selected drill and the one before it."""
        from cordwainer.core.planning.choices import between

        session = self.session
        operation, hole = self._operation(index), session.hole
        if hole is None or operation is None or operation.kind != "drill" or operation.tool is None:
            raise InputError("", "choose the drill that the new step should come before")
        tool = between(session.shop, hole, operation.previous_mm, operation.tool)
        if tool is None:
            raise InputError("", f"the crib has no drill between it and {operation.tool.designation}")
        fresh = {"kind": "drill", **_tool_entry(tool), "locked": ["diameter"]}
        if self.only:
            entries = self._all_entries()
            entries.insert(index, fresh)
        else:
            entries = [*self._fixed_entries(), fresh]
        self._write(f"Add {tool.designation}", entries, only=self.only, tool=tool)

    def free(self) -> None:
        """Plan anew: nothing is fixed any more."""
        self.session.edit_hole("Plan it freely", sequence=None, sequence_only=None)

    # -- the document ------------------------------------------------------------------------

    def _hole_data(self) -> Entry:
        holes: list[Entry] = self.session.data.get("holes", [])
        return holes[self.session.hole_index] if self.session.hole_index < len(holes) else {}

    def _operation(self, index: int) -> Operation | None:
        route = self.session.route
        return route.operations[index] if route is not None and 0 <= index < len(route.operations) else None

    def _entry_of(self, operation: Operation) -> Entry | None:
        """The entry of the sequence that an operation answers to."""
        tool_id = operation.tool.id if operation.tool else None
        for entry in self._hole_data().get("sequence") or []:
            known = (entry.get("tool") or {}).get("id")
            if entry["kind"] == operation.kind and (known is None or known == tool_id):
                return dict(entry)
        return None

    def _fixed_entries(self) -> list[Entry]:
        return [dict(e) for e in self._hole_data().get("sequence") or [] if e.get("locked")]

    def _all_entries(self) -> list[Entry]:
        """Every operation shown as an entry, those already fixed as they are."""
        route = self.session.route
        return [self._entry_of(o) or _bare(o) for o in (route.operations if route is not None else ())]

    def _fix(self, index: int, words: str, key: str, value: object) -> None:
        def change(old: Entry) -> Entry:
            locked = [*dict.fromkeys([*old.get("locked", []), "diameter", key])]
            return old | {key: value, "locked": locked}

        self._put(index, words, change)

    def _unfix(self, index: int, key: str) -> None:
        def change(old: Entry) -> Entry:
            rest = {k: v for k, v in old.items() if k != key}
            return rest | {"locked": [k for k in old.get("locked", []) if k != key]}

        self._put(index, f"Let go of the {key}", change)

    def _put(
        self, index: int, words: str, change: Callable[[Entry], Entry | None], tool: Tool | None = None
    ) -> None:
        operation = self._operation(index)
        if operation is None:
            return
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
        self._write(words, entries, only=self.only, tool=tool or operation.tool)

    def _write(self, words: str, entries: list[Entry], *, only: bool, tool: Tool | None = None) -> None:
        self.session.keep_selected(tool)
        self.session.edit_hole(words, sequence=entries or None, sequence_only=True if only else None)


def _tool_entry(tool: Tool) -> Entry:
    return {
        "diameter": str(tool.diameter),
        "tool": {"id": tool.id, "designation": tool.designation, "series": tool.series},
    }


def _bare(operation: Operation) -> Entry:
    """An operation as an entry with nothing fixed but what it is."""
    from cordwainer.files.sequence import operation_entry

    entry = operation_entry(operation, ())
    kept = ("kind", "diameter", "tool", "role", *(("depth",) if operation.role in PLACED else ()))
    return {key: value for key, value in entry.items() if key in kept}
