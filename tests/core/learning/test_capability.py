"""Capability against published figures, brute force and its own logic."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import chi2

from cordwainer.core.learning.capability import capability


def with_figures(mean: float, spread: float, count: int) -> list[float]:
    """Sizes with exactly that mean and standard deviation."""
    raw = np.random.default_rng(3).standard_normal(count)
    raw = (raw - raw.mean()) / raw.std(ddof=1)
    return [float(v) for v in mean + spread * raw]


def test_the_published_example() -> None:
    # NIST/SEMATECH e-Handbook 6.1.6: USL 20, LSL 8, mean 16, s 2: Cp 1.0, Cpk 0.6667
    found = capability(with_figures(16, 2, 50), 8, 20)
    assert found is not None and (found.cp, found.cpk) == pytest.approx((1.0, 2 / 3))
    # 6.1.6, limits of Cp: Cp sqrt(chi2(a/2, v) / v) to Cp sqrt(chi2(1 - a/2, v) / v)
    assert (found.cp_low, found.cp_high) == pytest.approx(
        ((chi2.ppf(0.025, 49) / 49) ** 0.5, (chi2.ppf(0.975, 49) / 49) ** 0.5)
    )
    # 6.1.6, approximate limits of Cpk: Cpk ± z sqrt(1/(9n) + Cpk²/(2(n-1)))
    assert found.cpk_high - found.cpk == pytest.approx(1.959964 * (1 / 450 + (4 / 9) / 98) ** 0.5)
    assert found.word == "fails"


def test_limits_hold_the_truth_about_as_often_as_they_say() -> None:
    # Brute force: true Cp 1.25, Cpk 1.0; the approximation of Cpk is a little narrow for few holes.
    luck, held_cp, held_cpk, rounds = np.random.default_rng(11), 0, 0, 1500
    for _ in range(rounds):
        found = capability(list(luck.normal(20.012, 0.0028, 20)), 20.0, 20.021)
        assert found is not None
        held_cp += found.cp_low <= 0.021 / (6 * 0.0028) <= found.cp_high
        held_cpk += found.cpk_low <= 0.009 / (3 * 0.0028) <= found.cpk_high
    assert held_cp / rounds == pytest.approx(0.95, abs=0.02)
    assert held_cpk / rounds == pytest.approx(0.95, abs=0.03)


@given(st.lists(st.floats(19.9, 20.1), min_size=5, max_size=40), st.floats(0.001, 1000))
def test_the_unit_does_not_matter_and_cpk_is_never_above_cp(sizes: list[float], factor: float) -> None:
    found = capability(sizes, 20.0, 20.021)
    if found is None or found.spread < 1e-9:
        return
    assert found.cpk <= found.cp + 1e-9 and found.cp_low < found.cp < found.cp_high
    other = capability([s * factor for s in sizes], 20.0 * factor, 20.021 * factor)
    assert other is not None and other.cpk == pytest.approx(found.cpk, rel=1e-6, abs=1e-6)


def test_too_few_or_all_alike_say_nothing() -> None:
    assert capability([20.01] * 4, 20, 20.021) is None and capability([20.01] * 9, 20, 20.021) is None
    many = capability(with_figures(20.0105, 0.001, 60), 20.0, 20.021)
    few = capability(with_figures(20.0105, 0.003, 6), 20.0, 20.021)
    assert many is not None and few is not None and (many.word, few.word) == ("holds", "unsure")
