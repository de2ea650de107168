"""How readily a size is had from the trade: what choosing it costs over a common one, in minutes."""

from __future__ import annotations

import re
from fractions import Fraction

from cordwainer.core.lengths import MM_PER_INCH, Length
from cordwainer.core.part.hole import Hole
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constants

BY_SIZE = ("drill", "core_drill", "spade_drill", "reamer")
SMALL_MM = 6.35
_DECIMAL = re.compile(r"^[0-9]*\.([0-9]{3,})")


def commonness(tool: Tool, hole: Hole) -> float:
    """Minutes for taking a tool of that size from what is sold. Source: rules of record 26, `size_prices.csv`."""
    if tool.kind not in BY_SIZE:
        return 0.0
    p = constants("size_prices")
    other = 0.0 if tool.diameter.unit == hole.own_unit else p["other_unit"]
    if tool.kind != "drill":
        other *= 2
    return other + p[_series(tool.diameter, hole)]


def _series(size: Length, hole: Hole) -> str:
    """The row a size belongs to."""
    if size.notation.startswith(("#", "letter")):
        threaded = hole.feature.thread is not None and hole.feature.thread.system == "unified"
        asked = threaded or size.mm < SMALL_MM or size == hole.diameter
        return "number_asked" if asked else "number"
    if size.unit == "mm":
        if (2 * size.exact_mm).denominator == 1:
            return "whole"
        return "tenth" if (10 * size.exact_mm).denominator == 1 else "fine"
    inches: Fraction = size.exact_mm / MM_PER_INCH
    if (32 * inches).denominator == 1:
        return "whole"
    return "tenth" if (64 * inches).denominator == 1 else "fine"


def names(written: Length, tool: Tool) -> bool:
    """Whether a size as written is that tool's own: equal, or a decimal that is the tool's to its last place.

    >>> from cordwainer.core.lengths import parse
    >>> from cordwainer.core.shop.makers import twist_drill
    >>> names(parse(".2812 in"), twist_drill(parse("9/32 in")))
    True
    >>> names(parse(".2812 in"), twist_drill(parse("letter K")))
    False
    """
    if tool.diameter == written:
        return True
    printed = _DECIMAL.match(written.notation)
    if printed is None or written.unit != "in" or tool.diameter.unit != "in":
        return False
    unit = Fraction(1, 10 ** len(printed[1])) * MM_PER_INCH
    return abs(tool.diameter.exact_mm - written.exact_mm) <= unit / 2
