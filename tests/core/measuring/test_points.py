"""Circles against published fits, bores against known answers, lobes as pins and two points see them."""

from __future__ import annotations

import json
import math
from pathlib import Path

import numpy as np
import numpy.typing as npt
import pytest
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from cordwainer.cli import cli
from cordwainer.core.errors import InputError
from cordwainer.core.measuring.cylinder import fit_cylinder
from cordwainer.core.measuring.points import FittedCircle, fit_circle, inscribe_circle, work_up


def right_cone(
    x: float, y: float, a: float, b: float, r: float, grows: float, depths: tuple[float, ...], count: int = 24
) -> list[list[float]]:
    """Points of a right cone, planes square to its axis through (x, y) that moves (a, b) for a mm of depth."""
    n = np.array([a, b, 1]) / math.sqrt(1 + a * a + b * b)
    first = np.cross(n, [0, 1, 0])
    first /= np.linalg.norm(first)
    second = np.cross(n, first)
    found = []
    for along in depths:
        for turn in 2 * np.pi * np.arange(count) / count:
            out = (r + grows * along) * (math.cos(turn) * first + math.sin(turn) * second)
            found.append(list(np.array([x, y, 0]) + along * n + out))
    return found


def around(
    x: float, y: float, r: float, count: int = 24, *, lobes: int = 0, height: float = 0.0, z: float = 0.0
) -> list[list[float]]:
    """Points of a circle with lobes of that height on the radius."""
    turns = 2 * np.pi * np.arange(count) / count
    far = r + height * np.cos(lobes * turns)
    return [[x + f * math.cos(t), y + f * math.sin(t), z] for f, t in zip(far, turns, strict=True)]


def test_the_published_circle_fit() -> None:
    # Gander, Golub, Strebel, Least-Squares Fitting of Circles and Ellipses, BIT 34 (1994), geometric fit.
    points = np.array([[1, 7], [2, 6], [5, 8], [7, 7], [9, 5], [3, 7]], float)
    found = fit_circle(points)
    assert (found.x, found.y, found.radius) == pytest.approx((4.73978, 2.98353, 4.71423), abs=2e-5)


@given(st.floats(-50, 50), st.floats(-50, 50), st.floats(0.5, 40), st.integers(3, 40), st.floats(0, 6))
def test_a_true_circle_is_found_wherever_it_lies(x: float, y: float, r: float, count: int, turn: float) -> None:
    turns = turn + 2 * np.pi * np.arange(count) / count
    points = np.column_stack([x + r * np.cos(turns), y + r * np.sin(turns)])
    for found in (fit_circle(points), inscribe_circle(points)):
        assert (found.x, found.y, found.radius) == pytest.approx((x, y, r), abs=1e-6 * max(r, 1))


@given(st.integers(0, 10_000))
def test_no_point_lies_in_the_inscribed_circle_and_no_near_one_is_larger(seed: int) -> None:
    luck = np.random.default_rng(seed)
    turns = np.sort(luck.uniform(0, 2 * np.pi, 30))
    far = 5 + 0.05 * luck.standard_normal(30)
    points = np.column_stack([far * np.cos(turns), far * np.sin(turns)])
    fitted, found = fit_circle(points), inscribe_circle(points)
    clear = np.hypot(points[:, 0] - found.x, points[:, 1] - found.y).min()
    assert found.radius == pytest.approx(clear)
    for x in np.linspace(-0.15, 0.15, 21):
        for y in np.linspace(-0.15, 0.15, 21):
            other = np.hypot(points[:, 0] - fitted.x - x, points[:, 1] - fitted.y - y).min()
            assert other <= found.radius + 2e-4


@pytest.mark.parametrize(("lobes", "odd"), [(2, False), (3, True), (5, True)])
def test_lobes_are_seen_as_pins_and_two_points_see_them(lobes: int, odd: bool) -> None:
    bore = work_up(around(0, 0, 5, 36, lobes=lobes, height=0.02))
    ring = bore.rings[0]
    assert bore.lobed == lobes and ring.lobes[lobes] == pytest.approx(0.02, abs=1e-4)
    widths = [ring.across(way) for way in range(0, 180, 10)]
    # Reference/diagnosis: odd lobes are the same width whichever way; the largest pin is 2R - 2h.
    assert (max(widths) - min(widths) < 1e-6) is odd
    assert bore.pin_mm == pytest.approx(10 - 0.04, abs=0.0021)


def test_a_leaning_tapered_bore_has_its_known_answers() -> None:
    points = right_cone(3, -2, 0.02, -0.01, 5, -0.001, (1, 10, 19))
    bore = work_up(points)
    assert len(bore.rings) == 3 and bore.lobed == 0
    assert [r.round_off_mm for r in bore.rings] == pytest.approx([0, 0, 0], abs=2e-3)  # seen along the axis
    found = fit_cylinder(np.array(points), cone=True)
    assert (
        found is not None and found.at(0) == pytest.approx((3, -2)) and found.at(10) == pytest.approx((3.2, -2.1))
    )
    assert [found.cone_deg, bore.cone_deg] == pytest.approx([2 * math.degrees(math.atan(0.001))] * 2)
    assert found.radius == pytest.approx(5) and found.cylindricity_mm == pytest.approx(0, abs=1e-9)
    assert bore.bent_mm == pytest.approx(0, abs=1e-9) and bore.pin_mm == pytest.approx(2 * (5 - 0.019), abs=0.0011)
    bent = work_up([p for z, x in ((0, 0.0), (10, 0.03), (20, 0.0)) for p in around(x, 0, 5, z=z)])
    assert bent.bent_mm == pytest.approx(0.02) and bent.leans_mm == pytest.approx(0, abs=1e-9)


@settings(max_examples=25, deadline=None)
@given(
    st.tuples(*[st.floats(-20, 20)] * 2), st.tuples(*[st.floats(-0.2, 0.2)] * 2), st.floats(1, 30),
    st.integers(0, 1000), st.booleans(),
)  # fmt: skip
def test_cylinder_and_cone_as_a_reference_library_finds_them(
    at: tuple[float, float], lean: tuple[float, float], r: float, seed: int, cone: bool
) -> None:
    # scipy.optimize.least_squares, derivatives by differences, from the true values on
    points = np.array(right_cone(*at, *lean, r, -0.004 if cone else 0, (2, 9, 16, 30)))
    points += 0.005 * np.random.default_rng(seed).standard_normal(points.shape)

    def off(p: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        n = np.array([p[2], p[3], 1]) / np.sqrt(1 + p[2] ** 2 + p[3] ** 2)
        v = points - (p[0], p[1], 0)
        grows = p[5] if cone else 0.0
        far = np.linalg.norm(np.cross(v, n), axis=1)
        return np.asarray((far - p[4] - grows * (v @ n)) / np.sqrt(1 + grows**2))

    start = [*at, *lean, r] + ([-0.004] if cone else [])
    other = least_squares(
        off, start, x_scale=[1, 1, 0.1, 0.1, 1, 0.1][: len(start)], xtol=1e-15, ftol=1e-15, gtol=1e-15
    )
    found = fit_cylinder(points, cone=cone)
    assert found is not None
    ours = [found.x, found.y, found.a, found.b, found.radius] + ([found.grows] if cone else [])
    # Cone residuals are weighed by the slant after the fit; with slopes this small that is below 1e-7.
    assert ours == pytest.approx(list(other.x), abs=3e-6)


def test_too_few_points_settle_no_cylinder() -> None:
    assert (
        fit_cylinder(np.array(around(0, 0, 5, 6))) is None and fit_cylinder(np.array(around(0, 0, 5, 40))) is None
    )
    line = np.column_stack([np.zeros(9), np.zeros(9), np.arange(9)])
    assert fit_cylinder(line) is None


@pytest.mark.parametrize(
    "points",
    [[[1, 2]], [["a", 1, 2]], [[0, 0, 0], [1, 0, 0]], [[k, k, 0] for k in range(9)], [[math.nan, 0, 0]] * 9],
)
def test_points_that_are_no_hole_are_refused(points: list[list[float]]) -> None:
    with pytest.raises(InputError):
        work_up(points)
    assert FittedCircle(0, 0, 1).radius == 1


def asked(
    tmp_path: Path,
    points: list[list[float]],
    limits: tuple[str, str] = ("10 mm", "10.03 mm"),
    warm: dict[str, float] | None = None,
) -> dict[str, object]:
    """What the command says of points of a 10 mm hole."""
    path = tmp_path / "points.json"
    hole = {"id": "A", "kind": "sized", "diameter": "10 mm", "limits": limits, "depth": "20 mm", "through": True}
    data = {
        "format": "cordwainer-readings",
        "version": 1,
        "hole": hole,
        "gauge": {"kind": "cmm", "resolution": "0.0001 mm"},
    }
    path.write_text(json.dumps(data | {"points": points} | (warm or {})))
    found = CliRunner().invoke(cli, ["measure", str(path), "--json"])
    assert found.exit_code == 0, found.output
    answer: dict[str, object] = json.loads(found.output)
    return answer


def test_points_go_through_the_same_verdict(tmp_path: Path) -> None:
    good = [p for z in (1, 10, 19) for p in around(0, 0, 5.0075, z=z)]
    found = asked(tmp_path, good)
    assert found["verdict"] == "accept" and found["size_min_mm"] == pytest.approx(10.015, abs=1e-4)
    small = asked(tmp_path, [p for z in (1, 10, 19) for p in around(0, 0, 4.98, z=z)])
    assert small["verdict"] == "reject"
    lobed = asked(tmp_path, [p for z in (1, 10, 19) for p in around(0, 0, 5.0075, 36, lobes=3, height=0.02, z=z)])
    assert "lobed" in lobed["form"] and lobed["verdict"] != "accept"
    bell = [p for z, r in ((1, 5.03), (10, 5.0075), (19, 5.0075)) for p in around(0, 0, r, z=z)]
    assert "bell_mouth" in asked(tmp_path, bell)["form"]


def test_pins_come_to_20_degrees_with_the_rest(tmp_path: Path) -> None:
    # A pin stands in the same warm hole as the gauge; left as labeled it hides lobes or makes some up.
    round_one = [p for z in (1, 10, 19) for p in around(0, 0, 5.0075, z=z)]
    lobed = [p for z in (1, 10, 19) for p in around(0, 0, 5.0075, 36, lobes=3, height=0.008, z=z)]
    for part in (-20, 20, 60):
        there = {"part_temperature_c": part, "gauge_temperature_c": 20}
        assert asked(tmp_path, round_one, warm=there)["form"] == ["ok"]
        assert asked(tmp_path, lobed, warm=there)["form"] == ["lobed"]
