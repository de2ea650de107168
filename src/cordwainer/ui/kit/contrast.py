"""How far words and marks stand out from what they stand on, in every set of colors. Source: WCAG 2.2."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtGui import QColor

from cordwainer.ui.kit import theme

WORDS_LEAST, MARKS_LEAST = 4.5, 3.0
WORDS = {
    "INK": ("PLATE", "HI", "LO", "BRASS", "BARE"),
    "INK2": ("PLATE", "HI", "LO"),
    "HI": ("INK",),
    "LO": ("INK",),
    "BRASSINK": ("PLATE", "HI"),
    "SCRIBE": ("DYE", "DYELO"),
    "SCRIBE2": ("DYE", "DYELO"),
    "BRASSDYE": ("DYE", "DYELO"),
}
MARKS = {"INK": ("PLATE", "HI", "LO", "STEEL", "BARE", "BRASS"), "BRASS": ("INK",), "SCRIBE": ("DYE",)}


def luminance(color: QColor) -> float:
    """Relative luminance, 0 to 1."""
    parts = [
        p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in color.getRgbF()[:3] if p is not None
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: QColor, other: QColor) -> float:
    """The contrast ratio of two colors, 1 to 21."""
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)


def pairs() -> Iterator[tuple[str, str, float, float]]:
    """What stands on what in the set in use, its contrast, and the least it has to have."""
    for table, least in ((WORDS, WORDS_LEAST), (MARKS, MARKS_LEAST)):
        for name, grounds in table.items():
            for ground in grounds:
                yield name, ground, contrast(getattr(theme, name), getattr(theme, ground)), least
