"""A job as a batch: its order, its minutes, its costs, as `cordwainer schedule` and the window give them out."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.scheduling.build import Times, Wanted, shares, task_of
from cordwainer.core.scheduling.cost import Drilling, drillings, in_the_long_run
from cordwainer.core.scheduling.order import Done, Schedule, schedule
from cordwainer.core.scheduling.strip import stretches
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.files.entries import BatchEntry
from cordwainer.files.job import Job
from cordwainer.files.plan import plan_job

DRILLS = ("drill", "spade_drill")
COST_KIND = {"hss": "hss", "cobalt": "cobalt", "carbide": "carbide"}


@dataclass(frozen=True)
class Batch:
    """A job's batch with its order; `without_route` are holes that could not be planned."""

    job: Job
    machine: Machine
    wanted: tuple[Wanted, ...]
    found: Schedule
    without_route: tuple[str, ...] = ()

    @property
    def holes(self) -> int:
        """How many holes there are in all."""
        return self.found.task.parts * sum(w.hole.count for w in self.wanted)

    @property
    def rate(self) -> float | None:
        """Cost of an hour of machine and hand: the job's, else the machine's; None where nobody said."""
        own = self.job.file.batch.rate_per_hour
        return own if own is not None else self.machine.rate_per_hour

    def operation(self, done: Done) -> tuple[Wanted, Operation]:
        """What a step of the order does."""
        wanted = self.wanted[done.piece]
        step = self.found.task.pieces[done.piece].steps[done.step]
        return wanted, wanted.route.operations[step.operation]


def times_of(batch: BatchEntry, pace: float = 1.0) -> Times:
    """Minutes of a batch's own, and the shop's pace."""
    return Times(
        batch.part_change_minutes,
        batch.set_up_minutes,
        batch.tool_change_minutes,
        batch.speed_change_minutes,
        pace,
    )


def batch_of(
    job: Job, routes: Sequence[tuple[int, Hole, Route | None]], machine: Machine, way: str = "", pace: float = 1.0
) -> Batch:
    """The batch of holes (their place in the file, the hole, its route). Raises `InputError` without any."""
    wanted, without = [], []
    for index, hole, route in routes:
        if route is None:
            without.append(hole.id)
            continue
        entry = job.file.holes[index]
        wanted.append(Wanted(hole, route, entry.face, entry.after))
    task = task_of(wanted, job.file.quantity, machine, times_of(job.file.batch, pace))
    return Batch(job, machine, tuple(wanted), schedule(task, way or job.file.batch.order), tuple(without))


def schedule_job(job: Job, shop: Shop, way: str = "", told: Callable[[int], None] = lambda done: None) -> Batch:
    """The batch of a job with the recommended route of each hole; `told` as in `plan_job`."""
    machine = shop.machine(job.file.machine)
    plans = plan_job(job, shop, told=told)
    return batch_of(job, [(k, p.hole, p.recommended) for k, p in enumerate(plans)], machine, way)


def instances(batch: Batch) -> Iterator[tuple[Done, int]]:
    """Every step of every single hole in order: the step, and the number of the hole among all like it, from 1."""
    for done in batch.found.order:
        copies = batch.found.task.pieces[done.piece].copies
        for copy in range(copies):
            yield done, done.part * copies + copy + 1


def tool_cost(batch: Batch) -> float:
    """What drills cost for one part, spread over their lives."""
    total, own = 0.0, batch.job.file.batch.costs
    for wanted in batch.wanted:
        for operation in wanted.route.operations:
            found = drilling_of(operation, wanted.hole, batch.job.material, batch.machine, own)
            if found is not None:
                total += in_the_long_run(found, 0.0) * wanted.hole.count
    return total


def drilling_of(
    operation: Operation, hole: Hole, material: Material, machine: Machine, own: dict[str, dict[str, float]]
) -> Drilling | None:
    """The kind of drill an operation uses, with its costs; its own price where the crib has one."""
    if operation.kind not in DRILLS or operation.diameter_mm is None or operation.tool is None:
        return None
    depth = operation.depth_mm or hole.depth_mm
    kind = "spade" if operation.kind == "spade_drill" else COST_KIND.get(operation.tool.material, "hss")
    priced = {kind: {"price": operation.tool.price} | own.get(kind, {})} if operation.tool.price else own
    found = drillings(operation.diameter_mm, depth, material, machine, priced)
    return next((d for d in found if d.kind == kind), None)


def cost_per_hole(batch: Batch) -> float | None:
    """Mean cost of a hole of the batch: minutes at the rate, and drills over their lives; None without a rate."""
    if batch.rate is None:
        return None
    tools = batch.found.task.parts * tool_cost(batch)
    return (batch.found.minutes * batch.rate / 60 + tools) / batch.holes


def schedule_data(batch: Batch) -> dict[str, Any]:
    """The answer of `cordwainer schedule`."""
    found = batch.found
    order = []
    for done, number in instances(batch):
        wanted, operation = batch.operation(done)
        order.append(
            {
                "part": done.part + 1,
                "hole": wanted.hole.id,
                "number": number,
                "step": found.task.pieces[done.piece].steps[done.step].operation + 1,
                "operation": operation.kind,
                "tool": operation.tool.name
                if operation.tool
                else (operation.gauge.name if operation.gauge else None),
                "rpm": operation.rpm,
            }
        )
    cost = cost_per_hole(batch)
    return {
        "order": order,
        "way": found.way,
        "tool_changes": found.tool_changes,
        "part_changes": found.part_changes,
        "speed_changes": found.speed_changes,
        "set_up_changes": found.setup_changes,
        "minutes": round(found.minutes, 4),
        "lower_bound_minutes": round(found.bound, 4),
        "minutes_by": {key: round(value, 4) for key, value in shares(found.task, found.change_minutes).items()},
        "plain": {way: round(schedule(found.task, way).minutes, 4) for way in ("part_by_part", "tool_by_tool")},
        "cost_per_hole": None if cost is None else round(cost, 4),
        "currency": batch.job.file.batch.currency or None,
        "without_route": list(batch.without_route),
    }


@dataclass(frozen=True)
class OrderWords:
    """A stretch of the order in words: which parts, and for each tool in turn what it does."""

    parts: str
    tools: tuple[tuple[str, str], ...]


def told_order(batch: Batch) -> list[OrderWords]:
    """The order in as few lines as it takes: like loadings of parts as one, a line a tool."""
    found = []
    for stretch in stretches(batch.found):
        lines: list[tuple[str, str, list[str]]] = []
        for piece, step in stretch.steps:
            wanted, operation = batch.operation(Done(0, piece, step))
            name = operation.tool.name if operation.tool is not None else operation.kind.replace("_", " ")
            speed = f", {operation.rpm:g} rev/min" if operation.rpm else ""
            copies = tr(" ({count} of it)", count=wanted.hole.count) if wanted.hole.count > 1 else ""
            what = f"{wanted.hole.id}{copies}"
            key = operation.tool.id if operation.tool is not None else operation.kind
            if lines and lines[-1][0] == key + speed:
                lines[-1][2].append(what)
            else:
                lines.append((key + speed, name + speed, [what]))
        found.append(
            OrderWords(stretch.words, tuple((name, ", ".join(dict.fromkeys(who))) for _, name, who in lines))
        )
    return found


def schedule_lines(batch: Batch) -> list[str]:
    """The same for people."""
    found = batch.found
    ways = {
        "exact": tr("the best order there is"),
        "part_by_part": tr("part by part"),
        "tool_by_tool": tr("tool by tool over all parts"),
        "blocks": tr("in blocks"),
    }
    sure = (
        ""
        if found.exact
        else tr(
            ", at most {minutes:.1f} % over the best there is", minutes=100 * (found.minutes / found.bound - 1)
        )
    )
    lines = [
        tr(
            "{parts} parts, {minutes:.1f} min, {ways}{sure}",
            parts=found.task.parts,
            minutes=found.minutes,
            ways=ways[found.way],
            sure=sure,
        )
    ]
    lines += [
        f"  {words}: {m:.1f} min" for words, m in shares(found.task, found.change_minutes).items() if m > 0.05
    ]
    lines.append(
        tr(
            "  {tool_changes} tool changes, {part_changes} part changes",
            tool_changes=found.tool_changes,
            part_changes=found.part_changes,
        )
    )
    for told in told_order(batch):
        lines.append(f"{told.parts}" + (tr(", each:") if tr(" to ") in told.parts else ":"))
        lines += [f"  {tool}: {holes}" for tool, holes in told.tools]
    cost = cost_per_hole(batch)
    if cost is not None:
        lines.append(
            tr("a hole costs about {currency}{cost:.2f}", currency=batch.job.file.batch.currency, cost=cost)
        )
    lines += [tr("no route: {name}", name=name) for name in batch.without_route]
    return lines
