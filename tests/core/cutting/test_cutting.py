"""Speeds, feeds, forces and depths against handbook examples."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting import depth, feed, speed
from cordwainer.core.cutting.force import chisel_factors, drill_load, ream_torque_nm, relief
from cordwainer.core.shop.catalog import catalog_shop
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import material, materials
from cordwainer.core.tables import rows

STEEL = material("medium_carbon_steel")


def machine(name: str) -> Machine:
    """A built-in machine."""
    return catalog_shop().machine(name)


@pytest.mark.parametrize(
    ("m_min", "mm", "rpm"),
    [
        (175.3, 101.6, 549),  # Machinery's Handbook, cutting-speed formulas
        (30, 10, 955),  # derived
        (25, 12, 663),  # derived
        (80 * 0.3048, 12.7, 611),  # derived, 1/2 in at 80 ft/min
    ],
)
def test_spindle_speed(m_min: float, mm: float, rpm: int) -> None:
    assert round(speed.rpm_for(m_min, mm)) == rpm


def test_the_shop_form_is_a_little_fast() -> None:
    exact = speed.rpm_for(300 * 0.3048, 25.4)
    assert speed.rpm_shop_form(300, 1) == 1200 and round(exact) == 1146  # common practice
    assert speed.rpm_shop_form(300, 1) / exact - 1 == pytest.approx(0.047, abs=0.001)


def test_the_highest_step_not_over_eleven_tenths() -> None:
    found = speed.choose(STEEL, "drill", "hss", 10, 20, machine("bench_lathe"))
    assert round(found.ideal_rpm) == 748 and found.rpm == 760 and not found.too_fast
    deep = speed.choose(STEEL, "drill", "hss", 10, 45, machine("bench_lathe"))
    assert deep.ideal_rpm == pytest.approx(0.8 * found.ideal_rpm) and deep.rpm == 500
    slow = speed.choose(STEEL, "drill", "hss", 20, 20, machine("drill_press"))
    assert slow.rpm == 480 and slow.too_fast and not slow.refused
    assert speed.choose(material("stainless_austenitic"), "drill", "hss", 30, 20, machine("drill_press")).refused


def test_center_drills_are_capped() -> None:
    assert speed.choose(STEEL, "center_drill", "hss", 2, None, machine("knee_mill")).rpm == 840
    brass = material("brass_free_machining")
    assert speed.choose(brass, "center_drill", "hss", 2, None, machine("knee_mill")).rpm == 1700


def test_reaming_by_hand_is_slow() -> None:
    hand = speed.choose(STEEL, "ream", "hss", 20, 30, machine("bench_lathe"))
    power = speed.choose(STEEL, "ream", "hss", 20, 30, machine("toolroom_lathe"))
    assert hand.ideal_m_min == 12 and power.ideal_m_min == 15
    assert (
        speed.choose(material("aluminum_wrought"), "ream", "hss", 20, 30, machine("bench_lathe")).ideal_m_min == 15
    )


@given(
    st.sampled_from(["bench_lathe", "toolroom_lathe", "drill_press", "knee_mill"]),
    st.floats(1, 50),
    st.floats(1, 100),
)
def test_a_chosen_speed_is_one_the_machine_has(name: str, mm: float, deep: float) -> None:
    found = speed.choose(STEEL, "drill", "hss", mm, deep, machine(name))
    assert found.rpm in machine(name).steps()
    assert found.too_fast == (found.rpm > 1.1 * found.ideal_rpm + 1e-6)


def test_feeds() -> None:
    by_hand = feed.choose(STEEL, "drill", 10, 20, machine("bench_lathe"))
    assert (
        by_hand.mm_per_rev == pytest.approx(0.178, abs=0.0005) and by_hand.source == "hand"
    )  # Machinery's Handbook, feeds by diameter
    for kind in ("drill", "ream"):  # a curve through the rows: no step, and never out of the row
        for row in rows("ream_feeds" if kind == "ream" else "drill_feeds"):
            end = row.number("diameter_to_mm")
            below, above = feed.feed_band(kind, end - 1e-6), feed.feed_band(kind, end + 1e-6)
            assert (below.low, below.high) == pytest.approx((above.low, above.high), abs=1e-6)
            inside = feed.feed_band(kind, (row.number("diameter_over_mm") + end) / 2)
            if end > 3:
                assert row.number("feed_mm_rev_low") - 1e-9 <= inside.low <= inside.high
                assert inside.high <= row.number("feed_mm_rev_high") + 1e-9
    hard = feed.choose(materials()["nickel_alloy"], "drill", 0.8, 2, None)
    assert hard.mm_per_rev >= 0.015 * 0.8  # common practice: under 1 mm a metal that hardens is never rubbed
    power = feed.choose(STEEL, "drill", 10, 20, machine("toolroom_lathe"))
    assert power.mm_per_rev == 0.16 and power.source == "power"
    micro = feed.choose(STEEL, "drill", 0.4, 1, None)
    assert 0.01 * 0.4 <= micro.mm_per_rev <= 0.02 * 0.4  # common practice
    iron = feed.choose(material("cast_iron_gray"), "drill", 10, 45, None)
    assert iron.mm_per_rev == pytest.approx(0.178 * 1.35 * 0.9, rel=0.002)
    low = feed.choose(STEEL, "drill", 10, 20, None, least=True)
    assert low.mm_per_rev == pytest.approx(feed.feed_band("drill", 10).low) and low.mm_per_rev >= 0.102
    assert feed.choose(STEEL, "drill", 3, 3, machine("toolroom_lathe")).source == "power"
    assert feed.choose(material("alloy_steel_hard"), "drill", 2, 3, machine("toolroom_lathe")).source == "hand"


def test_the_handbook_drilling_example() -> None:
    # Machinery's Handbook, drilling thrust example (from memory): 7/8 in, 0.008 in/rev, 350 rev/min, 200 HB
    load = drill_load(22.225, 0.2032, 24000, 24000)
    assert load.thrust_n / 4.44822 == pytest.approx(1780, rel=0.02)
    assert load.torque_nm * 8.85075 == pytest.approx(430, rel=0.02)
    assert load.power_kw(350) * 1.34102 == pytest.approx(2.4, rel=0.02)
    worn = drill_load(22.225, 0.2032, 24000, 24000, wear=1.0)
    assert worn.thrust_n / 4.44822 == pytest.approx(2313, rel=0.02)
    assert worn.torque_nm * 8.85075 == pytest.approx(559, rel=0.02)


def test_chisel_factors_between_rows() -> None:
    assert chisel_factors(0.18) == (1.085, 1.355, 0.030)  # Machinery's Handbook, chisel-edge factors
    assert chisel_factors(0.19) == pytest.approx((1.095, 1.3675, 0.035))
    assert chisel_factors(0.01) == chisel_factors(0.03) and chisel_factors(0.9) == chisel_factors(0.40)


@given(st.floats(3, 40), st.floats(0.05, 0.6), st.floats(0, 0.95))
def test_a_pilot_never_adds_load(mm: float, per_rev: float, share: float) -> None:
    solid = drill_load(mm, per_rev, 24000, 24000)
    led = drill_load(mm, per_rev, 24000, 24000, 0.18, share * mm)
    assert led.thrust_n <= solid.thrust_n + 1e-9 and led.torque_nm <= solid.torque_nm + 1e-9
    if share < 0.6 * 0.18:
        assert led == solid
    assert 0 <= relief(share, 0.18) <= 1


def test_a_reamer_takes_little() -> None:
    assert ream_torque_nm(18, 0.25, 0.4, 24000) < 0.1 * drill_load(18, 0.4, 24000, 24000).torque_nm


@pytest.mark.parametrize(
    ("angle", "factor"),
    [(60, 0.866), (82, 0.575), (90, 0.5), (118, 0.3004), (120, 0.2887), (135, 0.2071), (140, 0.1820), (180, 0.0)],
)
def test_point_lengths(angle: float, factor: float) -> None:
    assert depth.point_length(1, angle) == pytest.approx(factor, abs=2e-4)  # Machinery's Handbook, length of point


def test_center_drill_depths() -> None:
    # check values for a no. 4: cone 0.1624 in, mouth 0.250 at two thirds, 0.2188 at half, 0.2656 at three quarters
    assert depth.cone_length(0.125, 0.3125) == pytest.approx(0.1624, abs=5e-5)
    for share, mouth in ((2 / 3, 0.250), (0.5, 0.2188), (0.75, 0.2656)):
        assert depth.center_mouth(0.125, 0.3125, share) == pytest.approx(mouth, abs=5e-5)
    at = depth.start_center(2.0, 2.5, 5.0, 0.5, False)
    assert at is not None and at.share == pytest.approx(1 / 3) and at.mouth_mm == pytest.approx(3.0)
    wide = depth.start_center(2.0, 2.5, 5.0, 3.5, False)
    assert wide is not None and wide.mouth_mm == pytest.approx(3.85)
    assert depth.start_center(2.0, 2.5, 5.0, 4.5, False) is None
    tip = depth.start_center(2.0, 2.5, 5.0, 1.0, True)
    assert tip is not None and tip.tip_mm == 2.5 and tip.mouth_mm == 2.0
    assert depth.start_center(2.0, 2.5, 5.0, 3.0, True) is None


def test_countersink_depths() -> None:
    assert depth.cone_depth(10, 5, 90) == pytest.approx(2.5)  # derived
    assert depth.cone_depth(0.5, 0.25, 82) == pytest.approx(0.1438, abs=5e-5)  # derived


def test_pecks() -> None:
    assert depth.pecks(30, 33, 10) == ()
    assert depth.pecks(40, 43, 10) == (30, 40, 43)
    assert depth.pecks(40, 41, 10, carbide=True) == ()
    assert depth.pecks(60, 61, 10, carbide=True) == (50, 60, 61)
    micro = depth.pecks(5, 5.0, 0.4)  # 1 mm then 0.1: 40 further bites to 5 mm (common practice)
    assert len(micro) == 41 and micro[0] == 1.0 and micro[1] == pytest.approx(1.1)


@given(st.floats(1, 20), st.floats(1, 15))
def test_pecks_go_down_and_end_at_the_tip(mm: float, ratio: float) -> None:
    tip = ratio * mm + 0.3 * mm
    found = depth.pecks(ratio * mm, tip, mm)
    assert bool(found) == (ratio * mm > 3 * mm + 1e-9)
    assert list(found) == sorted(set(found))
    if found:
        assert found[-1] == tip and found[0] <= 3 * mm + 1e-6


def test_breakthrough() -> None:
    slow = depth.breakthrough(32, 5.4, 0.2)
    assert (slow.from_tip_mm, slow.to_tip_mm, slow.feed_mm_per_rev) == (31, 37.4, 0.1)
    assert depth.breakthrough(0.5, 1, 0.2).from_tip_mm == 0
