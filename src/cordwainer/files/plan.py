"""Plans as they are given out: the PLAN of the command line."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from pydantic import BaseModel, Field

from cordwainer import __version__
from cordwainer.core.errors import InputError
from cordwainer.core.formation.outcome import Outcome
from cordwainer.core.planning.model.leaning import Leaning
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import HolePlan, Operation, PlanWarning, Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.files.chances import Chances
from cordwainer.files.job import Job, practice_in
from cordwainer.files.sequence import read_wishes

DATA_VERSION = 1


def plan_job(
    job: Job,
    shop: Shop,
    seed: int = 0,
    told: Callable[[int], None] = lambda done: None,
    made: Callable[[HolePlan], None] = lambda plan: None,
) -> tuple[HolePlan, ...]:
    """Plans for all holes of a job; `told` hears how many are done, `made` each plan as soon as it is there."""
    machine = shop.machine(job.file.machine)
    sold = None if shop.name == "catalog" else built_in("catalog")
    found = []
    for index in range(len(job.holes)):
        told(index)
        found.append(_plan(job, shop, machine, sold, index, seed))
        made(found[-1])
    return tuple(found)


def plan_one(job: Job, shop: Shop, index: int) -> HolePlan:
    """The plan for one hole of a job, without looking at tools to be bought."""
    return _plan(job, shop, shop.machine(job.file.machine), None, index, 0)


def _plan(job: Job, shop: Shop, machine: Machine, sold: Shop | None, index: int, seed: int) -> HolePlan:
    entry = job.file.holes[index]
    try:
        wishes = read_wishes(entry.sequence, entry.sequence_only, shop)
    except InputError as bad:
        raise bad.inside(f"holes[{index}]") from None
    hole, hardness = job.holes[index], job.file.hardness_bhn
    practice = practice_in(job, shop)
    return plan_hole(hole, shop, machine, job.material, practice, hardness, wishes=wishes, sold=sold, seed=seed)


def made_with(seed: int) -> dict[str, Any]:
    """What a plan was made with, so that it can be made again."""
    return {"app": __version__, "data": DATA_VERSION, "seed": seed}


def _tool_data(tool: Tool | None) -> dict[str, Any] | None:
    if tool is None:
        return None
    return {
        "id": tool.id,
        "name": tool.name,
        "designation": tool.designation,
        "series": tool.series,
        "material": tool.material,
        "diameter_mm": tool.diameter_mm,
        "web_mm": tool.web_mm,
        "chisel_mm": tool.chisel_mm,
        "point_angle_deg": tool.point_angle_deg,
        "point_mm": tool.point_mm,
        "drawer": tool.drawer,
    }


def operation_data(operation: Operation) -> dict[str, Any]:
    """One operation as PLAN holds it."""
    readings = operation.readings
    slow = operation.breakthrough
    gauge = operation.gauge
    return {
        "kind": operation.kind,
        "end": operation.end,
        "diameter_mm": operation.diameter_mm,
        "mouth_diameter_mm": operation.mouth_mm,
        "tool": _tool_data(operation.tool),
        "gauge": {"id": gauge.id, "name": gauge.name} if gauge else None,
        "rpm": operation.rpm,
        "rpm_ideal": operation.rpm_ideal,
        "feed_mm_per_rev": operation.feed_mm_per_rev,
        "feed_source": operation.feed_source,
        "seconds_per_mm": operation.seconds_per_mm,
        "seconds_per_turn": operation.seconds_per_turn,
        "depth_mm": operation.depth_mm,
        "tip_depth_mm": operation.tip_mm,
        "pecks_mm": list(operation.pecks_mm),
        "previous_diameter_mm": operation.previous_mm or None,
        "expected_hole_mm": operation.expected_mm,
        "stock_mm": operation.stock_mm,
        "passes_mm": list(operation.passes_mm),
        "spring_passes": operation.spring,
        "overhang_mm": operation.overhang_mm,
        "turns": operation.turns,
        "fluid": operation.fluid,
        "minutes": operation.minutes,
        "because": list(operation.because),
        "spoils": list(operation.spoils),
        "cautions": [caution.text for caution in operation.cautions],
        "readings": {
            "unit": readings.unit,
            "scale": readings.scale,
            "zero_on": readings.zero_on,
            "hole_diameter_mm": readings.edge_mm or operation.previous_mm or None,
            "meets": readings.meets or None,
            "tip_at_start_mm": readings.start_tip_mm,
            "start": readings.start,
            "stop": readings.stop,
            "whole_turns": readings.wheel_turns,
            "divisions_past_whole_turns": readings.wheel_divisions,
            "pecks": list(readings.peck_readings),
            "slow_from": readings.slow_from,
            "strokes": [
                {
                    "from_tip_mm": s.from_tip_mm,
                    "to_tip_mm": s.to_tip_mm,
                    "start": s.start,
                    "stop": s.stop,
                    "move_up_mm": s.move_mm,
                }
                for s in readings.strokes
            ],
        }
        if readings
        else None,
        "breakthrough": {
            "from_tip_mm": slow.from_tip_mm,
            "to_tip_mm": slow.to_tip_mm,
            "feed_mm_per_rev": slow.feed_mm_per_rev,
        }
        if slow
        else None,
        "role": operation.role,
        "slowed_for": operation.slowed_for,
        "locked": list(operation.locked),
        "working": [working.text() for working in operation.workings],
    }


def route_data(route: Route, told: Outcome | None = None, leans: Sequence[Leaning] = ()) -> dict[str, Any]:
    """One route as PLAN holds it, with what the model says of it; what is not known is null."""
    return {
        "label": route.label,
        "finisher": route.finisher,
        "minutes": route.minutes,
        "screen_chance": route.screen_chance,
        "chance_in_tolerance": told.in_size.value if told else None,
        "chance_error": told.in_size.error if told else None,
        "chance_band": [told.in_size.low, told.in_size.high] if told else None,
        "chance_with_place_and_finish": told.right.value if told else None,
        "chance_clean_up": told.cleans_up.value if told else None,
        "leans_on": [
            {
                "id": o.id,
                "text": o.words,
                "usual_chance": o.usual,
                "low": o.low_words,
                "low_chance": o.low,
                "high": o.high_words,
                "high_chance": o.high,
            }
            for o in leans
        ],
        "missing_tools": list(route.missing_tools),
        "instead": [
            {
                "missing": o.missing.name,
                "nearest": o.nearest.name if o.nearest else None,
                "chance": o.chance,
                "why_not": o.why_not,
            }
            for o in route.instead
        ],
        "operations": [operation_data(operation) for operation in route.operations],
    }


def warning_data(warning: PlanWarning) -> dict[str, Any]:
    """One warning as PLAN holds it, its numbers as keys."""
    return {
        "id": warning.id,
        "hole": warning.hole,
        "route": warning.route,
        "operation": warning.operation,
        "text": warning.text,
        **warning.numbers,
    }


def plan_data(job: Job, plans: tuple[HolePlan, ...], seed: int, chances: Chances | None = None) -> dict[str, Any]:
    """The whole PLAN, with the model's chances where they are given."""

    def route(plan: HolePlan, found: Route) -> dict[str, Any]:
        return route_data(found, *chances.of(plan, found)) if chances else route_data(found)

    warnings = [
        {"id": "unknown_key", "hole": None, "route": None, "operation": None, "text": text}
        for text in job.warnings
    ]
    warnings += [warning_data(w) for plan in plans for route in plan.routes for w in route.warnings]
    return {
        "holes": [
            {
                "id": p.hole.id,
                "routes": [route(p, r) for r in p.routes],
                "why_not": list(p.why_not),
                "to_get": route(p, p.to_get) if p.to_get else None,
            }
            for p in plans
        ],
        "warnings": warnings,
        "made_with": made_with(seed),
    }


class ToolOut(BaseModel):
    """The tool of an operation."""

    id: str
    name: str
    web_mm: float | None
    chisel_mm: float


class OperationOut(BaseModel):
    """One operation of a route; lengths in mm, depths from the entry face."""

    kind: str
    diameter_mm: float | None
    mouth_diameter_mm: float | None
    tool: ToolOut | None
    rpm: float | None
    feed_mm_per_rev: float | None
    feed_source: str | None
    depth_mm: float | None
    tip_depth_mm: float | None
    pecks_mm: list[float]
    expected_hole_mm: float | None
    stock_mm: float | None
    passes_mm: list[float]
    spring_passes: int
    overhang_mm: float | None
    turns: float | None
    fluid: str
    minutes: float
    because: list[str]
    spoils: list[str]
    cautions: list[str]
    readings: dict[str, Any] | None
    breakthrough: dict[str, float] | None
    role: str | None
    slowed_for: str | None


class RouteOut(BaseModel):
    """One route; `screen_chance` is the rough closed-form figure."""

    label: str
    minutes: float
    screen_chance: float = Field(ge=0, le=1)
    chance_in_tolerance: float | None
    chance_band: list[float] | None
    chance_clean_up: float | None
    chance_with_place_and_finish: float | None
    finisher: str
    leans_on: list[dict[str, Any]]
    instead: list[dict[str, Any]]
    missing_tools: list[str]
    operations: list[OperationOut]


class HoleOut(BaseModel):
    """The routes to one hole, or why there is none."""

    id: str
    routes: list[RouteOut]
    why_not: list[str]
    to_get: RouteOut | None


class PlanOut(BaseModel):
    """The answer of `cordwainer plan`."""

    holes: list[HoleOut]
    warnings: list[dict[str, Any]]
    made_with: dict[str, Any]
