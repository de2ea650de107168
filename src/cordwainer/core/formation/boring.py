"""Single-point boring: a springy bar that passes on a share of every error, less with each pass."""

from __future__ import annotations

from typing import Any

import numpy as np

from cordwainer.core.formation.axis import Wide
from cordwainer.core.formation.draws import Known, fixed, scores
from cordwainer.core.formation.hole import Holes, Plan, WallMarks
from cordwainer.core.formation.inputs import Op, Setup, at

ROWS = 7
HSS_MODULUS = 207e3


def bar_stiffness(op: Op, projecting: float) -> float:
    """Radial stiffness of a round bar in N/mm: 3 E pi d^4 / (64 L^3)."""
    return float(3 * op.modulus * np.pi * op.bar**4 / (64 * projecting**3))


def passes_left(op: Op, share: Wide, from_mm: Any, to_mm: float) -> tuple[Wide, Wide]:
    """Error of the last pass, and the share of an old axis error left, for spring ratio mu at each station.

    r_i = (T_i + mu r_{i-1}) / (1 + mu); equal roughing steps take 85 % of the stock, the last pass the rest; each
    spring pass leaves q_s of what stood. Source: derived.
    """
    q = share / (1 + share)
    rubs = q + (1 - q) * fixed()["spring_rub"]
    size, left = np.array(from_mm, float), np.ones_like(q)
    stock = to_mm - np.asarray(from_mm, float)
    for number in range(1, op.passes + 1):
        last = number == op.passes
        part = 1.0 if last else fixed()["bore_rough"] * number / max(op.passes - 1, 1)
        size = (1 - q) * (from_mm + part * stock) + q * size
        left = left * q
    for _ in range(op.spring):
        size = to_mm + rubs * (size - to_mm)
        left = left * rubs
    return size - to_mm, left


class Bore:
    """One boring operation."""

    def __init__(self, op: Op, setup: Setup, plan: Plan, old: Wide) -> None:
        stations = plan.stations
        self.op, self.setup = op, setup
        self.z = np.linspace(0.0, setup.depth, stations)
        self.rows = (self.z <= (op.depth if op.depth is not None else setup.depth) + 1e-9) & (old > 0)
        self.length = op.projecting if op.projecting is not None else setup.depth + op.bar + 10
        slack = bar_stiffness(op, self.length)
        grow = ((self.length + self.z) / self.length) ** 3 if op.quill else np.ones(stations)
        self.per_force = grow * fixed()["bore_feed_mm"] / slack
        eye = np.eye(stations, dtype=np.float32)
        self.frame = plan.add(self.rows, eye, eye, None) if self.rows.any() else None

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Bore a chunk of holes; the axis moves to the machine's own."""
        frame = self.frame
        if holes.solid or frame is None:
            return
        op, setup = self.op, self.setup
        size_u, lobe_u, ra_u, burr_u, px, py, taper_u = scores(seed, chunk, op.stream, ROWS)[:, : holes.n]
        before, (x_old, y_old) = holes.diameter(), holes.axis()
        mu = np.outer(self.per_force, np.broadcast_to(known["b_kr"], (holes.n,)) * setup.metal.cutting_n_mm2)
        error, left = passes_left(op, mu, before, op.diameter)
        if op.compensated:
            error = error - error[0]
        z = self.z[:, None]
        taper = z * (2 * np.radians(at(setup.bed_angle, part)) + fixed()["bore_taper"] * taper_u)
        size = op.diameter + at(op.size_error, part) + error + taper + fixed()["bore_sd_mm"] * size_u
        ax = holes.x0 if setup.rotating_work else holes.x0 + setup.rep_sd * px
        ay = holes.y0 if setup.rotating_work else holes.y0 + setup.rep_sd * py
        x = (ax + left * (x_old - ax)).astype(np.float32)
        y = (ay + left * (y_old - ay)).astype(np.float32)
        earlier = holes.finish
        own_x, own_y = holes.room(frame)
        own_x[:], own_y[:] = x, y
        holes.cut(frame, size.astype(np.float32), size.astype(np.float32))
        dirty, jaws = holes.unclean, setup.jaws
        index = max(
            0.0, self.length / op.bar / (fixed()["bore_chatter_d"] * (op.modulus / HSS_MODULUS) ** 0.4) - 1
        )
        wear = at(op.wear, part)

        def finish() -> WallMarks:
            f = fixed()
            ra = f["bore_ra_um"] * (1 + wear + f["bore_ra_chatter"] * index) * np.exp(f["ream_ra_luck"] * ra_u)
            if dirty is not None and earlier is not None:
                ra = ra + dirty * earlier().ra
            lobe = f["bore_lobe_mm"] * index * np.exp(f["ream_luck"] * lobe_u)
            burr = f["burr_mm"] * np.exp(f["bore_burr_luck"] * burr_u)
            return WallMarks(lobe.astype(np.float32), jaws, ra.astype(np.float32), burr.astype(np.float32))

        holes.finish = finish
