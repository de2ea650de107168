"""Measured holes as the shop is learned from them: by which plan, with what, how large at which depth."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.planning.machine.run import SKIPPED
from cordwainer.core.planning.words.operation import SIZING
from cordwainer.core.shop.gauge import WORDS
from cordwainer.logbook.again import job_of
from cordwainer.logbook.book import Book
from cordwainer.logbook.records import HoleMade, Regrind
from cordwainer.logbook.worked import moment

MOST = 240
ASIDE = ("id", "name", "evidence", "measured", "more_measured", "quantity", "at", "places")
THIRDS = (1 / 3, 2 / 3)


@dataclass(frozen=True)
class Measured:
    """One hole: its job file's object, the machine as it stood, sizes at those `thirds` of the depth.

    `tools` are the ids of those really used, operation by operation of the job's sequence; `reground` is how often
    that which made the size was reground since.
    """

    data: dict[str, Any]
    machine: dict[str, Any]
    tools: tuple[str, ...]
    begun: str
    depths_mm: tuple[float, ...]
    sizes_mm: tuple[float, ...]
    gauge: str
    thirds: tuple[int, ...] = ()
    reground: int = 0

    @property
    def sized_by(self) -> str:
        """The tool that made the size."""
        entries = self.data["holes"][0]["sequence"]
        sizing = [k for k, entry in enumerate(entries) if entry.get("kind") in SIZING and k < len(self.tools)]
        return self.tools[sizing[-1]] if sizing else ""

    @cached_property
    def plan(self) -> str:
        """What it was made by, as one text: holes of the same are made alike."""
        hole = {key: value for key, value in self.data["holes"][0].items() if key not in ASIDE}
        told = [hole, self.data["material"], self.machine, self.tools, self.reground, self.thirds, self.gauge]
        return json.dumps(told, sort_keys=True, default=str)


def measured_holes(book: Book, most: int = MOST) -> list[Measured]:
    """The newest finished and measured holes, the oldest first; those with a cause found, or struck, left out."""
    every = (HoleMade.operations, HoleMade.readings, HoleMade.evidence)
    query = (
        select(HoleMade)
        .where(HoleMade.removed == "", HoleMade.state == "finished", HoleMade.cause == "", HoleMade.verdict != "")
        .order_by(HoleMade.begun.desc(), HoleMade.id)
        .limit(most)
        .options(*(selectinload(part) for part in every))
    )
    with Session(book.engine, expire_on_commit=False) as store:
        found = list(reversed([*_understood(store.scalars(query))]))
        ground: dict[str, list[datetime]] = defaultdict(list)
        for tool, at in store.execute(select(Regrind.tool_id, Regrind.at)):
            ground[tool].append(moment(at))
    return [
        replace(hole, reground=sum(at > moment(hole.begun) for at in ground.get(hole.sized_by, ())))
        for hole in found
    ]


def _understood(holes: Any) -> Iterator[Measured]:
    for made in holes:
        found = _measured(made)
        if found is not None:
            yield found


def _measured(made: HoleMade) -> Measured | None:
    """A hole of the book, None where too little was kept of it."""
    try:
        data = job_of(made)
        depth = parse(str(data["holes"][0]["depth"])).mm
    except (InputError, KeyError, ValueError, TypeError):
        return None
    if not made.readings or not data["holes"][0].get("sequence"):
        return None
    at: dict[int, list[tuple[float, float]]] = defaultdict(list)
    for reading in made.readings:
        at[sum(reading.depth_mm > share * depth for share in THIRDS)].append(
            (reading.depth_mm, reading.corrected_mm)
        )
    places = [[sum(each) / len(at[k]) for each in zip(*at[k], strict=True)] for k in sorted(at)]
    name = made.readings[0].gauge
    used = tuple(o.tool_id for o in made.operations if o.state != SKIPPED)
    return Measured(
        data, dict(made.snapshot.get("machine") or {}), used,
        made.begun, tuple(d for d, _ in places), tuple(s for _, s in places),
        next((kind for kind, words in WORDS.items() if name in (kind, words)), "two_point_bore_gauge"),
        tuple(sorted(at)),
    )  # fmt: skip
