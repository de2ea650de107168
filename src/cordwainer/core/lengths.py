"""Lengths: an exact value and the way it was written.

A `Length` keeps its value as a fraction of a millimeter, so that 25/64 in stays 25/64 in,
and its notation, so that a file gets back what was typed. Equality is by value. Inside the
core a length is a float in millimeters; inches exist only here and at the edges.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cache, lru_cache, wraps

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized
from cordwainer.core.tables import rows

MM_PER_INCH = Fraction(254, 10)
INCH_MM = 25.4
LONGEST = 60
LARGEST_MM = 100_000
INCH_WORDS = {"in", "inch", "inches", '"', "″"}
THOU_WORDS = {"thou", "mil", "mils"}
MICRON_WORDS = {"um", "µm", "μm", "micron", "microns"}
MM_WORDS = {"mm", "millimeter", "millimeters"}
# The most of a unit that is written with a comma for thousands: three meters of work.
MOST_GROUPED = {**dict.fromkeys(MM_WORDS, 3000), **dict.fromkeys(INCH_WORDS, 120)}

_SIZE = re.compile(
    r"""^(?P<sign>[+-]?)\s*
    (?: (?P<whole>[0-9]+)[\s-]+(?P<num>[0-9]+)/(?P<den>[0-9]+)
      | (?P<onlynum>[0-9]+)/(?P<onlyden>[0-9]+)
      | (?P<decimal>[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+) )
    \s*(?P<unit>["″a-zµμ]*)$""",
    re.VERBOSE,
)


@dataclass(frozen=True)
class Length:
    """An exact length in millimeters with the notation it was written in.

    `mm` is the value as a float; `unit` the system it was written in, 'mm' or 'in' (numbers and
    letters are inch).

    >>> parse("25/64 in").mm
    9.921875
    >>> parse("1-1/8 in") == parse("28.575 mm")
    True
    >>> str(parse("0.7500 in"))
    '0.7500 in'
    """

    exact_mm: Fraction
    notation: str = field(compare=False)
    mm: float = field(init=False, compare=False, repr=False)
    unit: str = field(init=False, compare=False, repr=False)

    def __post_init__(self) -> None:
        text = self.notation.lower()
        metric = any(text.endswith(word) for word in MM_WORDS | MICRON_WORDS)
        object.__setattr__(self, "mm", float(self.exact_mm))
        object.__setattr__(self, "unit", "mm" if metric else "in")

    @property
    def inch(self) -> float:
        """The value in inches."""
        return float(self.exact_mm / MM_PER_INCH)

    def __str__(self) -> str:
        return self.notation


def from_mm(value: float | Fraction, decimals: int = 4) -> Length:
    """A length from millimeters, written in millimeters without trailing zeros."""
    exact = value if isinstance(value, Fraction) else Fraction(str(round(value, decimals)))
    text = f"{float(exact):.{decimals}f}".rstrip("0").rstrip(".")
    return Length(exact, f"{text} mm")


def in_inches(exact_mm: Fraction, decimals: int = 4) -> Length:
    """A length from exact millimeters, written in decimal inches."""
    return Length(exact_mm, f"{float(exact_mm / MM_PER_INCH):.{decimals}f} in")


@cache
def number_drills() -> dict[str, Fraction]:
    """Number and letter drill sizes in inches by name (``#7``, ``letter F``).

    Source: ASME B94.11M, twist drills.
    """
    sizes = {row.text("name"): Fraction(row.text("inch")) for row in rows("drills_number")}
    for row in rows("drills_letter"):
        sizes[f"letter {row.text('name')}"] = Fraction(row.text("inch"))
    return sizes


def _once(read: Callable[..., Length]) -> Callable[..., Length]:
    """Read each text once: the same one is written in a field, a file and a document."""
    kept = lru_cache(maxsize=4096)(read)

    @wraps(read)
    def known(text: str, default_unit: str | None = None, *, signed: bool = False) -> Length:
        try:
            return kept(text, default_unit, signed=signed)
        except TypeError:  # no text at all: a list out of a file, say
            return read(text, default_unit, signed=signed)

    return known


@_once
def parse(text: str, default_unit: str | None = None, *, signed: bool = False) -> Length:
    """Read a length as the trade writes it.

    Takes decimals (``12.7 mm``, ``12,7 mm``, ``.3130 in``), fractions (``25/64 in``,
    ``1-1/8 in``), number drills (``#7``), letter drills (``letter F``), ``thou`` and ``µm``.
    A comma before three digits is a decimal's where thousands of that unit would be larger than any part here;
    else it can be read two ways. A bare number needs `default_unit` ('mm' or 'in'). Negative values need `signed`.
    Raises `InputError` saying what to write instead.

    >>> parse("20,507 mm").mm, parse("1,250 in").inch
    (20.507, 1.25)
    >>> parse("#7").inch, parse("letter F").inch, parse("12,7 mm").mm
    (0.201, 0.257, 12.7)
    """
    if not isinstance(text, str):
        raise InputError("", f"{text!r} is not a length in quotes; write {_suggest(text)}")
    shown = text.strip()
    if not shown:
        raise InputError("", "'' is empty; write a length such as '12 mm' or '0.47 in'")
    if len(shown) > LONGEST:
        raise InputError("", f"'{shown[:20]}...' is too long for a length; write '12 mm' or '0.47 in'")
    lowered = shown.lower().replace("−", "-").replace("Ø", "").replace("ø", "").strip()

    named = _named(lowered)
    if named is not None:
        return named
    match = _SIZE.match(lowered)
    if match is None:
        raise InputError("", f"'{shown}' is not a length; write '12 mm', '0.47 in', '25/64 in' or '#7'")
    unit = match["unit"] or (default_unit or "")
    value = _value(match, shown, unit)
    if not unit:
        bare = float(value)
        raise InputError("", f"'{shown}' has no unit; write '{_trim(bare)} mm' or '{_trim(bare / INCH_MM)} in'")
    if unit in MM_WORDS:
        exact, word = value, "mm"
    elif unit in INCH_WORDS:
        exact, word = value * MM_PER_INCH, "in"
    elif unit in THOU_WORDS:
        exact, word = value * MM_PER_INCH / 1000, "thou"
    elif unit in MICRON_WORDS:
        exact, word = value / 1000, "µm"
    else:
        raise InputError("", f"'{shown}': unit '{unit}' is not known; write 'mm' or 'in'")
    negative = match["sign"] == "-" and exact != 0
    if negative and not signed:
        raise InputError("", f"'{shown}' is negative; write it without the minus sign")
    exact = -exact if negative else exact
    if abs(exact) > LARGEST_MM:
        raise InputError("", f"'{shown}' is larger than any work here; the most is 100 m")
    figure = re.sub(r"\s*[\"″a-zµμ]*$", "", lowered)
    return Length(exact, f"{figure} {word}")


def _named(lowered: str) -> Length | None:
    if lowered.startswith("#") or lowered.startswith("letter"):
        name = "#" + lowered[1:].strip() if lowered[0] == "#" else f"letter {lowered[6:].strip().upper()}"
        name = re.sub(r"\s*(in|\")$", "", name)
        size = number_drills().get(name)
        if size is None:
            raise InputError("", f"'{name}' is not a drill size; number drills run #1 to #80, letters A to Z")
        return Length(size * MM_PER_INCH, name)
    return None


def _value(match: re.Match[str], shown: str, unit: str) -> Fraction:
    if match["decimal"] is not None:
        digits = match["decimal"]
        grouped = re.fullmatch(r"[1-9][0-9]{0,2},[0-9]{3}", digits)
        most = MOST_GROUPED.get(unit, LARGEST_MM)
        if grouped and int(digits.replace(",", "")) <= most:
            raise InputError(
                "",
                f"'{shown}' can be read two ways; write '{digits.replace(',', '')}' for thousands "
                f"or '{digits.replace(',', '.')}' for a decimal",
            )
        digits = digits.replace(",", ".")
        return Fraction("0" + digits if digits.startswith(".") else digits)
    whole = Fraction(match["whole"] or 0)
    numerator = int(match["num"] or match["onlynum"])
    denominator = int(match["den"] or match["onlyden"])
    if denominator == 0:
        raise InputError("", f"'{shown}' divides by zero; write a fraction such as '25/64 in'")
    if match["whole"] and numerator >= denominator:
        raise InputError("", f"'{shown}' is not a mixed number; write a part smaller than one")
    return whole + Fraction(numerator, denominator)


def _trim(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".") or "0"


def _suggest(value: object) -> str:
    if isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < LARGEST_MM:
        return f'"{_trim(value)} mm" or "{_trim(value / INCH_MM)} in"'
    return '"12 mm" or "0.47 in"'


def fraction_name(inches: Fraction, finest: int = 64) -> str | None:
    """The inch fraction exactly equal to `inches`, or None.

    >>> fraction_name(Fraction(25, 64)), fraction_name(Fraction(9, 8))
    ('25/64 in', '1-1/8 in')
    """
    if (inches * finest).denominator != 1:
        return None
    whole, rest = divmod(inches, 1)
    if not rest:
        return f"{whole} in"
    part = f"{rest.numerator}/{rest.denominator}"
    return f"{whole}-{part} in" if whole else f"{part} in"


def mm_text(value_mm: float, decimals: int = 2) -> str:
    """Millimeters with a fixed number of decimals and a true minus sign."""
    return f"{value_mm:.{decimals}f}".replace("-", "−")


def inch_text(value_mm: float, decimals: int = 4) -> str:
    """Inches as the trade prints them: no leading zero, fixed decimals, a true minus sign.

    >>> inch_text(7.9502)
    '.3130'
    """
    text = f"{value_mm / INCH_MM:.{decimals}f}"
    text = text.replace("-0.", "-.") if text.startswith("-0.") else text.removeprefix("0")
    return text.replace("-", "−")


def in_unit(value_mm: float, unit: str, decimals_mm: int = 2, decimals_in: int = 4) -> str:
    """The value in the unit shown, 'mm' or 'in', without the unit's name, as the language in force writes it."""
    return localized(inch_text(value_mm, decimals_in) if unit == "in" else mm_text(value_mm, decimals_mm))
