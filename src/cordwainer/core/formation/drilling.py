"""What a drill of any kind does to a hole: size, bell, axis, finish, burr, torque.

Cut diameter = D + f_o O + f_e ecc + f_o B0 bell + E bent + packing, with E = exp(-z/D) and B0 = exp(-z/1.5D) less
its mean over the depth. Sources and marks of every constant: `model_constants.csv`, `model_fixed.csv`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Any

import numpy as np

from cordwainer.core.chance import normal_cdf
from cordwainer.core.cutting.force import drill_load, relief, smoothstep
from cordwainer.core.cutting.strength import STEEL_N_MM2, torsion_limit_nm
from cordwainer.core.formation.axis import MODES, Wide, follow, responses, single, stiffness
from cordwainer.core.formation.draws import Array, Known, fixed, scores
from cordwainer.core.formation.hole import Holes, Plan, WallMarks
from cordwainer.core.formation.inputs import Op, Setup, at
from cordwainer.core.formation.oversize import scatter_left, survey_oversize

ROWS, SELDOM = 4 + 2 * MODES, 7
KIND_OVER = {"spade_drill": "over_spade", "core_drill": "over_core", "end_mill": "over_mill"}
OPENERS = {"core_drill": "core_follow", "end_mill": "mill_follow"}
NEARLY = 0.995  # a drill no larger than the hole cuts next to nothing


@lru_cache(maxsize=64)
def survey_law(diameter: float) -> tuple[float, float, float, float]:
    """Median, slopes per score below and above it, and floor in mm of an ordinary drill's oversize from solid.

    Two straight lines in the normal score through the survey's least (2 %), a median that makes the mean the
    survey's, and its greatest (98 %); steeper beyond (assumed).

    >>> [round(v / 25.4, 5) for v in survey_law(6.35)[:1]]
    [0.00368]
    """
    low, mean, high = survey_oversize(diameter)
    score = fixed()["survey_score"]
    lean = 0.398942 / score  # mean of the positive half of a normal score, over the score of the extremes
    median = (mean - lean * (low + high)) / (1 - 2 * lean)
    return median, (median - low) / score, (high - median) / score, fixed()["tail_floor"] * low


def survey_sample(law: tuple[float, float, float, float], score: Array) -> Array:
    """Oversize from solid in mm for normal scores, by a `survey_law`."""
    median, below, above, floor = (np.float32(value) for value in law)
    limit, steep = np.float32(fixed()["survey_score"]), np.float32(fixed()["tail_slope"] - 1)
    high, low = np.maximum(score, 0), np.minimum(score, 0)
    high += steep * np.maximum(high - limit, 0)
    low += steep * np.minimum(low + limit, 0)
    high *= above
    low *= below
    high += low
    high += median
    found: Array = np.maximum(high, floor)
    return found


@dataclass(frozen=True)
class Following:
    """What opening a hole leaves of a drill's oversize, wander and lip error, and how far it follows the path."""

    over: float
    wander: float
    lips: float
    follow: float


def following(op: Op, old_mm: float) -> Following:
    """For an old hole of that nominal size; 0 is solid. Source: common practice, assumed sizes.

    >>> following(Op("drill", 10.0, 1), 2.5)
    Following(over=0.4, wander=0.35, lips=0.35, follow=0.9)
    """
    if old_mm <= 0:
        return Following(1.0, 1.0, 1.0, 0.0)
    f, share = fixed(), old_mm / op.diameter
    if op.kind in OPENERS:
        return Following(f["opener_over"], f["opener_wander"], f["opener_lips"], f[OPENERS[op.kind]])
    freed = relief(share, chisel(op) / op.diameter)
    thin = smoothstep((share - f["thin_from"]) / f["thin_span"])
    return Following(
        round(1 - f["pilot_size"] * freed * (1 - f["thin_share"] * thin), 6),
        round(1 - f["pilot_wander"] * freed, 6),
        round(1 - f["pilot_lips"] * freed, 6),
        f["pilot_follow"] * freed,
    )


def chisel(op: Op) -> float:
    """Length of the chisel edge in mm; a split point's is 0.03 d."""
    return (fixed()["split_chisel"] if op.split else op.web * fixed()["chisel_per_web"]) * op.diameter


def projecting(op: Op, setup: Setup) -> float:
    """How far the tool stands out in mm."""
    return op.projecting if op.projecting is not None else setup.depth + 4 * op.diameter + 10


class Drill:
    """One drilling operation, made once on nominal sizes; `cut` runs it on a chunk."""

    def __init__(self, op: Op, setup: Setup, plan: Plan, old: Wide) -> None:
        """`old` is the nominal diameter at each station before it, 0 for solid."""
        stations = plan.stations
        self.op, self.setup = op, setup
        d, depth = op.diameter, setup.depth
        self.z = np.linspace(0.0, depth, stations)
        self.rows = self.z <= (op.depth if op.depth is not None else depth) + 1e-9
        here = old[self.rows]
        self.from_solid = bool(here[0] <= 0)
        self.opened = min(float(here.max()) if here.size else 0.0, NEARLY * op.diameter)
        takes = following(op, self.opened)
        drilled = int(np.flatnonzero(old > 0)[-1]) + 1 if (old > 0).any() else 0
        past = np.arange(stations) >= drilled
        values = (takes.over, takes.wander, takes.lips, takes.follow)
        over, wander, lips, keep = (np.full(stations, value) for value in values)
        if not self.from_solid:
            end = self.z[drilled - 1] if drilled else 0.0
            solid = -np.expm1(-(self.z[past] - end) / (fixed()["guided_d"] * d))
            over[past], lips[past] = (1 - (1 - share) * (1 - solid) for share in (takes.over, takes.lips))
            wander[past], keep[past] = 1.0, 1.0
        self.length = projecting(op, setup)
        self.k = stiffness(op, self.length)
        kd = setup.metal
        feed = op.feed_mm * float(np.mean(op.feed))
        loads = drill_load(d, feed, kd.kd_torque, kd.kd_thrust, chisel(op) / d, self.opened)
        self.thrust, self.torque = loads.thrust_n, loads.torque_nm
        pull = min(self.k / (fixed()["support_stiffness"] * self.thrust), 1 / (2 * d))
        answer = responses(depth, d, round(pull, 9), stations)
        tip = answer.offset + fixed()["tip_tilt"] / self.length * answer.tilt
        mine = [1 - keep, (1 - keep) * self.z, (1 - keep) * tip, wander[:, None] * answer.modes]
        gain = np.zeros((stations, stations))
        if drilled:
            gain[:, :drilled] = keep[:, None] * follow(depth, d, drilled, stations)
        entry = np.exp(-self.z / d)
        bell = np.exp(-self.z / (fixed()["bell_d"] * d))
        bell = bell - bell[self.rows].mean()
        self.xi = self._packing()
        self.packs = bool(self.xi[self.rows].max() > 0)
        self.law, self.mean = survey_law(d), float(survey_oversize(d)[1])
        pack = self.xi + self.xi.max() * entry / 2
        columns = single(np.column_stack([np.ones(stations), over, lips, bell * over, entry, pack]))
        own = single(np.column_stack(mine))
        self.least_over = float(over[self.rows].min()) if self.rows.any() else 1.0
        self.drop = -float((bell * over)[self.rows].min()) if self.rows.any() else 0.0
        self.frame = plan.add(self.rows, columns, own, single(gain) if drilled else None)

    def _packing(self) -> Wide:
        """Peck beyond what the flutes carry at each depth, over it; where a wider hole is above, below that."""
        op, d = self.op, self.op.diameter
        lim = self.setup.metal.peck_d * op.evacuation
        f = fixed()
        share = f["peck_fluid"]
        fluid = float(np.mean(op.fluid if op.fluid is not None else self.setup.fluid))
        climbs = np.maximum(self.z - op.cleared, 0)
        deep = np.maximum(f["peck_least_d"], lim - f["peck_per_d"] * np.maximum(climbs / d - lim, 0))
        reach = d * deep * (1 - share + share * fluid)
        bite = np.minimum(op.peck or self._bites(), climbs)
        over: Wide = np.maximum(bite / reach - 1, 0)
        most = f["pack_most"]
        found: Wide = most * -np.expm1(-over / most)  # packed flutes rub; what they cannot take stays behind
        return found

    def _bites(self) -> Wide:
        """The bite that passes each station: from one clearing of chips to the next."""
        if not self.op.stops:
            return np.full(len(self.z), self.setup.depth)
        ends = np.array([0.0, *self.op.stops])
        index = np.clip(np.searchsorted(ends, self.z, side="left"), 1, len(ends) - 1)
        found: Wide = ends[index] - ends[index - 1]
        return found

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Drill a chunk of holes; `part` is which of all samples they are."""
        op, setup, f = self.op, self.setup, fixed()
        u = scores(seed, chunk, op.stream, ROWS)[:, : holes.n]

        @cache
        def seldom() -> Array:
            return scores(seed, chunk, op.stream, SELDOM, 1)[:, : holes.n]

        over_u, bell_u, place_x, place_y = u[:4]
        d = np.float32(op.diameter)
        wear, runout, dlip = at(op.wear, part), at(op.runout, part), at(op.lip_angle_difference, part)
        fluid = at(op.fluid if op.fluid is not None else setup.fluid, part)
        feed = at(op.feed, part)
        built = setup.metal.built_up * (1 - f["fluid_on_edge"] * fluid)
        worse = 1 + f["wear_over"] * wear + f["feed_over"] * (feed - 1) ** 2
        worse = worse + f["edge_over"] * built * (1 - fluid)
        kind = f[KIND_OVER[op.kind]] if op.kind in KIND_OVER else 1.0
        apart = np.float32(scatter_left(op.known_holes))
        over = survey_sample(self.law, apart * over_u) * (kind * op.quality * worse)
        half = np.radians(op.point_deg / 2)
        lips: Any = np.float32(0.0)
        if np.any(dlip):
            lips = known["g_lip"] * d * np.radians(np.abs(dlip)) / np.float32(np.sin(half) ** 2)
        if np.any(runout > f["runout_free_mm"]):
            felt = f["runout_turning"] if setup.rotating_work else 1.0
            lips = lips + 2 * known["k_run"] * np.maximum(runout - f["runout_free_mm"], 0) * felt
        e = None if op.eccentricity is None else at(op.eccentricity, part)
        if e is not None:
            over = over * (1 - f["ordinary_share"])
            lips = lips + 2 * np.clip(known["g_e"] + f["lip_gain_luck"] * seldom()[0], 0.02, 1.0) * np.abs(e)
        mean = self.mean
        bell = known["k_bell"] * mean * np.exp(f["bell_luck"] * bell_u)
        start_x, start_y, bent = self._start(holes, known, part, seldom, place_x, place_y)
        turn = setup.rotating_work
        place = (
            (holes.x0, holes.y0)
            if turn
            else (holes.x0 + setup.rep_sd * place_x, holes.y0 + setup.rep_sd * place_y)
        )
        if turn:
            bent, lips = self._misaligned(holes, known, part, bent, lips, place_x, place_y)
        pack: Any = 0.0
        if self.packs:
            pack = known["k_pack"] * mean * op.quality * kind * np.exp(f["pack_luck"] * seldom()[6])
        wide = np.broadcast_to(d + at(op.size_error, part), (holes.n,))
        numbers = np.empty((6, holes.n), np.float32)
        for row, value in zip(numbers, (wide, over, lips, bell, bent, pack), strict=True):
            row[:] = value
        wander = known["s_wander"] * setup.metal.wander * self._tool_wander(part)
        if turn:
            wander = wander * known["rho_w"]
        tilt = np.radians(at(setup.angle, part)) if not turn else 0.0
        x, y = holes.room(self.frame)
        x[0], x[1], x[2] = place[0], tilt, start_x
        y[0], y[1], y[2] = place[1], 0.0, start_y
        np.multiply(u[4 : 4 + MODES], wander, out=x[3:])
        np.multiply(u[4 + MODES :], wander, out=y[3:])
        holes.cut(self.frame, numbers)
        self._loads(holes, wear, built, feed, dlip, e)
        left, dirty = holes.finish, holes.unclean

        def finish() -> WallMarks:
            free = np.maximum(self.least_over * over + lips - self.drop * bell, 0)
            return self._marks(over + lips, free, wear, built, feed, seldom()[3:6], left, dirty)

        holes.finish = finish

    def _tool_wander(self, part: slice) -> Any:
        op, f = self.op, fixed()
        stiff = (STEEL_N_MM2 / op.modulus) ** 0.5 * (f["margins_wander"] if op.margins >= 4 else 1.0)
        stiff = stiff * (f["split_wander"] if op.split else 1.0)
        blunt = f["relief_wander"] * (1 - np.minimum(at(op.relief, part), 1))
        return stiff * (1 + f["wear_wander"] * at(op.wear, part) + blunt)

    def _start(
        self, holes: Holes, known: Known, part: slice, seldom: Callable[[], Array], px: Array, py: Array
    ) -> tuple[Any, Any, Any]:
        """Where the point goes at first touch, and the bell that leaves."""
        op, setup, f = self.op, self.setup, fixed()
        zero = holes.zeros()
        if not self.from_solid:
            return zero, zero, zero
        ux, uy = seldom()[1:3]
        if op.found_sd is not None:
            return op.found_sd * ux, op.found_sd * uy, zero
        limp = (self.length / (f["limp_d"] * op.diameter)) ** 3 * STEEL_N_MM2 / op.modulus
        limp = limp / (1 + limp)
        spot = holes.spot
        holds: Any = np.float32(0.0)
        if spot is not None:
            holds = spot.holds * np.clip(
                spot.mouth / np.float32(f["holding_mouth"] * chisel(op)), f["least_hold"], 1
            )
        free = 1 - f["hold_of_spot"] * holds
        skate = known["k_skate"] * chisel(op) * limp * free
        x, y = skate * ux, skate * uy
        slope = np.radians(at(setup.slope, part))
        push = np.minimum(known["k_slope"] * self.thrust * np.tan(slope) / self.k, f["slope_most"] * op.diameter)
        x = x + free * push
        if spot is None:
            x = x + f["pip_push"] * at(setup.pip, part) * np.sign(ux)
            bent: Any = zero
        else:
            turn = setup.rotating_work
            here = (holes.x0, holes.y0) if turn else (holes.x0 + setup.rep_sd * px, holes.y0 + setup.rep_sd * py)
            x, y = x + holds * (spot.x - here[0]), y + holds * (spot.y - here[1])
            narrow = (
                np.clip((op.point_deg - spot.angle) / f["corner_deg"], 0, 1)
                * np.minimum(1.0, spot.mouth / op.diameter) ** 2
            )
            corner = known["k_corner"] * op.diameter
            bent = corner * (narrow + f["center_corner"] * spot.past)
        if setup.rotating_work:
            bent = bent + np.hypot(x, y)
            x, y = known["rho_c"] * x, known["rho_c"] * y
        return x, y, bent

    def _misaligned(
        self, holes: Holes, known: Known, part: slice, bent: Any, lips: Any, ux: Array, uy: Array
    ) -> tuple[Any, Any]:
        """A tailstock off the axis: the drill bends, then orbits."""
        setup, f = self.setup, fixed()
        sd = setup.align_sd
        off = np.hypot(at(setup.dx, part) + sd * ux, at(setup.dy, part) + sd * uy)
        limit = f["offset_limit_mm"]
        lean = 2 * self.op.diameter * np.radians(np.abs(at(setup.angle, part)))
        bent = bent + 2 * known["k_misd"] * (off + lean) / (1 + (off + lean) / limit)
        return bent, lips + f["off_orbit"] * known["k_misd"] * off / (1 + off / limit)

    def _loads(self, holes: Holes, wear: Any, built: Any, feed: Any, dlip: Any, e: Any) -> None:
        """Unequal chips, peak torque over the expected one, and the chance to break."""
        op = self.op
        half = np.radians(op.point_deg / 2)
        if e is not None or np.any(dlip):
            lips = 2 * np.abs(e) / np.tan(half) if e is not None else 0.0
            lips = lips + op.diameter / 2 * np.radians(np.abs(dlip)) / np.sin(half) ** 2
            holes.chips = np.maximum(holes.chips, np.clip(lips / (op.feed_mm * feed), 0, 1).astype(np.float32))
        worst = float(self.xi[self.rows].max())
        f = fixed()
        share = (1 + f["torque_packing"] * worst) * (1 + f["edge_torque"] * built) * (1 + f["wear_torque"] * wear)
        holes.torque = np.maximum(holes.torque, np.float32(share))
        limit = torsion_limit_nm(op.diameter)
        over = float(np.log(np.mean(share) * self.torque / limit)) / fixed()["break_spread"]
        holes.breaks = max(holes.breaks, normal_cdf(over))

    def _marks(
        self,
        over: Any,
        free: Any,
        wear: Any,
        built: Any,
        feed: Any,
        u: Array,
        left: Callable[[], WallMarks] | None,
        dirty: Any,
    ) -> WallMarks:
        """Lobes, roughness and burr; `free` is how far the tightest station lies over the drill that passed."""
        op, f = self.op, fixed()
        lobe = f["lobe_per_over"] * np.abs(over) * np.exp(f["lobe_luck"] * u[0])
        lobe = np.minimum(lobe, free / 2)  # the drill passed, so its own size still does
        worst = float(self.xi[self.rows].max())
        ra = f["drill_ra_um"] * (1 + wear + built + worst / 2) * np.exp(f["ra_luck"] * u[1])
        if left is not None and dirty is not None:
            ra = ra + dirty * left().ra
        recommended = f["feed_per_d"] * op.diameter ** f["feed_power"]
        burr = f["drill_burr"] * self.setup.metal.burr * recommended * feed * (1 + 2 * wear)
        burr = burr * np.exp(f["burr_luck"] * u[2])
        lobes = 3 if op.flutes == 2 else op.flutes + 1
        return WallMarks(lobe.astype(np.float32), lobes, ra.astype(np.float32), burr.astype(np.float32))
