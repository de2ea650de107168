"""One line as it stands on a print: read right, or refused with the place of the doubt."""

from __future__ import annotations

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.callout_words import Doubt

# Ways of writing holes. Source: common practice; dimension symbols as in ASME Y14.5 and ISO 129-1.
WAYS: dict[str, dict[str, object]] = {
    "18 H7 through 32": {"kind": "sized", "diameter": "18", "tolerance": "H7", "depth": "32", "through": True},
    "Ø16 H7, 32 deep": {"kind": "sized", "diameter": "16", "tolerance": "H7", "depth": "32"},
    "dia 22 H7 4 deep": {"kind": "sized", "diameter": "22", "tolerance": "H7", "depth": "4"},
    "16 H7 ↧ 32": {"kind": "sized", "diameter": "16", "tolerance": "H7", "depth": "32"},
    "20 ±0.05 40 deep": {"kind": "sized", "diameter": "20", "tolerance": "±0.05 mm", "depth": "40"},
    "20 +.021 0 32 deep": {"kind": "sized", "diameter": "20", "tolerance": "+.021 0 mm", "depth": "32"},
    "20 +0.021/-0 x 32": {"kind": "sized", "diameter": "20", "tolerance": "+0.021/-0 mm", "depth": "32"},
    "20 H7 (+0.021 / 0) through 30": {"kind": "sized", "diameter": "20", "tolerance": "H7", "through": True},
    "20 H7/g6 x 30": {"kind": "sized", "diameter": "20", "tolerance": "H7", "depth": "30"},
    "Ø20.000-20.021 x 30": {"kind": "sized", "diameter": "20", "limits": ["20.000 mm", "20.021 mm"]},
    "30.5/31 deep 4": {"kind": "sized", "diameter": "30.5", "limits": ["30.5 mm", "31 mm"], "depth": "4"},
    "20.02 to 20.00 through 9": {"kind": "sized", "limits": ["20.00 mm", "20.02 mm"], "through": True},
    "12 JS7": {"kind": "sized", "diameter": "12", "tolerance": "JS7"},
    "12,7 H8 thru 25,4": {"kind": "sized", "diameter": "12.7", "tolerance": "H8", "depth": "25.4"},
    "ream 16 H7 thru 20 Ra 0.8": {"kind": "sized", "finish_ra_um": 0.8, "depth": "20"},
    "22 H7 thru 30 from 12": {"kind": "sized", "existing_hole": "12", "depth": "30"},
    "50 H8 thru cored 44": {"kind": "sized", "existing_hole": "44", "through": True},
    "22 H7 through 30 position 0.1": {"kind": "sized", "position_tolerance": "0.1"},
    ".6875 +.001 −.000, 1-1/4 deep": {"tolerance": "+.001 -.000 in", "diameter": "11/16 in", "depth": "1-1/4 in"},
    "ream .3130/.3135 thru 3/4": {"kind": "sized", "limits": [".3130 in", ".3135 in"], "depth": "3/4 in"},
    ".624-.626 deep 1.25": {"kind": "sized", "limits": [".624 in", ".626 in"], "depth": "1.25 in"},
    ".5625±.002 thru .75": {"tolerance": "±.002 in", "diameter": "9/16 in", "through": True, "depth": "3/4 in"},
    "8 thru 12": {"kind": "plain", "diameter": "8", "through": True, "depth": "12"},
    "8 x 20": {"kind": "plain", "diameter": "8", "depth": "20"},
    "8 deep 20": {"kind": "plain", "diameter": "8", "depth": "20"},
    "Ø8": {"kind": "plain", "diameter": "8"},
    "8 THRU ALL": {"kind": "plain", "diameter": "8", "through": True},
    "4.2 through, 12 thick": {"kind": "plain", "diameter": "4.2", "through": True, "depth": "12"},
    "8 12 deep, part 20": {"kind": "plain", "depth": "12", "part_thickness": "20"},
    "9/32 through 3/4": {"kind": "plain", "diameter": "9/32 in", "through": True, "depth": "3/4 in"},
    "#7 depth 3/4": {"kind": "plain", "diameter": "#7", "depth": "3/4 in"},
    "letter F through 1/2": {"kind": "plain", "diameter": "letter F", "through": True, "depth": "1/2 in"},
    "1-3/16 thru 2": {"kind": "plain", "diameter": "1-3/16 in", "depth": "2 in"},
    '5/8" drill thru 2"': {"kind": "plain", "diameter": "5/8 in", "depth": "2 in"},
    "0.5 in through 25 mm": {"kind": "plain", "diameter": "0.5 in", "through": True, "depth": "25 mm"},
    "4x Ø9 through 20": {"kind": "plain", "count": 4, "diameter": "9", "depth": "20"},
    "6x 4.2 thru 5": {"kind": "plain", "count": 6, "diameter": "4.2"},
    "3 holes 8 x 20": {"kind": "plain", "count": 3, "diameter": "8", "depth": "20"},
    "8 thru 12 wall 3 sawn": {"kind": "plain", "wall": "3", "entry": "sawn"},
    "M14x2 6H 26, drill 34": {"thread": "M14x2", "class": "6H", "thread_depth": "26", "depth": "34"},
    "M14×2 6H 26, drill 34\nØ22 H7 4, cham 0.5": {
        "thread": "M14x2",
        "counterbore_diameter": "22",
        "counterbore_tolerance": "H7",
        "counterbore_depth": "4",
        "countersink_diameter": "15",
        "countersink_angle_deg": 90.0,
    },
    "M10x20": {"kind": "tapped", "thread": "M10x1.5", "thread_depth": "20"},
    "M10x1.5x20": {"kind": "tapped", "thread": "M10x1.5", "thread_depth": "20"},
    "M16 x 1.5 - 6H x 24/30": {"thread": "M16x1.5", "class": "6H", "thread_depth": "24", "depth": "30"},
    "tap M6 thru 10": {"kind": "tapped", "thread": "M6x1", "through": True, "depth": "10"},
    "M8 ↧ 16 drill ↧ 22": {"thread": "M8x1.25", "thread_depth": "16", "depth": "22"},
    "M8 16 deep, drill 6.8 x 22 deep": {"thread_depth": "16", "diameter": "6.8", "depth": "22"},
    "2 x M5 x 10": {"count": 2, "thread": "M5x0.8", "thread_depth": "10"},
    "5/16-18 UNC-2B thru 5/8": {"thread": "5/16-18 UNC", "class": "2B", "through": True, "depth": "5/8 in"},
    "#8-32 x .5 deep": {"kind": "tapped", "thread": "#8-32 UNC", "thread_depth": ".5 in"},
    "10-24 UNC 3/8 deep": {"kind": "tapped", "thread": "#10-24 UNC", "thread_depth": "3/8 in"},
    "7/16-20 UNF 2B 3/4 deep, drill 1 deep": {"thread": "7/16-20 UNF", "thread_depth": "3/4 in", "depth": "1 in"},
    "4x Ø9 THRU ⌴ Ø15 ↧ 8.6": {"kind": "counterbored", "count": 4, "counterbore_diameter": "15"},
    "9 thru 20 cbore 15 x 8.6": {"kind": "counterbored", "depth": "20", "counterbore_depth": "8.6"},
    "M8 socket head, 20 thick": {"diameter": "9.0 mm", "counterbore_diameter": "15", "counterbore_depth": "8.6"},
    "6.6 thru 12, csk 12.6 x 90°": {"kind": "countersunk", "countersink_diameter": "12.6"},
    "#10 thru 1/4 csk 82° .40": {"countersink_diameter": ".40 in", "countersink_angle_deg": 82.0},
    "9 thru 14 spotface 20": {"kind": "spotfaced", "counterbore_diameter": "20"},
    "12 flat bottom 20 deep": {"kind": "flat_bottom", "diameter": "12", "depth": "20"},
    "taper pin 6 through 40": {"kind": "taper_pin", "size": "6", "taper": "1:50", "depth": "40"},
    "#4 taper pin 1:48 thru 1-1/4": {"kind": "taper_pin", "size": "#4", "taper": "1:48", "depth": "1-1/4 in"},
    "center A 3.15": {"kind": "center_hole", "center_type": "A", "size": "3.15"},
    "ISO 6411-B 2.5/8": {"kind": "center_hole", "center_type": "B", "size": "2.5"},
    "center drill no. 4-1/2": {"kind": "center_hole", "center_type": "plain", "size": "#4 1/2"},
    "center bell #14": {"kind": "center_hole", "center_type": "bell", "size": "#14"},
}  # fmt: skip
SIZES = {"diameter", "depth", "thread_depth", "counterbore_diameter", "counterbore_depth", "countersink_diameter"}


@pytest.mark.parametrize("text", WAYS)
def test_ways_of_writing(text: str) -> None:
    found = read_callout(text).keys()
    for key, value in WAYS[text].items():
        if key in SIZES | {"existing_hole", "wall", "part_thickness", "position_tolerance"}:
            assert parse(str(found[key])) == parse(str(value), "mm"), key
        else:
            assert found.get(key) == value, key


# What is in doubt, and the words that stand at the doubt.
DOUBTS = {
    "": "",
    "H7": "H7",
    "wide": "wide",
    "18 H7 through 32 banana": "banana",
    "18 Q7": "Q7",
    "0 through 3": "0",
    "18 ±20 through 4": "18",
    "18 H7 32": "32",
    "4x9": "4",
    "18 h7 20 deep": "h7",
    "M8 6G 20": "6G",
    "3/8 NPT": "NPT",
    "M12 LH": "LH",
    "20 H7 (+0.025/0) thru": "+0.025/0",
    "1,000 deep": "1,000",
    "20 H7 H8": "H8",
    "8 20 deep 30 deep": "30",
    "M9.3": "M9.3",
    "taper pin 7": "7",
    "8 deep": "8 deep",
    "12 through 20 flat bottom": "12 through 20 flat bottom",
    "9 thru cbore 8 x 4": "9 thru cbore 8 x 4",
    "20 through 30 €": "€",
    "center Q 3": "center Q 3",
    "6 1:20": "1:20",
}


@pytest.mark.parametrize("text", DOUBTS)
def test_the_doubt_is_shown_at_its_place(text: str) -> None:
    with pytest.raises(Doubt) as caught:
        read_callout(text)
    assert text[caught.value.start : caught.value.end] == DOUBTS[text]
    assert len(caught.value.problem) > 12


def test_two_readings_are_offered_and_each_reads() -> None:
    for text in ("18 H7 32", "4x9", "18 h7 20 deep", "M8 6G 20"):
        with pytest.raises(Doubt) as caught:
            read_callout(text)
        assert caught.value.ways
        for _, instead in caught.value.ways:
            read_callout(instead)


def test_a_bare_figure_follows_the_unit_in_use() -> None:
    for unit, size in (("in", 25.4), ("mm", 1.0)):
        diameter = read_callout("1 through 2", unit).diameter
        assert diameter is not None and diameter.mm == size


SCRAPS = [
    *"0123456789.,/-+x×Ø⌴⌵↧:°()±#M ",
    *[
        "deep",
        "thru",
        "H7",
        "M8",
        "cbore",
        "csk",
        "drill",
        "center",
        "letter",
        "spotface",
        "cham",
        "UNC",
        "6H",
        "mm",
        "in",
        "1:50",
        "1/4-20",
        "45°",
    ],
    "taper pin",
    "center A",
]


@given(
    st.lists(st.sampled_from([*SCRAPS, *WAYS]), max_size=14).map(" ".join) | st.text(max_size=60), st.booleans()
)
@example("Ø", True)
@example("0-20", True)
@example("M8 socket", True)
@example("x x x", True)
@example("no taper pin", False)
@example("Ra", False)
def test_nothing_typed_breaks_it(text: str, inches: bool) -> None:
    try:
        found = read_callout(text, "in" if inches else "mm")
    except InputError as bad:
        start, end = getattr(bad, "start", 0), getattr(bad, "end", 0)
        assert bad.problem and 0 <= start <= end <= len(text)
        return
    assert found.shown_size.exact_mm > 0
    assert found.keys()["kind"]


def test_a_window_of_depths_form_keyways_and_a_round_part_are_read() -> None:
    deep = read_callout("#7 5/8-3/4 deep", "in")
    assert deep.depth is not None and deep.depth_to is not None
    assert (deep.depth.inch, deep.depth_to.inch) == (0.625, 0.75)
    same = [read_callout(text, "in").keys() for text in ("#7 5/8 to 3/4 deep", "#7 3/4 to 5/8 deep")]
    assert same == [deep.keys()] * 2
    for text in ("8 x 20 to 24 deep", "8 x 20.5 to 24 deep"):
        assert read_callout(text).keys()["depth_to"] == "24 mm", text
    assert read_callout("8 20.0-22.0 deep").keys()["depth_to"] == "22.0 mm"
    asked = read_callout("1/2 +.001/-.000 thru 1, round .0005, square .001, keyway, od 2.75", "in")
    keys = asked.keys()
    assert (keys["roundness"], keys["squareness"], keys["keyway"], keys["outside"]) == (
        ".0005 in",
        ".001 in",
        True,
        "2.75 in",
    )


@pytest.mark.parametrize("line", ["18 H7", "18 H7 thru 32", "20 through 32", "12 x 30 deep"])
def test_a_whole_number_is_never_that_many_inches_without_being_asked(line: str) -> None:
    with pytest.raises(Doubt) as bad:
        read_callout(line, "in")
    words = [way for way, _ in bad.value.ways]
    assert words == [f"{line.split()[0]} mm", f"{line.split()[0]} in"]
    assert all(read_callout(whole, "in").diameter is not None for _, whole in bad.value.ways)
    assert read_callout(line, "mm").diameter is not None
