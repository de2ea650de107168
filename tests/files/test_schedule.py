"""`cordwainer schedule` on jobs: the order is whole, its minutes add up, holes wait as the data has it."""

from __future__ import annotations

import json
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from cordwainer.cli import cli
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.scheduling.build import pace_of
from cordwainer.core.scheduling.order import Schedule, schedule
from cordwainer.core.scheduling.task import Changes, Config, Piece, PieceStep, Task
from cordwainer.core.scheduling.worth import Improvement, improvements
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.tables import document
from cordwainer.files import job as job_files
from cordwainer.files.schedule import schedule_job

DEMO = "demo_strap.job.json"


def job(tmp_path: Path, name: str = DEMO, **changes: Any) -> Path:
    """A demo job with changes, as a file."""
    data = document(name) | changes
    path = tmp_path / "batch.job.json"
    path.write_text(json.dumps(data))
    return path


def said(path: Path, *more: str, code: int = 0) -> dict[str, Any]:
    """What the command says of it."""
    found = CliRunner().invoke(cli, ["schedule", str(path), "--shop", "demo", "--json", *more])
    assert found.exit_code == code, found.output
    answer: dict[str, Any] = json.loads(found.output) if code == 0 else {"error": found.output}
    return answer


def test_the_order_is_whole_and_its_minutes_add_up(tmp_path: Path) -> None:
    found = said(job(tmp_path, quantity=3))
    holes = {h["id"]: h.get("count", 1) for h in document(DEMO)["holes"]}
    seen: dict[tuple[str, int], list[int]] = {}
    for entry in found["order"]:
        seen.setdefault((entry["hole"], entry["number"]), []).append(entry["step"])
    assert len(seen) == 3 * sum(holes.values())
    assert all(steps == list(range(1, len(steps) + 1)) for steps in seen.values())
    assert sum(found["minutes_by"].values()) == pytest.approx(found["minutes"], abs=0.01)
    assert found["lower_bound_minutes"] <= found["minutes"] <= min(found["plain"].values())
    tools = [(e["part"], e["tool"]) for e in found["order"] if e["rpm"]]
    changes = sum(a[1] != b[1] for a, b in pairwise(tools)) + 1
    assert found["tool_changes"] >= changes > 0


def test_plain_orders_and_times_of_ones_own(tmp_path: Path) -> None:
    path = job(tmp_path, quantity=3)
    for way in ("part_by_part", "tool_by_tool"):
        assert said(path, "--order", way)["minutes"] == pytest.approx(said(path)["plain"][way])
    own = job(tmp_path, quantity=3, batch={"order": "tool_by_tool", "part_change_minutes": 0.0})
    assert said(own)["way"] == "tool_by_tool" and said(own)["minutes_by"]["changing parts"] == 0
    assert "no order" in said(path, "--order", "any", code=2)["error"]
    bad = job(tmp_path, batch={"part_change_minutes": -1})
    assert "part_change_minutes" in said(bad, code=2)["error"]


def test_what_a_hole_costs(tmp_path: Path) -> None:
    assert said(job(tmp_path))["cost_per_hole"] is None
    one = said(job(tmp_path, batch={"rate_per_hour": 60, "currency": "kr"}))
    holes = 2 * sum(h.get("count", 1) for h in document(DEMO)["holes"])
    assert one["currency"] == "kr" and one["cost_per_hole"] > one["minutes"] / holes
    dear = said(job(tmp_path, batch={"rate_per_hour": 120}))
    assert dear["cost_per_hole"] - one["cost_per_hole"] == pytest.approx(one["minutes"] / holes, rel=1e-3)


def test_holes_that_meet_and_holes_that_wait(tmp_path: Path) -> None:
    bore = {"id": "A", "kind": "sized", "diameter": "20 mm", "tolerance": "H7", "depth": "30 mm", "through": True}
    oil = {"id": "B", "kind": "plain", "diameter": "6 mm", "depth": "15 mm", "through": True, "exit": "cross_hole",
           "cross_diameter": "20 mm"}  # fmt: skip
    found = said(job(tmp_path, "demo.job.json", holes=[oil, bore], quantity=2))
    first = [e for e in found["order"] if e["part"] == 1 and e["rpm"]]
    kinds = [(e["hole"], e["operation"]) for e in first]
    last_of_a = max(i for i, (hole, _) in enumerate(kinds) if hole == "A")
    assert kinds[last_of_a][1] in ("ream", "bore") and all(hole == "A" for hole, _ in kinds[last_of_a:])
    begins_b = min(i for i, (hole, _) in enumerate(kinds) if hole == "B" and kinds[i][1] != "center_drill")
    assert any(hole == "A" and kind == "drill" for hole, kind in kinds[:begins_b])
    asked = said(job(tmp_path, "demo.job.json", holes=[bore | {"after": ["C"]}, bore | {"id": "C"}], quantity=2))
    holes = [e["hole"] for e in asked["order"] if e["part"] == 1]
    assert holes.index("A") > max(i for i, h in enumerate(holes) if h == "C")
    round_about = [bore | {"after": ["C"]}, bore | {"id": "C", "after": ["A"]}]
    assert "wait for each other" in said(job(tmp_path, "demo.job.json", holes=round_about), code=2)["error"]


def test_what_holds_a_batch_back(tmp_path: Path) -> None:
    shop = built_in("demo")
    found = schedule_job(job_files.load(job(tmp_path, quantity=10)), shop)
    ways = improvements(found.found, found.wanted, found.machine)
    assert [w.saves for w in ways] == sorted((w.saves for w in ways), reverse=True) and len(ways) >= 3
    half = next(w for w in ways if w.id == "half_part_change")
    own = job(tmp_path, quantity=10, batch={"part_change_minutes": found.found.task.changes.part / 2})
    again = schedule_job(job_files.load(own), shop)
    assert found.found.minutes - again.found.minutes == pytest.approx(half.saves)
    faster = next(w for w in ways if w.id == "faster")
    assert 0 < faster.saves < found.found.task.work and "rev/min in place of" in faster.words


def test_pace_learned_from_holes_made() -> None:
    assert pace_of([]) == 1.0 and pace_of([(0.0, 5.0)]) == 1.0
    assert 1.0 < pace_of([(10.0, 15.0)] * 3) < pace_of([(10.0, 15.0)] * 30) < 1.5


# common practice: 24 parts 6.75 in deep at 200 rev/min and 0.5 mm/rev, a change of 2.5 times the drilling;
# the next step up is 315
def test_the_worth_of_the_next_step_up(tmp_path: Path) -> None:
    shop = built_in("demo")
    plain = schedule_job(job_files.load(job(tmp_path)), shop)
    deep = 6.75 * 25.4
    drilling = deep / (200 * 0.5)

    def at(rpm: float, above: float | None) -> tuple[Schedule, list[Improvement]]:
        operation = Operation(
            "spade_drill", rpm=rpm, rpm_above=above, rpm_ideal=370.0, feed_mm_per_rev=0.5, tip_mm=deep
        )
        wanted = replace(plain.wanted[0], route=replace(plain.wanted[0].route, operations=(operation,)))
        step = PieceStep(0, "spade_drill", Config("", "spade", rpm), deep / (rpm * 0.5))
        piece = Piece(wanted.hole.id, (step,))
        found = schedule(Task(24, (piece,), Changes(2.5 * drilling, 0.0, 0.0, {"spade": 0.0})))
        return found, improvements(found, [wanted], plain.machine)

    slow, ways = at(200.0, 315.0)
    fast, _ = at(315.0, None)
    assert slow.minutes == pytest.approx(144.0, abs=0.1) and fast.minutes == pytest.approx(129.0, abs=0.1)
    saves = {way.id: way.saves for way in ways}
    assert saves["faster"] == pytest.approx(slow.minutes - fast.minutes) == pytest.approx(15.0, abs=0.1)
    assert saves["half_part_change"] == pytest.approx(0.5 * 24 * 2.5 * drilling)
    far = at(315.0, 600.0)[1]
    assert "faster" not in {way.id for way in far}, "far over the table's middle nothing is offered"
