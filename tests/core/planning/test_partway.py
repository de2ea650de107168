"""A long pilot in two goes: its passes fit each other, and its chips climb half as far."""

from __future__ import annotations

import pytest

from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.material import material
from cordwainer.files import job as job_file
from cordwainer.files.sequence import operation_entry, read_wishes
from tests.core.planning.rule_check import Checker
from tests.core.planning.test_kinds import CATALOG, asked
from tests.core.planning.test_rules import job_data
from tests.core.planning.test_schools import route

TIE = {"kind": "plain", "diameter": "14 mm", "depth": "44 mm", "through": True}
SLEEVE = {"kind": "sized", "diameter": "20 mm", "tolerance": "H7", "depth": "70 mm", "through": True}
LATHE, STEEL = CATALOG.machine("bench_lathe"), material("medium_carbon_steel")


@pytest.mark.parametrize("entry", [TIE, SLEEVE, {**TIE, "through": False}], ids=["drilled", "reamed", "blind"])
def test_passes_fit_and_the_plan_is_otherwise_the_same(entry: dict[str, object]) -> None:
    plain, parted = route(entry), route(entry, pilot="part_way")
    roles = [o.role for o in parted.operations if o.kind in ("drill", "core_drill")]
    assert roles[:3] == ["part_way", "part_way", "finish_pilot"] and not any(
        roles[3:]
    )  # common practice, three moves
    begun, opened, rest = (o for o in parted.operations if o.role)
    assert begun.depth_mm == pytest.approx((rest.depth_mm or 0) / 2) and begun.breakthrough is None
    assert opened.breakthrough is None and bool(rest.breakthrough) is bool(entry["through"])
    whole = next(o for o in plain.operations if o.tool == rest.tool)
    assert (rest.tip_mm, rest.rpm) == (whole.tip_mm, whole.rpm)
    assert whole.pecks_mm and len(begun.pecks_mm) + len(rest.pecks_mm) < len(whole.pecks_mm)
    assert parted.chance == pytest.approx(plain.chance or 0, abs=0.02)
    assert Checker(asked(**entry), plain, CATALOG, LATHE, STEEL).run() == []
    assert Checker(asked(**entry), parted, CATALOG, LATHE, STEEL).run() == []


def test_a_short_pilot_a_fixed_one_and_a_hole_already_there_stay_whole() -> None:
    short = {**TIE, "depth": "20 mm"}
    there = {**TIE, "existing_hole": "9 mm"}
    for entry in (short, there):
        assert not any(o.role for o in route(entry, pilot="part_way").operations)


def test_written_down_as_an_own_sequence_it_comes_back() -> None:
    found = route(SLEEVE, pilot="part_way")
    written = [operation_entry(o, ()) for o in found.operations]
    job = job_file.from_data(job_data(SLEEVE | {"id": "A", "sequence": written, "sequence_only": True}))
    wishes = read_wishes(job.file.holes[0].sequence, True, CATALOG)
    again = plan_hole(asked(**SLEEVE), CATALOG, LATHE, STEEL, Practice(), wishes=wishes).routes[0]
    shown = [(o.kind, o.role, o.depth_mm, o.rpm, o.pecks_mm) for o in again.operations if o.sizes_hole]
    for one, (kind, role, depth, rpm, pecks) in zip(
        (o for o in found.operations if o.sizes_hole), shown, strict=True
    ):
        assert (one.kind, one.role, one.rpm) == (kind, role, rpm)
        assert depth == pytest.approx(one.depth_mm, abs=1e-5) and pecks == pytest.approx(one.pecks_mm, abs=1e-5)
    assert again.minutes == pytest.approx(found.minutes, abs=0.05)
