"""Case files: a bad hole, what is known of it, and the explanation as it is given out."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from cordwainer.core.diagnosis.applies import answers_of
from cordwainer.core.diagnosis.doubt import pulls_apart, together, worth_asking
from cordwainer.core.diagnosis.evidence import (
    MENDED,
    OPERATIONS,
    OWN,
    Case,
    Offset,
    Sizes,
    checked_answer,
    mended_causes,
    own_size,
)
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.mend import plan_change
from cordwainer.core.diagnosis.next_check import next_checks, tells_apart
from cordwainer.core.diagnosis.posterior import rank
from cordwainer.core.diagnosis.rescue import Bad, Rescue, rescues
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.material import materials
from cordwainer.files.documents import read_document
from cordwainer.files.fields import NotNegative, Positive
from cordwainer.files.reading import Part, WholeFile, validate

FORMAT = "cordwainer-case"
SHOWN = 10


class CaseHole(Part):
    """The hole of a case."""

    diameter: Positive
    limits: list[Positive] | None = Field(default=None, min_length=2, max_length=2)
    depth: Positive | None = None


class SizesFile(Part):
    """One or two sizes at each place, the second turned a quarter."""

    entry: list[Positive] = Field(default_factory=list, max_length=2)
    middle: list[Positive] = Field(default_factory=list, max_length=2)
    exit: list[Positive] = Field(default_factory=list, max_length=2)


class OffsetFile(Part):
    """How far the hole is off, and the position zone."""

    entry: NotNegative | None = None
    exit: NotNegative | None = None
    tolerance: Positive | None = None


class CaseFile(WholeFile):
    """A case file as it stands on disk."""

    format: Literal["cordwainer-case"]
    version: int = Field(ge=1)
    hole: CaseHole
    operations: list[str] = Field(default_factory=list, max_length=20)
    machine: str | None = None
    material: str | None = None
    sizes: SizesFile = Field(default_factory=SizesFile)
    offset: OffsetFile = Field(default_factory=OffsetFile)
    evidence: dict[str, str | float | bool] = Field(default_factory=dict)


def _operations(names: list[str]) -> tuple[str, ...]:
    found: list[str] = []
    for index, name in enumerate(names):
        name = "spot_drill" if name == "spot" else name
        if name not in OPERATIONS:
            raise InputError(
                f"operations[{index}]",
                tr(
                    "'{name}' is not known; write one of {operations}", name=name, operations=", ".join(OPERATIONS)
                ),
            )
        found.append(name)
    return tuple(found)


def diagnosis_material(name: str) -> str:
    """The material in the questions' vocabulary, from either vocabulary."""
    known = materials().get(name)
    return known.diagnosis_name if known else name


def resolve(file: CaseFile) -> Case:
    """The case as the core knows it."""
    answers: dict[str, str] = {}
    given: dict[str, str | float | bool] = {}
    own: float | None = None
    mended: tuple[str, ...] = ()
    if file.machine is not None:
        given["e_machine"] = file.machine
    if file.material is not None:
        given["e_material"] = file.material
    for key, value in {**given, **file.evidence}.items():
        if key == "e_material" and isinstance(value, str):
            value = diagnosis_material(value)
        try:
            if key == OWN:
                own = own_size(value)
                continue
            if key == MENDED:
                mended = mended_causes(value)
                continue
            answers[key] = checked_answer(key, value)
        except InputError as bad:
            top = {"e_machine": "machine", "e_material": "material"}
            where = top[key] if key in top and key not in file.evidence else f"evidence.{key}"
            raise InputError(where, bad.problem) from None
    limits = file.hole.limits
    pair = None
    if limits is not None:
        low, high = sorted((limits[0].mm, limits[1].mm))
        pair = (low, high)
    offset = file.offset
    return Case(
        diameter_mm=file.hole.diameter.mm,
        operations=_operations(file.operations),
        limits_mm=pair,
        depth_mm=file.hole.depth.mm if file.hole.depth else None,
        sizes=Sizes(
            *(tuple(s.mm for s in place) for place in (file.sizes.entry, file.sizes.middle, file.sizes.exit))
        ),
        offset=Offset(
            offset.entry.mm if offset.entry is not None else None,
            offset.exit.mm if offset.exit is not None else None,
            offset.tolerance.mm if offset.tolerance is not None else None,
        ),
        answers=answers,
        own_mm=own,
        mended=mended,
    )


def load(path: Path) -> Case:
    """Read and resolve a case file."""
    return resolve(validate(CaseFile, read_document(path, FORMAT)))


def rescues_of(case: Case) -> list[Rescue]:
    """Ways to save the part of a case, where its limits and some size are known."""
    sizes = [s for place in (case.sizes.entry, case.sizes.middle, case.sizes.exit) for s in place]
    if case.limits_mm is None or not sizes:
        return []
    offset = max(case.offset.entry_mm or 0.0, case.offset.exit_mm or 0.0)
    bad = Bad(
        case.diameter_mm, *case.limits_mm, max(sizes), min(sizes), case.depth_mm or 2 * case.diameter_mm,
        max(case.sizes.entry, default=None), None, offset, case.offset.tolerance_mm,
        plain=not case.finished and "tap" not in case.operations, reamed=case.last_sizing == "ream",
    )  # fmt: skip
    return rescues(bad)


def explanation_data(case: Case) -> dict[str, Any]:
    """An explanation as `cordwainer diagnose` gives it out."""
    ranked = rank(case)
    leader = next((r for r in ranked if r.id in causes()), None)
    cause = causes()[leader.id] if leader else None
    second = next((r for r in ranked if r.id in causes() and leader and r.id != leader.id), None)
    change = plan_change(leader.id) if leader else None
    both, doubt, ways = together(case), pulls_apart(case), rescues_of(case)
    return {
        "causes": [
            {"id": r.id, "name": r.name, "probability": r.probability, "word": r.word, "in_100": r.in_100}
            for r in ranked[:SHOWN]
        ],
        "next_checks": [
            {"id": c.question.id, "question": c.question.text, "minutes": c.minutes, "gain_bits": c.gain_bits}
            for c in next_checks(case)
        ],
        "fix": cause.fix if cause else None,
        "rescue": cause.rescue if cause else None,
        "safety": cause.safety or None if cause else None,
        "plan_change": asdict(change) if change is not None else None,
        "rescues": [asdict(way) for way in ways],
        "together": list(both) if both is not None else None,
        "pulls_apart": doubt.words if doubt is not None else None,
        "enough": worth_asking(case) is None,
        "tells_apart": tells_apart(leader.id, second.id) if leader and second else None,
        "answers": answers_of(case),
        "basis": "judgement and a model: read order and words; in_100 stands where simulated cases bear it",
    }
