"""The crib drawn: drawers by label and size, machines with their own figures, words beside the print."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pytestqt.qtbot import QtBot

from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.ways import ways
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.makers import twist_drill
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.drawer import PLACES, in_drawers, in_places, span_words, tally
from cordwainer.ui.stages.crib.machine_parts import Dial, SpeedPlate, Truth
from cordwainer.ui.stages.crib.tool_list import TOOL, ToolList, state_of
from cordwainer.ui.stages.crib.what_drill import WhatDrill

sizes = st.integers(10, 3000).map(lambda n: f"{n / 100:.2f} mm")


def drill(size: str, **fields: object) -> Tool:
    return replace(twist_drill(parse(size)), id=f"{size} {fields}", **fields)


drills = st.lists(
    st.builds(
        lambda size, drawer, quantity: drill(size, drawer=drawer, quantity=quantity),
        sizes,
        st.sampled_from(["", "1", "2", "10", "rack"]),
        st.integers(0, 4),
    ),
    max_size=60,
)


@given(drills, st.lists(sizes.map(drill), max_size=4))
def test_every_tool_stands_in_one_place(held: list[Tool], wanted: list[Tool]) -> None:
    shown = in_drawers(held, wanted)
    ids = [i for drawer in shown for place in drawer.places for i in place.ids]
    assert set(ids) >= {tool.id for tool in held}
    for drawer in shown:
        by_size = [place.tool.diameter_mm for place in drawer.places]
        assert by_size == sorted(by_size) and 1 <= len(by_size) <= PLACES
        assert drawer.span_mm == (by_size[0], by_size[-1])
    assert len({drawer.label for drawer in shown}) == len(shown)
    here = {round(tool.diameter_mm, 5) for tool in held}
    gaps = {round(t.diameter_mm, 5) for t in wanted} - here
    assert gaps <= {round(p.tool.diameter_mm, 5) for d in shown for p in d.places if p.state == "to get"}
    assert sum(p.count for d in shown for p in d.places) == sum(tool.quantity for tool in held)


def test_labels_stand_in_the_order_of_their_figures() -> None:
    held = [
        drill("3 mm", drawer="10"),
        drill("4 mm", drawer="2"),
        drill("5 mm", drawer=""),
        drill("6 mm", drawer="R"),
    ]
    assert [drawer.label for drawer in in_drawers(held)] == ["2", "10", "R", "loose 1"]
    many = [drill(f"{n / 10:.1f} mm", drawer="3") for n in range(10, 40)]
    assert [drawer.label for drawer in in_drawers(many)] == ["3a", "3b"]
    assert [drawer.label for drawer in in_drawers([drill("3 mm")])] == ["1"]


def test_what_a_front_says() -> None:
    held = [drill("3 mm", quantity=2), drill("4 mm", quantity=0), drill("5 mm", out=1), drill("5.5 mm")]
    places = in_places(held)
    assert tally(places, whole=True) == "4 sizes, 1 out, 1 to get, 1 doubled"
    assert tally(places, whole=False) == "2 gaps" and tally(places[:1], whole=False) == "1 size"
    assert span_words(places, "mm") == "3.0 to 5.5 mm" and span_words(places, "in") == ".118 to .217 in"
    assert [place.state for place in places] == ["", "to get", "out", ""]
    both = in_places([drill("3 mm", quantity=1), drill("3 mm", quantity=2, note="other")])
    assert len(both) == 1 and both[0].here == 3


def test_rows_tell_name_and_state(qtbot: QtBot) -> None:
    rows = ToolList()
    qtbot.addWidget(rows)
    rows.resize(700, 200)
    held = [drill("3 mm"), drill("4 mm", condition="worn"), drill("5 mm", quantity=0), drill("6 mm", out=1)]
    rows.show_tools(held, held[2].id)
    rows.show()
    assert [state_of(t) for t in held] == ["", "worn", "to get", "out"]
    assert rows.currentIndex().row() == 2 and rows.rows.index(1).data().endswith("worn")
    rows.step(1)
    assert rows.currentIndex().data(TOOL) is held[3]
    rows.step(1)
    assert rows.currentIndex().row() == 3 and not rows.grab().toImage().isNull()


@pytest.mark.parametrize("machine", built_in("demo").machines, ids=lambda m: m.id)
def test_every_machine_can_be_drawn(qtbot: QtBot, machine: object) -> None:
    from cordwainer.core.shop.machine import Machine

    assert isinstance(machine, Machine)
    plate, dial, truth = SpeedPlate(), Dial(), Truth()
    for widget in (plate, dial, truth):
        qtbot.addWidget(widget)
    plate.resize(600, 58)
    plate.show_machine(machine)
    assert f"{machine.speeds_rpm[0]:.0f}" in plate.accessibleName()
    plate.show_machine(replace(machine, speeds_rpm=(), speed_range_rpm=(60, 3000)))
    assert "stepless" in plate.accessibleName()
    dial.show_dial(machine.wheel, 0.12)
    for runout, offset in ((None, None), (0.03, (0.02, -0.05)), (0.0, (3.0, 0.0))):
        truth.show_machine(replace(machine, runout_mm=runout, tailstock_offset_mm=offset), "mm")
        assert not truth.grab().toImage().isNull()
    assert not plate.grab().toImage().isNull() and not dial.grab().toImage().isNull()


def test_a_gauge_plate_answers_too(demo: Window, qtbot: QtBot) -> None:
    what = WhatDrill(demo.desk.selection, demo.desk.stock)
    qtbot.addWidget(what)
    what.ready()
    assert what.second.text() == "0.02"
    what.use_other()
    assert what.swap.text() == "Use a caliper instead" and what.second.text() == ""
    what.reading.setText("29/64 in")
    what.second.setText("7/16 in")
    names = [c.named.name for c in what.found]
    assert names[0] == "29/64 in" and "7/16 in" not in names  # common practice: enters one, refuses the next
    assert "29/64 in by the plate" in what.answer.text()
    what.use_other()
    what.reading.setText("0.866 in")
    what.second.setText("0.001 in")
    assert [c.named.name for c in what.found] == ["22 mm"]  # 0.866 in is 22.0 mm less 0.0001 (arithmetic)
    what.reading.setText("2000")
    assert what.answer.text().startswith("Worn, or not a drill?")


def asked(size: str, zone: str, **fields: object) -> Hole:
    d = parse(size)
    return Hole("A", "sized", d, parse("20 mm"), True, limits_of(d, zone, None, ""), **fields)


def test_ways_in_words() -> None:
    shop = built_in("demo")
    told = [text for _, text in ways(asked("20 mm", "H7", exit="cross_hole"), shop)]
    assert told[0].startswith("IT7 is held by machine reaming") and "spiral flute" in told[-1]
    inch = [text for _, text in ways(asked("5/8 in", "H8"), shop)]
    assert any(".6245 (to get) or .6240 (to get)" in text for text in inch)
    odd = [text for _, text in ways(asked("0.628 in", "H8"), shop)]
    assert any("expansion reamer 5/8 in, set .0030 over" in text for text in odd)
    assert next(iter(ways(asked("20 mm", "H3"), shop)))[0] == "reject"
