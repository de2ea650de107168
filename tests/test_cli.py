"""The command line as scripts use it: JSON, exit status, one line of error."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner, Result
from pydantic import ValidationError

from cordwainer.__main__ import WORDS
from cordwainer.cli import SCHEMAS, cli
from cordwainer.cli.answers import ANSWERS
from cordwainer.core.tables import document
from tests.jobs import PIVOT, job_data


def run(*arguments: str) -> Result:
    """One command."""
    return CliRunner().invoke(cli, list(arguments))


def answer(*arguments: str) -> Any:
    """The JSON of a command that goes well."""
    result = run(*arguments, "--json")
    assert result.exit_code == 0, result.output
    return as_promised(arguments[0], json.loads(result.stdout))


def as_promised(command: str, data: Any) -> Any:
    """An answer, held against the model its schema is made of: every field named, none besides."""
    found = ANSWERS.get({"scale": "reading"}.get(command, command), ())
    models = found if isinstance(found, tuple) else (found,)
    wrong = []
    for model in models:
        try:
            model.model_validate(data, strict=True)
            return data
        except ValidationError as bad:
            wrong.append(bad)
    assert not wrong, min(wrong, key=ValidationError.error_count)
    return data


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
    assert on["rpm_machine"] == 760 and on["feed_mm_per_rev"] == pytest.approx(0.178, abs=0.0005)
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
    result = run("plan", put(tmp_path, job_data(PIVOT | {"finish_ra_um": 0.2})), "--json")
    assert result.exit_code == 1
    hole = json.loads(result.stdout)["holes"][0]
    assert hole["routes"] == [] and "honing" in hole["why_not"][0]
    text = run("plan", put(tmp_path, job_data(PIVOT)), "--shop", "demo").stdout
    assert "balanced" in text and "in 100" in text and "Ream H7, 18 mm H7 reamer" in text
    inch = {"diameter": "3/8 in", "tolerance": "+0.0002/-0 in", "depth": "0.5 in"}
    doubted = run("plan", put(tmp_path, job_data(PIVOT | inch, units="in"))).stdout
    first = next(line for line in doubted.splitlines() if line.startswith("  "))
    assert "More likely to fail than not" in first


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
    data["machine_scale"] |= {"travel_limit": "0.3 in"}
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
    ways = [schema["$defs"][one["$ref"].rpartition("/")[2]] for one in schema.get("anyOf", ())] or [schema]
    assert all(one["type"] == "object" and one["properties"] for one in ways)
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


def test_every_command_goes_to_the_command_line() -> None:
    assert set(cli.commands) <= set(WORDS)


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


# -- the models ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("wear", "pounds", "inch_pounds", "horsepower"),
    # Machinery's Handbook, drilling thrust, torque and power example: 7/8 in, 0.008 in/rev, 350 rev/min, 200 BHN
    [("1", 1780, 430, 2.4), ("1.3", 2313, 559, 3.1)],
)
def test_force_holds_the_handbooks_example(
    wear: str, pounds: float, inch_pounds: float, horsepower: float
) -> None:
    found = json.loads(
        run(
            "force", "--material", "medium_carbon_steel", "--diameter", "7/8 in", "--feed", "0.008 in",
            "--rpm", "350", "--wear", wear, "--hardness", "200", "--json",
        ).output
    )  # fmt: skip
    assert found["thrust_n"] / 4.44822 == pytest.approx(pounds, rel=0.02)
    assert found["torque_nm"] / 0.112985 == pytest.approx(inch_pounds, rel=0.02)
    assert found["power_kw"] / 0.7457 == pytest.approx(horsepower, rel=0.02)


@pytest.mark.parametrize(
    "more", [("--wear", "0.5"), ("--pilot", "30 mm"), ("--feed", "0 mm"), ("--rpm", "-3"), ("--diameter", "wide")]
)
def test_force_refuses(more: tuple[str, str]) -> None:
    given = {"--material": "medium_carbon_steel", "--diameter": "10 mm", "--feed": "0.2 mm", more[0]: more[1]}
    result = run("force", *(part for pair in given.items() for part in pair))
    assert result.exit_code == 2 and more[0].removeprefix("--") in result.output


def demo_job(tmp_path: Path) -> str:
    path = tmp_path / "demo.job.json"
    path.write_text(json.dumps(document("demo.job.json")))
    return str(path)


def test_simulate_says_the_hole_and_its_band(tmp_path: Path) -> None:
    job = demo_job(tmp_path)
    again = [
        json.loads(
            run("simulate", job, "--hole", "P1", "--shop", "demo", "--samples", "6000", "--json", *more).output
        )
        for more in ((), (), ("--seed", "5"), ("--fault", "tail_side=0.1 mm"))
    ]
    sound, same, other, bad = again
    assert sound == same and sound["size_mm"] != other["size_mm"]
    assert set(sound["size_mm"]) == {"entry", "middle", "exit"}
    assert set(sound["size_mm"]["entry"]) == {"p02", "p50", "mean", "p98"}
    low, high = sound["chance_band"]
    assert low <= sound["chance_in_tolerance"] <= high and sound["samples"] == 6000 and sound["seed"] == 0
    assert abs(other["chance_in_tolerance"] - sound["chance_in_tolerance"]) < 8 * sound["chance_error"] + 0.01
    assert bad["chance_in_tolerance"] < sound["chance_in_tolerance"] - 0.3
    assert bad["bell_mouth_mm"]["p50"] > sound["bell_mouth_mm"]["p50"]
    told = run("simulate", job, "--hole", "P1", "--shop", "demo", "--fault", "lips_length").output
    assert "with point off the drill's middle by 0.3 mm" in told and "in 100, by shop" in told


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (("--hole", "Z9"), "not a hole of this job"),
        (("--hole", "P1", "--fault", "gremlins"), "not a cause"),
        (("--hole", "P1", "--samples", "0"), "samples"),
        (("--hole", "P1", "--seed", "-1"), "seed"),
    ],
)
def test_simulate_refuses(tmp_path: Path, more: tuple[str, ...], said: str) -> None:
    result = run("simulate", demo_job(tmp_path), "--shop", "demo", *more)
    assert result.exit_code == 2 and said in result.output and len(result.output.strip().splitlines()) == 1


def test_the_schema_of_plans_lists_faults_with_units() -> None:
    faults = json.loads(run("schema", "plan").output)["$defs"]["fault"]["oneOf"]
    by_cause = {fault["const"]: fault for fault in faults}
    assert by_cause["lips_length"]["unit"] == "mm" and by_cause["not_square"]["unit"] == "deg"


def test_a_sheet_never_writes_over_what_is_there(tmp_path: Path) -> None:
    job = put(tmp_path, job_data(PIVOT))
    before = Path(job).read_bytes()
    for out in (job, str(tmp_path / "." / "x.json")):
        for more in ([], ["--force"]):
            told = run("sheet", job, "-o", out, *more)
            assert told.exit_code == 2 and Path(job).read_bytes() == before
    (tmp_path / "theirs.pdf").write_text("theirs")
    told = run("sheet", job, "-o", str(tmp_path / "theirs.pdf"))
    assert told.exit_code == 2 and "--force" in told.stderr
    assert (tmp_path / "theirs.pdf").read_text() == "theirs"
    assert run("sheet", job, "-o", str(tmp_path / "theirs.pdf"), "--force").exit_code == 0
    assert (tmp_path / "theirs.pdf").read_bytes().startswith(b"%PDF")
    told = run("sheet", job, "-o", str(tmp_path / "no" / "such.pdf"))
    assert told.exit_code == 2 and "no such folder" in told.stderr and not (tmp_path / "no").exists()


def test_what_a_terminal_or_a_file_system_may_bring(tmp_path: Path) -> None:
    command = str(Path(sys.executable).parent / "cordwainer")
    with Path("/dev/full").open("w") as full:
        done = subprocess.run([command, "limits", "20 H7"], stdout=full, stderr=subprocess.PIPE, check=False)
    assert (
        done.returncode == 2
        and done.stderr == b"cordwainer: the answer could not be given out: the disk is full\n"
    )
    odd = os.fsencode(tmp_path) + b"/\xff\x1b[31m.json"
    Path(os.fsdecode(odd)).write_text("{")
    done = subprocess.run([command.encode(), b"plan", odd], capture_output=True, check=False)
    assert done.returncode == 2 and b"Traceback" not in done.stderr and b"\x1b" not in done.stderr
    assert b"not readable as JSON" in done.stderr and done.stderr.count(b"\n") == 1


@pytest.mark.parametrize("kind", ["readings", "scale", "case"])
def test_half_a_character_is_refused_where_it_stands(tmp_path: Path, kind: str) -> None:
    path = tmp_path / "x.json"
    path.write_text(json.dumps({"format": f"cordwainer-{kind}", "version": 1, "note": {"deep": "a\ud800"}}))
    told = run({"readings": "measure", "scale": "scale", "case": "diagnose"}[kind], str(path))
    assert told.exit_code == 2 and "note.deep" in told.stderr and "half a character" in told.stderr


def test_what_is_written_goes_to_standard_output_for_a_dash(tmp_path: Path) -> None:
    """Sheet, section and drawing through a pipe; with JSON asked for too, one of them is refused."""
    job = put(tmp_path, job_data(PIVOT))
    assert run("sheet", job, "-o", "-").stdout_bytes.startswith(b"%PDF")
    assert b"<svg" in run("sheet", job, "-o", "-.svg").stdout_bytes
    assert b"SECTION" in run("draw", job, "-o", "-").stdout_bytes
    assert b"<svg" in run("draw", job, "-o", "-.svg").stdout_bytes
    both = run("sheet", job, "-o", "-", "--json")
    assert both.exit_code == 2 and "name a file" in both.stderr and both.stdout == ""
    assert [p for p in tmp_path.iterdir() if p.is_file()] == [Path(job)]
