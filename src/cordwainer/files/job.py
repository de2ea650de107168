"""Job files: what a print asks, the machine, the material, the practice.

A document is held against its models (`job_model`, which needs Pydantic) when it comes from outside or is
edited. What has been checked, and what ships with the program, is taken as it stands.
"""

from __future__ import annotations

import copy
import json
import uuid
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.support import over
from cordwainer.core.planning.words.practice import Practice, read_practice
from cordwainer.core.shop.material import Material, material
from cordwainer.files.documents import SUPPORTED_VERSION, check_document, read_document
from cordwainer.files.entries import HoleEntry, JobEntry, batch_entry, hole_entry, part_entry, taken, under_entry
from cordwainer.files.resolve import general_tolerance_is_silent, resolve_hole
from cordwainer.files.shown import shown
from cordwainer.files.writing import write_json

if TYPE_CHECKING:
    from cordwainer.core.shop.shop import Shop

FORMAT = "cordwainer-job"


@dataclass(frozen=True)
class Job:
    """A job read and resolved: its file, its holes as the core knows them, what to warn of."""

    file: JobEntry
    holes: tuple[Hole, ...]
    material: Material
    practice: Practice
    warnings: tuple[str, ...]
    read_only: bool = False


@lru_cache(maxsize=4096)
def _entry(text: str) -> HoleEntry:
    """A hole's entry from its checked object as text: one edit leaves the other holes' as they are."""
    return hole_entry(json.loads(text))


class _Known:
    """Holes already resolved, by the very entry; as many as a few jobs have."""

    def __init__(self) -> None:
        self.holes: OrderedDict[tuple[int, str], tuple[HoleEntry, Hole]] = OrderedDict()

    def hole(self, entry: HoleEntry, general: str) -> Hole:
        """The hole of an entry; anything that does not add up is an `InputError`."""
        key = id(entry), general
        found = self.holes.get(key)
        if found is None or found[0] is not entry:
            found = self.holes[key] = entry, resolve_hole(entry, general)
            if len(self.holes) > 4096:
                self.holes.popitem(last=False)
        return found[1]


_known = _Known()


def resolve(file: JobEntry, unknown_keys: list[str]) -> Job:
    """The job with its holes, material and practice resolved."""
    holes, unsaid = [], list[str]()
    seen: set[str] = set()
    for index, entry in enumerate(file.holes):
        if entry.id in seen:
            raise InputError(
                f"holes[{index}].id", tr("'{entry}' stands twice; give each hole its own id", entry=entry.id)
            )
        seen.add(entry.id)
        try:
            holes.append(_over(_known.hole(entry, file.general_tolerance), file))
        except InputError as bad:
            raise bad.inside(f"holes[{index}]") from None
        if general_tolerance_is_silent(entry):
            half = holes[-1].limits.width_mm / 2
            unsaid.append(
                tr(
                    "holes[{index}].tolerance: {general_tolerance} says nothing below 0.5 mm; "
                    "±{half:g} mm taken, give one with the hole",
                    index=index,
                    general_tolerance=file.general_tolerance,
                    half=half,
                )
            )
    try:
        found = material(file.material)
    except InputError as bad:
        raise bad.inside("material") from None
    try:
        practice, unknown = read_practice(file.practice)
    except InputError as bad:
        raise bad.inside("practice") from None
    warnings = [tr("{key}: not known here, kept as it is", key=key) for key in unknown_keys]
    warnings += [tr("practice.{key}: not known here, kept as it is", key=key) for key in unknown]
    warnings += unsaid
    newer = file.version > SUPPORTED_VERSION
    if newer:
        warnings.insert(
            0, tr("version {version} is newer than this program; opened read-only", version=file.version)
        )
    return Job(file, tuple(holes), found, practice, tuple(warnings), newer)


def _over(hole: Hole, file: JobEntry) -> Hole:
    """A through hole over what lies under the part, unless it says itself or stands clear of the parallels."""
    under = file.under
    if under is None or not hole.through or hole.under_gap_mm is not None:
        return hole
    parallels, part = under.parallels, file.part
    met: tuple[int, ...] = ()
    if parallels is not None and part is not None and hole.places_mm:
        met = over(hole.places_mm, hole.across_mm, parallels, (part.width.mm, part.height.mm))
        if not met:
            return hole
    return replace(hole, under=under.what, under_gap_mm=under.gap.mm, under_places=met)


def practice_in(job: Job, shop: Shop) -> Practice:
    """The way of working for a job in a shop: the job's own choices over the shop's.

    Raises `InputError` where the shop's practice names a choice no school offers.
    """
    return read_practice(job.file.practice, shop.practice)[0] if shop.practice else job.practice


def load(path: Path) -> Job:
    """Read and resolve a job file."""
    return from_data(read_document(path, FORMAT))


def from_data(data: Any) -> Job:
    """A job from the JSON object of a job file, checked against the models."""
    from cordwainer.files.job_model import check_job

    found = check_document(data, FORMAT)
    return trusted(found, check_job(found))


def trusted(data: dict[str, Any], unknown_keys: list[str] | None = None) -> Job:
    """A job from an object that has been checked, or that ships with the program."""
    raw = copy.deepcopy(data)
    readers: dict[str, Callable[[Any], Any]] = {
        "holes": lambda v: tuple(_entry(json.dumps(hole)) for hole in v),
        "under": under_entry,
        "part": part_entry,
        "batch": batch_entry,
        "name": shown,
    }
    return resolve(taken(JobEntry, data | {"raw": raw}, **readers), unknown_keys or [])


def to_data(file: JobEntry) -> dict[str, Any]:
    """The JSON object of a job file, with notations and unknown keys as they came."""
    return copy.deepcopy(file.raw)


def save(path: Path, file: JobEntry) -> None:
    """Write a job file, whole or not at all."""
    write_json(path, to_data(file))


def blank(
    machine: str = "bench_lathe", material_id: str = "medium_carbon_steel", units: str = "mm"
) -> dict[str, Any]:
    """The object of a job with no holes yet."""
    return {
        "format": FORMAT,
        "version": SUPPORTED_VERSION,
        "id": str(uuid.uuid4()),
        "name": "",
        "units": units,
        "material": material_id,
        "machine": machine,
        "quantity": 1,
        "practice": {},
        "holes": [],
    }
