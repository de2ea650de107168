"""Depths as scales read them."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.reading import Ask, ToolZero, read
from cordwainer.core.errors import BeyondTravelError, InputError
from cordwainer.core.lengths import parse
from cordwainer.core.shop.machine import Scale


def scale(kind: str, start: str, division: str, **more: Any) -> Scale:
    """A scale in the unit of its start."""
    lengths = {k: parse(v) for k, v in more.items() if k in ("per_rev", "travel_limit")}
    direction = more.get("direction", "increases")
    return Scale(kind, parse(start).unit, parse(start), parse(division), direction=direction, **lengths)


RAM = scale("tailstock_ram", "0.500 in", "1/64 in", travel_limit="3 in")
FLAT = ToolZero(10, 180, "flat_face")


@pytest.mark.parametrize(
    ("start", "deep", "stop"), [("1/2 in", 0.375, 0.875), ("1 in", 0.625, 1.625), ("1 in", 0.75, 1.75)]
)
def test_a_scale_may_start_anywhere(start: str, deep: float, stop: float) -> None:
    found = read(scale("tailstock_ram", start, "1/64 in"), FLAT, Ask(depth_full_mm=deep * 25.4))
    assert found.stop == pytest.approx(stop)  # common practice


def test_what_touches_decides_the_travel() -> None:
    ask = Ask(depth_full_mm=0.375 * 25.4)
    tip = read(RAM, ToolZero(0.1875 * 25.4, 118, "tip"), ask)
    assert tip.tip_depth == pytest.approx(0.4313, abs=5e-5)  # derived: 3/16 drill, 118°, 3/8 deep
    full = read(RAM, ToolZero(0.1875 * 25.4, 118, "full_diameter"), ask)
    assert full.travel == pytest.approx(0.375) and full.tip_depth == pytest.approx(0.4313, abs=5e-5)
    flat = read(RAM, ToolZero(0.1875 * 25.4, 118, "flat_face"), ask)
    assert flat.travel == pytest.approx(0.375) and flat.tip_depth == pytest.approx(0.375)
    edge = read(RAM, ToolZero(0.1875 * 25.4, 118, "edge_touch", 0.125 * 25.4), ask)
    assert edge.travel == pytest.approx(0.4313 - 0.0625 / math.tan(math.radians(59)), abs=5e-5)


def test_a_dial_rolls_over() -> None:
    dial = scale("ram_handwheel", "0.030 in", "0.001 in", per_rev="0.100 in")
    found = read(dial, FLAT, Ask(depth_full_mm=0.385 * 25.4))
    assert found.stop == pytest.approx(0.015) and found.stop_total == pytest.approx(0.415)
    assert (found.whole_turns, found.divisions_past) == (3, pytest.approx(85))
    assert found.turns == pytest.approx(3.85) and found.divisions == pytest.approx(385)
    back = scale("carriage_handwheel", "0.030 in", "0.001 in", per_rev="0.100 in", direction="decreases")
    assert read(back, FLAT, Ask(depth_full_mm=0.385 * 25.4)).stop == pytest.approx(0.045)


def test_the_nearest_division_may_be_the_next_turn() -> None:
    dial = scale("knee_dial", "0 in", "0.001 in", per_rev="0.1 in")
    found = read(dial, FLAT, Ask(depth_full_mm=0.09996 * 25.4))
    assert found.stop == pytest.approx(0.09996) and found.stop_nearest == pytest.approx(0.0)


def test_a_metric_dial_on_an_inch_job() -> None:
    dial = scale("ram_handwheel", "0 mm", "0.02 mm", per_rev="2 mm")
    found = read(dial, FLAT, Ask(depth_full_mm=25.4))
    assert found.unit == "mm" and found.whole_turns == 12 and found.divisions_past == pytest.approx(70)


def test_chamfers_and_countersinks() -> None:
    sink = ToolZero(16, 90, "edge_touch", 6.8)
    assert read(scale("readout", "0 mm", "0.005 mm"), sink, Ask(chamfer_width_mm=1)).travel == pytest.approx(1.0)
    from_tip = ToolZero(16, 90, "tip", 6.8)
    assert read(
        scale("readout", "0 mm", "0.005 mm"), from_tip, Ask(chamfer_width_mm=1)
    ).tip_depth == pytest.approx(4.4)
    head = ToolZero(20, 82, "edge_touch", 0.25 * 25.4)
    found = read(scale("quill_scale", "0 in", "0.01 in"), head, Ask(countersink_mm=0.5 * 25.4))
    assert found.travel == pytest.approx(0.1438, abs=5e-5)  # derived
    bore = read(scale("knee_dial", "0 in", "0.001 in", per_rev="0.1 in"), FLAT, Ask(counterbore_mm=12.7))
    assert bore.whole_turns == 5 and bore.travel == pytest.approx(0.5)
    unsaid = read(scale("readout", "2 mm", "0.01 mm"), ToolZero(11, 118, "tip"), Ask(counterbore_mm=6.4))
    assert unsaid.stop == pytest.approx(8.4) and unsaid.tip_depth == pytest.approx(6.4)


def test_beyond_the_travel_says_how_much() -> None:
    with pytest.raises(BeyondTravelError, match=r"0\.125 in missing") as caught:
        read(scale("tailstock_ram", "1 in", "1/64 in", travel_limit="3 in"), FLAT, Ask(depth_full_mm=2.125 * 25.4))
    assert caught.value.missing_mm == pytest.approx(3.175)
    with pytest.raises(BeyondTravelError):
        read(scale("readout", "100 mm", "0.01 mm", travel_limit="20 mm"), FLAT, Ask(depth_full_mm=21))
    assert (
        read(scale("readout", "100 mm", "0.01 mm", travel_limit="20 mm"), FLAT, Ask(depth_full_mm=20)).stop == 120
    )
    with pytest.raises(BeyondTravelError):
        read(
            scale("tailstock_ram", "10 mm", "1 mm", travel_limit="60 mm", direction="decreases"),
            FLAT,
            Ask(depth_full_mm=11),
        )


@pytest.mark.parametrize(
    "make",
    [
        lambda: ToolZero(10, 118, "edge_touch"),
        lambda: ToolZero(10, 118, "heel"),
        lambda: ToolZero(10, 0),
        lambda: read(RAM, ToolZero(10, 180), Ask(chamfer_width_mm=1)),
        lambda: read(RAM, ToolZero(10, 90), Ask(chamfer_width_mm=1)),
        lambda: read(RAM, ToolZero(10, 90, "edge_touch", 6), Ask(countersink_mm=5)),
        lambda: read(RAM, ToolZero(10, 90), Ask()),
        lambda: read(RAM, ToolZero(20, 90, "full_diameter", 6), Ask(countersink_mm=8)),
    ],
)
def test_questions_that_make_no_sense(make: Any) -> None:
    with pytest.raises(InputError):
        make()


@given(
    st.floats(0, 50),
    st.floats(0.1, 80),
    st.sampled_from(["increases", "decreases"]),
    st.sampled_from([None, "2 mm", "5 mm"]),
)
def test_turns_and_divisions_add_up(start: float, deep: float, way: str, per_rev: str | None) -> None:
    more = {"per_rev": per_rev} if per_rev else {}
    dial = scale("ram_handwheel", f"{start:.4f} mm", "0.02 mm", direction=way, **more)
    found = read(dial, FLAT, Ask(depth_full_mm=deep))
    assert abs(found.stop_total - dial.start.mm) == pytest.approx(found.travel, abs=1e-9)
    if per_rev and found.whole_turns is not None and found.divisions_past is not None:
        turn = parse(per_rev).mm
        assert found.whole_turns * turn + found.divisions_past * 0.02 == pytest.approx(found.travel, abs=1e-6)
        assert 0 <= found.stop < turn and 0 <= found.stop_nearest < turn
        assert (found.stop_total - found.stop) / turn == pytest.approx(
            round((found.stop_total - found.stop) / turn), abs=1e-6
        )


def test_pecks_are_read_on_the_same_scale() -> None:
    found = read(RAM, ToolZero(6, 118, "tip"), Ask(depth_full_mm=30), (18.0, 24.0))
    assert found.pecks == pytest.approx((0.5 + 18 / 25.4, 0.5 + 24 / 25.4))
