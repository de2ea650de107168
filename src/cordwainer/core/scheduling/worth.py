"""What holds a batch back, and what each improvement there would be worth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import minutes_of
from cordwainer.core.scheduling.build import Wanted
from cordwainer.core.scheduling.order import Schedule, schedule
from cordwainer.core.scheduling.task import Task
from cordwainer.core.shop.machine import Machine

LEAST_SHARE, MOST_OVER = 0.001, 1.4
EVERY = 5


@dataclass(frozen=True)
class Improvement:
    """One change: what, the minutes it saves of the whole batch, and what it takes or risks."""

    id: str
    words: str
    saves: float
    note: str = ""


def improvements(found: Schedule, wanted: Sequence[Wanted], machine: Machine) -> list[Improvement]:
    """What could be changed and the minutes each saves, the largest first; under one in a thousand left out.

    The order is found anew where the changes themselves get cheaper.
    """
    task = found.task
    ways = [_faster(task, wanted), _half_part_change(found), _quick_holder(found, machine), _fewer_readings(task)]
    told = [way for way in ways if way is not None and way.saves >= LEAST_SHARE * found.minutes]
    return sorted(told, key=lambda way: -way.saves)


def _faster(task: Task, wanted: Sequence[Wanted]) -> Improvement | None:
    """The next step up where it saves most, unless it lies far over the table's middle."""
    best: Improvement | None = None
    routes = {w.hole.id: w.route for w in wanted}
    for piece in task.pieces:
        for step in piece.steps:
            operation = routes[piece.id].operations[step.operation]
            above, rpm, feed = operation.rpm_above, operation.rpm, operation.feed_mm_per_rev
            deep = operation.tip_mm or operation.depth_mm
            if above is None or not rpm or not feed or not deep or step.what != "cutting":
                continue
            if above > MOST_OVER * (operation.rpm_ideal or rpm):
                continue
            turning = min(deep / (rpm * feed) * piece.copies, step.minutes)
            saves = task.parts * turning * (1 - rpm / above)
            if best is None or saves > best.saves:
                ideal = operation.rpm_ideal or rpm
                over = 100 * (above / ideal - 1)
                note = (
                    tr("{over:.0f} % over the table's middle", over=over)
                    if over > 0
                    else tr("still within the table")
                )
                words = tr(
                    "{piece}, step {operation}: {above:g} rev/min in place of {rpm:g}",
                    piece=piece.id,
                    operation=step.operation + 1,
                    above=above,
                    rpm=rpm,
                )
                best = Improvement("faster", words, saves, note)
    return best


def _half_part_change(found: Schedule) -> Improvement:
    """Half the time to change a part, the order found anew."""
    task = found.task
    quicker = replace(task, changes=replace(task.changes, part=task.changes.part / 2))
    saves = found.minutes - schedule(quicker).minutes
    words = tr(
        "a part changed in {part:.2g} min in place of {part_2:.2g}",
        part=task.changes.part / 2,
        part_2=task.changes.part,
    )
    return Improvement("half_part_change", words, saves, tr("a stop, soft jaws or a quick vise"))


def _quick_holder(found: Schedule, machine: Machine) -> Improvement | None:
    """Tools changed in a quick holder, the order found anew."""
    task = found.task
    quick = minutes_of("tool_change_quick_holder")
    tools = {name: min(minutes, quick) if minutes < 2 else minutes for name, minutes in task.changes.tools.items()}
    if tools == dict(task.changes.tools):
        return None
    saves = found.minutes - schedule(replace(task, changes=replace(task.changes, tools=tools))).minutes
    holder = tr("a quick-change holder on the carriage") if machine.carriage_held else tr("a quick-change chuck")
    return Improvement("quick_holder", tr("tools changed in {quick:g} min", quick=quick), saves, holder)


def _fewer_readings(task: Task) -> Improvement | None:
    """Every fifth part measured, once the first have shown that the batch holds."""
    measuring = sum(s.minutes for p in task.pieces for s in p.steps if s.what == "measuring")
    kept = -(-task.parts // EVERY)
    if task.parts <= EVERY or not measuring:
        return None
    saves = (task.parts - kept) * measuring
    note = tr("only where the batch is seen to hold: Cp and Cpk in the Logbook")
    return Improvement("fewer_readings", tr("every {every}th part measured", every=EVERY), saves, note)
