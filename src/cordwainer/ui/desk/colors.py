"""Which set of colors the window takes at its start: as settled, as the desktop has it, or by the sun."""

from __future__ import annotations

import math
from datetime import datetime

from cordwainer.core.language import tr

CHOICES = (
    ("light", tr("Day")),
    ("dark", tr("Dark")),
    ("desktop", tr("As the desktop")),
    ("sun", tr("Dark after sunset")),
    ("contrast", tr("High contrast")),
)
LATITUDE = 45.0  # assumed: half way to the pole, north or south of which most shops are no more than ten degrees
TILT = 23.44


def sun_is_up(at: datetime, latitude_deg: float = LATITUDE) -> bool:
    """Whether the sun stands over the horizon by local time, to about half an hour.

    Source: length of the day from the sun's declination (textbook), noon at twelve.

    >>> sun_is_up(datetime(2026, 6, 21, 20, 0), 45), sun_is_up(datetime(2026, 12, 21, 17, 0), 45)
    (False, False)
    >>> sun_is_up(datetime(2026, 6, 21, 19, 0), 45), sun_is_up(datetime(2026, 12, 21, 15, 0), 45)
    (True, True)
    """
    day = at.timetuple().tm_yday
    declination = math.radians(-TILT) * math.cos(2 * math.pi * (day + 10) / 365.25)
    share = -math.tan(math.radians(latitude_deg)) * math.tan(declination)
    half = math.degrees(math.acos(min(max(share, -1.0), 1.0))) / 15
    return abs(at.hour + at.minute / 60 - 12) < half


def colors_of(settled: object, desktop_dark: bool, at: datetime) -> str:
    """The set to take for what was settled; the day's for anything else.

    >>> colors_of("desktop", True, datetime(2026, 6, 1, 12)), colors_of("odd", True, datetime(2026, 6, 1, 12))
    ('dark', 'light')
    """
    if settled == "desktop":
        return "dark" if desktop_dark else "light"
    if settled == "sun":
        return "light" if sun_is_up(at) else "dark"
    return str(settled) if settled in ("dark", "contrast") else "light"
