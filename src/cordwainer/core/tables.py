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


def packaged(name: str) -> bytes:
    """A file of ``data/`` as it ships with the package, by the package's own loader.

    `importlib.resources` would do the same, for a tenth of the start-up.
    """
    path = os.path.join(os.path.dirname(cordwainer.__file__), "data", *name.split("/"))
    loader: Any = cordwainer.__loader__
    found: bytes = loader.get_data(path)
    return found


class Row:
    """One row of a table: text by column, with numbers on request."""

    __slots__ = ("_cells", "table")

    def __init__(self, table: str, cells: dict[str, str]) -> None:
        self.table = table
        self._cells = cells

    def text(self, column: str) -> str:
        """The cell as it stands; a missing column is a `KeyError`, since tables are ours."""
        return self._cells[column]

    def number(self, column: str) -> float:
        """The cell as a number; an empty cell is an `OutOfRangeError`."""
        cell = self._cells[column]
        if not cell:
            raise OutOfRangeError(f"{self.table} has no {column} in this row")
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
        raise OutOfRangeError(f"{table} ends at {ends[-1]:g}; {value:g} is larger")
    row = rows(table)[index]
    if over_column is not None and value <= row.number(over_column):
        raise OutOfRangeError(f"{table} starts over {row.number(over_column):g}; {value:g} is smaller")
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
