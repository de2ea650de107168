"""Drawings made by ezdxf, read back as holes; bad files are refused in words."""

from __future__ import annotations

import math
from pathlib import Path
from typing import Any

import ezdxf
import pytest
from ezdxf.math import rational_bspline_from_arc

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.files import drawing as drawings
from cordwainer.files import job as job_files
from cordwainer.files.hole_csv import read_text, table_of
from tests.jobs import job_data

TWELVE = parse("12 mm")


def drawn(folder: Path, unit: int | None = 4, *, version: str = "R2010") -> tuple[Any, Any, Path]:
    """An empty drawing with its model space and where it is to be saved."""
    document = ezdxf.new(version)
    if unit is not None:
        document.header["$INSUNITS"] = unit
    return document, document.modelspace(), folder / "part.dxf"


def read(document: Any, path: Path) -> drawings.Drawing:
    """Saved and read back."""
    document.saveas(path)
    return drawings.read(path)


def test_circles_become_holes_by_layer_and_diameter(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path)
    for k in range(5):
        space.add_circle((10 + 15 * k, 8), 3.3, dxfattribs={"layer": "bolts"})
    space.add_circle((40, 30), 11, dxfattribs={"layer": "seat"})
    space.add_circle((40, 30), 11, dxfattribs={"layer": "seat"})
    space.add_line((0, 0), (80, 0))
    found = read(document, path)
    assert found.unit == "mm" and len(found.circles) == 6
    assert found.passed == {"line": 1, "circle drawn twice": 1}
    holes, left = drawings.holes_of(found, "mm", TWELVE, {"A"})
    assert not left and [h.entry["count"] for h in holes] == [5, 1] and holes[0].entry["id"] == "B"
    job = job_files.from_data(job_data(*(h.entry for h in holes)))
    assert job.holes[0].nominal_mm == 6.6 and job.holes[0].places_mm[4] == (70, 8)
    assert job.holes[1].name == "seat" and job.holes[1].depth_mm == 12
    moved, _ = drawings.holes_of(found, "mm", TWELVE, set(), zero=(10, 8))
    assert moved[0].entry["places"][0] == ["0 mm", "0 mm"]


@pytest.mark.parametrize(
    ("unit", "name", "mm"), [(1, "in", 25.4), (4, "mm", 1.0), (5, "cm", 10.0), (None, None, 0)]
)
def test_the_unit_is_the_drawings_or_a_question(
    tmp_path: Path, unit: int | None, name: str | None, mm: float
) -> None:
    document, space, path = drawn(tmp_path, unit if unit is not None else 0)
    space.add_circle((1, 2), 0.25)
    found = read(document, path)
    assert found.unit == name
    if name is not None:
        hole = drawings.holes_of(found, name, TWELVE, set())[0][0].entry
        assert parse(hole["diameter"]).mm == pytest.approx(0.5 * mm)
        assert parse(hole["diameter"]).unit == ("in" if name == "in" else "mm")
        assert parse(hole["places"][0][1]).mm == pytest.approx(2 * mm)
    with pytest.raises(InputError, match="not a unit of drawings"):
        drawings.holes_of(found, "furlong", TWELVE, set())


def test_blocks_arcs_and_polylines_that_are_circles_count_others_are_named(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path)
    inner = document.blocks.new("INNER")
    inner.add_circle((0, 0), 2)
    outer = document.blocks.new("OUTER")
    outer.add_blockref("INNER", (5, 0))
    outer.add_circle((0, 0), 4)
    space.add_blockref("OUTER", (100, 50), dxfattribs={"rotation": 90, "xscale": 2, "yscale": 2})
    space.add_blockref(
        "INNER", (0, 0), dxfattribs={"row_count": 2, "column_count": 3, "row_spacing": 10, "column_spacing": 20}
    )
    space.add_arc((200, 0), 5, 0, 360)
    space.add_arc((220, 0), 5, 0, 180)
    space.add_lwpolyline([(300, 0, 1), (310, 0, 1)], format="xyb", close=True)
    space.add_ellipse((400, 0), major_axis=(6, 0), ratio=1.0)
    space.add_ellipse((420, 0), major_axis=(6, 0), ratio=0.5)
    space.add_spline([(0, 0), (1, 2), (3, 1)])
    space.add_text("M6 here")
    found = read(document, path)
    sizes = sorted(round(c.diameter, 6) for c in found.circles)
    assert sizes == [4, 4, 4, 4, 4, 4, 8, 10, 10, 12, 16]
    big = next(c for c in found.circles if c.diameter == pytest.approx(16))
    small = next(c for c in found.circles if c.diameter == pytest.approx(8))
    assert (big.x, big.y) == pytest.approx((100, 50)) and (small.x, small.y) == pytest.approx((100, 60))
    assert found.passed == {"arc": 1, "ellipse": 1, "spline": 1, "text": 1}


def test_circles_drawn_in_pieces_are_circles_and_what_is_nearly_one_is_not(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path)
    for start, end in ((0, 180), (180, 360)):
        space.add_arc((10, 0), 4, start, end)
    for start, end in ((300, 70), (60, 200), (190, 301)):
        space.add_arc((30, 0), 3, start, end, dxfattribs={"layer": "bolts"})
    for start, end in ((0, 90), (180, 360)):
        space.add_arc((50, 0), 4, start, end)
    space.add_arc((70, 0), 4, 0, 180)
    space.add_arc((70, 0), 4.5, 180, 360)
    corner = math.tan(math.pi / 8)
    space.add_lwpolyline(
        [(105, 0, corner), (100, 5, corner), (95, 0, corner), (100, -5, corner)], format="xyb", close=True
    )
    space.add_polyline2d([(126, 0, 0, 0, 1), (114, 0, 0, 0, 1)], format="xyseb", close=True)
    space.add_lwpolyline([(140, 0, 1), (150, 0, 0.8)], format="xyb", close=True)
    space.add_lwpolyline([(160, 0), (170, 0), (165, 8)], close=True)
    turns = [2 * math.pi * k / 24 for k in range(25)]
    space.add_spline([(200 + 7 * math.cos(a), 7 * math.sin(a)) for a in turns])
    space.add_spline([(230 + 9 * math.cos(a), 6 * math.sin(a)) for a in turns])
    exact = rational_bspline_from_arc(center=(260, 0), radius=5, start_angle=0, end_angle=360)
    space.add_spline().apply_construction_tool(exact)
    found = read(document, path)
    made = {(round(c.x), round(c.diameter, 2)): c.layer for c in found.circles}
    assert (
        sorted(made) == [(10, 8), (30, 6), (100, 10), (120, 12), (200, 14), (260, 10)] and made[30, 6] == "bolts"
    )
    assert found.passed == {"arc": 4, "lwpolyline": 2, "spline": 1}


def test_thousands_of_circles_are_one_hole_each_size(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path, 1)
    for k in range(2000):
        space.add_circle((0.5 * (k % 50), 0.5 * (k // 50)), 0.0625 + 0.03125 * (k % 4))
    holes, left = drawings.holes_of(read(document, path), "in", TWELVE, set())
    assert [h.entry["count"] for h in holes] == [500] * 4 and not left
    assert [h.entry["diameter"] for h in holes] == ["0.125 in", "0.1875 in", "0.25 in", "0.3125 in"]
    job_files.from_data(job_data(*(h.entry for h in holes)))


def test_what_no_drill_makes_is_left_out_and_said(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path)
    space.add_circle((0, 0), 400)
    space.add_circle((0, 0), 0.01)
    holes, left = drawings.holes_of(read(document, path), "mm", TWELVE, set())
    assert not holes and len(left) == 2 and all("is the unit right?" in words for words in left)


@pytest.mark.parametrize("content", [b"", b"not a drawing", b"0\nSECTION\n2\nHEADER\n", b"\x00\xff" * 400])
def test_files_that_are_no_drawing_are_refused_in_words(tmp_path: Path, content: bytes) -> None:
    path = tmp_path / "bad.dxf"
    path.write_bytes(content)
    try:
        assert not drawings.read(path).circles
    except InputError as bad:
        assert "bad.dxf" in str(bad) and "Traceback" not in str(bad)
    with pytest.raises(InputError, match="could not be read"):
        drawings.read(tmp_path / "missing.dxf")


def test_a_drawing_cut_short_never_crashes(tmp_path: Path) -> None:
    document, space, path = drawn(tmp_path)
    for k in range(40):
        space.add_circle((k, k), 1)
    document.saveas(path)
    whole = path.read_bytes()
    for share in range(1, 20):
        path.write_bytes(whole[: len(whole) * share // 20])
        try:
            assert len(drawings.read(path).circles) <= 40
        except InputError as bad:
            assert "part.dxf" in str(bad)


def test_the_hole_table_goes_out_and_reads_back_with_its_places() -> None:
    bolts = {"id": "B", "diameter": "6.6 mm", "depth": "12 mm", "through": True, "count": 2,
             "places": [["10 mm", "8 mm"], ["35.5 mm", "8 mm"]]}  # fmt: skip
    seat = {"id": "S", "kind": "sized", "diameter": "22 mm", "tolerance": "H7", "depth": "12 mm", "through": True}
    text = table_of([bolts, seat], "ISO 2768-m", "mm")
    assert text.splitlines()[2].endswith("B.2,,1,35.5000 mm,8.0000 mm")
    again = read_text(text, "mm", [], "ISO 2768-m")
    assert not again.refused and len(again.entries) == 3
    assert parse(again.entries[1]["x"]).mm == 35.5 and "x" not in again.entries[2]
    half = read_text("hole,x,y\n8 thru 12,4,\n", "mm", [], "ISO 2768-m")
    assert len(half.refused) == 1 and "a place is an x and a y" in half.refused[0].reason


def test_places_go_with_their_count() -> None:
    entry = {"id": "B", "diameter": "6.6 mm", "depth": "12 mm", "through": True, "count": 3}
    with pytest.raises(InputError, match="2 places for 3 holes"):
        job_files.from_data(job_data(entry | {"places": [["1 mm", "2 mm"], ["3 mm", "4 mm"]]}))
    with pytest.raises(InputError, match="a place is an x and a y"):
        job_files.from_data(job_data(entry | {"x": "1 mm"}))
    assert job_files.from_data(job_data(entry | {"x": "1 mm", "y": "2 mm"})).holes[0].places_mm == ((1, 2),)
