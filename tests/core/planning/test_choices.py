"""Other tools for a step, and the next size that exists."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.choices import around, between, leaves_mm, stepped, tools_for
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.starts import center_choice, choose_start, start_minutes
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.core.shop.tool import Tool
from tests.jobs import hole

CATALOG = built_in("catalog")
DRILLS = CATALOG.of_kind("drill")


def operation(kind: str, asked: Hole) -> Operation:
    """The operation of that kind in the recommended route on the toolroom lathe."""
    found = plan_hole(asked, CATALOG, CATALOG.machine("toolroom_lathe"), material("medium_carbon_steel"))
    return [o for o in found.routes[0].operations if o.kind == kind][-1]


def drill(name: str, series: str = "") -> Tool:
    """A drill of the catalog."""
    return next(t for t in DRILLS if t.designation == name and series in ("", t.series))


def test_only_tools_that_could_do_the_step_are_offered() -> None:
    asked = hole("18 mm", "H7", "24 mm")
    drills = tools_for(CATALOG, operation("drill", asked), asked)
    assert max(t.diameter_mm for t in drills) <= 18.018 + 1 and {t.kind for t in drills} == {"drill"}
    assert [t.diameter_mm for t in drills] == sorted(t.diameter_mm for t in drills)
    reamers = tools_for(CATALOG, operation("ream", asked), asked)
    assert {t.designation for t in reamers} >= {"18 mm"} and all(abs(t.diameter_mm - 18) < 0.4 for t in reamers)
    assert tools_for(CATALOG, Operation("deburr"), asked) == ()
    opened = hole("18 mm", "H7", "24 mm", existing_mm=9.0)
    assert all(t.diameter_mm > 9 for t in tools_for(CATALOG, operation("drill", opened), opened))


def test_steps_keep_to_the_tools_own_unit_and_series() -> None:
    assert stepped(DRILLS, drill("17.7 mm"), True) == drill("17.75 mm")
    assert stepped(DRILLS, drill("17.7 mm"), False) == drill("17.6 mm")
    assert stepped(DRILLS, drill("13 mm", "jobber"), True) == drill("13.1 mm")  # on to the taper shanks
    up = stepped(DRILLS, drill("10 mm", "stub"), True)
    assert up is not None and (up.designation, up.series) == ("10.5 mm", "stub")
    inch = stepped(DRILLS, drill("1/4 in", "jobber"), True)
    assert inch is not None and inch.designation == "letter F"
    assert stepped(DRILLS, drill("2 in"), True) is None
    assert stepped(DRILLS, drill("50 mm"), True) is None  # 2 in is larger, but nothing would step back from it
    assert stepped((drill("5 mm", "stub"),), drill("5 mm", "stub"), False) is None


@given(st.integers(0, len(DRILLS) - 1))
def test_a_step_up_and_back_comes_home(index: int) -> None:
    tool = DRILLS[index]
    up = stepped(DRILLS, tool, True)
    if up is None:
        return
    assert up.diameter_mm > tool.diameter_mm
    back = stepped(DRILLS, up, False)
    assert back is not None and back.diameter_mm >= tool.diameter_mm - 1e-9
    assert len(around(DRILLS, tool)) <= 20 + sum(abs(t.diameter_mm - tool.diameter_mm) < 1e-9 for t in DRILLS)
    assert tool in around(DRILLS, tool)


def test_what_another_tool_would_leave() -> None:
    asked = hole("18 mm", "H7", "24 mm")
    undersize, ream = operation("drill", asked), operation("ream", asked)
    other = drill("17.6 mm")
    assert leaves_mm(undersize, other) == expected_drilled(other, undersize.previous_mm).mean_mm
    assert ream.tool is not None and 18 < (leaves_mm(ream, ream.tool) or 0) < 18.018
    assert leaves_mm(Operation("center_drill"), CATALOG.of_kind("center_drill")[0]) is None


def test_a_step_between_two_sizes() -> None:
    asked = hole("18 mm", "H7", "24 mm")
    tool = between(CATALOG, asked, 5.0, drill("17.7 mm"))
    assert tool is not None and 8 < tool.diameter_mm < 11 and tool.diameter.unit == "mm"
    assert between(CATALOG, asked, 17.69, drill("17.7 mm")) is None


def test_starts_that_are_asked_for_and_those_chosen() -> None:
    machine, steel = CATALOG.machine("toolroom_lathe"), material("medium_carbon_steel")
    bench = Bench(hole("18 mm", "H7", "24 mm"), CATALOG, machine, steel, Practice())
    first = drill("7 mm", "jobber")
    free = choose_start(bench, first, 18.0)
    assert free is not None and free.kind == "center_drill" and free.mouth_mm >= 1.1 * first.chisel_mm
    huge = next(t for t in CATALOG.of_kind("center_drill") if t.designation == "#8")
    assert center_choice(bench, first, 18.0, (huge,)) is None
    forced = choose_start(bench, first, 18.0, huge)
    assert forced is not None and forced.tool is huge
    spot = next(t for t in CATALOG.of_kind("spot_drill") if t.designation == "6 mm")
    asked = choose_start(bench, drill("17.7 mm"), 18.0, spot)
    assert asked is not None and asked.mouth_mm <= 6
    minutes = start_minutes(bench, first, 18.0)
    assert minutes is not None and minutes[0] > 0.5 and minutes[1] in machine.steps()
