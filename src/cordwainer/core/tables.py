"""Typed reading of the tables in `data/`.

Each table is a CSV file shipped inside the package. It is read once, on first use, and kept
as plain rows that know the table they came from and the source that the row names.
"""

from __future__ import annotations

import csv
import io
import json
import os
from bisect import bisect_left
from functools import cache
from typing import Any

import cordwainer
from cordwainer.core.errors import OutOfRangeError
from cordwainer.core.language import spoken, tr

# The columns a person reads, by table: what `Row.words` is for, and what goes into the catalog of texts.
WORDS = {
    "assumptions": ("words", "low_words", "high_words"),
    "cautions": ("text",),
    "checks_before": ("words", "how", "if_not"),
    "cutting_speeds": ("material_class",),
    "felt": ("words",),
    "fits": ("name", "words"),
    "fluids": ("drilling_fluid", "reaming_fluid", "tapping_fluid", "boring_fluid"),
    "habits": ("words",),
    "model_constants": ("what", "short"),
    "model_faults": ("words",),
    "model_fixed": ("what",),
    "precedence": ("words",),
    "process_capability": ("process",),
    "schools": ("title", "words", "reason"),
    "setup_checks": ("text",),
    "tool_choice": ("point", "helix"),
    "tool_costs": ("words",),
    "tool_sets": ("group", "words"),
    "training/holes": ("part",),
    "diagnosis/answer_words": ("words",),
    "diagnosis/causes": ("name", "mechanism", "fix", "rescue_hint", "safety"),
    "diagnosis/evidence": ("question", "how_to_look"),
    "diagnosis/plan_changes": ("words",),
}


def packaged(name: str) -> bytes:
    """A file of ``data/`` as it ships with the package, by the package's own loader.

    `importlib.resources` would do the same, for a tenth of the start-up.
    """
    path = os.path.join(os.path.dirname(cordwainer.__file__), "data", *name.split("/"))
    loader: Any = cordwainer.__loader__
    found: bytes = loader.get_data(path)
    return found


def page(name: str) -> str:
    """A page of ``data/`` in the language in force: ``guide.md``, or ``guide.de.md`` where there is one."""
    stem, _, ending = name.rpartition(".")
    own = f"{stem}.{spoken()}.{ending}"
    there = spoken() != "en" and os.path.exists(os.path.join(os.path.dirname(cordwainer.__file__), "data", own))
    return packaged(own if there else name).decode("utf-8")


class Row:
    """One row of a table: text by column, with numbers on request."""

    __slots__ = ("_cells", "table")

    def __init__(self, table: str, cells: dict[str, str]) -> None:
        self.table = table
        self._cells = cells

    def text(self, column: str) -> str:
        """The cell as it stands; a missing column is a `KeyError`, since tables are ours."""
        return self._cells[column]

    def words(self, column: str) -> str:
        """The cell as a person reads it, in the language in force; `WORDS` names the columns that hold words."""
        return tr(self._cells[column])

    def number(self, column: str) -> float:
        """The cell as a number; an empty cell is an `OutOfRangeError`."""
        cell = self._cells[column]
        if not cell:
            raise OutOfRangeError(tr("{table} has no {column} in this row", table=self.table, column=column))
        return float(cell)

    def number_or_none(self, column: str) -> float | None:
        """The cell as a number, or None where the table has none."""
        cell = self._cells[column]
        return float(cell) if cell else None

    @property
    def source(self) -> str:
        """Where the row comes from, as the table says."""
        return self._cells.get("source", "")


@cache
def rows(table: str) -> tuple[Row, ...]:
    """All rows of ``data/<table>.csv``."""
    text = packaged(f"{table}.csv").decode("utf-8")
    return tuple(Row(table, cells) for cells in csv.DictReader(io.StringIO(text, newline="")))


@cache
def by_key(table: str, column: str) -> dict[str, Row]:
    """The rows of a table by the text of one column (which must not repeat)."""
    return {row.text(column): row for row in rows(table)}


@cache
def _bounds(table: str, to_column: str) -> list[float]:
    return [row.number(to_column) for row in rows(table)]


def row_for(table: str, to_column: str, value: float, over_column: str | None = None) -> Row:
    """The row whose range holds `value`: over the row before it, up to and including its own end.

    Raises `OutOfRangeError` beyond the last row, or at or below the start of the first when
    `over_column` is given.
    """
    ends = _bounds(table, to_column)
    index = bisect_left(ends, value - 1e-9)
    if index >= len(ends):
        raise OutOfRangeError(
            tr("{table} ends at {ends:g}; {value:g} is larger", table=table, ends=ends[-1], value=value)
        )
    row = rows(table)[index]
    if over_column is not None and value <= row.number(over_column):
        raise OutOfRangeError(
            tr(
                "{table} starts over {number:g}; {value:g} is smaller",
                table=table,
                number=row.number(over_column),
                value=value,
            )
        )
    return row


@cache
def constants(name: str = "constants") -> dict[str, float]:
    """The single numbers of ``data/<name>.csv`` by id."""
    return {row.text("id"): row.number("value") for row in rows(name)}


def constant(identifier: str) -> float:
    """One number of ``data/constants.csv``; its row there says where it comes from."""
    return constants()[identifier]


def constant_source(identifier: str) -> str:
    """Where a number of ``data/constants.csv`` comes from."""
    return by_key("constants", "id")[identifier].source


@cache
def document(name: str) -> Any:
    """A JSON document of ``data/``."""
    return json.loads(packaged(name))
