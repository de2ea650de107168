"""Beliefs against brute force, and what a drill's history does to the next plan."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.formation.oversize import expected_drilled, survey_oversize
from cordwainer.core.learning.oversize import Belief, HoleCut, Normal, believe, prior, share, with_belief
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps.learned import learned_words
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.material import material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from tests.core.planning.test_kinds import CATALOG, asked


def drill(name: str = "9.7 mm") -> Tool:
    """A drill of the catalog."""
    return next(t for t in CATALOG.of_kind("drill") if t.designation == name and t.series == "jobber")


def grid(law: Normal, shares: list[float], weights: list[float]) -> tuple[float, float]:
    """Mean of the share and expected variance by integrating the weighted posterior on a grid."""
    means = np.linspace(-2, 5, 1401)[:, None]
    variances = np.geomspace(1e-4, 60, 1600)[None, :]
    log = -(law.shape + 1.5) * np.log(variances) - law.scale / variances
    log = log - law.worth * (means - law.mean) ** 2 / (2 * variances)
    for z, w in zip(shares, weights, strict=True):
        log = log + w * (-0.5 * np.log(variances) - (z - means) ** 2 / (2 * variances))
    density = np.exp(log - log.max()) * variances  # the grid is even in the logarithm
    total = density.sum()
    return float((density * means).sum() / total), float((density * variances).sum() / total)


@pytest.mark.parametrize(
    ("shares", "weights"),
    [([1.4] * 12, [1.0] * 12), ([0.2, 0.9, 1.6, 2.4], [1.0, 1.0, 0.5, 0.15]), ([1.5], [1.0]), ([], [])],
)
def test_the_update_is_what_integration_gives(shares: list[float], weights: list[float]) -> None:
    law = prior().after(shares, weights)
    mean, variance = grid(prior(), shares, weights)
    assert law.mean == pytest.approx(mean, abs=2e-3)
    assert law.variance == pytest.approx(variance, rel=0.02)


@given(st.lists(st.floats(-1, 3), min_size=1, max_size=12), st.permutations(range(12)))
def test_the_order_of_holes_does_not_matter_and_one_by_one_is_all_at_once(
    shares: list[float], order: list[int]
) -> None:
    whole = prior().after(shares, [1.0] * len(shares))
    step = prior()
    for place in order:
        if place < len(shares):
            step = step.after([shares[place]], [1.0])
    for one, other in zip(
        (whole.mean, whole.worth, whole.shape, whole.scale),
        (step.mean, step.worth, step.shape, step.scale),
        strict=True,
    ):
        assert one == pytest.approx(other, rel=1e-9, abs=1e-9)


def holes(mean: float, sd: float, count: int = 12, **more: object) -> list[HoleCut]:
    """Holes of that mean and spread over the drill's size."""
    z = np.random.default_rng(3).standard_normal(count)
    z = (z - z.mean()) / z.std()
    return [HoleCut(mean + sd * float(k), **more) for k in z]


def test_a_drill_that_cuts_far_over_is_expected_to_and_one_that_does_not_is_not() -> None:
    usual = float(survey_oversize(9.7)[1])
    far, near = believe(drill(), holes(0.17, 0.01)), believe(drill(), holes(0.11, 0.01))
    assert far.mean == pytest.approx(0.17 / usual, rel=0.03) and far.mean > 1.4
    assert near.mean == pytest.approx(1.0, abs=0.05)
    learned = replace(drill(), oversize_factor=far.mean)
    assert expected_drilled(learned).mean_mm == pytest.approx(9.7 + 0.17, abs=0.005)
    assert believe(drill(), []).mean == 1.0 and not believe(drill(), []).known
    behind = believe(drill(), [HoleCut(0.4 * 0.17, previous_mm=3.0)] * 12)  # rules of record 4: 0.4 behind a pilot
    assert behind.mean == pytest.approx(far.mean, abs=0.01)


def test_a_regrind_widens_the_belief_again_and_another_metal_counts_half() -> None:
    before = believe(drill(), holes(0.17, 0.01))
    after = believe(drill(), holes(0.17, 0.01), grinds=1)
    twice = believe(drill(), holes(0.17, 0.01), grinds=2)
    assert before.sd_of_mean < after.sd_of_mean < twice.sd_of_mean
    assert 1.0 < twice.mean < after.mean < before.mean and after.holes == 12 and after.weight < 2
    other = believe(drill(), holes(0.17, 0.01, material="aluminum"), "mild_steel")
    own = believe(drill(), holes(0.17, 0.01, material="mild_steel"), "mild_steel")
    assert other.weight == pytest.approx(6) and 1 < other.mean < own.mean


def test_what_cannot_be_an_oversize_is_not_learned_from() -> None:
    assert share(drill(), HoleCut(9.0)) is None  # inches read as millimeters
    assert believe(drill(), [HoleCut(0.115), HoleCut(9.0), HoleCut(-4.0)]).holes == 1
    reamer = next(t for t in CATALOG.of_kind("reamer") if t.designation == "10 mm")
    assert not believe(reamer, [HoleCut(0.012)] * 8).known  # over its name is no oversize of a reamer


def crib(belief: Belief) -> Shop:
    """The catalog with a 9.7 drill of that history."""
    own = with_belief(drill(), belief)
    return replace(CATALOG, tools=tuple(own if t.id == own.id else t for t in CATALOG.tools))


def undersize(shop: Shop) -> Operation:
    """The drill under the reamer of a 10 H7 hole made from solid."""
    hole = asked(kind="sized", diameter="10 mm", tolerance="H7", depth="20 mm", through=True)
    lathe, steel = shop.machine("bench_lathe"), material("medium_carbon_steel")
    routes = plan_hole(hole, shop, lathe, steel, Practice(pilot="straight", finish="ream")).routes
    reamed = next(r for r in routes if r.finisher == "ream")
    drills = [o for o in reamed.operations if o.kind == "drill"]
    assert len(drills) == 1
    return drills[0]


def test_the_next_plan_leans_on_what_the_drill_has_cut_and_says_so() -> None:
    plain = undersize(CATALOG)
    assert plain.diameter_mm == 9.7  # rules of record 5: 10 H7 from solid
    usual = undersize(crib(believe(drill(), holes(0.11, 0.01))))
    assert usual.diameter_mm == 9.7
    assert any("+0.110 mm in 12 holes: the plan counts on it" in text for text in usual.because)
    far = undersize(crib(believe(drill(), holes(0.17, 0.01))))
    assert (far.diameter_mm or 0) < 9.7
    assert any("9.7 mm has cut +0.170 mm in 12 holes" in text and "passed over" in text for text in far.because)
    ground = believe(drill(), holes(0.17, 0.01), grinds=1)
    assert believe(drill(), holes(0.17, 0.01)).sd_of_mean < ground.sd_of_mean
    assert "too few yet" in learned_words(with_belief(drill(), ground), "mm")
    assert learned_words(drill(), "mm") == ""
    inch = learned_words(with_belief(drill(), Belief(1.5, 0.1, 0.1, 1, 9, 0.17)), "in")
    assert "+.0067 in in 1 hole:" in inch
