"""Fits in plain words."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.part.fit import holes_for, shafts_for
from cordwainer.core.part.tolerance import Limits


def test_published_fits() -> None:
    shafts = {fit.id: fit for fit in shafts_for(Fraction(25))}
    # ISO 286-1, worked fits 25 H7/g6 and the like
    assert (shafts["sliding"].least_mm * 1000, shafts["sliding"].most_mm * 1000) == (7, 41)
    assert (shafts["locating"].least_mm * 1000, shafts["locating"].most_mm * 1000) == (0, 34)
    assert (shafts["press"].least_mm * 1000, shafts["press"].most_mm * 1000) == (-48, -14)
    kinds = [fit.kind for fit in shafts_for(Fraction(25))]
    assert kinds == ["clearance", "clearance", "clearance", "transition", "interference"]


@given(st.integers(1, 500))
def test_fits_grow_tighter_in_both_systems(size: int) -> None:
    for fits in (holes_for(Fraction(size)), shafts_for(Fraction(size))):
        assert [f.id for f in fits] == ["running", "sliding", "locating", "light_press", "press"]
        middles = [f.least_mm + f.most_mm for f in fits]
        assert middles == sorted(middles, reverse=True)
        assert all(f.least_mm < f.most_mm for f in fits)


def test_a_pin_that_was_measured() -> None:
    pin = Limits(Fraction("24.99"), Fraction("24.99"))
    sliding = next(f for f in holes_for(Fraction(25), pin) if f.id == "sliding")
    assert (sliding.least_mm * 1000, sliding.most_mm * 1000) == (17, 38)
    press = next(f for f in holes_for(Fraction(25), pin) if f.id == "press")
    assert press.kind == "interference" and press.most_mm * 1000 == -17
