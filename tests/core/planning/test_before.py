"""Checks before the first cut: what they promise is what the model's chance becomes, on fresh seeds."""

from __future__ import annotations

import random
from dataclasses import replace

import pytest

from cordwainer.core.formation.oversize import opening_factor, survey_oversize
from cordwainer.core.formation.simulate import Model
from cordwainer.core.learning.oversize import HoleCut, believe, with_belief
from cordwainer.core.planning.model.forward import asked_of_hole, model_of
from cordwainer.core.planning.model.leaning import CHUNK, WORTH_IT, _chance, checks_before, unchecked_and_checked
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.core.tables import by_key
from cordwainer.files import job as job_files
from tests.jobs import job_data

FRESH = 900


@pytest.mark.parametrize("number", range(12))
def test_what_a_check_promises_comes_true(number: int) -> None:
    dice = random.Random(number)
    entry = {
        "id": "A", "kind": "sized", "diameter": f"{dice.choice([8, 12, 16, 20, 25])} mm",
        "tolerance": dice.choice(["H6", "H7", "H7"]), "depth": f"{dice.choice([20, 32, 45])} mm", "through": True,
    }  # fmt: skip
    metal, shop = material(dice.choice(["low_carbon_steel", "cast_iron_gray"])), built_in("catalog")
    machine = shop.machine("bench_lathe")
    job = job_files.from_data(job_data(entry, units="mm", machine=machine.id, material=metal.id))
    plan = plan_hole(job.holes[0], shop, machine, metal)
    if not plan.routes:
        return
    route, hole = plan.routes[0], job.holes[0]
    checks = checks_before(route, hole, machine, metal, most=9)
    assert list(checks) == sorted(checks, key=lambda c: -c.worth)
    model = model_of(route, hole, machine, metal, None, (), CHUNK)
    assert isinstance(model, Model)
    for check in checks:
        assert check.good >= check.now + WORTH_IT and check.how and check.if_not and check.minutes > 0
        row = by_key("checks_before", "id")[check.id]
        without, with_it = unchecked_and_checked(model, row)
        assert with_it is not None
        asked = asked_of_hole(hole)
        gain = _chance(with_it, asked, FRESH) - _chance(without, asked, FRESH)
        assert gain == pytest.approx(check.good - check.now, abs=0.02)


def test_a_tailstock_is_worth_indicating_before_a_reamer() -> None:
    entry = {"id": "A", "kind": "sized", "diameter": "16 mm", "tolerance": "H7", "depth": "45 mm", "through": True}
    metal, shop = material("low_carbon_steel"), built_in("catalog")
    job = job_files.from_data(job_data(entry, units="mm", machine="bench_lathe", material=metal.id))
    machine = shop.machine("bench_lathe")
    route = plan_hole(job.holes[0], shop, machine, metal).routes[0]
    assert "tailstock" in [check.id for check in checks_before(route, job.holes[0], machine, metal)]


def test_work_is_let_come_cold_before_it_is_reamed_and_never_for_a_drilled_hole() -> None:
    shop, metal = built_in("catalog"), material("low_carbon_steel")
    machine = shop.machine("bench_lathe")
    found = []
    for size, tolerance in ((9, "+0.2/0 mm"), (32, "H6"), (25, "H6"), (20, "H6")):
        entry = {"id": "A", "kind": "sized", "diameter": f"{size} mm", "tolerance": tolerance, "depth": "24 mm"}
        job = job_files.from_data(job_data({**entry, "through": True}, units="mm", machine=machine.id))
        routes = plan_hole(job.holes[0], shop, machine, metal).routes
        checks = checks_before(routes[0], job.holes[0], machine, metal, most=9) if routes else ()
        found.append("cold" in [check.id for check in checks])
    assert not found[0] and any(found[1:])


def test_a_scrap_hole_raises_the_chance_as_promised() -> None:
    shop, metal = built_in("catalog"), material("medium_carbon_steel")
    machine = shop.machine("drill_press")
    promised = []
    for size, tolerance in ((6.5, "+0.07/0 mm"), (7.5, "+0.075/0 mm"), (8.5, "+0.08/0 mm")):
        entry = {"id": "A", "kind": "sized", "diameter": f"{size} mm", "tolerance": tolerance, "depth": "18 mm"}
        job = job_files.from_data(job_data({**entry, "through": True}, units="mm", machine=machine.id))
        hole = job.holes[0]
        route = plan_hole(hole, shop, machine, metal).routes[0]
        check = next((c for c in checks_before(route, hole, machine, metal, most=9) if c.id == "scrap"), None)
        last = max((o for o in route.operations if o.sizes_hole), key=lambda o: o.diameter_mm or 0.0)
        if check is None or last.kind != "drill" or last.tool is None:
            continue
        # A hole in scrap that comes out as such holes do: the drill now has one of its own behind it.
        over = float(survey_oversize(last.tool.diameter_mm)[1])
        over *= float(opening_factor(last.tool.diameter_mm, last.tool.chisel_mm, last.previous_mm))
        tried = with_belief(last.tool, believe(last.tool, [HoleCut(over, last.previous_mm)]))
        operations = tuple(replace(o, tool=tried) if o is last else o for o in route.operations)
        model = model_of(replace(route, operations=operations), hole, machine, metal, None, (), CHUNK)
        assert isinstance(model, Model)
        now = _chance(model, asked_of_hole(hole), FRESH)
        assert now == pytest.approx(check.good, abs=0.02) and now > check.now
        promised.append(check.good - check.now)
    assert promised and min(promised) >= WORTH_IT
