"""A hole as the trade writes it in one line, read into its parts."""

from __future__ import annotations

import re
from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.tolerance import is_code, written_limits

_UNIT = r"(?:mm|in(?:ch(?:es)?)?|\"|″)"
_LENGTH = rf"(?:#\s*[0-9]+|letter\s+[a-z]|(?:[0-9]+[\s-]+)?[0-9]+/[0-9]+|[0-9]*[.,]?[0-9]+)\s*{_UNIT}?"
_DEPTH = re.compile(
    rf"\bdepth\s*(?P<a>{_LENGTH})|(?:^|[\s,x×])(?P<b>{_LENGTH})\s*deep\b|\bdeep\s*(?P<c>{_LENGTH})", re.I
)
_THROUGH = re.compile(rf"\b(?:through|thru)\s*(?P<a>{_LENGTH})?|(?P<b>{_LENGTH})\s*(?:thick)\b", re.I)
_CODE = re.compile(r"\b([A-Z]{1,2}[0-9]{1,2})\b")
_FIGURES = re.compile(
    rf"((?:±|\+/-)\s*[0-9]*[.,]?[0-9]+\s*{_UNIT}?|[+]\s*[0-9]*[.,]?[0-9]+\s*(?:/|\s)\s*[-+]?\s*[0-9]*[.,]?[0-9]+\s*{_UNIT}?)",
    re.I,
)
_SIZE = re.compile(rf"^(?:Ø|⌀|dia\.?)?\s*(?P<size>{_LENGTH})", re.I)
_INCH_LOOK = re.compile(r"(^|[^0-9])\.[0-9]|[0-9]/[0-9]|#|letter", re.I)


@dataclass(frozen=True)
class Callout:
    """What one line says: diameter, tolerance as written (with a unit), depth, through."""

    diameter: Length
    tolerance: str | None
    depth: Length | None
    through: bool


def read_callout(text: str, default_unit: str = "mm") -> Callout:
    """Read ``18 H7 through 32``, ``Ø16 H7, 32 deep`` or ``.6875 +.001 -.000, 1-1/4 deep``.

    Without a unit, inch forms (no leading zero, fractions, number drills) are inches and the rest
    is in `default_unit`. Raises `InputError` naming what could not be read.

    >>> found = read_callout("Ø16 H7, 32 deep")
    >>> str(found.diameter), found.tolerance, str(found.depth), found.through
    ('16 mm', 'H7', '32 mm', False)
    >>> found = read_callout(".6875 +.001 -.000 through 1-1/4")
    >>> str(found.diameter), found.tolerance, str(found.depth), found.through
    ('.6875 in', '+.001 -.000 in', '1-1/4 in', True)
    """
    rest = " ".join(text.replace("−", "-").split())
    if not rest:
        raise InputError("", "nothing is written yet; write it as '18 H7 through 32'")
    if re.search(r"[0-9]\s*(?:in|inch|\"|″)(?![a-z])", rest, re.I):
        unit = "in"
    elif re.search(r"[0-9]\s*mm\b", rest, re.I):
        unit = "mm"
    else:
        unit = "in" if _INCH_LOOK.search(rest) else default_unit

    through, depth = False, None
    match = _THROUGH.search(rest)
    if match:
        through = True
        depth = match["a"] or match["b"]
        rest = rest[: match.start()] + " " + rest[match.end() :]
    match = _DEPTH.search(rest)
    if match:
        depth = depth or match["a"] or match["b"] or match["c"]
        rest = rest[: match.start()] + " " + rest[match.end() :]
    tolerance = None
    figures = _FIGURES.search(rest)
    code = _CODE.search(rest)
    if figures:
        tolerance = figures[1].strip()
        rest = rest[: figures.start()] + " " + rest[figures.end() :]
        if not re.search(rf"{_UNIT}$", tolerance, re.I):
            tolerance = f"{tolerance} {unit}"
    elif code and is_code(code[1]):
        tolerance = code[1]
        rest = rest[: code.start()] + " " + rest[code.end() :]
    rest = rest.strip(" ,;")
    found = _SIZE.match(rest)
    if found is None:
        raise InputError("", f"no size can be read in '{text.strip()}'; write it as '18 H7 through 32'")
    left = rest[found.end() :].strip(" ,;x×")
    if left:
        raise InputError("", f"'{left}' could not be read; write the depth as '32 deep' or 'through 32'")
    diameter = parse(found["size"], unit)
    if diameter.exact_mm <= 0:
        raise InputError("", f"'{found['size']}' is not a size; write more than zero")
    if tolerance:
        written_limits(diameter.exact_mm, tolerance)
    return Callout(diameter, tolerance, parse(depth, unit) if depth else None, through)
