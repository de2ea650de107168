"""Shop files: machines, tools and gauges, with every default resolved."""

from __future__ import annotations

import math
import uuid
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from cordwainer.core.errors import InputError, OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.core.part.tolerance import Limits, iso_limits
from cordwainer.core.planning.words.practice import read_practice
from cordwainer.core.shop import catalog, finishers, makers
from cordwainer.core.shop.gauge import Gauge, known_kind
from cordwainer.core.shop.machine import SCALE_KINDS, Machine, Scale
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import KINDS, Tool
from cordwainer.files.documents import read_document
from cordwainer.files.fields import TOOL_LENGTHS, Id, NotNegative, Positive, Signed
from cordwainer.files.reading import Part, WholeFile, validate, validate_part
from cordwainer.files.shop_out import shop_data
from cordwainer.files.shown import lines, shown

FORMAT = "cordwainer-shop"


class ScaleFile(Part):
    """One scale of a machine, as in a scale file."""

    kind: Literal["tailstock_ram", "ram_handwheel", "carriage_handwheel", "quill_scale", "knee_dial", "readout"]
    start_reading: Signed
    division: Positive
    unit: Literal["in", "mm"]
    per_rev: Positive | None = None
    travel_limit: Positive | None = None
    direction: Literal["increases", "decreases"] = "increases"

    def resolved(self) -> Scale:
        """The scale as the core knows it."""
        return Scale(
            self.kind,
            self.unit,
            self.start_reading,
            self.division,
            self.per_rev,
            self.travel_limit,
            self.direction,
        )


class ChuckFile(Part):
    """What holds straight shanks."""

    kind: Literal["keyed", "keyless", "collet"] = "keyed"
    max: Positive


class OffsetFile(Part):
    """How far the tailstock stands off the spindle's axis."""

    dx: Signed
    dy: Signed


class MachineFile(Part):
    """One machine of a shop file."""

    id: Id = Field(min_length=1)
    name: str = ""
    rotating: Literal["work", "tool"]
    speeds_rpm: list[float] = Field(default_factory=list)
    speed_range_rpm: list[float] | None = Field(default=None, min_length=2, max_length=2)
    feeds_mm_per_rev: list[float] | None = None
    power_kw: float = Field(gt=0)
    thrust_n: float = Field(gt=0)
    taper: str | int | None = None
    chuck: ChuckFile
    travel: Positive | None = None
    scales: list[ScaleFile] = Field(default_factory=list)
    backlash: Positive | None = None
    runout: Positive | None = None
    tailstock_offset: OffsetFile | None = None
    fluid: Literal["none", "brush", "flood", "through"] = "brush"
    drive: Literal["belt", "gear"] = "belt"
    rate_per_hour: float | None = Field(default=None, ge=0)
    holder_max: Positive | None = None


class ToolFile(Part):
    """One tool of a shop file; absent fields follow the catalog's rules."""

    id: Id | None = None
    kind: str
    diameter: Positive
    designation: str | None = None
    series: str | None = None
    point_angle_deg: float | None = Field(default=None, gt=0, le=180)
    split_point: bool | None = None
    web: NotNegative | None = None
    flutes: int | None = Field(default=None, ge=1, le=40)
    margins: int | None = Field(default=None, ge=1, le=40)
    flute_length: Positive | None = None
    overall_length: Positive | None = None
    shank: str | None = None
    shank_diameter: Positive | None = None
    material: Literal["hss", "cobalt", "carbide"] = "hss"
    coating: str | None = None
    zone: str | None = None
    limits: list[Positive] | None = Field(default=None, min_length=2, max_length=2)
    lead: Positive | None = None
    min_bore: Positive | None = None
    max_overhang: Positive | None = None
    center_cutting: bool | None = None
    pilot_length: Positive | None = None
    body_diameter: Positive | None = None
    pilot_diameter: Positive | None = None
    pitch: Positive | None = None
    included_angle_deg: float | None = Field(default=None, gt=0, lt=180)
    quantity: int = Field(default=1, ge=0)
    out: int = Field(default=0, ge=0)
    drawer: str | None = None
    condition: Literal["good", "worn", "chipped", "blunt"] = "good"
    regrinds: int = Field(default=0, ge=0)
    price: float | None = Field(default=None, ge=0)
    note: str | None = None


class GaugeFile(Part):
    """One gauge of a shop file."""

    id: str | None = None
    kind: str
    range: list[NotNegative] | None = Field(default=None, min_length=2, max_length=2)
    resolution: Positive
    expanded_uncertainty: Positive | None = None
    jaw_land: Positive | None = None


class ShopFile(WholeFile):
    """A shop file as it stands on disk."""

    format: Literal["cordwainer-shop"]
    version: int = Field(ge=1)
    name: str = ""
    machines: list[MachineFile] = Field(default_factory=list)
    tools: list[ToolFile] = Field(default_factory=list, max_length=50_000)
    gauges: list[GaugeFile] = Field(default_factory=list)
    practice: dict[str, str] = Field(default_factory=dict)


def _taper(value: str | int | None) -> int | None:
    if value is None or isinstance(value, int):
        return value
    digits = value.upper().removeprefix("MT").strip()
    if not digits.isdigit():
        raise InputError("taper", tr("'{value}' is not a taper; write 'MT2' or null", value=value))
    return int(digits)


def _offset(entry: OffsetFile | None) -> tuple[float, float] | None:
    return (entry.dx.mm, entry.dy.mm) if entry is not None else None


def machine_from(entry: MachineFile) -> Machine:
    """The machine as the core knows it."""
    if not entry.speeds_rpm and entry.speed_range_rpm is None:
        raise InputError("speeds_rpm", "missing; list the speeds, or give speed_range_rpm")
    speeds = [*entry.speeds_rpm, *(entry.speed_range_rpm or ())]
    if any(not math.isfinite(n) or n <= 0 for n in speeds):
        raise InputError("speeds_rpm", tr("every speed must be above zero; check the list"))
    low_high = entry.speed_range_rpm
    return Machine(
        id=entry.id,
        name=shown(entry.name) or entry.id,
        rotating=entry.rotating,
        speeds_rpm=tuple(sorted(entry.speeds_rpm)),
        power_kw=entry.power_kw,
        thrust_n=entry.thrust_n,
        taper=_taper(entry.taper),
        chuck_kind=entry.chuck.kind,
        chuck_max_mm=entry.chuck.max.mm,
        travel_mm=entry.travel.mm if entry.travel else None,
        scales=tuple(scale.resolved() for scale in entry.scales),
        feeds_mm_per_rev=tuple(sorted(entry.feeds_mm_per_rev)) if entry.feeds_mm_per_rev else None,
        backlash_mm=entry.backlash.mm if entry.backlash else None,
        runout_mm=entry.runout.mm if entry.runout else None,
        tailstock_offset_mm=_offset(entry.tailstock_offset),
        fluid=entry.fluid,
        drive=entry.drive,
        rate_per_hour=entry.rate_per_hour,
        speed_range_rpm=(low_high[0], low_high[1]) if low_high else None,
        holder_max_mm=entry.holder_max.mm if entry.holder_max else None,
    )


DRILL_MAKERS: dict[str, Callable[[Length], Tool]] = {
    "stub": makers.stub_drill,
    "long": makers.long_drill,
    "extra_long_1": partial(makers.long_drill, series="extra_long_1"),
    "extra_long_2": partial(makers.long_drill, series="extra_long_2"),
    "carbide_self_centering": makers.carbide_drill,
}


def _base_tool(entry: ToolFile) -> Tool:
    """The catalog's tool of that kind and size, for the fields a file leaves out."""
    size: Length = entry.diameter
    angle = entry.included_angle_deg or entry.point_angle_deg
    if entry.kind == "drill":
        return DRILL_MAKERS.get(entry.series or "", makers.twist_drill)(size)
    if entry.kind == "reamer":
        zone = "H7" if entry.zone or not (entry.limits or size.unit == "in") else ""
        return finishers.reamer(size, zone, entry.series or "straight")
    if entry.kind == "hand_reamer":
        return finishers.adjustable_reamer(size) if entry.series == "adjustable" else finishers.hand_reamer(size)
    if entry.kind == "spot_drill":
        return makers.spot_drill(size, angle or 120.0)
    if entry.kind == "end_mill":
        return finishers.plain_end_mill(size) if entry.center_cutting is False else finishers.end_mill(size)
    if entry.kind == "core_drill":
        return makers.core_drill(size)
    if entry.kind == "spade_drill":
        return makers.spade_drill(size)
    if entry.kind == "countersink":
        return finishers.countersink(size, angle or 90.0)
    if entry.kind == "boring_bar":
        return finishers.boring_bar(size, entry.material)
    if entry.kind == "tap" and entry.pitch is not None and entry.series in finishers.TAP_LEADS:
        return finishers.tap(entry.designation or str(size), size, entry.pitch.exact_mm, entry.series)
    return Tool(
        id="",
        kind=entry.kind,
        diameter=size,
        designation=str(size),
        series=entry.series or "",
        shank_diameter_mm=size.mm,
    )


def tool_from(entry: ToolFile) -> Tool:
    """The tool as the core knows it, absent fields by the catalog's rules."""
    if entry.kind not in KINDS:
        raise InputError(
            "kind",
            tr("'{kind}' is not a kind of tool; write one of {kinds}", kind=entry.kind, kinds=", ".join(KINDS)),
        )
    try:
        base = _base_tool(entry)
    except (OutOfRangeError, InputError) as bad:
        raise InputError(
            "diameter", tr("'{diameter}': {bad}; give the missing fields", diameter=entry.diameter, bad=bad)
        ) from None
    if entry.kind == "center_drill" and (entry.pilot_length is None or entry.body_diameter is None):
        base = _center_base(entry)
    given: dict[str, Any] = {}
    for name in ("designation", "series", "point_angle_deg", "split_point", "flutes", "margins", "shank"):
        value = getattr(entry, name)
        if value is not None:
            given[name] = lines(value) if isinstance(value, str) else value
    for name in ("coating", "zone", "center_cutting", "included_angle_deg", "drawer", "price", "note"):
        value = getattr(entry, name)
        if value is not None:
            given[name] = lines(value) if isinstance(value, str) else value
    for name in TOOL_LENGTHS:
        value = getattr(entry, name)
        if value is not None:
            given[f"{name}_mm"] = value.mm
    if entry.limits:
        low, high = sorted((entry.limits[0].exact_mm, entry.limits[1].exact_mm))
        given["limits"] = Limits(low, high)
    elif entry.kind == "reamer" and entry.zone:
        given["limits"] = finishers.reamer_limits(iso_limits(entry.diameter.exact_mm, entry.zone))
    return replace(
        base,
        id=entry.id or str(uuid.uuid4()),
        material=entry.material,
        quantity=entry.quantity,
        out=shown(entry.out) if isinstance(entry.out, str) else entry.out,
        condition=entry.condition,
        regrinds=entry.regrinds,
        **given,
    )


def tool_of(entry: dict[str, Any]) -> Tool:
    """A tool from an entry as a shop file holds it. Raises `InputError`."""
    return tool_from(validate_part(ToolFile, entry))


def machine_of(entry: dict[str, Any]) -> Machine:
    """A machine from an entry as a shop file holds it. Raises `InputError`."""
    return machine_from(validate_part(MachineFile, entry))


def gauge_of(entry: dict[str, Any]) -> Gauge:
    """A gauge from an entry as a shop file holds it. Raises `InputError`."""
    return gauge_from(validate_part(GaugeFile, entry))


def _center_base(entry: ToolFile) -> Tool:
    wanted = (entry.designation or "").strip()
    for tool in catalog.catalog_shop().of_kind("center_drill"):
        if tool.designation == wanted or (not wanted and tool.diameter == entry.diameter):
            return tool
    raise InputError("designation", f"'{wanted}' is not in the table; give pilot_length and body_diameter")


def gauge_from(entry: GaugeFile) -> Gauge:
    """The gauge as the core knows it."""
    kind = known_kind(entry.kind)
    low, high = (entry.range[0].mm, entry.range[1].mm) if entry.range else (0.0, 1000.0)
    return Gauge(
        id=entry.id or kind,
        kind=kind,
        low_mm=min(low, high),
        high_mm=max(low, high),
        resolution_mm=entry.resolution.mm,
        expanded_mm=entry.expanded_uncertainty.mm if entry.expanded_uncertainty else None,
        jaw_land_mm=entry.jaw_land.mm if entry.jaw_land else None,
    )


def _each(entries: list[Any], field: str, convert: Any) -> tuple[Any, ...]:
    found = []
    for index, entry in enumerate(entries):
        try:
            found.append(convert(entry))
        except InputError as bad:
            raise bad.inside(f"{field}[{index}]") from None
    return tuple(found)


def load(name_or_path: str) -> Shop:
    """A built-in shop by name, or a shop file; a file without machines has the built-in ones."""
    if name_or_path in ("demo", "catalog"):
        return catalog.built_in(name_or_path)
    path = Path(name_or_path)
    if not path.exists() and path.suffix == "":
        return catalog.built_in(name_or_path)
    file = validate(ShopFile, read_document(path, FORMAT))
    try:
        read_practice(file.practice)
    except InputError as bad:
        raise bad.inside("practice") from None
    return Shop(
        name=shown(file.name or path.stem),
        machines=_each(file.machines, "machines", machine_from) or catalog.machines(),
        tools=_each(file.tools, "tools", tool_from),
        gauges=_each(file.gauges, "gauges", gauge_from) or catalog.gauges(),
        practice=file.practice,
    )


__all__ = ["SCALE_KINDS", "ShopFile", "load", "shop_data"]
