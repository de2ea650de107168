"""The tolerance slot keeps what matters in view."""

from __future__ import annotations

import pytest
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.ui.canvas.slot import Marker, Slot
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Chooser, Field
from cordwainer.ui.shell.frame import Notice
from tests.jobs import hole

HOLE = hole("18 mm", "H7", "24 mm")


@pytest.fixture
def slot(qtbot: QtBot, qapp: QApplication) -> Slot:
    """A slot of a usual size."""
    theme.apply(qapp)
    found = Slot()
    qtbot.addWidget(found)
    found.resize(700, 240)
    return found


def colors_at(slot: Slot, x: int) -> set[str]:
    """The colors down one column of pixels."""
    image = slot.grab().toImage()
    return {image.pixelColor(x, y).name() for y in range(image.height())}


def test_both_limits_are_always_in_view(slot: Slot) -> None:
    for mean, sd in ((18.009, 0.002), (18.030, 0.004), (17.96, 0.004)):
        slot.show_expected(HOLE, "mm", mean, sd)
        first, last = slot._span()
        assert first < 18.0 and last > 18.018
    for size in (18.009, 18.1, 17.95):
        slot.show_readings(HOLE, "mm", [Marker(size, "3 deep", False, "accept")], 0.004)
        first, last = slot._span()
        assert first < 18.0 - 0.004 and last > 18.018 + 0.004
        if abs(size - 18.009) < 0.1:
            assert first < size < last


def test_dye_stands_outside_the_limits_only(slot: Slot) -> None:
    slot.show_expected(HOLE, "mm", 18.009, 0.002)

    def blue(x: int) -> int:
        return sum(
            230 < (QColor(name).hue()) < 270 and QColor(name).saturation() > 120 for name in colors_at(slot, x)
        )

    assert blue(10) > 3 and blue(690) > 3 and blue(350) == 0
    assert theme.BRASS.name() in colors_at(slot, 350) and theme.BRASS.name() not in colors_at(slot, 10)


def test_nothing_is_drawn_without_a_hole(slot: Slot) -> None:
    slot.show_expected(None, "mm", None, None)
    assert len(colors_at(slot, 350)) == 1


def test_inches_are_labelled_without_a_leading_zero(slot: Slot) -> None:
    slot.show_expected(hole("7/16 in", "+.0012/-.0000 in", "1 in"), "in", 11.12, 0.003)
    assert not slot.grab().isNull() and slot._span()[0] < 11.1125


def test_small_parts_behave(qtbot: QtBot, slot: Slot) -> None:
    notice = Notice()
    qtbot.addWidget(notice)
    notice.say("something")
    assert notice.words.text() == "something" and not notice.isHidden()
    notice.button.click()
    assert notice.isHidden()
    notice.say("")
    assert notice.isHidden()
    chooser = Chooser()
    qtbot.addWidget(chooser)
    chooser.addItems(["a", "b"])
    assert not chooser.grab().isNull()
    field = Field("Depth")
    qtbot.addWidget(field)
    kept: list[str] = []
    field.kept.connect(kept.append)
    field.setText("12")
    qtbot.keyClick(field, "\r")
    field.set_wrong(True)
    assert kept == ["12"] and field.property("wrong") is True and field.accessibleName() == "Depth"
