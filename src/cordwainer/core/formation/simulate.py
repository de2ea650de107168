"""The forward model run: a plan of operations cuts many holes at once, and what came of them, hole by hole."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any

import numpy as np

from cordwainer.core.errors import InputError
from cordwainer.core.formation.axis import STATIONS, Wide
from cordwainer.core.formation.boring import Bore
from cordwainer.core.formation.draws import CHUNK, Array, Known, at_medians, drawn, scores
from cordwainer.core.formation.drilling import Drill
from cordwainer.core.formation.hole import Holes, Plan, WallMarks
from cordwainer.core.formation.inputs import DRILLS, NOTHING, STARTS, Op, Setup, at
from cordwainer.core.formation.reaming import Reamer
from cordwainer.core.formation.starting import Deburr, Start
from cordwainer.core.language import tr
from cordwainer.core.shop.shop_law import ShopLaw

PLACE_STREAM = 999_983
SAMPLES = 20_000
PROFILED = 1
SHOPS, PER_SHOP = 40, 500


@dataclass(frozen=True)
class Asked:
    """What a hole has to be: size limits in mm, the zone its axis may stray in, roughness; None: any.

    `where` it is judged: ``all`` the way down with its form, ``inner`` from half way down to the far end,
    ``middle`` half way down, both between two points.
    """

    low_mm: float
    high_mm: float
    position_mm: float | None = None
    ra_um: float | None = None
    where: str = "all"


@dataclass(frozen=True)
class Samples:
    """Holes as they came out, `[n]` each unless said: sizes at entry, middle and exit, extremes, axis, marks.

    `entry_mm` is a thirty-second of the depth below the mouth, `exit_mm` as far above the far end. `sizes` and
    `strays` are diameter and distance of the axis from its true place at every station, `[stations, some]`, of the
    first few thousand holes.
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
    sizes: Array
    strays: Array

    @cached_property
    def profile_mm(self) -> Wide:
        """2nd, 50th and 98th percentile of size at every station, `[stations, 3]`."""
        found: Wide = np.percentile(self.sizes.astype(float), (2, 50, 98), axis=1).T
        return found

    @cached_property
    def stray_mm(self) -> Wide:
        """The same of the axis' distance from its true place."""
        found: Wide = np.percentile(self.strays.astype(float), (2, 50, 98), axis=1).T
        return found

    @property
    def count(self) -> int:
        """How many holes."""
        return len(self.middle_mm)


class Model:
    """A plan made ready once on nominal sizes, then run on as many holes as wanted."""

    def __init__(
        self, plan: Sequence[Op], setup: Setup, stations: int = STATIONS, law: ShopLaw | None = None
    ) -> None:
        """With a `law` its holes are that shop's. Raises `InputError` for an operation the model does not know or
        a hole without depth."""
        if setup.depth <= 0:
            raise InputError("depth", tr("{depth:g} is not a depth; write one above zero", depth=setup.depth))
        self.setup, self.stations, self.ops, self.law = setup, stations, tuple(plan), law
        old: Wide = np.zeros(stations)
        z = np.linspace(0.0, setup.depth, stations)
        self.plan = Plan(stations)
        self.steps: list[Drill | Reamer | Bore | Start | Deburr] = []
        for op in plan:
            rows = z <= (op.depth if op.depth is not None else setup.depth) + 1e-9
            if op.kind in DRILLS:
                self.steps.append(Drill(op, setup, self.plan, old))
            elif op.kind == "ream":
                self.steps.append(Reamer(op, setup, self.plan, old))
                rows = rows & (old > 0)
            elif op.kind == "bore":
                self.steps.append(Bore(op, setup, self.plan, old))
                rows = rows & (old > 0)
            elif op.kind == "deburr":
                self.steps.append(Deburr())
                continue
            elif op.kind in STARTS:
                self.steps.append(Start(op, setup))
                continue
            elif op.kind in NOTHING:
                continue
            else:
                raise InputError("kind", tr("'{kind}' is not an operation the model knows", kind=op.kind))
            old = np.where(rows, np.maximum(old, op.diameter), old)

    def run(
        self,
        samples: int = SAMPLES,
        seed: int = 0,
        *,
        certain: bool = False,
        per_shop: int = 1,
        strays: bool = True,
    ) -> Samples:
        """Cut `samples` holes. `certain` takes every uncertain constant at its median; else each hole is another
        shop's, or every `per_shop` holes are one shop's. The first holes do not depend on how many there are.
        Without `strays` the axis is known at the ends alone, which takes half the time."""
        if samples < 1:
            raise InputError(
                "samples", tr("{samples} is no number of holes; write one above zero", samples=samples)
            )
        parts = []
        for chunk, start in enumerate(range(0, samples, CHUNK)):
            n = min(CHUNK, samples - start)
            known = at_medians(self.law) if certain else drawn(seed, chunk, per_shop, n, self.law)
            parts.append(self._chunk(known, seed, chunk, slice(start, start + n), n, strays=strays))
        return _together(parts)

    def _chunk(self, known: Known, seed: int, chunk: int, part: slice, n: int, *, strays: bool) -> dict[str, Any]:
        setup = self.setup
        ux, uy = scores(seed, chunk, PLACE_STREAM, 2)[:, :n]
        sd = np.float32(setup.pos_sd)
        holes = Holes(n, self.plan, sd * ux, sd * uy)
        for step in self.steps:
            step.cut(holes, known, seed, chunk, part)
        return self._came(holes, known, part, whole=chunk < PROFILED, strays=strays)

    def _came(self, holes: Holes, known: Known, part: slice, *, whole: bool, strays: bool) -> dict[str, Any]:
        """What is kept of a chunk."""
        setup = self.setup
        d = holes.diameter()
        hot = at(setup.hotter_k, part)
        if np.any(hot):
            d = d * (1 + np.float32(setup.metal.expansion_per_k) * hot)
        zero = holes.zeros()
        marks = holes.finish() if holes.finish is not None else WallMarks(zero, 0, zero, zero)
        lobe, lobes = marks.lobe, marks.lobes
        squeeze = at(setup.squeeze, part)
        if np.any(squeeze):
            lobe, lobes = np.hypot(lobe, known["k_clamp"] * squeeze), setup.jaws
        cut = np.flatnonzero(self.plan.on_top >= 0)
        last = int(cut[-1]) if cut.size else 0
        ends = max(last - 3, 0)
        inside = (self.stations - 1) / (STATIONS - 1)
        x, y = holes.axis(np.array([0, ends, last]))
        rise = max((last - ends) * setup.depth / (self.stations - 1), 1e-9)
        return {
            "entry_mm": _row(d, min(inside, last)), "middle_mm": d[last // 2],
            "exit_mm": _row(d, max(last - inside, 0)),
            "most_mm": d.max(axis=0), "least_mm": d[: last + 1].min(axis=0), "entry_off_mm": np.hypot(x[0], y[0]),
            "exit_off_mm": np.hypot(x[2], y[2]), "slope": np.hypot(x[2] - x[1], y[2] - y[1]) / rise,
            "lobe_mm": lobe, "lobes": lobes, "oval_mm": _or(holes.oval, zero), "ra_um": marks.ra,
            "burr_mm": marks.burr, "unclean": _or(holes.unclean, zero), "stock_mm": _or(holes.stock, zero),
            "torque": np.broadcast_to(holes.torque, (holes.n,)), "chips": np.broadcast_to(holes.chips, (holes.n,)),
            "breaks": holes.breaks, "sizes": d if whole else None,
            "strays": np.hypot(*holes.axis()) if whole and strays else np.zeros((0, 0), np.float32),
        }  # fmt: skip


def _row(d: Array, at: float) -> Array:
    """Sizes at a place between stations."""
    below = int(at)
    share = np.float32(at - below)
    found: Array = d[below] if not share else d[below] * (1 - share) + d[below + 1] * share
    return found


def _or(value: Array | None, zero: Array) -> Array:
    return zero if value is None else value


def _together(parts: list[dict[str, Any]]) -> Samples:
    """Chunks as one."""
    found: dict[str, Any] = {}
    for item in fields(Samples):
        values = [part[item.name] for part in parts]
        if item.name in ("sizes", "strays"):
            found[item.name] = np.concatenate(values[:PROFILED], axis=1)
        elif item.name == "lobes":
            found[item.name] = values[-1]
        elif item.name == "breaks":
            found[item.name] = max(values)
        else:
            found[item.name] = np.concatenate(values)
    return Samples(**found)
