"""A plot in the one look: ink axes in the typeface, no menu, no buttons."""

from __future__ import annotations

import pyqtgraph as pg
from PyQt6.QtCore import Qt

from cordwainer.ui.kit import theme


def framed() -> pg.PlotWidget:
    """An empty plot."""
    plot = pg.PlotWidget(background=theme.HI)
    inside = plot.viewport()
    for part in (plot, inside) if inside is not None else (plot,):
        part.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # told in words beside it
    plot.setMenuEnabled(False)
    plot.hideButtons()
    for side in ("left", "bottom"):
        axis = plot.getAxis(side)
        axis.setPen(pg.mkPen(theme.INK, width=1.2))
        axis.setTextPen(pg.mkPen(theme.INK))
        axis.setStyle(tickFont=theme.font(13))
        axis.enableAutoSIPrefix(False)
    return plot
