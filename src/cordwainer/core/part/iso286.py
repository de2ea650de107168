"""ISO 286 zones of holes and shafts: from a letter and a grade to deviations.

Shaft letters are tabulated; hole letters follow from them by the rules of the standard, with their
exceptions. Sizes over 0 to 500 mm, grades IT3 to IT14. Source: ISO 286-1.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from cordwainer.core.errors import InputError, OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.tables import Row, row_for, rows

FINEST_GRADE, COARSEST_GRADE = 3, 14
LARGEST_ISO_MM = 500
CLEARING = ("C", "CD", "D", "E", "EF", "F", "FG", "G", "H")
HOLDING = ("K", "M", "N", "P", "R", "S", "T", "U")
SPECIAL_TO = {"K": 8, "M": 8, "N": 8}
SPECIAL_TO_OTHERS = 7
SMALL_MM, TINY_MM = 3, 1


@dataclass(frozen=True)
class Deviations:
    """Lower and upper deviation from the nominal size, in micrometers, exact."""

    lower_um: Fraction
    upper_um: Fraction


def it_um(nominal_mm: float, grade: int) -> float:
    """Standard tolerance IT of a grade in micrometers. Source: ISO 286-1, table 1.

    >>> it_um(18, 7), it_um(18.001, 7)
    (18.0, 21.0)
    """
    if not FINEST_GRADE <= grade <= COARSEST_GRADE:
        raise InputError("", tr("IT{grade} is not tabulated; write a grade from 3 to 14", grade=grade))
    if not 0 < nominal_mm <= LARGEST_ISO_MM:
        raise InputError(
            "", tr("{nominal_mm:g} mm is outside ISO 286 here; sizes run over 0 to 500 mm", nominal_mm=nominal_mm)
        )
    return row_for("it_grades", "to_mm", nominal_mm).number(f"IT{grade}")


def _width(nominal: Fraction, grade: int) -> Fraction:
    return Fraction(str(it_um(float(nominal), grade)))


@cache
def _steps(letter: str) -> tuple[tuple[float, float, Row], ...]:
    """The rows of a letter with the sizes they are over and up to, in mm."""
    found = (row for row in rows("shaft_deviations") if row.text("letter") == letter)
    return tuple((row.number("over_mm"), row.number("to_mm"), row) for row in found)


def _not_given(letter: str, grade: int, nominal: Fraction) -> InputError:
    return InputError(
        "",
        tr(
            "'{letter}{grade}' is not given at {nominal:g} mm; give the limits of size",
            letter=letter,
            grade=grade,
            nominal=float(nominal),
        ),
    )


def _row(letter: str, nominal: Fraction) -> Row | None:
    size = float(nominal)
    return next((row for over, to, row in _steps(letter) if over < size <= to), None)


def shaft_fundamental_um(letter: str, nominal: Fraction, grade: int) -> Fraction:
    """The fundamental deviation of a shaft letter: es for c to h, ei for k to u, in micrometers.

    k counts from the table in grades 4 to 7 and is zero in others. Raises `InputError` where the
    standard gives none.
    """
    row = _row(letter, nominal)
    if row is None:
        raise _not_given(letter, grade, nominal)
    if letter == "k" and not 4 <= grade <= 7:
        return Fraction(0)
    return Fraction(row.text("fundamental_um"))


def shaft_deviations(letter: str, nominal: Fraction, grade: int) -> Deviations:
    """Deviations of a shaft zone (``g6``).

    >>> shaft_deviations("g", Fraction(25), 6) == Deviations(Fraction(-20), Fraction(-7))
    True
    """
    width = _width(nominal, grade)
    if letter == "js":
        return Deviations(-width / 2, width / 2)
    if letter.upper() not in (*CLEARING, *HOLDING):
        raise InputError(
            "",
            tr(
                "'{letter}{grade}': no table for this letter here; give the limits of size",
                letter=letter,
                grade=grade,
            ),
        )
    start = shaft_fundamental_um(letter, nominal, grade)
    if letter.upper() in CLEARING:
        return Deviations(start - width, start)
    return Deviations(start, start + width)


def hole_deviations(letter: str, nominal: Fraction, grade: int) -> Deviations:
    """Deviations of a hole zone (``H7``).

    C to H mirror the shaft: EI = -es. K to U: ES = -ei, plus delta = IT(n) - IT(n-1) above 3 mm in the
    finer grades, so that neighboring grades of both systems hold alike. Source: ISO 286-1, with its
    exceptions for N9 and coarser, M6 over 250 to 315 mm, K coarser than 8, and 3 mm and below.

    >>> hole_deviations("N", Fraction(130), 4) == Deviations(Fraction(-35), Fraction(-23))
    True
    """
    width = _width(nominal, grade)
    if letter == "JS":
        return Deviations(-width / 2, width / 2)
    if letter == "J":
        upper = _j_upper(nominal, grade)
        return Deviations(upper - width, upper)
    if letter in CLEARING:
        lower = -shaft_fundamental_um(letter.lower(), nominal, grade)
        return Deviations(lower, lower + width)
    if letter not in HOLDING:
        raise InputError(
            "",
            tr(
                "'{letter}{grade}': no table for this letter here; give the limits of size",
                letter=letter,
                grade=grade,
            ),
        )
    upper = _upper(letter, nominal, grade)
    return Deviations(upper - width, upper)


def _j_upper(nominal: Fraction, grade: int) -> Fraction:
    if grade not in (6, 7, 8):
        raise InputError(
            "", tr("'J{grade}' is not given; J comes in J6, J7 and J8, or write JS{grade}", grade=grade)
        )
    return Fraction(row_for("hole_special", "to_mm", float(nominal)).text(f"J{grade}"))


def _upper(letter: str, nominal: Fraction, grade: int) -> Fraction:
    small = nominal <= SMALL_MM
    if letter == "K" and grade > SPECIAL_TO["K"] and not small:
        raise InputError("", tr("'K{grade}' is not given above 3 mm; K goes to K8", grade=grade))
    if letter == "N" and grade > SPECIAL_TO["N"]:
        if nominal <= TINY_MM:
            raise InputError("", tr("'N{grade}' is not used at 1 mm and below; N goes to N8 there", grade=grade))
        return Fraction(-4 if small else 0)
    row = _row(letter.lower(), nominal)
    if row is None:
        raise _not_given(letter, grade, nominal)
    upper = -Fraction(row.text("fundamental_um"))
    if letter == "M" and grade == 6 and 250 < nominal <= 315:
        return Fraction(-9)
    if grade <= SPECIAL_TO.get(letter, SPECIAL_TO_OTHERS) and not small:
        upper += delta_um(nominal, grade)
    return upper


def delta_um(nominal: Fraction, grade: int) -> Fraction:
    """IT of a grade less IT of the next finer one, in micrometers. Source: ISO 286-1, hole deviations."""
    try:
        return Fraction(row_for("hole_delta", "to_mm", float(nominal)).text(f"IT{grade}"))
    except OutOfRangeError as bad:
        raise InputError("", str(bad)) from None
