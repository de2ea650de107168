"""What every command answers with `--json`, as models: `cordwainer schema NAME` prints them as JSON Schema.

Names end in their unit: ``_mm``, ``_um``, ``_n`` (newtons), ``_nm`` (newton meters), ``_kw``, ``_deg``; chances
and shares are 0 to 1, minutes are minutes. What may be missing has a default.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

Share = Field(ge=0, le=1)


class Answer(BaseModel):
    """An object of which every field is named here."""

    model_config = ConfigDict(extra="forbid", serialize_by_alias=True)


class Limits(Answer):
    """Limits of a zone; the shaft's and the play between them where a fit was asked."""

    lower_um: float
    upper_um: float
    lower_mm: float
    upper_mm: float
    shaft_lower_um: float | None = None
    shaft_lower_mm: float | None = None
    shaft_upper_um: float | None = None
    shaft_upper_mm: float | None = None
    clearance_min_um: float | None = None
    clearance_min_mm: float | None = None
    clearance_max_um: float | None = None
    clearance_max_mm: float | None = None


class Said(Answer):
    """One answer to a question in shop notation."""

    name: str
    text: str
    working: str
    source: str


class NotRead(Answer):
    """A part of a question that was not understood, with its place in the line."""

    text: str
    from_: int = Field(alias="from")
    to: int


class Asked(Answer):
    """What was understood of a question, and its answers, the most telling first."""

    question: str
    understood: str
    answer: list[Said]
    not_read: list[NotRead]


class Named(Answer):
    """A drill's name; the difference is the reading less its size."""

    name: str
    system: str
    diameter_mm: float
    difference_um: float


class Identified(Answer):
    """Names within the tolerance, nearest first, and the nearest of all."""

    candidates: list[Named]
    nearest: list[Named]


class Speed(Answer):
    """Speed and feed of a tool; without a machine `rpm_machine` is null."""

    cutting_speed_m_min: float
    rpm_ideal: float
    rpm_machine: float | None
    feed_mm_per_rev: float
    feed_source: str
    too_fast: bool
    step_over_ideal_percent: float | None
    working: list[str]


class Force(Answer):
    """Thrust, torque, and the power where a speed was given."""

    thrust_n: float
    torque_nm: float
    power_kw: float | None


class Written(Answer):
    """A file that was written, and of what."""

    file: str
    holes: list[str] | int | None = None
    balloons: int | None = None
    results: int | None = None
    without_route: list[str] | None = None


class OrderStep(Answer):
    """One step of a batch, in its order."""

    part: int
    hole: str
    number: int
    step: int
    operation: str
    tool: str | None
    rpm: float | None


class PlainOrders(Answer):
    """Minutes of the two orders anybody would try first."""

    part_by_part: float
    tool_by_tool: float


class Schedule(Answer):
    """The order of a batch; no order can be quicker than `lower_bound_minutes`."""

    order: list[OrderStep]
    way: str
    tool_changes: int
    part_changes: int
    speed_changes: int
    set_up_changes: int
    minutes: float
    lower_bound_minutes: float
    minutes_by: dict[str, float]
    plain: PlainOrders
    cost_per_hole: float | None
    currency: str | None
    without_route: list[str]


class Notes(Answer):
    """What a drawing says for all its holes."""

    units: str
    general_tolerance: str
    tolerance_by_places: dict[str, str]
    material: str
    material_id: str


class Callout(Answer):
    """One callout of a drawing, how it was read, and where it stands: `box` in points of its sheet."""

    text: str
    state: str
    why: str
    read_as: str
    hole: dict[str, Any] | None
    count: int | None
    sheet: int
    box: list[float] | None
    places: list[list[float]]
    taken_as: str | None


class Read(Answer):
    """A drawing read; `holes` as in a job file."""

    file: str
    units: str
    sheets: int
    notes: Notes
    callouts: list[Callout]
    zero: list[float] | None
    circles_without_callout: list[dict[str, Any]]
    holes: list[dict[str, Any]]
    said: list[str]
    made_with: dict[str, Any]


class Spread(Answer):
    """Percentiles and mean of a size over the holes of a run, in mm."""

    p02: float
    p50: float
    mean: float
    p98: float


class SpreadAt(Answer):
    """The size at the mouth, half way and at the exit."""

    entry: Spread
    middle: Spread
    exit: Spread


class Simulated(Answer):
    """The holes a sequence makes; `chance_band` from shop to shop."""

    size_mm: SpreadAt
    bell_mouth_mm: Spread
    exit_offset_mm: Spread
    chance_in_tolerance: float = Share
    chance_error: float
    chance_band: list[float]
    chance_with_place_and_finish: float = Share
    chance_clean_up: float = Share
    finish_ra_um: float
    faults: list[Any]
    route: str
    samples: int
    seed: int


class Sizes(Answer):
    """Corrected sizes by place; null where nothing was read there."""

    entry: float | None
    middle: float | None
    exit: float | None


class Correction(Answer):
    """A correction that was added to every reading."""

    id: str
    um: float
    text: str


class Doubt(Answer):
    """One part of what a reading could be off by."""

    id: str
    standard_um: float
    text: str


class Offset(Answer):
    """How far the axis stands off its place."""

    entry: float | None
    exit: float | None


class AxisFound(Answer):
    """The axis through points of a measuring machine."""

    offset_mm: Offset
    leans_mm: float | None
    straightness_mm: float | None
    cylindricity_mm: float | None
    lobes: int | None


class Measured(Answer):
    """Readings judged."""

    sizes_mm: Sizes
    size_min_mm: float | None
    size_max_mm: float | None
    taper_mm: float | None
    out_of_round_mm: float | None
    form: list[str]
    corrections: list[Correction]
    cone_deg: float | None
    axis: AxisFound | None
    budget: list[Doubt]
    expanded_uncertainty_um: float
    guard_factor: float
    verdict: str
    why: str
    settle_with: list[str]
    flags: list[str]


class CauseFound(Answer):
    """A cause; a word for its probability, and a figure only where the holes behind it are enough."""

    id: str
    name: str
    probability: float = Share
    word: str
    in_100: int | None


class NextCheck(Answer):
    """A check with what it costs and what it is worth."""

    id: str
    question: str
    minutes: float
    gain_bits: float


class RescueWay(Answer):
    """A way to save the part, with its sums; `why_not` where it cannot be."""

    id: str
    title: str
    sums: list[str]
    size_mm: float | None
    agreement: str
    minutes: float
    possible: bool
    why_not: str
    undone: bool


class Diagnosed(Answer):
    """Causes by probability, checks by what they tell a minute."""

    causes: list[CauseFound]
    next_checks: list[NextCheck]
    fix: str
    rescue: str
    safety: str | None
    plan_change: dict[str, str] | None
    rescues: list[RescueWay]
    together: list[str] | dict[str, Any] | None
    pulls_apart: dict[str, Any] | str | None
    enough: bool
    tells_apart: str
    answers: dict[str, str]
    basis: str


class Reading(Answer):
    """A depth as a scale reads it, in the scale's own unit."""

    unit: str
    stop_reading: float
    stop_total_reading: float
    stop_reading_nearest_division: float
    travel: float
    tip_depth: float
    turns: float | None
    whole_turns: int | None
    divisions_past_whole_turns: float | None
    divisions: float | None
    peck_readings: list[float]


class LessonNamed(Answer):
    """A lesson by its id."""

    id: str
    name: str


class Course(Answer):
    """The lessons of a course."""

    course: str
    lessons: list[LessonNamed]


class ExercisePrint(Answer):
    """What is known of an exercise's hole before anything is looked at."""

    part: str
    callout: str
    machine: str
    material: str


class Bought(Answer):
    """A check the program bought, and what it told."""

    check: str
    bits: float


class Program(Answer):
    """How the program goes about an exercise."""

    bought: list[Bought]
    shares: dict[str, float]
    minutes_left: float
    points: float


class ExerciseHole(Answer):
    """A hole to be judged, with its truth."""

    seed: int
    hole: ExercisePrint
    minutes: float
    told: dict[str, str]
    listed: list[str]
    truth: list[str]
    true_sizes_mm: list[float]
    program: Program


class ExerciseQuestion(Answer):
    """A scale to be read or a drill to be known."""

    seed: int
    about: str
    asked: str
    choices: list[str]
    right: str
    working: str
    practiced_seconds: float


class ExercisePlan(Answer):
    """A hole to be planned, with the program's own sequence."""

    seed: int
    part: str
    callout: str
    machine: str
    material: str
    program: list[str]
    minutes: float


class Exported(Answer):
    """A shop taken along."""

    path: str
    shop: str
    parts: list[str]


class Imported(Answer):
    """What a shop taken along holds, or what was brought in of it."""

    shop: str
    made: str | None = None
    parts: list[str] | None = None
    jobs: list[str] | None = None
    holes: int | None = None
    more: str | None = None


class ServerState(Answer):
    """What a bench owes its server; the address is null where none is joined."""

    server: str | None
    bench: str | None = None
    waiting: int | None = None
    trouble: str | None = None
    not_taken: list[dict[str, Any]] | None = None


class ServerLeft(Answer):
    """The server that was left, null where none was joined."""

    left: str | None


class ServerPrepared(Answer):
    """A server with its tables, and the role its benches come as."""

    server: str
    bench: str


class ServerJoined(Answer):
    """The shop a bench shares from now on."""

    server: str
    bench: str
    shop: str
    title: str


class Moved(Answer):
    """A logbook carried, counted by table, with the checksum both sides have."""

    counts: dict[str, int]
    there_already: int
    sha256: str


ANSWERS: dict[str, type[Answer] | tuple[type[Answer], ...]] = {
    "limits": Limits,
    "ask": Asked,
    "identify": Identified,
    "speed": Speed,
    "force": Force,
    "schedule": Schedule,
    "read": Read,
    "simulate": Simulated,
    "measure": Measured,
    "diagnose": Diagnosed,
    "reading": Reading,
    "sheet": Written,
    "draw": Written,
    "train": (Course, ExerciseHole, ExerciseQuestion, ExercisePlan, Written),
    "export": Exported,
    "import": Imported,
    "server": (ServerState, ServerLeft, ServerPrepared, ServerJoined, Moved),
}


def answer_schema(name: str) -> dict[str, Any]:
    """The JSON Schema of a command's answer; one of several where it answers in several ways."""
    found = ANSWERS[name]
    if not isinstance(found, tuple):
        return found.model_json_schema(by_alias=True)
    from pydantic import TypeAdapter

    whole: Any = found[0]
    for one in found[1:]:
        whole = whole | one
    return TypeAdapter(whole).json_schema(by_alias=True)
