"""Job files: what a print asks, the machine, the material, the practice.

A document is held against its models (`job_model`, which needs Pydantic) when it comes from outside or is
edited. What has been checked, and what ships with the program, is taken as it stands.
"""

from __future__ import annotations

import copy
import re
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import Length, from_mm, parse
from cordwainer.core.part.hole import DEFAULT_FLOOR_MM, Hole, limits_of
from cordwainer.core.planning.practice import Practice, read_practice
from cordwainer.core.shop.material import Material, material
from cordwainer.files.documents import SUPPORTED_VERSION, check_document, read_document, write_json

FORMAT = "cordwainer-job"
NO_DEPTH_KINDS = ("center_hole",)


@dataclass(frozen=True)
class ReadingEntry:
    """One size as read, at a depth and direction."""

    depth: Length
    size: Length
    direction_deg: float = 0.0


@dataclass(frozen=True)
class PinEntry:
    """One pin tried in a hole."""

    size: Length
    goes: bool


@dataclass(frozen=True)
class MeasuredEntry:
    """Sizes taken in one hole, the gauge, the temperatures."""

    gauge: str = "two_point_bore_gauge"
    readings: tuple[ReadingEntry, ...] = ()
    pins: tuple[PinEntry, ...] = ()
    part_temperature_c: float | None = None
    gauge_temperature_c: float | None = None
    deburred: bool = True


@dataclass(frozen=True)
class ToolEntry:
    """What is known of the very tool of a sequence's operation."""

    id: str | None = None
    designation: str | None = None
    series: str | None = None
    length_class: str | None = None


@dataclass(frozen=True)
class SequenceEntry:
    """One operation of a hole's sequence; `locked` names what the machinist fixed."""

    kind: str
    diameter: Length | None = None
    tool: ToolEntry = ToolEntry()
    rpm: float | None = None
    feed_mm_per_rev: float | None = None
    depth: Length | None = None
    locked: tuple[str, ...] = ()


@dataclass(frozen=True)
class HoleEntry:
    """One hole of a job file."""

    id: str
    name: str = ""
    count: int = 1
    kind: str = "plain"
    diameter: Length | None = None
    tolerance: str | None = None
    limits: tuple[Length, ...] | None = None
    depth: Length | None = None
    through: bool = False
    finish_ra_um: float | None = None
    position_tolerance: Length | None = None
    entry: str = "faced"
    slope_deg: float | None = None
    exit: str = "free"
    existing_hole: Length | None = None
    thread: str | None = None
    size: str | None = None
    wall: Length | None = None
    part_thickness: Length | None = None
    floor: Length | None = None
    route: str | None = None
    measured: MeasuredEntry | None = None
    evidence: dict[str, Any] = field(default_factory=dict)
    sequence: tuple[SequenceEntry, ...] = ()
    sequence_only: bool = False


@dataclass(frozen=True)
class JobEntry:
    """A job file as it stands on disk; `raw` is its whole object, unknown keys and notations included."""

    raw: dict[str, Any]
    version: int
    material: str
    machine: str
    name: str = ""
    units: str = "mm"
    hardness_bhn: float | None = None
    quantity: int = 1
    general_tolerance: str = "ISO 2768-m"
    practice: dict[str, str] = field(default_factory=dict)
    holes: tuple[HoleEntry, ...] = ()


def _length(value: Any) -> Length:
    return value if isinstance(value, Length) else parse(value, signed=True)


def _taken(cls: Callable[..., Any], data: dict[str, Any], **readers: Callable[[Any], Any]) -> Any:
    """An entry from a checked object: its known keys, those named read in their own way."""
    known = cls.__dataclass_fields__  # type: ignore[attr-defined]
    values = {}
    for key, value in data.items():
        if key in known:
            reader = readers.get(key)
            values[key] = reader(value) if reader is not None and value is not None else value
    return cls(**values)


def _reading(data: dict[str, Any]) -> ReadingEntry:
    found: ReadingEntry = _taken(ReadingEntry, data, depth=_length, size=_length)
    return found


def _measured(data: dict[str, Any]) -> MeasuredEntry:
    found: MeasuredEntry = _taken(
        MeasuredEntry,
        data,
        readings=lambda v: tuple(map(_reading, v)),
        pins=lambda v: tuple(_taken(PinEntry, pin, size=_length) for pin in v),
    )
    return found


def _operation(data: dict[str, Any]) -> SequenceEntry:
    given = {key: value for key, value in data.items() if value is not None}
    found: SequenceEntry = _taken(
        SequenceEntry, given, diameter=_length, depth=_length, tool=lambda v: _taken(ToolEntry, v), locked=tuple
    )
    return found


LENGTHS = ("diameter", "depth", "position_tolerance", "existing_hole", "wall", "part_thickness", "floor")


def hole_entry(data: dict[str, Any]) -> HoleEntry:
    """A hole's entry from its checked object."""
    readers: dict[str, Callable[[Any], Any]] = dict.fromkeys(LENGTHS, _length)
    found: HoleEntry = _taken(
        HoleEntry,
        data,
        **readers,
        limits=lambda v: tuple(map(_length, v)),
        measured=_measured,
        sequence=lambda v: tuple(map(_operation, v)),
    )
    return found


@dataclass(frozen=True)
class Job:
    """A job read and resolved: its file, its holes as the core knows them, what to warn of."""

    file: JobEntry
    holes: tuple[Hole, ...]
    material: Material
    practice: Practice
    warnings: tuple[str, ...]
    read_only: bool = False


def _named_diameter(hole: HoleEntry) -> Length | None:
    """The size a thread or designation names, for kinds that are not drawn with a diameter."""
    if hole.kind in ("plain", "sized"):
        return None
    metric = re.match(r"(?:M|[A-Z]\s+)([0-9.]+)", hole.thread or hole.size or "")
    if metric:
        return parse(metric[1], "mm")
    inch = re.match(r"([0-9/.]+)", hole.thread or "")
    return parse(inch[1], "in") if inch else from_mm(1.0)


def resolve_hole(hole: HoleEntry, general_tolerance: str) -> Hole:
    """The hole as the core knows it; anything that does not add up is an `InputError`."""
    diameter = hole.diameter if hole.diameter is not None else _named_diameter(hole)
    if diameter is None:
        raise InputError("diameter", "missing; write it as '18 mm'")
    if hole.depth is None and hole.kind not in NO_DEPTH_KINDS:
        raise InputError("depth", "missing; write it as '32 mm' (of a through hole: the thickness)")
    depth = hole.depth if hole.depth is not None else diameter
    pair = (hole.limits[0], hole.limits[1]) if hole.limits else None
    field = "limits" if pair else ("tolerance" if hole.tolerance else "diameter")
    try:
        limits = limits_of(diameter, hole.tolerance, pair, general_tolerance)
    except InputError as bad:
        raise bad.inside(field) from None
    if pair is not None and not 0.5 < limits.middle_mm / diameter.mm < 2:
        raise InputError(
            "limits", f"'{pair[0]}' to '{pair[1]}' is far from the diameter '{diameter}'; check the unit"
        )
    if hole.kind == "sized" and not hole.tolerance and not pair:
        raise InputError("tolerance", "missing; a sized hole needs one, such as 'H7' or '+0.02/-0 mm'")
    if hole.part_thickness is not None and not hole.through and hole.part_thickness.mm <= depth.mm:
        raise InputError(
            "part_thickness",
            f"'{hole.part_thickness}' is not more than the depth '{depth}'; write more, or make it through",
        )
    return Hole(
        id=hole.id,
        kind=hole.kind,
        diameter=diameter,
        depth=depth,
        through=hole.through,
        limits=limits,
        name=hole.name,
        count=hole.count,
        tolerance=hole.tolerance or "",
        finish_ra_um=hole.finish_ra_um,
        position_tolerance_mm=hole.position_tolerance.mm if hole.position_tolerance else None,
        entry=hole.entry,
        slope_deg=hole.slope_deg,
        exit=hole.exit,
        existing_mm=hole.existing_hole.mm if hole.existing_hole else None,
        part_thickness_mm=hole.part_thickness.mm if hole.part_thickness else None,
        floor_mm=hole.floor.mm if hole.floor is not None else DEFAULT_FLOOR_MM,
        wall_mm=hole.wall.mm if hole.wall else None,
    )


def resolve(file: JobEntry, unknown_keys: list[str]) -> Job:
    """The job with its holes, material and practice resolved."""
    holes = []
    seen: set[str] = set()
    for index, entry in enumerate(file.holes):
        if entry.id in seen:
            raise InputError(f"holes[{index}].id", f"'{entry.id}' stands twice; give each hole its own id")
        seen.add(entry.id)
        try:
            holes.append(resolve_hole(entry, file.general_tolerance))
        except InputError as bad:
            raise bad.inside(f"holes[{index}]") from None
    try:
        found = material(file.material)
    except InputError as bad:
        raise bad.inside("material") from None
    try:
        practice, unknown = read_practice(file.practice)
    except InputError as bad:
        raise bad.inside("practice") from None
    warnings = [f"{key}: not known here, kept as it is" for key in unknown_keys]
    warnings += [f"practice.{key}: not known here, kept as it is" for key in unknown]
    newer = file.version > SUPPORTED_VERSION
    if newer:
        warnings.insert(0, f"version {file.version} is newer than this program; opened read-only")
    return Job(file, tuple(holes), found, practice, tuple(warnings), newer)


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
    readers: dict[str, Callable[[Any], Any]] = {"holes": lambda v: tuple(map(hole_entry, v))}
    return resolve(_taken(JobEntry, data | {"raw": raw}, **readers), unknown_keys or [])


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
