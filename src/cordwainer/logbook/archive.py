"""A whole shop in one file to carry: shop, notes on its crib, practices, logbook, jobs, settings.

A `.cordwainer` file is a plain zip with `manifest.json`: what it is, of which version, and each part with its size
and SHA-256. A part is taken out beside what is here, checked, and only then used; an archive that is cut off,
strange, newer, larger than any shop or pointing elsewhere is refused whole.
"""

from __future__ import annotations

import hashlib
import json
import re
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any

from cordwainer import __version__
from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.shop import Shop
from cordwainer.files.documents import parse_json
from cordwainer.files.new_shop import free_place
from cordwainer.files.places import SHOP_ENDING, Settings, crib_path
from cordwainer.files.shown import shown
from cordwainer.files.writing import make_folder, remove, take_place, told, write_bytes, write_chunks, write_json
from cordwainer.logbook.records import TABLES

FORMAT, VERSION, ENDING = "cordwainer-archive", 1, ".cordwainer"
MANIFEST, SHOP, CRIB, BOOK, SETTINGS = "manifest.json", "shop.json", "crib.json", "logbook.sqlite", "settings.json"
KNOWN = (SHOP, CRIB, BOOK, SETTINGS)
JOB = re.compile(r"jobs/[^/\\\x00-\x1f]{1,150}\.(?:job\.json|run\.jsonl)")
MOST_MANIFEST, MOST_SMALL, MOST_BOOK = 2_000_000, 60_000_000, 4_000_000_000
MOST_PARTS, CHUNK = 5000, 1 << 20
BUILT_IN = ("demo", "catalog")
LEFT_OUT = ("recent", "shop", "readout", "gauge", "window", "server")


@dataclass(frozen=True)
class Part:
    """One file of the archive: its name in it, its size, its SHA-256."""

    name: str
    size: int
    sha256: str


@dataclass(frozen=True)
class Archive:
    """What an archive says it holds, read and checked but for the parts themselves."""

    path: Path
    made: str
    made_with: str
    name: str
    parts: tuple[Part, ...]

    def part(self, name: str) -> Part | None:
        """A part by its name."""
        return next((part for part in self.parts if part.name == name), None)

    @property
    def jobs(self) -> int:
        """How many jobs are in it."""
        return sum(part.name.endswith(".job.json") for part in self.parts)


@dataclass
class Brought:
    """What came of an archive: the shop's file here, rows new to the logbook, jobs put in their folder."""

    shop: Path | None = None
    rows: list[str] = field(default_factory=list)
    ground: list[tuple[str, str]] = field(default_factory=list)
    jobs: list[Path] = field(default_factory=list)
    settled: dict[str, Any] = field(default_factory=dict)
    sums: dict[Path, str] = field(default_factory=dict)
    before: dict[Path, bytes] = field(default_factory=dict)

    def sign(self, *written: Path) -> None:
        """Remember files as they were written, to know them again."""
        self.sums |= {own: _hash(own) for own in written if own.is_file()}

    @property
    def holes(self) -> int:
        """How many holes are new to the logbook."""
        return len(self.rows)


# -- out ------------------------------------------------------------------------------------------


def export(path: Path, shop_name: str, settings: Settings, book: Path, over: bool = False) -> Archive:
    """Write the shop in use, with all that belongs to it, into one file. Raises `InputError`."""
    if path.exists() and not over:
        raise InputError("", tr("{path} is there already", path=path.name))
    with told(path):
        make_folder(path.parent)
    with tempfile.TemporaryDirectory(dir=path.parent) as name:
        folder = Path(name)
        files = _gathered(folder, shop_name, settings, book)
        parts = tuple(Part(inside, own.stat().st_size, _hash(own)) for inside, own in files.items())
        manifest = {
            "format": FORMAT,
            "version": VERSION,
            "made_with": __version__,
            "made": datetime.now().astimezone().isoformat(timespec="seconds"),
            "name": _shop_title(shop_name),
            "parts": [{"name": p.name, "bytes": p.size, "sha256": p.sha256} for p in parts],
        }
        made = folder / "archive.zip"
        with told(path), zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as out:
            out.writestr(MANIFEST, json.dumps(manifest, ensure_ascii=False, indent=1))
            for inside, own in files.items():
                out.write(own, inside)
        with told(path):
            take_place(made, path)
    return Archive(path, str(manifest["made"]), __version__, str(manifest["name"]), parts)


def _gathered(folder: Path, shop_name: str, settings: Settings, book: Path) -> dict[str, Path]:
    """Copies of everything that goes along, by their name in the archive."""
    found: dict[str, Path] = {}

    def keep(inside: str, data: dict[str, Any]) -> None:
        own = folder / inside.replace("/", "_")
        write_json(own, data)
        found[inside] = own

    source = Path(shop_name)
    if shop_name.endswith(SHOP_ENDING) and source.is_file():
        found[SHOP] = source
    else:
        keep(
            SHOP,
            {"format": "cordwainer-shop", "version": 1, "name": shop_name, "tools": [], "built_in": shop_name},
        )
    crib = crib_path(shop_name)
    if crib.is_file():
        found[CRIB] = crib
    keep(SETTINGS, {key: value for key, value in settings.values.items() if key not in LEFT_OUT})
    if book.is_file():
        copy = folder / BOOK
        with closing(sqlite3.connect(book)) as here, closing(sqlite3.connect(copy)) as there:
            here.backup(there)
        found[BOOK] = copy
    for text in settings.recent():
        job = Path(text)
        if job.is_file() and job.name.endswith(".job.json"):
            found.setdefault(f"jobs/{job.name}", job)
            run = job.with_name(job.name.removesuffix(".job.json") + ".run.jsonl")
            if run.is_file():
                found.setdefault(f"jobs/{run.name}", run)
    return found


def _shop_title(shop_name: str) -> str:
    path = Path(shop_name)
    if shop_name.endswith(SHOP_ENDING) and path.is_file():
        data = parse_json(path.read_text("utf-8", "replace"))
        return str(data.get("name") or path.name) if isinstance(data, dict) else path.name
    return shop_name


def _hash(path: Path) -> str:
    found = hashlib.sha256()
    with path.open("rb") as file:
        while chunk := file.read(CHUNK):
            found.update(chunk)
    return found.hexdigest()


# -- in -------------------------------------------------------------------------------------------


def look(path: Path) -> Archive:
    """What an archive holds. Raises `InputError` for one that is not to be trusted; nothing is touched."""
    try:
        with zipfile.ZipFile(path) as archive:
            return _checked(path, archive)
    except FileNotFoundError:
        raise InputError("", tr("{path} is not there", path=path.name)) from None
    except (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, OSError):
        raise InputError(
            "", tr("{path} is cut off or is no shop taken along; nothing was taken in", path=path.name)
        ) from None


def _checked(path: Path, archive: zipfile.ZipFile) -> Archive:
    infos = {info.filename: info for info in archive.infolist()}
    if len(infos) != len(archive.infolist()) or len(infos) > MOST_PARTS:
        raise InputError("", tr("{path} holds a part twice, or too many; nothing was taken in", path=path.name))
    manifest = infos.get(MANIFEST)
    if manifest is None or manifest.file_size > MOST_MANIFEST:
        raise InputError("", tr("{path} is no shop taken along: it has no list of what is in it", path=path.name))
    data = parse_json(_bytes(archive, manifest, MOST_MANIFEST).decode("utf-8", "replace"))
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise InputError("", tr("{path} is no shop taken along with this program", path=path.name))
    version = data.get("version")
    if not isinstance(version, int) or version > VERSION or version < 1:
        raise InputError(
            "",
            tr(
                "{path} is of version {version!r}; versions up to {version_2} are read here",
                path=path.name,
                version=version,
                version_2=VERSION,
            ),
        )
    listed = data.get("parts")
    parts = [_part(path, entry, infos) for entry in (listed if isinstance(listed, list) else [])]
    if set(infos) - {MANIFEST} != {part.name for part in parts}:
        raise InputError("", tr("{path} holds what its list does not name; nothing was taken in", path=path.name))
    made, by = (shown(str(data.get(key, "")), 60) for key in ("made", "made_with"))
    return Archive(path, made, by, shown(str(data.get("name") or "shop"), 60), tuple(parts))


def _part(path: Path, entry: Any, infos: dict[str, zipfile.ZipInfo]) -> Part:
    name = entry.get("name") if isinstance(entry, dict) else None
    if not isinstance(name, str) or not (name in KNOWN or JOB.fullmatch(name)) or ".." in name:
        raise InputError(
            "",
            tr("{path} names a part that belongs to no shop: '{name}'", path=path.name, name=shown(str(name), 40)),
        )
    info = infos.get(name)
    most = MOST_BOOK if name == BOOK else MOST_SMALL
    if info is None or info.file_size != entry.get("bytes"):
        raise InputError("", tr("{path} is not whole: '{name}' is missing or cut off", path=path.name, name=name))
    if info.file_size > most or info.is_dir():
        raise InputError(
            "",
            tr(
                "{path} is larger than any shop: '{name}' would be {file_size:,} bytes",
                path=path.name,
                name=name,
                file_size=info.file_size,
            ),
        )
    return Part(name, info.file_size, str(entry.get("sha256")))


def _bytes(archive: zipfile.ZipFile, info: zipfile.ZipInfo, most: int) -> bytes:
    with archive.open(info) as file:
        found = file.read(most + 1)
    if len(found) > most:
        raise InputError(
            "", tr("'{filename}' is larger than it says; nothing was taken in", filename=info.filename)
        )
    return found


def unpack(found: Archive, folder: Path) -> dict[str, Path]:
    """Every part into a folder, checked against its size and its sum. Raises `InputError`."""
    taken: dict[str, Path] = {}
    try:
        with zipfile.ZipFile(found.path) as archive:
            for number, part in enumerate(found.parts):
                target = folder / f"{number}.part"
                write_chunks(target, _checked_chunks(archive, part))
                taken[part.name] = target
    except (zipfile.BadZipFile, EOFError, OSError, RuntimeError, NotImplementedError):
        raise InputError(
            "", tr("{path} is cut off or damaged; nothing was taken in", path=found.path.name)
        ) from None
    return taken


def _checked_chunks(archive: zipfile.ZipFile, part: Part) -> Iterator[bytes]:
    """A part piece by piece, its size and its sum held against what the list says."""
    seen, size = hashlib.sha256(), 0
    with archive.open(part.name) as inside:
        while chunk := inside.read(CHUNK):
            size += len(chunk)
            if size > part.size:
                raise InputError("", tr("'{part}' is larger than it says; nothing was taken in", part=part.name))
            seen.update(chunk)
            yield chunk
    if size != part.size or seen.hexdigest() != part.sha256:
        raise InputError("", tr("'{part}' is not as it was written; nothing was taken in", part=part.name))


def bring_in(
    path: Path,
    settings: Settings,
    book: Path,
    jobs_folder: Path,
    now: Callable[[], datetime],
    over: Path | None = None,
    *,
    with_shop: bool = True,
) -> Brought:
    """Take a shop in: its file and crib, its holes that are new, its jobs, settings nobody settled here.

    It comes beside what is here, under a free name, or in place of the shop whose file `over` is, or without its
    tools where they are taken some other way. Jobs that are here already are left, the logbook only grows. Raises
    `InputError`, and then nothing has changed.
    """
    archive = look(path)
    brought = Brought()
    with tempfile.TemporaryDirectory() as name:
        parts = unpack(archive, Path(name))
        shop, crib = _shop_parts(parts)
        if shop is not None and shop.get("built_in") in BUILT_IN and crib is None and over is None:
            shop = None  # everybody has that one
        elif shop is not None:
            shop = _whole_shop(shop, archive.name)
        if BOOK in parts:
            _whole_book(parts[BOOK], now)
        try:
            if shop is not None and with_shop:
                brought.shop = over or free_place(archive.name)
                brought.before = _place_shop(brought.shop, shop, crib, now())
                brought.sign(brought.shop, crib_path(str(brought.shop)))
            if BOOK in parts:
                brought.rows, brought.ground = merge(parts[BOOK], book, now)
            _place_jobs(parts, jobs_folder, brought)
            for key, value in (_read(parts, SETTINGS) or {}).items():
                if key not in settings.values and key not in LEFT_OUT:
                    settings.put(key, value)
                    brought.settled[key] = value
        except (CordwainerError, OSError, sqlite3.Error) as bad:
            take_back(brought, settings, book)
            raise InputError(
                "", tr("{path} could not be brought in ({bad}); nothing was taken in", path=path.name, bad=bad)
            ) from None
    return brought


def _place_jobs(parts: dict[str, Path], folder: Path, brought: Brought) -> None:
    """Jobs and their run records into a folder; those that are there already are left."""
    found = {name.removeprefix("jobs/"): own for name, own in parts.items() if name.startswith("jobs/")}
    if found:
        make_folder(folder)
    for name, own in found.items():
        target = folder / name
        if not target.exists():
            write_bytes(target, own.read_bytes())
            brought.jobs.append(target)
            brought.sign(target)


def shop_in(path: Path) -> Shop:
    """The shop an archive holds, with the notes on its crib in it. Raises `InputError`."""
    from cordwainer.core.shop import catalog
    from cordwainer.files import crib as cribs
    from cordwainer.files.shop import load

    with tempfile.TemporaryDirectory() as name:
        parts = unpack(look(path), Path(name))
        shop, crib = _shop_parts(parts)
        if shop is None:
            raise InputError("", tr("{path} holds no shop", path=path.name))
        built_in = shop.get("built_in")
        base = catalog.built_in(built_in) if built_in in BUILT_IN else load(str(parts[SHOP]))
    return base if crib is None else cribs.with_changes(base, crib)


def _shop_parts(parts: dict[str, Path]) -> tuple[dict[str, Any] | None, dict[str, Any] | None]:
    """The shop's file and the notes on its crib, read and checked. Raises `InputError`."""
    shop, crib = _read(parts, SHOP), _read(parts, CRIB)
    if crib is not None:
        from cordwainer.files.crib import checked, make_added

        checked(crib)
        make_added(crib, {})
    return shop, crib


def take_back(brought: Brought, settings: Settings, book: Path) -> list[Path]:
    """Take back what was brought in; files worked on since are left, and come back as a list.

    Rows the archive put into the logbook go with what belongs to them, in one transaction; all others stay. Raises
    `InputError` where the logbook cannot be written, and then nothing was taken back.
    """
    if brought.rows or brought.ground:
        try:
            with closing(sqlite3.connect(book)) as raw, raw:
                raw.execute("PRAGMA foreign_keys=ON")
                raw.executemany("DELETE FROM hole WHERE id = ?", [(name,) for name in brought.rows])
                raw.executemany("DELETE FROM regrind WHERE tool_id = ? AND at = ?", brought.ground)
        except sqlite3.Error as bad:
            raise InputError("", tr("the logbook cannot be written: {bad}", bad=bad)) from None
    left = []
    for own, known in brought.sums.items():
        if own.is_file() and _hash(own) == known and own in brought.before:
            write_bytes(own, brought.before[own])
        elif own.is_file() and _hash(own) == known:
            remove(own)
        elif own.is_file():
            left.append(own)
    for key, value in brought.settled.items():
        if settings.get(key) == value:
            settings.drop(key)
    return left


def _read(parts: dict[str, Path], name: str) -> dict[str, Any] | None:
    if name not in parts:
        return None
    data = parse_json(parts[name].read_text("utf-8", "replace"))
    if not isinstance(data, dict):
        raise InputError("", tr("'{name}' holds no object; nothing was taken in", name=name))
    return data


def _place_shop(
    path: Path, shop: dict[str, Any], crib: dict[str, Any] | None, when: datetime
) -> dict[Path, bytes]:
    """Write the shop's file, and its crib's; what stood there is kept beside them by the time, and comes back."""
    notes = crib_path(str(path))
    before = {own: own.read_bytes() for own in (path, notes) if own.is_file()}
    for own, data in before.items():
        write_bytes(own.with_name(f"{own.name}.{when:%Y%m%d-%H%M%S}"), data)
    write_json(path, shop, own=True)
    if crib is not None or notes.is_file():
        from cordwainer.files.crib import blank

        write_json(notes, {**(crib or blank("")), "shop": str(path)}, own=True)
    return before


def _whole_shop(shop: dict[str, Any], title: str) -> dict[str, Any]:
    """The shop's file, a built-in one spelled out under the archive's title. Raises `InputError`."""
    from cordwainer.core.shop import catalog
    from cordwainer.files.reading import validate
    from cordwainer.files.shop import ShopFile
    from cordwainer.files.shop_out import shop_data

    built_in = shop.pop("built_in", None)
    if built_in in BUILT_IN:
        shop = {**shop_data(catalog.built_in(built_in)), "name": title}
    validate(ShopFile, shop)
    return shop


def _whole_book(path: Path, now: Callable[[], datetime]) -> None:
    """A logbook brought along, made of this version beside the one here. Raises for one that is none."""
    from cordwainer.logbook.book import Book

    book = Book(path, now)
    book.close()
    if any("damaged" in line for line in book.said):
        raise InputError("", tr("the logbook in it is damaged; nothing was taken in"))


def merge(source: Path, book: Path, now: Callable[[], datetime]) -> tuple[list[str], list[tuple[str, str]]]:
    """Holes and regrinds of another logbook that are not here yet, in one transaction; which ones."""
    from cordwainer.logbook.book import Book

    Book(book, now).close()
    with closing(sqlite3.connect(book)) as raw:
        raw.execute("ATTACH DATABASE ? AS other", (str(source),))
        with raw:
            raw.execute(
                "CREATE TEMP TABLE fresh AS SELECT id FROM other.hole WHERE id NOT IN (SELECT id FROM hole)"
            )
            new = "NOT EXISTS (SELECT 1 FROM regrind r WHERE r.tool_id = o.tool_id AND r.at = o.at)"
            ground = raw.execute(f"SELECT DISTINCT tool_id, at FROM other.regrind o WHERE {new}").fetchall()
            for table in TABLES:
                own = table.__tablename__
                columns = [c.name for c in table.__table__.columns if own == "hole" or c.name != "id"]
                names = ", ".join(f'"{c}"' for c in columns)
                which = {"hole": "id IN (SELECT id FROM fresh)", "regrind": new}.get(
                    own, "hole_id IN (SELECT id FROM fresh)"
                )
                raw.execute(f"INSERT INTO {own} ({names}) SELECT {names} FROM other.{own} o WHERE {which}")
            holes = [name for (name,) in raw.execute("SELECT id FROM fresh")]
        return holes, ground
