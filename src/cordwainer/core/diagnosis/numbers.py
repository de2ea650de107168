"""What the measured numbers say of each cause: the holes it would have made, by the forward model, and this one.

Causes the model can make run in it, with every severity from slight to gross. `effects.csv` (assumed) says how a
cause shifts the sound holes of the same plan: all holes of a cause the model cannot make, every other one where it
can, since the model may be wrong. Six measures of a hole are compared: size over nominal at the
middle, mouth over middle, middle over far end, quarter-turn difference, place at the mouth, and how much farther
off the far end is; a kernel as wide as the reading may be off and as the samples are scarce stands on each sample.
"""

from __future__ import annotations

import math
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache, lru_cache

import numpy as np
import numpy.typing as npt

from cordwainer.core.diagnosis.applies import sized_since
from cordwainer.core.diagnosis.evidence import Case, mean
from cordwainer.core.diagnosis.imagined import made
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.errors import InputError
from cordwainer.core.formation.inputs import Each
from cordwainer.core.formation.simulate import Model, Samples
from cordwainer.core.language import tr
from cordwainer.core.planning.model.forward import Fault, fault_rows, with_faults
from cordwainer.core.tables import rows

Floats = npt.NDArray[np.float64]
MEASURES = ("size", "mouth", "taper", "oval", "off_mouth", "off_far")
PLACES = ("off_mouth", "off_far")
COUNT, SEED, KEPT = 1500, 7, 4
SOUND = "sound"
MISFIT, MOST_RATIO = 0.1, 4.0
READ_FINE_MM, READ_DRILLED_MM, READ_PLACE_MM, READ_CALIPER_MM = 0.003, 0.009, 0.02, 0.015
PLACE_STEP_MM = 0.15
SEVERITY_SD = 0.7
LANDS_MM = (0.3, 0.9)
FLATS, LIMP_D, LIMP_BAR_D = "me_flats", 14.0, 5.0


@dataclass(frozen=True)
class Imagined:
    """Samples of every cause and of a sound hole: `[causes, measures, samples]`, sound first."""

    names: tuple[str, ...]
    values: Floats
    wide: Floats


def observed(case: Case) -> dict[str, float]:
    """The measures this hole has, in mm."""
    entry, middle, far = (mean(s) for s in (case.sizes.entry, case.sizes.middle, case.sizes.exit))
    found = {}
    if middle is not None:
        found["size"] = middle - case.diameter_mm
        if entry is not None:
            found["mouth"] = entry - middle
        if far is not None:
            found["taper"] = middle - far
    turned = [abs(pair[0] - pair[1]) for pair in (case.sizes.middle, case.sizes.exit) if len(pair) > 1]
    if turned:
        found["oval"] = max(turned)
    if case.offset.entry_mm is not None:
        found["off_mouth"] = abs(case.offset.entry_mm)
        if case.offset.exit_mm is not None:
            found["off_far"] = abs(case.offset.exit_mm) - abs(case.offset.entry_mm)
    return found


def log_ratios(case: Case) -> dict[str, float]:
    """How much better each cause explains the numbers than a sound hole does, as logs within ±4; {} without any.

    One hole in ten is allowed to be nothing the model knows (`MISFIT`), so that no number alone settles a cause.
    """
    seen = observed(case)
    if not seen:
        return {}
    if "size" in seen:
        seen["size"] -= own_shift(case)
    caliper = {**case.measured, **case.answers}.get("q_gauge") == "caliper"
    return dict(_ratios(made(case), case.diameter_mm, case.finished, caliper, tuple(seen.items())))


def own_shift(case: Case) -> float:
    """How much more than a usual drill the one in hand cut while it was good, in mm; 0 where nobody said."""
    if case.own_mm is None or case.finished:
        return 0.0
    sound = imagined(made(case), case.diameter_mm, False).values[0, 0]
    return case.own_mm - case.diameter_mm - float(np.median(sound))


@lru_cache(maxsize=KEPT * 8)
def _ratios(
    how: Made, d: float, finished: bool, caliper: bool, seen: tuple[tuple[str, float], ...]
) -> tuple[tuple[str, float], ...]:
    known = imagined(how, d, finished)
    places = [MEASURES.index(name) for name, _ in seen]
    value = np.array([v for _, v in seen])
    fine = READ_FINE_MM + (0.0 if finished else READ_DRILLED_MM - READ_FINE_MM)
    read = np.array([READ_PLACE_MM if name in PLACES else fine for name, _ in seen])
    if caliper:
        read = np.where([name in PLACES for name, _ in seen], read, np.hypot(read, READ_CALIPER_MM))
    width = np.hypot(read, known.wide[:, places])
    off = (known.values[:, places, :] - value[None, :, None]) / width[:, :, None]
    log = -0.5 * (off**2).sum(axis=1) - np.log(width).sum(axis=1)[:, None]
    top = log.max(axis=1)
    fit = top + np.log(np.exp(log - top[:, None]).mean(axis=1))
    best = fit.max()
    any_cause = best + math.log(float(np.exp(fit - best).mean()))
    told = np.logaddexp(math.log(1 - MISFIT) + fit, math.log(MISFIT) + any_cause)
    ratio = np.clip(told - told[0], -MOST_RATIO, MOST_RATIO)
    return tuple((name, float(r)) for name, r in zip(known.names[1:], ratio[1:], strict=True))


@dataclass(frozen=True)
class Leaves:
    """What a cause would leave of a hole: the tenth, fiftieth and ninetieth of a hundred, by measure, in mm.

    `in_limits` of a hundred such holes lie inside the print's limits at mouth, middle and far end; None without.
    """

    mouth: tuple[float, float, float]
    middle: tuple[float, float, float]
    far: tuple[float, float, float]
    off_mouth: tuple[float, float, float]
    off_far: tuple[float, float, float]
    in_limits: int | None

    @property
    def three(self) -> tuple[tuple[float, float, float], ...]:
        """Mouth, middle and far end."""
        return self.mouth, self.middle, self.far


def would_leave(case: Case, cause: str = SOUND) -> Leaves | None:
    """What the plan would have left with a cause at work, or with none; None for a cause that leaves sizes alone.

    Holes of the usual severity of that cause, by the forward model or by `effects.csv` (assumed).
    """
    known = imagined(made(case), case.diameter_mm, case.finished)
    if cause not in known.names:
        return None
    of = known.values[known.names.index(cause)]
    size, mouth, taper, _, off, far = of
    middle = case.diameter_mm + size + own_shift(case)
    three = np.stack([middle + mouth, middle, middle - taper])
    inside = None
    if case.limits_mm is not None:
        low, high = case.limits_mm
        inside = round(100 * float(((three >= low) & (three <= high)).all(axis=0).mean()))
    bands = [_tenths(row) for row in (*three, off, off + far)]
    return Leaves(bands[0], bands[1], bands[2], bands[3], bands[4], inside)


def _tenths(values: Floats) -> tuple[float, float, float]:
    low, middle, high = np.percentile(values, (10, 50, 90))
    return float(low), float(middle), float(high)


@lru_cache(maxsize=KEPT)
def imagined(how: Made, d: float, finished: bool) -> Imagined:
    """The holes each cause would have made of a plan; the same for the same plan, whatever else is asked."""
    sound = _measures(Model(how.ops, how.setup).run(COUNT, SEED), d)
    names, values = [SOUND], [sound]
    for cause in causes():
        modeled, shifted = _modeled(how, cause, d), _shifted(sound, cause, d, how)
        if modeled is not None and shifted is not None:
            modeled = np.where(np.arange(COUNT) % 2 == 0, modeled, shifted)
        found = modeled if modeled is not None else shifted
        if found is not None:
            names.append(cause)
            values.append(found)
    stacked = np.stack(values)
    low, high = np.percentile(stacked, (16, 84), axis=2)
    wide = 1.06 * np.maximum((high - low) / 2, 1e-4) * COUNT**-0.12
    return Imagined(tuple(names), stacked, wide)


def _luck(cause: str) -> np.random.Generator:
    return np.random.default_rng([SEED, zlib.crc32(cause.encode())])


def _measures(samples: Samples, d: float) -> Floats:
    """The six measures of samples, `[6, n]`."""
    even = 2 * samples.lobe_mm if samples.lobes % 2 == 0 else 0.0
    turn = np.random.default_rng(SEED).uniform(0, math.pi, samples.count)
    rows_ = (
        samples.middle_mm - d,
        samples.entry_mm - samples.middle_mm,
        samples.middle_mm - samples.exit_mm,
        np.abs((samples.oval_mm + even) * np.cos(2 * turn)),
        samples.entry_off_mm,
        samples.exit_off_mm - samples.entry_off_mm,
    )
    return np.stack([np.asarray(row, dtype=np.float64) for row in rows_])


def one_hole(how: Made, d: float, wrong: Sequence[str], seed: int) -> dict[str, float]:
    """One hole of a plan with things wrong with it, or none: the six measures in mm, as `MEASURES`.

    Cut by the forward model where that can make what is wrong, shifted by `effects.csv` where it cannot, each
    about as bad as it usually is; the same for the same seed.
    """
    luck = np.random.default_rng((seed, 23))
    at = int(luck.integers(COUNT))
    ops, setup, left = how.ops, how.setup, list[str]()
    for cause in wrong:
        amount = _amount(cause, d, how.setup.depth) if cause in fault_rows() else None
        try:
            if amount is None:
                raise InputError("fault", tr("none the model makes"))
            how_bad = float(np.asarray(amount).reshape(-1)[at % np.asarray(amount).size])
            made_ops, setup = with_faults(ops, setup, [Fault(cause, how_bad)])
            ops = tuple(made_ops)
        except InputError:
            left.append(cause)
    found = _measures(Model(ops, setup).run(COUNT, int(luck.integers(2**31))), d)
    for cause in left:
        shifted = _shifted(found, cause, d, how)
        found = found if shifted is None else shifted
    return {name: float(found[k, at]) for k, name in enumerate(MEASURES)}


def _modeled(how: Made, cause: str, d: float) -> Floats | None:
    """Holes of a cause the forward model can make; None where it cannot, or the plan has nothing for it."""
    if cause not in fault_rows():
        return None
    try:
        ops, setup = with_faults(how.ops, how.setup, [Fault(cause, _amount(cause, d, how.setup.depth))])
    except InputError:
        return None
    return _measures(Model(ops, setup).run(COUNT, SEED), d)


def _amount(cause: str, d: float, depth: float) -> Each:
    """How bad it is, one figure a sample: about the usual of `model_faults.csv`, by a factor of two. Assumed."""
    row = fault_rows()[cause]
    name, usual = row.text("field"), row.number_or_none("usual")
    if not name or usual is None:
        return 1.0
    if name == "projecting":
        return depth + (LIMP_BAR_D * 0.6 if cause == "bo_deflect" else LIMP_D) * d
    if name in ("peck", "evacuation", "spot_deg", "spring", "diameter"):
        return usual
    luck = _luck(cause)
    if name == "wear":
        return np.asarray(luck.uniform(0.5, 1.0, COUNT), np.float32)
    if name == "fluid":
        return np.asarray(luck.uniform(0.0, 0.2, COUNT), np.float32)
    if cause == "lips_length":
        usual = 0.02 * d + 0.05
    elif cause == "rm_heavy":
        usual = -0.03 * d - 0.2
    drawn = usual * np.exp(luck.normal(0, SEVERITY_SD, COUNT))
    return np.clip(drawn, row.number("least"), row.number("most")).astype(np.float32)


@cache
def _effects() -> dict[str, list[tuple[str, float, float, bool]]]:
    found: dict[str, list[tuple[str, float, float, bool]]] = {}
    for row in rows("diagnosis/effects"):
        shift = row.text("measure"), row.number("low"), row.number("high"), row.text("either_way") == "yes"
        found.setdefault(row.text("cause"), []).append(shift)
    return found


def _shifted(sound: Floats, cause: str, d: float, how: Made) -> Floats | None:
    """Sound holes shifted as a cause the model cannot make would; None for one that leaves the numbers alone."""
    luck, found = _luck(cause), sound.copy()
    if cause == FLATS:
        land = luck.uniform(*LANDS_MM, COUNT)
        found[0] -= d - np.sqrt(np.maximum(d * d - land**2, 0))
        return found
    if cause not in _effects():
        return None
    step, sign = _step(d, how), np.where(luck.random(COUNT) < 0.5, -1.0, 1.0)
    last = _last(how)
    anew = sized_since(cause, last)
    for name, low, high, either in _effects()[cause]:
        if anew and (name not in PLACES or last == "bore"):
            continue  # a later tool has made the size anew, a bar the place too
        by = (sign if either else 1.0) * luck.uniform(low, high, COUNT)
        place = MEASURES.index(name)
        if name in PLACES:
            found[place] += PLACE_STEP_MM * by
        elif name == "oval":
            found[place] += step * by * np.abs(np.cos(2 * luck.uniform(0, math.pi, COUNT)))
        else:
            found[place] += step * by
    for name in ("oval", "off_mouth"):
        found[MEASURES.index(name)] = np.abs(found[MEASURES.index(name)])
    return found


def _step(d: float, how: Made) -> float:
    """How much a process usually goes wrong by: the unit of `effects.csv`, in mm. Assumed."""
    last = _last(how)
    if last == "ream":
        return 0.010 + 0.0006 * d
    return 0.012 + 0.0006 * d if last == "bore" else 0.03 + 0.005 * d


def _last(how: Made) -> str:
    """The operation that made the size."""
    sizing = ("ream", "bore", "drill", "core_drill")
    return next((op.kind for op in reversed(how.ops) if op.kind in sizing), "drill")
