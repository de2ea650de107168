"""The shop learned as a whole: its measured holes narrow the constants of the model that differ from shop to shop.

Holes made alike are one group. The model cuts the group's hole in many shops drawn from what is known so far; a
straight line from the scores of those shops to the sizes measured, with what it leaves over, is the likelihood,
and the law of the scores is brought up to date by it (ensemble Kalman update; Evensen, 2009). A drilled hole's
size belongs to its drill's own account, so only its shape counts here; a reamed hole's size tells of the shop and
of that very reamer together. A hole far from all the model thinks likely counts for less (Huber, 1964).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from cordwainer.core.formation.draws import CHUNK, any_shop, drawn
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.forward import judged, model_of
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop_law import ShopLaw, Wide
from cordwainer.core.tables import constant

CLEAR = 4.5  # a slope under so many standard errors is luck: that constant stays as it is
ODD = {1: 6.6, 2: 9.2, 3: 11.3}  # chi-square, 99 %, by how many sizes a hole has
ROUNDS = 2
STEP = 1000


@dataclass(frozen=True, eq=False)
class Alike:
    """Holes of one plan, made with the same tools and measured at the same places.

    `depths_mm` [m], mouth first; `sizes_mm` [n, m] at 20 °C; `weights` [n] what each counts for, 1 in full.
    """

    route: Route
    hole: Hole
    machine: Machine
    material: Material
    depths_mm: tuple[float, ...]
    sizes_mm: tuple[tuple[float, ...], ...]
    weights: tuple[float, ...]
    gauge_sd_mm: float
    hardness_bhn: float | None = None

    @property
    def reamer(self) -> str:
        """The reamer that sized it, where its own size is not known for sure; empty where none did."""
        last = next((o for o in reversed(self.route.operations) if o.sizes_hole), None)
        tool = last.tool if last is not None and last.kind == "ream" else None
        return tool.id if tool is not None and tool.limits is not None else ""

    @property
    def drilled(self) -> bool:
        """Whether a drill made its size."""
        last = next((o for o in reversed(self.route.operations) if o.sizes_hole), None)
        return last is None or last.kind not in ("ream", "bore")

    @property
    def told(self) -> Wide:
        """What is read from the sizes, a row each `[f, m]`: that in the middle, and the others over it."""
        m = len(self.depths_mm)
        rows = np.eye(m)
        rows[:, m // 2] -= 1
        rows[m // 2, m // 2] = 1
        return np.delete(rows, m // 2, axis=0) if self.drilled else rows


def learned(groups: Sequence[Alike], seed: int = 0, stop: Callable[[], bool] = lambda: False) -> ShopLaw | None:
    """What groups of holes, the oldest first, teach of their shop; None where they teach nothing, or once stopped.

    The same groups and seed give the same law.
    """
    law = any_shop()
    for place, group in enumerate(groups):
        if stop():
            return None
        law = after(law, group, seed + STEP * place)
    return law if law.holes else None


def after(law: ShopLaw, group: Alike, seed: int = 0) -> ShopLaw:
    """A law after a group of holes more, in two halves, each about a line of its own."""
    told = group.told
    if not told.size or not judged(group.hole, group.route):
        return law
    if group.reamer:
        law = law.with_reamer(group.reamer)
    holes = law.holes + len(group.sizes_mm)
    worth = law.worth + sum(group.weights)
    for part in range(ROUNDS):
        law = _moved(law, group, told, seed + part)
    return replace(law, holes=holes, worth=worth)


def _moved(law: ShopLaw, group: Alike, told: Wide, seed: int) -> ShopLaw:
    """The law moved by its share of what a group says."""
    machine = replace(group.machine, law=law)
    route = (
        replace(group.route, machine=replace(group.route.machine, law=law)) if group.route.machine else group.route
    )
    model = model_of(route, group.hole, machine, group.material, group.hardness_bhn, (), CHUNK)
    sizes = model.run(CHUNK, seed, strays=False).sizes
    stations = np.linspace(0.0, group.hole.depth_mm, len(sizes))
    at = np.array([_between(stations, depth) for depth in group.depths_mm])
    came = told @ (at @ sizes.astype(float))
    base = drawn(seed, 0, law=law)
    z = np.array([base.plain(k) for k in range(len(law.names))], float)
    start, slopes, left = _line(z, came)
    gauge = group.gauge_sd_mm**2 * told @ told.T
    seen = np.array(group.sizes_mm) @ told.T - start
    luck = left + gauge
    weights = np.array(group.weights) * _fits(seen, luck + slopes @ slopes.T)
    if weights.sum() <= 0:
        return law
    mean = weights @ seen / weights.sum()
    shared = constant("learn_gauge_shared_mm") ** 2 * told @ told.T
    noise = ROUNDS * (luck / weights.sum() + shared)
    gain = slopes.T @ np.linalg.inv(slopes @ slopes.T + noise)
    moved = gain @ mean
    told_of = np.flatnonzero(slopes.any(axis=0))  # the others stay exactly as they were
    block = np.ix_(told_of, told_of)
    root = np.eye(len(z))
    values, vectors = np.linalg.eigh(root[block] - (gain @ slopes)[block])
    root[block] = (vectors * np.sqrt(np.clip(values, 0, 1))) @ vectors.T
    return replace(law, mean=law.mean + law.root @ moved, root=law.root @ root)


def _between(stations: Wide, depth: float) -> Wide:
    """The row that reads a size at a depth from those at the stations."""
    found: Wide = np.array([np.interp(depth, stations, one) for one in np.eye(len(stations))])
    return found


def _line(z: Wide, came: Wide) -> tuple[Wide, Wide, Wide]:
    """A line from scores `[k, n]` to what came out `[f, n]`: its start, slopes `[f, k]`, covariance left over."""
    n = z.shape[1]
    with_one = np.vstack([np.ones(n), z])
    found = np.linalg.lstsq(with_one.T, came.T, rcond=None)[0].T
    spread = np.sqrt(np.mean((came - found @ with_one) ** 2, axis=1, keepdims=True) / n)
    slopes = np.where(np.abs(found[:, 1:]) >= CLEAR * spread, found[:, 1:], 0.0)
    start = came.mean(axis=1)
    left = np.cov(came - start[:, None] - slopes @ z)
    return start, slopes, np.atleast_2d(left)


def _fits(seen: Wide, spread: Wide) -> Wide:
    """What each hole counts for by how likely it is at all: 1, less for one further off than one in a hundred."""
    far = np.einsum("nf,fg,ng->n", seen, np.linalg.inv(spread), seen)
    found: Wide = np.minimum(1.0, np.sqrt(ODD[min(seen.shape[1], 3)] / np.maximum(far, 1e-9)))
    return found
