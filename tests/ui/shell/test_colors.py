"""Every set of colors can be read: words 4.5 to 1 on what they stand on, rings and marks 3 to 1."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

import pytest
from PyQt6.QtGui import QColor
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.ui.desk.colors import CHOICES, colors_of, sun_is_up
from cordwainer.ui.dialogs.settings import SettingsDialog
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.contrast import contrast, pairs
from tests.ui.windows import opened, shut


@pytest.fixture(params=sorted(theme.SETS))
def colors(request: pytest.FixtureRequest) -> Iterator[str]:
    theme.take(request.param)
    yield request.param
    theme.take("light")


def test_known_contrasts() -> None:
    assert contrast(QColor("#000000"), QColor("#ffffff")) == pytest.approx(21)  # WCAG 2.2, contrast ratio
    assert contrast(QColor("#767676"), QColor("#ffffff")) == pytest.approx(4.54, abs=0.01)  # the usual example


def test_words_and_marks_stand_out(colors: str) -> None:
    for one, ground, found, least in pairs():
        assert found >= least, f"{colors}: {one} on {ground} {found:.2f}"
    assert theme.PLATE.name() in theme.sheet()


def test_colors_are_settled_and_said_when_they_are_taken(qtbot: QtBot) -> None:
    window = opened(qtbot)
    dialog = SettingsDialog(window.desk.document, window.desk.selection, window.desk.settings, window)
    dialog.colors_asked.connect(lambda: window.say("said"))
    dialog.colors.chosen.emit("dark")
    assert Settings().get("colors") == "dark" and window.notice.words.text() == "said"
    shut(window)
    noon, night = datetime(2026, 6, 1, 12), datetime(2026, 6, 1, 23)
    assert [colors_of(name, True, noon) for name, _ in CHOICES] == ["light", "dark", "dark", "light", "contrast"]
    assert colors_of("sun", False, night) == "dark" and colors_of(7, True, noon) == "light"
    # At 45 degrees the longest day has 15.4 hours, the shortest 8.6. Source: almanacs, from memory.
    for day, hours in ((datetime(2026, 6, 21), 15.4), (datetime(2026, 12, 21), 8.6)):
        up = sum(sun_is_up(day.replace(hour=m // 60, minute=m % 60)) for m in range(24 * 60)) / 60
        assert up == pytest.approx(hours, abs=0.3)
