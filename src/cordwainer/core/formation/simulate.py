"""The forward model run: a plan of operations cuts many holes at once, and what came of them as one small value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from cordwainer.core.errors import InputError
from cordwainer.core.formation.axis import STATIONS, Wide
from cordwainer.core.formation.boring import Bore
from cordwainer.core.formation.draws import CHUNK, Array, Known, at_medians, drawn, scores
from cordwainer.core.formation.drilling import Drill
from cordwainer.core.formation.hole import Holes
from cordwainer.core.formation.inputs import DRILLS, NOTHING, STARTS, Op, Setup, at
from cordwainer.core.formation.reaming import Reamer
from cordwainer.core.formation.starting import Start

PLACE_STREAM = 999_983
SAMPLES = 20_000
SHOPS, PER_SHOP = 40, 500


@dataclass(frozen=True)
class Asked:
    """What a hole has to be: size limits in mm, the place its axis may stray in (diameter), roughness; None: any."""

    low_mm: float
    high_mm: float
    position_mm: float | None = None
    ra_um: float | None = None


@dataclass(frozen=True)
class Samples:
    """Holes as they came out, `[n]` each unless said: sizes at entry, middle and exit, extremes, axis, marks.

    `entry_mm` is one station below the mouth, `exit_mm` one above the far end; `profile_mm` are 2nd, 50th and 98th
    percentile of size at every station, `[stations, 3]`, `drift_mm` likewise of the axis' distance from true.
    """

    entry_mm: Array
    middle_mm: Array
    exit_mm: Array
    most_mm: Array
    least_mm: Array
    entry_off_mm: Array
    exit_off_mm: Array
    slope: Array
    lobe_mm: Array
    lobes: int
    oval_mm: Array
    ra_um: Array
    burr_mm: Array
    unclean: Array
    stock_mm: Array
    torque: Array
    chips: Array
    breaks: float
    profile_mm: Wide
    drift_mm: Wide

    @property
    def count(self) -> int:
        """How many holes."""
        return len(self.middle_mm)


class Model:
    """A plan made ready once on nominal sizes, then run on as many holes as wanted."""

    def __init__(self, plan: Sequence[Op], setup: Setup, stations: int = STATIONS) -> None:
        """Raises `InputError` for an operation the model does not know or a hole without depth."""
        if setup.depth <= 0:
            raise InputError("depth", f"{setup.depth:g} is not a depth; write one above zero")
        self.setup, self.stations = setup, stations
        old: Wide = np.zeros(stations)
        z = np.linspace(0.0, setup.depth, stations)
        self.steps: list[Drill | Reamer | Bore | Start] = []
        for op in plan:
            rows = z <= (op.depth if op.depth is not None else setup.depth) + 1e-9
            if op.kind in DRILLS:
                self.steps.append(Drill(op, setup, stations, old))
            elif op.kind == "ream":
                self.steps.append(Reamer(op, setup, stations, old))
                rows = rows & (old > 0)
            elif op.kind == "bore":
                self.steps.append(Bore(op, setup, stations, old))
                rows = rows & (old > 0)
            elif op.kind in STARTS:
                self.steps.append(Start(op, setup))
                continue
            elif op.kind in NOTHING:
                continue
            else:
                raise InputError("kind", f"'{op.kind}' is not an operation the model knows")
            old = np.where(rows, np.maximum(old, op.diameter), old)

    def run(self, samples: int = SAMPLES, seed: int = 0, *, certain: bool = False, per_shop: int = 1) -> Samples:
        """Cut `samples` holes. `certain` takes every uncertain constant at its median; else each hole is another
        shop's, or every `per_shop` holes are one shop's. The first holes do not depend on how many there are."""
        if samples < 1:
            raise InputError("samples", f"{samples} is no number of holes; write one above zero")
        parts = []
        for chunk, start in enumerate(range(0, samples, CHUNK)):
            n = min(CHUNK, samples - start)
            known = at_medians() if certain else _first(drawn(seed, chunk, per_shop), n)
            parts.append(self._chunk(known, seed, chunk, slice(start, start + n), n))
        return _together(parts)

    def _chunk(self, known: Known, seed: int, chunk: int, part: slice, n: int) -> dict[str, Any]:
        setup = self.setup
        ux, uy = scores(seed, chunk, PLACE_STREAM, 2)[:, :n]
        sd = np.float32(setup.pos_sd)
        holes = Holes(n, self.stations, sd * ux, sd * uy)
        for step in self.steps:
            step.cut(holes, known, seed, chunk, part)
        return self._came(holes, part)

    def _came(self, holes: Holes, part: slice) -> dict[str, Any]:
        """What is kept of a chunk."""
        setup = self.setup
        d = holes.diameter()
        x, y = holes.axis()
        hot = at(setup.hotter_k, part)
        if np.any(hot):
            d = d * (1 + np.float32(setup.metal.expansion_per_k) * hot)
        zero = holes.zeros()
        lobe = holes.lobe if holes.lobe is not None else zero
        lobes = holes.lobes
        squeeze = at(setup.squeeze, part)
        if np.any(squeeze):
            lobe, lobes = np.hypot(lobe, np.float32(0.02) * squeeze), setup.jaws
        cut = d > 0
        whole = bool(cut.all())
        least = d.min(axis=0) if whole else np.where(cut, d, np.inf).min(axis=0)
        last = self.stations - 1 if whole else int(np.flatnonzero(cut.any(axis=1))[-1]) if cut.any() else 0
        off = np.hypot(x, y)
        rise = setup.depth / (self.stations - 1)
        ends = max(last - 3, 0)
        slope = np.hypot(x[last] - x[ends], y[last] - y[ends]) / max((last - ends) * rise, 1e-9)
        return {
            "entry_mm": d[min(1, last)], "middle_mm": d[last // 2], "exit_mm": d[max(last - 1, 0)],
            "most_mm": d.max(axis=0), "least_mm": least, "entry_off_mm": off[0], "exit_off_mm": off[last],
            "slope": slope, "lobe_mm": lobe, "lobes": lobes, "oval_mm": _or(holes.oval, zero),
            "ra_um": _or(holes.ra, zero), "burr_mm": _or(holes.burr, zero), "unclean": _or(holes.unclean, zero),
            "stock_mm": _or(holes.stock, zero), "torque": _or(holes.torque, zero),
            "chips": np.broadcast_to(holes.chips, (holes.n,)), "breaks": float(np.max(holes.breaks)),
            "profile_mm": d, "drift_mm": off,
        }  # fmt: skip


def _or(value: Array | None, zero: Array) -> Array:
    return zero if value is None else value


def _first(known: Known, n: int) -> Known:
    return {key: value[:n] if isinstance(value, np.ndarray) else value for key, value in known.items()}


def _together(parts: list[dict[str, Any]]) -> Samples:
    """Chunks as one; percentiles along the depth from the first two of them, which is 4,000 holes."""
    found: dict[str, Any] = {}
    for item in fields(Samples):
        values = [part[item.name] for part in parts]
        if item.name in ("profile_mm", "drift_mm"):
            some = np.concatenate(values[:2], axis=1)
            found[item.name] = np.percentile(some, (2, 50, 98), axis=1).T
        elif item.name == "lobes":
            found[item.name] = values[-1]
        elif item.name == "breaks":
            found[item.name] = max(values)
        else:
            found[item.name] = np.concatenate(values)
    return Samples(**found)
