"""Check values a machinist would hold the program against, one line each."""

from __future__ import annotations

import math
from fractions import Fraction

import pytest

from cordwainer.core.cutting.depth import center_mouth, cone_depth, cone_length, point_length, ring_area
from cordwainer.core.cutting.reading import Ask, ToolZero, read
from cordwainer.core.cutting.speed import rpm_for, rpm_shop_form, surface_speed
from cordwainer.core.lengths import number_drills, parse
from cordwainer.core.measuring.corrections import flat_jaw
from cordwainer.core.part.tolerance import grade_of, iso_limits
from cordwainer.core.shop.catalog import catalog_shop
from cordwainer.core.shop.machine import Scale

FOOT_M = 0.3048


def feet(rpm: float, inches: float) -> float:
    """Surface speed in feet per minute."""
    return surface_speed(rpm, inches * 25.4) / FOOT_M


def test_undersize_by_label() -> None:
    # common practice: 1/64 under half an inch; half a millimeter under ten
    assert parse("1/2 in").exact_mm - parse("1/64 in").exact_mm == parse("31/64 in").exact_mm
    assert parse("1/64 in").mm == pytest.approx(0.397, abs=1e-3)  # arithmetic: 1/64 in is not half a millimeter
    assert (ring_area(10, 9), ring_area(10, 9.8)) == pytest.approx((14.92, 3.11), abs=0.02)  # arithmetic


@pytest.mark.parametrize(
    ("depth", "diameter", "angle", "tip"),
    [(0.375, 0.1875, 118, 0.4313), (0.625, 0.201, 118, 0.6854), (0.750, 0.201, 118, 0.8104)],
)
def test_tip_depths(depth: float, diameter: float, angle: float, tip: float) -> None:
    assert depth + point_length(diameter, angle) == pytest.approx(tip, abs=5e-4)  # arithmetic


def test_a_drill_zeroed_on_its_tip_is_shallower_than_it_looks() -> None:
    assert 0.5 - point_length(0.375, 118) == pytest.approx(0.3873, abs=5e-4)  # arithmetic


@pytest.mark.parametrize(("angle", "factor"), [(118, 0.3004), (120, 0.2887), (135, 0.2071), (140, 0.1820)])
def test_cones_as_drawn_and_as_ground(angle: float, factor: float) -> None:
    assert point_length(1.0, angle) == pytest.approx(factor, abs=2e-4)  # arithmetic


def test_a_number_four_center_drill() -> None:
    pilot, body = 0.125, 0.3125
    assert cone_length(pilot, body) == pytest.approx(0.1624, abs=5e-4)
    assert 2 / 3 * cone_length(pilot, body) == pytest.approx(0.1083, abs=5e-4)
    mouths = [center_mouth(pilot, body, share) for share in (0.5, 2 / 3, 0.75)]
    assert mouths == pytest.approx([0.2188, 0.250, 0.2656], abs=5e-4)
    assert (mouths[2] - 0.201) / 2 == pytest.approx(0.0323, abs=5e-4)  # chamfer left on a no. 7 hole
    assert mouths[-1] < body  # past the cone the body would rub


def test_center_drill_bodies() -> None:
    bodies = {
        t.designation: (t.body_diameter_mm or 0) / 25.4
        for t in catalog_shop().of_kind("center_drill")
        if t.series == "plain"
    }
    assert (bodies["#4 1/2"], bodies["#7"], bodies["#8"]) == pytest.approx((3 / 8, 5 / 8, 3 / 4))  # ASME B94.11M


@pytest.mark.parametrize(
    ("rpm", "inches", "ft"),
    [
        (3000, 0.1875, 147),
        (1000, 0.375, 98),
        (315, 1.5, 124),
        (200, 1.5, 78.5),
        (280, 0.5, 36.7),
        (400, 31 / 64, 50.7),
        (250, 49 / 64, 50.1),
        (620, 49 / 64, 124.3),
        (20, 3, 15.7),
        (30, 3, 23.6),
    ],
)
def test_surface_speeds_in_feet(rpm: float, inches: float, ft: float) -> None:
    assert feet(rpm, inches) == pytest.approx(ft, abs=0.6)  # arithmetic


@pytest.mark.parametrize(
    ("rpm", "mm", "m_min"), [(2000, 0.4, 2.51), (2000, 0.5, 3.14), (600, 10, 18.85), (60, 10, 1.885)]
)
def test_surface_speeds_in_meters(rpm: float, mm: float, m_min: float) -> None:
    assert surface_speed(rpm, mm) == pytest.approx(m_min, abs=0.05)  # arithmetic


def test_turning_speed_and_its_half() -> None:
    assert rpm_shop_form(300, 1) / 2 == 600  # common practice: half the turning speed
    assert rpm_for(300 * FOOT_M, 25.4) == pytest.approx(1146, abs=1)
    assert [round(rpm_for(v * FOOT_M, 1.5 * 25.4)) for v in (140, 150)] == pytest.approx([357, 382], abs=1)


def test_feeds_convert() -> None:
    assert pytest.approx(0.01969, abs=2e-5) == 0.5 / 25.4
    assert parse("0.0146 in").mm == pytest.approx(0.371, abs=1e-3)


@pytest.mark.parametrize(
    ("name", "inch"),
    [("#7", "0.2010"), ("#25", "0.1495"), ("#29", "0.1360"), ("#43", "0.0890"), ("letter E", "0.2500")],
)
def test_named_drills(name: str, inch: str) -> None:
    assert number_drills()[name] == Fraction(inch)  # ASME B94.11M


def test_odd_sizes_between_the_series() -> None:
    # 0.864 in: 55/64 is 0.0046 under, 22.0 mm is 0.0021 over (arithmetic)
    assert parse("55/64 in").inch - 0.864 == pytest.approx(-0.0046, abs=2e-4)
    assert parse("22 mm").inch - 0.864 == pytest.approx(0.0021, abs=2e-4)


def test_readings_from_a_half_inch_start() -> None:
    ram = Scale("tailstock_ram", "in", parse("1/2 in"), parse("1/64 in"))
    flat = ToolZero(12, 180, "flat_face")
    assert read(ram, flat, Ask(depth_full_mm=parse("3/8 in").mm)).stop == 0.875  # common practice
    later = Scale("tailstock_ram", "in", parse("1 in"), parse("1/64 in"))
    stops = [read(later, flat, Ask(depth_full_mm=parse(d).mm)).stop for d in ("5/8 in", "3/4 in")]
    assert stops == [1.625, 1.75]  # common practice


def test_the_chamfer_before_an_eight_millimeter_thread() -> None:
    assert pytest.approx(8.8) == 6.8 + 2 * 1
    assert cone_depth(8.8, 6.8, 90) == pytest.approx(1.0)  # derived
    assert pytest.approx(0.6) == (8 - 6.8) / 2


def test_reaming_what_a_poor_drill_left() -> None:
    left = 0.5 - (parse("31/64 in").inch + 0.007)
    assert left == pytest.approx(0.0086, abs=1e-4)  # arithmetic
    assert pytest.approx(0.022, abs=1e-3) == 10 - (9.8 + 0.178)  # arithmetic
    assert parse("31/64 in").inch + 0.031 > 0.5  # arithmetic: the reamer cannot clean up


def test_grades_of_drawn_limits() -> None:
    assert grade_of(9.525, 0.0203) == 7
    hole = iso_limits(Fraction(25), "H7")
    assert hole.upper * 1000 - 25000 == 21  # ISO 286-1; 25 H7/g6 clears 7 to 41


def test_the_chord_between_flat_jaws() -> None:
    for d, error in ((4, 0.045), (6, 0.030), (10, 0.018), (20, 0.009)):
        assert flat_jaw(math.sqrt(d * d - 0.36), 0.6) - math.sqrt(d * d - 0.36) == pytest.approx(error, abs=7e-4)
