"""Files: what is read, what is refused and how, what is written back."""

from __future__ import annotations

import copy
import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.reading import ToolZero
from cordwainer.core.errors import InputError
from cordwainer.files import case as case_files
from cordwainer.files import job as job_files
from cordwainer.files import readings as readings_files
from cordwainer.files import scale as scale_files
from cordwainer.files import shop as shop_files
from cordwainer.files.documents import parse_json
from cordwainer.files.plan import PlanOut, plan_data, plan_job
from cordwainer.files.shop_out import shop_data
from cordwainer.files.writing import write_json
from tests.jobs import PIVOT, job_data


def put(tmp_path: Path, content: Any, name: str = "x.job.json") -> Path:
    """A file with that content."""
    path = tmp_path / name
    path.write_text(content if isinstance(content, str) else json.dumps(content), encoding="utf-8")
    return path


def refused(tmp_path: Path, content: Any) -> InputError:
    """The error a bad job file gives."""
    with pytest.raises(InputError) as caught:
        job_files.load(put(tmp_path, content))
    return caught.value


@pytest.mark.parametrize(
    ("change", "field", "mend"),
    [
        ({"diameter": "18"}, "holes[0].diameter", "write '18 mm' or"),
        ({"diameter": 18}, "holes[0].diameter", 'write "18 mm" or'),
        ({"diameter": "0 mm"}, "holes[0].diameter", "more than zero"),
        ({"diameter": None}, "holes[0].diameter", "missing"),
        ({"depth": "-3 mm"}, "holes[0].depth", "without the minus"),
        ({"depth": "1,000 mm"}, "holes[0].depth", "two ways"),
        ({"tolerance": "Q7"}, "holes[0].tolerance", "no table for this letter"),
        ({"tolerance": "+0.02/-0"}, "holes[0].tolerance", "no unit"),
        ({"tolerance": None}, "holes[0].tolerance", "missing"),
        ({"limits": ["1 in"]}, "holes[0].limits", "more entries"),
        ({"limits": ["1 mm", "2 mm"]}, "holes[0].limits", "check the unit"),
        ({"kind": "square"}, "holes[0].kind", "'plain'"),
        ({"count": 0}, "holes[0].count", "not below 1"),
        ({"count": 1.5}, "holes[0].count", "whole number"),
        ({"count": "2"}, "holes[0].count", "whole number"),
        ({"through": "yes"}, "holes[0].through", "true or false"),
        ({"entry": "muddy"}, "holes[0].entry", "'faced'"),
        ({"finish_ra_um": -1}, "holes[0].finish_ra_um", "above 0"),
        ({"through": False, "part_thickness": "20 mm"}, "holes[0].part_thickness", "not more than the depth"),
        ({"evidence": 3}, "holes[0].evidence", "an object"),
        (
            {"measured": {"readings": [{"depth": "2 mm", "size": "18"}]}},
            "holes[0].measured.readings[0].size",
            "no unit",
        ),
    ],
)
def test_bad_holes_name_the_field_and_the_mend(
    tmp_path: Path, change: dict[str, Any], field: str, mend: str
) -> None:
    error = refused(tmp_path, job_data({k: v for k, v in (PIVOT | change).items() if v is not None}))
    assert error.field == field and mend in error.problem
    assert "\n" not in str(error)


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ('{"format": "cordwainer-job", "version": 1', "cut short"),
        ("[]", "no JSON object"),
        ('{"format": "cordwainer-job", "version": 1, "version": 2}', "twice"),
        ('{"format": "cordwainer-job", "version": 1, "hardness_bhn": NaN}', "NaN"),
        ('{"format": "cordwainer-shop", "version": 1}', "is not 'cordwainer-job'"),
        ('{"format": "cordwainer-job", "version": "one"}', "not a version"),
        ('{"format": "cordwainer-job", "version": true}', "not a version"),
        ('{"a":' * 60 + "1" + "}" * 60, "50 levels"),
        ("[" * 100_000, "50 levels"),
        ("1" * 5000, "not readable"),
        ("\x00", "not readable"),
    ],
)
def test_bad_documents(tmp_path: Path, content: str, words: str) -> None:
    assert words in str(refused(tmp_path, content))


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"material": "cheese"}, "material"),
        ({"hardness_bhn": 1e999}, "hardness_bhn"),
        ({"hardness_bhn": "200"}, "hardness_bhn"),
        ({"practice": {"start": "hammer"}}, "practice.start"),
        ({"general_tolerance": "coarse"}, "holes[0].diameter"),
        ({"holes": {}}, "holes"),
        ({"quantity": 0}, "quantity"),
        ({"units": "cubit"}, "units"),
    ],
)
def test_bad_jobs(tmp_path: Path, more: dict[str, Any], field: str) -> None:
    plain = {"id": "A", "diameter": "8 mm", "depth": "20 mm"}
    assert refused(tmp_path, job_data(plain) | more).field == field


def test_files_that_cannot_be_opened(tmp_path: Path) -> None:
    big = put(tmp_path, " " * 5_000_001)
    with pytest.raises(InputError, match="too large"):
        job_files.load(big)
    (tmp_path / "latin.json").write_bytes(b'{"format": "\xff"}')
    for path, words in (
        (tmp_path / "none.json", "no such file"),
        (tmp_path, "a folder"),
        (tmp_path / "latin.json", "UTF-8"),
    ):
        with pytest.raises(InputError, match=words):
            job_files.load(path)


def test_twins_are_refused(tmp_path: Path) -> None:
    assert "its own id" in str(refused(tmp_path, job_data(PIVOT, PIVOT)))


def test_unknown_keys_are_kept_and_named(tmp_path: Path) -> None:
    data = job_data(PIVOT | {"polish": "mirror"}, color="green", practice={"start": "spot_drill", "music": "loud"})
    job = job_files.load(put(tmp_path, data))
    assert {w.split(":")[0] for w in job.warnings} == {"color", "holes[0].polish", "practice.music"}
    out = tmp_path / "out.job.json"
    job_files.save(out, job.file)
    assert json.loads(out.read_text()) == data


def test_notations_come_back_as_written(tmp_path: Path) -> None:
    hole = PIVOT | {"diameter": "0.7500 in", "tolerance": "+.0010/-.0000 in", "depth": "1-1/4 in"}
    job = job_files.load(put(tmp_path, job_data(hole)))
    assert job_files.to_data(job.file)["holes"][0] == hole
    assert job.holes[0].nominal_mm == 19.05 and job.holes[0].unit == "in"


def test_a_newer_file_is_read_only(tmp_path: Path) -> None:
    job = job_files.load(put(tmp_path, job_data(PIVOT) | {"version": 7}))
    assert job.read_only and "read-only" in job.warnings[0]


def test_threads_and_centers_are_read_and_planned_or_refused(tmp_path: Path) -> None:
    thread = {"id": "T", "kind": "tapped", "thread": "M10x1.5", "depth": "20 mm"}
    center = {"id": "C", "kind": "center_hole", "center_type": "A", "size": "A 3.15"}
    job = job_files.load(put(tmp_path, job_data(thread, center)))
    assert job.holes[0].nominal_mm == 8.376  # ISO 724, minor diameter of M10
    assert job.holes[0].limits.upper_mm == 8.676  # ISO 965-1, 6H
    plans = plan_job(job, shop_files.load("demo"))
    assert [o.kind for o in plans[1].routes[0].operations] == ["center_drill", "deburr", "measure"]
    assert plans[0].routes or "M10x1.5 tap" in plans[0].why_not[0]


def test_a_plan_fits_its_schema(tmp_path: Path) -> None:
    job = job_files.load(
        put(tmp_path, job_data(PIVOT, {"id": "B", "diameter": "9/32 in", "depth": "3/4 in", "x_ray": 1}))
    )
    data = plan_data(job, plan_job(job, shop_files.load("catalog")), seed=4)
    PlanOut.model_validate(data)
    assert json.loads(json.dumps(data)) == data
    route = data["holes"][0]["routes"][0]
    assert route["label"] == "balanced" and route["chance_in_tolerance"] is None and 0 < route["screen_chance"] < 1
    assert data["warnings"][0]["id"] == "unknown_key" and data["made_with"]["seed"] == 4
    ream = route["operations"][-3]
    assert ream["kind"] == "ream" and ream["working"] and ream["readings"]["zero_on"] == "flat_face"


def test_writing_is_whole_or_not_at_all(tmp_path: Path) -> None:
    path = put(tmp_path, "precious")
    with pytest.raises(TypeError):
        write_json(path, {"a": object()})
    assert path.read_text() == "precious"
    blocked = tmp_path / "folder"
    blocked.mkdir()
    with pytest.raises(InputError, match="a folder of that name"):
        write_json(blocked, {"a": 1})
    assert sorted(p.name for p in tmp_path.iterdir()) == ["folder", "x.job.json"]


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(max_size=5),
        lambda c: st.lists(c, max_size=3) | st.dictionaries(st.text(max_size=4), c, max_size=3),
        max_leaves=12,
    )
)
def test_any_json_is_a_job_or_an_input_error(value: Any) -> None:
    found = parse_json(json.dumps(value))
    assert found == value
    for data in (value, job_data() | {"holes": value}, job_data(PIVOT | {"tolerance": value})):
        try:
            job_files.from_data(copy.deepcopy(data))
        except InputError as bad:
            assert str(bad)


# -- shop files --------------------------------------------------------------------------------------

SHOP: dict[str, Any] = {
    "format": "cordwainer-shop",
    "version": 1,
    "name": "Bench by the window",
    "machines": [
        {
            "id": "bench_lathe",
            "rotating": "work",
            "speed_range_rpm": [60, 1500],
            "power_kw": 1.1,
            "thrust_n": 5000,
            "taper": "MT3",
            "chuck": {"kind": "keyed", "max": "1/2 in"},
            "scales": [{"kind": "tailstock_ram", "unit": "in", "start_reading": "0.5 in", "division": "1/16 in"}],
        }
    ],
    "tools": [
        {"kind": "drill", "diameter": "9.7 mm", "drawer": "2", "condition": "worn"},
        {"kind": "drill", "diameter": "9.7 mm", "series": "stub"},
        {"kind": "drill", "diameter": "3 mm", "condition": "blunt"},
        {"kind": "reamer", "diameter": "10 mm"},
        {"kind": "reamer", "diameter": "3/8 in", "limits": ["0.3751 in", "0.3755 in"]},
        {"kind": "center_drill", "diameter": "2 mm", "designation": "A 2.0"},
        {"kind": "spot_drill", "diameter": "10 mm", "included_angle_deg": 90},
    ],
    "gauges": [{"kind": "caliper", "range": ["0 mm", "150 mm"], "resolution": "0.02 mm", "jaw_land": "0.4 mm"}],
}


def test_absent_fields_follow_the_catalog(tmp_path: Path) -> None:
    shop = shop_files.load(str(put(tmp_path, SHOP, "x.shop.json")))
    drill, stub = shop.of_kind("drill")
    assert {drill.series, stub.series} == {"jobber", "stub"} and drill.flute_length_mm == 87  # ISO 235
    assert all(t.diameter_mm != 3 for t in shop.of_kind("drill"))
    small, ten = shop.of_kind("reamer")
    assert ten.limits is not None and ten.limits.upper_mm == 10.012  # DIN 1420 rule
    assert small.limits is not None and small.limits.lower_mm == pytest.approx(9.52754)
    machine = shop.machine("bench_lathe")
    steps = machine.steps()
    assert steps[0] == 60 and steps[-1] == 1500 and list(steps) == sorted(set(steps))
    assert machine.taper == 3 and machine.chuck_max_mm == 12.7
    assert shop.gauges[0].jaw_land_mm == 0.4


def test_a_shop_comes_back_from_its_own_print(tmp_path: Path) -> None:
    for name in ("demo", "catalog"):
        shop = shop_files.load(name)
        data = json.loads(json.dumps(shop_data(shop)))
        again = shop_files.load(str(put(tmp_path, data, "again.shop.json")))
        assert [t.id for t in again.tools] == [t.id for t in shop.tools]
        for a, b in zip(again.tools, shop.tools, strict=True):
            assert (a.diameter, a.shank, a.series) == (b.diameter, b.shank, b.series)
            assert a.point_mm == pytest.approx(b.point_mm) and a.chisel_mm == pytest.approx(b.chisel_mm, abs=1e-4)
            assert (a.limits is None) == (b.limits is None)
            if a.limits is not None and b.limits is not None:
                assert a.limits.upper_mm == pytest.approx(b.limits.upper_mm, abs=1e-9)
        assert again.machines == shop.machines


@pytest.mark.parametrize(
    ("path", "value", "field"),
    [
        (("tools", 0, "kind"), "saw", "tools[0].kind"),
        (("tools", 0, "diameter"), "9.7", "tools[0].diameter"),
        (("tools", 5, "designation"), "B 99", "tools[5].designation"),
        (("machines", 0, "power_kw"), 0, "machines[0].power_kw"),
        (("machines", 0, "taper"), "big", "machines[0].taper"),
        (("machines", 0, "speed_range_rpm"), None, "machines[0].speeds_rpm"),
        (("gauges", 0, "kind"), "string", "gauges[0]"),
    ],
)
def test_bad_shops(tmp_path: Path, path: tuple[Any, ...], value: Any, field: str) -> None:
    data = copy.deepcopy(SHOP)
    target: Any = data
    for key in path[:-1]:
        target = target[key]
    target[path[-1]] = value
    with pytest.raises(InputError) as caught:
        shop_files.load(str(put(tmp_path, data, "x.shop.json")))
    assert caught.value.field.startswith(field)


# -- readings, scale and case files ---------------------------------------------------------------------


def test_readings_files(tmp_path: Path) -> None:
    data = {
        "format": "cordwainer-readings",
        "version": 1,
        "hole": PIVOT,
        "gauge": {"kind": "bore_gauge", "resolution": "0.001 mm", "jaw_width": "0.3 mm"},
        "material": "medium_carbon_steel",
        "part_temperature_c": 31,
        "readings": [
            {"depth": "2 mm", "size": "18.012 mm"},
            {"depth": "2 mm", "direction_deg": 90, "size": "0.7087 in"},
        ],
        "pins": [{"size": "18.00 mm", "goes": True}],
    }
    found = readings_files.load(put(tmp_path, data))
    assert found.gauge.kind == "two_point_bore_gauge" and found.gauge.jaw_land_mm == 0.3
    assert found.readings[1].size_mm == pytest.approx(18.00098)
    for change, field in (
        ({"gauge": {"kind": "string"}}, "gauge.kind"),
        ({"points": [[0, 0, 0]]}, "points"),
        ({"part_temperature_c": 900}, "part_temperature_c"),
        ({"readings": [{"depth": "2 mm", "size": "-18 mm"}]}, "readings[0].size"),
        ({"hole": {"id": "A", "kind": "sized", "diameter": "8 mm", "depth": "9 mm"}}, "hole.tolerance"),
    ):
        with pytest.raises(InputError) as caught:
            readings_files.load(put(tmp_path, data | change))
        assert caught.value.field == field


def test_scale_files(tmp_path: Path) -> None:
    data = {
        "format": "cordwainer-scale",
        "version": 1,
        "machine_scale": {
            "kind": "tailstock_ram",
            "start_reading": "0.500 in",
            "division": "1/64 in",
            "unit": "in",
        },
        "tool": {"diameter": "3/16 in", "point_angle": 118, "zero_on": "tip"},
        "ask": {"depth_full": "3/8 in", "pecks": [{"depth": "1/4 in", "of": "full_diameter"}]},
    }
    answer = scale_files.answer(scale_files.load(put(tmp_path, data)))
    assert answer.stop == pytest.approx(0.5 + 0.4313, abs=5e-5)
    point = ToolZero(0.1875 * 25.4, 118).point_mm / 25.4
    assert answer.pecks == pytest.approx((0.75 + point,))
    two = data | {"ask": {"depth_full": "1 mm", "counterbore_depth": "1 mm"}}
    for bad in (two, data | {"ask": {}}, data | {"tool": {"diameter": "3/16 in", "zero_on": "edge_touch"}}):
        with pytest.raises(InputError):
            scale_files.answer(scale_files.load(put(tmp_path, bad)))


def test_case_files(tmp_path: Path) -> None:
    data = {
        "format": "cordwainer-case",
        "version": 1,
        "hole": {"diameter": "0.375 in", "depth": "2 in"},
        "operations": ["spot", "drill"],
        "machine": "knee_mill",
        "material": "cast_iron_gray",
        "evidence": {"q_speed": 2.0, "q_sparks": True},
    }
    found = case_files.load(put(tmp_path, data))
    assert found.operations == ("spot_drill", "drill")
    assert found.answers == {"e_machine": "mill", "e_material": "cast_iron", "q_speed": "high", "q_sparks": "yes"}
    explained = case_files.explanation_data(found)
    assert explained["answers"]["e_depth"] == "d5to8" and explained["plan_change"]["kind"] == "speed"
    for change, field in (
        ({"operations": ["saw"]}, "operations[0]"),
        ({"machine": "loom"}, "machine"),
        ({"material": "cheese"}, "material"),
        ({"evidence": {"q_sound": "loud"}}, "evidence.q_sound"),
        ({"evidence": {"e_machine": "loom"}}, "evidence.e_machine"),
        ({"sizes": {"entry": ["1", "2 mm"]}}, "sizes.entry[0]"),
    ):
        with pytest.raises(InputError) as caught:
            case_files.load(put(tmp_path, data | change))
        assert caught.value.field == field
