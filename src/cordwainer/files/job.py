"""Job files: what a print asks, the machine, the material, the practice."""

from __future__ import annotations

import re
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import Length, from_mm, parse
from cordwainer.core.part.hole import DEFAULT_FLOOR_MM, Hole, limits_of
from cordwainer.core.planning.practice import Practice, read_practice
from cordwainer.core.shop.material import Material, material
from cordwainer.files.fields import NotNegative, Positive, Signed
from cordwainer.files.reading import (
    SUPPORTED_VERSION,
    Document,
    Part,
    check_document,
    read_document,
    unknown_keys,
    validate,
    write_json,
)
from cordwainer.files.sequence import SequenceOperation

FORMAT = "cordwainer-job"
MOST_HOLES = 2000
Kind = Literal[
    "plain",
    "sized",
    "tapped",
    "counterbored",
    "countersunk",
    "spotfaced",
    "flat_bottom",
    "taper_pin",
    "center_hole",
]
NO_DEPTH_KINDS = ("center_hole",)


class MeasuredReading(Part):
    """One size as read, at a depth and direction."""

    depth: NotNegative
    direction_deg: float = Field(default=0.0, ge=-360, le=360)
    size: Positive


class MeasuredFile(Part):
    """Sizes taken in this hole: readings by depth and direction, the gauge, the temperatures."""

    gauge: str = "two_point_bore_gauge"
    readings: list[MeasuredReading] = Field(default_factory=list, max_length=200)
    part_temperature_c: float | None = Field(default=None, ge=-60, le=400, allow_inf_nan=False)
    gauge_temperature_c: float | None = Field(default=None, ge=-60, le=100, allow_inf_nan=False)
    deburred: bool = Field(default=True, strict=True)


class HoleFile(Part):
    """One hole of a job file."""

    id: str = Field(min_length=1, max_length=60)
    name: str = ""
    count: int = Field(default=1, ge=1, le=100_000, strict=True)
    kind: Kind = "plain"
    diameter: Positive | None = None
    tolerance: str | None = None
    limits: list[Positive] | None = Field(default=None, min_length=2, max_length=2)
    depth: Positive | None = None
    through: bool = Field(default=False, strict=True)
    finish_ra_um: float | None = Field(default=None, gt=0, le=100, strict=True)
    position_tolerance: Positive | None = None
    entry: Literal["faced", "pip", "sawn", "cast", "sloped", "curved"] = "faced"
    slope_deg: float | None = Field(default=None, ge=0, lt=90)
    curve_radius: Positive | None = None
    exit: Literal["free", "cross_hole", "sloped", "stack"] = "free"
    cross_diameter: Positive | None = None
    existing_hole: Positive | None = None
    thread: str | None = None
    thread_depth: Positive | None = None
    class_: str | None = Field(default=None, alias="class")
    center_type: str | None = None
    size: str | None = None
    x: Signed | None = None
    y: Signed | None = None
    counterbore_diameter: Positive | None = None
    counterbore_depth: Positive | None = None
    countersink_diameter: Positive | None = None
    countersink_angle_deg: float | None = Field(default=None, gt=0, lt=180)
    taper: str | None = None
    wall: Positive | None = None
    part_thickness: Positive | None = None
    floor: NotNegative | None = None
    route: str | None = None
    measured: MeasuredFile | None = None
    evidence: dict[str, str | float | bool] = Field(default_factory=dict)
    sequence: list[SequenceOperation] = Field(default_factory=list, max_length=60)
    sequence_only: bool = Field(default=False, strict=True)


class JobFile(Document):
    """A job file as it stands on disk; unknown keys are kept."""

    format: Literal["cordwainer-job"]
    version: int = Field(ge=1)
    id: str | None = None
    name: str = Field(default="", max_length=200)
    units: Literal["mm", "in"] = "mm"
    material: str
    hardness_bhn: float | None = Field(default=None, gt=0, le=800, strict=True)
    machine: str
    quantity: int = Field(default=1, ge=1, le=1_000_000, strict=True)
    general_tolerance: str = "ISO 2768-m"
    practice: dict[str, str] = Field(default_factory=dict)
    holes: list[HoleFile] = Field(default_factory=list, max_length=MOST_HOLES)


@dataclass(frozen=True)
class Job:
    """A job read and resolved: its file, its holes as the core knows them, what to warn of."""

    file: JobFile
    holes: tuple[Hole, ...]
    material: Material
    practice: Practice
    warnings: tuple[str, ...]
    read_only: bool = False


def _named_diameter(hole: HoleFile) -> Length | None:
    """The size a thread or designation names, for kinds that are not drawn with a diameter."""
    if hole.kind in ("plain", "sized"):
        return None
    metric = re.match(r"(?:M|[A-Z]\s+)([0-9.]+)", hole.thread or hole.size or "")
    if metric:
        return parse(metric[1], "mm")
    inch = re.match(r"([0-9/.]+)", hole.thread or "")
    return parse(inch[1], "in") if inch else from_mm(1.0)


def resolve_hole(hole: HoleFile, general_tolerance: str) -> Hole:
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


def resolve(file: JobFile) -> Job:
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
    warnings = [f"{key}: not known here, kept as it is" for key in unknown_keys(file)]
    warnings += [f"practice.{key}: not known here, kept as it is" for key in unknown]
    newer = file.version > SUPPORTED_VERSION
    if newer:
        warnings.insert(0, f"version {file.version} is newer than this program; opened read-only")
    return Job(file, tuple(holes), found, practice, tuple(warnings), newer)


def load(path: Path) -> Job:
    """Read and resolve a job file."""
    return from_data(read_document(path, FORMAT))


def from_data(data: Any) -> Job:
    """A job from the JSON object of a job file."""
    return resolve(validate(JobFile, check_document(data, FORMAT)))


def to_data(file: JobFile) -> dict[str, Any]:
    """The JSON object of a job file, with notations and unknown keys as they came."""
    return file.model_dump(mode="json", by_alias=True, exclude_unset=True)


def save(path: Path, file: JobFile) -> None:
    """Write a job file, whole or not at all."""
    write_json(path, to_data(file))


def blank(machine: str = "bench_lathe", material_id: str = "medium_carbon_steel", units: str = "mm") -> JobFile:
    """A job with no holes yet."""
    return JobFile.model_validate(
        {
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
    )
