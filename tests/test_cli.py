"""The command line as scripts use it: JSON, exit status, one line of error."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner, Result

from cordwainer.cli import SCHEMAS, cli
from tests.jobs import PIVOT, job_data


def run(*arguments: str) -> Result:
    """One command."""
    return CliRunner().invoke(cli, list(arguments))


def answer(*arguments: str) -> Any:
    """The JSON of a command that goes well."""
    result = run(*arguments, "--json")
    assert result.exit_code == 0, result.output
    return json.loads(result.stdout)


def put(tmp_path: Path, data: Any) -> str:
    """A file with that JSON."""
    path = tmp_path / "x.json"
    path.write_text(json.dumps(data), encoding="utf-8")
    return str(path)


def test_limits() -> None:
    assert answer("limits", "20 H7") == {"lower_um": 0, "upper_um": 21, "lower_mm": 20, "upper_mm": 20.021}
    js = answer("limits", "20 JS7")
    assert (js["lower_um"], js["upper_um"]) == (-10.5, 10.5)  # ISO 286-1
    assert answer("limits", "0.75 in H7")["upper_mm"] == pytest.approx(19.071)
    assert "20.0210 mm" in run("limits", "20 H7").stdout


def test_speed() -> None:
    found = answer("speed", "--material", "medium_carbon_steel", "--tool", "drill", "--diameter", "10 mm")
    assert found["rpm_machine"] is None and round(found["rpm_ideal"]) == 748 and found["working"]
    on = answer(
        "speed",
        "--material",
        "medium_carbon_steel",
        "--tool",
        "drill",
        "--diameter",
        "10 mm",
        "--machine",
        "bench_lathe",
    )
    assert on["step_over_ideal_percent"] == pytest.approx(100 * (760 / 748.03 - 1), abs=0.01)
    assert any("n = 4 V / D" in line and "ft/min" in line for line in on["working"])
    assert on["rpm_machine"] == 760 and on["feed_mm_per_rev"] == pytest.approx(0.178)
    carbide = answer(
        "speed",
        "--material",
        "medium_carbon_steel",
        "--tool",
        "drill",
        "--diameter",
        "10 mm",
        "--tool-material",
        "carbide",
    )
    assert carbide["cutting_speed_m_min"] == 95
    assert (
        "set 760"
        in run(
            "speed",
            "--material",
            "medium_carbon_steel",
            "--tool",
            "drill",
            "--diameter",
            "10 mm",
            "--machine",
            "bench_lathe",
        ).stdout
    )


def test_shop() -> None:
    found = answer("shop", "catalog")
    assert len(found["tools"]) > 900 and {"diameter_mm", "flute_length_mm", "limits_mm"} <= set(found["tools"][0])
    assert "machines" in run("shop", "demo").stdout


def test_plan_and_its_exit_status(tmp_path: Path) -> None:
    found = answer("plan", put(tmp_path, job_data(PIVOT)), "--seed", "3")
    assert found["holes"][0]["routes"] and found["made_with"]["seed"] == 3
    result = run("plan", put(tmp_path, job_data(PIVOT | {"tolerance": "H5"})), "--json")
    assert result.exit_code == 1
    hole = json.loads(result.stdout)["holes"][0]
    assert hole["routes"] == [] and "boring" in hole["why_not"][0]
    text = run("plan", put(tmp_path, job_data(PIVOT)), "--shop", "demo").stdout
    assert "balanced" in text and "rough" in text and "ream 18 mm H7 reamer" in text


def test_scale(tmp_path: Path) -> None:
    data = {
        "format": "cordwainer-scale",
        "version": 1,
        "machine_scale": {
            "kind": "knee_dial",
            "start_reading": "0 in",
            "division": "0.001 in",
            "per_rev": "0.1 in",
            "unit": "in",
        },
        "tool": {"diameter": "1/2 in", "point_angle": 180, "zero_on": "flat_face"},
        "ask": {"counterbore_depth": "0.312 in"},
    }
    found = answer("scale", put(tmp_path, data))
    assert found["whole_turns"] == 3 and found["stop_reading"] == pytest.approx(0.012)
    assert "3 turns and 12.00 divisions" in run("scale", put(tmp_path, data)).stdout
    data["machine_scale"] |= {"travel_limit": "0.3 in"}  # type: ignore[operator]
    result = run("scale", put(tmp_path, data), "--json")
    assert result.exit_code == 1 and "0.012 in missing" in result.stderr


def test_measure_and_diagnose(tmp_path: Path) -> None:
    data = {
        "format": "cordwainer-readings",
        "version": 1,
        "hole": PIVOT,
        "gauge": {"kind": "two_point_bore_gauge", "resolution": "0.001 mm"},
        "readings": [{"depth": f"{d} mm", "size": "18.030 mm"} for d in (2, 16, 30)],
    }
    found = answer("measure", put(tmp_path, data))
    assert found["verdict"] == "reject" and found["guard_factor"] == 2 and found["sizes_mm"]["middle"] == 18.03
    assert "reject" in run("measure", put(tmp_path, data)).stdout
    case = str(Path(__file__).parent / "data" / "cases" / "c02.case.json")
    explained = answer("diagnose", case)
    assert explained["causes"][0]["id"] == "rm_misaligned" and explained["fix"] and explained["rescue"]
    assert {"id", "minutes", "gain_bits"} <= set(explained["next_checks"][0])
    assert "check next" in run("diagnose", case).stdout


@pytest.mark.parametrize("name", SCHEMAS)
def test_schemas(name: str) -> None:
    schema = json.loads(run("schema", name).stdout)
    assert schema["type"] == "object" and schema["properties"]
    if name == "job":
        assert {"start", "pilot", "pecking", "reamer_feed"} <= set(schema["properties"]["practice"]["properties"])


@pytest.mark.parametrize(
    "arguments",
    [
        ("limits", "20 Q7"),
        ("limits", "soft"),
        ("speed", "--material", "cheese", "--tool", "drill", "--diameter", "10 mm"),
        ("speed", "--material", "bronze", "--tool", "saw", "--diameter", "10 mm"),
        ("speed", "--material", "bronze", "--tool", "drill", "--diameter", "10"),
        ("speed", "--material", "bronze", "--tool", "drill", "--diameter", "0 mm"),
        ("shop", "nowhere"),
        ("shop", "nowhere.shop.json"),
        ("plan", "nowhere.job.json"),
        ("measure", "nowhere.json"),
        ("diagnose", "nowhere.json"),
        ("scale", "nowhere.json"),
        ("schema", "everything"),
    ],
)
def test_bad_input_exits_with_2_and_one_line(arguments: tuple[str, ...]) -> None:
    result = run(*arguments)
    assert result.exit_code == 2 and result.stdout == ""
    lines = result.stderr.strip().splitlines()
    assert "Traceback" not in result.stderr
    if arguments[0] != "schema":
        assert len(lines) == 1 and lines[0].startswith("cordwainer: ")


def test_the_error_names_the_file(tmp_path: Path) -> None:
    path = put(tmp_path, job_data(PIVOT | {"depth": "32"}))
    result = run("plan", path)
    assert result.stderr.startswith(f"cordwainer: {path}: holes[0].depth: '32' has no unit")
    bad = run("plan", put(tmp_path, job_data(PIVOT, machine="loom")))
    assert bad.exit_code == 2 and "machine: 'loom'" in bad.stderr


def test_the_core_is_light(tmp_path: Path) -> None:
    """A short command pulls in no window, no NumPy, no models."""
    code = (
        "import sys; sys.argv = ['cordwainer', 'limits', '20 H7']\n"
        "from cordwainer.__main__ import main\n"
        "try: main()\nexcept SystemExit: pass\n"
        "print([m for m in ('PyQt6', 'numpy', 'scipy', 'pydantic') if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.splitlines()[-1] == "[]"
