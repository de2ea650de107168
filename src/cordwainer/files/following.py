"""The order of a batch at the machine: which step is next, how far the batch is, what is left of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.core.scheduling.strip import laid_out
from cordwainer.files import run as run_files
from cordwainer.files.schedule import Batch, instances

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path


@dataclass(frozen=True)
class Place:
    """One step of one hole in the order: which hole of the job, its number among all like it, which operation."""

    hole: str
    number: int
    operation: int
    part: int
    entry: int


@dataclass(frozen=True)
class Standing:
    """How far a batch is: the next place (None when all is done), steps done, parts whole, minutes left."""

    next: Place | None
    done: int
    steps: int
    parts_whole: int
    parts: int
    minutes_left: float


def places(batch: Batch) -> list[Place]:
    """Every step of every single hole in order."""
    task = batch.found.task
    entries = {done: k for k, done in enumerate(batch.found.order)}
    return [
        Place(
            batch.wanted[done.piece].hole.id,
            number,
            task.pieces[done.piece].steps[done.step].operation,
            done.part,
            entries[done],
        )
        for done, number in instances(batch)
    ]


def far_of(records: Sequence[run_files.Record]) -> dict[tuple[str, int], int]:
    """How many operations of each single hole are done or skipped, by its newest run."""
    found: dict[tuple[str, int], int] = {}
    for record in records:
        if not record.run.abandoned:
            far = len(record.run.steps) if record.run.finished else record.run.current
            found[record.hole, record.number] = far
    return found


def standing(batch: Batch, records: Sequence[run_files.Record]) -> Standing:
    """How far the batch is by the run records."""
    far = far_of(records)
    blocks = laid_out(batch.found)
    nxt, done, left = None, 0, 0.0
    open_parts: set[int] = set()
    every = places(batch)
    for place in every:
        if far.get((place.hole, place.number), 0) > place.operation:
            done += 1
            continue
        nxt = nxt or place
        open_parts.add(place.part)
        copies = batch.found.task.pieces[batch.found.order[place.entry].piece].copies
        left += (blocks[place.entry].end - blocks[place.entry].start) / copies
    parts = batch.found.task.parts
    return Standing(nxt, done, len(every), parts - len(open_parts), parts, left)


def done_so_far(path: Path | None, batch: Batch) -> set[int]:
    """Places of the order whose step is done for all its copies, by the job's run record."""
    if path is None or not path.exists():
        return set()
    try:
        far = far_of(run_files.read(path).records)
    except InputError:
        return set()
    if not far:
        return set()
    open_entries = {p.entry for p in places(batch) if far.get((p.hole, p.number), 0) <= p.operation}
    return set(range(len(batch.found.order))) - open_entries


def after(batch: Batch, records: Sequence[run_files.Record], here: tuple[str, int, int]) -> Place | None:
    """The place in the order after the step in hand (hole, number, operation); None at the end."""
    far = {(r.hole, r.number): r.run.current for r in records if not r.run.abandoned}
    whole = {(r.hole, r.number) for r in records if r.run.finished}
    for place in places(batch):
        key = place.hole, place.number
        if (*key, place.operation) == here or key in whole or far.get(key, 0) > place.operation:
            continue
        return place
    return None
