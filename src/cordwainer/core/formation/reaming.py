"""What a reamer does: its size, cutting over, built-up edge, chatter, stock, misalignment; it follows the hole."""

from __future__ import annotations

from typing import Any

import numpy as np

from cordwainer.core.formation.axis import Wide, single
from cordwainer.core.formation.draws import Array, Known, fixed, scores
from cordwainer.core.formation.hole import Holes, Plan, WallMarks
from cordwainer.core.formation.inputs import Op, Setup, at

ROWS = 9


class Reamer:
    """One reaming operation."""

    def __init__(self, op: Op, setup: Setup, plan: Plan, old: Wide) -> None:
        stations = plan.stations
        self.op, self.setup = op, setup
        z = np.linspace(0.0, setup.depth, stations)
        self.rows = (z <= (op.depth if op.depth is not None else setup.depth) + 1e-9) & (old > 0)
        follows = fixed()["hand_follow" if op.by_hand else ("float_follow" if op.floating else "ream_follow")]
        columns = single(np.column_stack([np.ones(stations), np.exp(-z / op.diameter)]))
        own = single(np.full((stations, 1), 1 - follows))
        self.frame = (
            plan.add(self.rows, columns, own, single(follows * np.eye(stations))) if self.rows.any() else None
        )

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Ream a chunk of holes; solid metal is left alone."""
        frame = self.frame
        if holes.solid or frame is None:
            return
        op, setup, f = self.op, self.setup, fixed()
        drawn = scores(seed, chunk, op.stream, ROWS)[:, : holes.n]
        over_u, bell_u, built_u, fast_u, lobe_u, ra_u, burr_u, px, py = drawn
        d = np.float32(op.diameter)
        root = np.float32((op.diameter / 10) ** 0.5)
        made = d + at(op.size_error, part)
        if op.own:
            made = made + np.float32(op.zone[0]) + known[op.own] * np.float32(op.zone[1] - op.zone[0])
        stock = made - self._old_size(holes)
        usual = f["ream_usual_mm"] + f["ream_usual_per_d"] * op.diameter
        low, high = f["ream_low"] * usual, f["ream_high"] * usual
        over_stock = np.clip(stock / high - 1, 0, 3)
        under = np.where(stock > 0, np.clip(1 - stock / low, 0, 1), 0)
        wear, speed, feed = at(op.wear, part), at(op.speed, part), at(op.feed, part)
        fluid = at(op.fluid if op.fluid is not None else setup.fluid, part)
        built = setup.metal.built_up * (1 - f["fluid_on_edge"] * fluid) * known["r_bue"] * root
        built = built * np.exp(f["ream_luck"] * built_u)
        chatter = np.maximum(speed - 1, 0) * known["r_fast"] * root * np.exp(f["ream_luck"] * fast_u)
        floats = f["floating_share"] if op.floating else 1.0
        tool_x, tool_y, lean = self._tool_axis(holes, part, px, py)
        off = self._offset(holes, tool_x, tool_y) + lean
        effective = off**3 / (off**2 + f["soft_offset_mm"] ** 2)  # small offsets are taken up by bending
        effective = (
            effective / (1 + effective / f["offset_limit_mm"]) * floats * (f["hand_off"] if op.by_hand else 1.0)
        )
        hand = f["hand_cut"] if op.by_hand else 1.0
        cuts = known["r_cut"] * np.float32(op.diameter**0.5) * hand
        shop = f["reamer_spread_shop"]
        luck = np.float32(shop**0.5) * known["r_shop"] + np.float32((1 - shop) ** 0.5) * over_u
        cuts = cuts + f["reamer_spread_mm"] * np.float32(op.diameter**0.5) * luck
        runs = 2 * known["k_run"] * floats * np.maximum(at(op.runout, part) - f["ream_runout_mm"], 0)
        size = made + cuts + runs + built + chatter
        size = size + known["r_over"] * root * over_stock - known["r_under"] * root * under
        size = size - known["r_wear"] * root * wear + known["k_misc"] * effective
        bell = 2 * known["k_misr"] * effective * np.exp(f["bell_luck"] * bell_u) + known["r_under"] * root * under
        if op.by_hand:
            bell = bell + f["hand_flare_mm"] * root * np.abs(bell_u)
        numbers = np.empty((2, holes.n), np.float32)
        numbers[0], numbers[1] = size, bell
        before = holes.finish
        x, y = holes.room(frame)
        x[0], y[0] = tool_x, tool_y
        holes.cut(frame, numbers)
        holes.stock = stock.astype(np.float32)
        dirty, lobes = holes.unclean, (op.flutes if op.flutes > 2 else 6) + 1

        def finish() -> WallMarks:
            lobe = f["ream_lobe_mm"] * root + f["chatter_lobe"] * chatter + f["edge_lobe"] * built
            lobe = lobe * np.exp(f["ream_luck"] * lobe_u)
            torn = 1 + f["ream_ra_edge"] * built + f["ream_ra_chatter"] * chatter
            fed = 1 - f["ream_ra_feed"] + f["ream_ra_feed"] * feed
            ra = f["ream_ra_um"] * (1 + f["ream_ra_wear"] * wear) * fed * torn
            ra = ra * (1 + under + f["ream_ra_stock"] * over_stock) * np.exp(f["ream_ra_luck"] * ra_u)
            left = before() if before is not None else None
            if dirty is not None and left is not None:
                ra = ra + dirty * left.ra
            burr = f["ream_burr_kept"] * (left.burr if left is not None else f["burr_mm"])
            burr = burr * np.exp(f["ream_burr_luck"] * burr_u)
            return WallMarks(lobe.astype(np.float32), lobes, ra.astype(np.float32), burr.astype(np.float32))

        holes.finish = finish

    def _old_size(self, holes: Holes) -> Array:
        """The mean diameter of what the reamer finds, over its stations."""
        total = holes.zeros()
        for index, shown in holes.shown():
            cut, rows = holes.cuts[index], shown & self.rows
            if cut.dense is not None:
                total = total + cut.dense[rows].sum(axis=0)
            else:
                total = total + cut.frame.columns[rows].sum(axis=0) @ cut.d
        found: Array = total / np.float32(self.rows.sum())
        return found

    def _tool_axis(self, holes: Holes, part: slice, ux: Array, uy: Array) -> tuple[Array, Array, Any]:
        """Where the reamer's axis stands at the mouth, and its lean over two diameters."""
        setup = self.setup
        sd = setup.rep_sd
        if setup.rotating_work:
            sd = setup.align_sd
        lean = 2 * self.op.diameter * np.radians(np.abs(at(setup.angle, part)))
        x = holes.x0 + at(setup.dx, part) + sd * ux
        y = holes.y0 + at(setup.dy, part) + sd * uy
        return x, y, lean if setup.rotating_work else np.float32(0.0)

    def _offset(self, holes: Holes, tool_x: Array, tool_y: Array) -> Array:
        """How far the reamer's axis lies off the hole's at the mouth."""
        x, y = holes.axis(np.zeros(1, int))
        found: Array = np.hypot(tool_x - x[0], tool_y - y[0])
        return found
