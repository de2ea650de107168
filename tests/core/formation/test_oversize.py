"""What a drill leaves, against the survey and the worked figures of the rules of record."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.formation.oversize import expected_drilled, expected_reamed, opening_factor, survey_oversize
from cordwainer.core.lengths import parse
from cordwainer.core.shop.finishers import reamer
from cordwainer.core.shop.makers import stub_drill, twist_drill


@pytest.mark.parametrize(
    ("inch", "low", "mean", "high"),
    [
        (1 / 16, 0.0010, 0.0015, 0.0020),
        (1 / 8, 0.0010, 0.0030, 0.0045),
        (1 / 4, 0.0025, 0.0040, 0.0065),
        (1 / 2, 0.0030, 0.0050, 0.0080),
        (3 / 4, 0.0030, 0.0050, 0.0080),
        (1, 0.0040, 0.0070, 0.0090),
    ],
)
def test_the_survey_is_met(inch: float, low: float, mean: float, high: float) -> None:
    # Machinery's Handbook, oversize diameters in drilling
    assert [x / 25.4 for x in survey_oversize(inch * 25.4)] == pytest.approx([low, mean, high])


def test_beyond_the_survey() -> None:
    assert survey_oversize(50.8)[1] / 25.4 == pytest.approx(0.002 + 0.005 * 2)  # straight-line form (from memory)
    assert survey_oversize(25.4 / 32)[1] / 25.4 == pytest.approx(0.0015 * 0.5**0.7)  # assumed


@pytest.mark.parametrize(
    ("size", "before", "expected"),
    [("9.8 mm", 4, 9.846), ("9.7 mm", 0, 9.815), ("17.7 mm", 6, 17.751), ("21.75 mm", 8, 21.809)],
)
def test_worked_figures(size: str, before: float, expected: float) -> None:
    assert expected_drilled(twist_drill(parse(size)), before).mean_mm == pytest.approx(expected, abs=6e-4)


def test_a_half_inch_reamer_is_left_its_stock() -> None:
    found = expected_drilled(twist_drill(parse("31/64 in")), 5)
    assert 0.5 - found.mean_mm / 25.4 == pytest.approx(0.0136, abs=1e-4)


@given(st.floats(0.2, 60), st.floats(0, 0.999))
def test_a_hole_is_over_its_drill_and_a_pilot_helps(mm: float, share: float) -> None:
    low, mean, high = survey_oversize(mm)
    assert 0 < low < mean < high
    factor = opening_factor(mm, 0.18 * mm, share * mm)
    assert 0.4 - 1e-9 <= factor <= 1.0
    if share <= 0.6 * 0.18:
        assert factor == 1.0
    if 0.2 <= share <= 0.85:
        assert factor == pytest.approx(0.4)


def test_what_was_learned_of_a_drill_counts() -> None:
    plain = twist_drill(parse("10 mm"))
    known = twist_drill(parse("10 mm")).__class__(**{**plain.__dict__, "oversize_factor": 2.0})
    over = expected_drilled(plain).mean_mm - 10
    assert expected_drilled(known).mean_mm - 10 == pytest.approx(2 * over)


def test_split_points_are_relieved_by_small_pilots() -> None:
    stub = stub_drill(parse("10 mm"))
    assert expected_drilled(stub, 1.5).mean_mm < expected_drilled(stub).mean_mm


def test_a_reamer_cuts_inside_its_hole() -> None:
    for size in ("3 mm", "10 mm", "20 mm", "40 mm"):
        tool = reamer(parse(size), "H7", "straight")
        found = expected_reamed(tool)
        assert tool.limits is not None
        assert tool.limits.middle_mm < found.mean_mm < tool.limits.upper_mm + 0.003
        assert 0 < found.sd_mm < 0.01
