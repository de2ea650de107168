"""The sequence of a job's hole: what is fixed, in files and on the command line."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.planning.choices import tools_for
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.shop.catalog import built_in
from cordwainer.files import job as job_files
from cordwainer.files.plan import plan_data, plan_job
from cordwainer.files.sequence import operation_entry, read_wishes
from tests.jobs import PIVOT, job_data
from tests.test_cli import answer, put, run

CATALOG = built_in("catalog")


def job(*operations: dict[str, Any], **more: Any) -> job_files.Job:
    """A job whose one hole has that sequence."""
    return job_files.from_data(job_data(PIVOT | {"sequence": list(operations)} | more))


def planned(*operations: dict[str, Any], shop: str = "catalog", **more: Any) -> dict[str, Any]:
    """The first hole of the PLAN of such a job."""
    found = job(*operations, **more)
    hole: dict[str, Any] = plan_data(found, plan_job(found, built_in(shop)), 0)["holes"][0]
    return hole


def kinds(route: dict[str, Any]) -> list[str]:
    """Kinds of the operations."""
    return [o["kind"] for o in route["operations"]]


def test_only_what_is_locked_counts() -> None:
    loose = {"kind": "drill", "diameter": "5 mm", "rpm": 500}
    entry = job(loose).file.holes[0]
    assert not read_wishes(entry.sequence, entry.sequence_only, CATALOG).known
    locked = loose | {"locked": ["diameter", "rpm"]}
    entry = job(locked).file.holes[0]
    wish = read_wishes(entry.sequence, False, CATALOG).fixed[0]
    assert wish.tool is not None and wish.tool.designation == "5 mm" and wish.tool.series == "jobber"
    assert (wish.rpm, wish.depth_mm, wish.locked) == (500, None, ("diameter", "rpm"))


def test_tools_by_id_designation_series_or_size() -> None:
    stub = next(t for t in CATALOG.of_kind("drill") if t.designation == "8 mm" and t.series == "stub")

    def tool_of(**entry: Any) -> Any:
        found = job({"kind": "drill", "locked": ["diameter"]} | entry).file.holes[0]
        return read_wishes(found.sequence, False, CATALOG).fixed[0].tool

    assert tool_of(tool={"id": stub.id}) is stub
    assert tool_of(diameter="8 mm", tool={"series": "stub"}) is stub
    assert tool_of(diameter="8 mm").series == "jobber"
    assert tool_of(tool={"designation": "letter F"}).diameter.inch == pytest.approx(0.257)
    assert tool_of(diameter="7.77 mm").diameter_mm == 7.77  # not sold, made by the same rule
    with pytest.raises(InputError, match="name one by its 'id'"):
        found = job({"kind": "center_drill", "locked": ["diameter"]}).file.holes[0]
        read_wishes(found.sequence, False, CATALOG)


def test_a_locked_undersize_drill_is_in_every_route() -> None:
    hole = planned({"kind": "drill", "diameter": "17.5 mm", "locked": ["diameter"]})
    for route in hole["routes"]:
        last = [o for o in route["operations"] if o["kind"] == "drill"][-1]
        assert last["diameter_mm"] == 17.5 and last["locked"] == ["diameter"]
        assert kinds(route)[-3:] == ["ream", "deburr", "measure"]


def test_sequence_only_adds_nothing_and_takes_the_numbers_given() -> None:
    given = (
        {"kind": "drill", "diameter": "17.7 mm", "rpm": 210, "feed_mm_per_rev": 0.2, "depth": "30 mm"},
        {"kind": "ream", "diameter": "18 mm"},
    )
    hole = planned(*given, sequence_only=True)
    (route,) = hole["routes"]
    assert kinds(route) == ["drill", "ream"]
    first = route["operations"][0]
    assert (first["rpm"], first["feed_mm_per_rev"], first["depth_mm"]) == (210, 0.2, 30)
    data = plan_data(job(*given, sequence_only=True), plan_job(job(*given, sequence_only=True), CATALOG), 0)
    texts = [w["text"] for w in data["warnings"] if w["id"] == "broken_limit"]
    assert any("nothing starts it" in t for t in texts) and any("corners do not come out" in t for t in texts)
    assert all(w["hole"] == "A" and w["operation"] is not None for w in data["warnings"])


def test_tools_that_are_not_in_the_crib_are_named_as_missing() -> None:
    hole = planned({"kind": "drill", "diameter": "17.6 mm", "locked": ["diameter"]}, shop="demo", depth="24 mm")
    assert hole["routes"] and any("17.6 mm" in name for name in hole["routes"][0]["missing_tools"])


@pytest.mark.parametrize(
    ("operation", "words"),
    [
        ({"kind": "lapping"}, "sequence[0].kind"),
        ({"kind": "drill", "diameter": 5}, "sequence[0].diameter"),
        ({"kind": "drill", "diameter": "5 mm", "rpm": -3}, "sequence[0].rpm"),
        ({"kind": "drill", "diameter": "5 mm", "tool": {"wear": 3}}, "sequence[0].tool.wear"),
        ({"kind": "drill", "diameter": "5 mm", "locked": "rpm"}, "sequence[0].locked"),
    ],
)
def test_bad_sequences_say_where(operation: dict[str, Any], words: str, tmp_path: Path) -> None:
    result = run("plan", put(tmp_path, job_data(PIVOT | {"sequence": [operation]})))
    assert result.exit_code == 2 and words in result.stderr and "Traceback" not in result.stderr
    assert result.stderr.count("\n") == 1


def test_an_operation_goes_to_the_file_and_comes_back() -> None:
    tool = next(t for t in CATALOG.of_kind("drill") if t.designation == "17.7 mm")
    entry = operation_entry(Operation("drill", tool=tool, rpm=330.0, depth_mm=33.0), ("diameter", "rpm"))
    again = job(entry).file.holes[0].sequence[0]
    assert (again.diameter, again.rpm, again.locked) == (tool.diameter, 330.0, ("diameter", "rpm"))
    assert again.tool.id == tool.id and again.depth is not None and again.depth.mm == 33


def test_what_bought_tools_would_do_is_told_where_nothing_else_does(tmp_path: Path) -> None:
    odd = PIVOT | {"diameter": "13 mm", "depth": "24 mm"}
    result = run("plan", put(tmp_path, job_data(odd, machine="drill_press")), "--shop", "demo", "--json")
    assert result.exit_code == 1
    hole = json.loads(result.stdout)["holes"][0]
    assert hole["routes"] == [] and hole["why_not"]
    assert hole["to_get"]["missing_tools"] and hole["to_get"]["label"] == "to_get"


# -- identify ------------------------------------------------------------------------------------


def test_identify() -> None:
    found = answer("identify", "0.866 in")["candidates"]
    assert found[0]["name"] == "22 mm" and found[0]["system"] == "metric"
    assert found[0]["difference_um"] == pytest.approx(-3.6, abs=0.05)
    assert set(found[0]) == {"name", "system", "diameter_mm", "difference_um"}
    band = answer("identify", "0.4844 in", "--tolerance", "0.001 in")
    assert [c["name"] for c in band["candidates"]] == ["31/64 in", "12.3 mm"] and band["nearest"] == []
    plate = answer("identify", "1/8 in", "--refuses", "9/64 in")["candidates"]
    assert {"#30", "#29", "3.3 mm"} <= {c["name"] for c in plate}
    lost = answer("identify", "80 mm", "--tolerance", "0.1 mm")
    assert lost["candidates"] == [] and lost["nearest"][0]["name"] == "2 in"
    assert "worn, or not a drill" in run("identify", "80 mm", "--tolerance", "0.1 mm").stdout
    assert "22 mm (metric), -4 µm" in run("identify", "0.866 in").stdout


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (("0.866",), "has no unit"),
        (("0 mm",), "not more than zero"),
        (("5 mm", "--tolerance", "x"), "--tolerance"),
        (("1,000 mm",), "two ways"),
    ],
)
def test_identify_bad_input(arguments: tuple[str, ...], words: str) -> None:
    result = run("identify", *arguments)
    assert result.exit_code == 2 and words in result.stderr


def test_an_end_mill_without_an_edge_at_its_center_is_not_offered_and_stops_where_it_is_typed() -> None:
    """Common practice: one that does not cut to its center cannot plunge."""
    blunt = next(t for t in CATALOG.of_kind("end_mill") if t.designation == "12 mm" and t.center_cutting is False)
    hole = {"id": "A", "kind": "flat_bottom", "diameter": "12 mm", "depth": "20 mm"}
    typed = job_files.from_data(
        job_data(
            hole | {"sequence": [operation_entry(Operation("end_mill", tool=blunt), ("diameter",))]},
            machine="knee_mill",
        )
    )
    found = plan_data(typed, plan_job(typed, built_in("catalog")), 0)
    mill = next(o for o in found["holes"][0]["routes"][0]["operations"] if o["kind"] == "end_mill")
    assert "stub" in mill["because"][0] and mill["cautions"][0].startswith("Stop: this end mill has no")
    assert any(w["id"] == "broken_limit" and "cannot plunge" in w["text"] for w in found["warnings"])
    free = job_files.from_data(job_data(hole, machine="knee_mill"))
    plan = plan_job(free, built_in("catalog"))[0]
    operation = next(o for o in plan.routes[0].operations if o.kind == "end_mill")
    assert blunt not in tools_for(CATALOG, operation, plan.hole)
    assert operation.tool is not None and operation.tool.center_cutting
