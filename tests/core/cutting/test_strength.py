"""What a drill stands, chip room, metal taken, deep holes."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.strength import (
    buckling_free_n,
    buckling_held_n,
    deep_entry,
    flute_room_mm,
    metal_cm3_min,
    side_stiffness,
    spade_feed,
    tap_torque_nm,
    torsion_limit_nm,
)


def test_bending_buckling_twisting() -> None:
    # beam and column theory; sections assumed: 10 mm drill standing out 80 mm
    assert side_stiffness(10, 80) == pytest.approx(211.40, rel=1e-4)
    assert buckling_held_n(10, 80) == pytest.approx(113837, rel=1e-4)
    assert buckling_free_n(10, 80) == pytest.approx(113837 * 0.25 / 2.046, rel=1e-4)
    assert torsion_limit_nm(10) == pytest.approx(58.905, rel=1e-4)


def test_metal_taken() -> None:
    # arithmetic: 1.5 in at 3.937 in a minute takes 6.96 cubic inches
    assert metal_cm3_min(1.5 * 25.4, 0, 3.937 * 25.4 / 100, 100) / 16.387 == pytest.approx(6.96, abs=0.02)


def test_room_for_chips() -> None:
    # common practice: 2 d above the hole; a 12 d hole needs at least 14 d of flute
    d = 5.0
    assert flute_room_mm(14 * d, 12 * d, 0) == pytest.approx(2 * d)


def test_deep_holes_are_entered_slowly_behind_a_pilot() -> None:
    # common practice: over 8 d a pilot 1.5 d deep, entry at 300 to 500 rev/min
    entry = deep_entry(49, 6)
    assert entry is not None and (entry.pilot_mm, entry.rpm_low, entry.rpm_high) == (9, 300, 500)
    assert deep_entry(48, 6) is None
    twelve = deep_entry(12 * 4.064, 4.064)
    assert twelve is not None
    assert twelve.pilot_mm == pytest.approx(6.096)


def test_spade_feeds_and_taps() -> None:
    # common practice: feed up until chips break, 0.36 to 0.50 mm/rev (0.014 to 0.0197 in)
    found = spade_feed(38.1)
    assert found is not None and found[1] / 25.4 == pytest.approx(0.0197, abs=1e-4)
    assert spade_feed(20) is None and 3 < tap_torque_nm(10, 1.5, 2000) < 10


@given(st.floats(0.5, 50), st.floats(1.05, 3), st.floats(10, 400))
def test_longer_is_weaker_thicker_is_stronger(d: float, more: float, out: float) -> None:
    assert side_stiffness(d, out * more) < side_stiffness(d, out) < side_stiffness(d * more, out)
    assert buckling_free_n(d, out) < buckling_held_n(d, out) < buckling_held_n(d, out / more)
    assert torsion_limit_nm(d * more) / torsion_limit_nm(d) == pytest.approx(more**3)
