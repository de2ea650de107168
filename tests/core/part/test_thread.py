"""Threads against the standards' tables, and the drill for a tap."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.part.thread import drilled_depth, hole_for_percent, read_thread, thread_percent
from cordwainer.core.planning.steps.tapping import tap_drills
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.tables import rows

DRILLS = [t for t in built_in("catalog").of_kind("drill") if t.series in ("jobber", "taper_shank")]


def test_metric_minor_diameters_are_those_of_the_table() -> None:
    for row in rows("threads_metric"):  # ISO 965-1 (TD1 6H), ISO 724
        thread = read_thread(f"{row.text('size').split('x')[0]}x{row.text('pitch_mm')}")
        assert float(thread.minor_low_mm) == pytest.approx(row.number("minor_min_mm_6H"), abs=1e-9), thread.name
        assert float(thread.minor_high_mm) == pytest.approx(row.number("minor_max_mm_6H"), abs=1e-9), thread.name


def test_unified_minor_diameters_are_those_of_the_table() -> None:
    for row in rows("threads_unified"):  # ASME B1.1, class 2B
        thread = read_thread(f"{row.text('size').replace(' ', '-')} {row.text('series')}")
        assert float(thread.minor_low_mm) / 25.4 == pytest.approx(row.number("minor_min_inch_2B"), abs=1e-6)
        assert float(thread.minor_high_mm) / 25.4 == pytest.approx(row.number("minor_max_inch_2B"), abs=1e-6)
        assert float(thread.major_mm) / 25.4 == pytest.approx(row.number("major_inch"), abs=1e-9)


@pytest.mark.parametrize(
    ("text", "low", "high"),
    [("M6", 4.917, 5.153), ("M10", 8.376, 8.676), ("M20", 17.294, 17.744)],  # ISO 965-1 tables
)
def test_published_metric_limits(text: str, low: float, high: float) -> None:
    thread = read_thread(text)
    assert (float(thread.minor_low_mm), float(thread.minor_high_mm)) == (low, high)


@pytest.mark.parametrize(
    ("major", "hole", "pitch", "percent"),
    [
        (0.25, 0.2010, 1 / 20, 75.4),  # handbook tap drill formula
        (0.375, 0.3125, 1 / 16, 77.0),
        (0.5, 27 / 64, 1 / 13, 78.2),
        (6, 5.0, 1, 77.0),
        (10, 8.5, 1.5, 77.0),
    ],
)
def test_percent_of_thread(major: float, hole: float, pitch: float, percent: float) -> None:
    assert thread_percent(major, hole, pitch) == pytest.approx(percent, abs=0.05)
    assert hole_for_percent(major, pitch, thread_percent(major, hole, pitch)) == pytest.approx(hole)


@pytest.mark.parametrize(
    ("text", "name"),
    [
        ("M10", "M10x1.5"),
        ("m10 x 1,25", "M10x1.25"),
        ("M14x2 6H", "M14x2"),
        ("M14×2", "M14x2"),
        ("5/16-18 UNC", "5/16-18 UNC"),
        ("5/16 - 18", "5/16-18 UNC"),
        ("#8-32", "#8-32 UNC"),
        ("#10-32 unf 2B", "#10-32 UNF"),
        ("1-8", "1-8 UNC"),
        ("1 1/4-7 UNC", "1-1/4-7 UNC"),
        ("1-1/8-12 UNF", "1-1/8-12 UNF"),
        (".500-13", ".500-13 UN"),
    ],
)
def test_threads_as_they_are_written(text: str, name: str) -> None:
    assert read_thread(text).name == name


@pytest.mark.parametrize(
    "text", ["", "M", "M10x", "M10x9", "M10x0.33", "M11.5", "5/16", "5/16-0", "#8-2", "10-1.5", "G1/4"]
)
def test_what_is_no_thread_says_what_to_write(text: str) -> None:
    with pytest.raises(InputError) as bad:
        read_thread(text)
    assert "write" in str(bad.value) or "does not go with" in str(bad.value) or "known" in str(bad.value)


@given(st.text(max_size=14))
def test_any_text_is_a_thread_or_an_input_error(text: str) -> None:
    try:
        thread = read_thread(text)
    except InputError:
        return
    assert thread.minor_low_mm < thread.minor_high_mm < thread.major_mm


def test_the_drill_whose_hole_fits_not_the_one_whose_label_does() -> None:
    for text in ("M6", "M8", "M10", "M12", "5/16-18 UNC", "3/8-16 UNC", "#10-24 UNC"):
        thread = read_thread(text)
        best = tap_drills(thread, DRILLS)[0]
        assert best.fits and thread.takes(best.expected.mean_mm)
        assert best.label_percent > best.hole_percent > 40
        assert best.chance == max(d.chance for d in tap_drills(thread, DRILLS)[:1])
    coarse = tap_drills(read_thread("M8"), DRILLS, wanted_percent=60)[0]
    fine = tap_drills(read_thread("M8"), DRILLS, wanted_percent=80)[0]
    assert coarse.tool.diameter_mm > fine.tool.diameter_mm
    label = next(d for d in tap_drills(read_thread("M8"), DRILLS) if d.tool.designation == "6.8 mm")
    assert label.label_percent == pytest.approx(73.9, abs=0.05)  # common practice, M8 with 6.8
    none = tap_drills(read_thread("M8"), [d for d in DRILLS if d.diameter_mm < 6])
    assert none and not none[0].fits and none[0].tool.diameter_mm == max(d.tool.diameter_mm for d in none)


def test_drilled_depth_by_tap() -> None:
    thread = read_thread("M10")
    depths = [drilled_depth(thread, Fraction(20), tap).drilled.mm for tap in ("taper", "plug", "bottoming")]
    assert depths == [33.5, 27.5, 23.75]  # lead 8, 4, 1.5 turns and one to spare
    with pytest.raises(InputError, match="not a tap"):
        drilled_depth(thread, Fraction(20), "spiral")
