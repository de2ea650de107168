"""Commands that change the sequence of the hole in hand; each shows the Plan stage, where it can be seen."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.ui.commands.command import Shell

if TYPE_CHECKING:
    from collections.abc import Callable

    from cordwainer.files.sequence_edits import Edited, SequenceEdits


def change(shell: Shell, edit: Callable[[SequenceEdits], Edited | None]) -> None:
    """One edit. Raises `InputError` for what does not add up."""
    shell.go("plan")
    shell.desk.sequence.change(edit)
    shell.say("")


def _index(shell: Shell) -> int:
    return shell.desk.selection.operation_index


def next_route(shell: Shell) -> None:
    """Take the next route of the hole in hand."""
    plan, route = shell.desk.plans.plan, shell.desk.plans.route
    if plan and route and len(plan.routes) > 1:
        labels = [r.label for r in plan.routes]
        shell.desk.plans.use_route(labels[(labels.index(route.label) + 1) % len(labels)])


def other_size(shell: Shell) -> None:
    """The crib's other tools for the step in hand."""
    shell.go("plan")
    shell.plan_acts().open_sizes_of_selected()


def larger_tool(shell: Shell) -> None:
    """The next larger size that exists."""
    change(shell, lambda edits: edits.step(_index(shell), True))


def smaller_tool(shell: Shell) -> None:
    """The next smaller size that exists."""
    change(shell, lambda edits: edits.step(_index(shell), False))


def keep_step(shell: Shell) -> None:
    """Keep the selected tool, or let it go."""
    change(shell, lambda edits: edits.lock(_index(shell)))


def faster(shell: Shell) -> None:
    """The machine's next faster step for the step in hand."""
    _speed(shell, up=True)


def slower(shell: Shell) -> None:
    """The machine's next slower step for the step in hand."""
    _speed(shell, up=False)


def _speed(shell: Shell, *, up: bool) -> None:
    operation = shell.desk.plans.operation
    rpm = (operation.rpm_above if up else operation.rpm_below) if operation is not None else None
    shell.go("plan")
    if rpm is not None:
        change(shell, lambda edits: edits.set_speed(_index(shell), rpm))


def add_step(shell: Shell) -> None:
    """One more drill before the one in hand, or before the last drill."""
    route, index = shell.desk.plans.route, _index(shell)
    if route is not None and route.operations[index].kind != "drill":
        drills = [i for i, o in enumerate(route.operations) if o.kind == "drill"]
        index = drills[-1] if drills else index
    change(shell, lambda edits: edits.add(index))


def remove_step(shell: Shell) -> None:
    """Take the step in hand out."""
    change(shell, lambda edits: edits.remove(_index(shell)))


def step_earlier(shell: Shell) -> None:
    """Move the step in hand earlier."""
    change(shell, lambda edits: edits.move(_index(shell), -1))


def step_later(shell: Shell) -> None:
    """Move the step in hand later."""
    change(shell, lambda edits: edits.move(_index(shell), 1))


def plan_freely(shell: Shell) -> None:
    """Forget what was fixed by hand."""
    change(shell, lambda edits: edits.free())
