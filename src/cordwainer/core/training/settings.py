"""The holes exercises are about: invented parts of the shop, each planned as any other job is."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Any

from cordwainer.core.diagnosis.case_of import machine_word, operations_of
from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.from_plan import departures, made_by, planned_answers
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import written_limits
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material, material
from cordwainer.core.tables import rows


@dataclass(frozen=True)
class Setting:
    """A hole of a part as the table of exercises has it; lengths as written."""

    id: str
    part: str
    callout: str
    machine: str
    material: str
    level: int


@dataclass(frozen=True, eq=False)
class Planned:
    """A setting with its hole, the route that was followed, and how the forward model takes it."""

    setting: Setting
    hole: Hole
    machine: Machine
    material: Material
    route: Route
    made: Made

    @property
    def operations(self) -> tuple[str, ...]:
        """The operations in the words of the diagnosis."""
        return operations_of(self.route)


@cache
def settings() -> dict[str, Setting]:
    """All settings by id. Source: invented."""
    return {
        row.text("id"): Setting(
            row.text("id"), row.words("part"), row.text("callout"), row.text("machine"), row.text("material"),
            int(row.number("level")),
        )
        for row in rows("training/holes")
    }  # fmt: skip


def _hole(setting: Setting) -> Hole:
    """The hole of a setting, from its callout."""
    found = read_callout(setting.callout)
    assert found.diameter is not None and found.tolerance is not None and found.depth is not None
    limits = written_limits(found.diameter.exact_mm, found.tolerance)
    place = found.position.mm if found.position is not None else None
    return Hole(
        "A", "sized", found.diameter, found.depth, found.through, limits, setting.part, tolerance=found.tolerance,
        position_tolerance_mm=place,
    )  # fmt: skip


@lru_cache(maxsize=32)
def planned(setting_id: str) -> Planned:
    """A setting planned with the catalog's tools, the recommended route; the same every time."""
    setting = settings()[setting_id]
    hole, shop, metal = _hole(setting), built_in("catalog"), material(setting.material)
    machine = shop.machine(setting.machine)
    route = plan_hole(hole, shop, machine, metal).routes[0]
    return Planned(setting, hole, machine, metal, route, made_by(route, hole, machine, metal, None))


def case_for(found: Planned, **more: Any) -> Case:
    """The hole of a setting as a case, with what its plan tells of itself."""
    answers = {"e_machine": machine_word(found.machine), "e_material": found.material.diagnosis_name}
    hole = found.hole
    return Case(
        hole.nominal_mm, operations_of(found.route), (hole.limits.lower_mm, hole.limits.upper_mm), hole.depth_mm,
        answers={**answers, **more.pop("answers", {})}, planned=planned_answers(found.route, hole),
        departs=departures(found.route, hole), made=found.made, **more,
    )  # fmt: skip
