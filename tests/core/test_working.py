"""Workings show the very value that is used; tables know their source."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

import cordwainer
from cordwainer.core.cutting.depth import cone_length, point_length
from cordwainer.core.cutting.speed import rpm_for, surface_speed
from cordwainer.core.errors import InputError, OutOfRangeError
from cordwainer.core.tables import by_key, constant, constant_source, constants, row_for, rows
from cordwainer.core.working import figure

DATA = Path(cordwainer.__file__).parent / "data"

TABLES = sorted(path.stem for path in DATA.glob("*.csv"))


@given(st.floats(1, 400), st.floats(0.2, 100))
def test_a_working_carries_the_value_of_the_call(surface: float, diameter: float) -> None:
    working = rpm_for.working(surface, diameter)
    assert working.value == rpm_for(surface, diameter)
    assert working.unit == "rev/min" and working.source == "derived"
    assert [i.unit for i in working.inputs] == ["m/min", "mm"]
    assert rpm_for.text in working.text()
    assert surface_speed(rpm_for(surface, diameter), diameter) == pytest.approx(surface)


def test_names_and_units_come_from_the_signature() -> None:
    working = point_length.working(12, 118)
    assert [(i.name, i.value, i.unit) for i in working.inputs] == [("diameter", "12", "mm"), ("angle", "118", "°")]
    assert "3.6052 mm" in working.text()
    assert cone_length.working(4, 10).inputs[1].name == "body"


def test_figures_are_shop_sized() -> None:
    assert [figure(x) for x in (0, 423.0, 0.0197, 12345.6, 17.750799)] == ["0", "423", "0.0197", "12346", "17.751"]


@pytest.mark.parametrize("table", TABLES)
def test_every_row_names_its_source(table: str) -> None:
    assert rows(table)
    for row in rows(table):
        assert row.source.strip(), f"{table}: a row without a source"


def test_constants_say_where_they_come_from() -> None:
    assert constant("through_clearance_mm") == 1.0
    assert constant_source("gauge_expansion_per_k").startswith("handbook")
    marked = (
        "common practice",
        "assumed",
        "Machinery's Handbook",
        "handbook",
        "DIN",
        "derived",
        "from memory",
        "tool-eng",
    )
    for name in constants():
        assert any(word in constant_source(name) for word in marked), name


def test_ranges_are_over_and_up_to() -> None:
    assert row_for("it_grades", "to_mm", 18.0).number("IT7") == 18  # ISO 286-1, table 1
    assert row_for("it_grades", "to_mm", 18.001).number("IT7") == 21  # ISO 286-1, table 1
    with pytest.raises(OutOfRangeError, match="ends at 500"):
        row_for("it_grades", "to_mm", 501)
    with pytest.raises(OutOfRangeError, match="starts over"):
        row_for("general_tolerances", "to_mm", 0.4, "over_mm")
    with pytest.raises(OutOfRangeError):
        by_key("center_drills", "size")["#1"].number("radius_min")


def test_an_error_knows_its_path() -> None:
    error = InputError("depth", "missing").inside("holes[0]").inside("job")
    assert error.field == "job.holes[0].depth"
    assert str(InputError("", "x").inside("machine")) == "machine: x"
    assert InputError("[2]", "x").inside("holes").field == "holes[2]"
