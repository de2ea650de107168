"""How a drill's path answers along the depth: a push at the entry, a tilt, its wander, and the hole it follows.

y' = t - r(z) y, t' = -t / (10 D) + s(z) noise, r(z) = r (0.2 + 0.8 exp(-z/D)),
s(z)^2 = s^2 (1 + 3 exp(-z/D)) / D: stiffness pulls the drill back to its line, margins guide it after about one D.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.cutting.strength import side_stiffness
from cordwainer.core.formation.draws import Array
from cordwainer.core.formation.inputs import Op

STATIONS = 33
SUBSTEPS = 4
MODES = 4
GUIDE_D = 10.0
Wide = NDArray[np.float64]


@dataclass(frozen=True)
class Responses:
    """At each station: offset of a unit offset at the entry, of a unit tilt, and of four modes of unit wander."""

    offset: Wide
    tilt: Wide
    modes: Wide


@lru_cache(maxsize=256)
def responses(depth: float, diameter: float, pull: float, stations: int = STATIONS) -> Responses:
    """Responses of a drill's path over a depth; `pull` is r in 1/mm.

    Integrated over four substeps a station, exact for each substep's own pull. Shapes `[stations]`, modes
    `[stations, 4]`: the leading singular vectors times their values.
    """
    steps = (stations - 1) * SUBSTEPS
    h = depth / steps
    z = (np.arange(steps) + 0.5) * h
    fade = np.exp(-z / diameter)
    back = np.exp(-pull * (0.2 + 0.8 * fade) * h)
    keep = np.exp(-h / (GUIDE_D * diameter))
    kick = np.sqrt((1 + 3 * fade) / diameter * h)
    y, t = np.zeros(steps + 2), np.zeros(steps + 2)
    y[0], t[1] = 1.0, 1.0
    kept = np.zeros((stations, steps + 2))
    kept[0] = y
    for k in range(steps):
        t[k + 2] += 0.5 * kick[k]  # half of a substep's kick acts within it
        y = y * back[k] + t * (h * np.sqrt(back[k]))
        t = t * keep
        t[k + 2] += 0.5 * kick[k]
        if (k + 1) % SUBSTEPS == 0:
            kept[(k + 1) // SUBSTEPS] = y
    left, values, _ = np.linalg.svd(kept[:, 2:], full_matrices=False)
    return Responses(kept[:, 0], kept[:, 1], left[:, :MODES] * values[:MODES])


@lru_cache(maxsize=256)
def follow(depth: float, diameter: float, drilled: int, stations: int = STATIONS) -> Wide:
    """How the axis a drill follows comes from the hole before it, drilled over the first so many stations.

    Each row is a straight line fitted near its station, weights exp(-|dz|/D); past the old hole's bottom the last
    line goes on, ever less. A straight axis is kept exactly. Shape `[stations, drilled]`.
    """
    z = np.linspace(0.0, depth, stations)
    old = z[:drilled]
    bottom = old[-1]
    reach = GUIDE_D * diameter
    found = np.zeros((stations, drilled))
    for j, here in enumerate(z):
        base = min(here, bottom)
        at = base if here <= bottom else bottom + reach * (1 - np.exp(-(here - bottom) / reach))
        weight = np.exp(-np.abs(old - base) / diameter)
        if drilled == 1:
            found[j, 0] = 1.0
            continue
        middle = (weight * old).sum() / weight.sum()
        spread = (weight * (old - middle) ** 2).sum()
        found[j] = weight / weight.sum() + (at - middle) * weight * (old - middle) / spread
    return found


def stiffness(op: Op, projecting: float) -> float:
    """Side stiffness at a drill's point in N/mm: 3 E I / L^3, I = 0.35 pi D^4 / 64.

    >>> round(stiffness(Op("drill", 10.0, 1), 80.0), 2)
    211.4
    """
    return side_stiffness(op.diameter, projecting, op.modulus)


def single(values: Wide) -> Array:
    """As the model keeps it."""
    return np.ascontiguousarray(values, dtype=np.float32)
