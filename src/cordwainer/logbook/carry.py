"""The logbook carried out and in: JSON whole and without loss, CSV a table a file for a spreadsheet."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path
from typing import Any

from sqlalchemy import select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session as Store

from cordwainer import __version__
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.documents import parse_json, read_text
from cordwainer.files.shown import cell, shown
from cordwainer.files.writing import may_write, write_json, write_text
from cordwainer.logbook.book import Book
from cordwainer.logbook.records import TABLES, Base

FORMAT, VERSION, MOST_BYTES = "cordwainer-logbook", 1, 200_000_000
PARTS = {table.__tablename__: table for table in TABLES}


def _row(entry: Base) -> dict[str, Any]:
    return {column.name: getattr(entry, column.name) for column in entry.__table__.columns}


def as_data(book: Book) -> dict[str, Any]:
    """All that the logbook holds, as JSON has it."""
    with Store(book.engine) as store:
        tables = {
            name: [_row(entry) for entry in store.scalars(select(table).order_by(table.id))]
            for name, table in PARTS.items()
        }
    return {"format": FORMAT, "version": VERSION, "made_with": __version__, **tables}


def export_json(book: Book, path: Path) -> None:
    """The whole logbook in one file."""
    write_json(path, as_data(book))


def export_csv(book: Book, folder: Path) -> list[Path]:
    """A file for each table, named after it; snapshots as JSON in their cell.

    Raises `InputError` where one of them is there already; then none is written.
    """
    found: list[Path] = []
    for name in PARTS:
        may_write(folder / f"{name}.csv", tr("another folder"))
    for name, rows in as_data(book).items():
        if name not in PARTS:
            continue
        held = io.StringIO()
        columns = [column.name for column in PARTS[name].__table__.columns]
        writer = csv.DictWriter(held, columns, lineterminator="\n")
        writer.writeheader()
        for row in rows:
            cells = {k: _cell(v) for k, v in row.items()}
            writer.writerow(cells)
        found.append(folder / f"{name}.csv")
        write_text(found[-1], held.getvalue(), over=False)
    return found


def _told(row: dict[str, Any]) -> dict[str, Any]:
    """A stranger's row: texts as words; figures and snapshots as they are."""
    return {k: shown(v, 400) if isinstance(v, str) else v for k, v in row.items()}


def _cell(value: Any) -> Any:
    if isinstance(value, dict):
        return json.dumps(value, ensure_ascii=False)
    return cell(value) if isinstance(value, str) else value


def import_json(book: Book, path: Path) -> int:
    """Take in what another logbook gave out; what is here already stays. How many holes are new.

    Raises `InputError` for a file that is no such thing; then nothing is taken in.
    """
    data = parse_json(read_text(path, most=MOST_BYTES))
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InputError("format", tr("{path} is no logbook given out by this program", path=path.name))
    if data.get("version") != VERSION:
        raise InputError(
            "version",
            tr(
                "{path} is of version {version!r}; {version_2} is read",
                path=path.name,
                version=data.get("version"),
                version_2=VERSION,
            ),
        )
    for name in PARTS:
        rows = data.get(name, [])
        if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
            raise InputError(name, tr("is no list of rows; nothing was taken in"))
        key = "id" if name == "hole" else "tool_id" if name == "regrind" else "hole_id"
        for index, row in enumerate(rows):
            if not isinstance(row.get(key), str) or not row[key]:
                raise InputError(f"{name}[{index}].{key}", tr("is missing; nothing was taken in"))
            for column in row.keys() - PARTS[name].__table__.columns.keys():
                raise InputError(f"{name}[{index}].{column}", tr("is nothing a logbook has; nothing was taken in"))
    try:
        with Store(book.engine) as store:
            known = set(store.scalars(select(PARTS["hole"].id)))
        book.take_rows({name: [_told(row) for row in data.get(name, [])] for name in PARTS})
    except (TypeError, KeyError, AttributeError, ValueError, OverflowError, SQLAlchemyError):
        raise InputError(
            "", tr("{path} holds what no logbook has; nothing was taken in", path=path.name)
        ) from None
    return len({row["id"] for row in data.get("hole", [])} - known)
