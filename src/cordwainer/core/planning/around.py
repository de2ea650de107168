"""The rest of a sequence planned around what was really done: another tool, another speed, a step left out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.scoring import RANKED
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps.breaks import BROKEN
from cordwainer.core.planning.words.operation import SIZING, Operation, Route
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool


@dataclass(frozen=True)
class Did:
    """What became of one operation: skipped, or done with the tool and at the speed really used."""

    operation: Operation
    skipped: bool = False
    tool: Tool | None = None
    rpm: float | None = None

    @property
    def used(self) -> Tool | None:
        """The tool that really cut."""
        return self.tool or self.operation.tool

    @property
    def other(self) -> bool:
        """Whether it leaves another hole than the plan's."""
        if self.operation.kind not in SIZING:
            return False
        return self.skipped or (self.used != self.operation.tool)


@dataclass(frozen=True)
class PlanBench:
    """What a sequence is planned for and with."""

    hole: Hole
    shop: Shop
    machine: Machine
    material: Material
    practice: Practice
    hardness_bhn: float | None = None

    def route(self, wishes: Wishes, shop: Shop | None = None, *, samples: int = RANKED) -> Route | None:
        """The recommended route with some operations fixed; None where there is none. `samples` 0: not rated."""
        bench = (self.hole, shop or self.shop, self.machine, self.material, self.practice, self.hardness_bhn)
        found = plan_hole(*bench, wishes, samples=samples)
        return found.recommended


def around(bench: PlanBench, route: Route, did: Sequence[Did]) -> Route:
    """A route whose first operations are those done or skipped and whose rest fits them.

    While the rest as planned breaks nothing more than it did it is kept, with its figures worked out anew from the
    hole that is there now; else the rest is planned anew without what was skipped. Where that cannot be done
    either, the rest stands as planned, with what it breaks said at each step.
    """
    before = len(did)
    done = [d for d in did if not d.skipped]
    fixed = tuple(_wish(d) for d in done)
    rest = tuple(_as_planned(o) for o in route.operations[before:])
    kept = bench.route(Wishes((*fixed, *rest), only=True))
    if kept is None or len(kept.operations) < len(done):
        return route
    head = [kept.operations[done.index(d)] if d in done else d.operation for d in did]
    tail = kept.operations[len(done) :]
    if any(d.other for d in did) and _breaks(tail) > _breaks(route.operations[before:]):
        skipped = {d.operation.tool.id for d in did if d.skipped and d.operation.tool is not None}
        shop = replace(bench.shop, tools=tuple(t for t in bench.shop.tools if t.id not in skipped))
        fresh = bench.route(Wishes(fixed), shop)
        cut = _after_done(fresh, done) if fresh is not None else None
        if fresh is not None and cut is not None and _breaks(fresh.operations[cut:]) < _breaks(tail):
            tail, kept = fresh.operations[cut:], fresh
    operations = (*head, *tail)
    minutes = sum(o.minutes for o in operations)
    return replace(kept, label=route.label, operations=operations, minutes=minutes)


def _wish(did: Did) -> Wish:
    """An operation that is done, as it was done."""
    o = did.operation
    rpm = o.rpm if did.rpm is None else did.rpm
    own = did.used == o.tool
    return Wish(
        o.kind, did.used, rpm, o.feed_mm_per_rev if own else None, o.depth_mm, diameter_mm=_set(o), role=o.role
    )


def _as_planned(o: Operation) -> Wish:
    """An operation that is still to come, its speed and feed free."""
    placed = o.role is not None or o.kind == "bore"
    return Wish(o.kind, o.tool, depth_mm=o.depth_mm if placed else None, diameter_mm=_set(o), role=o.role)


def _set(o: Operation) -> float | None:
    return o.diameter_mm if o.kind == "bore" else None


def _breaks(operations: Sequence[Operation]) -> int:
    """How many limits operations break."""
    return sum(w.id == BROKEN for o in operations for w in o.warnings)


def _after_done(route: Route, done: Sequence[Did]) -> int | None:
    """Where the rest of a route begins: after its last operation that is done; None where one is not in it."""
    last = [(d.operation.kind, d.used) for d in done if d.operation.kind in SIZING]
    made = [(o.kind, o.tool) for o in route.operations]
    if not all(one in made for one in last):
        return None
    if last:
        return max(made.index(one) for one in last) + 1
    sizing = [i for i, o in enumerate(route.operations) if o.sizes_hole]
    return sizing[0] if sizing else None
