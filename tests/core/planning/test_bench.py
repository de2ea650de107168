"""One hole at one machine: readings, minutes, hard limits, words."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.chance import normal_cdf
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.errors import BeyondTravelError
from cordwainer.core.formation.oversize import Expected
from cordwainer.core.lengths import parse
from cordwainer.core.planning.search.search import Search
from cordwainer.core.planning.steps.bench import (
    Bench,
    clear_minutes,
    cut_minutes,
    feed_turns,
    minutes_of,
    speed_working,
    turning,
)
from cordwainer.core.planning.steps.cuts import drill_cut, ream_cut
from cordwainer.core.planning.steps.finish import choose_process, fitting_reamers, within
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.steps.starts import needs_start
from cordwainer.core.planning.words.operation import PlanWarning
from cordwainer.core.planning.words.practice import Practice, schools
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.shop.catalog import catalog_shop
from cordwainer.core.shop.material import material
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import rows
from tests.jobs import hole


def bench(
    machine: str = "bench_lathe",
    size: str = "18 mm",
    tolerance: str | None = "H7",
    depth: str = "24 mm",
    **more: object,
) -> Bench:
    """A bench with the catalog in medium-carbon steel."""
    shop = catalog_shop()
    asked = hole(size, tolerance, depth, **more)
    return Bench(asked, shop, shop.machine(machine), material("medium_carbon_steel"), Practice())


def drill(name: str, series: str = "") -> Tool:
    """A drill of the catalog."""
    found = (t for t in catalog_shop().of_kind("drill") if t.designation == name)
    return next(t for t in found if not series or t.series == series)


def test_readings_in_the_scales_own_unit() -> None:
    mill = bench("knee_mill").reading(25.4, "tip", 0.0)
    assert mill is not None and mill.unit == "in" and mill.stop == pytest.approx(1.0)
    lathe = bench("bench_lathe").reading(20.0, "tip", 0.0, (10.0, 20.0))
    assert lathe is not None and (lathe.start, lathe.stop) == (8.0, 28.0)
    assert lathe.peck_readings == (18.0, 28.0)
    assert (lathe.wheel_turns, lathe.wheel_divisions) == (10, pytest.approx(0))
    touched = bench("bench_lathe").reading(20.0, "edge_touch", 3.0)
    assert touched is not None and touched.stop == 25.0


def test_half_feed_is_read_on_the_same_scale_whichever_way_it_counts() -> None:
    b = bench("drill_press")
    up = b.reading(20.0, "tip", 0.0, (), 17.0)
    assert up is not None and up.slow_from == 17.0
    scale = replace(b.machine.scales[0], direction="decreases", start=parse("80 mm"))
    down = replace(b, machine=replace(b.machine, scales=(scale,))).reading(20.0, "tip", 0.0, (), 17.0)
    assert down is not None and (down.stop, down.slow_from) == (60.0, 63.0)


def test_a_reading_beyond_the_travel() -> None:
    with pytest.raises(BeyondTravelError, match=r"83\.0 mm of travel and the quill scale has 80\.0"):
        bench("drill_press").reading(83.0, "tip", 0.0)
    assert bench("drill_press").reading(83.0, "edge_touch", 3.5) is not None


@given(st.floats(1.0, 400.0), st.floats(0.0, 20.0))
def test_a_tailstock_is_moved_up_where_its_ram_ends(deep: float, touch: float) -> None:
    found = bench("bench_lathe").reading(
        touch + deep, "edge_touch", touch, (touch + 0.4 * deep,), touch + 0.9 * deep
    )
    assert found is not None and found.start == 8.0  # the ram reads from 8 and has 52 mm
    runs = found.strokes
    assert bool(runs) is (deep > 52.0 + 1e-6) and found.stop <= 60.0 + 1e-6
    if runs:
        assert len(runs) == -(-round(deep, 6) // 52) and runs[-1].to_tip_mm == pytest.approx(touch + deep)
        assert all(a.to_tip_mm == b.from_tip_mm and b.move_mm == 52.0 for a, b in pairwise(runs))
        assert sum(run.stop - run.start for run in runs) == pytest.approx(deep, abs=1e-4)
    read = [*found.peck_readings, found.slow_from or 0.0]
    assert all(8.0 - 1e-6 <= each <= 60.0 + 1e-6 for each in read)


def test_feeding_by_hand_is_timed() -> None:
    per_mm, per_turn = bench().seconds(300, 0.2)
    assert per_mm == pytest.approx(1.0) and per_turn == pytest.approx(2.0)  # 2 mm a turn of the wheel
    assert bench("drill_press").seconds(300, 0.2)[1] is None


def test_minutes_by_feed_and_length() -> None:
    machine = catalog_shop().machine("toolroom_lathe")
    # derived: 60 mm at 188 mm/min with 3 mm approach
    assert cut_minutes(60, 0, 626.6, 0.30, 0, machine) == pytest.approx((60 + 3) / 188, rel=0.01)
    pecked = clear_minutes((30.0, 40.0, 50.0, 60.0), machine)
    assert pecked == pytest.approx(3 * minutes_of("clear_chips_carriage_or_quill") + 2 * 120 / 3000)
    assert clear_minutes((), machine) == 0
    slow = (feed_turns(60, 0, 0.3, 6.0) - feed_turns(60, 0, 0.3)) / 626.6
    assert slow == pytest.approx(6 / 188, rel=0.01)
    assert all(minutes_of(row.text("what")) >= 0 for row in rows("minutes"))


def test_hard_limits_say_why() -> None:
    b = bench()
    with pytest.raises(Rejected, match="too big for the MT2 socket"):
        drill_cut(b, drill("25 mm"), 0.0, 25)
    with pytest.raises(Rejected, match="would be buried"):
        drill_cut(bench(depth="48 mm"), drill("3 mm", "stub"), 0.0, 25)
    with pytest.raises(Rejected, match="under the hole"):
        drill_cut(bench(through=False, part_thickness_mm=26.0), drill("17.7 mm"), 8.0, 24)
    weak = replace(b, machine=replace(b.machine, thrust_n=100.0))
    with pytest.raises(Rejected, match="N of thrust even at the lightest feed"):
        drill_cut(weak, drill("17.7 mm"), 0.0, 25)
    faint = replace(b, machine=replace(b.machine, power_kw=0.01))
    with pytest.raises(Rejected, match="kW even at 130 rev/min"):
        drill_cut(faint, drill("17.7 mm"), 8.0, 25)
    reamer = next(t for t in catalog_shop().of_kind("reamer") if t.designation == "32 mm")
    with pytest.raises(Rejected, match="MT4"):
        ream_cut(b, reamer, 31.5, 25, 0.0)


def test_feed_comes_down_before_speed() -> None:
    b = bench()
    strong = drill_cut(replace(b, machine=replace(b.machine, power_kw=20.0)), drill("17.7 mm"), 8.0, 25)
    assert strong.slowed_for is None and strong.feed_mm_per_rev == pytest.approx(strong.feed.mm_per_rev)
    tight = replace(b, machine=replace(b.machine, power_kw=strong.load.power_kw(strong.rpm) / 0.8 * 0.9))
    eased = drill_cut(tight, drill("17.7 mm"), 8.0, 25)
    assert eased.slowed_for == "power" and eased.rpm == strong.rpm
    assert eased.feed.allowed.low <= eased.feed_mm_per_rev < strong.feed_mm_per_rev
    short = replace(b, machine=replace(b.machine, power_kw=0.44))
    slower = drill_cut(short, drill("17.7 mm"), 8.0, 25)
    assert slower.rpm < strong.rpm and slower.feed_mm_per_rev == pytest.approx(slower.feed.allowed.low)
    assert slower.load.power_kw(slower.rpm) <= short.power_kw


@given(st.floats(-4, 4))
def test_the_normal_law_is_even(z: float) -> None:
    assert normal_cdf(z) + normal_cdf(-z) == pytest.approx(1.0)
    assert 0 <= within(Expected(18.009 + z / 1000, 0.003), hole("18 mm", "H7", "20 mm").limits) <= 1


def test_normal_law_values() -> None:
    assert [round(normal_cdf(z), 4) for z in (0, 1, 1.96)] == [0.5, 0.8413, 0.975]  # statistical tables


def test_processes_by_grade() -> None:
    wanted = {
        "H5": ("bore", "bore_ream"),
        "H6": ("bore", "bore_ream"),
        "H7": ("ream", "bore"),
        "H8": ("ream", "bore"),
        "H10": ("ream", "bore", "core"),
        "H11": ("drill",),
        "H13": ("drill",),
    }  # rules of record 13: the grade advises, every way is tried
    for code, usual in wanted.items():
        found = choose_process(hole("18 mm", code, "20 mm"))
        assert found.usual == usual and {"drill", "ream", "bore"} <= set(found.processes)
    placed = hole("18 mm", "H7", "20 mm", position_tolerance_mm=0.03)
    assert all("bore" in process for process in choose_process(placed).processes)
    tight = hole("18 mm", "H7", "20 mm", position_tolerance_mm=0.08)
    assert choose_process(tight).processes[0] == "bore_ream"  # common practice: place and size both tight
    flat = hole("12 mm", "H12", "15 mm", False, kind="flat_bottom")
    assert choose_process(flat).processes == ("mill", "bore")
    assert choose_process(flat, Practice(flat_floor="bore")).processes == ("bore", "mill")
    assert choose_process(hole("18 mm", "H12", "20 mm"), Practice(finish="ream")).processes[0] == "ream"


def test_reamers_that_fit() -> None:
    found, _ = fitting_reamers(bench(size="18 mm", tolerance="H7"))
    assert found[0].designation == "18 mm" and found[0].series == "straight"
    crossed, _ = fitting_reamers(bench(size="18 mm", tolerance="H7", exit="cross_hole"))
    assert crossed[0].series == "spiral"
    wide, _ = fitting_reamers(bench(size="5 mm", tolerance="H8"))
    assert wide[0].zone == "H7"  # rules of record 5: a 5 H7 reamer serves 5 H8
    none, reasons = fitting_reamers(bench(size="18 mm", tolerance="+0.035/+0.020 mm"))
    assert not none and "18.02 mm to 18.033 mm" in reasons[0]


def test_undersize_order() -> None:
    b = bench()
    ends = Search(b).ream_endings(fitting_reamers(b)[0])
    led = {end.last.designation: end.places[1] for end in ends if end.last.series != "stub"}
    assert led["17.7 mm"] == 0 and all(place > 0 for name, place in led.items() if name != "17.7 mm")
    alone = min((end.places[0], end.last.diameter_mm) for end in ends if end.last.series != "stub")
    assert alone[0] == 0 and alone[1] < 17.7  # from solid it cuts bigger, so a smaller drill leaves the stock


def test_who_may_follow_whom() -> None:
    b = bench("toolroom_lathe")
    search = Search(b)
    web = search._web(search.ream_endings(fitting_reamers(b)[0]), 18.0)
    sizes = [0.0, *(t.diameter_mm for t in web.bits.tools)]
    arcs = list(zip(web.arcs.source, web.arcs.drill, strict=True))
    assert len(arcs) > 500
    for source, drill in arcs:
        found, tool = sizes[source], web.bits.tools[drill]
        pilot = tool.chisel_mm - 1e-6 <= found <= 1.3 * tool.chisel_mm + 1e-6
        step = 0.4 - 1e-9 <= found / tool.diameter_mm <= 0.85 + 1e-9 and found >= tool.chisel_mm
        if tool.kind == "core_drill":
            assert found >= 0.6 * tool.diameter_mm - 1e-6 and found <= tool.diameter_mm - 0.4 + 1e-6
            continue
        assert source == 0 or ((pilot or step) and tool.diameter_mm >= 6 and 12 * found >= 25 - 1e-6)


def test_when_a_start_is_needed() -> None:
    stub, jobber = drill("8 mm", "stub"), drill("8 mm", "jobber")
    plain = bench(size="8 mm", tolerance=None)
    assert needs_start(plain, jobber) and not needs_start(plain, stub)
    assert needs_start(bench(size="8 mm", tolerance=None, entry="cast"), stub)
    assert needs_start(bench(size="8 mm", tolerance=None, position_tolerance_mm=0.1), stub)
    assert not needs_start(bench(size="8 mm", tolerance=None, existing_mm=3.0), jobber)


def test_workings_of_speed() -> None:
    b = bench()
    chosen = speeds.choose(b.material, "drill", "hss", 10, 45, b.machine)
    working = speed_working(b, "drill", "hss", chosen)
    low, high, factor = (float(i.value) for i in working.inputs)
    assert working.value == pytest.approx((low + high) / 2 * factor) and "Handbook" in working.source
    ream = speeds.choose(b.material, "ream", "hss", 18, 25, b.machine)
    assert "at most 15" in speed_working(b, "ream", "hss", ream).formula
    turned = turning(b, chosen, 500, 0.2, "hand")
    assert turned["rpm_below"] == 330 and turned["rpm_above"] == 760


def test_words_in_the_holes_own_unit() -> None:
    assert say(17.70, "mm") == "17.7 mm" and say(7.9375, "in") == ".3125 in"
    assert say(3.14159, "mm", 2) == "3.14 mm" and say(25.4, "in", 2) == "1.000 in"
    assert caution("break").level == "stop" and "qualified person" in caution("standing").text
    for school in schools():
        assert school.default == getattr(Practice(), school.key)
        assert all(choice.words and choice.reason for choice in school.choices)
    assert PlanWarning("x", "y").numbers == {}


def test_the_touch_is_where_the_cone_meets_the_edge() -> None:
    cut = drill_cut(bench("toolroom_lathe"), drill("17.7 mm"), 8.0, 25)
    assert cut.tip_at_start_mm == pytest.approx(4 / math.tan(math.radians(59)))
    assert cut.tip_mm == pytest.approx(25 + 0.3004 * 17.7, abs=1e-2)
