"""What a plan is made of: operations, warnings, routes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

from cordwainer.core.cutting.depth import Breakthrough
from cordwainer.core.cutting.strokes import Stroke
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wishes import DRILLING, OTHER_END
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.tool import Tool
from cordwainer.core.working import Working

SIZING = (*DRILLING, "ream", "bore")
START = ("center_drill", "spot_drill")
SAME_DEPTH_MM = 0.05


@dataclass(frozen=True)
class Caution:
    """A safety caution: its id, how strongly it is shown, its words."""

    id: str
    level: str
    text: str


@dataclass(frozen=True)
class DepthReading:
    """Start and stop of an operation on the machine's depth scale, in the scale's unit.

    `wheel_turns` and `wheel_divisions` are whole turns and divisions past them from start to
    stop, where the machine feeds by a handwheel with a dial. `slow_from` is where the feed is halved. `strokes`
    are the runs a longer depth takes, none where one reaches; `stop` and what else is read then belong to the
    stroke they fall in. `meets` says what the tool touches at the start, `edge_mm` how wide the edge is there.
    """

    unit: str
    scale: str
    zero_on: str
    start: float
    stop: float
    start_tip_mm: float
    division: float
    wheel_turns: int | None = None
    wheel_divisions: float | None = None
    peck_readings: tuple[float, ...] = ()
    slow_from: float | None = None
    strokes: tuple[Stroke, ...] = ()
    meets: str = ""
    edge_mm: float | None = None


@dataclass(frozen=True)
class PlanWarning:
    """Something the plan does that a machinist should know; `numbers` go into the file as keys."""

    id: str
    text: str
    hole: str = ""
    route: str | None = None
    operation: int | None = None
    numbers: dict[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Operation:
    """One step at the machine; lengths in mm, `mouth_mm` for starts, None for what does not apply.

    `speed_share` is what the machine's people run of the table's speed. `end` is 2 for what is done from the
    other end, the work turned round; `floor`: what is left below matters. `passes_mm` are the sizes a bar is
    set to in turn, `spring` passes without a new setting after the last; `turns` those of a tap.
    """

    kind: str
    diameter_mm: float | None = None
    tool: Tool | None = None
    gauge: Gauge | None = None
    mouth_mm: float | None = None
    cone_share: float | None = None
    rpm: float | None = None
    rpm_ideal: float | None = None
    surface_ideal_m_min: float | None = None
    speed_share: float = 1.0
    rpm_below: float | None = None
    rpm_above: float | None = None
    feed_mm_per_rev: float | None = None
    feed_source: str | None = None
    seconds_per_mm: float | None = None
    seconds_per_turn: float | None = None
    depth_mm: float | None = None
    tip_mm: float | None = None
    pecks_mm: tuple[float, ...] = ()
    previous_mm: float = 0.0
    expected_mm: float | None = None
    expected_sd_mm: float | None = None
    stock_mm: float | None = None
    stock_target_mm: tuple[float, float] | None = None
    fluid: str = ""
    minutes: float = 0.0
    readings: DepthReading | None = None
    breakthrough: Breakthrough | None = None
    passes_mm: tuple[float, ...] = ()
    overhang_mm: float | None = None
    spring: int = 0
    turns: float | None = None
    role: str | None = None
    end: int = 1
    floor: bool = False
    slowed_for: str | None = None
    locked: tuple[str, ...] = ()
    because: tuple[str, ...] = ()
    spoils: tuple[str, ...] = ()
    cautions: tuple[Caution, ...] = ()
    warnings: tuple[PlanWarning, ...] = ()
    make_workings: Callable[[], tuple[Working, ...]] | None = field(default=None, compare=False, repr=False)

    @cached_property
    def workings(self) -> tuple[Working, ...]:
        """Every number with its formula, inputs and source, made when they are asked for."""
        return self.make_workings() if self.make_workings is not None else ()

    @property
    def sizes_hole(self) -> bool:
        """Whether it makes the hole's diameter."""
        return self.kind in SIZING


@dataclass(frozen=True)
class Instead:
    """What the crib has in place of a tool it lacks: its nearest tool, and the chance with that one."""

    missing: Tool
    nearest: Tool | None
    chance: float | None
    why_not: str = ""


def stop_window(hole: Hole | None, operation: Operation) -> tuple[float, float] | None:
    """Least and greatest stop reading of the operation that makes a hole whose depth has two ends.

    In the scale's unit; None for any other operation.
    """
    readings = operation.readings
    if hole is None or hole.depth_window_mm is None or readings is None or readings.strokes:
        return None
    if operation.depth_mm is None or abs(operation.depth_mm - hole.depth_mm) > SAME_DEPTH_MM:
        return None
    least, most = hole.depth_window_mm
    half = (most - least) / 2 / (INCH_MM if readings.unit == "in" else 1.0)
    return readings.stop - half, readings.stop + half


@dataclass(frozen=True)
class Route:
    """One way to the hole: operations in order, minutes, the rough closed-form chance and the model's.

    `chance` (of the size), `chance_all` (with place and finish) and `clean_up` are the forward model's, None where
    it has nothing to judge; `misses` what goes wrong and in what share of holes, the commonest first. `price` is
    what the practice would avoid, in minutes; `machine` the machine as set up for it, None for the job's own.
    """

    label: str
    operations: tuple[Operation, ...]
    minutes: float
    screen_chance: float
    cost: float
    missing_tools: tuple[str, ...] = ()
    chance: float | None = None
    chance_all: float | None = None
    clean_up: float | None = None
    price: float = 0.0
    machine: Machine | None = None
    instead: tuple[Instead, ...] = ()
    misses: tuple[tuple[str, float], ...] = ()

    @property
    def both_ends(self) -> bool:
        """Whether the work is turned round and drilled from the other end too."""
        return any(o.end == OTHER_END for o in self.operations)

    @property
    def finisher(self) -> str:
        """What makes its size: the kinds of its last sizing steps, such as ``bore_ream``."""
        kinds = [o.kind for o in self.operations if o.sizes_hole or (o.kind == "end_mill" and o.role is None)]
        reamed = kinds[-1:] == ["ream"]
        if reamed and "bore" in kinds:
            return "bore_ream"
        return "drill" if kinds[-1:] in (["spade_drill"], ["drill"], []) else kinds[-1]

    @property
    def warnings(self) -> tuple[PlanWarning, ...]:
        """Everything its operations warn of."""
        return tuple(w for operation in self.operations for w in operation.warnings)


@dataclass(frozen=True)
class HolePlan:
    """The routes to one hole, the recommended one first, or why there is none.

    `to_get` is what could be done with tools to be bought, where the crib's own do not reach.
    """

    hole: Hole
    routes: tuple[Route, ...]
    why_not: tuple[str, ...] = ()
    to_get: Route | None = None

    @property
    def recommended(self) -> Route | None:
        """The route to take unless the machinist knows better."""
        return self.routes[0] if self.routes else None
