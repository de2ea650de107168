"""Which processes hold a grade, fit reamers, expansion reamers, spotfacers."""

from __future__ import annotations

from fractions import Fraction

import pytest

from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of
from cordwainer.core.planning.words.capable import capable, expansion_for, fit_reamers, processes
from cordwainer.core.shop.catalog import built_in


def hole(size: str, zone: str, ra: float | None = None) -> Hole:
    d = parse(size)
    return Hole("A", "sized", d, parse("20 mm"), True, limits_of(d, zone, None, ""), finish_ra_um=ra)


@pytest.mark.parametrize(
    ("name", "best", "worst"),
    # Machinery's Handbook, relation of machining processes to tolerance grades
    [("twist drilling", 10, 13), ("machine reaming", 6, 10), ("boring", 8, 13), ("diamond boring", 5, 7),
     ("broaching", 5, 8), ("internal grinding", 5, 7), ("honing", 4, 5), ("lapping", 4, 5)],
)  # fmt: skip
def test_handbook_rows(name: str, best: int, worst: int) -> None:
    row = next(p for p in processes() if p.name == name)
    assert (row.best_it, row.worst_it) == (best, worst) and row.source


def test_what_holds_a_reamed_and_a_drilled_hole() -> None:
    sure, best = capable(hole("20 mm", "H7"))
    assert not sure and {"machine reaming", "hand reaming", "fine boring"} <= set(best)
    assert "twist drilling" not in best
    sure, best = capable(hole("20 mm", "H13"))
    assert "twist drilling" in sure and "machine reaming" in sure
    assert capable(hole("20 mm", "H4")) == ((), ())
    assert "honing" in capable(hole("20 mm", "H4"), elsewhere=True)[1]
    assert "twist drilling" not in [n for names in capable(hole("20 mm", "H13", 0.8)) for n in names]


def test_fit_reamers_lie_half_a_thou_and_one_off() -> None:
    # common practice: press 0.0005 to 0.001 in under, running as much over
    found = fit_reamers(parse("5/8 in"))
    offs = {k: [s.exact_mm / Fraction("25.4") - Fraction(5, 8) for s in v] for k, v in found.items()}
    assert offs == {
        "press": [Fraction("-0.0005"), Fraction("-0.001")],
        "running": [Fraction("0.0005"), Fraction("0.001")],
    }


def test_expansion_reamers_open_only_so_far() -> None:
    found = expansion_for(parse("0.503 in"))
    assert found is not None and str(found.size) == "1/2 in" and found.set_over.mm == pytest.approx(0.003 * 25.4)
    for size in ("0.864 in", "1/2 in", "0.2 in", "3 in"):
        assert expansion_for(parse(size)) is None


def test_spotfacers_are_in_the_catalog() -> None:
    # DIN 974-2 series 1 and ISO 273 medium (from memory)
    spots = {t.designation: t for t in built_in("catalog").of_kind("counterbore") if t.series == "spotface"}
    assert spots["M10 spotface"].diameter_mm == 22 and spots["M10 spotface"].pilot_diameter_mm == 11
