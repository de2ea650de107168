"""What the print allows, against ISO 286 and ISO 2768."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.part.iso286 import it_um
from cordwainer.core.part.tolerance import (
    general_limits,
    grade_of,
    iso_limits,
    limit_pair,
    read_zone,
    written_limits,
)

# ISO 286-1, table 1: IT5 to IT13 in micrometers at one size inside each range
ISO_286_IT = {
    2: (4, 6, 10, 14, 25, 40, 60, 100, 140),
    5: (5, 8, 12, 18, 30, 48, 75, 120, 180),
    8: (6, 9, 15, 22, 36, 58, 90, 150, 220),
    14: (8, 11, 18, 27, 43, 70, 110, 180, 270),
    24: (9, 13, 21, 33, 52, 84, 130, 210, 330),
    40: (11, 16, 25, 39, 62, 100, 160, 250, 390),
    65: (13, 19, 30, 46, 74, 120, 190, 300, 460),
    100: (15, 22, 35, 54, 87, 140, 220, 350, 540),
    150: (18, 25, 40, 63, 100, 160, 250, 400, 630),
    200: (20, 29, 46, 72, 115, 185, 290, 460, 720),
    280: (23, 32, 52, 81, 130, 210, 320, 520, 810),
    350: (25, 36, 57, 89, 140, 230, 360, 570, 890),
    450: (27, 40, 63, 97, 155, 250, 400, 630, 970),
}
RANGE_ENDS = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500)


@pytest.mark.parametrize("size", ISO_286_IT)
def test_h_zones_are_those_of_the_standard(size: int) -> None:
    for grade, width in zip(range(5, 14), ISO_286_IT[size], strict=True):
        limits = iso_limits(Fraction(size), f"H{grade}")
        assert limits.lower == size
        assert (limits.upper - limits.lower) * 1000 == width


@pytest.mark.parametrize(("end", "inside"), list(zip(RANGE_ENDS, ISO_286_IT, strict=True)))
def test_a_range_holds_its_own_end(end: int, inside: int) -> None:
    for grade in range(5, 14):
        assert it_um(end, grade) == it_um(inside, grade)
        if end < 500:
            assert it_um(end + 0.001, grade) > it_um(end, grade)


@given(st.integers(1, 500), st.integers(5, 12))
def test_coarser_grades_are_wider(size: int, grade: int) -> None:
    assert it_um(size, grade) < it_um(size, grade + 1)
    assert grade_of(size, it_um(size, grade) / 1000) == grade
    value = it_um(size, grade)
    near = max(0.06 * value, 1.0)  # a width within 6 % or 1 µm of a grade counts as it
    assert grade_of(size, (value - 0.9 * near) / 1000) == grade
    if value - near > it_um(size, grade - 1):
        assert grade_of(size, (value - near - 0.1) / 1000) == grade - 1


def test_js_is_even_about_the_size() -> None:
    limits = iso_limits(Fraction(20), "JS7")  # ISO 286-1: ±10.5 µm
    assert limits.upper_mm == 20.0105 and limits.lower_mm == 19.9895


@pytest.mark.parametrize("code", ["h7", "Q7", "H2", "H15", "H", "7H", "HH7", "Hs7"])
def test_codes_that_cannot_be_read_say_so(code: str) -> None:
    with pytest.raises(InputError):
        iso_limits(Fraction(18), code)


def test_sizes_outside_the_standard_are_refused() -> None:
    for size in (0, 501):
        with pytest.raises(InputError):
            iso_limits(Fraction(size), "H7")


def test_grade_of_given_limits() -> None:
    assert grade_of(9.525, 0.0203) == 7  # rules of record 13: IT7 is 15 µm, IT8 is 22
    assert grade_of(18, 0.0094) == 5
    assert grade_of(19.05, 0.0008 * 25.4) == grade_of(12.7, 0.0007 * 25.4) == 7  # common practice: the inch grades
    assert grade_of(18, 0.0001) == 2
    assert grade_of(18, 5) == 14


@pytest.mark.parametrize(
    ("nominal", "text", "lower", "upper"),
    [
        ("14 mm", "+0.018/-0 mm", 14, 14.018),
        ("14 mm", "-0/+0.018 mm", 14, 14.018),
        ("5/16 in", "-.000 +.0008 in", 7.9375, 7.95782),
        ("14 mm", "+.018 0 mm", 14, 14.018),
        ("14 mm", "+0,02/+0,01 mm", 14.01, 14.02),
        ("14 mm", "±0.1 mm", 13.9, 14.1),
        ("14 mm", "+/-0.1 mm", 13.9, 14.1),
        ("0.313 in", "+.0008/-.0000 in", 7.9502, 7.97052),
        ("20 mm", "H7", 20, 20.021),
        ("3/8 in", "±0.001 in", 9.4996, 9.5504),
    ],
)
def test_tolerances_as_written(nominal: str, text: str, lower: float, upper: float) -> None:
    limits = written_limits(parse(nominal).exact_mm, text)
    assert (limits.lower_mm, limits.upper_mm) == pytest.approx((lower, upper), abs=1e-9)


@pytest.mark.parametrize("text", ["±0.1", "0.1", "+0/-0 mm", "±20 mm", "+1/-99 mm", "±1 ell", "soft", ""])
def test_tolerances_that_cannot_be(text: str) -> None:
    with pytest.raises(InputError):
        written_limits(Fraction(14), text)


def test_general_tolerances() -> None:
    # ISO 2768-1, table 1 (from memory)
    for size, grade, half in (
        (3, "m", 0.1),
        (6, "m", 0.1),
        (30, "m", 0.2),
        (31, "f", 0.15),
        (120, "c", 0.8),
        (400, "v", 2.5),
    ):
        limits = general_limits(Fraction(size), f"ISO 2768-{grade}")
        assert limits.upper_mm - size == pytest.approx(half)
    assert general_limits(Fraction(20), "ISO 2768-mK").upper_mm == 20.2
    for bad, size in (("ISO 2768-x", 20), ("DIN 7168", 20), ("ISO 2768-v", 2), ("ISO 2768-m", 5000)):
        with pytest.raises(InputError):
            general_limits(Fraction(size), bad)


def test_zone_lines() -> None:
    zone = read_zone("0.75 in H7")
    assert zone.limits.upper_mm == pytest.approx(19.071)  # ISO 286-1: 19.05 lies in 18 to 30, IT7 = 21
    assert read_zone("20H7").limits.upper_mm == 20.021
    for bad in ("H7", "20", "20 H7 H8 x", ""):
        with pytest.raises(InputError):
            read_zone(bad)


def test_limits_in_either_order() -> None:
    assert limit_pair((parse("0.6256 in"), parse("0.6248 in"))).lower_mm == pytest.approx(15.86992)
    with pytest.raises(InputError):
        limit_pair((parse("1 mm"), parse("1 mm")))
