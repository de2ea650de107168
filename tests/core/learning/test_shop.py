"""The shop learned as a whole: nothing without holes, as sure as it says, soon found where it differs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from cordwainer.core.formation.draws import any_shop
from cordwainer.core.learning.shop import after, learned
from cordwainer.core.planning.model.forecast import forecast, stated
from cordwainer.core.planning.model.forward import model_of
from cordwainer.core.shop.shop_law import ShopLaw
from cordwainer.core.training.settings import planned
from tests.scripts import script

made_up = script("run_shop_learning")


def reamed(law: ShopLaw | None, setting: str = "arm_pin") -> np.ndarray:
    """Sizes half way down of holes of a setting in a shop."""
    found = planned(setting)
    machine = replace(found.machine, law=law)
    return model_of(found.route, found.hole, machine, found.material, None, (), 5000).run(5000, 1).middle_mm


def test_without_holes_every_figure_is_what_it_was() -> None:
    assert learned([]) is None
    assert np.array_equal(reamed(any_shop()), reamed(None))


def test_a_shop_that_reams_three_micrometers_over_is_found_within_twelve_holes() -> None:
    usual = float(np.median(reamed(None)))
    moved = []
    for seed in range(6):
        law = learned([made_up.cut("arm_pin", made_up.shop(0, ("arm_pin",), usual=True), 12, seed, 0.003)], seed)
        assert law is not None and law.holes == 12 and reamed(law).std() < 0.6 * reamed(None).std()
        moved.append(float(np.median(reamed(law))) - usual)
    # All readings of a shop may be off together, so no twelve holes move it the whole way.
    assert np.mean(moved) == pytest.approx(0.003, abs=0.0007) and min(moved) > 0.0018
    # Over three reamers it is laid to the shop as well as to them: another reamer is expected over, too.
    settings = ("bush_bronze", "plate_guide", "lever_eye")
    usual_shop = made_up.shop(0, settings, usual=True)
    law = learned([made_up.cut(name, usual_shop, 4, k, 0.003) for k, name in enumerate(settings)])
    assert law is not None and float(np.median(reamed(law))) - usual > 0.0003


def test_the_band_becomes_this_shops() -> None:
    found = planned("arm_pin")
    at = (found.route, found.hole, found.machine, found.material)
    any_shops = stated(*at)
    truth = made_up.shop(5, ("arm_pin",), usual=True)
    law = learned([made_up.cut("arm_pin", truth, 40, 5)])
    own = stated(*at[:2], replace(found.machine, law=law), found.material)
    assert any_shops is not None and own is not None and any_shops.right.holes == 0 and own.right.holes == 40
    assert own.right.high - own.right.low < 0.7 * (any_shops.right.high - any_shops.right.low)
    whole = forecast(*at[:2], replace(found.machine, law=law), found.material)
    assert whole is not None and whole.outcome.right == own.right


def test_the_truth_lies_in_what_is_believed_as_often_as_it_should() -> None:
    every = [made_up.places(seed) for seed in range(60)]
    sure = {name: float(np.mean([found[name][1] for found in every])) for name in every[0]}
    assert sure["k_bell"] < 0.85 and sure["r_shop"] < 0.95 and sure["k_slope"] == 1.0
    for name in (name for name, sd in sure.items() if sd < 0.999):
        # Chi-square of nine degrees is over 27.9 once in a thousand.
        assert made_up.uneven([found[name][0] for found in every]) < 27.9 / 9, name


def test_a_hole_that_is_no_hole_of_this_plan_hardly_counts() -> None:
    truth = made_up.shop(3, ("arm_pin",), usual=True)
    good = made_up.cut("arm_pin", truth, 12, 3)
    bad = replace(good, sizes_mm=(*good.sizes_mm[:-1], tuple(size + 0.3 for size in good.sizes_mm[-1])))
    sizes = [float(np.median(reamed(learned([group])))) for group in (good, bad)]
    assert sizes[1] == pytest.approx(sizes[0], abs=0.0008)


def test_what_counts_for_less_moves_less_and_the_same_holes_give_the_same() -> None:
    truth = made_up.shop(4, ("arm_pin",), usual=True)
    group = made_up.cut("arm_pin", truth, 3, 4, 0.003)
    whole, part = (after(any_shop(), replace(group, weights=(w,) * 3)) for w in (1.0, 0.25))
    assert whole.same(after(any_shop(), group)) and whole.worth == 3 and part.worth == 0.75
    moved = [float(np.median(reamed(law))) for law in (None, part, whole)]
    assert moved[0] < moved[1] < moved[2]


def test_a_drilled_size_belongs_to_the_drill_and_one_size_alone_teaches_nothing() -> None:
    truth = made_up.shop(1, ("spindle_core",), usual=True)
    group = made_up.cut("spindle_core", truth, 8, 1)
    over = replace(group, sizes_mm=tuple(tuple(size + 0.02 for size in row) for row in group.sizes_mm))
    one, other = learned([group]), learned([over])
    assert one is not None and other is not None and np.allclose(one.mean, other.mean)
    alone = replace(group, depths_mm=group.depths_mm[1:2], sizes_mm=tuple(row[1:2] for row in group.sizes_mm))
    assert learned([alone]) is None
