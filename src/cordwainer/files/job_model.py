"""The models of a job file: what may stand in it, checked before anything else looks at it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from cordwainer.core.language import tr
from cordwainer.files.fields import Id, NotNegative, Positive, Signed
from cordwainer.files.reading import Part, WholeFile, unknown_keys, validate

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


class SequenceTool(Part):
    """What is known of the very tool; `id` names one of the shop."""

    id: str | None = None
    designation: str | None = None
    series: str | None = None
    point_angle_deg: float | None = Field(default=None, gt=0, le=180)
    length_class: str | None = None
    material: str | None = None
    lip_offset: NotNegative | None = None
    wear: float | None = Field(default=None, ge=0, le=1)


class SequenceOperation(Part):
    """One operation of a sequence; `locked` names what the machinist fixed."""

    kind: Literal[
        "face",
        "punch",
        "center_drill",
        "spot_drill",
        "drill",
        "core_drill",
        "spade_drill",
        "ream",
        "bore",
        "end_mill",
        "countersink",
        "counterbore",
        "spotface",
        "tap",
        "deburr",
        "measure",
    ]
    diameter: Positive | None = None
    tool: SequenceTool | None = None
    rpm: float | None = Field(default=None, gt=0, le=100_000)
    feed_mm_per_rev: float | None = Field(default=None, gt=0, le=10)
    depth: Positive | None = None
    role: str | None = None
    locked: list[str] = Field(default_factory=list)


class MeasuredReading(Part):
    """One size as read, at a depth and direction."""

    depth: NotNegative
    direction_deg: float = Field(default=0.0, ge=-360, le=360)
    size: Positive


class MeasuredPin(Part):
    """One pin tried in the hole."""

    size: Positive
    goes: bool = Field(strict=True)


Figure = Annotated[float, Field(allow_inf_nan=False)]
Point = Annotated[list[Figure], Field(min_length=3, max_length=3)]


class MeasuredFile(Part):
    """Sizes taken in this hole: readings by depth and direction, the gauge, the temperatures.

    `of` is the size the hole was to have when it was measured; `aside` are those taken when it was another.
    """

    of: Positive | None = None
    aside: list[MeasuredFile] = Field(default_factory=list, max_length=20)
    gauge: str = "two_point_bore_gauge"
    readings: list[MeasuredReading] = Field(default_factory=list, max_length=200)
    pins: list[MeasuredPin] = Field(default_factory=list, max_length=40)
    points: list[Point] = Field(default_factory=list, max_length=20_000)
    offset_entry: NotNegative | None = None
    offset_exit: NotNegative | None = None
    part_temperature_c: float | None = Field(default=None, ge=-60, le=400, allow_inf_nan=False)
    gauge_temperature_c: float | None = Field(default=None, ge=-60, le=100, allow_inf_nan=False)
    deburred: bool = Field(default=True, strict=True)


class PrintFile(Part):
    """Where on a drawing a hole was read: file, sheet, place (x, y, width, height, angle), the words."""

    file: str = Field(max_length=1000)
    sheet: int = Field(default=1, ge=1, le=10_000, strict=True)
    box: list[Figure] = Field(default_factory=list, max_length=5)
    text: str = Field(default="", max_length=400)


class HoleFile(Part):
    """One hole of a job file."""

    id: Id = Field(min_length=1, max_length=60)
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
    places: list[tuple[Signed, Signed]] | None = Field(default=None, max_length=20_000)
    under: Literal["parallels", "vise", "table", "subplate", "jaws"] | None = None
    under_gap: NotNegative | None = None
    counterbore_diameter: Positive | None = None
    counterbore_depth: Positive | None = None
    counterbore_tolerance: str | None = None
    countersink_diameter: Positive | None = None
    countersink_angle_deg: float | None = Field(default=None, gt=0, lt=180)
    taper: str | None = None
    wall: Positive | None = None
    outside: Positive | None = None
    roundness: Positive | None = None
    squareness: Positive | None = None
    keyway: bool = Field(default=False, strict=True)
    depth_to: Positive | None = None
    peck: Positive | None = None
    thread_percent: float | None = Field(default=None, ge=30, le=100, allow_inf_nan=False)
    part_thickness: Positive | None = None
    floor: NotNegative | None = None
    route: str | None = None
    measured: MeasuredFile | None = None
    more_measured: dict[Annotated[str, Field(pattern="^[1-9][0-9]{0,6}$")], MeasuredFile] = Field(
        default_factory=dict
    )
    evidence: dict[str, str | float | bool] = Field(default_factory=dict)
    face: str = Field(default="", max_length=40)
    after: list[str] = Field(default_factory=list, max_length=60)
    found_cause: str | None = Field(default=None, max_length=60)
    edge: Positive | None = None
    sequence: list[SequenceOperation] = Field(default_factory=list, max_length=60)
    sequence_only: bool = Field(default=False, strict=True)
    print_: PrintFile | None = Field(default=None, alias="print")


class CostFile(Part):
    """The shop's own figures for one kind of drill."""

    price: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    holes: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    regrinds: int | None = Field(default=None, ge=0, le=1000)
    regrind: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    body: float | None = Field(default=None, ge=0, allow_inf_nan=False)


Minutes = Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]


class BatchFile(Part):
    """How the batch is made: its order, minutes of changes that are not the usual ones, money."""

    order: Literal["best", "part_by_part", "tool_by_tool"] = "best"
    follow: bool = Field(default=False, strict=True)
    part_change_minutes: Minutes | None = None
    set_up_minutes: Minutes | None = None
    tool_change_minutes: Minutes | None = None
    speed_change_minutes: Minutes | None = None
    rate_per_hour: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    currency: str = Field(default="", max_length=8)
    costs: dict[Literal["hss", "cobalt", "carbide", "insert", "spade"], CostFile] = Field(default_factory=dict)


class UnderFile(Part):
    """What lies under the part, and how far below its far side."""

    what: Literal["parallels", "vise", "table", "subplate", "jaws"]
    gap: NotNegative
    thick: Positive | None = None
    inset: NotNegative | None = None
    sides: Literal["left_right", "lower_upper"] = "left_right"


class PartFile(Part):
    """The part's width and height as its holes are placed, from the left and lower edge."""

    width: Positive
    height: Positive


class JobFile(WholeFile):
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
    general_tolerance: str = tr("ISO 2768-m")
    under: UnderFile | None = None
    part: PartFile | None = None
    batch: BatchFile | None = None
    practice: dict[str, str] = Field(default_factory=dict)
    holes: list[HoleFile] = Field(default_factory=list, max_length=MOST_HOLES)


def check_job(data: dict[str, Any]) -> list[str]:
    """Hold a job file's object against its model; the keys it does not know. Raises `InputError`."""
    return unknown_keys(validate(JobFile, data))
