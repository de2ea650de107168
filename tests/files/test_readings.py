"""Readings files of every awkward kind through `cordwainer measure`: corrected size, form and verdict."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat, umath

from cordwainer.cli import cli
from cordwainer.core.measuring.corrections import at_20, flat_jaw
from cordwainer.core.measuring.uncertainty import budget, expanded_mm, total_mm
from tests.core.measuring.test_points import around

STEEL, ALUMINUM, GAUGE = 11.5e-6, 23.6e-6, 11.5e-6  # handbook property tables


def sizes(*by_depth: tuple[float, ...], depths: tuple[float, ...] = (2, 15, 28), unit: str = "mm") -> list[Any]:
    """Readings by depth, one or two directions each."""
    return [
        {"depth": f"{z} mm", "direction_deg": 90 * way, "size": f"{size:.5f} {unit}"}
        for z, pair in zip(depths, by_depth, strict=False)
        for way, size in enumerate(pair)
    ]


def said(
    tmp_path: Path,
    readings: list[Any],
    gauge: str = "two_point_bore_gauge",
    *,
    d: str = "20 mm",
    tolerance: str = "H7",
    code: int = 0,
    resolution: str = "0.001 mm",
    jaw: str | None = None,
    **more: Any,
) -> dict[str, Any]:
    """What the command says of a file with these readings."""
    hole = {"id": "A", "kind": "sized", "diameter": d, "tolerance": tolerance, "depth": "30 mm", "through": True}
    used = {"kind": gauge, "resolution": resolution} | ({"jaw_width": jaw} if jaw else {})
    data = {"format": "cordwainer-readings", "version": 1, "hole": hole, "gauge": used, "readings": readings}
    path = tmp_path / "r.json"
    path.write_text(json.dumps(data | more))
    found = CliRunner().invoke(cli, ["measure", str(path), "--json"])
    assert found.exit_code == code, found.output
    answer: dict[str, Any] = json.loads(found.output) if code == 0 else {"error": found.output}
    return answer


def test_plain_good_holes_by_every_gauge(tmp_path: Path) -> None:
    good = sizes((20.0105, 20.0105), (20.0105, 20.0105), (20.0105, 20.0105))
    verdicts = {
        kind: said(tmp_path, good, kind)["verdict"]
        for kind in (
            "caliper", "telescoping", "inside_micrometer", "two_point_bore_gauge", "three_point_bore_gauge", "air",
        )
    }  # fmt: skip
    # 2 u of gauges.csv against 10.5 um to either limit of 20 H7: only the caliper (30 um) cannot tell.
    assert verdicts.pop("caliper") == "cannot_tell" and set(verdicts.values()) == {"accept"}


def test_a_hot_part_of_aluminum(tmp_path: Path) -> None:
    # 20 mm, 40 K over: the part is 18.9 um too large; the gauge at 20 does not move. ISO 1
    hot = 20 * (1 + ALUMINUM * 40)
    read = sizes((hot + 0.008,) * 2, (hot + 0.008,) * 2, (hot + 0.008,) * 2)
    told = {"material": "aluminum_wrought", "part_temperature_c": 60, "gauge_temperature_c": 20}
    right = said(tmp_path, read, **told)
    assert right["size_max_mm"] == pytest.approx(20.008, abs=2e-4) and right["verdict"] == "accept"
    assert right["corrections"][0]["id"] == "temperature" and right["corrections"][0]["um"] == pytest.approx(
        -18.9, abs=0.2
    )
    assert said(tmp_path, read, material="aluminum_wrought")["verdict"] == "reject"
    unknown = said(tmp_path, read, material="aluminum_wrought", hot=True)
    assert unknown["verdict"] == "cannot_tell" and unknown["flags"] == ["hot"] and unknown["settle_with"] == []


def test_part_and_gauge_both_warm(tmp_path: Path) -> None:
    found = said(tmp_path, sizes((20.010,), (20.010,), (20.010,)), part_temperature_c=31, gauge_temperature_c=21)
    assert found["size_max_mm"] == pytest.approx(20.010 * (1 + GAUGE - STEEL * 11), abs=3e-4)


def test_flat_jaws_in_a_small_hole(tmp_path: Path) -> None:
    # derived: jaws 0.6 mm wide in a 4.05 hole read sqrt(4.05² - 0.6²) = 4.0053
    true = 4.05
    read = math.sqrt(true**2 - 0.6**2)
    found = said(
        tmp_path,
        sizes(*((read, read),) * 3),
        "caliper",
        d="4 mm",
        tolerance="H12",
        jaw="0.6 mm",
        resolution="0.01 mm",
    )
    assert found["size_min_mm"] == pytest.approx(true, abs=1e-4) and found["verdict"] == "accept"
    assert found["corrections"][0]["id"] == "flat_jaws" and found["corrections"][0]["um"] == pytest.approx(
        44.7, abs=0.2
    )
    bare = said(tmp_path, sizes(*((read, read),) * 3), "caliper", d="4 mm", tolerance="H12", resolution="0.01 mm")
    assert bare["verdict"] == "cannot_tell" and bare["size_min_mm"] == pytest.approx(read, abs=1e-4)


def test_a_burr_never_rejects(tmp_path: Path) -> None:
    tight = said(tmp_path, sizes((19.97, 19.975), (20.010, 20.011), (20.009, 20.010)), deburred=False)
    assert tight["verdict"] == "cannot_tell" and tight["flags"] == ["burr"] and "deburr" in tight["why"]


def test_pins_against_two_points_on_three_lobes(tmp_path: Path) -> None:
    # reference/diagnosis: three lobes of height h: the width is 2R whichever way, the largest pin 2R - 2h.
    two_r, h = 20.012, 0.007
    read = sizes(*((two_r, two_r),) * 3)
    pins = [{"size": "19.998 mm", "goes": True}, {"size": f"{two_r - 2 * h + 0.003:.3f} mm", "goes": False}]
    found = said(tmp_path, read, pins=pins)
    assert "lobed" in found["form"] and found["verdict"] == "cannot_tell"
    assert (
        found["settle_with"][0] == "three_point_bore_gauge" and "two_point_bore_gauge" not in found["settle_with"]
    )
    small = said(tmp_path, read, pins=[{"size": "19.99 mm", "goes": False}])
    assert small["verdict"] == "reject" and "lobed" in small["form"]  # the pin is under the lower limit
    fits = said(tmp_path, read, pins=[{"size": "20.010 mm", "goes": True}, {"size": "20.015 mm", "goes": False}])
    assert "lobed" not in fits["form"] and fits["verdict"] == "accept"


def test_points_settle_lobes(tmp_path: Path) -> None:
    for height, verdict in ((0.002, "accept"), (0.008, "reject")):
        points = [p for z in (2, 15, 28) for p in around(0, 0, 10.005, 36, lobes=3, height=height, z=-z)]
        found = said(tmp_path, [], "cmm", points=points)
        assert found["verdict"] == verdict and found["axis"]["lobes"] == 3
        assert ("lobed" in found["form"]) is (2 * height > found["expanded_uncertainty_um"] / 1000)
    edge = [p for z in (2, 15, 28) for p in around(0, 0, 10.005, 36, lobes=3, height=0.0045, z=-z)]
    doubtful = said(tmp_path, [], "cmm", points=edge)
    assert doubtful["verdict"] == "cannot_tell" and "largest pin" in doubtful["why"]


@pytest.mark.parametrize(("slip", "unit"), [(20.01 / 25.4, "mm"), (20.01, "in")])
def test_a_unit_slip_is_asked_about(tmp_path: Path, slip: float, unit: str) -> None:
    read = [*sizes((20.010,), (20.011,)), {"depth": "28 mm", "size": f"{slip:.4f} {unit}"}]
    found = said(tmp_path, read)
    assert found["flags"] == ["unit_slip"] and found["verdict"] == "cannot_tell" and "other unit" in found["why"]


def test_one_wild_reading_is_read_again(tmp_path: Path) -> None:
    found = said(tmp_path, sizes((20.010, 20.011), (20.310, 20.009), (20.009, 20.010)))
    assert found["flags"] == ["outlier"] and found["verdict"] == "cannot_tell"
    real = said(tmp_path, sizes((20.010, 20.011), (20.310, 20.309), (20.009, 20.010)))
    assert real["flags"] == [] and real["verdict"] == "reject" and real["form"] == ["barrel"]


@pytest.mark.parametrize(
    ("size", "verdict"),
    [
        (20.0169, "accept"), (20.0171, "cannot_tell"), (20.0249, "cannot_tell"), (20.0251, "reject"),
        (20.0041, "accept"), (20.0039, "cannot_tell"), (19.9961, "cannot_tell"), (19.9959, "reject"),
    ],
)  # fmt: skip
def test_near_the_limit(tmp_path: Path, size: float, verdict: str) -> None:
    # ISO 14253-1, first edition; 20 H7 is +21/0 (ISO 286-1); U = 2 sqrt(2² + 1/12) = 4.04 um
    found = said(tmp_path, sizes((20.0105,), (size,), (20.0105,)))
    assert found["expanded_uncertainty_um"] == pytest.approx(4.0415, abs=1e-3) and found["guard_factor"] == 2
    assert found["verdict"] == verdict
    assert bool(found["settle_with"]) is (verdict == "cannot_tell")


def test_what_would_settle_it(tmp_path: Path) -> None:
    found = said(tmp_path, sizes(*((20.0105,),) * 3), "caliper", resolution="0.01 mm")
    assert found["settle_with"][0] == "telescoping" and found["settle_with"][-1] == "air"
    near = said(tmp_path, sizes((20.0105,), (20.0179,), (20.0105,)))
    # 3.1 um to the limit: what is surer than that, the roughest first; two points at 4.04 are not.
    assert near["verdict"] == "cannot_tell" and near["settle_with"] == ["cmm", "plug", "pin", "air"]


def test_forms_along_the_hole(tmp_path: Path) -> None:
    for three, form in (
        ((20.040, 20.010, 20.009), "bell_mouth"), ((20.030, 20.018, 20.006), "taper"),
        ((20.000, 20.016, 20.001), "barrel"), ((20.018, 20.002, 20.017), "waist"),
    ):  # fmt: skip
        found = said(tmp_path, sizes(*((s, s) for s in three)))
        assert found["form"] == [form] and found["taper_mm"] == pytest.approx(three[0] - three[2])
    cone = said(tmp_path, sizes((20.026,), (20.013,), (20.000,)))
    assert cone["cone_deg"] == pytest.approx(2 * math.degrees(math.atan(0.0005)), rel=1e-3)


def test_no_sizes_at_all(tmp_path: Path) -> None:
    nothing = said(tmp_path, [])
    assert nothing["verdict"] == "cannot_tell" and nothing["size_max_mm"] is None and nothing["form"] == []
    pins = [{"size": "20.004 mm", "goes": True}, {"size": "20.016 mm", "goes": False}]
    assert said(tmp_path, [], "plug", pins=pins)["verdict"] == "accept"


def test_points_from_a_list_beside_the_file(tmp_path: Path) -> None:
    points = [p for z in (2, 15, 28) for p in around(0.02, 0, 10.005, 16, z=-z)]
    for name, text in (
        ("a.csv", "x,y,z\n" + "\n".join(",".join(f"{v:.5f}" for v in p) for p in points)),
        ("b.txt", "\ufeff" + "\n".join(";".join(f"{v:.5f}".replace(".", ",") for v in p) for p in points)),
        ("c.csv", "\n".join("\t".join([f"P{k}", *(f"{v:.5f}" for v in p)]) for k, p in enumerate(points))),
    ):
        (tmp_path / name).write_text(text, encoding="utf-8")
        found = said(tmp_path, [], "cmm", points_csv=name)
        assert found["size_max_mm"] == pytest.approx(20.01, abs=1e-4) and found["verdict"] == "accept"
        assert found["axis"]["offset_mm"]["exit"] == pytest.approx(0.02, abs=1e-4)
    (tmp_path / "bad.csv").write_text("1,2,3\n4,five,6\n")
    assert "line 2" in said(tmp_path, [], "cmm", points_csv="bad.csv", code=2)["error"]
    assert "no such file" in said(tmp_path, [], "cmm", points_csv="none.csv", code=2)["error"]


@given(
    st.floats(3, 100),
    st.floats(0.1, 0.6),
    st.floats(-20, 60),
    st.floats(15, 30),
    st.sampled_from([1e-4, 1e-3, 0.01]),
)
def test_the_budget_as_a_reference_library_adds_it_up(
    size: float, land: float, part_c: float, gauge_c: float, division: float
) -> None:
    # `uncertainties` (linear propagation); temperature by 1 K as the rules have it
    for kind, standard in (("caliper", 0.015), ("two_point_bore_gauge", 0.002), ("air", 0.0007)):
        read = ufloat(size, standard) + ufloat(0, division / math.sqrt(12))
        warm = ufloat(part_c, 1.0)
        other = read * (1 + GAUGE * (gauge_c - 20) - ALUMINUM * (warm - 20))
        assert at_20(size, part_c, gauge_c, ALUMINUM, GAUGE) == pytest.approx(other.nominal_value, rel=1e-12)
        shares = budget(kind, division, size, ALUMINUM, warm=True)
        assert total_mm(shares) == pytest.approx(2 * other.std_dev, rel=2e-3)
        assert expanded_mm(kind, division) == pytest.approx(2 * read.std_dev, rel=1e-12)
    jaws = umath.sqrt(ufloat(size, 0.015) ** 2 + land**2)
    assert flat_jaw(size, land) == pytest.approx(jaws.nominal_value)
    assert jaws.std_dev <= 0.015  # the correction never makes a reading less sure
