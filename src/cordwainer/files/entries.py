"""The entries of a job file as they stand on disk, read from checked objects without Pydantic."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from typing import TYPE_CHECKING, Any

from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.support import Parallels
from cordwainer.files.shown import shown

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole

SAME_SIZE_MM = 0.0005


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
    """Sizes taken in one hole, the gauge, the temperatures; `of`: the size it was to have then."""

    of: Length | None = None
    gauge: str = "two_point_bore_gauge"
    readings: tuple[ReadingEntry, ...] = ()
    pins: tuple[PinEntry, ...] = ()
    points: tuple[list[float], ...] = ()
    offset_entry: Length | None = None
    offset_exit: Length | None = None
    part_temperature_c: float | None = None
    gauge_temperature_c: float | None = None
    deburred: bool = True

    def is_of(self, hole: Hole) -> bool:
        """Whether they are of the hole as it is now asked for, not of one of another size."""
        return self.of is None or abs(self.of.mm - hole.nominal_mm) < SAME_SIZE_MM


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
    role: str | None = None
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
    curve_radius: Length | None = None
    cross_diameter: Length | None = None
    existing_hole: Length | None = None
    thread: str | None = None
    thread_depth: Length | None = None
    class_: str | None = None
    center_type: str | None = None
    size: str | None = None
    taper: str | None = None
    counterbore_diameter: Length | None = None
    counterbore_depth: Length | None = None
    counterbore_tolerance: str | None = None
    countersink_diameter: Length | None = None
    countersink_angle_deg: float | None = None
    x: Length | None = None
    y: Length | None = None
    places: tuple[tuple[Length, Length], ...] = ()
    under: str | None = None
    under_gap: Length | None = None
    wall: Length | None = None
    outside: Length | None = None
    roundness: Length | None = None
    squareness: Length | None = None
    keyway: bool = False
    depth_to: Length | None = None
    peck: Length | None = None
    thread_percent: float | None = None
    part_thickness: Length | None = None
    floor: Length | None = None
    route: str | None = None
    measured: MeasuredEntry | None = None
    more_measured: dict[str, MeasuredEntry] = field(default_factory=dict)
    evidence: dict[str, Any] = field(default_factory=dict)
    face: str = ""
    after: tuple[str, ...] = ()
    found_cause: str | None = None
    edge: Length | None = None
    sequence: tuple[SequenceEntry, ...] = ()
    sequence_only: bool = False


@dataclass(frozen=True)
class UnderEntry:
    """What lies under the part, how far below its far side, and of parallels where they stand."""

    what: str
    gap: Length
    thick: Length | None = None
    inset: Length | None = None
    sides: str = "left_right"

    @property
    def parallels(self) -> Parallels | None:
        """The two parallels, where it was said how thick they are."""
        if self.what != "parallels" or self.thick is None:
            return None
        return Parallels(self.thick.mm, self.inset.mm if self.inset is not None else 0.0, self.sides)


@dataclass(frozen=True)
class PartEntry:
    """The part's width and height, from the left and lower edge its holes are placed from."""

    width: Length
    height: Length


@dataclass(frozen=True)
class BatchEntry:
    """How the batch is made: its order, minutes of changes that are not the usual ones (None: usual), money."""

    order: str = "best"
    follow: bool = False
    part_change_minutes: float | None = None
    set_up_minutes: float | None = None
    tool_change_minutes: float | None = None
    speed_change_minutes: float | None = None
    rate_per_hour: float | None = None
    currency: str = ""
    costs: dict[str, dict[str, float]] = field(default_factory=dict)


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
    general_tolerance: str = tr("ISO 2768-m")
    practice: dict[str, str] = field(default_factory=dict)
    under: UnderEntry | None = None
    part: PartEntry | None = None
    batch: BatchEntry = BatchEntry()
    holes: tuple[HoleEntry, ...] = ()


def _length(value: Any) -> Length:
    return value if isinstance(value, Length) else parse(value, signed=True)


def taken(cls: type[Any], data: dict[str, Any], **readers: Callable[[Any], Any]) -> Any:
    """An entry from a checked object: its known keys, those named read in their own way."""
    known = {field.name for field in fields(cls)}
    values = {}
    for key, value in data.items():
        if key in known:
            reader = readers.get(key)
            values[key] = reader(value) if reader is not None and value is not None else value
    return cls(**values)


def _reading(data: dict[str, Any]) -> ReadingEntry:
    found: ReadingEntry = taken(ReadingEntry, data, depth=_length, size=_length)
    return found


def _measured(data: dict[str, Any]) -> MeasuredEntry:
    found: MeasuredEntry = taken(
        MeasuredEntry,
        data,
        readings=lambda v: tuple(map(_reading, v)),
        pins=lambda v: tuple(taken(PinEntry, pin, size=_length) for pin in v),
        points=tuple,
        of=_length,
        offset_entry=_length,
        offset_exit=_length,
    )
    return found


def _operation(data: dict[str, Any]) -> SequenceEntry:
    given = {key: value for key, value in data.items() if value is not None}
    found: SequenceEntry = taken(
        SequenceEntry, given, diameter=_length, depth=_length, tool=lambda v: taken(ToolEntry, v), locked=tuple
    )
    return found


LENGTHS = (
    "diameter",
    "depth",
    "position_tolerance",
    "curve_radius",
    "cross_diameter",
    "existing_hole",
    "thread_depth",
    "counterbore_diameter",
    "counterbore_depth",
    "countersink_diameter",
    "wall",
    "outside",
    "roundness",
    "squareness",
    "depth_to",
    "peck",
    "part_thickness",
    "floor",
    "x",
    "y",
    "under_gap",
    "edge",
)


def under_entry(data: dict[str, Any]) -> UnderEntry:
    """What lies under the part, from its checked object."""
    found: UnderEntry = taken(UnderEntry, data, gap=_length, thick=_length, inset=_length)
    return found


def part_entry(data: dict[str, Any]) -> PartEntry:
    """The part's size, from its checked object."""
    found: PartEntry = taken(PartEntry, data, width=_length, height=_length)
    return found


def batch_entry(data: dict[str, Any] | None) -> BatchEntry:
    """How the batch is made, from its checked object."""
    if not data:
        return BatchEntry()
    costs = {
        kind: {key: float(value) for key, value in own.items() if value is not None}
        for kind, own in (data.get("costs") or {}).items()
    }
    found: BatchEntry = taken(BatchEntry, data | {"costs": costs})
    return found


def hole_entry(data: dict[str, Any]) -> HoleEntry:
    """A hole's entry from its checked object."""
    readers: dict[str, Callable[[Any], Any]] = dict.fromkeys(LENGTHS, _length)
    if "class" in data:
        data = data | {"class_": data["class"]}
    found: HoleEntry = taken(
        HoleEntry,
        data,
        **readers,
        name=shown,
        limits=lambda v: tuple(map(_length, v)),
        places=lambda v: tuple((_length(x), _length(y)) for x, y in v),
        measured=_measured,
        more_measured=lambda v: {number: _measured(own) for number, own in v.items()},
        after=tuple,
        sequence=lambda v: tuple(map(_operation, v)),
    )
    return found
