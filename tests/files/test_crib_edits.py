"""Any run of edits of a crib: earlier states stay as they were, files give back what they were given."""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.shop.catalog import built_in
from cordwainer.files import crib
from cordwainer.files.crib import (
    all_tools,
    blank,
    change_tool,
    edited,
    for_plans,
    of_kind,
    take_rows,
    with_changes,
)
from cordwainer.files.shop_out import shop_data
from cordwainer.files.tool_csv import read_text

DEMO = built_in("demo")
TOOLS = all_tools(DEMO)

edits = st.lists(
    st.tuples(
        st.integers(0, len(TOOLS) - 1),
        st.sampled_from(
            [
                ("quantity", 0), ("quantity", 3), ("out", 1), ("out", 0), ("condition", "worn"),
                ("condition", "blunt"), ("note", "kept"), ("drawer", "9"), ("regrinds", 2),
                ("point", {"lip_a": "6 mm"}), ("price", 12.5),
            ]
        ),
    ),
    max_size=12,
)  # fmt: skip


@settings(max_examples=40)
@given(edits)
def test_every_state_can_be_gone_back_to(run: list[tuple[int, tuple[str, Any]]]) -> None:
    states = [blank("demo")]
    kept = [copy.deepcopy(states[0])]
    for which, (field, value) in run:
        after = edited(states[-1], lambda d, w=which, f=field, v=value: change_tool(d, TOOLS[w], **{f: v}))
        states.append(after)
        kept.append(copy.deepcopy(after))
    assert states == kept
    shop = with_changes(DEMO, states[-1])
    by_id = {tool.id: tool for tool in all_tools(shop)}
    last: dict[tuple[str, str], Any] = {(TOOLS[w].id, f): v for w, (f, v) in run}
    for (identifier, field), value in last.items():
        if field != "point":
            assert getattr(by_id[identifier], field) == value
    for kind in ("drill", "reamer"):
        usable = {tool.id for tool in shop.of_kind(kind)}
        for tool in of_kind(shop, kind):
            fit = tool.quantity > tool.out and tool.condition in ("good", "worn")
            assert (tool.id in usable) is fit


@settings(max_examples=20)
@given(edits)
def test_the_document_survives_its_file(run: list[tuple[int, tuple[str, Any]]]) -> None:
    data = blank("demo")
    for which, (field, value) in run:
        data = edited(data, lambda d, w=which, f=field, v=value: change_tool(d, TOOLS[w], **{f: v}))
    again = crib.checked(json.loads(json.dumps(data)))
    assert again == data
    assert shop_data(with_changes(DEMO, again)) == shop_data(with_changes(DEMO, data))


def test_what_a_plan_may_depend_on() -> None:
    tool = TOOLS[3]
    quiet = edited(blank("demo"), lambda d: change_tool(d, tool, note="x", drawer="4", point={"web": "1 mm"}))
    loud = edited(quiet, lambda d: change_tool(d, tool, condition="worn"))
    assert for_plans(quiet) == for_plans(blank("demo")) != for_plans(loud)


def test_added_tools_are_made_once_and_can_go_again() -> None:
    read = read_text("diameter,drawer\n6.05 mm,9\n6.15 mm,9", TOOLS)
    made: dict[str, Any] = {}
    data = edited(blank("demo"), lambda d: take_rows(d, read.new, read.matched))
    first = {t.id: t for t in with_changes(DEMO, data, made).of_kind("drill")}
    second = {t.id: t for t in with_changes(DEMO, data, made).of_kind("drill")}
    added = [entry["id"] for entry in read.new]
    assert all(first[i] is second[i] for i in added)
    gone = edited(data, lambda d: d["removed"].append(added[0]))
    assert added[0] not in {t.id for t in with_changes(DEMO, gone).of_kind("drill")}
    assert added[1] in {t.id for t in with_changes(DEMO, gone).of_kind("drill")}


@pytest.mark.parametrize(
    "broken",
    [
        {"changed": []},
        {"added": {}},
        {"machines": 3},
        {"changed": {"x": "y"}},
        {"changed": {"x": {"out": 1.5}}},
        {"changed": {"x": {"price": "dear"}}},
        {"changed": {"x": {"note": 5}}},
    ],
)
def test_broken_documents_are_refused(broken: dict[str, Any]) -> None:
    with pytest.raises(InputError):
        crib.checked(blank("demo") | broken)


def test_figures_of_machines_that_cannot_be() -> None:
    machine = DEMO.machines[0]
    for fields in ({"speeds_rpm": [0, 90]}, {"thrust_n": -5}, {"chuck_kind": "magnet"}, {"tailstock_offset": 3}):
        with pytest.raises(InputError) as bad:
            crib.machine_with(machine, fields)
        assert next(iter(fields)) in str(bad.value)
    assert crib.machine_with(machine, None) is machine
    assert crib.machine_with(machine, {"runout": None}).runout_mm is None
