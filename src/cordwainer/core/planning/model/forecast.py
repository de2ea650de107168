"""What a route's hole is likely to be: the forward model's answer with a curve for every tool of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from cordwainer.core.formation.draws import Array
from cordwainer.core.formation.outcome import Outcome, outcome, told
from cordwainer.core.formation.simulate import PER_SHOP, SAMPLES, SHOPS, Model
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.forward import Fault, asked_of_hole, judged, model_of
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material

STEP_SAMPLES = 5000
BINS = 56
SMOOTH = np.array([1.0, 2.0, 3.0, 2.0, 1.0]) / 9


@dataclass(frozen=True)
class Density:
    """A curve of likelihood: sizes in mm and heights, the highest 1; mean and standard deviation of the sample."""

    sizes_mm: tuple[float, ...]
    heights: tuple[float, ...]
    mean_mm: float
    sd_mm: float


@dataclass(frozen=True)
class Forecast:
    """Outcome, the finished size's curve, each tool's by its size in the plan, and percentiles along the depth.

    `profile_mm` and `stray_mm` are rows of 2nd, 50th and 98th percentile, station by station from the mouth.
    """

    outcome: Outcome
    finished: Density
    steps: dict[tuple[str, float], Density]
    profile_mm: tuple[tuple[float, float, float], ...]
    stray_mm: tuple[tuple[float, float, float], ...]
    depth_mm: float
    faults: tuple[Fault, ...] = ()


def density(values: Array) -> Density:
    """A smoothed histogram of a sample between its outermost thousandths."""
    sample = values.astype(float)
    low, high = np.percentile(sample, (0.1, 99.9))
    spare = max(0.05 * (high - low), 1e-6)
    counts, edges = np.histogram(sample, BINS, (low - spare, high + spare))
    smooth = np.convolve(np.convolve(counts, SMOOTH, "same"), SMOOTH, "same")
    middles = (edges[1:] + edges[:-1]) / 2
    heights = smooth / max(smooth.max(), 1e-9)
    return Density(tuple(middles.tolist()), tuple(heights.tolist()), float(sample.mean()), float(sample.std()))


def stated(
    route: Route,
    hole: Hole,
    machine: Machine,
    material: Material,
    hardness_bhn: float | None = None,
    samples: int = SAMPLES,
    seed: int = 0,
) -> Outcome | None:
    """What the model says of a route over so many holes of a seed, with its band; None where it judges nothing."""
    if not judged(hole, route):
        return None
    model = model_of(route, hole, machine, material, hardness_bhn, (), max(samples, SHOPS * PER_SHOP))
    return outcome(model, asked_of_hole(hole), samples, seed)


def forecast(
    route: Route,
    hole: Hole,
    machine: Machine,
    material: Material,
    hardness_bhn: float | None = None,
    faults: Sequence[Fault] = (),
    samples: int = SAMPLES,
    stop: Callable[[], bool] = lambda: False,
) -> Forecast | None:
    """Run a route through the forward model, whole and after each of its drills.

    `stop` is asked between runs; None once it says so. Raises `InputError` for faults that have nothing to act on.
    """
    model = model_of(route, hole, machine, material, hardness_bhn, faults, max(samples, SHOPS * PER_SHOP))
    found = model.run(samples, 0)
    if stop():
        return None
    shops = model.run(SHOPS * PER_SHOP, 1, per_shop=PER_SHOP, strays=False)
    step_model = model_of(route, hole, machine, material, hardness_bhn, faults, STEP_SAMPLES)
    ops, setup, law = step_model.ops, step_model.setup, step_model.law
    steps = {}
    for count, op in enumerate(ops, 1):
        if stop():
            return None
        if op.kind in ("drill", "core_drill", "spade_drill", "bore", "end_mill") and count < len(ops):
            came = Model(ops[:count], setup, law=law).run(STEP_SAMPLES, 0, strays=False)
            steps[(op.kind, round(op.diameter, 4))] = density(came.middle_mm)
    return Forecast(
        told(found, shops, asked_of_hole(hole), 0, model.law),
        density(found.middle_mm),
        steps,
        tuple(tuple(row) for row in found.profile_mm.tolist()),
        tuple(tuple(row) for row in found.stray_mm.tolist()),
        hole.depth_mm,
        tuple(faults),
    )
