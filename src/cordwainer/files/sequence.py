"""The sequence of a job's hole: what the machinist has fixed, to and from the file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, from_mm
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.finishers import reamer
from cordwainer.core.shop.makers import twist_drill
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.files.entries import SequenceEntry, ToolEntry

TOOL_KINDS = {
    "drill": "drill",
    "core_drill": "core_drill",
    "spade_drill": "spade_drill",
    "center_drill": "center_drill",
    "spot_drill": "spot_drill",
    "ream": "reamer",
    "end_mill": "end_mill",
    "punch": "punch",
    "bore": "boring_bar",
    "countersink": "countersink",
    "counterbore": "counterbore",
    "spotface": "counterbore",
    "tap": "tap",
}
ALSO = {"ream": ("taper_pin_reamer",), "counterbore": ("end_mill", "boring_bar"), "spotface": ("end_mill",)}
FIXED = ("diameter", "tool", "rpm", "feed", "depth")


def read_wishes(operations: Sequence[SequenceEntry], only: bool, shop: Shop) -> Wishes:
    """What a hole's sequence fixes: every operation that has something locked, or all of them with `only`.

    Tools are found in the shop by id, else by kind, size and series, else they are taken from the catalog
    (and then count as still to get). No operations at all fix nothing: a hole is not made without a step.
    """
    only = only and bool(operations)
    found = []
    for index, operation in enumerate(operations):
        wanted = set(FIXED) & set(operation.locked)
        if not only and not wanted:
            continue
        try:
            tool = find_tool(operation, shop)
        except InputError as bad:
            raise bad.inside(f"sequence[{index}]") from None
        free = only and not operation.locked
        found.append(
            Wish(
                kind=operation.kind,
                tool=tool,
                rpm=operation.rpm if "rpm" in wanted or free else None,
                feed_mm_per_rev=operation.feed_mm_per_rev if "feed" in wanted or free else None,
                depth_mm=operation.depth.mm if operation.depth and ("depth" in wanted or free) else None,
                role=operation.role,
                diameter_mm=operation.diameter.mm if operation.diameter and operation.kind == "bore" else None,
            )
        )
    return Wishes(tuple(found), only)


def find_tool(operation: SequenceEntry, shop: Shop) -> Tool | None:
    """The tool meant by an operation, None for kinds that need none."""
    kind = TOOL_KINDS.get(operation.kind)
    if kind is None:
        return None
    known = operation.tool
    for stock in (shop, built_in("catalog")):
        tools = tuple(t for k in (kind, *ALSO.get(operation.kind, ())) for t in stock.of_kind(k))
        by_id = next((t for t in tools if known.id and t.id == known.id), None)
        if by_id is not None:
            return by_id
        fitting = [t for t in tools if _is_meant(t, operation, known)]
        if fitting:
            return min(fitting, key=lambda t: t.series not in ("jobber", "taper_shank", "plain", "A", "straight"))
    size: Length | None = operation.diameter
    if size is not None and kind == "drill":
        return twist_drill(size)
    if size is not None and kind == "reamer":
        return reamer(size, "H7" if size.unit == "mm" else "", "straight")
    if kind == "punch":
        return None
    raise InputError(
        "tool",
        tr("no {kind} like this is known; name one by its 'id' or 'designation'", kind=tr(kind.replace("_", " "))),
    )


def _is_meant(tool: Tool, operation: SequenceEntry, known: ToolEntry) -> bool:
    if operation.diameter is None and known.designation is None:
        return False
    sized = operation.diameter is not None and operation.kind != "bore"
    if sized and operation.diameter and abs(tool.diameter_mm - operation.diameter.mm) > 1e-6:
        return False
    if operation.kind == "bore" and known.designation is None:
        return False
    if known.designation is not None and tool.designation != known.designation:
        return False
    return (known.series or known.length_class or tool.series) == tool.series


def operation_entry(operation: Operation, locked: tuple[str, ...]) -> dict[str, Any]:
    """An operation as a hole's sequence holds it, with what is locked of it."""
    tool = operation.tool
    entry: dict[str, Any] = {"kind": operation.kind}
    if tool is not None:
        entry["diameter"] = str(tool.diameter)
        if operation.kind == "bore" and operation.diameter_mm is not None:
            entry["diameter"] = str(from_mm(round(operation.diameter_mm, 6), 6))
        entry["tool"] = {"id": tool.id, "designation": tool.designation, "series": tool.series}
    if operation.role is not None:
        entry["role"] = operation.role
    if operation.rpm is not None:
        entry["rpm"] = operation.rpm
    if operation.feed_mm_per_rev is not None:
        entry["feed_mm_per_rev"] = operation.feed_mm_per_rev
    if operation.depth_mm is not None:
        entry["depth"] = str(from_mm(round(operation.depth_mm, 6), 6))
    if locked:
        entry["locked"] = list(locked)
    return entry
