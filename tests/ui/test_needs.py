"""Every need of the trade within reach: `docs/needs.toml`, walked in the real window from a fresh start."""

from __future__ import annotations

import re
import tomllib
from pathlib import Path
from typing import Any

import pytest
from pytestqt.qtbot import QtBot

from tests.ui.needs_walk import Walk
from tests.ui.windows import shut

DOCS = Path(__file__).parents[2] / "docs"
NEEDS: list[dict[str, Any]] = tomllib.loads((DOCS / "needs.toml").read_text())["need"]
MOST_GESTURES = 6
USUAL = "in, bench_lathe, medium_carbon_steel, catalog"
ROWS = 118


@pytest.mark.parametrize("need", NEEDS, ids=[str(need["row"]) for need in NEEDS])
def test_a_new_user_finds_the_answer(need: dict[str, Any], qtbot: QtBot, tmp_path: Path) -> None:
    unit, machine, material, shop = (part.strip() for part in need.get("start", USUAL).split(","))
    walk = Walk(qtbot, tmp_path, unit, machine, material, shop)
    try:
        readings = []
        for gesture in need["do"]:
            walk.do(gesture)
            readings.append(walk.read())
        seen = readings if need.get("each") else readings[-1:]
        missing = [said for said in need["says"] if not any(said in reading for reading in seen)]
        assert not missing, (missing, readings[-1][-3000:])
        assert not [said for said in need.get("never", []) if said in readings[-1]]
        # `each` asks several small questions, one gesture and a reading apiece.
        assert len(need["do"]) <= MOST_GESTURES
    finally:
        shut(walk.window)


def test_all_rows_are_there_and_the_page_is_the_tables() -> None:
    assert [need["row"] for need in NEEDS] == list(range(1, ROWS + 1))
    page = (DOCS / "needs.md").read_text()
    for need in NEEDS:
        assert re.search(rf"^\| {need['row']} \| {re.escape(need['words'])} \|", page, re.M), need["row"]
