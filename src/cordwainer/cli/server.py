"""Several benches, one shop: a server prepared, joined, left; a logbook carried there and back."""

from __future__ import annotations

from datetime import datetime
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, cli, guarded, put
from cordwainer.core.errors import InputError

ADDRESS = "postgresql+psycopg://bench@host/cordwainer"


def _now() -> datetime:
    return datetime.now().astimezone()


@cli.group("server")
def server_commands() -> None:
    """Several benches, one shop: logbook and crib on a PostgreSQL server."""


def _server(words: str) -> Any:
    """The server of an address, or of the settings where none is given."""
    from cordwainer.files.places import Settings
    from cordwainer.logbook.server import Server, read_address
    from cordwainer.logbook.sharing import joined

    if words:
        address, password = read_address(words)
        return Server(address, password or None)
    settled = joined(Settings())
    if settled is None:
        raise InputError("server", f"this bench has joined none; give an address like {ADDRESS}")
    return Server(settled.address)


@server_commands.command("prepare")
@click.argument("address")
@click.option("--bench", "role", default="", help="A role that may then read, add and change, and delete nothing.")
@AS_JSON
@guarded
def prepare(address: str, role: str, as_json: bool) -> None:
    """Make the tables, or bring them up to date; as their owner."""
    server = _server(address)
    server.prepare(role)
    server.check()
    words = f"{server.address.words} is ready" + (f"; {role} may log, not delete" if role else "")
    put({"server": server.address.text, "bench": role}, as_json, lambda: [words])


@server_commands.command("join")
@click.argument("address")
@click.option("--bench", default="", help="What this bench is called; without it the computer's name.")
@click.option("--shop", default="", help="The shop put there where there is none; without it the one in use.")
@click.option("--ask", is_flag=True, help="Ask for the password, and keep it in the secret store.")
@AS_JSON
@guarded
def join_server(address: str, bench: str, shop: str, ask: bool, as_json: bool) -> None:
    """Share the shop of a server from now on."""
    from cordwainer.files.places import Settings
    from cordwainer.logbook.sharing import join, own_name, settle

    settings = Settings()
    password = click.prompt("Password", hide_input=True, err=True) if ask else ""
    found = join(settings, address, bench or own_name(), shop or str(settings.get("shop", "catalog")), password)
    settle(settings, found)
    data = {"server": found.address.text, "bench": found.bench, "title": found.title, "shop": found.shop}
    put(data, as_json, lambda: [f"{found.bench} shares {found.title}, {found.address.words}: {found.shop}"])


@server_commands.command("leave")
@AS_JSON
@guarded
def leave_server(as_json: bool) -> None:
    """Share nothing any more; shop and copy stay here."""
    from cordwainer.files.places import Settings
    from cordwainer.logbook.sharing import joined, leave

    settings = Settings()
    before = joined(settings)
    leave(settings)
    words = f"left {before.address.words}" if before else "this bench had joined none"
    put({"left": before.address.text if before else None}, as_json, lambda: [words])


@server_commands.command("state")
@AS_JSON
@guarded
def state(as_json: bool) -> None:
    """What this bench still owes its server, what was not taken there, and whether it answers."""
    from cordwainer.files.places import Settings
    from cordwainer.logbook.bench import BenchCopy, copy_path
    from cordwainer.logbook.safe import LogbookError
    from cordwainer.logbook.server import Server
    from cordwainer.logbook.sharing import joined

    settled = joined(Settings())
    if settled is None:
        put({"server": None}, as_json, lambda: ["this bench has joined no server"])
        return
    copy = BenchCopy(copy_path(settled.address), _now)
    waiting, troubles = copy.count_waiting(), copy.troubles()
    copy.close()
    server, trouble = Server(settled.address), ""
    try:
        server.check()
    except LogbookError as bad:
        trouble = str(bad)
    server.close()
    data = {"server": settled.address.text, "bench": settled.bench, "waiting": waiting, "trouble": trouble}
    data["not_taken"] = [{"what": what, "key": key, "why": why} for what, key, why in troubles]
    told = [f"{settled.bench}, {settled.address.words}: {trouble or 'answers'}; {waiting} deeds wait"]
    put(data, as_json, lambda: [*told, *(f"not taken: {what} {key}: {why}" for what, key, why in troubles)])


@server_commands.command("move")
@click.argument("way", type=click.Choice(["to", "from"]))
@click.option("--address", default="", help="A server; without it the one joined.")
@click.option("--logbook", "own", default="", help="A logbook's file; without it this bench's own.")
@AS_JSON
@guarded
def move_logbook(way: str, address: str, own: str, as_json: bool) -> None:
    """Carry the logbook's file to the server, or what is there into the file; counted and checksummed."""
    from pathlib import Path

    from cordwainer.files.places import data_folder
    from cordwainer.logbook.move import move
    from cordwainer.logbook.safe import Kept
    from cordwainer.logbook.sharing import own_name

    server = _server(address)
    server.check()
    path = Path(own) if own else data_folder() / "logbook.sqlite"
    if way == "to" and not path.exists():
        raise InputError("logbook", f"there is no logbook at {path}")
    kept = Kept(path, _now)
    with server.trouble_told(), kept.trouble_told():
        source, target = (kept.engine, server.engine) if way == "to" else (server.engine, kept.engine)
        moved = move(source, target, own_name())
    kept.close()
    server.close()
    data = {"counts": moved.counts, "there_already": moved.there, "sha256": moved.checksum}
    counted = ", ".join(f"{n} {name}" for name, n in moved.counts.items())
    told = f"carried {counted}; {moved.there} holes were there already; both sides {moved.checksum[:16]}"
    put(data, as_json, lambda: [told])
