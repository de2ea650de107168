"""Mechanism by mechanism: what each should move, which way, and what it should leave alone."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from cordwainer.core.formation.boring import bar_stiffness, passes_left
from cordwainer.core.formation.inputs import Metal, Op, Setup
from cordwainer.core.formation.outcome import FINISHES, outcome
from cordwainer.core.formation.simulate import Asked, Model, Samples

STEEL = Metal(20000, 20000, 11.7e-6, "steel", 3.0, 0.35, 1.0, 1.0, 2000)
GUMMY = Metal(7000, 7000, 23e-6, "gummy", 2.0, 0.9, 1.2, 0.9, 800)


def run(plan: list[Op], metal: Metal = STEEL, depth: float = 30.0, **fields: Any) -> Samples:
    return Model(plan, Setup(depth, metal, **fields)).run(3000, 2)


def drill(d: float, stream: int = 1, **fields: Any) -> Op:
    return Op("drill", d, stream, feed_mm=0.02 * d, **fields)


def mid(values: Any) -> float:
    return float(np.median(values))


def test_a_bar_springs_by_its_own_ratio() -> None:
    # derived: steel bar of 7 mm standing out 50 mm, 0.4 x 2000 N/mm2 at 0.10 mm: mu 0.137
    op = Op("bore", 20.0, 1, bar=7.0, projecting=50.0, passes=3, spring=0, modulus=207e3)
    mu = 0.4 * 2000 * 0.10 / bar_stiffness(op, 50.0)
    assert mu == pytest.approx(0.137, rel=0.02)
    q = mu / (1 + mu)
    error, left = passes_left(op.but(passes=1), np.array([mu]), np.array([19.0]), 20.0)
    assert error[0] == pytest.approx(-q) and left[0] == pytest.approx(q)
    _, three = passes_left(op, np.array([mu]), np.array([19.0]), 20.0)
    assert three[0] == pytest.approx(q**3)


@pytest.mark.parametrize(("modulus", "out"), [(207e3, 35.0), (207e3, 50.0), (600e3, 70.0)])
def test_stiffer_and_shorter_bars_come_nearer(modulus: float, out: float) -> None:
    start = drill(19.0)
    op = Op("bore", 20.0, 2, bar=7.0, projecting=out, modulus=modulus, passes=2, spring=0)
    short, long = run([start, op]), run([start, op.but(projecting=1.4 * out)])
    assert -0.1 < mid(long.middle_mm) - 20 < mid(short.middle_mm) - 20 < 0.002
    sprung = run([start, op.but(spring=3)])
    assert abs(mid(sprung.middle_mm) - 20) < abs(mid(short.middle_mm) - 20)
    told = run([start, op.but(compensated=True)])
    assert abs(mid(told.entry_mm) - 20) < abs(mid(short.entry_mm) - 20)


def test_a_quill_tapers_and_so_does_a_bed_off() -> None:
    start = drill(19.0)
    op = Op("bore", 20.0, 2, bar=8.0, projecting=25.0, passes=2, spring=0)
    plain, quill = run([start, op]), run([start, op.but(quill=True)])
    assert mid(quill.entry_mm - quill.exit_mm) > mid(plain.entry_mm - plain.exit_mm) + 0.005
    off = run([start, op], bed_angle=0.05)
    # geometry: 2 x 30 mm x 0.05 degrees over the whole depth
    assert mid(off.exit_mm - off.entry_mm) == pytest.approx(2 * 28.1 * np.radians(0.05), abs=0.01)


def test_hand_reaming_floats_but_flares() -> None:
    # common practice
    plan = [drill(9.7), Op("ream", 10.0, 2)]
    held = run(plan, dx=0.2)
    hand = run([plan[0], plan[1].but(by_hand=True)], dx=0.2)
    assert mid(hand.entry_mm - hand.middle_mm) < 0.4 * mid(held.entry_mm - held.middle_mm)
    assert mid(hand.entry_mm - hand.middle_mm) > 0


def test_stock_out_of_range_shows() -> None:
    # rules of record: too much is larger and rough, too little smaller and not cleaned
    def reamed(left: float) -> Samples:
        return run([drill(10.0 - left), Op("ream", 10.0, 2)])

    right, heavy, light = reamed(0.3), reamed(0.9), reamed(0.16)
    assert mid(heavy.middle_mm) > mid(right.middle_mm) and mid(heavy.ra_um) > mid(right.ra_um)
    assert mid(light.middle_mm) < mid(right.middle_mm) and mid(light.stock_mm) < mid(right.stock_mm)
    assert light.entry_mm.mean() - light.middle_mm.mean() > right.entry_mm.mean() - right.middle_mm.mean()


def test_dry_gummy_metal_builds_an_edge() -> None:
    # common practice: 10 mm reamed dry in aluminum, about 0.015 mm over
    plan = [drill(9.7), Op("ream", 10.0, 2)]
    wet, dry = run(plan, GUMMY, fluid=1.0), run(plan, GUMMY, fluid=0.0)
    assert 0.005 < mid(dry.middle_mm - wet.middle_mm) < 0.04
    steel = run(plan, STEEL, fluid=0.0)
    assert mid(steel.middle_mm) < mid(dry.middle_mm)


def test_squeezing_leaves_as_many_lobes_as_jaws() -> None:
    free, held = run([drill(20.0)]), run([drill(20.0)], squeeze=1.0, jaws=4)
    assert (free.lobes, held.lobes) == (3, 4) and mid(held.lobe_mm) > mid(free.lobe_mm)
    asked = Asked(19.9, 20.25)
    loose = outcome(Model([drill(20.0)], Setup(30.0, STEEL)), asked, 4000).in_size.value
    tight = outcome(Model([drill(20.0)], Setup(30.0, STEEL, squeeze=2.0, jaws=4)), asked, 4000).in_size.value
    assert tight <= loose


def test_other_tools_cut_as_they_should() -> None:
    # rules of record 4: spade and twist alike; common practice: core and end mill nearer to size
    d = 26.0
    by_kind = {kind: mid(run([Op(kind, d, 1, feed_mm=0.2)]).middle_mm) - d for kind in ("drill", "spade_drill")}
    assert by_kind["spade_drill"] >= by_kind["drill"] > 0
    opened = [drill(20.0)]
    twist = mid(run([*opened, drill(d, 2)]).middle_mm)
    core = mid(run([*opened, Op("core_drill", d, 2, feed_mm=0.3, flutes=4)]).middle_mm)
    assert d < core < twist
    starts = run([Op("punch", 3.0, 1), Op("face", 1.0, 3), drill(10.0, 2), Op("deburr", 1.0, 4)])
    assert starts.count == 3000 and mid(starts.middle_mm) > 10


def test_burrs_breaking_and_finish() -> None:
    sharp, dull = run([drill(6.0)]), run([drill(6.0, wear=1.0)])
    assert mid(dull.burr_mm) > 2 * mid(sharp.burr_mm) and mid(dull.ra_um) > 1.5 * mid(sharp.ra_um)
    freed = run([drill(6.0), Op("deburr", 1.0, 9)])
    assert not freed.burr_mm.any() and np.array_equal(freed.middle_mm, sharp.middle_mm)
    thin = run([Op("drill", 1.0, 1, feed_mm=0.3)], depth=12.0)
    assert thin.breaks > sharp.breaks and 0 <= sharp.breaks <= 1
    told = outcome(Model([drill(9.7), Op("ream", 10.0, 2)], Setup(30.0, STEEL)), Asked(9.9, 10.1, ra_um=1.6), 4000)
    assert told.finish_ra_um in FINISHES and told.right.value <= told.in_size.value
