"""Words of a drawing joined to lines, lines to callouts: what is read, what is doubted, what is no hole."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE, callouts_of, understood
from cordwainer.core.prints.lines import lines_of
from cordwainer.core.prints.notes import notes_of
from cordwainer.core.prints.sheets import Circle, Sheet, read_sheets
from cordwainer.core.prints.signs import of_font, plain
from cordwainer.core.prints.ties import tied
from cordwainer.core.prints.wording import reworded
from cordwainer.core.prints.words import Run

H = 10.0


def run(text: str, x: float = 0, y: float = 0, height: float = H, angle: float = 0) -> Run:
    """Words as wide as a drafting font has them."""
    return Run(text, x, y, 0.6 * height * len(text), height, angle)


def lines(*runs: Run) -> list[str]:
    """What the lines say."""
    return [line.text for line in lines_of(runs)]


# ASME Y14.5 and common practice: how one and the same hole is written
@pytest.mark.parametrize(
    ("text", "keys"),
    [
        ("4X Ø9 THRU ⌴ Ø15 ↧ 8.6", {"count": 4, "diameter": "9 mm", "counterbore_depth": "8.6 mm"}),
        ("6 HOLES Ø8 THRU EQ SP ON Ø60 BC", {"count": 6, "diameter": "8 mm", "through": True}),
        ("DRILL & TAP 1/4-20 UNC-2B X .50 DP", {"thread": "1/4-20 UNC", "thread_depth": ".50 in"}),
        ("Ø.201 ↧ .75 1/4-20 UNC-2B ↧ .50", {"thread": "1/4-20 UNC", "depth": ".75 in", "thread_depth": ".50 in"}),
        ("M10x1.5 ↧20 / Ø8.5 ↧25", {"thread": "M10x1.5", "depth": "25 mm", "thread_depth": "20 mm"}),
        ("3X .257 (F) DRILL THRU", {"count": 3, "diameter": ".257 in"}),
        ("Ø25 0/+0.021 THRU", {"diameter": "25 mm", "tolerance": "+0.021/0 mm"}),
        ("(6) .340 DIA THRU", {"count": 6, "diameter": ".340 in"}),
        ("2-3/8-16 UNC-2B THRU", {"count": 2, "thread": "3/8-16 UNC"}),
        ("2X Ø6.35 [.250] THRU", {"count": 2, "diameter": "6.35 mm"}),
        ("4-M6 ↧ 12", {"count": 4, "thread": "M6x1", "thread_depth": "12 mm"}),
    ],
)
def test_a_hole_is_read_however_it_is_written(text: str, keys: dict[str, object]) -> None:
    found = understood(text, "mm")
    assert found.state == SURE and found.callout is not None, found.why
    read = found.callout.keys() | {"count": found.count or found.callout.count}
    assert {key: read[key] for key in keys} == keys


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("Ø20 H7", "how deep"),
        ("Ø30", "outside of something"),
        ("Ø8 THRU TYP", "how many"),
        ("Ø9 THRU FAR SIDE", "side"),
        ("Ø7/16 ↧ 27", "27 in millimeters or inches"),
        ("4X Ø6 THRU, 5 HOLES", "4 or 5"),
        ("4X Ø6 THRU 2X Ø8 THRU", "two callouts"),
        ("Ø6 WOBBLED THRU", "WOBBLED"),
        ("Ø\ufffd6 THRU", "\ufffd"),
    ],
)
def test_what_is_open_is_doubted_and_why(text: str, why: str) -> None:
    found = understood(text, "mm")
    assert found.state == DOUBT and why in found.why


@pytest.mark.parametrize(
    "text",
    ["Ø40 h6", "2X Ø30 g6", "(Ø22)", "Ø22 REF", "M8x25 SHCS", "Ø60 B.C.", "⌖ Ø0.1 A B", "Ø0.1 A B C", "SØ12",
     "Ø50 KNURLED", "1/2-13 UNC-2A", "M8x1.25 - 6g", "4X M8 SCREWS"],
)  # fmt: skip
def test_what_is_no_hole_is_none(text: str) -> None:
    assert understood(text, "mm").state == NO_HOLE


def test_deviations_limits_and_fractions_stand_over_one_another() -> None:
    small = 0.6 * H
    base = run("Ø12")
    deviations = (run("+0.018", 19, 5, small), run("0", 19, -2, small))
    assert lines(base, *deviations, run("THRU", 50)) == ["Ø12 +0.018/0 THRU"]
    assert lines(run("Ø"), run("12.018", 7, 6, 9), run("12.000", 7, -5, 9), run("THRU", 45)) == [
        "Ø12.000/12.018 THRU"
    ]
    assert lines(run("Ø1"), run("1", 13, 4, small), run("16", 13, -3, small)) == ["Ø1-1/16"]
    # two dimensions that only stand so are left alone
    assert len(lines(run("25.4", 0, 0), run("12.7", 0, -14))) == 2


def test_lines_of_one_note_go_together_and_a_list_does_not() -> None:
    note = lines_of([run("4X", 0, 30), run("Ø9 THRU", 0, 15), run("⌴ Ø15 ↧ 8.6", 0, 0)])
    found = callouts_of(note, "mm")
    assert [f.line for f in found] == ["4x Ø9 THRU ⌴ Ø15 ↧ 8.6"] and len(found[0].boxes) == 3
    listed = callouts_of(
        lines_of([run("2X Ø9 THRU", 0, 40), run("4X Ø6 ↧ 12", 0, 20), run("M8 ↧ 16", 0, 0)]), "mm"
    )
    assert [f.state for f in listed] == [SURE] * 3
    # a counterbore whose sign was lost is not taken for a hole beside its own
    lost = callouts_of(lines_of([run("Ø9 THRU", 0, 15), run("Ø15 ↧ 8.6", 0, 0)]), "mm")
    assert lost[0].state == DOUBT and "belong to it" in lost[0].why


def test_a_frame_under_a_callout_is_its_position() -> None:
    found = callouts_of(lines_of([run("Ø12 H7 THRU", 0, 15), run("⌖ Ø0.05 A B", 0, 0)]), "mm")
    assert len(found) == 1 and found[0].callout is not None and str(found[0].callout.position) == "0.05 mm"


@given(angle=st.floats(0, 359), x=st.floats(-500, 500), y=st.floats(-500, 500))
def test_words_are_read_at_any_angle_and_marked_where_they_stand(angle: float, x: float, y: float) -> None:
    from math import cos, radians, sin

    c, s = cos(radians(angle)), sin(radians(angle))
    second = Run("THRU", x + 22 * c, y + 22 * s, 24, H, angle)
    found = callouts_of(lines_of([Run("Ø12", x, y, 18, H, angle), second]), "mm")
    assert [f.line for f in found] == ["Ø12 THRU"]
    assert found[0].box.away((x, y)) == 0 and found[0].box.away((x + 60 * c, y + 60 * s)) > 5


@given(st.text(max_size=60))
def test_no_text_breaks_the_reading(text: str) -> None:
    read = read_sheets([Sheet(0, 100, 100, (run(text), run("Ø9 THRU", 0, 100)))], "mm")
    assert all(f.state in (SURE, DOUBT, NO_HOLE) for f in read.found)
    reworded(text)


def test_signs_however_coded() -> None:
    assert plain("%%c8 %%p0.1 45%%d") == "Ø8 ±0.1 45°"  # common practice of drawing files
    assert plain("⌀\u20092½") == "Ø 2-1/2" and plain("∅8 ⤓12") == "Ø8 ↧12"
    assert of_font("x", "ABCDEF+SomeGDT") == "↧" and of_font("x", "Arial") == "x"


def test_general_notes_of_unit_tolerance_material_and_thickness() -> None:
    found = notes_of(
        ["UNLESS OTHERWISE SPECIFIED", "DIMENSIONS ARE IN INCHES", ".XX ±.01", ".XXX ±.005",
         "MATERIAL: 6061-T6", ".375 THICK"],
        ["aluminum_wrought"],
    )  # fmt: skip
    assert (found.unit, found.by_places, found.material_id, found.thickness) == (
        "in", {2: ".01", 3: ".005"}, "aluminum_wrought", ".375",
    )  # fmt: skip
    assert notes_of(["DIMENSIONS IN MM", "ALL DIMENSIONS ARE IN INCHES"]).unit is None
    assert notes_of(["General tolerances ISO 2768-mK"]).general_tolerance == "ISO 2768-mK"  # ISO 2768-1 and -2
    sheet = Sheet(
        0, 500, 500, (run("DIMENSIONS ARE IN INCHES", 0, 300), run(".XXX ±.005", 0, 250), run("Ø.500 THRU"))
    )
    read = read_sheets([sheet], "mm")
    assert read.found[0].callout is not None and read.found[0].callout.tolerance == "±.005 in"


def test_callouts_find_their_circles_and_those_left_are_counted() -> None:
    circles = [Circle(20 * k, 0, 9.0) for k in range(4)] + [Circle(20 * k, 0, 15.0) for k in range(4)]
    circles += [Circle(200, 0, 6.8), Circle(300, 0, 30.0)]
    text = lines_of([run("4X Ø9 THRU ⌴ Ø15 ↧ 8.6", 0, 60), run("M8 ↧ 16", 200, 20), run("Ø12 THRU", 0, -90)])
    found = callouts_of(text, "mm")
    leaders = [((0.0, 4.5), (0.0, 58.0)), ((300.0, 15.0), (0.0, -80.0))]
    ties = tied(found, circles, leaders, [], 1.0)
    assert len(ties.found[0].places) == 4 and ties.found[1].places == ((200, 0),)
    assert ties.found[2].state == DOUBT and "30 mm wide" in ties.found[2].why
    assert [c.diameter for c in ties.free] == [
        30.0
    ] and ties.words == "3 callouts for 6 circles; 1 circle without one"
    short = tied([found[0]], circles[:3], leaders[:1], [], 1.0)
    assert short.found[0].state == DOUBT and "3 circles" in short.found[0].why
    typical = callouts_of(lines_of([run("Ø9 THRU TYP", 0, 60)]), "mm")
    counted = tied(typical, circles[:4], leaders[:1], [], 1.0)
    assert counted.found[0].state == SURE and counted.found[0].count == 4
