"""Two logged holes held against each other: what was different in how they were made, and in what came out."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from statistics import fmean

from cordwainer.core.diagnosis.compared import speak_for
from cordwainer.core.diagnosis.evidence import OPERATIONS, Case, Sizes, band_of, checked_answer
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.planning.machine.run import SKIPPED
from cordwainer.core.planning.words.operation import SIZING
from cordwainer.logbook.records import HoleMade

SAME_SPEED = 0.02
GROWN_MM = 0.02


@dataclass(frozen=True)
class Difference:
    """One thing that was not the same: what it is, as it was in the first hole and in the second."""

    what: str
    first: str
    second: str


@dataclass(frozen=True)
class Compared:
    """What differs between two holes, and how much larger the second came out at its middle, in mm.

    `causes` are the names of those that what differs and what came out speak for.
    """

    differ: tuple[Difference, ...]
    larger_mm: float | None
    causes: tuple[str, ...] = ()

    @property
    def one_thing(self) -> bool:
        """Whether only one thing differs, so that it stands for what came out."""
        return len(self.differ) == 1


def compare(first: HoleMade, second: HoleMade) -> Compared:
    """What was different between two holes, tool by tool, and how much more the second lies over its nominal."""
    found = []
    for what, column in (("material", "material"), ("machine", "machine")):
        found += _one(what, getattr(first, column), getattr(second, column))
    for place in range(max(len(first.operations), len(second.operations))):
        one = first.operations[place] if place < len(first.operations) else None
        two = second.operations[place] if place < len(second.operations) else None
        step = tr("step {place}", place=place + 1)
        if one is None or two is None:
            there = one if one is not None else two
            name = f"{there.tool or there.kind}".strip() if there is not None else ""
            found.append(Difference(step, name if one else "none", name if two else "none"))
            continue
        same_tool = one.tool_id == two.tool_id and one.tool == two.tool
        found += (
            []
            if same_tool
            else _one(tr("{step}, tool", step=step), one.tool or one.kind, two.tool or two.kind, told=True)
        )
        found += _one(tr("{step}, done", step=step), one.state, two.state)
        if one.rpm and two.rpm and abs(one.rpm - two.rpm) > SAME_SPEED * one.rpm:
            found.append(Difference(tr("{step}, rev/min", step=step), f"{one.rpm:g}", f"{two.rpm:g}"))
    seen = [{s.question: s.answer for s in hole.evidence} for hole in (first, second)]
    for question in sorted(set(seen[0]) | set(seen[1])):
        found += _one(question, seen[0].get(question, tr("not said")), seen[1].get(question, tr("not said")))
    sizes = [_over(hole) for hole in (first, second)]
    larger = sizes[1] - sizes[0] if sizes[0] is not None and sizes[1] is not None else None
    return Compared(tuple(found), larger, _causes(first, second, found, larger) if found else ())


def _causes(
    first: HoleMade, second: HoleMade, found: list[Difference], larger_mm: float | None
) -> tuple[str, ...]:
    """What the differences speak for; () where both came out alike, or too little is known of them.

    Another tool that cut a hole of another size is as good as a swap: with the first the fault is gone.
    """
    if not second.nominal_mm or not first.nominal_mm or larger_mm is None or abs(larger_mm) < GROWN_MM:
        return ()
    one, two = _case(first), _case(second)
    changed = {q: a for q, a in two.answers.items() if one.answers.get(q) != a}
    if any(d.what.endswith(tr("{step}, tool", step="")) for d in found):
        changed["q_newtool"] = "gone"
    for place, (was, now) in enumerate(zip(first.operations, second.operations, strict=False)):
        if (
            was.rpm
            and now.rpm
            and any(d.what == tr("{step}, rev/min", step=tr("step {place}", place=place + 1)) for d in found)
        ):
            changed["q_speed"] = band_of("q_speed", now.rpm / was.rpm)
    return speak_for(one, two, changed)


def _case(hole: HoleMade) -> Case:
    """A logged hole by its size and by what was said of it; what was skipped was not used."""
    d, over = hole.nominal_mm or 0.0, _over(hole)
    kinds = [o.kind for o in hole.operations if o.state != SKIPPED and o.kind in OPERATIONS]
    drills = [place for place, kind in enumerate(kinds) if kind == "drill"]
    for place in drills[1:]:
        kinds[place] = "step_drill"
    said = {s.question: s.answer for s in hole.evidence}
    answers = {}
    for question, answer in said.items():
        with suppress(InputError):
            answers[question] = checked_answer(question, answer)
    limits = (hole.lower_mm, hole.upper_mm) if hole.lower_mm and hole.upper_mm else None
    sizes = Sizes(middle=(d + over,)) if over is not None else Sizes()
    return Case(d, tuple(kinds), limits, None, sizes, answers=answers)


def _one(what: str, first: str, second: str, *, told: bool = False) -> list[Difference]:
    if first == second and not told:
        return []
    return [Difference(what, tr(first.replace("_", " ")), tr(second.replace("_", " ")))]


def _over(hole: HoleMade) -> float | None:
    """How far the hole lies over its nominal: what its last tool left, else the mean of its readings."""
    nominal = hole.nominal_mm or 0.0
    left = [o.left_mm for o in hole.operations if o.kind in SIZING and o.left_mm is not None]
    if left:
        return left[-1] - nominal
    return fmean(r.corrected_mm for r in hole.readings) - nominal if hole.readings else None
