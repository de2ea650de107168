"""A measured size names its drill in the crib; at the end it is said what was not seen."""

from __future__ import annotations

from dataclasses import replace

from cordwainer.core.shop.sized import sized
from cordwainer.core.shop.stock_taking import count, name

CRIB = [sized("drill", "jobber", size) for size in ("6.5 mm", "6.8 mm", "17/64 in", "letter H", "10 mm", "1/4 in")]


# common practice: a caliper does not tell 17/64 in (6.747) from letter H (6.756)
def test_a_size_is_one_tool_or_the_few_it_can_be() -> None:
    assert [t.designation for t in name(10.01, CRIB, {}).fits] == ["10 mm"]
    both = name(6.75, CRIB, {})
    assert both.sure is None and {"17/64 in", "letter H"} <= {t.designation for t in both.fits}
    seen = {t.id: 1 for t in both.fits if t.designation != "letter H"}
    left = name(6.75, CRIB, seen)
    assert left.sure is not None and left.sure.designation == "letter H", "those seen already are not meant again"
    assert name(9.3, CRIB, {}).fits == ()


def test_at_the_end_it_is_said_what_is_missing_doubled_and_to_get() -> None:
    tools = [*CRIB[:4], replace(CRIB[4], quantity=0), replace(CRIB[5], out=1)]
    found = count(tools, {CRIB[0].id: 2, CRIB[1].id: 1}, [9.3])
    assert (found.seen, found.of) == (2, 4)
    assert [t.designation for t in found.not_seen] == ["17/64 in", "letter H"]
    assert [(t.designation, n) for t, n in found.doubled] == [("6.5 mm", 2)] and found.unmarked == (9.3,)
    assert [t.designation for t in found.to_get] == ["10 mm"]
