"""Readings files: what was measured in one hole, and the finding as it is given out."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.core.measuring.finding import Axis, Finding, Measured, Pin, Reading
from cordwainer.core.shop.gauge import Gauge, known_kind
from cordwainer.core.shop.material import material
from cordwainer.files.documents import read_document, read_text
from cordwainer.files.entries import hole_entry
from cordwainer.files.fields import NotNegative, Positive
from cordwainer.files.job_model import HoleFile
from cordwainer.files.reading import Part, WholeFile, validate
from cordwainer.files.resolve import resolve_hole

FORMAT = "cordwainer-readings"
DEFAULT_RESOLUTION = "0.01 mm"


class GaugeUsed(Part):
    """The gauge the readings were taken with."""

    kind: str
    resolution: Positive = Field(default=DEFAULT_RESOLUTION, validate_default=True)
    jaw_width: NotNegative | None = None
    expanded_uncertainty: Positive | None = None


class ReadingFile(Part):
    """One size read at a depth and direction."""

    depth: NotNegative
    direction_deg: float = Field(default=0.0, ge=-360, le=360)
    size: Positive


class PinFile(Part):
    """One pin tried."""

    size: Positive
    goes: bool = Field(strict=True)
    depth: NotNegative | None = None


class OffsetFile(Part):
    """How far the hole is off its place at mouth and far end, as an indicator or a machine found it."""

    entry: NotNegative | None = None
    exit: NotNegative | None = None


class ReadingsFile(WholeFile):
    """A readings file as it stands on disk."""

    format: Literal["cordwainer-readings"]
    version: int = Field(ge=1)
    hole: HoleFile
    gauge: GaugeUsed
    material: str = "medium_carbon_steel"
    general_tolerance: str = tr("ISO 2768-m")
    part_temperature_c: float | None = Field(default=None, ge=-60, le=400, allow_inf_nan=False)
    gauge_temperature_c: float | None = Field(default=None, ge=-60, le=100, allow_inf_nan=False)
    hot: bool = Field(default=False, strict=True)
    deburred: bool = Field(default=True, strict=True)
    readings: list[ReadingFile] = Field(default_factory=list, max_length=2000)
    pins: list[PinFile] = Field(default_factory=list, max_length=200)
    points: list[list[float]] = Field(default_factory=list, max_length=100_000)
    points_csv: str | None = None
    offset: OffsetFile | None = None


def resolve(file: ReadingsFile) -> Measured:
    """The readings as the core knows them."""
    readings, pins, axis = _read(file)
    try:
        entry = hole_entry(file.hole.model_dump(mode="json", by_alias=True, exclude_unset=True))
        hole = resolve_hole(entry, file.general_tolerance)
    except InputError as bad:
        raise bad.inside("hole") from None
    try:
        kind = known_kind(file.gauge.kind)
    except InputError as bad:
        raise bad.inside("gauge.kind") from None
    try:
        made_of = material(file.material)
    except InputError as bad:
        raise bad.inside("material") from None
    used = file.gauge
    land = used.jaw_width.mm if used.jaw_width is not None else None
    return Measured(
        hole=hole,
        material=made_of,
        gauge=Gauge(
            id=kind,
            kind=kind,
            low_mm=0.0,
            high_mm=1e6,
            resolution_mm=used.resolution.mm,
            expanded_mm=used.expanded_uncertainty.mm if used.expanded_uncertainty else None,
            jaw_land_mm=land or None,
        ),
        readings=readings,
        pins=pins,
        part_c=file.part_temperature_c,
        gauge_c=file.gauge_temperature_c,
        deburred=file.deburred,
        hot=file.hot,
        axis=axis,
    )


def _read(file: ReadingsFile) -> tuple[tuple[Reading, ...], tuple[Pin, ...], Axis | None]:
    """Readings and pins as given; measured points as the diameters and the largest pin they stand for."""
    readings = tuple(Reading(r.depth.mm, r.size.mm, r.direction_deg) for r in file.readings)
    pins = tuple(Pin(p.size.mm, p.goes, p.depth.mm if p.depth else None) for p in file.pins)
    if not file.points:
        off = file.offset
        return readings, pins, Axis(_mm(off.entry), _mm(off.exit)) if off is not None else None
    from cordwainer.core.measuring.points import as_read

    across, tried, axis = as_read(file.points)
    return (*readings, *across), (*pins, *tried), axis


def load(path: Path) -> Measured:
    """Read and resolve a readings file; points may lie in a list of their own beside it."""
    file = validate(ReadingsFile, read_document(path, FORMAT))
    if file.points_csv is not None:
        from cordwainer.core.measuring.points import read_csv

        try:
            file.points = [*file.points, *read_csv(read_text(path.parent / file.points_csv, tr("CSV in UTF-8")))]
        except InputError as bad:
            raise bad.inside("points_csv") from None
    return resolve(file)


def finding_data(finding: Finding) -> dict[str, Any]:
    """A finding as `cordwainer measure` gives it out."""
    return {
        "sizes_mm": {"entry": finding.entry_mm, "middle": finding.middle_mm, "exit": finding.exit_mm},
        "size_min_mm": finding.size_min_mm,
        "size_max_mm": finding.size_max_mm,
        "taper_mm": finding.taper_mm,
        "out_of_round_mm": finding.out_of_round_mm,
        "form": list(finding.form),
        "corrections": [{"id": c.id, "um": c.um, "text": c.text} for c in finding.corrections],
        "cone_deg": finding.cone_deg,
        "axis": _axis_data(finding.axis),
        "budget": [{"id": s.id, "standard_um": s.standard_mm * 1000, "text": s.words} for s in finding.budget],
        "expanded_uncertainty_um": finding.expanded_mm * 1000,
        "guard_factor": finding.guard_factor,
        "verdict": finding.verdict,
        "why": finding.why,
        "settle_with": list(finding.settle_with),
        "flags": list(finding.flags),
    }


def _axis_data(axis: Axis | None) -> dict[str, Any] | None:
    if axis is None:
        return None
    return {
        "offset_mm": {"entry": axis.entry_mm, "exit": axis.exit_mm},
        "leans_mm": axis.leans_mm,
        "straightness_mm": axis.straightness_mm,
        "cylindricity_mm": axis.cylindricity_mm,
        "lobes": axis.lobes,
    }


def axis_lines(axis: Axis) -> list[str]:
    """Where the axis stands and how true it is, in words."""
    known = (
        (tr("off its place at the mouth"), axis.entry_mm),
        (tr("off its place at the far end"), axis.exit_mm),
        ("leans", axis.leans_mm),
        (tr("straightness of the axis"), axis.straightness_mm),
        ("cylindricity", axis.cylindricity_mm),
    )
    return [f"{words}: {value:.4f} mm" for words, value in known if value is not None]


def _mm(length: Length | None) -> float | None:
    return length.mm if length is not None else None
