"""The change a cause asks of the plan, made by one press and one undo."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from cordwainer.core.diagnosis.mend import DRILL_DOWN, PRACTICE, SPEED, plan_change
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.ui.desk.sequence import Sequence

if TYPE_CHECKING:
    from cordwainer.core.diagnosis.mend import PlanChange


class PlanChanges:
    """What a cause changes of the plan of the hole in hand."""

    def __init__(self, sequence: Sequence) -> None:
        self.sequence = sequence

    def offered(self, cause: str) -> PlanChange | None:
        """The change a cause asks for; None where the mend is not in the plan, or the plan is so already."""
        change = plan_change(cause)
        if change is None or self.sequence.plans.route is None:
            return None
        if change.kind == PRACTICE and getattr(self.sequence.stock.practice, change.key) == change.value:
            return None
        return change

    def apply(self, cause: str) -> str:
        """Make the change; the words say what was done. Raises `InputError` where it cannot be."""
        change, route = self.offered(cause), self.sequence.plans.route
        if change is None or route is None:
            raise InputError("", tr("there is nothing in the plan to change for that"))
        if change.kind == PRACTICE:
            self._practice(change)
            return tr("Planned with {change}. Undo takes it back.", change=change.words)
        sizing = [i for i, o in enumerate(route.operations) if o.sizes_hole]
        if change.kind == SPEED and sizing:
            index = sizing[-1]
            rpm = self._next_speed(route.operations[index].rpm or 0.0, slower=float(change.value) < 1)
            self.sequence.change(lambda edits: edits.set_speed(index, rpm))
            return tr("Step {index} at {rpm:g} rev/min. Undo takes it back.", index=index + 1, rpm=rpm)
        if change.kind == DRILL_DOWN:
            drills = [i for i in sizing if route.operations[i].kind == "drill"]
            if drills:
                self.sequence.change(lambda edits: edits.step(drills[-1], up=False))
                return tr("Step {drills} one size down. Undo takes it back.", drills=drills[-1] + 1)
        raise InputError("", tr("the plan has no step to change for that"))

    def _practice(self, change: PlanChange) -> None:
        position = self.sequence.selection.hole_index

        def put(data: dict[str, Any]) -> None:
            data["practice"] = {**data.get("practice", {}), change.key: change.value}
            hole = data["holes"][position]
            if hole.get("sequence_only"):
                hole.pop("sequence", None)
                hole.pop("sequence_only", None)

        self.sequence.document.edit(tr("Plan with {change}", change=change.words), put)

    def _next_speed(self, now: float, *, slower: bool) -> float:
        machine = self.sequence.stock.machine
        found = [n for n in machine.steps() if (n < now - 1e-9 if slower else n > now + 1e-9)]
        if not found:
            word = tr("slower") if slower else tr("faster")
            raise InputError(
                "",
                tr("{machine} has no {word} step than {now:g} rev/min", machine=machine.name, word=word, now=now),
            )
        return found[-1] if slower else found[0]
