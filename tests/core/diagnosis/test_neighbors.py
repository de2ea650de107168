"""Every cause has neighbors, and something to ask or measure that parts it from them."""

from __future__ import annotations

import numpy as np
import pytest

from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.neighbors import PARTS, divergence, neighbors, usual_cases
from cordwainer.core.diagnosis.next_check import LAST_DRILL_ONLY, open_questions


def test_something_parts_every_cause_from_its_neighbors() -> None:
    found = neighbors()
    assert set(found) == set(causes()) and all(1 <= len(near) <= 3 for near in found.values())
    for near in found.values():
        for pair in near:
            assert pair.by[0][1] >= PARTS, (pair.first, pair.second, pair.where)
            assert [bits for _, bits in pair.by] == sorted((bits for _, bits in pair.by), reverse=True)
    tailstock = next(p for p in found["tail_side"] if "tail_height" in (p.first, p.second))
    assert tailstock.by[0][0] == "q_tailstock"


# Jensen and Shannon's divergence of coins by hand: equal ones 0, opposite ones 1, a fair and a sure one 0.3113
def test_divergence() -> None:
    bits = divergence(np.array([[0.5, 0.5], [1.0, 0.0], [0.0, 1.0]]))
    assert bits[0, 0] == 0 and bits[1, 2] == pytest.approx(1.0)
    assert bits[0, 1] == pytest.approx(0.3113, abs=1e-4) and np.allclose(bits, bits.T)


# common practice: nobody looks for equal chips from both lips at a reamer
def test_only_what_can_be_seen_of_the_last_tool_is_asked() -> None:
    reamed = {q.id for q in open_questions(usual_cases()["reamed, mill"])}
    drilled = {q.id for q in open_questions(usual_cases()["spotted, mill"])}
    assert set(LAST_DRILL_ONLY) - {"q_rake"} <= drilled and not set(LAST_DRILL_ONLY) & reamed
