"""Patterns of holes and what is left between them."""

from __future__ import annotations

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.part.layout import bolt_circle, nearest, nearest_edge, row


@given(
    st.integers(1, 60), st.floats(1, 500), st.floats(0, 360), st.tuples(st.floats(-200, 200), st.floats(-200, 200))
)
def test_a_bolt_circle_is_even_and_round(
    count: int, across: float, first: float, center: tuple[float, float]
) -> None:
    places = bolt_circle(center, across, count, first)
    assert len(places) == count
    for x, y in places:
        assert math.hypot(x - center[0], y - center[1]) == pytest.approx(across / 2)
    if count > 1:
        chord = across * math.sin(math.pi / count)  # handbook: chord of equally spaced holes
        for a, b in zip(places, [*places[1:], places[0]], strict=True):
            assert math.dist(a, b) == pytest.approx(chord, abs=1e-6)


def test_six_on_a_circle_stand_their_radius_apart() -> None:
    # Arithmetic: the chord of six equal spaces is the radius.
    places = bolt_circle((40, 40), 50, 6, 90)
    assert math.dist(places[0], places[1]) == pytest.approx(25) and places[0] == (
        pytest.approx(40),
        pytest.approx(65),
    )
    assert row((5, 5), (0, 12), 3) == ((5, 5), (5, 17), (5, 29))
    for bad in (0, 100_000):
        with pytest.raises(InputError, match="number of holes"):
            row((0, 0), (1, 0), bad)
    with pytest.raises(InputError, match="above zero"):
        bolt_circle((0, 0), -3, 4)


@settings(max_examples=60)
@given(st.integers(0, 10**6))
def test_the_nearest_hole_is_the_one_brute_force_finds(seed: int) -> None:
    draw = random.Random(seed)
    groups = [
        [
            (draw.uniform(0, 90), draw.choice([draw.uniform(0, 4), draw.uniform(0, 300)]))
            for _ in range(draw.randint(1, 12))
        ]
        for _ in range(draw.randint(1, 6))
    ]
    sizes = [draw.uniform(1, 12) for _ in groups]
    found = nearest(groups, sizes)
    flat = [(h, p, place) for h, group in enumerate(groups) for p, place in enumerate(group)]
    for h, p, place in flat:
        others = [
            math.dist(place, other) - (sizes[h] + sizes[oh]) / 2 for oh, op, other in flat if (oh, op) != (h, p)
        ]
        neighbor = found[h][p]
        if not others:
            assert neighbor is None
            continue
        assert neighbor is not None and neighbor.metal_mm == pytest.approx(min(others))
        assert neighbor.apart_mm == pytest.approx(neighbor.metal_mm + (sizes[h] + sizes[neighbor.hole]) / 2)


def test_metal_to_the_edge() -> None:
    edge, open_ = nearest_edge((6, 20), 8, (60, 40)), nearest_edge((58, 20), 8, (60, 40))
    assert (edge.name, edge.metal_mm, open_.name, open_.metal_mm) == ("left", 2, "right", -2)
