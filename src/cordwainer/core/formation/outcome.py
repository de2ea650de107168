"""What a run of the model says, as one small value: sizes, form, place, finish, chances and their bands."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.formation.simulate import PER_SHOP, SAMPLES, SHOPS, Asked, Samples
from cordwainer.core.language import tr
from cordwainer.core.shop.shop_law import ShopLaw


class Runs(Protocol):
    """What cuts many holes."""

    @property
    def law(self) -> ShopLaw | None:
        """What is known of the shop."""
        ...

    def run(
        self, samples: int = ..., seed: int = ..., *, certain: bool = ..., per_shop: int = ..., strays: bool = ...
    ) -> Samples:
        """So many holes of a seed."""
        ...


FINISHES = (0.2, 0.4, 0.8, 1.6, 3.2, 6.3, 12.5)
CLEAN = 0.02


@dataclass(frozen=True)
class Spread:
    """2nd, 50th and 98th percentile and mean."""

    p02: float
    p50: float
    mean: float
    p98: float


@dataclass(frozen=True)
class Chance:
    """A chance, its Monte Carlo standard error, and the band (5 to 95 %) over shops: the honest one.

    `holes`: of this shop, as so many of its own holes have it, instead of any.
    """

    value: float
    error: float
    low: float
    high: float
    holes: int = 0


@dataclass(frozen=True)
class Outcome:
    """Lengths in mm. `taper` is entry less exit, `barrel` the middle over the mean of both ends.

    `slope` is mm per mm. `size` by place (entry, middle, exit); `lobes` how many; `finish_ra_um` the nearest class
    of roughness.
    """

    size: dict[str, Spread]
    bell_mouth: Spread
    taper: Spread
    barrel: Spread
    lobe: Spread
    lobes: int
    exit_offset: Spread
    slope: Spread
    finish_ra_um: float
    burr: float
    in_size: Chance
    too_small: float
    too_big: float
    right: Chance
    cleans_up: Chance
    chips_unequal: float
    torque_over: float
    breaks: float
    samples: int
    seed: int


def spread(values: NDArray[np.floating[Any]]) -> Spread:
    """Percentiles and mean of a sample."""
    low, middle, high = np.percentile(values.astype(float), (2, 50, 98))
    return Spread(float(low), float(middle), float(values.mean(dtype=float)), float(high))


def in_size(found: Samples, asked: Asked) -> NDArray[np.bool_]:
    """Which holes pass for size: the go side feels lobes, the largest way across the no-go side.

    A hole of an odd number of lobes reads its diameter between two points and takes a plug smaller by two half
    lobes; with an even number it reads as much larger.
    """
    small, big = _sides(found, asked)
    passed: NDArray[np.bool_] = ~(small | big)
    return passed


def _sides(found: Samples, asked: Asked) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Which holes are too small somewhere, and which too big."""
    if asked.where != "all":
        seen = (found.middle_mm,) if asked.where == "middle" else (found.middle_mm, found.exit_mm)
        return np.minimum.reduce(seen) < asked.low_mm, np.maximum.reduce(seen) > asked.high_mm
    even = 2 * found.lobe_mm if found.lobes % 2 == 0 else 0.0
    big: NDArray[np.bool_] = found.most_mm + found.oval_mm + even > asked.high_mm
    small: NDArray[np.bool_] = found.least_mm - 2 * found.lobe_mm < asked.low_mm
    return small, big


def right(found: Samples, asked: Asked) -> NDArray[np.bool_]:
    """Which holes pass for size, and for place and finish where asked."""
    passed = in_size(found, asked)
    if asked.position_mm is not None:
        most = asked.position_mm / 2
        passed = passed & (found.entry_off_mm <= most) & (found.exit_off_mm <= most)
    if asked.ra_um is not None:
        passed = passed & (found.ra_um <= asked.ra_um)
    return passed


def missed(found: Samples, asked: Asked) -> list[tuple[str, float]]:
    """What goes wrong with holes and in what share of them, in words: size, place, finish."""
    small, big = _sides(found, asked)
    shares = [(tr("too small"), float(small.mean())), (tr("too large"), float(big.mean()))]
    if asked.position_mm is not None:
        most = asked.position_mm / 2
        off = (found.entry_off_mm > most) | (found.exit_off_mm > most)
        shares.append((tr("off its place"), float(off.mean())))
    if asked.ra_um is not None:
        shares.append((tr("too rough"), float((found.ra_um > asked.ra_um).mean())))
    return [(words, share) for words, share in shares if share > 0]


def chance(passed: NDArray[np.bool_], by_shop: NDArray[np.bool_], holes: int = 0) -> Chance:
    """A chance with its error from samples that are each another shop's, and its band from shops in a row.

    The spread of a shop's own few hundred holes is taken out of the band (their binomial share of its variance).
    """
    value = float(passed.mean())
    shares = by_shop.reshape(-1, PER_SHOP).mean(axis=1)
    noise = float((shares * (1 - shares)).mean()) / PER_SHOP
    total = float(shares.var())
    kept = sqrt(max(1 - noise / total, 0.0)) if total > 0 else 0.0
    middle = float(shares.mean())
    low, high = np.percentile(middle + (shares - middle) * kept, (5, 95))
    low, high = min(float(low), value), max(float(high), value)
    return Chance(value, sqrt(max(value * (1 - value), 0.0) / len(passed)), max(low, 0.0), min(high, 1.0), holes)


def outcome(model: Runs, asked: Asked, samples: int = SAMPLES, seed: int = 0) -> Outcome:
    """Run a model and say what comes of it; the band from 40 shops of 500 holes each beside the main run."""
    shops = model.run(SHOPS * PER_SHOP, seed + 1, per_shop=PER_SHOP, strays=False)
    return told(model.run(samples, seed, strays=False), shops, asked, seed, model.law)


def told(found: Samples, shops: Samples, asked: Asked, seed: int, law: ShopLaw | None = None) -> Outcome:
    """What two runs say: one with each hole another shop's, one with `PER_SHOP` holes a shop; of its `law`."""
    holes = law.holes if law is not None else 0
    ends = (found.entry_mm + found.exit_mm) / 2
    ra = float(np.median(found.ra_um))
    return Outcome(
        size={"entry": spread(found.entry_mm), "middle": spread(found.middle_mm), "exit": spread(found.exit_mm)},
        bell_mouth=spread(found.entry_mm - found.middle_mm),
        taper=spread(found.entry_mm - found.exit_mm),
        barrel=spread(found.middle_mm - ends),
        lobe=spread(found.lobe_mm),
        lobes=found.lobes,
        exit_offset=spread(found.exit_off_mm),
        slope=spread(found.slope),
        finish_ra_um=min(FINISHES, key=lambda grade: abs(np.log(max(ra, 0.05) / grade))),
        burr=float(np.median(found.burr_mm)),
        too_small=float(_sides(found, asked)[0].mean()),
        too_big=float(_sides(found, asked)[1].mean()),
        in_size=chance(in_size(found, asked), in_size(shops, asked), holes),
        right=chance(right(found, asked), right(shops, asked), holes),
        cleans_up=chance(found.unclean <= CLEAN, shops.unclean <= CLEAN, holes),
        chips_unequal=float(np.median(found.chips)),
        torque_over=float(np.median(found.torque)),
        breaks=found.breaks,
        samples=found.count,
        seed=seed,
    )
