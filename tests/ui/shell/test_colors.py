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
from tests.ui.windows import opened, shut

WORDS = [
    ("INK", ("PLATE", "HI", "LO", "BRASS", "BARE")),
    ("INK2", ("PLATE", "HI", "LO")),
    ("HI", ("INK",)),
    ("LO", ("INK",)),
    ("BRASSINK", ("PLATE", "HI")),
    ("SCRIBE", ("DYE", "DYELO")),
    ("SCRIBE2", ("DYE", "DYELO")),
    ("BRASSDYE", ("DYE", "DYELO")),
]
MARKS = [("INK", ("PLATE", "HI", "LO", "STEEL", "BARE", "BRASS")), ("BRASS", ("INK",)), ("SCRIBE", ("DYE",))]


def light(color: QColor) -> float:
    """Relative luminance. Source: WCAG 2.2."""
    parts = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in color.getRgbF()[:3]]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: QColor, other: QColor) -> float:
    """How far two colors stand apart. Source: WCAG 2.2."""
    high, low = sorted((light(one), light(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.fixture(params=sorted(theme.SETS))
def colors(request: pytest.FixtureRequest) -> Iterator[str]:
    theme.take(request.param)
    yield request.param
    theme.take("light")


def test_known_contrasts() -> None:
    assert contrast(QColor("#000000"), QColor("#ffffff")) == pytest.approx(21)  # WCAG 2.2, contrast ratio
    assert contrast(QColor("#767676"), QColor("#ffffff")) == pytest.approx(4.54, abs=0.01)  # the usual example


def test_words_and_marks_stand_out(colors: str) -> None:
    for pairs, least in ((WORDS, 4.5), (MARKS, 3.0)):
        for name, grounds in pairs:
            for ground in grounds:
                found = contrast(getattr(theme, name), getattr(theme, ground))
                assert found >= least, f"{colors}: {name} on {ground} {found:.2f}"
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
