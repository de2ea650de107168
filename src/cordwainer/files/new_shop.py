"""A shop of one's own, begun: its name, its unit, its first machine; what it holds is then put into its crib."""

from __future__ import annotations

import re
from itertools import count
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.tables import document
from cordwainer.files.places import SHOP_ENDING as ENDING
from cordwainer.files.places import data_folder, shop_words
from cordwainer.files.shop import FORMAT
from cordwainer.files.shown import lines
from cordwainer.files.writing import write_json

LONGEST_NAME = 60


def machine_kinds() -> dict[str, dict[str, Any]]:
    """The kinds of machines to begin from, by id, as a shop file holds them (usual figures, invented)."""
    kinds = document("machine_kinds.json")["machines"]
    return {entry["id"]: {**entry, "name": tr(entry["name"])} for entry in kinds}


def gauge_kinds() -> dict[str, dict[str, Any]]:
    """The kinds of gauges to begin from, by kind, as a shop file holds them (usual figures, assumed)."""
    found = {}
    for entry in document("machines.json")["gauges"]:
        land = entry.get("jaw_land_mm")
        found[entry["kind"]] = {
            "id": entry["kind"],
            "kind": entry["kind"],
            "range": [f"{entry['low_mm']} mm", f"{entry['high_mm']} mm"],
            "resolution": f"{entry['resolution_mm']} mm",
            **({"jaw_land": f"{land} mm"} if land else {}),
        }
    return found


def shops_folder() -> Path:
    """Where shops begun here lie."""
    return data_folder() / "shops"


def own_shops() -> dict[str, str]:
    """Shops begun here: the path of each by what it is called."""
    folder = shops_folder()
    if not folder.is_dir():
        return {}
    return {shop_words(str(path)): str(path) for path in sorted(folder.glob(f"*{ENDING}"))}


def _place(title: str, number: int = 1) -> Path:
    """Where a shop of that name lies, or the next one called so."""
    plain = re.sub(r"[^\w]+", "-", title.lower()).strip("-") or "shop"
    return shops_folder() / (f"{plain}-{number}{ENDING}" if number > 1 else f"{plain}{ENDING}")


def free_place(title: str) -> Path:
    """A shop's file under a name nobody has."""
    return next(path for number in count(1) if not (path := _place(title, number)).exists())


def begin(name: str, machine_kind: str) -> Path:
    """Write the file of a new shop with one machine. Raises `InputError` for a name no shop can have."""
    name = lines(name).strip()
    if not name or len(name) > LONGEST_NAME:
        raise InputError("name", tr("give the shop a name of 1 to 60 signs, as 'North bay'"))
    kinds = machine_kinds()
    if machine_kind not in kinds:
        raise InputError(
            "machine",
            tr(
                "'{machine_kind}' is not a kind of machine; write one of {kinds}",
                machine_kind=machine_kind,
                kinds=", ".join(kinds),
            ),
        )
    path = _place(name)
    if path.exists():
        raise InputError(
            "name", tr("a shop called '{name}' is here already; give this one another name", name=name)
        )
    data = {"format": FORMAT, "version": 1, "name": name, "tools": [], "gauges": [gauge_kinds()["caliper"]]}
    write_json(path, data | {"machines": [kinds[machine_kind]]}, own=True)
    return path
