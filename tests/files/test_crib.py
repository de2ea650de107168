"""The crib's changes, and lists of tools and holes: what is read, what is refused and why, nothing lost."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.shop.catalog import built_in
from cordwainer.files import crib, hole_csv, tool_csv
from cordwainer.files.crib import (
    all_tools,
    blank,
    change_tool,
    edited,
    gauge_with,
    machine_with,
    take_rows,
    with_changes,
)
from cordwainer.files.lists import refused_text

DEMO = built_in("demo")


def two_thousand() -> str:
    rows = [f"{1 + n * 0.02:.2f} mm,{n % 12},1,good" for n in range(1950)]
    bad = ["banana,1,1,good", "-3 mm,1,1,good", "6 mm,1,many,good", "6 mm,1,1,good,extra", "6 mm,1,1,rusty"]
    for n in range(50):
        rows.insert(n * 37 + 5, bad[n % 5])
    return "\n".join(["diameter,drawer,quantity,condition", *rows])


def test_fifty_bad_rows_of_two_thousand() -> None:
    """The good rows come in, each bad one is named by line and reason, and can be saved with its cells."""
    text = two_thousand()
    read = tool_csv.read_text(text, all_tools(DEMO))
    assert (read.good, len(read.refused)) == (1950, 50)
    lines = text.splitlines()
    for row in read.refused:
        assert row.reason and ",".join(row.cells) == lines[row.line - 1]
    kinds = {row.reason.split(":")[0] for row in read.refused}
    assert {"diameter", "quantity", "condition"} <= kinds
    again = list(csv.reader(io.StringIO(refused_text(read.head, read.refused))))
    assert len(again) == 51 and again[0][:2] == ["why", "diameter"]
    mended = [row if row[1] not in ("banana", "-3 mm") else [row[0], "3 mm", *row[2:]] for row in again]
    out = io.StringIO()
    csv.writer(out).writerows([row[:5] for row in mended])
    assert tool_csv.read_text(out.getvalue(), ()).good == 30  # 20 mended, 10 whose extra cell is cut off


def test_export_comes_back_the_same() -> None:
    tools = all_tools(DEMO)
    read = tool_csv.read_text(tool_csv.to_text(tools), tools)
    assert (len(read.matched), read.new, read.refused) == (len(tools), (), ())
    fresh = tool_csv.read_text(tool_csv.to_text(tools), ())
    data = blank("demo")
    data["removed"] = [tool.id for tool in tools]
    take_rows(data, fresh.new, fresh.matched)
    back = {tool.id: tool for tool in all_tools(with_changes(DEMO, crib.checked(data)))}
    assert not back  # removed ids stay removed, even when read again
    data["removed"] = []
    renamed = [{**entry, "id": f"new-{entry['id']}"} for entry in fresh.new]
    whole = with_changes(DEMO, crib.checked(blank("demo") | {"added": renamed}))
    for tool in tools:
        twin = next(t for t in whole.tools if t.id == f"new-{tool.id}")
        assert (twin.diameter_mm, twin.series, twin.drawer, twin.quantity, twin.out, twin.note, twin.zone) == (
            tool.diameter_mm, tool.series, tool.drawer, tool.quantity, tool.out, tool.note, tool.zone,
        )  # fmt: skip


def test_rows_match_by_id_then_by_drawer_and_name() -> None:
    drill = next(t for t in all_tools(DEMO) if t.designation == "6.8 mm" and t.kind == "drill")
    by_name = tool_csv.read_text(f"diameter,drawer,quantity\n6.8 mm,{drill.drawer},5", all_tools(DEMO))
    by_id = tool_csv.read_text(f"id,diameter,drawer\n{drill.id},6.8 mm,12", all_tools(DEMO))
    new = tool_csv.read_text("diameter,drawer\n6.8 mm,elsewhere", all_tools(DEMO))
    assert by_name.matched[0][0] is drill and by_id.matched[0][0] is drill and len(new.new) == 1
    data = edited(blank("demo"), lambda d: take_rows(d, by_name.new, by_name.matched))
    assert data["changed"] == {drill.id: {"quantity": 5}}


@pytest.mark.parametrize(
    ("text", "problem"),
    [
        ("", "empty"),
        ("name,size\n1,2", "no column 'diameter'"),
        ("diameter,diameter\n1,2", "stands twice"),
        ("diameter\n\x00", "not text"),
    ],
)
def test_files_that_are_no_list(text: str, problem: str) -> None:
    with pytest.raises(InputError, match=problem):
        tool_csv.read_text(text, ())


@given(st.text(alphabet='ab6.8,;\t\n"#/ m', max_size=60))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        read = tool_csv.read_text("diameter,drawer,note\n" + text, ())
        hole_csv.read_text(text, "mm", (), "ISO 2768-m")
    except InputError as bad:
        assert str(bad)
    else:
        assert read.good + len(read.refused) <= text.count("\n") + 1


def test_changes_are_checked_and_leave_the_shop_alone() -> None:
    drill = DEMO.of_kind("drill")[0]
    data = edited(blank("demo"), lambda d: change_tool(d, drill, condition="blunt", note="dropped"))
    changed = with_changes(DEMO, data)
    assert drill.id not in {t.id for t in changed.of_kind("drill")} and drill in DEMO.of_kind("drill")
    assert next(t for t in all_tools(changed) if t.id == drill.id).note == "dropped"
    for field, value in (("quantity", -1), ("quantity", True), ("condition", "shiny"), ("diameter", "6 mm")):
        with pytest.raises(InputError):
            edited(data, lambda d, f=field, v=value: change_tool(d, drill, **{f: v}))
    assert data["changed"][drill.id] == {"condition": "blunt", "note": "dropped"}
    with pytest.raises(InputError, match="added"):
        crib.make_added(blank("demo") | {"added": [{"kind": "drill"}]}, {})


def test_machines_and_gauges_take_their_own_figures() -> None:
    lathe = next(m for m in DEMO.machines if m.wheel is not None)
    own = machine_with(
        lathe,
        {
            "speeds_rpm": [90, 45, 180],
            "backlash": "0.12 mm",
            "tailstock_offset": {"dx": "0.02 mm", "dy": "-0.05 mm"},
            "wheel_turn": "0.1 in",
            "wheel_division": "0.001 in",
            "scale_start": "-2 mm",
        },
    )
    assert own.speeds_rpm == (45, 90, 180) and own.backlash_mm == 0.12 and own.tailstock_offset_mm == (0.02, -0.05)
    assert own.wheel is not None and own.wheel.per_rev is not None and own.wheel.per_rev.mm == pytest.approx(2.54)
    assert own.depth_scale is not None and own.depth_scale.start.mm == -2
    for bad in ({"speeds_rpm": []}, {"power_kw": 0}, {"taper": 9}, {"fluid": "oil"}, {"backlash": "wide"}):
        with pytest.raises(InputError):
            machine_with(lathe, bad)
    gauge = DEMO.gauges[0]
    assert gauge_with(gauge, {"resolution": "0.02 mm", "expanded_uncertainty": None}).resolution_mm == 0.02
    fields = {"expanded_uncertainty": "0.001 mm", "calibrated_until": "2027-03-01"}
    known = gauge_with(gauge, fields)
    assert known.as_of("2027-03-01") is known and known.expanded_mm == pytest.approx(0.001)
    past = known.as_of("2027-03-02")
    assert past.overdue and past.expanded_mm is None
    rough = gauge_with(gauge, {**fields, "expanded_uncertainty": "1 mm"}).as_of("2030-01-01")
    assert rough.expanded_mm == 1.0, "a figure worse than usual goes on counting"
    with pytest.raises(InputError, match="not a day"):
        gauge_with(gauge, {"calibrated_until": "next spring"})


# -- holes from a list ----------------------------------------------------------------------------------------


def test_holes_from_a_list_read_as_printed() -> None:
    text = "id,hole,count,name\nA,22 H7 thru 30,4,bush\n,M8 16 deep,2,\n,sideways,1,\nA,6 thru 10,1,twice\n,9,1,"
    read = hole_csv.read_text(text, "mm", ("B",), "ISO 2768-m")
    assert [entry["id"] for entry in read.entries] == ["A", "C"]  # B is taken in the job
    assert read.entries[0]["tolerance"] == "H7" and read.entries[0]["count"] == 4
    assert read.entries[1]["kind"] == "tapped" and read.entries[1]["count"] == 2
    assert [row.line for row in read.refused] == [4, 5, 6]
    assert "taken" in read.refused[1].reason and "no depth" in read.refused[2].reason


def test_plain_lines_are_holes_too(tmp_path: Path) -> None:
    path = tmp_path / "holes.txt"
    path.write_text("# rework\n22 H7 thru 30\n\n.6875 +.001 -.000 thru 1.25\n")
    read = hole_csv.read_file(path, "mm", (), "ISO 2768-m")
    assert [entry["id"] for entry in read.entries] == ["A", "B"] and not read.refused
    with pytest.raises(InputError, match="no such file"):
        hole_csv.read_file(tmp_path / "none.csv", "mm", (), "ISO 2768-m")
