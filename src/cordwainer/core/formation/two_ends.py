"""A through hole drilled from both ends: each half a hole of its own; where they meet one may stand aside."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from cordwainer.core.formation.inputs import Op, Setup
from cordwainer.core.formation.simulate import SAMPLES, Model, Samples
from cordwainer.core.shop.shop_law import ShopLaw

SECOND = 7919


@dataclass(frozen=True)
class TwoEnds:
    """The model of one half, run for either end; `turn_sd`: how well the work is set again, mm a direction."""

    half: Model
    turn_sd: float

    @property
    def ops(self) -> Sequence[Op]:
        """The operations from one end."""
        return self.half.ops

    @property
    def setup(self) -> Setup:
        """How the work stands, for one end."""
        return self.half.setup

    @property
    def law(self) -> ShopLaw | None:
        """What is known of the shop."""
        return self.half.law

    def run(
        self,
        samples: int = SAMPLES,
        seed: int = 0,
        *,
        certain: bool = False,
        per_shop: int = 1,
        strays: bool = True,
    ) -> Samples:
        """Both halves joined: `middle_mm` is the largest plug to pass where they meet, `exit_mm` the wider half.

        The halves' axes stray each its own way; the step between them is their distance. Source: derived.
        """
        one = self.half.run(samples, seed, certain=certain, per_shop=per_shop, strays=strays)
        two = self.half.run(samples, seed + SECOND, certain=certain, per_shop=per_shop, strays=strays)
        draw = np.random.default_rng([seed, SECOND])
        n = one.count
        turn = draw.standard_normal((2, n)).astype(np.float32) * np.float32(self.turn_sd)
        angle = draw.random((2, n)).astype(np.float32) * np.float32(2 * np.pi)
        off = (one.exit_off_mm, two.exit_off_mm)
        x = off[0] * np.cos(angle[0]) - off[1] * np.cos(angle[1]) + turn[0]
        y = off[0] * np.sin(angle[0]) - off[1] * np.sin(angle[1]) + turn[1]
        step = np.hypot(x, y)
        passes = np.minimum(one.exit_mm, two.exit_mm) - step
        return replace(
            one,
            middle_mm=passes,
            exit_mm=np.maximum(np.maximum(one.exit_mm, two.exit_mm), np.maximum(one.middle_mm, two.middle_mm)),
            most_mm=np.maximum(one.most_mm, two.most_mm),
            least_mm=np.minimum(np.minimum(one.least_mm, two.least_mm), passes),
            exit_off_mm=np.maximum(one.entry_off_mm, two.entry_off_mm + np.hypot(*turn)),
            lobe_mm=np.maximum(one.lobe_mm, two.lobe_mm),
            ra_um=np.maximum(one.ra_um, two.ra_um),
            breaks=max(one.breaks, two.breaks),
        )

    def step_mm(self, samples: int = 2000, seed: int = 0) -> float:
        """The step where the halves meet that half of all holes stay under, in mm."""
        found = self.run(samples, seed)
        alone = self.half.run(samples, seed)
        return float(np.median(np.maximum(alone.exit_mm - found.middle_mm, 0)))
