"""Cards, runs and plans around what was done: readings match the handle, nothing that happened is lost."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.marks import marks
from cordwainer.core.lengths import parse
from cordwainer.core.planning.around import Did, PlanBench, around
from cordwainer.core.planning.machine.card import card_of, fetch_words, touches
from cordwainer.core.planning.machine.run import Event, begun, folded
from cordwainer.core.planning.steps.breaks import BROKEN
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.machine import Scale
from cordwainer.core.shop.material import material
from tests.core.planning.test_kinds import CATALOG, asked, best
from tests.core.planning.test_schools import SEAT, route


def scale(kind: str, unit: str, start: str, division: str, **more: str) -> Scale:
    """A scale as a shop file has it."""
    lengths = {key: parse(value) for key, value in more.items() if key != "direction"}
    way = more.get("direction", "increases")
    return Scale(kind, unit, parse(start), parse(division), direction=way, **lengths)


def test_marks_are_what_the_handle_shows() -> None:
    ram = scale("tailstock_ram", "in", "1/2 in", "1/16 in", travel_limit="3 in")
    found = marks(ram, 0.0, 0.375 * 25.4)
    # Common practice: start at 1/2, 3/8 deep, stop at 7/8.
    assert (found.say(found.start), found.say(found.stop), found.missing) == ("1/2", "7/8", None)
    begin = marks(ram, 0.0, 0.625 * 25.4, start=parse("1 in"))
    assert begin.say(begin.stop) == "1-5/8"  # common practice
    wheel = scale("ram_handwheel", "in", "0 in", "0.001 in", per_rev="0.100 in")
    turned = marks(wheel, 0.0, 0.375 * 25.4)
    assert (turned.turns, turned.divisions, turned.say(turned.stop)) == (3, 75, ".0750")
    metric = marks(scale("ram_handwheel", "mm", "0 mm", "0.02 mm", per_rev="2 mm"), 0.0, 0.375 * 25.4)
    assert (metric.turns, metric.divisions) == (4, 76.0)  # arithmetic: 9.525 mm is 4 turns and 1.525 mm
    knee = scale("knee_dial", "in", "0 in", "0.001 in", per_rev="0.100 in")
    raised = marks(knee, 0.0, 12.7)
    assert (raised.turns, raised.divisions, raised.stop) == (5, 0, 0.0)  # arithmetic: 0.500 is five whole turns
    down = marks(scale("quill_scale", "mm", "60 mm", "1 mm", travel_limit="60 mm", direction="decreases"), 0, 20)
    assert (down.stop, down.missing) == (40, None) and down.tip_at(50, 0.0) == 10
    short = marks(scale("tailstock_ram", "mm", "8 mm", "1 mm", travel_limit="60 mm"), 0, 70)
    assert short.missing == pytest.approx(18)
    late = marks(scale("tailstock_ram", "mm", "8 mm", "1 mm", travel_limit="60 mm"), 0, 45, start=parse("20 mm"))
    assert late.missing == pytest.approx(5)


@given(
    st.fractions(0, 80, max_denominator=1000),
    st.fractions(Fraction(1, 10), 60, max_denominator=1000),
    st.sampled_from([("0.02 mm", "2 mm", "mm"), ("0.001 in", "0.1 in", "in"), ("0.05 mm", "4 mm", "mm")]),
)
def test_turns_and_divisions_add_up_to_the_travel(
    start: Fraction, travel: Fraction, dial: tuple[str, str, str]
) -> None:
    division, per_rev, unit = dial
    wheel = scale("carriage_handwheel", unit, "0 mm", division, per_rev=per_rev)
    found = marks(wheel, float(start), float(start + travel), start=parse(f"{float(start):.3f} mm"))
    assert found.turns is not None and found.divisions is not None
    back = found.turns * parse(per_rev).mm + found.divisions * parse(division).mm
    assert back == pytest.approx(float(travel), abs=parse(division).mm / 4 + 1e-6)
    assert 0 <= found.divisions < parse(per_rev).mm / parse(division).mm
    assert 0 <= found.stop < parse(per_rev).mm / (25.4 if unit == "in" else 1) + 1e-9


def test_a_card_reads_alike_however_zero_is_found() -> None:
    found = route(SEAT, "bench_lathe")
    lathe = CATALOG.machine("bench_lathe")
    for index, operation in enumerate(found.operations):
        ends = {}
        for way, at in touches(operation).items():
            card = card_of(found, index, lathe, "mm", touch=way)
            main = card.main
            assert main is not None and card.touch == way and card.tip_at_touch_mm == at
            ends[way] = at + (main.stop - main.start)
            assert card.rungs[-1].tip_mm == operation.tip_mm
        assert all(end == pytest.approx(operation.tip_mm) for end in ends.values())
    drill = next(i for i, o in enumerate(found.operations) if o.kind == "drill")
    card = card_of(found, drill, lathe, "mm", touch="flat_face")
    assert card.touch == "edge_touch" and "rim of the center" in card.meets  # one it does not have: the usual one
    planned = found.operations[drill].readings
    assert planned is not None and card.main is not None and card.main.stop == pytest.approx(planned.stop)
    assert card.main.pecks == pytest.approx(planned.peck_readings[:-1])
    moved = card_of(found, drill, lathe, "mm", starts={"tailstock_ram": parse("12.5 mm")})
    assert moved.main is not None and moved.main.stop == pytest.approx(planned.stop + 4.5)
    assert card.next_name and "rpm" in card.next_words and "belt" in card.next_words
    last = card_of(found, len(found.operations) - 1, lathe, "mm")
    assert last.rungs == () and last.next_name == "" and last.main is None and last.start == last.stop == ""
    tight = replace(lathe, backlash_mm=0.15)
    assert "0.15 mm of play" in card_of(found, drill, tight, "mm").backlash
    assert ".006 in" in card_of(found, drill, tight, "in").backlash.replace("0.006", ".006")


def test_countersinks_touch_on_the_edge_and_part_way_passes_on_the_bottom() -> None:
    sunk = best(kind="countersunk", diameter="6.6 mm", depth="12 mm", through=True, countersink_diameter="12.4 mm")
    index = next(i for i, o in enumerate(sunk.operations) if o.kind == "countersink")
    card = card_of(sunk, index, CATALOG.machine("toolroom_lathe"), "mm")
    assert card.touch == "edge_touch" and card.main is not None
    sized = [o for o in sunk.operations if o.kind in ("drill", "core_drill")][-1].expected_mm or 6.6
    # Derived: (mouth - hole) / 2 / tan(45 deg).
    assert card.main.stop - card.main.start == pytest.approx((12.4 - sized) / 2, abs=0.02)
    again = route({"kind": "plain", "diameter": "14 mm", "depth": "44 mm", "through": True}, pilot="part_way")
    rest = next(i for i, o in enumerate(again.operations) if o.role == "finish_pilot")
    assert touches(again.operations[rest]) == {"bottom": again.operations[rest - 2].tip_mm}
    drawer = replace(CATALOG.of_kind("drill")[5], drawer="4")
    assert fetch_words(drawer).endswith(", drawer 4")


AT = "2026-05-04T10:00:00"


def test_a_run_is_the_sum_of_its_events() -> None:
    events = [
        Event(AT, "tick", 1, {"caution": "clamp"}),
        Event(AT, "touch", 0),
        Event(AT, "done", 0, {"minutes": 0.5}),
        Event(AT, "touch", 1),
        Event(AT, "cleared", 1, {"rung": 1}),
        Event(AT, "felt", 1, {"question": "q_smoke", "answer": "yes"}),
        Event(AT, "felt", 1, {"question": "q_sound", "answer": "squeal"}),
        Event(AT, "felt", 1, {"question": "q_smoke", "answer": None}),
        Event(AT, "wrong", 1),
    ]
    run = folded(4, events)
    assert (run.current, run.wrong, run.step.rung, run.felt) == (1, True, 1, {"q_sound": "squeal"})
    assert run.step.ticked == ("clamp",) and run.minutes == 0.5
    rest = [
        Event(AT, "go_on"),
        Event(AT, "back", 1, {"rung": 0}),
        Event(AT, "rpm", 1, {"rpm": 330}),
        Event(AT, "done", 1, {"minutes": 1.5}),
        Event(AT, "skip", 2, {"reason": "no tool"}),
        Event(AT, "plan", 3, {"operations": [{}, {}, {}, {}, {}]}),
        Event(AT, "done", 9),
    ]
    run = folded(4, [*events, *rest])
    assert [s.state for s in run.steps] == ["done", "done", "skipped", "waiting", "waiting"]
    assert (run.current, run.wrong, run.steps[1].rpm, run.steps[2].reason) == (3, False, 330, "no tool")
    assert folded(4, [*events, *rest, Event(AT, "back", 1)]).current == 1
    assert folded(4, [*events, Event(AT, "finish")]).over and not begun(2).over


def bench_of(entry: dict[str, object]) -> PlanBench:
    """The bench of a hole on the bench lathe."""
    lathe, steel = CATALOG.machine("bench_lathe"), material("medium_carbon_steel")
    return PlanBench(asked(**entry), CATALOG, lathe, steel, Practice())


def drills(found: Route) -> list[Operation]:
    """Its drilling operations."""
    return [o for o in found.operations if o.kind in ("drill", "core_drill")]


def test_what_was_really_used_changes_the_rest_only_where_it_must() -> None:
    bench, planned = bench_of(SEAT), route(SEAT, "bench_lathe")
    index = next(i for i, o in enumerate(planned.operations) if o.kind == "drill")
    did = [Did(o) for o in planned.operations[: index + 1]]
    same = around(bench, planned, did)
    assert [(o.kind, o.tool) for o in same.operations] == [(o.kind, o.tool) for o in planned.operations]
    slow = (planned.operations[index].rpm_below or 0) or 0
    slower = around(bench, planned, [*did[:-1], replace(did[-1], rpm=slow)])
    assert all((o.rpm or 0) <= slow for o in drills(slower))  # rules of record 1: speed never rises
    last = max(i for i, o in enumerate(planned.operations) if o.kind in ("drill", "core_drill"))
    undersize = planned.operations[last]
    assert undersize.tool is not None
    near = [t for t in CATALOG.of_kind("drill") if t.series == undersize.tool.series]
    wide = min(near, key=lambda t: abs(t.diameter_mm - undersize.tool.diameter_mm - 0.1))
    used = [*(Did(o) for o in planned.operations[:last]), Did(undersize, tool=wide)]
    after = around(bench, planned, used)
    assert after.operations[last].tool == wide and len(after.operations) >= last + 2
    ream = next(o for o in after.operations if o.kind == "ream")
    planned_ream = next(o for o in planned.operations if o.kind == "ream")
    moved = wide.diameter_mm - undersize.tool.diameter_mm
    assert (ream.stock_mm or 0) == pytest.approx((planned_ream.stock_mm or 0) - moved, abs=0.01)


def test_a_drill_too_large_for_the_reamer_is_not_followed_by_it_unsaid() -> None:
    bench, planned = bench_of(SEAT), route(SEAT, "bench_lathe")
    last = max(i for i, o in enumerate(planned.operations) if o.kind in ("drill", "core_drill"))
    full = next(t for t in CATALOG.of_kind("drill") if abs(t.diameter_mm - 16) < 1e-6)
    used = [*(Did(o) for o in planned.operations[:last]), Did(planned.operations[last], tool=full)]
    after = around(bench, planned, used)
    assert any(w.id == BROKEN for o in after.operations[last:] for w in o.warnings)


def test_a_step_left_out_is_planned_around_or_said() -> None:
    bench, planned = bench_of(SEAT), route(SEAT, "bench_lathe")
    start = next(i for i, o in enumerate(planned.operations) if o.kind == "center_drill")
    did = [Did(o, skipped=i == start) for i, o in enumerate(planned.operations[: start + 1])]
    bare = around(bench, planned, did)
    assert len(bare.operations) == len(planned.operations)
    assert any("nothing starts it" in w.text for o in bare.operations for w in o.warnings)
    pilot = next(i for i, o in enumerate(planned.operations) if o.kind == "drill")
    if len(drills(planned)) > 1:
        left = [Did(o, skipped=i == pilot) for i, o in enumerate(planned.operations[: pilot + 1])]
        other = around(bench, planned, left)
        tail = other.operations[pilot + 1 :]
        assert planned.operations[pilot].tool not in [o.tool for o in tail] and tail[-1].kind == "measure"
