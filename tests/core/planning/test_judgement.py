"""What a plan says against itself, both ends, what a tip touches, habits, gauges, lengths, center depths."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.strokes import stroke_count, stroke_ends
from cordwainer.core.errors import InputError
from cordwainer.core.planning.doubt import UNLIKELY, doubt_of, headline
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.search.fronts import chance_of
from cordwainer.core.planning.steps.touching import ConeMouth, contact
from cordwainer.core.planning.words.operation import HolePlan, Route
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.habits import habit_words, hardens, takes_punch
from cordwainer.core.shop.material import material
from cordwainer.files import job as job_files
from tests.jobs import job_data

CATALOG = built_in("catalog")


def plan(machine: str = "knee_mill", metal: str = "medium_carbon_steel", **entry: Any) -> HolePlan:
    """One hole planned from the catalog."""
    given_entry = {"id": "A", "kind": "sized" if "tolerance" in entry else "plain", "through": True} | entry
    found = job_files.from_data(job_data(given_entry, machine=machine, material=metal))
    return plan_hole(found.holes[0], CATALOG, CATALOG.machine(machine), material(metal))


def words(route: Route) -> str:
    """All its reasons and cautions."""
    return " ".join(s for o in route.operations for s in (*o.because, *(c.text for c in o.cautions)))


def test_a_plan_that_is_no_even_chance_says_so_and_what_would_raise_it() -> None:
    # rules of record 13; a punch mark holds a place to a few tenths (common practice)
    given_place = {"diameter": "10 mm", "tolerance": "H9", "depth": "20 mm"}
    weak = [plan("drill_press", **given_place, position_tolerance=zone).routes[0] for zone in ("0.2 mm", "0.4 mm")]
    assert chance_of(weak[0]) < 0.5 < chance_of(weak[1]) < 0.8
    for route in weak:
        said = doubt_of(route)
        assert said is not None and said.id == UNLIKELY and "in 100 come out right" in said.text
        assert "off its place" in said.text and "guide bushing" in said.text and "honing" not in said.text
        assert headline(route).startswith("More likely to fail") == (chance_of(route) < 0.5)
    sound = plan(diameter="8 mm", depth="16 mm").routes[0]
    assert doubt_of(sound) is None and headline(sound) == ""


def test_a_deep_hole_is_met_from_both_ends_and_says_the_step() -> None:
    route = plan("toolroom_lathe", "low_carbon_steel", diameter="30 mm", depth="180 mm").routes[0]
    assert route.both_ends, [o.kind for o in route.operations]
    ends = [o.end for o in route.operations if o.kind in ("drill", "spade_drill") and o.role != "guide"]
    assert set(ends) == {1, 2}
    assert "turned end for end" in words(route) and "meet with a step" in words(route)
    blind = plan("toolroom_lathe", "low_carbon_steel", diameter="30 mm", depth="180 mm", through=False)
    assert not any(r.both_ends for r in blind.routes)


@given(st.floats(3.0, 20.0), st.floats(0.2, 0.95), st.sampled_from((60.0, 90.0, 120.0)))
def test_a_tip_touches_no_deeper_than_the_start_went(tool: float, share: float, angle: float) -> None:
    # geometry: a cone narrower than the drill is met at its rim, a wider one at its bottom
    point = tool / 2 / 1.6643  # 118 degrees
    mouth_mm = share * tool
    deep = mouth_mm / 2 / {60.0: 0.57735, 90.0: 1.0, 120.0: 1.73205}[angle]
    found = contact(tool, point, ConeMouth(mouth_mm, angle, "spot", deep), 0.0, "mm")
    assert found.how in ("edge_touch", "bottom") and 0 < found.tip_mm <= deep + mouth_mm / 2 / 1.6643 + 1e-9
    if angle < 118:
        assert found.how == "edge_touch" and found.tip_mm == pytest.approx(mouth_mm / 2 / 1.6643, rel=1e-4)
    else:
        assert found.how == "bottom" and found.tip_mm == pytest.approx(deep)


def test_readings_begin_where_the_tip_touches() -> None:
    # rules of record 30: touched off in its spot, a drill stops that much sooner
    route = plan("drill_press", "low_carbon_steel", diameter="9 mm", tolerance="+0.3/-0 mm", depth="20 mm").routes[
        0
    ]
    drill = [o for o in route.operations if o.kind == "drill"][-1]
    assert drill.readings is not None and drill.tip_mm is not None
    travel = abs(drill.readings.stop - drill.readings.start)
    assert travel == pytest.approx(drill.tip_mm - drill.readings.start_tip_mm, abs=0.6)  # the scale's division


@given(st.floats(1, 400), st.floats(20, 120))
def test_strokes_reach_the_depth_and_none_is_longer_than_the_travel(depth: float, room: float) -> None:
    ends = stroke_ends(0.0, depth, room)
    assert len(ends) == stroke_count(depth, room) and ends[-1] == depth
    assert all(b - a <= room + 1e-6 for a, b in zip((0.0, *ends), ends, strict=False))


def test_metals_with_habits_are_told_at_the_step() -> None:
    # rules of record 31
    assert hardens("stainless_austenitic") and hardens("titanium_alloy") and not hardens("low_carbon_steel")
    assert not takes_punch("acrylic") and takes_punch("brass_free_machining")
    assert habit_words("acrylic", "drill", 6.0) and not habit_words("low_carbon_steel", "drill", 6.0)
    acrylic = plan("drill_press", "acrylic", diameter="6 mm", depth="8 mm").routes[0]
    assert "punch" not in [o.kind for o in acrylic.operations] and "this metal" not in words(acrylic)


def test_lengths_follow_their_standards() -> None:
    # DIN 340, DIN 1869, DIN 212, inch jobber lengths of the trade (from memory)
    def of(kind: str, designation: str, series: str) -> Any:
        return next(t for t in CATALOG.of_kind(kind) if t.designation == designation and t.series == series)

    long = of("drill", "3 mm", "long")
    assert (long.flute_length_mm, long.overall_length_mm) == (66, 100)
    assert of("reamer", "10 mm", "straight").flute_length_mm == 38
    assert of("drill", "1/4 in", "jobber").flute_length_mm == pytest.approx(2.75 * 25.4, abs=0.1)


def test_a_guarded_center_goes_to_its_chamfer_and_a_typed_depth_is_kept_or_refused() -> None:
    guarded = plan("toolroom_lathe", kind="center_hole", center_type="B", size="3.15").routes[0]
    center = next(o for o in guarded.operations if o.kind == "center_drill")
    # DIN 332-1: type B, d1 3.15: 120 degree chamfer of 10 mm over a 60 degree cone of 6.7
    assert center.mouth_mm == pytest.approx(6.7) and center.tip_mm is not None and center.tip_mm > 6.7
    shallow = plan("toolroom_lathe", kind="center_hole", center_type="A", size="3.15", depth="5 mm")
    assert not shallow.routes and "too shallow" in shallow.why_not[0] and "5.00 mm" in shallow.why_not[0]
    kept = plan("toolroom_lathe", kind="center_hole", center_type="A", size="3.15", depth="7 mm").routes[0]
    assert next(o for o in kept.operations if o.kind == "center_drill").tip_mm == pytest.approx(7.0)


def test_a_shop_that_asks_for_nonsense_is_told() -> None:
    with pytest.raises(InputError):
        plan(diameter="6 mm", depth="15 mm", tolerance="H99")


@pytest.mark.parametrize(
    ("machine", "entry"),
    [
        ("toolroom_lathe", {"diameter": "32 mm", "tolerance": "H7", "depth": "50 mm"}),
        ("bench_lathe", {"diameter": "25 mm", "tolerance": "H7", "depth": "30 mm"}),
        ("toolroom_lathe", {"diameter": "22 mm", "tolerance": "H7", "depth": "30 mm"}),
        ("knee_mill", {"diameter": "12 mm", "tolerance": "H7", "depth": "30 mm"}),
        ("drill_press", {"diameter": "9 mm", "depth": "20 mm"}),
    ],
)
def test_what_the_plan_itself_took_breaks_nothing_when_it_is_kept(machine: str, entry: dict[str, str]) -> None:
    found = plan(machine, **entry)
    for operation in found.routes[0].operations:
        if operation.tool is None or operation.kind == "punch":
            continue
        wish = Wish(operation.kind, operation.tool)
        kept = plan_hole(
            found.hole, CATALOG, CATALOG.machine(machine), material("medium_carbon_steel"), wishes=Wishes((wish,))
        )
        said = [w.text for w in kept.routes[0].warnings if w.id == "broken_limit"]
        assert not said, (operation.tool.name, said)


def test_sentences_do_not_deny_their_own_figures() -> None:
    # a pin's no-go lies at the print's limit, over which alone a general tolerance rejects nothing (ISO 2768-1)
    small = plan("knee_mill", "low_carbon_steel", diameter="2 mm", depth="4 mm").routes[0]
    pins = [s for o in small.operations if o.kind == "measure" for s in o.because if s.startswith("Go at")]
    assert pins and all("alone is no reject" in s for s in pins)
    bored = plan("toolroom_lathe", "low_carbon_steel", diameter="1.5 in", tolerance="+0.001/-0 in", depth="2 in")
    bar = next(o for o in bored.routes[0].operations if o.kind == "bore")
    gives = next(s for s in bar.spoils if "the bar gives" in s)
    assert "in for each 100 lb" in gives and "newton" not in gives
