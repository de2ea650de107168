"""Marking out: circles found again, chords that close, words a machinist scribes by."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.part.layout import bolt_circle, row
from cordwainer.core.part.marking import circle_of, marking_steps


@given(
    st.tuples(st.floats(-200, 200), st.floats(-200, 200)), st.floats(2, 400), st.integers(3, 36), st.floats(0, 359)
)
def test_a_bolt_circle_is_found_again_and_its_chord_closes(
    center: tuple[float, float], across: float, count: int, first: float
) -> None:
    places = bolt_circle(center, across, count, first)
    found = circle_of(places)
    assert found is not None and found.count == count
    assert found.center == pytest.approx(center, abs=1e-6) and found.radius_mm == pytest.approx(across / 2)
    assert math.dist(places[0], places[1]) == pytest.approx(found.chord_mm)
    moved = [(places[0][0] + 0.2, places[0][1]), *places[1:]]
    assert circle_of(moved) is None


def test_steps_name_every_line_once_and_the_punch() -> None:
    steps = " ".join(marking_steps([(12, 8), (30, 8), (30, 40)], 6.6, "mm", "1/4 in"))
    assert "scribe 12.00, 30.00." in steps and "scribe 8.00, 40.00." in steps
    assert "Ø6.60" in steps and "1/4 in transfer punch" in steps and "Dividers" not in steps
    ring = " ".join(marking_steps(bolt_circle((25.4, 25.4), 50.8, 6), 6.35, "in"))
    # A six-hole circle is stepped with its own radius (textbook geometry).
    assert "circle, Ø2.000" in ring and ring.count("Dividers at 1.000") == 2 and "transfer" not in ring
    long = " ".join(marking_steps(row((5, 5), (5, 0), 40), 3, "mm"))
    assert "and 28 more" in long
    assert marking_steps([], 3, "mm") == ()
