"""Routes as the forward model takes them: sound, with faults, and what the hole has to be."""

from __future__ import annotations

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.formation.outcome import Outcome, outcome
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.model.forward import (
    Fault,
    asked_of_hole,
    fault_rows,
    model_of,
    ops_of,
    read_fault,
    setup_of,
    with_faults,
)
from cordwainer.core.planning.model.forward import metal_of as metal
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material, materials
from cordwainer.core.tables import by_key

SHOP = built_in("catalog")
STEEL = material("medium_carbon_steel")


def hole(size: str = "18 mm", zone: str = "H7", depth: str = "24 mm") -> Hole:
    d = parse(size)
    return Hole("A", "sized", d, parse(depth), True, limits_of(d, zone, None, ""))


def route(asked: Hole, machine: str = "bench_lathe") -> Route:
    return plan_hole(asked, SHOP, SHOP.machine(machine), STEEL).routes[0]


ASKED = hole()
ROUTE = route(ASKED)


def came(*faults: str, machine: str = "bench_lathe") -> Outcome:
    made = model_of(
        ROUTE, ASKED, SHOP.machine(machine), STEEL, None, [read_fault(text) for text in faults], 20_000
    )
    return outcome(made, asked_of_hole(ASKED), 10_000, 4)


def test_a_route_becomes_operations_with_streams_of_their_own() -> None:
    ops = ops_of(ROUTE, SHOP.machine("bench_lathe"), 100)
    kinds = [o.kind for o in ROUTE.operations if o.kind not in ("face", "measure")]
    assert [op.kind for op in ops] == kinds and len({op.stream for op in ops}) == len(ops)
    reamer = next(op for op in ops if op.kind == "ream")
    assert reamer.kind == "ream"
    # DIN 1420: 18 H7 is 18.008 to 18.015
    sizes = reamer.diameter + reamer.size_error
    assert sizes.min() >= 18.008 - 1e-5 and sizes.max() <= 18.015 + 1e-5
    again = ops_of(ROUTE, SHOP.machine("knee_mill"), 100)
    assert [op.stream for op in ops] == [op.stream for op in again]


def test_a_lathe_turns_the_work() -> None:
    lathe, mill = SHOP.machine("bench_lathe"), SHOP.machine("knee_mill")
    assert setup_of(ASKED, lathe, metal(STEEL)).rotating_work
    assert not setup_of(ASKED, mill, metal(STEEL)).rotating_work


def test_every_material_has_its_habits() -> None:
    for found in materials().values():
        assert metal(found).peck_d > 0
    assert set(by_key("model_materials", "id")) == set(materials())


def test_every_fault_is_a_known_cause_and_does_harm_or_at_least_nothing() -> None:
    known = by_key("diagnosis/causes", "id")
    assert set(fault_rows()) <= set(known)
    sound = came()
    lathe = SHOP.machine("bench_lathe")
    drills = ops_of(ROUTE, lathe, 20_000)
    for cause, row in fault_rows().items():
        if row.text("target") == "bar":
            with pytest.raises(InputError, match="has no bar"):
                with_faults(
                    drills, setup_of(ASKED, SHOP.machine("bench_lathe"), metal(STEEL)), [Fault(cause, 0.0)]
                )
            continue
        assert came(cause).in_size.value <= sound.in_size.value + 0.02, cause
        assert read_fault(cause).words


@pytest.mark.parametrize(
    ("fault", "what"),
    [
        ("tail_side=0.1 mm", "bell_mouth"),
        ("rm_oversize=0.02 mm", "size"),
        ("me_hot=40 K", "size"),
        ("rm_fast=3", "size"),
        ("not_square=1 deg", "exit"),
    ],
)
def test_faults_show_where_they_should(fault: str, what: str) -> None:
    # common practice
    machine = "knee_mill" if what == "exit" else "bench_lathe"
    bad, good = came(fault, machine=machine), came(machine=machine)
    if what == "bell_mouth":
        assert bad.bell_mouth.p50 > good.bell_mouth.p50 + 0.003
    elif what == "size":
        assert bad.size["middle"].p50 > good.size["middle"].p50 + 0.002
    else:
        assert bad.exit_offset.p50 > good.exit_offset.p50 + 0.05


@pytest.mark.parametrize("size", ["6 mm", "10 mm", "12 mm", "20 mm", "30 mm"])
def test_planned_h7_holes_are_made(size: str) -> None:
    # derived: DIN 1420 reamers behind the table's stock make the zone they are made for
    asked = hole(size, "H7", f"{1.5 * float(size.split()[0]):g} mm")
    made = model_of(route(asked, "toolroom_lathe"), asked, SHOP.machine("toolroom_lathe"), STEEL)
    assert outcome(made, asked_of_hole(asked), 10_000, 3).in_size.value >= 0.89


def test_a_light_allowance_will_not_clean_up() -> None:
    # rules of record: the undersize hole already near the reamer's size
    bad, good = came("rm_light=0.35 mm"), came()
    assert bad.cleans_up.value < 0.5 < 0.98 < good.cleans_up.value


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("no_such", "not a cause"),
        ("lips_length=big", "not a length"),
        ("rm_fast=quick", "not an amount"),
        ("lips_length=9 mm", "outside"),
        ("tail_side=0.1 furlong", "not known"),
    ],
)
def test_bad_faults_are_said(text: str, problem: str) -> None:
    with pytest.raises(InputError, match=problem):
        read_fault(text)


def test_amounts_in_any_unit() -> None:
    assert read_fault("lips_length=0.012 in").amount == pytest.approx(0.3048)
    assert read_fault("rm_worn=50%").amount == 0.5 and read_fault("not_square=0.3°").amount == 0.3
    assert read_fault("tail_side").amount == 0.1 and "0.1 mm" in read_fault("tail_side").words
    assert read_fault("dr_none_start").words == "no start at all"
