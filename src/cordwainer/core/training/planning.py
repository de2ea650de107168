"""Plan a hole: a learner's own sequence run on the model and held against the program's, each difference named."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import SIZING, START, Operation, Route
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.training.settings import Planned, planned

KINDS = {
    "punch": tr("punch"),
    "center_drill": tr("center drill"),
    "spot_drill": tr("spot drill"),
    "drill": tr("drill"),
    "core_drill": tr("core drill"),
    "ream": tr("ream"),
    "bore": tr("bore"),
    "deburr": tr("deburr"),
    "measure": tr("measure"),
}
TOOLS = {
    "center_drill": "center_drill",
    "spot_drill": "spot_drill",
    "drill": tr("drill"),
    "core_drill": "core_drill",
}
TOOLS |= {"ream": "reamer", "bore": "boring_bar"}
SIZELESS = ("punch", tr("deburr"), tr("measure"))
SEEN = 5000
USUAL = ("jobber", "taper_shank", "plain", "A", "straight")
SAME = 0.05  # sizes this near do the same work


@dataclass(frozen=True)
class Laid:
    """One step as the learner laid it down: its kind, and its size as written."""

    kind: str
    size: str = ""

    @property
    def words(self) -> str:
        """The step in words."""
        return f"{KINDS[self.kind]} {self.size}".strip()


@dataclass(frozen=True)
class Difference:
    """One thing the learner's sequence does otherwise, and why the program does not."""

    words: str
    reason: str


@dataclass(frozen=True)
class Judged:
    """What came of a sequence: the route it makes, or `why_not`; points; the program's own; the differences."""

    mine: Route | None
    theirs: Route
    points: float
    why_not: str = ""
    differences: tuple[Difference, ...] = ()
    broken: tuple[str, ...] = field(default_factory=tuple)


def tool_for(laid: Laid, found: Planned, opened_mm: float = 0.0) -> Tool | None:
    """The catalog's tool for a step, into a hole of `opened_mm`; None for one without. Raises `InputError`."""
    if laid.kind in SIZELESS:
        return None
    sold = built_in("catalog").of_kind(TOOLS[laid.kind])
    named = [tool for tool in sold if tool.designation.lower() == laid.size.strip().lower()]
    if not named and laid.kind != "center_drill":
        size = parse(laid.size, found.hole.own_unit)
        if laid.kind == "bore":
            named = [tool for tool in sold if (tool.min_bore_mm or 0.0) <= opened_mm < size.mm]
            if not named:
                raise InputError("", tr("no bar enters what is open before it, to bore {laid}", laid=laid.size))
            return max(named, key=lambda tool: tool.diameter_mm)
        named = [tool for tool in sold if abs(tool.diameter_mm - size.mm) < 1e-6]
    if not named:
        raise InputError("", tr("no {kinds} '{laid}' is to be had here", kinds=KINDS[laid.kind], laid=laid.size))
    return min(named, key=lambda tool: tool.series not in USUAL)


def wishes_of(steps: Sequence[Laid], found: Planned) -> Wishes:
    """The steps as a plan takes them, nothing added. Raises `InputError`."""
    if not steps:
        raise InputError("", tr("lay down at least one step"))
    fixed = []
    opened = found.hole.existing_mm or 0.0
    for laid in steps:
        tool = tool_for(laid, found, opened)
        if tool is not None and laid.kind in ("drill", "core_drill"):
            opened = max(opened, tool.diameter_mm)
        to = parse(laid.size, found.hole.own_unit).mm if laid.kind == "bore" else None
        fixed.append(Wish(laid.kind, tool, diameter_mm=to))
    return Wishes(tuple(fixed), only=True)


def judged(setting_id: str, steps: Sequence[Laid]) -> Judged:
    """A sequence run on the model and held against the program's: points are what it costs against what that does.

    The cost is minutes and tools, with what a missed hole costs in minutes. Raises `InputError` for a step that
    cannot be read.
    """
    found = planned(setting_id)
    wishes = wishes_of(steps, found)
    bench = (found.hole, built_in("catalog"), found.machine, found.material)
    theirs = plan_hole(*bench, samples=SEEN).routes[0]
    try:
        mine = plan_hole(*bench, wishes=wishes, samples=SEEN).recommended
    except CordwainerError as bad:
        return Judged(None, theirs, 0.0, str(bad))
    if mine is None or not any(o.sizes_hole for o in mine.operations):
        return Judged(None, theirs, 0.0, tr("no hole of this size comes of these steps"))
    broken = tuple(dict.fromkeys(w.text for w in mine.warnings if w.id == "broken_limit"))
    for operation in mine.operations:
        broken += tuple(w.text for w in operation.warnings if w.id == "broken_limit" and w.text not in broken)
    cost = mine.cost + constant("train_broken_minutes") * len(broken)
    score = 100 * min(1.0, max(theirs.cost, 1e-9) / max(cost, 1e-9))
    return Judged(mine, theirs, score, "", tuple(differences(mine, theirs)), broken)


def differences(mine: Route, theirs: Route) -> list[Difference]:
    """Step by step what is there more, is lacking or of another size, with the program's reason."""
    pairs = _paired(mine.operations, theirs.operations)
    found = []
    for place, wanted in enumerate(theirs.operations):
        near = pairs.get(place)
        if near is None:
            found.append(Difference(tr("You have no {named}", named=_named(wanted)), _why(wanted)))
        elif near.kind != wanted.kind or _apart(near, wanted) > SAME:
            found.append(
                Difference(
                    tr("Your {named}, not {named_2}", named=_named(near), named_2=_named(wanted)), _why(wanted)
                )
            )
    taken = [id(o) for o in pairs.values()]
    more = [o for o in mine.operations if id(o) not in taken and (o.sizes_hole or o.kind in START)]
    return found + [
        Difference(tr("Your {named} more", named=_named(o)), tr("The program's sequence does without it."))
        for o in more
    ]


def _paired(mine: Sequence[Operation], theirs: Sequence[Operation]) -> dict[int, Operation]:
    """By place of the program's steps the one of the learner's that does its work, the nearest in size first."""
    ways = [(_apart(a, b), k, a) for k, b in enumerate(theirs) for a in mine if _alike(a, b)]
    found: dict[int, Operation] = {}
    for _, place, one in sorted(ways, key=lambda way: way[:2]):
        if place not in found and not any(one is taken for taken in found.values()):
            found[place] = one
    return found


def _apart(one: Operation, other: Operation) -> float:
    """How far two steps lie apart in size, as a share; starts not by their size."""
    if one.kind in START or not one.diameter_mm or not other.diameter_mm:
        return 0.0
    return abs(math.log(one.diameter_mm / other.diameter_mm))


def _alike(one: Operation, other: Operation) -> bool:
    """Whether two steps do the same work: start, open, finish."""
    if one.kind in START or other.kind in START:
        return one.kind in START and other.kind in START
    drilling = ("drill", "core_drill", "spade_drill")
    if one.kind in drilling or other.kind in drilling:
        return one.kind in drilling and other.kind in drilling
    if one.kind in SIZING and other.kind in SIZING:
        return True
    return one.kind == other.kind


def _named(operation: Operation) -> str:
    size = operation.tool.designation if operation.tool is not None else ""
    if operation.kind == "bore" and operation.diameter_mm is not None:
        size = tr("to {diameter_mm:.3f} mm", diameter_mm=operation.diameter_mm)
    return f"{KINDS.get(operation.kind, tr(operation.kind.replace('_', ' ')))} {size}".strip()


def _why(operation: Operation) -> str:
    return operation.because[0] if operation.because else tr("Part of every sequence here.")
