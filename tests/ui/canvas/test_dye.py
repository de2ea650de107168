"""Dyed fields: kept while they are used, few however often a window changes its size."""

from __future__ import annotations

from pytestqt.qtbot import QtBot

from cordwainer.ui.canvas import dye


def test_a_field_is_drawn_once_and_old_sizes_go(qtbot: QtBot) -> None:
    first = dye.dyed(600, 400, 1.0)
    assert dye.dyed(600, 400, 1.0) is first
    for width in range(601, 641):
        dye.dyed(width, 400, 1.0)
    assert sum(field.width() * field.height() for field in dye._kept.values()) <= dye.KEPT_PIXELS
    assert dye.dyed(600, 400, 1.0) is not first
    large = dye.dyed(4000, 3000, 1.0)
    assert dye.dyed(4000, 3000, 1.0) is large
