"""Finding a tool, telling an unmarked one by the crib's own order, and what a practiced hand says of it."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.lengths import parse
from cordwainer.core.shop.advice import adapters, break_even_holes, chuck_caution, drill_choice, pays_from
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.find import find_tools, words_of
from cordwainer.core.shop.identify import pick
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.makers import twist_drill
from cordwainer.core.shop.material import materials
from cordwainer.core.shop.tool import Tool

DRILLS = built_in("catalog").of_kind("drill")
HAYSTACKS = [words_of(tool) for tool in DRILLS]


def names(found: list[Tool]) -> list[str]:
    return [tool.designation for tool in found]


@pytest.mark.parametrize(
    ("text", "unit", "first"),
    [
        ("6.8", "mm", "6.8 mm"),
        ("17/64", "mm", "17/64 in"),
        (".2660", "mm", "17/64 in"),  # ASME B94.11M: 17/64 is 0.2656, letter H 0.2660
        ("#7", "mm", "#7"),
        ("0.201", "in", "#7"),
        ("letter F", "mm", "letter F"),
        ("H", "mm", "letter H"),
    ],
)
def test_any_notation_finds_the_size(text: str, unit: str, first: str) -> None:
    found = find_tools(DRILLS, HAYSTACKS, text, unit)
    assert first in names(found)[:4]


def test_words_find_by_state_and_note() -> None:
    noted = [
        replace(DRILLS[5], note="kept for the clicker press"),
        replace(DRILLS[6], condition="worn"),
        replace(DRILLS[7], quantity=0),
        replace(DRILLS[8], out=1, drawer="rack"),
    ]
    hay = [words_of(tool) for tool in noted]
    for text, which in (("clicker", 0), ("worn", 1), ("to get", 2), ("drawer rack", 3)):
        assert find_tools(noted, hay, text, "mm") == [noted[which]]
    assert find_tools(noted, hay, "no such word", "mm") == [] and len(find_tools(noted, hay, " ", "mm")) == 4


@given(st.text(max_size=12))
def test_finding_takes_any_text(text: str) -> None:
    assert set(names(find_tools(DRILLS, HAYSTACKS, text, "in"))) <= set(names(list(DRILLS)))


def test_the_cribs_own_order_tells_an_unmarked_drill() -> None:
    a, b = twist_drill(parse("15/64 in")), twist_drill(parse("letter A"))
    assert pick([]).tool is None and pick([a]).tool is a
    both = pick([a, b])
    assert both.tool is None and both.apart_mm == pytest.approx(0.0004 * 25.4, abs=1e-3)  # .2344 and .2340
    empty = pick([replace(a, out=1), b])
    assert empty.tool is not None and empty.tool.designation == "15/64 in"
    assert empty.why == "Its place stands empty. letter A is in place."
    stub = replace(a, series="stub", id="other")
    assert pick([a, stub]).tool is a and "lengths tell them apart" in pick([a, stub]).why


def machine(**values: object) -> Machine:
    return replace(built_in("demo").machines[0], **values)


def test_chucks_and_sleeves() -> None:
    tap = built_in("catalog").of_kind("tap")[0]
    assert "never tap" in chuck_caution(machine(chuck_kind="keyless"), tap)  # common practice
    assert chuck_caution(machine(chuck_kind="keyed"), tap) == ""
    half = twist_drill(parse("1/2 in"))
    assert "keyed" in chuck_caution(machine(chuck_kind="keyless"), replace(half, shank="straight"))
    big = replace(twist_drill(parse("20 mm")), shank="straight", shank_diameter_mm=20.0)
    assert "taper shank" in chuck_caution(machine(chuck_kind="keyed"), big)
    assert adapters(machine(taper=3), "MT1") == "sleeve MT1 to MT3, or MT1 to 2 and 2 to 3"
    assert adapters(machine(taper=3), "MT3") == adapters(machine(taper=2), "MT3") == ""


def test_what_suits_a_metal() -> None:
    by_id = materials()
    steel = drill_choice(by_id["medium_carbon_steel"]).words
    aluminum = drill_choice(next(m for key, m in by_id.items() if key.startswith("aluminum")))
    assert "135°" in steel  # common practice
    assert "TiAlN" in aluminum.avoid and all(drill_choice(m).point for m in by_id.values())


def test_when_carbide_pays() -> None:
    assert break_even_holes(100.0, 10.0) == 901  # ten times the price, 100 holes a drill (arithmetic)
    assert "carbide" in pays_from(twist_drill(parse("6 mm"))) and pays_from(twist_drill(parse("20 mm"))) == ""
