"""Text and everything with it at 100 to 200 %: a setting that Qt takes when it starts."""

from __future__ import annotations

import os

from cordwainer.files.places import Settings

SIZES = (100, 125, 150, 200)
SCALE = "QT_SCALE_FACTOR"


def _given() -> float:
    try:
        return min(max(float(os.environ.get(SCALE, "1")), 0.25), 8.0)
    except ValueError:
        return 1.0


OUTSIDE = _given()  # before `prepare` puts a size of ours in its place


def size_of(settings: Settings) -> int:
    """The size in force in percent; anything unknown counts as 100."""
    found = settings.get("text_size", 100)
    return found if found in SIZES else 100


def prepare(settings: Settings) -> None:
    """Tell Qt the size before it starts; a scale given from outside stands."""
    size = size_of(settings)
    if size != 100 and SCALE not in os.environ:
        os.environ[SCALE] = f"{size / 100:g}"


def factor_of(percent: int) -> float:
    """What everything is shown at, times its plain size: on top of a scale given from outside."""
    return percent / 100 * OUTSIDE


def next_size(current: int, up: bool) -> int:
    """The next size, or the same at either end.

    >>> next_size(100, True), next_size(100, False), next_size(200, True)
    (125, 100, 200)
    """
    place = SIZES.index(current) + (1 if up else -1)
    return SIZES[min(max(place, 0), len(SIZES) - 1)]
