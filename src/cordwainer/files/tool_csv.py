"""Tools as CSV, one row a tool, columns named as in a shop file; rows that cannot be read are named with why."""

from __future__ import annotations

import csv
import io
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.tool import KINDS, Tool
from cordwainer.files.fields import TOOL_LENGTHS
from cordwainer.files.lists import Refused, check_width, head_of, refused_row, rows_of, text_of
from cordwainer.files.reading import validate_part
from cordwainer.files.shop import ToolFile, tool_from
from cordwainer.files.shop_out import tool_data
from cordwainer.files.shown import cell
from cordwainer.files.writing import write_text

TRUE, FALSE = {"true", "yes", "1", "x"}, {"false", "no", "0"}
FLAGS = ("split_point", "center_cutting")
NUMBERS = ("point_angle_deg", "included_angle_deg", "price")
COUNTS = ("flutes", "margins", "quantity", "regrinds", "out")
COLUMNS = (
    "id", "kind", "diameter", "designation", "series", "drawer", "quantity", "condition", "note", "material",
    "point_angle_deg", "split_point", "flutes", "margins", "shank", "coating", "zone", "limits",
    "center_cutting", "included_angle_deg", "regrinds", "price", *TOOL_LENGTHS,
)  # fmt: skip
PASSED = (*COLUMNS, "out", "name", "why")


@dataclass(frozen=True)
class ToolsRead:
    """Rows read: tools ready to be added (with their entries), tools that match ones here, rows refused."""

    new: tuple[dict[str, Any], ...]
    matched: tuple[tuple[Tool, dict[str, Any]], ...]
    refused: tuple[Refused, ...]
    unknown: tuple[str, ...]
    head: tuple[str, ...] = ()

    @property
    def good(self) -> int:
        """How many rows can be taken."""
        return len(self.new) + len(self.matched)


def read_file(path: Path, present: Sequence[Tool]) -> ToolsRead:
    """Read a CSV file; `present` are the tools a row may match. Raises `InputError` for the whole file."""
    return read_text(text_of(path), present)


def read_text(text: str, present: Sequence[Tool]) -> ToolsRead:
    """Rows of a CSV text. A row matches by `id`, else by drawer and designation, else it is new."""
    (_, first), *rows = rows_of(text)
    head = head_of(first)
    if "diameter" not in head:
        raise InputError(
            tr("line 1"),
            tr("no column 'diameter'; the columns are named {columns}, ...", columns=", ".join(COLUMNS[:8])),
        )
    unknown = tuple(name for name in head if name and name not in PASSED and not name.endswith("_mm"))
    by_id = {tool.id: tool for tool in present}
    by_place = {(tool.kind, tool.drawer, tool.designation): tool for tool in present if tool.drawer}
    new: list[dict[str, Any]] = []
    matched: list[tuple[Tool, dict[str, Any]]] = []
    refused: list[Refused] = []
    for line, cells in rows:
        try:
            entry, tool = _row(head, cells)
        except InputError as bad:
            refused.append(refused_row(line, bad, cells))
            continue
        here = by_id.get(str(entry.get("id", ""))) or by_place.get((tool.kind, tool.drawer, tool.designation))
        if here is not None:
            matched.append((here, entry))
        else:
            fresh = {**entry, "id": entry.get("id") or str(uuid.uuid4())}
            new.append(fresh)
            by_id[str(fresh["id"])] = replace(tool, id=str(fresh["id"]))
    return ToolsRead(tuple(new), tuple(matched), tuple(refused), unknown, tuple(head))


def _row(head: list[str], cells: list[str]) -> tuple[dict[str, Any], Tool]:
    check_width(head, cells)
    entry: dict[str, Any] = {}
    for name, given in zip(head, cells, strict=False):
        text = given.strip()
        if text and (name in COLUMNS or name == "out"):
            entry[name] = _value(name, text)
    entry.setdefault("kind", "drill")
    if entry["kind"] not in KINDS:
        raise InputError(
            "kind",
            tr("'{kind}' is not a kind of tool; write one of {kinds}", kind=entry["kind"], kinds=", ".join(KINDS)),
        )
    if "diameter" not in entry:
        raise InputError("diameter", tr("missing; write it as '6.8 mm', '1/4 in' or '#7'"))
    return entry, tool_from(validate_part(ToolFile, entry))


def _value(name: str, text: str) -> Any:
    if name in FLAGS:
        if text.lower() not in TRUE | FALSE:
            raise InputError(name, tr("'{words}' does not fit here; write yes or no", words=text))
        return text.lower() in TRUE
    if name in COUNTS:
        if not text.isdigit():
            raise InputError(name, tr("'{words}' does not fit here; write a whole number from 0", words=text))
        return int(text)
    if name in NUMBERS:
        try:
            return float(text.replace(",", "."))
        except ValueError:
            raise InputError(name, tr("'{words}' does not fit here; write a number", words=text)) from None
    if name == "limits":
        parts = [part.strip() for part in text.split(" to ")]
        if len(parts) != 2:
            raise InputError(name, tr("'{words}' are not two limits; write '0.4995 in to 0.5000 in'", words=text))
        return parts
    return text


def to_text(tools: Sequence[Tool]) -> str:
    """Tools as CSV with every column, as import takes it."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow([*COLUMNS, "out"])
    for tool in tools:
        data = tool_data(tool)
        writer.writerow([cell(_cell(data.get(name))) for name in COLUMNS] + [cell(tool.out or "")])
    return out.getvalue()


def _cell(value: Any) -> str:
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return " to ".join(str(item) for item in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def write_file(path: Path, tools: Sequence[Tool]) -> None:
    """Write tools as CSV, whole or not at all."""
    write_text(path, to_text(tools))
