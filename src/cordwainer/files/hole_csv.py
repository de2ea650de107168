"""Many holes from a list, each written on one line as it is printed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout import read_callout
from cordwainer.files.entries import hole_entry
from cordwainer.files.lists import Refused, check_width, head_of, refused_row, rows_of, text_of
from cordwainer.files.resolve import resolve_hole

COLUMN = "hole"
COLUMNS = (COLUMN, "id", "name", "count", "thickness", "x", "y")
LETTERS = "ABCDEFGHJKLMNPRSTUVWXY"


@dataclass(frozen=True)
class ReadHoles:
    """Holes read: entries as a job holds them, the line each was written on, and the rows refused."""

    entries: tuple[dict[str, Any], ...]
    lines: tuple[str, ...]
    refused: tuple[Refused, ...]
    head: tuple[str, ...]


def read_file(path: Path, unit: str, present: Sequence[str], general_tolerance: str) -> ReadHoles:
    """Read a list of holes; `present` are names already taken. Raises `InputError` for the whole file."""
    return read_text(text_of(path), unit, present, general_tolerance)


def read_text(text: str, unit: str, present: Sequence[str], general_tolerance: str) -> ReadHoles:
    """Holes of a text: CSV with a column `hole`, or, without one, a hole a line.

    `unit` is that of figures written without one.
    """
    rows = rows_of(text)
    head = head_of(rows[0][1])
    if COLUMN in head:
        rows = rows[1:]
    else:
        head = [COLUMN]
        lines = enumerate(text.splitlines(), 1)
        rows = [(number, [line]) for number, line in lines if line.strip() and not line.lstrip().startswith("#")]
    taken = set(present)
    entries, written, refused = [], [], []
    for line, cells in rows:
        try:
            check_width(head, cells)
            row = dict(zip(head, (cell.strip() for cell in cells), strict=False))
            entry = _entry(row, unit, taken)
            resolve_hole(hole_entry(entry), general_tolerance)
        except InputError as bad:
            refused.append(refused_row(line, bad, cells))
            continue
        taken.add(entry["id"])
        entries.append(entry)
        written.append(row[COLUMN])
    return ReadHoles(tuple(entries), tuple(written), tuple(refused), tuple(head))


def _entry(row: dict[str, str], unit: str, taken: set[str]) -> dict[str, Any]:
    if not row.get(COLUMN):
        raise InputError(COLUMN, tr("missing; write the hole as printed, such as '22 H7 thru 30'"))
    found = read_callout(row[COLUMN], unit)
    entry: dict[str, Any] = {key: value for key, value in found.keys().items() if value is not None}
    if not found.has_depth:
        if not row.get("thickness"):
            raise InputError(
                COLUMN, tr("'{row}' has no depth; write it, such as '{row} thru 30'", row=row[COLUMN])
            )
        entry["depth"] = str(parse(row["thickness"], unit))
        entry["through"] = True
    name = row.get("id", "")
    if name in taken:
        raise InputError("id", tr("'{name}' is taken; give each hole its own", name=name))
    entry = {"id": name or free_id(taken)} | entry
    if row.get("name"):
        entry["name"] = row["name"]
    if bool(row.get("x")) != bool(row.get("y")):
        raise InputError("y" if row.get("x") else "x", tr("missing; a place is an x and a y"))
    for axis in ("x", "y"):
        if row.get(axis):
            entry[axis] = str(parse(row[axis], unit, signed=True))
    if row.get("count"):
        if not row["count"].isdigit() or not 1 <= int(row["count"]) <= 9999:
            raise InputError(
                "count", tr("'{count}' is not a number of holes; write a whole number from 1", count=row["count"])
            )
        entry["count"] = int(row["count"])
    return entry


def table_of(entries: Sequence[dict[str, Any]], general_tolerance: str, unit: str) -> str:
    """The hole table as CSV: a line for every place, coordinates for a readout from the part's edges.

    Columns hole, id, name, count, x, y; it reads back as a list of holes. Holes without a place have one line.
    """
    import csv
    import io

    from cordwainer.core.lengths import inch_text, mm_text
    from cordwainer.files.callout_line import line_of
    from cordwainer.files.shown import cell

    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow((COLUMN, "id", "name", "count", "x", "y"))
    for raw in entries:
        entry = hole_entry(raw)
        hole = resolve_hole(entry, general_tolerance)
        line = line_of(entry)
        if not hole.places_mm:
            writer.writerow((cell(line), cell(hole.id), cell(hole.name), hole.count, "", ""))
        for number, place in enumerate(hole.places_mm, 1):
            name = hole.id if len(hole.places_mm) == 1 else f"{hole.id}.{number}"
            x, y = (f"{inch_text(z, 5) if unit == 'in' else mm_text(z, 4)} {unit}" for z in place)
            writer.writerow((cell(line), cell(name), cell(hole.name), 1, x, y))
    return out.getvalue()


def free_id(taken: set[str]) -> str:
    """The next free letter for a hole.

    >>> free_id({"A", "B"})
    'C'
    """
    for number in count(1):
        for letter in LETTERS:
            name = letter if number == 1 else f"{letter}{number}"
            if name not in taken:
                return name
    raise AssertionError
