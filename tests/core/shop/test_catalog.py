"""The built-in shops by the rules they are made from."""

from __future__ import annotations

from fractions import Fraction

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.part.tolerance import iso_limits
from cordwainer.core.shop.catalog import built_in, catalog_shop, demo_shop
from cordwainer.core.shop.finishers import reamer_limits
from cordwainer.core.shop.gauge import known_kind, standard_uncertainty_mm
from cordwainer.core.shop.machine import holding, taper_number
from cordwainer.core.shop.makers import drill_lengths, taper_shank_for
from cordwainer.core.shop.material import material, materials
from cordwainer.core.shop.tool import Tool


def find(kind: str, designation: str, series: str = "") -> Tool:
    """One tool of the catalog."""
    return next(
        t
        for t in catalog_shop().of_kind(kind)
        if t.designation == designation and (not series or t.series == series)
    )


@pytest.mark.parametrize(
    ("size", "zone", "lower", "upper"),
    [
        (20, "H7", 9, 17),  # ISO 522 / DIN 1420, worked example
        (10, "H7", 6, 12),  # DIN 1420 rule
        (12, "H7", 8, 15),  # DIN 1420 rule
        (40, "H7", 12, 21),  # DIN 1420 rule
        (20, "H8", 16, 28),  # DIN 1420 rule
        (3, "H7", 4, 8),  # DIN 1420 rule
    ],
)
def test_reamers_by_the_rule(size: int, zone: str, lower: int, upper: int) -> None:
    limits = reamer_limits(iso_limits(Fraction(size), zone))
    assert (limits.lower - size) * 1000 == lower
    assert (limits.upper - size) * 1000 == upper


def test_whole_shares_are_not_rounded_up() -> None:
    limits = reamer_limits(iso_limits(Fraction(2), "H10"))  # 0.15 x 40 = 6 exactly
    assert (limits.upper - 2) * 1000 == 34


def test_the_catalog_holds_what_is_sold() -> None:
    shop = catalog_shop()
    drills = {t.designation for t in shop.of_kind("drill")}
    for name in (
        "#1",
        "#80",
        "letter A",
        "letter Z",
        "1/64 in",
        "63/64 in",
        "1-1/32 in",
        "2 in",
        "0.25 mm",
        "9.7 mm",
        "12.75 mm",
    ):
        assert name in drills
    for name in ("17.7 mm", "17.75 mm", "21.75 mm", "32.5 mm", "50 mm"):
        assert name in drills
    assert "33.25 mm" not in drills and "21.8 mm" not in drills
    reamers = {t.designation for t in shop.of_kind("reamer")}
    assert {"2 mm", "2.5 mm", "31 mm", "50 mm", "3/8 in", "0.3755 in", "0.2490 in", "1-15/32 in"} <= reamers
    assert "33 mm" not in reamers
    assert len({t.id for t in shop.tools}) == len(shop.tools)
    assert {m.id for m in shop.machines} == {"bench_lathe", "toolroom_lathe", "drill_press", "knee_mill"}


def test_tools_have_their_standard_shapes() -> None:
    drill = find("drill", "10 mm", "jobber")
    assert (drill.flute_length_mm, drill.overall_length_mm) == (87, 133)  # ISO 235 jobber series
    assert drill.point_mm == pytest.approx(3.004, abs=1e-3)  # Machinery's Handbook, 118° point
    assert drill.chisel_mm == pytest.approx(0.18 * 10, rel=0.01)  # Machinery's Handbook, c/d of a standard drill
    stub = find("drill", "10 mm", "stub")
    assert stub.chisel_mm == pytest.approx(0.3) and stub.point_mm == pytest.approx(2.071, abs=1e-3)
    center = find("center_drill", "#4")  # ASME B94.11M
    assert center.diameter.inch == pytest.approx(0.125) and (center.body_diameter_mm or 0) == pytest.approx(7.9375)
    assert find("reamer", "20 mm").lead_mm == 5.0
    assert find("reamer", "3 mm").lead_mm == 1.0
    inch = find("reamer", "1/2 in")
    assert inch.limits is not None
    assert inch.limits.lower_mm / 25.4 == pytest.approx(0.5001) and inch.limits.upper_mm / 25.4 == pytest.approx(
        0.5004
    )


def test_shanks_and_what_holds_them() -> None:
    assert [taper_shank_for(mm) for mm in (13.5, 14.0, 14.1, 23.02, 25, 31.75, 32)] == [
        "MT1",
        "MT1",
        "MT2",
        "MT2",
        "MT3",
        "MT3",
        "MT4",
    ]  # ISO 235
    assert find("drill", "13 mm", "jobber").shank == "straight"
    assert find("drill", "13.1 mm").shank == "MT1"
    lathe, press = catalog_shop().machine("bench_lathe"), catalog_shop().machine("drill_press")
    assert holding(lathe, "MT1", 0) is None and holding(lathe, "straight", 13.0) is None
    assert "too big for the MT2" in (holding(lathe, "MT3", 0) or "")
    assert "13 mm chuck" in (holding(press, "straight", 13.5) or "")
    assert taper_number("MT4") == 4 and taper_number("reduced") is None
    assert drill_lengths("jobber", 0.3) == (None, None) and drill_lengths("jobber", 25) == (None, None)


def test_the_demo_is_a_part_of_the_catalog() -> None:
    catalog = {t.id for t in catalog_shop().tools}
    demo = demo_shop()
    assert {t.id for t in demo.tools} < catalog
    assert all(t.drawer for t in demo.tools)
    for kind in ("drill", "center_drill", "spot_drill", "reamer"):
        assert demo.of_kind(kind)
    with pytest.raises(InputError, match="built-in"):
        built_in("tool room")
    with pytest.raises(InputError, match="bench_lathe"):
        demo.machine("lathe")


def test_materials() -> None:
    assert len(materials()) == 25
    steel = material("medium_carbon_steel")
    assert steel.force_constants(None) == (24000, 24000)  # Machinery's Handbook, steel 200 HB
    assert steel.force_constants(300)[0] == pytest.approx(31000)  # Machinery's Handbook, steel 300 HB
    assert steel.force_constants(400)[1] == pytest.approx(34000)  # Machinery's Handbook, steel 400 HB
    assert material("cast_iron_gray").force_constants(300) == (14000, 14000)
    stainless = material("stainless_austenitic")
    assert stainless.force_constants(None) == (24000, 35000)  # Machinery's Handbook, type 316
    for found in materials().values():
        assert found.fluids["drill"] and found.fluids["ream"]
        assert 0 < found.drill_feed.low <= found.drill_feed.high
        assert found.speeds["hss_drill"].low < found.speeds["hss_drill"].high
    with pytest.raises(InputError, match="aluminum"):
        material("aluminum")


def test_gauges() -> None:
    assert known_kind("bore_gauge") == "two_point_bore_gauge"
    assert standard_uncertainty_mm("caliper") == 0.015
    with pytest.raises(InputError):
        known_kind("string")


def test_every_kind_of_the_catalog() -> None:
    long, carbide = find("drill", "8 mm", "long"), find("drill", "8 mm", "carbide_self_centering")
    assert (long.flute_length_mm, long.overall_length_mm) == (109, 165)
    assert carbide.point_angle_deg == 140 and carbide.margins == 4 and carbide.is_stub
    assert find("core_drill", "20 mm").flutes == 4 and find("core_drill", "12.5 mm").flutes == 3
    assert find("core_drill", "20 mm").point_mm == 0 and find("core_drill", "20 mm").shank == "MT2"
    assert {find("spade_drill", "25 mm").series, find("spade_drill", "2-1/2 in").series} == {"insert"}
    bar = find("boring_bar", "10 mm", "steel")
    assert (bar.min_bore_mm, bar.max_overhang_mm) == (12.5, 40)
    assert find("boring_bar", "10 mm", "carbide").max_overhang_mm == 60
    assert find("tap", "M10x1.5", "plug").lead_mm == 6.0  # 4 threads
    inch = find("tap", "5/16-18 UNC", "bottoming")
    assert inch.lead_mm == pytest.approx(1.5 * 25.4 / 18) and inch.diameter.inch == pytest.approx(0.3125)
    pin = find("taper_pin_reamer", "#6", "1:48")  # ASME B94.2
    assert pin.diameter.inch == pytest.approx(0.2773) and (pin.body_diameter_mm or 0) / 25.4 == pytest.approx(
        0.354
    )
    assert find("counterbore", "M6").pilot_diameter_mm == 6.6  # ISO 273 medium
    assert {t.included_angle_deg for t in catalog_shop().of_kind("countersink")} == {60, 82, 90, 100, 120}
    assert not find("end_mill", "12 mm", "not_center_cutting").center_cutting
    bells = [t for t in catalog_shop().of_kind("center_drill") if t.series in ("bell", "B", "R")]
    assert len(bells) > 15
