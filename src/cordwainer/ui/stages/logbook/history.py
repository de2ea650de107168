"""What one tool has cut, hole by hole: marks by verdict, its mean for each grind, the handbook's band."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainterPath
from PyQt6.QtWidgets import QWidget

from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.language import tr
from cordwainer.core.learning.chart import Chart, individuals
from cordwainer.core.lengths import INCH_MM
from cordwainer.ui.canvas.plots import framed
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.layout import NONE, down

if TYPE_CHECKING:
    from cordwainer.logbook.book import History, ToolUsed

CHARTED = 50
VERDICTS = ("accept", "cannot_tell", "reject", "")


def _shapes() -> dict[str, QPainterPath]:
    """A mark for each verdict, a unit across: shape says it, never color alone."""
    ring = QPainterPath()
    ring.addEllipse(QPointF(0, 0), 0.5, 0.5)
    ring.addEllipse(QPointF(0, 0), 0.2, 0.2)
    diamond = QPainterPath(QPointF(0, -0.55))
    for x, y in ((0.55, 0), (0, 0.55), (-0.55, 0), (0, -0.55)):
        diamond.lineTo(x, y)
    square = QPainterPath()
    square.addRect(-0.45, -0.45, 0.9, 0.9)
    square.moveTo(-0.45, -0.45)
    square.lineTo(0.45, 0.45)
    square.moveTo(-0.45, 0.45)
    square.lineTo(0.45, -0.45)
    plain = QPainterPath()
    plain.addEllipse(QPointF(0, 0), 0.35, 0.35)
    return {"accept": ring, "cannot_tell": diamond, "reject": square, "": plain}


def charted(holes: Sequence[History]) -> tuple[list[int], Chart | None]:
    """Places of the newest 50 like the last, in grind, material and opened or from solid; their chart in mm."""
    if not holes:
        return [], None

    def like(hole: History) -> tuple[int, str, bool]:
        return hole.grinds, hole.material, hole.previous_mm > 0

    at = [k for k, hole in enumerate(holes) if like(hole) == like(holes[-1])][-CHARTED:]
    return at, individuals([holes[k].over_mm for k in at])


class HistoryPlot(QWidget):
    """A tool in time: holes in order along, size over the label up."""

    def __init__(self) -> None:
        super().__init__()
        box = down(self, NONE)
        self.plot = framed()
        box.addWidget(self.plot)
        self.setAccessibleName(tr("What the tool has cut"))
        self.setMinimumHeight(240)

    def show_history(
        self, tool: ToolUsed | None, holes: Sequence[History], unit: str, kind: str = "drill"
    ) -> None:
        """Draw a tool's measured holes in order; nothing where there are none."""
        plot: Any = self.plot
        plot.clear()
        one = INCH_MM if unit == "in" else 1.0
        label = {"color": theme.INK2.name(), "font-size": "14px"}
        plot.setLabel("left", tr("over its size, {unit}", unit=unit), **label)
        plot.setLabel("bottom", tr("holes in order"), **label)
        if tool is None or not holes:
            self.setAccessibleDescription(tr("nothing measured yet"))
            return
        x = np.arange(1, len(holes) + 1, dtype=float)
        y = np.array([hole.over_mm for hole in holes]) / one
        if kind == "drill" and tool.diameter_mm > 0:
            self._band(tool.diameter_mm, len(holes), one)
        shapes, verdicts = _shapes(), np.array([hole.verdict for hole in holes])
        for verdict in VERDICTS:
            at = verdicts == verdict if verdict else ~np.isin(verdicts, VERDICTS[:-1])
            if at.any():
                fill = {"reject": theme.INK, "cannot_tell": theme.SCRIBE2}.get(verdict, theme.BRASS)
                plot.addItem(
                    pg.ScatterPlotItem(
                        x[at], y[at], size=13, symbol=shapes[verdict], pen=pg.mkPen(theme.INK, width=1.2),
                        brush=pg.mkBrush(fill), pxMode=True,
                    )
                )  # fmt: skip
        self._grinds(x, y, np.array([hole.grinds for hole in holes]))
        self._limits(holes, one)
        plot.setXRange(0.2, len(holes) + 0.8, padding=0.01)
        self.setAccessibleDescription(
            tr(
                "{count} holes, {mean:+.4f} {unit} over its size in the mean",
                count=len(holes),
                mean=float(y.mean()),
                unit=unit,
            )
        )

    def _band(self, diameter_mm: float, count: int, one: float) -> None:
        """The handbook's low, mean and high, as a bare band behind the marks."""
        low, mean, high = (float(v) / one for v in survey_oversize(diameter_mm))
        band = pg.LinearRegionItem(
            (low, high), orientation="horizontal", movable=False, brush=pg.mkBrush(theme.BARE), pen=pg.mkPen(None)
        )
        band.setZValue(-10)
        self.plot.addItem(band)
        line = pg.InfiniteLine(mean, angle=0, pen=pg.mkPen(theme.INK2, width=1, style=Qt.PenStyle.DotLine))
        self.plot.addItem(line)

    def _limits(self, holes: Sequence[History], one: float) -> None:
        """The tool's own limits over the holes they are of, and a larger ring about those that stand out."""
        at, chart = charted(holes)
        if chart is None:
            return
        for level in (chart.lower / one, chart.upper / one):
            pen = pg.mkPen(theme.INK, width=1.2)
            self.plot.plot([at[0] + 0.6, at[-1] + 1.4], [level, level], pen=pen)
        drifting = chart.run if chart.run and chart.run[-1] == len(at) - 1 else ()
        out = sorted({*chart.beyond, *drifting})
        if out:
            places = [at[k] for k in out]
            ring = pg.ScatterPlotItem(
                [k + 1 for k in places], [holes[k].over_mm / one for k in places], size=22, symbol="o",
                pen=pg.mkPen(theme.INK, width=1.4), brush=None, pxMode=True,
            )  # fmt: skip
            self.plot.addItem(ring)

    def _grinds(self, x: Any, y: Any, grinds: Any) -> None:
        """The tool's own mean while it was ground one way, and a full stroke at each regrind."""
        for grind in np.unique(grinds):
            at = grinds == grind
            mean = float(y[at].mean())
            pen = pg.mkPen(theme.INK, width=1.6, style=Qt.PenStyle.DashLine)
            self.plot.plot([x[at].min() - 0.4, x[at].max() + 0.4], [mean, mean], pen=pen)
            if x[at].min() > 1:
                self.plot.addItem(pg.InfiniteLine(x[at].min() - 0.5, angle=90, pen=pg.mkPen(theme.INK, width=2.4)))
