"""A shop taken along in one file, and brought in."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, cli, guarded, put
from cordwainer.core.errors import InputError


def _now() -> datetime:
    return datetime.now().astimezone()


@cli.command("export")
@click.argument("path")
@click.option("--shop", "shop_name", default="", help="A shop file; without it the one settled in the window.")
@click.option("--force", is_flag=True, help="Write over a file that is there.")
@AS_JSON
@guarded
def export_shop(path: str, shop_name: str, force: bool, as_json: bool) -> None:
    """Take the shop along: tools, machines, gauges, practices, logbook, jobs and settings in one file."""
    from cordwainer.files.places import Settings, data_folder
    from cordwainer.files.writing import with_ending
    from cordwainer.logbook import archive

    settings = Settings()
    name = shop_name or str(settings.get("shop", "catalog"))
    target = with_ending(Path(path), archive.ENDING)
    found = archive.export(target, name, settings, data_folder() / "logbook.sqlite", over=force)
    data = {"path": str(found.path), "shop": found.name, "parts": [part.name for part in found.parts]}
    put(data, as_json, lambda: [f"{found.path}: {found.name}, {len(found.parts)} parts, {found.jobs} jobs"])


@cli.command("import")
@click.argument("path")
@click.option("--look", is_flag=True, help="Only say what is in it.")
@click.option("--over", default="", help="A shop begun here that it takes the place of; a copy of that is kept.")
@click.option("--jobs", "jobs_folder", default=".", show_default=True, help="Where its jobs are put.")
@AS_JSON
@guarded
def import_shop(path: str, look: bool, over: str, jobs_folder: str, as_json: bool) -> None:
    """Bring a shop in beside what is here: nothing here is written over, the logbook only grows."""
    from cordwainer.files.new_shop import own_shops
    from cordwainer.files.places import Settings, data_folder
    from cordwainer.logbook import archive

    found = archive.look(Path(path))
    data: dict[str, Any]
    if look:
        data = {"shop": found.name, "made": found.made, "parts": [part.name for part in found.parts]}
        put(data, as_json, lambda: [f"{found.name}, of {found.made}: " + ", ".join(p.name for p in found.parts)])
        return
    place = own_shops().get(over) if over else None
    if over and place is None:
        raise InputError("over", f"'{over}' is no shop begun here; there are {', '.join(own_shops()) or 'none'}")
    book = data_folder() / "logbook.sqlite"
    brought = archive.bring_in(
        Path(path), Settings(), book, Path(jobs_folder), _now, Path(place) if place else None
    )
    shop = str(brought.shop) if brought.shop else ""
    data = {"shop": shop, "holes": brought.holes, "jobs": [str(job) for job in brought.jobs]}
    words = f"{shop or found.name}: {brought.holes} holes new to the logbook, {len(brought.jobs)} jobs"
    put(data, as_json, lambda: [words])
