"""What a very tool cuts over its size, learned from its holes: from the survey on, as the evidence has it.

Each hole gives one share z: its oversize over the survey's mean for that diameter and opening. The shares of one
tool are normal with unknown mean and spread; the prior is normal and inverse gamma, worth `learn_prior_holes`
holes at 1. Holes in another material class and holes from before a
regrind count for less than one (a power prior): shared in part, reset in part. Source: conjugate normal model
(textbook); weights and prior assumed.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from cordwainer.core.formation.oversize import opening_factor, survey_oversize
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

LEAST_FACTOR = 0.1
SLIPPED = 6.0  # shares beyond this many times the survey's mean are a wrong drill or a wrong unit, not an oversize


@dataclass(frozen=True)
class HoleCut:
    """One hole a tool made: its size over the tool's own, the hole it opened, and how much it counts.

    `material` is the diagnosis class of the material; `grinds` how often the tool had been reground by then.
    """

    over_mm: float
    previous_mm: float = 0.0
    material: str = ""
    grinds: int = 0


@dataclass(frozen=True)
class Belief:
    """What is believed of a tool's share: mean, how sure that mean is, how far single holes lie from it.

    `holes` were counted, worth `weight` of them; `over_mm` is their plain mean over the tool's size.
    """

    mean: float
    sd_of_mean: float
    spread: float
    holes: int = 0
    weight: float = 0.0
    over_mm: float = 0.0

    @property
    def known(self) -> bool:
        """Whether any hole stands behind it."""
        return self.holes > 0


@dataclass(frozen=True)
class Normal:
    """A normal and inverse gamma law: mean, worth in holes, shape, scale."""

    mean: float
    worth: float
    shape: float
    scale: float

    def after(self, shares: Sequence[float], weights: Sequence[float]) -> Normal:
        """The law after shares seen, each counting by its weight (conjugate update).

        >>> Normal(1.0, 1.0, 1.5, 0.1).after([1.5, 1.5], [1.0, 1.0]).mean
        1.3333333333333333
        """
        total = sum(weights)
        if total <= 0:
            return self
        middle = sum(w * z for w, z in zip(weights, shares, strict=True)) / total
        within = sum(w * (z - middle) ** 2 for w, z in zip(weights, shares, strict=True))
        worth = self.worth + total
        between = self.worth * total * (middle - self.mean) ** 2 / worth
        return Normal(
            (self.worth * self.mean + total * middle) / worth,
            worth,
            self.shape + total / 2,
            self.scale + (within + between) / 2,
        )

    @property
    def variance(self) -> float:
        """The expected variance of single shares."""
        return self.scale / (self.shape - 1) if self.shape > 1 else math.inf


def prior() -> Normal:
    """What is believed before any hole: the survey. Source: `constants.csv` (assumed)."""
    shape = constant("learn_prior_shape")
    spread = constant("learn_prior_spread")
    return Normal(1.0, constant("learn_prior_holes"), shape, spread**2 * (shape - 1))


def share(tool: Tool, cut: HoleCut) -> float | None:
    """The share of one hole: its oversize over what is usual for it; None for one that is no oversize at all."""
    usual = _usual(tool, cut.previous_mm)
    if usual <= 0:
        return None
    found = cut.over_mm / usual
    return found if abs(found) <= SLIPPED else None


def _usual(tool: Tool, previous_mm: float) -> float:
    d = tool.diameter_mm
    if tool.kind == "reamer":
        return 0.0  # a reamer is made over its name: its own size is learned together with the shop
    mean = float(survey_oversize(d)[1])
    return mean * float(opening_factor(d, tool.chisel_mm, previous_mm))


def believe(tool: Tool, cuts: Iterable[HoleCut], material: str = "", grinds: int | None = None) -> Belief:
    """What its holes say of a tool in a material class, as ground now (`grinds`; the latest where not said)."""
    known = list(cuts)
    now = max((cut.grinds for cut in known), default=0) if grinds is None else grinds
    shares, weights, over = [], [], []
    for cut in known:
        found = share(tool, cut)
        if found is None:
            continue
        weight = 1.0 if not material or cut.material in ("", material) else constant("learn_other_material")
        weight *= constant("learn_before_regrind") ** max(now - cut.grinds, 0)
        shares.append(found)
        weights.append(weight)
        over.append(cut.over_mm)
    law = prior().after(shares, weights)
    variance = law.variance
    return Belief(
        mean=law.mean,
        sd_of_mean=math.sqrt(variance / law.worth),
        spread=math.sqrt(variance),
        holes=len(shares),
        weight=sum(weights),
        over_mm=sum(over) / len(over) if over else 0.0,
    )


def with_belief(tool: Tool, belief: Belief) -> Tool:
    """A tool that carries what is believed of it, for the planner to use and the card to say."""
    if not belief.known:
        return tool
    return replace(
        tool,
        oversize_factor=max(belief.mean, LEAST_FACTOR),
        learned_holes=belief.holes,
        learned_weight=belief.weight,
        learned_over_mm=belief.over_mm,
    )
