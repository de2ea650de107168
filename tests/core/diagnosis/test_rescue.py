"""Rescues with their sums: worked examples of common practice; no way offered that the metal does not allow."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.diagnosis.rescue import (
    ORDER,
    Bad,
    Rescue,
    bored_true,
    bush_outer,
    bush_wall,
    closes_by,
    consent_text,
    heat_for,
    insert_hole,
    rescues,
    thread_share,
)

SEAT = Bad(10.0, 10.0, 10.015, 10.0, 10.0, 30.0)


def ways(bad: Bad, reamers: tuple[float, ...] = ()) -> dict[str, Rescue]:
    """The ways by their id."""
    return {way.id: way for way in rescues(bad, reamers)}


def test_worked_examples() -> None:
    # common practice: drilled 11, off by 0.25, 0.05 to clean up each side
    assert bored_true(11, 0.25) == pytest.approx(11.6)
    # hole 10 off by 0.3, wall 1.5: bored true 13.0, plugged 13.6
    off = replace(SEAT, worst_mm=10.0, off_mm=0.3)
    assert bush_outer(off) == pytest.approx(13.0) and bush_outer(off, plugged=True) == pytest.approx(13.6)
    assert closes_by(0.016, 12, 16) == pytest.approx(0.012)
    assert heat_for(0.025, 0.02, 25) == pytest.approx(157, abs=1)
    assert bush_wall(10) == 1.5 and bush_wall(25) == 2.0
    # 60 degree form: M8 at 6.8 is 74 %, wire inserts M6 6.22, M8 8.27, M10 10.32, M12 12.38
    assert thread_share(8, 6.8, 1.25) == pytest.approx(74, abs=0.5)
    for major, pitch, hole in ((6, 1.0, 6.22), (8, 1.25, 8.27), (10, 1.5, 10.32), (12, 1.75, 12.38)):
        assert insert_hole(major, pitch)[0] == pytest.approx(hole, abs=0.006)
    assert insert_hole(8, 1.25)[1] == pytest.approx(9.62, abs=0.005)


def test_a_small_hole_keeps_the_drawing() -> None:
    for least, kind in ((9.995, "lap"), (9.97, "hone"), (9.8, "ream")):
        found = ways(replace(SEAT, worst_mm=least, least_mm=least, reamed=True))
        assert kind in found and found[kind].agreement == ORDER[0]
    assert "again" in ways(replace(SEAT, worst_mm=9.8, least_mm=9.8, reamed=True))["ream"].title


def test_nothing_wrong_is_left_alone() -> None:
    assert list(ways(SEAT)) == ["nothing"]


def test_an_oversize_seat() -> None:
    bad = replace(SEAT, worst_mm=10.04, least_mm=10.02)
    found = ways(bad, (10.0, 10.5, 12.0))
    assert found["next_reamer"].size_mm == 10.5 and "in the crib" in " ".join(found["next_reamer"].sums)
    assert found["bush"].size_mm == pytest.approx(13.0)
    assert list(found)[-1] == "scrap" and "concession" not in found
    small = ways(replace(bad, worst_mm=10.018))
    assert small["concession"].agreement == "small agreement" and "20 %" in small["concession"].sums[0]
    near = ways(replace(bad, edge_mm=7.0))
    assert not near["bush"].possible and "0.500 mm" in near["bush"].why_not


def test_a_flared_mouth_and_a_place_missed() -> None:
    bell = replace(SEAT, worst_mm=10.06, least_mm=10.01, entry_mm=10.06, taken_up_mm=4.0)
    assert "26.000 mm good" in ways(bell)["counterbore"].sums[0]
    assert not ways(replace(bell, depth_mm=12.0))["counterbore"].possible
    off = replace(SEAT, low_mm=12.0, high_mm=12.018, nominal_mm=12.0, worst_mm=11.0, least_mm=11.0)
    off = replace(off, off_mm=0.25, zone_mm=0.1)
    assert ways(off)["bore_true"].possible and ways(off)["bore_true"].size_mm == pytest.approx(11.6)
    assert not ways(replace(off, worst_mm=12.0, least_mm=12.0))["bore_true"].possible


def test_threads_and_fasteners() -> None:
    tapped = Bad(6.8, 6.647, 6.912, 7.0, 6.98, 20.0, thread=("M8x1.25", 8.0, 1.25))
    found = ways(tapped)
    assert found["thin_thread"].possible and "62 %" in found["thin_thread"].sums[0] and "bush" not in found
    assert not ways(replace(tapped, worst_mm=7.3))["thin_thread"].possible
    assert found["insert"].possible and not ways(replace(tapped, edge_mm=5.0))["insert"].possible
    # ISO 273, medium: M12 13.5; ASME B18.2.8: 7/16 in a 11.906 hole
    bolt = Bad(11.0, 11.0, 11.27, 11.6, 11.5, 15.0, plain=True)
    assert ways(bolt)["fastener"].size_mm == 13.5 and "M12" in ways(bolt)["fastener"].title
    assert ways(replace(bolt, unit="in"))["fastener"].size_mm == pytest.approx(11.906)


@given(
    st.floats(-0.3, 0.6),
    st.floats(0, 0.5),
    st.floats(0, 0.6),
    st.one_of(st.none(), st.floats(4, 40)),
    st.booleans(),
)
def test_no_way_is_offered_that_spoils_more(
    over: float, spread: float, off: float, edge: float | None, plain: bool
) -> None:
    worst = 10.015 + over
    bad = replace(
        SEAT, worst_mm=worst, least_mm=worst - spread, off_mm=off, zone_mm=0.1, edge_mm=edge, plain=plain
    )
    found = rescues(bad, (10.5, 11.0, 12.0))
    possible = [way for way in found if way.possible]
    assert possible, "there is always something, if only scrap"
    order = [ORDER.index(way.agreement) for way in possible]
    assert order == sorted(order)
    for way in possible:
        assert way.sums and all(way.sums)
        if way.id in ("next_reamer", "bush", "bore_true"):
            assert way.size_mm is not None and way.size_mm >= worst + 2 * off - 1e-9
            assert edge is None or edge - way.size_mm / 2 > 0 or way.id == "bore_true"
        text = consent_text(bad, way, "P2")
        assert "Drawing says" in text and "Would be" in text and "Agreed" in text
