"""Lists as people keep them: CSV with commas, semicolons or tabs; rows that cannot be read are named with why."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.documents import read_text
from cordwainer.files.shown import cell, lines, uncelled

MOST_ROWS = 50_000


@dataclass(frozen=True)
class Refused:
    """A row that cannot be read: its line in the file, why, and its cells as they stand."""

    line: int
    reason: str
    cells: tuple[str, ...] = ()


def refused_row(line: int, bad: InputError, cells: Sequence[str]) -> Refused:
    """A row and what is wrong with it."""
    return Refused(line, f"{bad.field}: {bad.problem}" if bad.field else bad.problem, tuple(cells))


def text_of(path: Path) -> str:
    """The text of a list file. Raises `InputError` when it is too large, not text, or cannot be read."""
    return read_text(path, tr("CSV in UTF-8"))


def rows_of(text: str) -> list[tuple[int, list[str]]]:
    """The rows of a CSV text that hold anything, each with its line. Raises `InputError`."""
    if "\0" in text:
        raise InputError("", tr("is not text; save it as CSV"))
    first = next((line for line in text.splitlines() if line.strip()), "")
    comma = max((",", ";", "\t"), key=first.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=comma)
    rows: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((reader.line_num, [uncelled(c) for c in cells]))
            if len(rows) > MOST_ROWS + 1:
                raise InputError("", tr("more than {most_rows} rows; split the file", most_rows=MOST_ROWS))
    except csv.Error as bad:
        raise InputError(
            tr("line {line_num}", line_num=reader.line_num), tr("not readable as CSV: {bad}", bad=bad)
        ) from None
    if not rows:
        raise InputError("", tr("is empty; its first line names the columns"))
    return rows


def head_of(cells: Sequence[str]) -> list[str]:
    """The names of the columns. Raises `InputError` where one stands twice."""
    head = [cell.strip().lower().replace(" ", "_") for cell in cells]
    twice = sorted({name for name in head if name and head.count(name) > 1})
    if twice:
        raise InputError(tr("line 1"), tr("column '{twice}' stands twice; keep one of them", twice=twice[0]))
    return head


def check_width(head: Sequence[str], cells: Sequence[str]) -> None:
    """Raise `InputError` for a row with more cells than there are columns."""
    if any(cell.strip() for cell in cells[len(head) :]):
        raise InputError(
            "",
            tr(
                "{count} cells under {count_2} columns; is a comma inside a figure?",
                count=len(cells),
                count_2=len(head),
            ),
        )


def refused_text(head: Sequence[str], refused: Sequence[Refused]) -> str:
    """The rows refused as CSV, with why before each, to be corrected and read again."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(["why", *(name for name in head if name != "why")])
    skip = list(head).index("why") if "why" in head else None
    for row in refused:
        cells = [cell for index, cell in enumerate(row.cells) if index != skip]
        writer.writerow([tr("line {line}: {lines}", line=row.line, lines=lines(row.reason)), *map(cell, cells)])
    return out.getvalue()
