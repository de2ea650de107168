"""What stands beside a drawn hole: what does not add up, steps for a taper pin, taps and depths."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.cutting.center import RULES, bearing_mouth, center_depth, size_for_part, too_deep
from cordwainer.core.cutting.profile import profile
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.center import CENTER_TYPES, center_size, center_sizes
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.pin import pin_size
from cordwainer.core.part.thread import read_thread
from cordwainer.core.planning.steps.adds_up import adds_up
from cordwainer.core.planning.steps.tapping import tap_choices, tap_drills
from cordwainer.core.planning.words.pin_steps import pin_steps
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.punches import transfer_punch
from cordwainer.files.entries import hole_entry
from cordwainer.files.resolve import resolve_hole


def hole(line: str, **more: object) -> Hole:
    """The hole a line says, with more keys."""
    keys = {k: v for k, v in read_callout(line).keys().items() if v is not None}
    return resolve_hole(hole_entry({"id": "A", **keys, **more}), "ISO 2768-m")


def found(line: str, **more: object) -> set[str]:
    return {trouble.id for trouble in adds_up(hole(line, **more))}


# -- centers --------------------------------------------------------------------------------------------------

IN = 25.4


@pytest.mark.parametrize(
    ("rule", "mouth_in"), [("half", 0.2188), ("two_thirds", 0.250), ("three_quarters", 0.2656)]
)
def test_a_number_four_center(rule: str, mouth_in: float) -> None:
    at = center_depth(center_size("plain", "#4"), rule)  # common practice, no. 4 center drill
    assert at.mouth_mm / IN == pytest.approx(mouth_in, abs=0.0005)
    assert at.tip_mm == pytest.approx(at.cone_mm + 0.125 * IN)


@pytest.mark.parametrize(("size", "body"), [("#4-1/2", 3 / 8), ("#7", 5 / 8), ("#8", 3 / 4)])  # ASME B94.11M
def test_bodies(size: str, body: float) -> None:
    assert center_size("plain", size).body.inch == pytest.approx(body)


@pytest.mark.parametrize(("size", "mouth"), [("1", 2.12), ("2.5", 5.3), ("6.3", 13.2)])  # ISO 2540, cone's end
def test_protected_centers_end_at_their_mouth(size: str, mouth: float) -> None:
    assert center_depth(center_size("B", size)).mouth_mm == pytest.approx(mouth)


@pytest.mark.parametrize("center_type", CENTER_TYPES)
def test_no_center_is_drilled_past_its_cone(center_type: str) -> None:
    for size in center_sizes(center_type):
        for rule in RULES:
            at = center_depth(size, rule)
            assert size.pilot.mm < at.mouth_mm <= size.body.mm + 1e-9 and not too_deep(size, at.mouth_mm)
    assert too_deep(center_size("plain", "#4"), 0.32 * IN)


def test_a_heavier_part_wants_a_larger_center() -> None:
    least, most = bearing_mouth(49.0)
    assert (least, most) == (7.0, 10.5)
    sizes = [size_for_part("A", part).pilot.mm for part in (10, 40, 120, 900)]
    assert sizes == sorted(sizes) and sizes[-1] == 10.0


# -- the shape ----------------------------------------------------------------------------------------------------

LINES = [
    "18 H7 through 32",
    "9 through 20, cbore 15 x 8.6",
    "6.6 thru 12, csk 12.6 x 90°",
    "12 flat bottom 20 deep",
]
LINES += [
    "M14x2 26, drill 36, cbore 22 x 4, cham 0.5",
    "center A 3.15",
    "center B 2.5",
    "center R 4",
    "taper pin 6 thru 40",
]
LINES += ["center bell #14", "9 through 14, spotface 20", "12 20 deep, cbore 20 x 4, csk 22 x 90°"]


@pytest.mark.parametrize("line", LINES)
def test_the_shape_narrows_downward(line: str) -> None:
    points = profile(hole(line))
    depths, radii = [z for z, _ in points], [r for _, r in points]
    assert depths == sorted(depths) and radii == sorted(radii, reverse=True)
    assert depths[0] == 0 and all(r >= 0 for r in radii)


def test_figures_of_the_shape() -> None:
    points = profile(hole("6.6 thru 12, csk 12.6 x 90°"))
    assert points[0] == (0.0, 6.3)
    assert points[1] == (pytest.approx(3.0), 3.3)  # derived: a 90° cone is as deep as its radii differ
    large, small = profile(hole("taper pin 6 thru 40"))
    assert (large[1], small[1]) == (pytest.approx(3.4), pytest.approx(3.0))  # ISO 2339, 1:50


# -- what does not add up -----------------------------------------------------------------------------------------


def test_sound_prints_are_not_troubled() -> None:
    for line in LINES:
        assert found(line) == set(), line
    assert found("12 20 deep", part_thickness="40 mm") == set()


@pytest.mark.parametrize(
    ("line", "more", "trouble"),
    [
        ("M14x2 6H 24, drill 34", {"part_thickness": "39.5 mm"}, "thin_floor"),
        ("M8 16 deep, drill 20", {}, "tap_room"),
        ("M14x2 24, drill 40", {"counterbore_diameter": "13 mm", "counterbore_depth": "4 mm"}, "register_small"),
        ("9 20 deep, cbore 15 x 22", {}, "register_deep"),
        ("9 thru 20, csk 16 x 60°", {}, "sink_60"),
        ("taper pin 6 deep 30", {}, "pin_blind"),
        ("20 H7 thru 30", {"wall": "1.5 mm"}, "thin_wall"),
    ],
)
def test_troubles(line: str, more: dict[str, object], trouble: str) -> None:
    assert trouble in found(line, **more)


@given(st.floats(10, 60), st.floats(4, 30), st.floats(0.5, 14))
def test_every_way_out_is_one(depth: float, diameter: float, left: float) -> None:
    keys = {"part_thickness": f"{depth + left:.2f} mm"}
    whole = hole(f"{diameter:.2f} {depth:.2f} deep", **keys)
    for trouble in adds_up(whole):
        assert trouble.id == "thin_floor" and trouble.ways
        for way in trouble.ways:
            data = {
                "id": "A",
                "kind": "plain",
                "diameter": f"{diameter:.2f} mm",
                "depth": f"{depth:.2f} mm",
                **keys,
            }
            data |= dict(way.changes)
            after = resolve_hole(hole_entry({k: v for k, v in data.items() if v is not None}), "ISO 2768-m")
            assert adds_up(after) == (), (way, after)


# -- taps and pins ------------------------------------------------------------------------------------------------


def test_turns_and_spare() -> None:
    thread = read_thread("5/16-18 UNC")
    pitch = float(thread.pitch_mm)
    taper, plug, bottoming = tap_choices(thread, 10 * pitch, 15 * pitch, False)
    assert [choice.fits for choice in (taper, plug, bottoming)] == [False, True, True]
    assert plug.wants_mm == pytest.approx(15 * pitch)  # common practice: four threads of lead and one to spare
    assert all(choice.fits for choice in tap_choices(thread, 10 * pitch, 10 * pitch, True))


def test_the_best_tap_drill_leaves_its_hole_in_the_limits() -> None:
    drills = built_in("catalog").of_kind("drill")
    for name in ("M3", "M6", "M10", "M16", "M24", "#8-32", "5/16-18", "1/2-13", "3/4-10"):
        best = tap_drills(read_thread(name), drills)[0]
        assert best.fits and 60 < best.hole_percent < 85
        assert best.tool.diameter.unit == ("mm" if name.startswith("M") else "in")


@pytest.mark.parametrize(
    "line", ["taper pin 6 through 40", "taper pin 3 through 16", "#4 taper pin through 1-1/4"]
)
def test_steps_stay_under_the_taper(line: str) -> None:
    pin_hole = hole(line)
    pin = pin_hole.feature.pin
    assert pin is not None
    large, small = (float(end) for end in pin.ends(pin_hole.depth.exact_mm))
    steps = pin_steps(pin_hole, built_in("catalog").of_kind("drill"))
    assert steps and steps[0].depth_mm is None and steps[0].expected_mm < small
    for step in steps[1:]:
        assert step.depth_mm is not None
        taper_there = large - step.depth_mm * float(pin.slope)
        assert step.expected_mm < taper_there  # nowhere wider than the finished taper
    depths = [step.depth_mm for step in steps[1:]]
    assert depths == sorted(depths, reverse=True)
    assert max(step.most_mm for step in steps) < 0.55


def test_pin_ends() -> None:
    large, small = pin_size("#4").ends(Fraction("31.75"))
    assert float(large) / IN == pytest.approx(0.25)  # ASME B18.8.2, no. 4
    assert float(large - small) == pytest.approx(31.75 / 48)


@pytest.mark.parametrize(
    ("hole_in", "punch"), [(0.3438, "11/32 in"), (0.53125, "17/32 in"), (0.09, None), (0.95, None)]
)
def test_the_punch_enters_the_hole(hole_in: float, punch: str | None) -> None:
    assert transfer_punch(hole_in * IN) == punch  # common practice: sets from 3/32 to 7/8
