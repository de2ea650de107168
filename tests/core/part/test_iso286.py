"""Hole and shaft zones against published values."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.part.iso286 import CLEARING, HOLDING, delta_um, hole_deviations, it_um, shaft_deviations
from cordwainer.core.part.tolerance import read_zone, shaft_limits
from tests.test_cli import answer, run

# ISO 286-2, hole tables (from memory): size, zone, lower and upper deviation in micrometers
HOLES = [
    (25, "C11", 110, 240),
    (25, "D10", 65, 149),
    (25, "E8", 40, 73),
    (25, "F7", 20, 41),
    (25, "F8", 20, 53),
    (25, "G6", 7, 20),
    (25, "G7", 7, 28),
    (25, "J7", -9, 12),
    (25, "K6", -11, 2),
    (25, "K7", -15, 6),
    (25, "K8", -23, 10),
    (25, "M7", -21, 0),
    (25, "M8", -29, 4),
    (25, "N7", -28, -7),
    (25, "N8", -36, -3),
    (25, "N9", -52, 0),
    (25, "P6", -31, -18),
    (25, "P7", -35, -14),
    (25, "P9", -74, -22),
    (25, "R7", -41, -20),
    (25, "S7", -48, -27),
    (25, "T7", -54, -33),
    (25, "U7", -61, -40),
    (10, "N9", -36, 0),
    (10, "P9", -51, -15),
    (10, "K7", -10, 5),
    (6, "G7", 4, 16),
    (50, "K7", -18, 7),
    (50, "M7", -25, 0),
    (50, "N7", -33, -8),
    (50, "R7", -50, -25),
    (50, "S7", -59, -34),
    (100, "G7", 12, 47),
    (100, "F8", 36, 90),
    (100, "P7", -59, -24),
    (100, "R7", -73, -38),
    (100, "S7", -93, -58),
    (200, "P7", -79, -33),
    (200, "R7", -106, -60),
    (3, "K7", -10, 0),
    (3, "M7", -12, -2),
    (3, "P7", -16, -6),
    (3, "N9", -29, -4),
    (280, "M6", -41, -9),
    (130, "N4", -35, -23),  # ISO 286-1, worked example
    (40, "P7", -42, -17),
    (3, "N7", -14, -4),
]
SHAFTS = [
    (40, "g11", -169, -9),  # ISO 286-1, worked example
    (25, "f7", -41, -20),
    (25, "g6", -20, -7),
    (25, "h6", -13, 0),
    (25, "k6", 2, 15),
    (25, "k8", 0, 33),
    (25, "m6", 8, 21),
    (25, "n6", 15, 28),
    (25, "p6", 22, 35),
    (25, "r6", 28, 41),
    (25, "s6", 35, 48),
    (25, "u6", 48, 61),
    (25, "js6", -6.5, 6.5),
]


@pytest.mark.parametrize(("size", "zone", "lower", "upper"), HOLES)
def test_holes(size: int, zone: str, lower: float, upper: float) -> None:
    letter, grade = zone.rstrip("0123456789"), int(zone.lstrip("CDEFGHJKMNPRSTU"))
    found = hole_deviations(letter, Fraction(size), grade)
    assert (found.lower_um, found.upper_um) == (lower, upper)


@pytest.mark.parametrize(("size", "zone", "lower", "upper"), SHAFTS)
def test_shafts(size: int, zone: str, lower: float, upper: float) -> None:
    found = shaft_limits(Fraction(size), zone)
    assert ((found.lower - size) * 1000, (found.upper - size) * 1000) == (lower, upper)


@given(st.sampled_from(["K", "M", "N", "P", "R", "S"]), st.integers(4, 500), st.integers(6, 7))
def test_both_systems_hold_alike_in_neighboring_grades(letter: str, size: int, grade: int) -> None:
    # ISO 286-1: what the special rule is for: H7/p6 and P7/h6 have the same interference
    if letter == "M" and grade == 6 and 250 < size <= 315:
        return
    nominal = Fraction(size)
    hole = hole_deviations(letter, nominal, grade)
    basic_shaft = shaft_deviations("h", nominal, grade - 1)
    shaft = shaft_deviations(letter.lower(), nominal, grade - 1)
    basic_hole = hole_deviations("H", nominal, grade)
    assert hole.lower_um - basic_shaft.upper_um == basic_hole.lower_um - shaft.upper_um
    assert hole.upper_um - basic_shaft.lower_um == basic_hole.upper_um - shaft.lower_um


@given(st.sampled_from([*CLEARING, *HOLDING, "JS"]), st.integers(1, 500), st.integers(3, 14))
def test_every_zone_is_as_wide_as_its_grade_or_refused(letter: str, size: int, grade: int) -> None:
    try:
        found = hole_deviations(letter, Fraction(size), grade)
    except InputError as refused:
        assert f"{letter}{grade}" in str(refused).replace(letter.lower() + str(grade), f"{letter}{grade}")
        return
    assert found.upper_um - found.lower_um == Fraction(str(it_um(size, grade)))
    if letter in CLEARING:
        assert found.lower_um >= 0


def test_delta_is_one_grade_less_the_next_finer() -> None:
    for size in (5, 20, 100, 300, 450):
        for grade in range(4, 9):
            steps = Fraction(str(it_um(size, grade))) - Fraction(str(it_um(size, grade - 1)))
            assert delta_um(Fraction(size), grade) == steps
    assert delta_um(Fraction(3), 7) == 0


@pytest.mark.parametrize(
    ("zone", "words"),
    [
        ("20 K9", "K goes to K8"),
        ("20 J9", "J6, J7 and J8"),
        ("1 N9", "not used at 1 mm"),
        ("20 T7", "not given at 20 mm"),
        ("20 Q7", "no table"),
        ("20 g6", "a hole's letter is a capital"),
        ("20 H7/G6", "a shaft's letter is small"),
        ("20 Hs7", "mixes"),
    ],
)
def test_what_the_standard_does_not_give(zone: str, words: str) -> None:
    with pytest.raises(InputError, match=words):
        read_zone(zone)
    assert run("limits", zone).exit_code == 2


def test_fits() -> None:
    fit = answer("limits", "25 H7/g6")  # ISO 286-1, worked fit
    assert (fit["shaft_lower_um"], fit["shaft_upper_um"]) == (-20, -7)
    assert (fit["clearance_min_um"], fit["clearance_max_um"]) == (7, 41)
    assert fit["shaft_upper_mm"] == 24.993 and fit["upper_mm"] == 25.021
    loose = answer("limits", "20 H8/f7")
    assert (loose["clearance_min_um"], loose["clearance_max_um"]) == (20, 74)
    for press in ("25 H7/p6", "25 P7/h6"):
        held = answer("limits", press)
        assert (held["clearance_min_um"], held["clearance_max_um"]) == (-35, -1)
    assert "clearance 7 to 41 µm" in run("limits", "25 H7/g6").stdout
    assert "shaft_upper_um" not in answer("limits", "25 H7")
