"""Center drills, spot drills and punches: where they stand and how well they hold the next drill."""

from __future__ import annotations

import numpy as np

from cordwainer.core.formation.draws import Array, Known, fixed, scores
from cordwainer.core.formation.hole import Holes, Spot, WallMarks
from cordwainer.core.formation.inputs import Op, Setup, at
from cordwainer.core.tables import by_key

ROWS = 5
CENTER_DEG = 60.0


class Deburr:
    """Both mouths freed of their burr."""

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Take the burr away; nothing else changes."""
        earlier = holes.finish
        if earlier is None:
            return

        def finish() -> WallMarks:
            marks = earlier()
            return WallMarks(marks.lobe, marks.lobes, marks.ra, np.zeros_like(marks.burr))

        holes.finish = finish


class Start:
    """One center drill, spot drill or punch mark. It leaves a record, not a diameter."""

    def __init__(self, op: Op, setup: Setup) -> None:
        self.op, self.setup = op, setup

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Make the start in a chunk of holes that are still solid; past that it changes nothing."""
        if not holes.solid:
            return
        op = self.op
        ux, uy, px, py, _ = scores(seed, chunk, op.stream, ROWS)[:, : holes.n]
        x, y = self._place(holes, known, part, ux, uy, px, py)
        share = at(op.taper_share, part)
        if op.kind == "center_drill":
            holds = 1 - fixed()["past_hold"] * np.clip(share - 1, 0, 1)
            past = np.maximum(share - 1, 0)
            mouth = op.diameter * np.minimum(share, 1)
            angle = CENTER_DEG
        elif op.kind == "punch":
            holds, past, mouth, angle = (
                np.float32(fixed()["punch_holds"]),
                np.float32(0),
                np.float32(op.diameter),
                180.0,
            )
        else:
            holds, past, mouth, angle = np.float32(1), np.float32(0), np.float32(op.diameter), op.spot_deg
        holes.spot = Spot(angle, mouth, holds, past, x, y)

    def _place(
        self, holes: Holes, known: Known, part: slice, ux: Array, uy: Array, px: Array, py: Array
    ) -> tuple[Array, Array]:
        op, setup, f = self.op, self.setup, fixed()
        if op.kind == "punch":
            sd = known["k_skate"] * f["punch_sd_mm"] / by_key("model_constants", "id")["k_skate"].number("value")
            return holes.x0 + sd * ux, holes.y0 + sd * uy
        sd = known["k_skate"] * f["chisel_per_web"] * f["spot_web"] * f["spot_limp"] * op.diameter
        if op.kind == "center_drill":
            sd = sd * f["center_skate"]
        x, y = sd * ux, sd * uy
        x = x + f["start_pip"] * at(setup.pip, part) * np.sign(ux)
        x = x + f["start_slope"] * at(setup.slope, part) * op.diameter
        if setup.rotating_work:
            tail = f["start_tail"]
            return holes.x0 + x + tail * at(setup.dx, part), holes.y0 + y + tail * at(setup.dy, part)
        return holes.x0 + setup.rep_sd * px + x, holes.y0 + setup.rep_sd * py + y
