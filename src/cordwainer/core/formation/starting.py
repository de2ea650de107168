"""Center drills, spot drills and punches: where they stand and how well they hold the next drill."""

from __future__ import annotations

import numpy as np

from cordwainer.core.formation.draws import Array, Known, scores
from cordwainer.core.formation.hole import Holes, Marks, Spot
from cordwainer.core.formation.inputs import Op, Setup, at

ROWS = 5
SPOT_WEB = 0.2
STIFF = 0.04
CENTER_DEG = 60.0
PUNCH_SD_MM, PUNCH_HOLDS = 0.1, 0.7


class Deburr:
    """Both mouths freed of their burr."""

    def cut(self, holes: Holes, known: Known, seed: int, chunk: int, part: slice) -> None:
        """Take the burr away; nothing else changes."""
        earlier = holes.finish
        if earlier is None:
            return

        def finish() -> Marks:
            marks = earlier()
            return Marks(marks.lobe, marks.lobes, marks.ra, np.zeros_like(marks.burr))

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
            holds = 1 - 0.4 * np.clip(share - 1, 0, 1)
            past = np.maximum(share - 1, 0)
            mouth = op.diameter * np.minimum(share, 1)
            angle = CENTER_DEG
        elif op.kind == "punch":
            holds, past, mouth, angle = np.float32(PUNCH_HOLDS), np.float32(0), np.float32(op.diameter), 180.0
        else:
            holds, past, mouth, angle = np.float32(1), np.float32(0), np.float32(op.diameter), op.spot_deg
        holes.spot = Spot(angle, mouth, holds, past, x, y)

    def _place(
        self, holes: Holes, known: Known, part: slice, ux: Array, uy: Array, px: Array, py: Array
    ) -> tuple[Array, Array]:
        op, setup = self.op, self.setup
        if op.kind == "punch":
            sd = known["k_skate"] * PUNCH_SD_MM / 0.12
            return holes.x0 + sd * ux, holes.y0 + sd * uy
        sd = known["k_skate"] * (0.18 / 0.155) * SPOT_WEB * STIFF * op.diameter
        if op.kind == "center_drill":
            sd = sd * 0.6
        x, y = sd * ux, sd * uy
        x = x + 0.3 * at(setup.pip, part) * np.sign(ux) + 0.002 * at(setup.slope, part) * op.diameter
        if setup.rotating_work:
            return holes.x0 + x + 0.2 * at(setup.dx, part), holes.y0 + y + 0.2 * at(setup.dy, part)
        return holes.x0 + setup.rep_sd * px + x, holes.y0 + setup.rep_sd * py + y
