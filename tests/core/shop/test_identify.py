"""Names for a measured drill, against published charts and another project's data."""

from __future__ import annotations

import csv
from fractions import Fraction
from importlib import metadata
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.lengths import number_drills, parse
from cordwainer.core.shop.identify import between, identify, in_plate, named_sizes, neighbors
from cordwainer.core.tables import rows


def package_rows(name: str) -> list[dict[str, str]]:
    """A CSV inside the package bd-warehouse, read as data only."""
    files = metadata.files("bd-warehouse") or []
    path = next(Path(str(f.locate())) for f in files if f.name == name)
    with path.open(encoding="utf-8", newline="") as stream:
        return list(csv.DictReader(stream, skipinitialspace=True))


READINGS = [
    # ASME B94.11M, number, letter and fractional sizes; ISO 235 metric sizes
    ("0.866 in", "22 mm", "metric"),
    ("0.4844 in", "31/64 in", "fraction"),
    ("0.2010 in", "#7", "number"),
    ("0.2570 in", "letter F", "letter"),
    ("0.2280 in", "#1", "number"),
    ("0.2340 in", "letter A", "letter"),
    ("0.2380 in", "letter B", "letter"),
    ("0.1495 in", "#25", "number"),
    ("0.1360 in", "#29", "number"),
    ("0.0890 in", "#43", "number"),
    ("0.1590 in", "#21", "number"),
    ("0.1285 in", "#30", "number"),
    ("0.0135 in", "#80", "number"),
    ("0.0595 in", "#53", "number"),
    ("0.0400 in", "#60", "number"),
    ("0.1110 in", "#34", "number"),
    ("0.3320 in", "letter Q", "letter"),
    ("0.4130 in", "letter Z", "letter"),
    ("0.3680 in", "letter U", "letter"),
    ("0.3160 in", "letter O", "letter"),
    ("0.2950 in", "letter M", "letter"),
    ("0.3970 in", "letter X", "letter"),
    ("0.0156 in", "1/64 in", "fraction"),
    ("0.1094 in", "7/64 in", "fraction"),
    ("0.1406 in", "9/64 in", "fraction"),
    ("0.2969 in", "19/64 in", "fraction"),
    ("0.4219 in", "27/64 in", "fraction"),
    ("0.7656 in", "49/64 in", "fraction"),
    ("0.9844 in", "63/64 in", "fraction"),
    ("1.1563 in", "1-5/32 in", "fraction"),
    ("5.10 mm", "5.1 mm", "metric"),
    ("6.80 mm", "6.8 mm", "metric"),
    ("8.50 mm", "8.5 mm", "metric"),
    ("10.25 mm", "10.25 mm", "metric"),
    ("0.35 mm", "0.35 mm", "metric"),
    ("4.20 mm", "4.2 mm", "metric"),
    ("13.75 mm", "13.75 mm", "metric"),
    ("17.30 mm", "17.3 mm", "metric"),
    ("23.25 mm", "23.25 mm", "metric"),
    ("41.50 mm", "41.5 mm", "metric"),
]


def test_forty_readings() -> None:
    assert len(READINGS) == 40 and {system for *_, system in READINGS} == {
        "fraction",
        "number",
        "letter",
        "metric",
    }
    for reading, name, system in READINGS:
        first = identify(parse(reading).mm)[0]
        assert (first.named.name, first.named.system) == (name, system), reading
        assert abs(first.difference_mm) < 0.004


def test_the_next_best_names_are_told_too() -> None:
    found = {c.named.name: c.difference_mm / 25.4 for c in identify(0.866 * 25.4)}
    assert next(iter(found)) == "22 mm"
    assert found["55/64 in"] == pytest.approx(0.0066, abs=1e-4)  # arithmetic
    assert found["7/8 in"] == pytest.approx(-0.0090, abs=1e-4)  # arithmetic


def test_two_names_for_one_size_are_both_told() -> None:
    both = [c.named.name for c in identify(6.35, 0.0)]
    assert both == ["1/4 in", "letter E"]  # ASME B94.11M: letter E is 1/4 in exactly


@given(st.floats(0.25, 45), st.floats(0.001, 0.3))
def test_the_band_decides(reading: float, tolerance: float) -> None:
    found = identify(reading, tolerance)
    assert all(abs(c.difference_mm) <= tolerance + 1e-9 for c in found)
    assert [abs(c.difference_mm) for c in found] == sorted(abs(c.difference_mm) for c in found)
    names = {c.named.name for c in found}
    for system in ("fraction", "number", "letter", "metric"):
        for named in named_sizes(system):
            assert (abs(named.size.mm - reading) <= tolerance + 1e-12) <= (named.name in names)
    below, *above = neighbors(reading)
    assert below.difference_mm >= 0 and all(c.difference_mm < 0 for c in above)


def test_a_gauge_plate_brackets() -> None:
    names = {c.named.name for c in between(parse("1/8 in").mm, parse("9/64 in").mm)}
    assert {"1/8 in", "#30", "#29", "#28", "9/64 in", "3.3 mm"} <= names and "#27" not in names


def test_number_and_letter_drills_against_another_table() -> None:
    # bd-warehouse 0.4.0, drill_sizes.csv: to three decimals in part, so within half a thousandth
    checked = 0
    for row in package_rows("drill_sizes.csv"):
        name = row["Size"] if row["Size"].startswith("#") else f"letter {row['Size']}"
        assert float(number_drills()[name]) == pytest.approx(float(row["Diameter"]), abs=0.00051), name
        checked += 1
    assert checked >= 26 + 60


def _inches(name: str) -> Fraction:
    if name.startswith("#"):
        return number_drills()[name]
    return Fraction(name) if name[0].isdigit() else number_drills()[f"letter {name}"]


def test_tap_drills_against_another_table() -> None:
    # bd-warehouse 0.4.0, tap_hole_sizes.csv, column for soft materials
    other = {row["Size"].strip(): row["Soft"].strip() for row in package_rows("tap_hole_sizes.csv")}
    metric = unified = 0
    for row in rows("threads_metric"):
        size = f"{row.text('size').split('x')[0]}-{row.text('pitch_mm')}"
        if size == "M22-2.5":  # 18.5 there; ISO 2306 and major less pitch give 19.5
            assert row.number("tap_drill_mm") == 19.5
        elif size in other:
            metric += 1
            assert row.number("tap_drill_mm") == pytest.approx(float(other[size]), abs=0.11), size
    for row in rows("threads_unified"):
        if row.text("size") in other:
            unified += 1
            ours, theirs = float(_inches(row.text("tap_drill_name"))), float(_inches(other[row.text("size")]))
            if abs(ours - theirs) > 0.002:  # 1-12: 15/16 there is over the 2B minor diameter of ASME B1.1
                assert theirs > row.number("minor_max_inch_2B") >= ours, row.text("size")
    assert metric >= 20 and unified >= 15


def test_a_gauge_plate_names_the_drill_of_its_own_hole_first() -> None:
    # common practice: between 1/8 and 9/64 of a fractional plate is the 9/64
    found = in_plate(parse("9/64 in").mm, parse("1/8 in").mm)
    assert found[0].named.name == "9/64 in" and "1/8 in" not in [c.named.name for c in found]
    assert in_plate(parse("29/64 in").mm, parse("7/16 in").mm)[0].named.name == "29/64 in"
    assert in_plate(3.5, 3.4)[0].named.name == "3.5 mm"
