"""Is what is learned of a shop as sure as it says? Made-up shops, each learned from holes of its own (SBC).

Simulation-based calibration (Talts et al., 2018): constants drawn as the model draws them, holes cut and
measured in that shop, learned from; over many shops the place of the truth in what is believed of it is uniform.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

import numpy as np

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.draws import any_shop
from cordwainer.core.learning.shop import Alike, learned
from cordwainer.core.planning.model.forward import model_of
from cordwainer.core.shop.shop_law import ShopLaw
from cordwainer.core.training.settings import planned

SETTINGS = ("arm_pin", "spindle_core", "lever_eye", "housing_bore", "plate_guide")
GAUGE_MM, SHARED_MM = 0.0015, 0.0007
WHERE = (0.15, 0.5, 0.85)


def shop(seed: int, settings: tuple[str, ...] = SETTINGS, *, usual: bool = False) -> ShopLaw:
    """A made-up shop, all of it known; with `usual` every constant at its median."""
    law = any_shop()
    for name in settings:
        for operation in planned(name).route.operations:
            if operation.kind == "ream" and operation.tool is not None:
                law = law.with_reamer(operation.tool.id)
    count = len(law.names)
    mean = np.zeros(count) if usual else np.random.default_rng([seed, 99]).normal(size=count)
    return ShopLaw(law.names, mean, np.zeros((count, count)))


def cut(setting: str, truth: ShopLaw, holes: int, seed: int, over_mm: float = 0.0) -> Alike:
    """Holes of a setting cut in that shop, `over_mm` larger throughout, and measured at three depths."""
    found = planned(setting)
    model = model_of(found.route, found.hole, replace(found.machine, law=truth), found.material, None, (), holes)
    sizes = model.run(holes, seed).sizes.astype(float)
    depths = tuple(share * found.hole.depth_mm for share in WHERE)
    stations = np.linspace(0, found.hole.depth_mm, len(sizes))
    came = np.array([[np.interp(depth, stations, one) for depth in depths] for one in sizes.T])
    luck = np.random.default_rng(seed)
    came += luck.normal(over_mm, GAUGE_MM, came.shape) + luck.normal(0, SHARED_MM, (1, len(depths)))
    rows = tuple(tuple(row) for row in came.tolist())
    return Alike(found.route, found.hole, found.machine, found.material, depths, rows, (1.0,) * holes, GAUGE_MM)


def places(seed: int) -> dict[str, tuple[float, float]]:
    """Of every constant and reamer: the place of the truth in what one shop's holes leave, and their spread."""
    truth = shop(seed)
    groups = [cut(name, truth, 4 + (7 * seed + 3 * k) % 9, 1000 * seed + k) for k, name in enumerate(SETTINGS)]
    law = learned(groups, 500_000 + 10_000 * seed)
    assert law is not None
    found = {}
    for name in law.names:
        sd = law.sd(name)
        found[name] = normal_cdf((truth.mean[truth.place(name)] - law.mean[law.place(name)]) / sd), sd
    return found


def uneven(ranks: list[float], bins: int = 10) -> float:
    """Chi-square over its degrees of freedom of places that should be uniform."""
    counts, _ = np.histogram(ranks, bins, (0, 1))
    each = len(ranks) / bins
    return float(((counts - each) ** 2).sum() / each / (bins - 1))


def main(shops: int) -> None:
    """Print by constant: how much is learned, the places by tenths, and how uneven they are."""
    with ProcessPoolExecutor() as pool:
        every = list(pool.map(places, range(shops), chunksize=4))
    for name in every[0]:
        ranks = [found[name][0] for found in every]
        left = float(np.mean([found[name][1] for found in every]))
        counts, _ = np.histogram(ranks, 10, (0, 1))
        print(f"{name[:24]:24} spread left {left:.2f}  uneven {uneven(ranks):.2f}  {counts.tolist()}")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
