"""Charts of single holes: a published example, signals where they are put, nothing where nothing is."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.learning.chart import individuals

# NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2, flow rate of ten batches
FLOW = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1]


def test_the_published_example() -> None:
    found = individuals(FLOW)
    assert found is not None and found.steady
    assert (found.lower, found.center, found.upper) == pytest.approx((45.8159, 50.81, 55.8041), abs=1e-4)


def test_a_hole_that_stands_out_and_a_tool_that_wears() -> None:
    alike = [0.10, 0.12] * 8
    found = individuals([*alike, 0.30])
    assert found is not None and found.beyond == (16,)
    worn = individuals([*alike[:10], *(v + 0.02 for v in alike[:10])])
    assert worn is not None and len(worn.run) >= 8
    assert individuals(alike[:7]) is None


@given(st.lists(st.integers(-50, 50), min_size=8, max_size=40), st.integers(-9, 9), st.sampled_from([0.5, 2, 4]))
def test_a_chart_moves_and_scales_with_its_values(values: list[int], shift: int, scale: float) -> None:
    one, other = individuals(values), individuals([v * scale + shift for v in values])
    assert one is not None and other is not None
    assert (other.center, other.upper) == pytest.approx((one.center * scale + shift, one.upper * scale + shift))
    assert one.lower <= one.center <= one.upper


def test_steady_holes_seldom_stand_out() -> None:
    # Three spreads either way leave 0.27 % of normal values outside: a property of the normal distribution.
    draws = np.random.default_rng(5).normal(size=(400, 50))
    charts = [individuals(list(row)) for row in draws]
    outside = sum(len(chart.beyond) for chart in charts if chart) / draws.size
    assert 0.001 < outside < 0.006
