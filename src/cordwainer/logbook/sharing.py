"""Joining a shop's server: which one, under which name, and the shop that lies there."""

from __future__ import annotations

import platform
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from sqlalchemy import insert, select, text
from sqlalchemy.orm import Session as Store

from cordwainer.core.errors import InputError
from cordwainer.core.shop import catalog
from cordwainer.files import crib as cribs
from cordwainer.files.documents import read_document
from cordwainer.files.new_shop import free_place
from cordwainer.files.places import Settings, crib_path
from cordwainer.files.reading import validate
from cordwainer.files.shop import ShopFile
from cordwainer.files.shop_out import shop_data
from cordwainer.files.shown import shown
from cordwainer.files.writing import make_folder, write_json
from cordwainer.logbook.records import Changed, CribKept
from cordwainer.logbook.server import CHANNEL, WRITING, Address, Server, read_address

SETTING = "server"


@dataclass(frozen=True)
class Joined:
    """What a bench has settled about its server: the address, its own name there, the shop's file here."""

    address: Address
    bench: str
    shop: str
    title: str


def joined(settings: Settings) -> Joined | None:
    """The server of the settings; None where there is none, or none that can be read."""
    kept = settings.mapping(SETTING)
    try:
        address, _ = read_address(str(kept["address"]))
    except (KeyError, InputError):
        return None
    return Joined(
        address, str(kept.get("bench") or own_name()), str(kept.get("shop") or ""), str(kept.get("title") or "")
    )


def own_name() -> str:
    """What this bench is called unless it is told otherwise."""
    return shown(platform.node(), 60) or "bench"


def leave(settings: Settings) -> None:
    """No server any more: the shop's file and the copy of its logbook stay here."""
    settings.drop(SETTING)


def join(settings: Settings, words: str, bench: str, shop_name: str, password: str = "") -> Joined:
    """Share the shop of a server: the one that lies there, else the one in use here is put there; to be settled.

    `words` is the typed address, `password` goes into the secret store when given, in the address or apart. Raises
    `InputError` or `LogbookError`.
    """
    address, typed = read_address(words)
    secret = password or typed
    server = Server(address, secret or None)
    try:
        server.check()
        with server.trouble_told():
            there = shop_there(server)
            if there is None:
                there = put_shop(server, *own_shop(shop_name), bench)
    finally:
        server.close()
    if secret:
        address.keep_password(secret)
    place = _place(there, settings.mapping(SETTING))
    return Joined(address, bench, str(place), there.shop)


def settle(settings: Settings, found: Joined) -> None:
    """Use that server and its shop from now on."""
    kept = {"address": found.address.text, "bench": found.bench, "shop": found.shop, "title": found.title}
    settings.put(SETTING, kept)
    settings.put("shop", found.shop)


def shop_there(server: Server) -> CribKept | None:
    """The shop of a server."""
    with Store(server.engine, expire_on_commit=False) as store:
        return store.scalars(select(CribKept).limit(1)).first()


def own_shop(name: str) -> tuple[str, dict[str, Any], dict[str, Any]]:
    """A shop of this bench: its title, its file and the notes on its crib. Raises `InputError`."""
    base = (
        shop_data(catalog.built_in(name))
        if name in ("demo", "catalog")
        else read_document(Path(name), "cordwainer-shop")
    )
    notes = cribs.blank(name)
    if crib_path(name).exists():
        notes = cribs.checked(read_document(crib_path(name), cribs.FORMAT))
    return shown(base.get("name") or "shop", 80), base, notes


def put_shop(server: Server, title: str, base: dict[str, Any], notes: dict[str, Any], bench: str) -> CribKept:
    """Put a shop on a server that has none; where somebody was quicker, theirs is the shop."""
    with Store(server.engine, expire_on_commit=False) as store, store.begin():
        store.execute(text("SELECT pg_advisory_xact_lock(:n)"), {"n": WRITING})
        there = store.scalars(select(CribKept).limit(1)).first()
        if there is not None:
            return there
        found = CribKept(shop=title, version=1, base=base, notes=notes)
        store.add(found)
        store.execute(insert(Changed), [{"kind": "crib", "key": title, "bench": bench, "copy": "", "at": ""}])
        store.execute(text("SELECT pg_notify(:c, '')"), {"c": CHANNEL})
    return found


def _place(there: CribKept, before: dict[str, Any]) -> Path:
    """The shop's file here, and the notes on its crib; the one used before where it is the same shop."""
    validate(ShopFile, dict(there.base))
    known = Path(str(before.get("shop") or ""))
    if before.get("title") == there.shop and known.is_file():
        path = known
    else:
        path = free_place(there.shop)
        make_folder(path.parent)
        write_json(path, there.base, own=True)
    write_json(
        crib_path(str(path)), {**cribs.checked({**cribs.blank(""), **there.notes}), "shop": str(path)}, own=True
    )
    return path


def notes_here(there: CribKept, shop: str) -> dict[str, Any]:
    """The notes of a server's crib as this bench keeps them, checked. Raises `InputError`."""
    return {**cribs.checked({**cribs.blank(""), **there.notes}), "shop": shop}
