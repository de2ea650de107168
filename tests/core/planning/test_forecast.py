"""Forecasts of any planned hole: finite, near its size, the same in both units, wider where less is known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.formation.outcome import outcome
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.model.forecast import density, forecast
from cordwainer.core.planning.model.forward import asked_of_hole, model_of
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import material, materials

SHOP = built_in("catalog")
MACHINES = tuple(machine.id for machine in SHOP.machines)


def hole(size: str, zone: str, depth: str) -> Hole:
    d = parse(size)
    return Hole("A", "sized", d, parse(depth), True, limits_of(d, zone, None, ""))


@settings(max_examples=25)
@given(
    st.integers(6, 48).map(lambda n: n / 2),
    st.sampled_from(["H7", "H9", "H11", "H13"]),
    st.floats(0.5, 5),
    st.sampled_from(sorted(materials())),
    st.sampled_from(MACHINES),
)
def test_any_planned_hole_has_a_forecast(size: float, zone: str, deep: float, metal: str, machine: str) -> None:
    asked = hole(f"{size:g} mm", zone, f"{max(deep * size, 2):.1f} mm")
    made, known = SHOP.machine(machine), material(metal)
    for route in plan_hole(asked, SHOP, made, known).routes[:2]:
        found = forecast(route, asked, made, known, None, (), 1500)
        told = found.outcome
        for chance in (told.in_size, told.right, told.cleans_up):
            assert 0 <= chance.low <= chance.value <= chance.high <= 1
        assert told.too_small + told.too_big >= 1 - told.in_size.value - 1e-6
        for spread in told.size.values():
            assert spread.p02 <= spread.p50 <= spread.p98
            assert abs(spread.p50 - size) < 0.06 * size + 0.1
        assert len(found.profile_mm) == len(found.stray_mm) == 33
        assert 0 <= told.breaks <= 1 and told.finish_ra_um > 0 and found.finished.sd_mm > 0


def test_inches_and_millimeters_are_the_same_hole() -> None:
    made, known = SHOP.machine("knee_mill"), material("medium_carbon_steel")
    metric = hole("12.7 mm", "H8", "25.4 mm")
    inch = hole("1/2 in", "H8", "1 in")
    route = plan_hole(inch, SHOP, made, known).routes[0]
    told = [outcome(model_of(route, h, made, known), asked_of_hole(h), 4000, 1) for h in (metric, inch)]
    assert told[0] == told[1]


def test_a_wider_zone_is_easier_and_more_sure() -> None:
    made, known = SHOP.machine("knee_mill"), material("medium_carbon_steel")
    chances = []
    for zone in ("H7", "H8", "H9"):
        asked = hole("16 mm", zone, "24 mm")
        route = plan_hole(hole("16 mm", "H7", "24 mm"), SHOP, made, known).routes[0]
        chances.append(outcome(model_of(route, asked, made, known), asked_of_hole(asked), 8000, 1).in_size)
    assert chances[0].value <= chances[1].value <= chances[2].value
    assert chances[2].high - chances[2].low <= chances[0].high - chances[0].low


def test_curves_hold_their_sample() -> None:
    sample = np.random.default_rng(3).normal(10.0, 0.02, 20_000).astype(np.float32)
    found = density(sample)
    heights, sizes = np.array(found.heights), np.array(found.sizes_mm)
    assert found.mean_mm == pytest.approx(10.0, abs=1e-3) and found.sd_mm == pytest.approx(0.02, rel=0.02)
    assert sizes[heights.argmax()] == pytest.approx(10.0, abs=0.01)
    assert (heights * sizes).sum() / heights.sum() == pytest.approx(10.0, abs=1e-3)


def test_a_machine_that_is_known_is_used() -> None:
    asked, known = hole("16 mm", "H7", "24 mm"), material("medium_carbon_steel")
    lathe = SHOP.machine("bench_lathe")
    route = plan_hole(asked, SHOP, lathe, known).routes[0]
    off = replace(lathe, tailstock_offset_mm=(0.12, 0.0))
    true = replace(lathe, tailstock_offset_mm=(0.0, 0.0))

    def chance(machine: Machine) -> float:
        return outcome(model_of(route, asked, machine, known), asked_of_hole(asked), 4000, 1).in_size.value

    assert route.finisher == "ream" and chance(true) >= chance(lathe) > chance(off)
    wet, dry = replace(lathe, fluid="flood"), replace(lathe, fluid="none")
    known = material("aluminum_wrought")  # common practice: it builds up on a dry edge
    assert chance(wet) > chance(dry)
