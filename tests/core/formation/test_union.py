"""Where a cut leaves old wall: the union of circles against brute force, and bounds against the whole."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.formation.hole import Holes, Plan
from cordwainer.core.formation.inputs import Metal, Op, Setup
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.formation.simulate import Model
from cordwainer.core.lengths import parse
from cordwainer.core.shop.makers import twist_drill

STEEL = Metal(20000, 20000, 11.7e-6, "steel", 3.0, 0.35, 1.0, 1.0, 2000)
N = 6


def two_cuts(first: float, second: float, apart: float) -> Holes:
    """Two straight cuts whose middles stand so far apart."""
    plan = Plan(5)
    rows = np.ones(5, bool)
    ones = np.ones((5, 1), np.float32)
    frames = [plan.add(rows, ones, ones, None), plan.add(rows, ones, ones, None)]
    zero = np.zeros(N, np.float32)
    holes = Holes(N, plan, zero, zero)
    for frame, size, x in ((frames[0], first, 0.0), (frames[1], second, apart)):
        numbers = np.full((1, N), np.float32(size))
        across, up = holes.room(frame)
        across[:], up[:] = x, 0.0
        holes.cut(frame, numbers)
    return holes


def widest(first: float, second: float, apart: float) -> float:
    """The union's width along the line of both middles, by brute force over points of both circles."""
    turn = np.linspace(0, 2 * np.pi, 20_001)
    x = np.concatenate([first / 2 * np.cos(turn), apart + second / 2 * np.cos(turn)])
    return float(x.max() - x.min())


@given(st.floats(5, 20), st.floats(5, 20), st.floats(0, 2))
def test_width_of_the_union(first: float, second: float, apart: float) -> None:
    holes = two_cuts(first, second, apart)
    d = holes.diameter()
    oval = holes.oval if holes.oval is not None else np.zeros(N)
    if abs(first + 2 * apart - second) < 1e-4:  # less than single precision tells apart
        return
    clean = first + 2 * apart <= second
    if clean:
        assert d[0, 0] == pytest.approx(second, rel=1e-6) and not oval.any()
    else:
        assert d.min() == pytest.approx(max(first, second), rel=1e-6)
        expected = max(widest(first, second, apart), max(first, second))
        inside = abs(first - second) / 2 >= apart and first > second
        assert d[0, 0] + oval[0] == pytest.approx(first if inside else expected, abs=1e-3)
        assert holes.unclean is not None and holes.unclean.min() == pytest.approx(1.0)


@settings(max_examples=20)
@given(st.floats(4, 20), st.floats(0.01, 1.0), st.booleans(), st.integers(0, 5))
def test_bounds_never_miss_an_old_wall(d: float, stock: float, turning: bool, seed: int) -> None:
    """What is skipped as surely cut clean is clean when written out."""
    plan = [Op("drill", d, 1, feed_mm=0.1), Op("ream", d + stock, 2)]
    setup = Setup(2 * d, STEEL, rotating_work=turning)
    drilled, reamed = Model(plan[:1], setup).run(800, seed), Model(plan, setup).run(800, seed)
    clean = reamed.unclean == 0
    assert (reamed.sizes[:, clean] >= drilled.sizes[:, clean] - 1e-4).all()
    assert (reamed.sizes >= drilled.sizes - 1e-4).all()
    dirty = ~clean
    if dirty.any():
        assert (reamed.oval_mm[dirty] >= -1e-6).all() and (reamed.ra_um[dirty] > 0).all()


def test_a_short_pilot_leaves_two_stretches() -> None:
    setup = Setup(40.0, STEEL, pos_sd=0.0, rep_sd=0.0)
    pilot = Op("drill", 6.0, 1, depth=12.0, feed_mm=0.1)
    short = Model([pilot, Op("drill", 10.0, 2, feed_mm=0.15)], setup).run(2000, 1)
    whole = Model([pilot.but(depth=None), Op("drill", 10.0, 2, feed_mm=0.15)], setup).run(2000, 1)
    assert np.median(short.entry_mm) == pytest.approx(float(np.median(whole.entry_mm)), abs=0.02)
    assert np.median(short.exit_mm) > np.median(whole.exit_mm) + 0.02  # from solid below the pilot
    blind = Model([pilot], setup).run(2000, 1)
    assert (blind.sizes[12:] == 0).all() and (blind.sizes[:9] > 5.9).all()
    assert blind.exit_mm.min() > 5.9 and blind.least_mm.min() > 5.9


@pytest.mark.parametrize("size", ["2 mm", "6.8 mm", "1/2 in", "20 mm"])
@pytest.mark.parametrize("pilot", [0.0, 0.4])
def test_the_closed_form_and_the_samples_agree(size: str, pilot: float) -> None:
    """The planner's expected hole is the model's mean without faults, from solid and behind a pilot."""
    tool = twist_drill(parse(size))
    d = tool.diameter_mm
    plan = [Op("drill", d, 2, feed_mm=0.02 * d)]
    if pilot:
        plan.insert(0, Op("drill", pilot * d, 1, feed_mm=0.02 * d))
    gentle = Metal(20000, 20000, 11.7e-6, "steel", 4.0, 0.0, 1.0, 1.0, 2000)
    found = Model(plan, Setup(2 * d, gentle, pos_sd=0.0, rep_sd=0.0)).run(10_000, 2)
    over = float(found.sizes.mean() - d)
    assert over == pytest.approx(expected_drilled(tool, pilot * d).mean_mm - d, rel=0.12)
