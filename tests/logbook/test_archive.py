"""A shop in one file: there and back whole, and refused in one line where it is not to be trusted."""

from __future__ import annotations

import hashlib
import json
import sqlite3
import zipfile
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from cordwainer.cli import cli
from cordwainer.core.errors import InputError
from cordwainer.core.shop.sets import sets
from cordwainer.files import crib, new_shop
from cordwainer.files.places import Settings, crib_path, data_folder, name_for
from cordwainer.files.writing import write_json
from cordwainer.logbook import archive
from cordwainer.logbook.book import Book
from tests.logbook.test_book import Clock, measured, run


def now() -> datetime:
    return datetime(2026, 3, 1, tzinfo=UTC)


@pytest.fixture
def shop(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """An own shop with a set in it, a logbook of three holes, and a job."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "one" / name.lower()))
    path = new_shop.begin("North bay", "bench_lathe")
    data = crib.blank(str(path))
    letters = next(own for own in sets() if own.id == "letters")
    crib.add_tools(
        data, [crib.sold_entry(t, t.designation, drawer="L") for p in letters.parts for _, t in p.tools()], {}
    )
    write_json(data_folder() / "cribs" / f"{name_for(str(path))}.crib.json", data, own=True)
    book = Book(data_folder() / "logbook.sqlite", Clock())
    for number in (1, 2, 3):
        record = run(number)
        book.take_run(record)
        measured(book, record, 8.1 + number / 100)
    book.close()
    settings = Settings()
    settings.put("shop", str(path))
    settings.put("guard", 0.5)
    job = tmp_path / "brackets.job.json"
    job.write_text('{"format": "cordwainer-job", "version": 1, "holes": []}')
    settings.add_recent(job)
    return path


def elsewhere(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Another profile."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "two" / name.lower()))


def rows(path: Path) -> dict[str, list[tuple[Any, ...]]]:
    with closing(sqlite3.connect(path)) as raw:
        names = [
            n
            for (n,) in raw.execute("SELECT name FROM sqlite_master WHERE type='table'")
            if n != "alembic_version"
        ]
        return {
            n: sorted(raw.execute(f"SELECT * FROM {n}").fetchall(), key=repr) for n in names if "sqlite" not in n
        }


def test_there_and_back_to_the_last_record(shop: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    out = tmp_path / "along.cordwainer"
    made = archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    assert made.name == "North bay" and made.jobs == 1 and made.part("logbook.sqlite") is not None
    with pytest.raises(InputError, match="there already"):
        archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    before = rows(data_folder() / "logbook.sqlite")
    kept = json.loads((data_folder() / "cribs" / f"{name_for(str(shop))}.crib.json").read_text())
    elsewhere(tmp_path, monkeypatch)
    settings = Settings()
    jobs = tmp_path / "jobs"
    brought = archive.bring_in(out, settings, data_folder() / "logbook.sqlite", jobs, now)
    assert brought.holes == 3 and [job.name for job in brought.jobs] == ["brackets.job.json"]
    assert rows(data_folder() / "logbook.sqlite") == before
    assert brought.shop is not None and settings.get("guard") == 0.5 and settings.get("shop") is None
    there = json.loads((data_folder() / "cribs" / f"{name_for(str(brought.shop))}.crib.json").read_text())
    assert there | {"shop": ""} == kept | {"shop": ""} and len(there["added"]) == 26
    again = archive.bring_in(out, settings, data_folder() / "logbook.sqlite", jobs, now)
    assert again.holes == 0 and not again.jobs and again.shop != brought.shop
    assert rows(data_folder() / "logbook.sqlite") == before
    assert not archive.take_back(again, settings, data_folder() / "logbook.sqlite") and not again.shop.exists()
    brought.jobs[0].write_text('{"format": "cordwainer-job", "version": 1, "holes": [], "name": "worked on"}')
    left = archive.take_back(brought, settings, data_folder() / "logbook.sqlite")
    assert left == brought.jobs and not brought.shop.exists() and settings.get("guard") is None
    assert not any(rows(data_folder() / "logbook.sqlite").values()), "what came went, with all that belongs to it"


def test_in_place_of_a_shop_keeps_what_was_there(
    shop: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    out = tmp_path / "along.cordwainer"
    archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    elsewhere(tmp_path, monkeypatch)
    own = new_shop.begin("South bay", "drill_press")
    notes = crib.blank(str(own)) | {"sets": ["letters"]}
    write_json(crib_path(str(own)), notes, own=True)
    before = {path: path.read_bytes() for path in (own, crib_path(str(own)))}
    book = data_folder() / "logbook.sqlite"
    brought = archive.bring_in(out, Settings(), book, tmp_path / "jobs", now, own)
    assert brought.shop == own and json.loads(own.read_text())["name"] == "North bay"
    assert len(json.loads(crib_path(str(own)).read_text())["added"]) == 26
    assert all(path.with_name(path.name + ".20260301-000000").read_bytes() == was for path, was in before.items())
    assert not archive.take_back(brought, Settings(), book)
    assert {path: path.read_bytes() for path in before} == before


def test_what_fails_half_way_leaves_nothing_behind(
    shop: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    out = tmp_path / "along.cordwainer"
    archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    elsewhere(tmp_path, monkeypatch)
    settings, jobs, book = Settings(), tmp_path / "jobs", data_folder() / "logbook.sqlite"
    own = new_shop.begin("South bay", "drill_press")
    before, place_jobs = own.read_bytes(), archive._place_jobs

    def late(*given: Any) -> None:
        place_jobs(*given)
        raise OSError("the disk is full")

    def locked(*_: object) -> None:
        raise sqlite3.OperationalError("database is locked")

    for name, broken, over in (("merge", locked, own), ("_place_jobs", late, None), ("_place_jobs", late, own)):
        with monkeypatch.context() as patch, pytest.raises(InputError, match="nothing was taken in"):
            patch.setattr(archive, name, broken)
            archive.bring_in(out, settings, book, jobs, now, over)
        assert own.read_bytes() == before and list(new_shop.own_shops()) == ["south bay"], name
        assert not list(jobs.glob("*.json")) and settings.get("guard") is None
        assert not book.exists() or not any(rows(book).values())


def remade(path: Path, change: Callable[[dict[str, bytes]], None]) -> None:
    """The archive with its parts changed, the list left as it was unless it is changed, too."""
    with zipfile.ZipFile(path) as old:
        parts = {name: old.read(name) for name in old.namelist()}
    change(parts)
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
        for name, content in parts.items():
            new.writestr(name, content)


def listed(parts: dict[str, bytes], **change: Any) -> None:
    """The list of an archive made anew, with something in it changed."""
    data = json.loads(parts["manifest.json"]) | change
    data.setdefault("parts", [])
    if "parts" not in change:
        data["parts"] = [
            {"name": n, "bytes": len(c), "sha256": hashlib.sha256(c).hexdigest()}
            for n, c in parts.items()
            if n != "manifest.json"
        ]
    parts["manifest.json"] = json.dumps(data).encode()


def _escape(parts: dict[str, bytes]) -> None:
    parts["../../evil.job.json"] = b"{}"
    listed(parts)


def _bomb(parts: dict[str, bytes]) -> None:
    parts["shop.json"] = b" " * (archive.MOST_SMALL + 1)
    listed(parts)


def _other(parts: dict[str, bytes]) -> None:
    parts["crib.json"] = parts["crib.json"].replace(b"letter A", b"letter B")


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (_escape, "belongs to no shop"),
        (_bomb, "larger than any shop"),
        (_other, "not as it was written"),
        (lambda parts: listed(parts, version=99), "version 99"),
        (lambda parts: listed(parts, format="strange"), "no shop taken along"),
        (lambda parts: parts.pop("manifest.json"), "no list"),
        (lambda parts: parts.pop("crib.json"), "missing or cut off"),
        (lambda parts: parts.update({"more.txt": b"x"}), "does not name"),
    ],
)
def test_what_is_not_to_be_trusted_is_refused_and_nothing_touched(
    shop: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    change: Callable[[dict[str, bytes]], None],
    why: str,
) -> None:
    out = tmp_path / "along.cordwainer"
    archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    remade(out, change)
    elsewhere(tmp_path, monkeypatch)
    told = CliRunner().invoke(cli, ["import", str(out), "--jobs", str(tmp_path / "jobs")])
    assert told.exit_code == 2 and why in told.output and len(told.output.strip().splitlines()) == 1
    assert not (tmp_path / "two").exists() or not any((tmp_path / "two").rglob("*.json"))


@pytest.mark.parametrize("share", [0.0, 0.3, 0.7, 0.99])
def test_an_archive_cut_off_is_refused(shop: Path, tmp_path: Path, share: float) -> None:
    out = tmp_path / "along.cordwainer"
    archive.export(out, str(shop), Settings(), data_folder() / "logbook.sqlite")
    whole = out.read_bytes()
    out.write_bytes(whole[: int(share * len(whole))])
    with pytest.raises(InputError, match="cut off"):
        archive.look(out)


def test_the_commands(shop: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "north"
    told = CliRunner().invoke(cli, ["export", str(target)])
    assert told.exit_code == 0 and "North bay" in told.output, told.output
    assert CliRunner().invoke(cli, ["export", str(target)]).exit_code == 2
    assert CliRunner().invoke(cli, ["export", str(target), "--force"]).exit_code == 0
    looked = CliRunner().invoke(cli, ["import", "--look", f"{target}.cordwainer", "--json"])
    assert json.loads(looked.output)["shop"] == "North bay"
    elsewhere(tmp_path, monkeypatch)
    told = CliRunner().invoke(cli, ["import", f"{target}.cordwainer", "--jobs", str(tmp_path / "jobs")])
    assert told.exit_code == 0 and "3 holes new" in told.output
