"""What a route's chance leans on: the assumptions that move it most, each to either side of what is usual.

Two kinds of assumption are tried: the model's own uncertain constants, through the holes in which each stands
low or high (no further run is needed: every hole is another shop's), and what the plan takes for granted of drills
and machine, through runs with that alone changed.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.formation.draws import CHUNK, Drawn, drawn, uncertain
from cordwainer.core.formation.inputs import DRILLS, Op, Setup
from cordwainer.core.formation.outcome import right
from cordwainer.core.formation.simulate import Asked, Model
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.forward import asked_of_hole, judged, model_of
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.tables import Row, rows

SHARE = 0.2
SHOWN = 3
LEAST = 0.005
SURE = 3.5
WORTH_IT, RUNS, SPREAD_SEED = 0.01, 2, 4051


@dataclass(frozen=True)
class Leaning:
    """One assumption: its words, the chance with it low and high, and what low and high mean."""

    id: str
    words: str
    low_words: str
    high_words: str
    low: float
    high: float
    usual: float
    mark: str

    @property
    def worst(self) -> tuple[str, float]:
        """The side with the lower chance: its words and that chance."""
        return (self.low_words, self.low) if self.low < self.high else (self.high_words, self.high)

    @property
    def moves(self) -> float:
        """How far it moves the chance, from one side to the other or from what is usual."""
        sides = (self.low, self.high, self.usual)
        return max(sides) - min(sides)


def leanings(
    route: Route,
    hole: Hole,
    machine: Machine,
    material: Material,
    hardness_bhn: float | None = None,
    seed: int = 0,
    most: int = SHOWN,
    stop: Callable[[], bool] = lambda: False,
) -> tuple[Leaning, ...]:
    """The few assumptions that move a route's chance most, the strongest first; () where the model judges nothing.

    Chances are of size, place and finish together, over one chunk of holes of `seed`.
    """
    if not judged(hole, route):
        return ()
    asked = asked_of_hole(hole)
    model = model_of(route, hole, machine, material, hardness_bhn, (), CHUNK)
    good = right(model.run(CHUNK, seed, strays=False), asked)
    usual = float(good.mean())
    found = _constants(good, usual, drawn(seed, 0, law=model.law))
    for row in rows("assumptions"):
        if stop():
            return ()
        if not isinstance(model, Model):
            break
        tried = _tried(model, row, asked, seed, usual)
        if tried is not None:
            found.append(tried)
    found.sort(key=lambda leaning: -leaning.moves)
    return tuple(leaning for leaning in found[:most] if leaning.moves >= LEAST)


def _constants(good: NDArray[np.bool_], usual: float, known: Drawn) -> list[Leaning]:
    """The model's constants: the chance among holes in which each is in its lowest and highest fifth.

    Only those whose two fifths lie further apart than luck would put them (3.5 standard errors).
    """
    found = []
    count = int(SHARE * CHUNK)
    for constant in uncertain():
        order = np.argsort(np.asarray(known[constant.id]), kind="stable")
        low, high = (float(good[part].mean()) for part in (order[:count], order[-count:]))
        if abs(high - low) < SURE * (2 * max(usual * (1 - usual), 0.01) / count) ** 0.5:
            continue
        values = np.asarray(known[constant.id])[order]
        words = (tr("less than usual"), tr("more than usual"))
        if constant.value:
            ends = [float(part.mean()) / constant.value for part in (values[:count], values[-count:])]
            words = (tr("{ends:.2g} × the usual", ends=ends[0]), tr("{ends:.2g} × the usual", ends=ends[1]))
        found.append(Leaning(constant.id, constant.short, *words, low, high, usual, constant.mark))
    return found


def _tried(model: Model, row: Row, asked: Asked, seed: int, usual: float) -> Leaning | None:
    """One assumption of `assumptions.csv` taken low and high; None where the route has nothing it speaks of."""
    chances = []
    for side in ("low", "high"):
        value = row.number(side)
        changed = changed_plan(model.ops, model.setup, row.text("target"), row.text("field"), value)
        if changed is None:
            return None
        chances.append(float(right(Model(*changed, law=model.law).run(CHUNK, seed, strays=False), asked).mean()))
    words = (row.words("words"), row.words("low_words"), row.words("high_words"))
    return Leaning(row.text("id"), *words, chances[0], chances[1], usual, row.source)


def changed_plan(
    ops: tuple[Op, ...], setup: Setup, target: str, field: str, value: float
) -> tuple[list[Op], Setup] | None:
    """A plan with one field of some operations or of the setup changed; None where there are none such."""
    told: dict[str, Any] = {field: value}
    if target == "setup":
        return list(ops), replace(setup, **told)
    if target == "setup_times":
        return list(ops), replace(setup, **{field: value * getattr(setup, field)})
    if target == "turning_setup":
        return (list(ops), replace(setup, **told)) if setup.rotating_work else None
    if target == "finishing_setup":  # a plug as large as the drill passes a drilled hole, warm or cold
        return (list(ops), replace(setup, **told)) if any(op.kind in ("ream", "bore") for op in ops) else None
    cutting = [i for i, op in enumerate(ops) if op.kind in DRILLS]
    reaming = [i for i, op in enumerate(ops) if op.kind == "ream"]
    boring = [i for i, op in enumerate(ops) if op.kind == "bore"]
    places = {"drills": cutting, "last_drill": cutting[-1:], "reamer": reaming, "bar": boring[-1:]}[target]
    if not places:
        return None
    found = list(ops)
    for place in places:
        op = found[place]
        more = {"quality": value * op.quality, "known_holes": value + op.known_holes}
        found[place] = op.but(**{field: more.get(field, value)})
    return found, setup


@dataclass(frozen=True)
class Before:
    """A check before the first cut: what it is, how it is done, how long it takes, and what it does to the chance.

    `now` is the route's chance as things are usually, unchecked, `good` once the check has come out well; `if_not`
    what to do where it does not.
    """

    id: str
    words: str
    how: str
    if_not: str
    minutes: float
    now: float
    good: float
    mark: str

    @property
    def worth(self) -> float:
        """How much of a chance a minute buys."""
        return (self.good - self.now) / self.minutes


def checks_before(
    route: Route,
    hole: Hole,
    machine: Machine,
    material: Material,
    hardness_bhn: float | None = None,
    seed: int = 0,
    most: int = 2,
    stop: Callable[[], bool] = lambda: False,
) -> tuple[Before, ...]:
    """The checks that raise a route's chance most for their minutes, the best first; () where none does.

    Each is a run of the model with that one thing known to be good, over as many holes of `seed` as the ranking.
    """
    if not judged(hole, route):
        return ()
    asked = asked_of_hole(hole)
    model = model_of(route, hole, machine, material, hardness_bhn, (), CHUNK)
    if not isinstance(model, Model):
        return ()
    now = _chance(model, asked, seed)
    found = []
    for row in rows("checks_before"):
        if stop():
            return ()
        without, with_it = unchecked_and_checked(model, row)
        if with_it is None:
            continue
        was = now if without is model else _chance(without, asked, seed)
        words = (row.words("words"), row.words("how"), row.words("if_not"))
        good = _chance(with_it, asked, seed)
        found.append(Before(row.text("id"), *words, row.number("minutes"), was, good, row.source))
    worth = [check for check in found if check.good - check.now >= WORTH_IT]
    return tuple(sorted(worth, key=lambda check: -check.worth)[:most])


def unchecked_and_checked(model: Model, row: Row) -> tuple[Model, Model | None]:
    """A plan as it is when nobody looks, and with a check of its table come out well; None: not a check of it."""
    changed = changed_plan(model.ops, model.setup, row.text("target"), row.text("field"), row.number("good"))
    if changed is None:
        return model, None
    checked = Model(*changed, law=model.law)
    usual = row.number_or_none("usual")
    if usual is None:
        return model, checked
    luck = np.random.default_rng(SPREAD_SEED).standard_normal(CHUNK).astype(np.float32)
    told: dict[str, Any] = {row.text("field"): np.float32(usual) * np.abs(luck)}
    return Model(model.ops, replace(model.setup, **told), law=model.law), checked


def _chance(model: Model, asked: Asked, seed: int) -> float:
    """The share of good holes over a few chunks, so that two chances can be told apart."""
    return float(np.mean([right(model.run(CHUNK, seed + k, strays=False), asked).mean() for k in range(RUNS)]))
