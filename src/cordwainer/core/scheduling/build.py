"""A batch made of planned holes: minutes of each step and of each change, and which hole waits for which."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.build import changes_before
from cordwainer.core.planning.steps.bench import minutes_of
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.scheduling.task import Changes, Config, Piece, PieceStep, Task
from cordwainer.core.shop.machine import Machine
from cordwainer.core.tables import constant, rows

BY_HAND = ("deburr", "measure", "punch")
CLOSE_GRADE = 9
SAME_SIZE_MM = 0.05


@dataclass(frozen=True)
class Wanted:
    """One hole of the batch with the route it is made by; `face` it is cut from, `after` which other holes."""

    hole: Hole
    route: Route
    face: str = ""
    after: tuple[str, ...] = ()


@dataclass(frozen=True)
class Times:
    """Minutes of this batch that are not the usual ones (None: `minutes.csv`), and this shop's pace.

    `pace` is how many minutes a planned one really takes, learned from the logbook; it stretches all but figures
    given here.
    """

    part: float | None = None
    setup: float | None = None
    tool: float | None = None
    speed: float | None = None
    pace: float = 1.0


def task_of(wanted: Sequence[Wanted], parts: int, machine: Machine, times: Times = Times()) -> Task:
    """The batch of so many parts with these holes. Raises `InputError` where holes wait for each other."""
    if not wanted:
        raise InputError("holes", tr("no hole of this job has a route yet; plan one first"))
    clamp = "part_change_three_jaw" if machine.is_lathe else "part_change_vise"
    pieces, tools, once = [], {}, 0.0
    for hole in wanted:
        steps = []
        rpm: float | None = None
        bar = ""
        for place, operation in enumerate(hole.route.operations):
            added, after = changes_before(operation, rpm, machine)
            mount = _mount(operation)
            if operation.kind == "bore" and operation.tool is not None and operation.tool.id != bar:
                added += minutes_of("boring_setup")
                bar = operation.tool.id
            work = max(operation.minutes - added, 0.0) * times.pace * hole.hole.count
            rpm = after
            config = None
            if operation.tool is not None and operation.kind not in BY_HAND:
                speed = operation.rpm if operation.kind != "tap" else None
                config = Config(hole.face, operation.tool.id, speed)
                tools[operation.tool.id] = times.tool if times.tool is not None else mount * times.pace
            steps.append(PieceStep(place, operation.kind, config, work, _what(operation), _name(operation)))
        if hole.route.machine is not None:
            once = minutes_of("indicate_carriage") * times.pace
        pieces.append(Piece(hole.hole.id, tuple(steps), hole.hole.count, hole.after))

    def usual(own: float | None, what: str) -> float:
        return own if own is not None else minutes_of(what) * times.pace

    changes = Changes(
        part=usual(times.part, clamp),
        setup=usual(times.setup, "set_up_face"),
        speed=usual(times.speed, f"speed_change_{machine.drive}"),
        tools=tools,
    )
    return Task(parts, _ordered(tuple(pieces), wanted), changes, once)


def _mount(operation: Operation) -> float:
    """Minutes to put an operation's tool in, at the usual pace."""
    if operation.kind == "bore":
        return minutes_of("boring_setup")
    taper = operation.tool is not None and operation.tool.shank != "straight" and operation.kind != "tap"
    return minutes_of("tool_change_taper_shank" if taper else "tool_change_drill_chuck")


def _what(operation: Operation) -> str:
    if operation.kind == "measure":
        return "measuring"
    return "by hand" if operation.kind in BY_HAND or operation.tool is None else "cutting"


def _name(operation: Operation) -> str:
    if operation.tool is not None:
        return operation.tool.name
    return operation.gauge.name if operation.gauge is not None else ""


# -- which hole waits for which ---------------------------------------------------------------------


def _is(who: str, one: Wanted, other: Wanted) -> bool:
    """Whether a hole is what a rule of `precedence.csv` speaks of, beside another one."""
    hole, met = one.hole, other.hole
    if who == "comes_into":
        return hole.exit == "cross_hole" and hole.cross_mm is not None and (
            abs(hole.cross_mm - met.nominal_mm) <= SAME_SIZE_MM
        )  # fmt: skip
    if who == "met_by_it":
        return _is("comes_into", other, one)
    if who == "thin_through":
        wall = hole.wall_mm
        return hole.through and wall is not None and wall < constant("thin_wall_per_d") * hole.nominal_mm
    if who == "close_tolerance":
        return hole.kind == "sized" and hole.grade <= CLOSE_GRADE
    raise InputError("precedence.csv", tr("'{who}' is no kind of hole known here", who=who))


def _ordered(pieces: tuple[Piece, ...], wanted: Sequence[Wanted]) -> tuple[Piece, ...]:
    """Pieces with the waits of `precedence.csv`; what somebody asked for by `after` stands first."""
    found = list(pieces)
    for row in rows("precedence"):
        for k, one in enumerate(wanted):
            for j, other in enumerate(wanted):
                if j == k or not _is(row.text("who"), one, other) or not _is(row.text("waits_for"), other, one):
                    continue
                if one.hole.id in other.after:
                    continue
                found[k] = _waiting(found[k], found[j], row.text("of_it"))
    return tuple(found)


def _waiting(piece: Piece, other: Piece, of_it: str) -> Piece:
    sizing = [n for n, step in enumerate(other.steps) if step.what == "cutting"]
    own = [n for n, step in enumerate(piece.steps) if step.what == "cutting"]
    if not sizing or not own:
        return piece
    if of_it == "all":
        return replace(piece, after=(*piece.after, other.id))
    steps = list(piece.steps)
    if of_it == "all_but_last":
        at, need = own[0], sizing[-1]
    else:
        at, need = own[-1], sizing[-1] + 1
        if at == own[0]:
            return piece  # one tool alone makes it: nothing is left for a last pass
    steps[at] = replace(steps[at], after=(*steps[at].after, (other.id, need)))
    return replace(piece, steps=tuple(steps))


def pace_of(actual: Sequence[tuple[float, float]], weight: float = 5.0) -> float:
    """How many minutes a planned one really takes: planned and real minutes of holes made, shrunk towards 1.

    The mean of the logs with `weight` holes at 1 as a first guess (assumed); clipped to a fifth and five times.

    >>> pace_of([]), round(pace_of([(10.0, 20.0)] * 95), 2)
    (1.0, 1.93)
    """
    from math import exp, log

    logs = [min(max(log(real / planned), -1.6), 1.6) for planned, real in actual if planned > 0 and real > 0]
    return exp(sum(logs) / (len(logs) + weight)) if logs else 1.0


def shares(task: Task, change_minutes: Mapping[str, float]) -> dict[str, float]:
    """Minutes of the whole batch by what they go to."""
    found = {"cutting": 0.0, "measuring": 0.0, "by hand": 0.0}
    for piece in task.pieces:
        for step in piece.steps:
            found[step.what] += task.parts * step.minutes
    names = {"part": "changing parts", "tool": "changing tools", "speed": "changing speeds"}
    found |= {words: change_minutes.get(key, 0.0) for key, words in names.items()}
    found["setting up"] = change_minutes.get("setup", 0.0) + task.once
    return found
