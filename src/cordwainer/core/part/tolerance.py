"""What the print allows: ISO codes, limits, plus/minus and general tolerances."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from cordwainer.core.errors import InputError, OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_WORDS, MM_WORDS, Length, parse
from cordwainer.core.part.iso286 import (
    COARSEST_GRADE,
    FINEST_GRADE,
    LARGEST_ISO_MM,
    hole_deviations,
    shaft_deviations,
)
from cordwainer.core.tables import row_for

NEAR_SHARE, NEAR_UM = 0.06, 1.0
_CODE = re.compile(r"^([A-Za-z]{1,2})\s*([0-9]{1,2})$")
_NUMBER = r"[0-9]*[.,]?[0-9]+"
_PLUS_MINUS = re.compile(rf"^(?:±|\+/-|\+-)\s*(?P<both>{_NUMBER})\s*(?P<unit>[\"″a-zµμ]*)$")
_TWO = re.compile(
    rf"^(?P<upper>[+-]?\s*{_NUMBER})\s*(?:/|\s)\s*(?P<lower>[+-]?\s*{_NUMBER})"
    rf"\s*(?P<unit>[\"″a-zµμ]*)$"
)


@dataclass(frozen=True)
class Limits:
    """Lower and upper limit of size as exact millimeters.

    >>> limits = iso_limits(Fraction(18), "H7")
    >>> float(limits.lower), float(limits.upper)
    (18.0, 18.018)
    """

    lower: Fraction
    upper: Fraction

    @cached_property
    def lower_mm(self) -> float:
        """Lower limit in millimeters."""
        return float(self.lower)

    @cached_property
    def upper_mm(self) -> float:
        """Upper limit in millimeters."""
        return float(self.upper)

    @cached_property
    def width_mm(self) -> float:
        """Upper minus lower limit in millimeters."""
        return float(self.upper - self.lower)

    @cached_property
    def middle_mm(self) -> float:
        """Half way between the limits in millimeters."""
        return float((self.upper + self.lower) / 2)


def iso_limits(nominal: Fraction, code: str) -> Limits:
    """Limits of a hole by ISO code, such as ``H7`` or ``K6``.

    Raises `InputError` for an unreadable code, a shaft's letter, or a zone the standard does not give.
    Source: ISO 286-1.
    """
    letter, grade = split_code(code)
    if letter.islower():
        raise InputError("", tr("'{code}' is a shaft zone; a hole's letter is a capital, such as 'H7'", code=code))
    found = hole_deviations(letter, nominal, grade)
    return Limits(nominal + found.lower_um / 1000, nominal + found.upper_um / 1000)


def shaft_limits(nominal: Fraction, code: str) -> Limits:
    """Limits of a shaft by ISO code, such as ``g6``. Source: ISO 286-1."""
    letter, grade = split_code(code)
    if not letter.islower():
        raise InputError("", tr("'{code}' is a hole zone; a shaft's letter is small, such as 'g6'", code=code))
    found = shaft_deviations(letter, nominal, grade)
    return Limits(nominal + found.lower_um / 1000, nominal + found.upper_um / 1000)


def split_code(code: str) -> tuple[str, int]:
    """Letter and grade of an ISO code."""
    match = _CODE.match(code.strip())
    if match is None:
        raise InputError("", tr("'{code}' is not a tolerance code; write one such as 'H7', or limits", code=code))
    if match[1] != match[1].upper() and match[1] != match[1].lower():
        raise InputError(
            "", tr("'{code}' mixes small and capital letters; write 'H7' for holes, 'g6' for shafts", code=code)
        )
    return match[1], int(match[2])


def is_code(text: str) -> bool:
    """Whether a tolerance is written as a code (``H7``) and not as figures."""
    return _CODE.match(text.strip()) is not None


def general_limits(nominal: Fraction, standard: str = tr("ISO 2768-m")) -> Limits:
    """Limits by a general tolerance, ``ISO 2768-f|m|c|v`` (letters may follow, as in ``-mK``).

    Source: ISO 2768-1, table 1 (from memory).
    """
    match = re.fullmatch(r"ISO\s*2768\s*-\s*([fmcv])[HKL]?", standard.strip())
    if match is None:
        raise InputError("", tr("'{standard}' is not known; write 'ISO 2768-m' (or f, c, v)", standard=standard))
    try:
        # The first row includes its lower end, 0.5 mm; the others begin above theirs.
        size = float(nominal) + (1e-9 if nominal == Fraction(1, 2) else 0.0)
        half = row_for("general_tolerances", "to_mm", size, "over_mm").number_or_none(match[1])
    except OutOfRangeError:
        half = None
    if half is None:
        raise InputError(
            "", tr("ISO 2768-{match} gives no tolerance at this size; give one with the hole", match=match[1])
        )
    return Limits(nominal - Fraction(str(half)), nominal + Fraction(str(half)))


def _figure(text: str) -> Fraction:
    text = text.replace(" ", "").replace(",", ".")
    sign = -1 if text.startswith("-") else 1
    digits = text.lstrip("+-")
    return sign * Fraction("0" + digits if digits.startswith(".") else digits)


def written_limits(nominal: Fraction, text: str, default_unit: str | None = None) -> Limits:
    """Limits from a tolerance as written: ``H7``, ``+0.02/-0 mm``, ``±0.001 in``.

    Raises `InputError` with what to write when it cannot be read.

    >>> limits = written_limits(Fraction(14), "+0.018/-0 mm")
    >>> limits.upper_mm
    14.018
    >>> written_limits(Fraction(14), "-0/+0.018 mm").upper_mm
    14.018
    """
    shown = text.strip()
    if is_code(shown):
        return iso_limits(nominal, shown)
    plain = shown.lower().replace("−", "-")
    both = _PLUS_MINUS.match(plain)
    if both:
        half = _figure(both["both"]) * _scale(both["unit"], default_unit, shown)
        return _checked(nominal - half, nominal + half, shown)
    two = _TWO.match(plain)
    if two:
        scale = _scale(two["unit"], default_unit, shown)
        upper, lower = _figure(two["upper"]) * scale, _figure(two["lower"]) * scale
        if two["upper"].startswith("-") and two["lower"].startswith("+"):
            upper, lower = lower, upper
        return _checked(nominal + lower, nominal + upper, shown)
    raise InputError(
        "",
        tr("'{shown}' is not a tolerance; write 'H7', '+0.02/-0 mm', '±0.001 in' or give two limits", shown=shown),
    )


def _scale(unit: str, default_unit: str | None, shown: str) -> Fraction:
    unit = unit or default_unit or ""
    if unit in MM_WORDS:
        return Fraction(1)
    if unit in INCH_WORDS:
        return Fraction(254, 10)
    if not unit:
        raise InputError("", tr("'{shown}' has no unit; write '{shown} mm' or '{shown} in'", shown=shown))
    raise InputError("", tr("'{shown}': unit '{unit}' is not known; write 'mm' or 'in'", shown=shown, unit=unit))


def _checked(lower: Fraction, upper: Fraction, shown: str) -> Limits:
    if lower >= upper:
        raise InputError(
            "", tr("'{shown}' leaves no room; write the upper deviation first, as '+0.02/-0 mm'", shown=shown)
        )
    if lower <= 0:
        raise InputError(
            "", tr("'{shown}' would allow no hole at all; write a tolerance smaller than the size", shown=shown)
        )
    return Limits(lower, upper)


def limit_pair(pair: tuple[Length, Length]) -> Limits:
    """Limits from two lengths, in either order."""
    low, high = sorted((pair[0].exact_mm, pair[1].exact_mm))
    return _checked(low, high, tr("{pair} to {pair_2}", pair=pair[0], pair_2=pair[1]))


def grade_of(nominal_mm: float, width_mm: float) -> int:
    """The coarsest IT grade not wider than `width_mm`: what the print asks, whatever way it asks.

    A width within 6 % of a grade's, or within 1 um of it, counts as that grade, so that the usual inch tolerances
    fall where a toolmaker puts them. 2 stands for anything finer than IT3. Sources: ISO 286-1, table 1; rules of
    record 13.

    >>> grade_of(9.525, 0.0203)
    7
    """
    row = row_for("it_grades", "to_mm", min(nominal_mm, float(LARGEST_ISO_MM)))
    for grade in range(COARSEST_GRADE, FINEST_GRADE - 1, -1):
        value = row.number(f"IT{grade}")
        if value - max(NEAR_SHARE * value, NEAR_UM) <= width_mm * 1000 + 1e-6:
            return grade
    return FINEST_GRADE - 1


@dataclass(frozen=True)
class Zone:
    """An ISO size and code read from one line, as ``20 H7``, ``0.75 in H7`` or ``20 H7/g6``."""

    nominal: Length
    code: str
    limits: Limits
    shaft_code: str = ""
    shaft: Limits | None = None

    @property
    def clearance(self) -> tuple[Fraction, Fraction] | None:
        """Least and most clearance in exact millimeters, negative where it holds; None without a shaft."""
        if self.shaft is None:
            return None
        return self.limits.lower - self.shaft.upper, self.limits.upper - self.shaft.lower


def read_zone(text: str) -> Zone:
    """Read ``20 H7`` or ``20 H7/g6`` (millimeters unless a unit stands there) into limits."""
    code = r"[A-Za-z]{1,2}\s*[0-9]{1,2}"
    match = re.fullmatch(rf"\s*(.+?)\s*({code})(?:\s*/\s*({code}))?\s*", text)
    if match is None:
        raise InputError(
            "", tr("'{words}' is not a size with a code; write it as '20 H7' or '0.75 in H7'", words=text)
        )
    nominal = parse(match[1], "mm")
    hole = match[2].replace(" ", "")
    limits = iso_limits(nominal.exact_mm, hole)
    if match[3] is None:
        return Zone(nominal, hole, limits)
    shaft = match[3].replace(" ", "")
    return Zone(nominal, hole, limits, shaft, shaft_limits(nominal.exact_mm, shaft))
