"""Sizes, form and verdict from readings."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.diagnosis.case_of import sizes_of
from cordwainer.core.measuring.corrections import at_20, flat_jaw
from cordwainer.core.measuring.finding import Finding, Measured, Pin, Reading
from cordwainer.core.measuring.form import profile
from cordwainer.core.measuring.uncertainty import expanded_mm, gauge_expanded_mm
from cordwainer.core.measuring.verdict import assess, decide, is_unit_slip
from cordwainer.core.shop.catalog import gauges
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.material import material
from tests.jobs import hole

HOLE = hole("18 mm", "H7", "32 mm")
BORE = Gauge("b", "two_point_bore_gauge", 6, 100, 0.001)
CALIPER = Gauge("c", "caliper", 6, 150, 0.01)


def finding(*sizes: tuple[float, float, float], gauge: Gauge = BORE, **more: object) -> Finding:
    """A finding from (depth, direction, size) triples."""
    readings = tuple(Reading(d, s, a) for d, a, s in sizes)
    values = {
        "hole": HOLE,
        "material": material("medium_carbon_steel"),
        "gauge": gauge,
        "readings": readings,
    } | more
    return assess(Measured(**values), gauges())


def three(entry: float, middle: float, exit_: float) -> tuple[tuple[float, float, float], ...]:
    """Three depths in one direction."""
    return ((2, 0, entry), (16, 0, middle), (30, 0, exit_))


def test_sizes_taper_and_roundness() -> None:
    found = finding(
        (2, 0, 18.012), (2, 90, 18.010), (16, 0, 18.009), (16, 90, 18.008), (30, 0, 18.007), (30, 90, 18.008)
    )
    assert (found.entry_mm, found.middle_mm, found.exit_mm) == pytest.approx((18.011, 18.0085, 18.0075))
    assert found.taper_mm == pytest.approx(0.0035) and found.out_of_round_mm == pytest.approx(0.002)
    assert (found.size_min_mm, found.size_max_mm) == (18.007, 18.012)
    assert found.verdict == "accept" and found.form == ("ok",) and found.guard_factor == 2


@pytest.mark.parametrize(
    ("sizes", "verdict"),
    [
        ((18.009, 18.009, 18.009), "accept"),
        ((18.015, 18.009, 18.009), "cannot_tell"),
        ((18.030, 18.009, 18.009), "reject"),
        ((17.990, 17.990, 17.990), "reject"),
        ((18.002, 18.009, 18.009), "cannot_tell"),
    ],
)
def test_the_guard_band_rule(sizes: tuple[float, float, float], verdict: str) -> None:
    assert finding(*three(*sizes)).verdict == verdict  # ISO 14253-1, first edition


@given(st.floats(17.9, 18.1), st.floats(0.0001, 0.02))
def test_accept_and_reject_never_overlap(size: float, u: float) -> None:
    verdict = decide(size, u, 18.0, 18.018)
    if verdict == "accept":
        assert size - u >= 18.0 - 1e-6 and size + u <= 18.018 + 1e-6
    elif verdict == "reject":
        assert size + u < 18.0 or size - u > 18.018
    else:
        assert min(abs(size - 18.0), abs(size - 18.018)) <= u + 1e-6


@given(st.floats(17.99, 18.03), st.floats(17.99, 18.03), st.floats(17.99, 18.03))
def test_a_surer_gauge_never_turns_accept_into_reject(a: float, b: float, c: float) -> None:
    rough = finding(*three(a, b, c), gauge=CALIPER).verdict
    fine = finding(*three(a, b, c)).verdict
    assert (rough, fine) not in {("accept", "reject"), ("reject", "accept"), ("accept", "cannot_tell")}


@pytest.mark.parametrize(
    ("sizes", "form"),
    [
        ((18.040, 18.010, 18.009), "bell_mouth"),
        ((18.030, 18.018, 18.006), "taper"),
        ((18.000, 18.012, 18.024), "taper"),
        ((18.000, 18.020, 18.000), "barrel"),
        ((18.020, 18.000, 18.020), "waist"),
        ((18.008, 18.009, 18.010), "ok"),
    ],
)
def test_form_words(sizes: tuple[float, float, float], form: str) -> None:
    assert finding(*three(*sizes)).form == (form,)


def test_profile_mirrors() -> None:
    for e, m, x in ((1.05, 1.0, 1.0), (1.04, 1.02, 1.0), (1.0, 1.0, 0.95)):
        assert profile(e, m, x, 0.01) in ("bell_mouth", "taper_big_entry")
        assert profile(x, m, e, 0.01) == "taper_big_exit"


def test_ovality_counts_below_the_mouth() -> None:
    oval = ((2, 0, 18.01), (2, 90, 18.01), (16, 0, 18.02), (16, 90, 18.0), (30, 0, 18.01), (30, 90, 18.01))
    assert "oval" in finding(*oval).form
    mouth = ((2, 0, 18.02), (2, 90, 18.0), (16, 0, 18.01), (16, 90, 18.01), (30, 0, 18.01), (30, 90, 18.01))
    assert "oval" not in finding(*mouth).form


def test_uncertainty_sums_by_squares() -> None:
    # GUM: 2 sqrt(2² + (1/√12)²) µm; with the part warm its expansion over 1 K as well
    assert expanded_mm("two_point_bore_gauge", 0.001) == pytest.approx(0.0040415, abs=1e-6)
    warm = expanded_mm("two_point_bore_gauge", 0.001, 50, 11.3e-6, True)
    assert warm == pytest.approx(2 * (0.002**2 + (0.001**2) / 12 + (50 * 11.3e-6) ** 2) ** 0.5)
    assert gauge_expanded_mm(Gauge("g", "air", 0, 9, 0.001, expanded_mm=0.003)) == 0.003
    assert (
        finding(*three(18.009, 18.009, 18.009), gauge=Gauge("g", "air", 0, 99, 0.1, expanded_mm=0.02)).verdict
        == "cannot_tell"
    )
    assert finding(*three(18.009, 18.009, 18.009), part_c=20.9).expanded_mm == pytest.approx(0.0040415, abs=1e-6)
    assert finding(*three(18.009, 18.009, 18.009), part_c=31).expanded_mm > 0.00405


@pytest.mark.parametrize(
    ("d", "w", "error"), [(4, 0.6, 0.045), (6, 0.6, 0.030), (10, 0.6, 0.018), (20, 0.6, 0.009)]
)
def test_flat_jaws_read_small(d: float, w: float, error: float) -> None:
    read = (d**2 - w**2) ** 0.5
    assert d - read == pytest.approx(error, abs=6e-4)  # derived: about w²/2D
    assert flat_jaw(read, w) == pytest.approx(d)


def test_heat() -> None:
    assert 100 - at_20(100, 30, 20, 11.7e-6, 11.5e-6) == pytest.approx(
        0.0117, abs=1e-5
    )  # ISO 1, steel 100 mm, +10 K
    assert 50 - at_20(50, 30, 30, 23e-6, 11.5e-6) == pytest.approx(0.00575, abs=1e-5)  # derived
    hot = finding(*three(18.020, 18.020, 18.020), part_c=80, gauge_c=21)
    assert hot.size_max_mm is not None and hot.size_max_mm < 18.010
    assert [c.id for c in hot.corrections] == ["temperature"] and hot.corrections[0].um < -11


@pytest.mark.parametrize(("more", "flag"), [({"deburred": False}, "burr"), ({"hot": True}, "hot")])
def test_a_doubtful_hole_is_never_rejected(more: dict[str, object], flag: str) -> None:
    found = finding(*three(18.9, 18.9, 18.9), **more)
    assert found.verdict == "cannot_tell" and flag in found.flags


def test_unit_slips_are_asked_about() -> None:
    found = finding(*three(0.7087, 18.009, 18.009))
    assert found.flags == ("unit_slip",) and found.verdict == "cannot_tell" and "other unit" in found.why
    assert is_unit_slip(457.2, 18) and not is_unit_slip(17.5, 18)


def test_one_reading_far_from_all_is_read_again() -> None:
    wild = ((2, 0, 18.010), (2, 90, 18.011), (16, 0, 18.110), (16, 90, 18.009), (30, 0, 18.008), (30, 90, 18.009))
    assert finding(*wild).flags == ("outlier",)
    bell = ((2, 0, 18.110), (2, 90, 18.108), (16, 0, 18.010), (16, 90, 18.009), (30, 0, 18.008), (30, 90, 18.009))
    assert finding(*bell).flags == () and finding(*bell).verdict == "reject"
    assert finding(*three(9.0, 18.0, 18.0)).flags == ("outlier",)


def test_readings_of_one_place_that_disagree_are_never_a_reject() -> None:
    twice = finding((2, 0, 18.010), (16, 0, 18.010), (16, 0, 18.031), (30, 0, 18.009))
    assert (twice.flags, twice.verdict) == (("repeat",), "cannot_tell")
    assert "18.0100 mm and 18.0310 mm were read at one place, 16 mm deep" in twice.why
    assert "read that place again" in twice.why
    turned = finding((2, 0, 18.010), (16, 0, 18.010), (16, 90, 18.031), (30, 0, 18.009))
    assert turned.flags == () and turned.verdict == "reject" and "oval" in turned.form
    near = finding((2, 0, 18.010), (16, 0, 18.010), (16, 0, 18.0105), (30, 0, 18.009))
    assert near.flags == () and near.verdict == "accept"


def test_one_reading_against_both_its_neighbors_is_read_again() -> None:
    along = [(z, 0, 18.010) for z in (2, 9, 16, 23, 30)]
    assert finding(*along).flags == ()
    for place in (1, 2, 3):
        bad = [(z, d, s + (0.12 if i == place else 0.0)) for i, (z, d, s) in enumerate(along)]
        assert finding(*bad).flags == ("outlier",)
    mouth = [(2, 0, 18.13), *along[1:]]
    assert finding(*mouth).verdict == "reject"  # common practice: a mouth may well flare


def test_what_would_settle_it() -> None:
    doubtful = finding(*three(18.009, 18.009, 18.009), gauge=CALIPER)
    assert doubtful.verdict == "cannot_tell"
    assert "two_point_bore_gauge" in doubtful.settle_with and "caliper" not in doubtful.settle_with
    assert finding(*three(18.0178, 18.009, 18.009)).settle_with == ()


def test_the_reason_is_told_in_the_prints_own_unit() -> None:
    assert "18.0300 mm at 2 mm deep is 12.0 µm over the upper limit" in finding(*three(18.030, 18.009, 18.009)).why
    inch = hole("7/16 in", "+.0012/-.0000 in", "1 in")
    over = assess(Measured(inch, material("bronze"), BORE, (Reading(3.0, 11.2293),)))
    assert over.why.startswith(".44210 in at .12 in deep is .00340 in over the upper limit")


def test_pins_bound_the_hole() -> None:
    fits = finding(pins=(Pin(18.004, True), Pin(18.014, False)))
    assert fits.verdict == "accept" and fits.entry_mm is None
    assert finding(pins=(Pin(18.025, True),)).verdict == "reject"
    assert finding(pins=(Pin(17.99, False),)).verdict == "reject"
    assert finding(pins=(Pin(18.004, True),)).verdict == "cannot_tell"
    assert finding().verdict == "cannot_tell"


def test_two_pins_give_a_size_and_what_it_is_over() -> None:
    quarter = hole("1/4 in", "+.012/-.000 in", "3/4 in")
    pins = (Pin(0.257 * 25.4, True), Pin(0.258 * 25.4, False))
    found = assess(Measured(quarter, material("bronze"), BORE, pins=pins))
    # common practice: the largest pin that goes and the next one bracket the hole
    assert found.between_mm == pytest.approx((0.257 * 25.4, 0.258 * 25.4))
    assert ".00700 to .00800 in over .25000 in" in found.why
    assert sizes_of(found, 19.05).middle == pytest.approx((0.2575 * 25.4,))
    small = assess(Measured(quarter, material("bronze"), BORE, pins=(Pin(6.3, True), Pin(6.34, False))))
    assert ".00039 to .00197 in under .25000 in" in small.why
    around = assess(Measured(quarter, material("bronze"), BORE, pins=(Pin(6.34, True), Pin(6.36, False))))
    assert "from .00039 in under to .00039 in over .25000 in" in around.why
    wide = assess(Measured(quarter, material("bronze"), BORE, pins=(pins[0], Pin(0.270 * 25.4, False))))
    assert sizes_of(wide, 19.05).middle == ()


def test_pin_and_gauge_that_disagree_mean_lobes() -> None:
    found = finding(*three(18.012, 18.012, 18.012), pins=(Pin(18.004, False),))
    assert "lobed" in found.form and found.verdict == "cannot_tell"
    blind = finding(
        *three(18.012, 18.012, 18.012),
        gauge=Gauge("t", "three_point_bore_gauge", 6, 100, 0.001),
        pins=(Pin(18.004, False),),
    )
    assert "lobed" not in blind.form
