"""What a hole costs over how many are made: a line a kind of drill, where they cross, and how surely."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, tr
from cordwainer.core.scheduling.cost import Drilling, cost_per_hole
from cordwainer.ui.canvas.plots import framed
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.layout import NONE, down

MOST, POINTS = 10_000, 900
STYLES = {
    "hss": (theme.INK, 2.4, Qt.PenStyle.SolidLine),
    "cobalt": (theme.INK, 2.0, Qt.PenStyle.DashLine),
    "carbide": (theme.DYE, 3.2, Qt.PenStyle.SolidLine),
    "insert": (theme.BRASSINK, 2.6, Qt.PenStyle.DashDotLine),
    "spade": (theme.BRASSINK, 2.2, Qt.PenStyle.DotLine),
}


def _figure(value: float) -> str:
    return f"{value:.0f}" if value >= 1 else localized(f"{value:.3g}")


@dataclass(frozen=True)
class Crossing:
    """From how many holes a dearer drill is never dearer again; the same with lives falling out either way."""

    count: int
    cost: float
    soon: int | None
    late: int | None


class CostPlot(QWidget):
    """Quantity along, cost up, both in decades: what is bought once falls as a straight line."""

    def __init__(self) -> None:
        super().__init__()
        box = down(self, NONE)
        self.plot = framed()
        self.plot.setMouseEnabled(False, False)
        self.plot.setLogMode(True, True)
        decades = [(k, f"{10**k:,}".replace(",", "\u2009")) for k in range(5)]
        self.plot.getAxis("bottom").setTicks([decades])
        box.addWidget(self.plot)
        self.setAccessibleName(tr("Cost of a hole over how many are made"))
        self.setMinimumHeight(210)

    def show_kinds(
        self, kinds: Sequence[Drilling], rate: float, currency: str, quantity: int, crossings: Sequence[Crossing]
    ) -> None:
        """Show the kinds of drill at a rate per hour; `quantity` is this job's."""
        self.plot.clear()
        if not kinds:
            return
        counts = np.unique(np.round(np.geomspace(1, MOST, POINTS)))
        costs = [cost_per_hole(kind, counts, rate) for kind in kinds]
        for kind, cost in zip(kinds, costs, strict=True):
            color, wide, dash = STYLES[kind.kind]
            self.plot.plot(counts, cost, pen=pg.mkPen(color, width=wide, style=dash), name=kind.words)
        if quantity > 0:
            line = pg.InfiniteLine(np.log10(quantity), pen=pg.mkPen(theme.BRASS, width=5))
            line.setZValue(-10)
            self.plot.addItem(line)
        for crossing in crossings:
            if crossing.soon is not None:
                late = min(crossing.late or MOST, MOST)
                self.plot.plot(
                    [max(crossing.soon, 1), late], [crossing.cost] * 2, pen=pg.mkPen(theme.INK2, width=1.4)
                )
            ring = pg.ScatterPlotItem(
                [np.log10(crossing.count)],
                [np.log10(max(crossing.cost, 1e-9))],
                size=13,
                pen=pg.mkPen(theme.INK, width=2),
                brush=pg.mkBrush(theme.HI),
            )
            self.plot.addItem(ring)
        self.plot.setXRange(0, 4, padding=0.01)
        low, high = (np.log10(max(f(float(f(c)) for c in costs), 1e-4)) for f in (min, max))
        first, last = int(np.floor(low)), int(np.ceil(high))
        self.plot.setYRange(low - 0.1, high, padding=0.02)
        every = [(k + np.log10(m), m * 10.0**k) for k in range(first, last + 1) for m in (1, 2, 5)]
        ticks = [(at, _figure(value)) for at, value in every if at < high - 0.05]
        self.plot.getAxis("left").setTicks([ticks])
        left = tr("cost of a hole") + (f", {currency}" if currency else "")
        self.plot.setLabel("left", left, color=theme.INK.name(), **{"font-size": "13px"})
        self.plot.setLabel("bottom", tr("holes made as one lot"), color=theme.INK.name(), **{"font-size": "13px"})
        words = ", ".join(
            tr("{k} {c:.2f} at {most}", k=k.words, c=float(c[-1]), most=MOST)
            for k, c in zip(kinds, costs, strict=True)
        )
        self.setAccessibleDescription(words)
