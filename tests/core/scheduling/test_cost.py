"""Cost of a hole over how many are made: closed forms, break-even by hand and by brute force, spread."""

from __future__ import annotations

from dataclasses import replace
from math import ceil, inf

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.scheduling.cost import (
    Drilling,
    break_even,
    cost_per_hole,
    drillings,
    first_lot,
    in_the_long_run,
    pays_from,
    spread_of,
)
from cordwainer.core.shop.machines import machines
from cordwainer.core.shop.material import materials

CHEAP = Drilling("hss", "", 10.0, 100.0)
FIGURES = st.builds(
    Drilling, st.just("x"), st.just(""), st.floats(0, 300), st.integers(1, 2000).map(float), st.integers(0, 8),
    st.floats(0, 20), st.floats(0, 5), st.floats(0, 100), st.just(2.0), st.floats(0, 2),
)  # fmt: skip


# common practice: carbide at ten times the price, ten to twenty times the holes
def test_ten_times_price_and_life_is_even_and_twenty_times_life_half() -> None:
    even, twice = Drilling("carbide", "", 100.0, 1000.0), Drilling("carbide", "", 100.0, 2000.0)
    assert in_the_long_run(even, 0.0) == pytest.approx(in_the_long_run(CHEAP, 0.0))
    assert in_the_long_run(twice, 0.0) == pytest.approx(in_the_long_run(CHEAP, 0.0) / 2)
    assert break_even(CHEAP, even, 0.0) is None and first_lot(CHEAP, even, 0.0) == inf


def test_break_even_by_algebra() -> None:
    dear = Drilling("carbide", "", 100.0, 1e9, minutes=0.5)
    slow = Drilling("hss", "", 10.0, 1e9, minutes=1.5)
    # derived: 90 more at once, one minute at 60 an hour saved a hole: 90 holes
    assert first_lot(slow, dear, 60.0) == pytest.approx(90.0, rel=1e-4)
    assert break_even(slow, dear, 60.0) == 90
    assert pays_from(90.0, 1.0, 60.0) == 90


def by_hand(d: Drilling, n: int, rate: float) -> float:
    """The cost of a lot of n, drill by drill and grind by grind."""
    total, left, grinds = d.body, n, 0
    while left > 0:
        total += d.price if grinds % (d.regrinds + 1) == 0 else d.regrind
        total += (d.change_minutes * rate / 60) if grinds else 0.0
        grinds += 1
        left -= int(d.holes)
    return (total + n * d.minutes * rate / 60) / n


@given(FIGURES, st.integers(1, 5000), st.floats(0, 120))
def test_cost_is_that_of_drills_and_grinds_counted_one_by_one(d: Drilling, n: int, rate: float) -> None:
    assert float(cost_per_hole(d, n, rate)) == pytest.approx(by_hand(d, n, rate), rel=1e-9, abs=1e-9)


@given(FIGURES, FIGURES, st.floats(0, 120))
def test_break_even_is_where_the_dear_one_is_never_dearer_again(
    cheap: Drilling, dear: Drilling, rate: float
) -> None:
    most = 3000
    assume(in_the_long_run(dear, rate) < in_the_long_run(cheap, rate) - 1e-6)
    found = break_even(cheap, dear, rate, most)
    n = np.arange(1, most + 1)
    over = cost_per_hole(dear, n, rate) > cost_per_hole(cheap, n, rate) + 1e-12
    brute = (int(n[np.flatnonzero(over)[-1]]) + 1 if over.any() else 1) if not over[-1] else None
    if found is not None and found * 50 < most:
        assert found == brute or (brute or 0) > 50 * found
    else:
        assert found == brute


def test_the_spread_of_lives_is_said() -> None:
    dear = replace(CHEAP, price=100.0, holes=1500.0, spread=2.0)
    cheap = replace(CHEAP, spread=2.0)
    soon, late = spread_of(cheap, dear, 0.0)
    middle = break_even(cheap, dear, 0.0)
    assert soon is not None and middle is not None and soon < middle and (late is None or late > middle)


def test_kinds_to_be_had_at_a_size_and_own_figures() -> None:
    steel, lathe = materials()["medium_carbon_steel"], machines()[0]
    small = {d.kind: d for d in drillings(8.0, 24.0, steel, lathe)}
    assert set(small) == {"hss", "cobalt", "carbide"}
    # common practice: carbide about ten times the price, ten to twenty times the holes
    assert 8 <= small["carbide"].price / small["hss"].price <= 12
    assert 10 <= small["carbide"].holes / small["hss"].holes <= 20
    assert small["carbide"].minutes < small["hss"].minutes
    big = {d.kind for d in drillings(38.0, 170.0, steel, machines()[1])}
    assert {"insert", "spade", "hss"} <= big
    own = drillings(8.0, 24.0, steel, lathe, {"hss": {"price": 3.5, "holes": 40}})[0]
    assert own.price == 3.5 and own.holes == 40 and own.regrinds == small["hss"].regrinds
    soft = drillings(8.0, 24.0, materials()["aluminum_wrought"], lathe)[0]
    assert soft.holes == pytest.approx(4 * small["hss"].holes, rel=0.01)
    assert small["hss"].holes == ceil(6000 / 24)


@pytest.mark.parametrize(
    "bad", [{"price": -1.0}, {"holes": 0.0}, {"regrinds": -1}, {"minutes": float("nan")}, {"body": inf}]
)
def test_impossible_figures_are_refused(bad: dict[str, float]) -> None:
    with pytest.raises(InputError):
        replace(CHEAP, **bad)
