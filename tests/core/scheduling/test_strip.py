"""A schedule in time and in words: nothing overlaps, nothing is lost, like loadings stand as one."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.learning.wear import due_of
from cordwainer.core.scheduling.order import schedule
from cordwainer.core.scheduling.strip import laid_out, stretches
from tests.core.scheduling.test_order import batch


@given(
    st.integers(1, 9),
    st.lists(st.text(alphabet="ABCab.", min_size=1, max_size=4), min_size=1, max_size=4),
    st.sampled_from(["best", "part_by_part", "tool_by_tool"]),
)
def test_blocks_follow_each_other_to_the_last_minute(parts: int, words: list[str], way: str) -> None:
    found = schedule(batch(parts, *words), way)
    blocks = laid_out(found)
    assert [b.done for b in blocks] == list(found.order)
    assert all(a.end == pytest.approx(b.start) for a, b in pairwise(blocks))
    assert all(b.start <= b.cut + 1e-9 <= b.end + 2e-9 for b in blocks)
    assert blocks[-1].end == pytest.approx(found.minutes)
    assert sum(b.part_changed for b in blocks) == found.part_changes
    assert sum(b.tool_changed for b in blocks) == found.tool_changes


@given(
    st.integers(1, 9),
    st.lists(st.text(alphabet="ABCab.", min_size=1, max_size=4), min_size=1, max_size=4),
    st.sampled_from(["best", "part_by_part", "tool_by_tool"]),
)
def test_stretches_spelled_out_are_the_order(parts: int, words: list[str], way: str) -> None:
    found = schedule(batch(parts, *words), way)
    spelled = [(part - 1, piece, step) for s in stretches(found) for part in s.parts for piece, step in s.steps]
    assert spelled == [(d.part, d.piece, d.step) for d in found.order]


def test_part_by_part_is_one_stretch_and_tool_by_tool_one_a_tool() -> None:
    task = batch(6, "AB", "AC")
    assert [s.words for s in stretches(schedule(task, "part_by_part"))] == ["parts 1 to 6"]
    by_tool = stretches(schedule(task, "tool_by_tool"))
    assert by_tool[0].words == "parts 1 to 5" and "part 6" in [s.words for s in by_tool]


# common practice: regrind at 0.5 mm of wear; the median of its own grinds, the table as one more
@pytest.mark.parametrize(
    ("since", "grinds", "usual", "due", "learned"),
    [
        (134, [], 150.0, False, 0), (135, [], 150.0, True, 0), (80, [80, 90], 150.0, False, 2),
        (81, [80, 90], 150.0, True, 2), (10, [0, 0], 150.0, False, 0), (0, [5, 5, 5], 100.0, False, 3),
    ],
)  # fmt: skip
def test_a_drill_is_due_by_its_own_grinds(
    since: int, grinds: list[int], usual: float, due: bool, learned: int
) -> None:
    found = due_of(since, grinds, usual)
    assert found.due is due and found.learned == learned
    assert f"{since} holes" in found.words and ("table" in found.words) is (learned == 0)
