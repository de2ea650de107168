"""Sets as they are sold, and tools typed in a line: read as meant, or said at their place why not."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import number_drills
from cordwainer.core.shop.sets import sets
from cordwainer.core.shop.sized import sized
from cordwainer.core.shop.typed import Doubt, Read, read_tools

LINES = [
    line.split("|")
    for line in (Path(__file__).parents[2] / "data" / "typed_tools.txt").read_text().splitlines()
    if not line.startswith("#")
]


def test_a_hundred_and_twenty_ways_and_thirty_doubts() -> None:
    ways = doubts = 0
    for unit, line, wanted in LINES:
        found = read_tools(line, unit)
        if wanted.startswith("? "):
            first = found[0]
            assert isinstance(first, Doubt) and first.why == wanted[2:], line
            assert line[first.at : first.at + len(first.text)].lower() == first.text.lower() or first.at >= 0
            doubts += 1
        else:
            assert "; ".join(one.words for one in found if isinstance(one, Read)) == wanted, line
            ways += 1
    assert ways >= 120 and doubts >= 30


def test_what_is_said_of_a_tool_goes_with_it() -> None:
    (found,) = read_tools("4x 5/16 cobalt stub TiN worn drawer 7", "mm")
    assert isinstance(found, Read)
    (tool,) = found.tools
    assert (tool.quantity, tool.material, tool.coating, tool.condition, tool.drawer) == (
        4,
        "cobalt",
        "TiN",
        "worn",
        "7",
    )
    assert tool.series == "stub" and tool.diameter_mm == pytest.approx(7.9375)


def test_a_bare_number_of_the_other_unit_is_asked() -> None:
    (found,) = read_tools("6.8", "in")
    assert isinstance(found, Doubt) and found.offers[0] == "6.8 mm"
    assert isinstance(read_tools(found.offers[0], "in")[0], Read)
    second = read_tools("6.8, frobnicator 7, 8", "mm")[1]
    assert isinstance(second, Doubt) and second.at == 5


WORDS = ["6.8", "5/16", "#7", "f", "M6", "x", "3x", "to", "by", "drill", "reamer", "tap", "stub", "0.5", "1/4-20",
         "center", "°", "drawer", "-", "..", "/", ",", "special", "A", "2.5", "set", "in", "mm"]  # fmt: skip


@settings(deadline=None, max_examples=300)
@given(
    st.one_of(st.text(max_size=60), st.lists(st.sampled_from(WORDS), max_size=9).map(" ".join)),
    st.sampled_from(("mm", "in")),
)
def test_anything_is_read_or_doubted(line: str, unit: str) -> None:
    for found in read_tools(line, unit):
        assert (isinstance(found, Read) and found.tools) or (isinstance(found, Doubt) and found.why)
        assert 0 <= found.at <= len(line)


# common practice: sets of drills as they are sold
@pytest.mark.parametrize(
    ("which", "count"),
    [
        ("inch_64", 29),
        ("numbers", 60),
        ("letters", 26),
        ("mm_13_05", 25),
        ("inch_reduced_8", 8),
        ("taps_inch", 20),
    ],
)
def test_sets_hold_what_is_sold_in_them(which: str, count: int) -> None:
    found = next(own for own in sets() if own.id == which)
    tools = [tool for part in found.parts for _, tool in part.tools()]
    assert found.count == len(tools) == count and len({tool.id for tool in tools}) == count


def test_every_set_is_made_and_sizes_are_true() -> None:
    for own in sets():
        for part in own.parts:
            assert all(tool.kind == part.kind for _, tool in part.tools()), own.id
    # ASME B94.11M, number drills
    assert sized("drill", "jobber", "#7").diameter_mm == pytest.approx(float(number_drills()["#7"]) * 25.4)
    assert sized("drill", "jobber", ".25 in") == sized("drill", "jobber", "1/4 in")
    with pytest.raises(InputError, match="reduced shank"):
        sized("drill", "reduced_shank", "6 mm")
