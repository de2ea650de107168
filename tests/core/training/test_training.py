"""Exercises: fair and the same by seed, scored so that honesty pays, spaced so that the missed comes again."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.posterior import UNEXPLAINED
from cordwainer.core.errors import InputError
from cordwainer.core.training.course import course_of, exercise_for, ladder
from cordwainer.core.training.engine import bits, solve
from cordwainer.core.training.exercise import MEASUREMENTS, Exercise, Sitting
from cordwainer.core.training.scoring import prices, quadratic, score, shifted
from cordwainer.core.training.settings import planned, settings
from cordwainer.core.training.spacing import INTERVALS, Result, boxes, due, progress

SHARES = st.lists(st.floats(0.01, 1), min_size=3, max_size=8).map(lambda w: [v / sum(w) for v in w])


@given(SHARES, SHARES, st.floats(0, 24))
def test_the_score_is_proper(belief: list[float], said: list[float], left: float) -> None:
    # Brier, 1950: in the mean nothing beats saying what one believes
    count = min(len(belief), len(said))
    names = [f"c{k}" for k in range(count)]
    true, told = (dict(zip(names, np.array(v[:count]) / sum(v[:count]), strict=True)) for v in (belief, said))

    def mean(shares: dict[str, float]) -> float:
        return float(sum(true[name] * score(shares, [name], left, 24) for name in names))

    assert mean(true) >= mean(told) - 1e-9


def test_points_of_the_sure_the_wrong_and_the_guesser() -> None:
    alike = dict.fromkeys("abcdefgh", 1 / 8)
    assert score(alike, ["c"], 24, 24) == pytest.approx(0)
    sure = {**dict.fromkeys("abcdefgh", 0.0), "c": 1.0}
    assert score(sure, ["c"], 0, 24) == pytest.approx(100) and score(sure, ["c"], 24, 24) == pytest.approx(150)
    assert score(sure, ["d"], 0, 24) < -100
    assert score({**dict.fromkeys("abcdefgh", 0.0), "c": 0.5, "d": 0.5}, ["c", "d"], 0, 24) == pytest.approx(100)
    first, (least, best) = prices({"a": 0.6, "b": 0.3, "c": 0.1}, 0, 24)
    assert first > best > least
    assert quadratic({"a": 0.5, "b": 0.5}, ["a"]) == pytest.approx(0.75)


@given(SHARES, st.integers(0, 2), st.floats(-0.5, 1.5), st.sampled_from([(), ("c1",), ("c1", "c2")]))
def test_shares_stay_a_hundred(shares: list[float], index: int, to: float, locked: tuple[str, ...]) -> None:
    before = {f"c{k}": v for k, v in enumerate(shares)}
    after = shifted(before, f"c{index}", to, locked)
    assert sum(after.values()) == pytest.approx(1) and min(after.values()) >= -1e-12
    assert all(after[name] == before[name] for name in locked if name != f"c{index}" and len(shares) > 3)


@pytest.mark.parametrize("lesson", [one.id for one in ladder().lessons if one.exercise == "hole"])
def test_exercises_are_fair_and_the_same_by_seed(lesson: str) -> None:
    last = None
    for seed in (3, 4):
        found = ladder().lesson(lesson)
        exercise, solved = exercise_for(found, seed, last)
        again, _ = exercise_for(found, seed, last)
        assert (exercise.causes, exercise.hole, exercise.heard) == (again.causes, again.hole, again.heard)
        assert (exercise.setting_id, exercise.causes) != last
        assert solved.right(exercise) and solved.left >= 0
        assert solved.points > (50 if len(exercise.causes) < 2 else 0)
        assert set(exercise.truth) <= set(exercise.listed) and exercise.listed[-1] == UNEXPLAINED
        last = exercise.setting_id, exercise.causes


def test_nothing_told_is_false_and_asking_in_another_order_tells_the_same() -> None:
    exercise = Exercise(5, "arm_pin", ("tail_side",), 24)
    one, other = Sitting(exercise), Sitting(exercise)
    for name in ("m_bore", "q_tailstock", "m_place"):
        one.buy(name)
    for name in ("m_place", "q_tailstock", "m_bore"):
        other.buy(name)
    assert one.case.sizes == other.case.sizes and one.case.answers == other.case.answers
    assert one.case.offset == other.case.offset
    true = exercise.three
    for read, size in zip((one.case.sizes.entry, one.case.sizes.middle, one.case.sizes.exit), true, strict=True):
        assert abs(sum(read) / 2 - size) < 0.006  # a bore gauge
    now, then = (exercise.shares(case) for case in (exercise.told, one.case))
    assert then["tail_side"] > now["tail_side"] and bits(now, then) > 0


def test_minutes_are_spent_once_and_never_more_than_there_are() -> None:
    sitting = Sitting(Exercise(5, "arm_pin", ("tail_side",), 6))
    sitting.buy("m_bore")
    assert sitting.left == 2 and "m_caliper" not in {t.id for t in sitting.for_sale()}
    for name in ("m_bore", "m_place", "q_gauge", "nothing"):
        with pytest.raises(ValueError):
            sitting.buy(name)
    sitting.opened = True
    with pytest.raises(ValueError):
        sitting.buy("q_sound")
    assert sitting.left == 2 and set(MEASUREMENTS) >= {"m_bore", "m_place"}


def test_every_setting_is_planned_and_nothing_wrong_leaves_a_good_hole() -> None:
    good = 0
    for name in settings():
        found = planned(name)
        low, high = found.hole.limits.lower_mm, found.hole.limits.upper_mm
        good += sum(low <= Exercise(seed, name, ()).three[1] <= high for seed in range(4))
    assert good >= 0.75 * 4 * len(settings())


def test_a_worse_fault_is_met_as_the_model_cuts_it() -> None:
    sizes = [Exercise(seed, "bracket_bolt", ("lips_length",)).hole["size"] for seed in range(6)]
    sound = [Exercise(seed, "bracket_bolt", ()).hole["size"] for seed in range(6)]
    assert np.mean(sizes) > np.mean(sound) + 0.05  # a point ground off center cuts over
    assert solve(Exercise(1, "bracket_bolt", ("lips_length",))).shares["lips_length"] > 0.3


def test_what_was_missed_comes_again() -> None:
    # Leitner, 1972: a box up when right, back to the first when not
    day = date(2026, 3, 2)
    made = [
        Result("A", "l", k, "arm_pin", ("dull",), day, right, 10.0 * k, 4) for k, right in enumerate((1, 1, 0, 1))
    ]
    assert boxes(made)["dull"] == (1, day)
    assert due(made, day) == frozenset() and due(made, day + timedelta(days=INTERVALS[1])) == {"dull"}
    assert progress(made, "l").right == 3 and progress(made, "other").made == 0
    lesson = ladder().lesson("points")
    often = [exercise_for(lesson, seed, None, frozenset({"lips_length"}))[0].causes for seed in range(12)]
    rarely = [exercise_for(lesson, seed)[0].causes for seed in range(12)]
    assert sum("lips_length" in c for c in often) > sum("lips_length" in c for c in rarely)


@pytest.mark.parametrize(
    ("change", "place"),
    [
        ({"format": "x"}, "format"),
        ({"version": 9}, "version"),
        ({"lessons": []}, "lessons"),
        ({"lessons": [{"id": "a", "name": "A", "holes": ["nowhere"]}]}, "lessons[0].holes"),
        ({"lessons": [{"id": "a", "name": "A", "nothing": 2}]}, "lessons[0].nothing"),
        ({"lessons": [{"id": "a", "name": "A"}, {"id": "a", "name": "B"}]}, "lessons"),
        ({"lessons": [{"id": "", "name": "A"}]}, "lessons[0].id"),
    ],
)
def test_a_teachers_course_is_checked(change: dict[str, object], place: str) -> None:
    sound = {"format": "cordwainer-course", "version": 1, "name": "Mine", "lessons": [{"id": "a", "name": "A"}]}
    assert course_of(sound).lesson("a").budget == 24
    with pytest.raises(InputError) as told:
        course_of(sound | change)
    assert told.value.field == place
    assert {c.id for c in causes().values()}


def test_a_second_hole_cut_the_same_way_tells_luck_from_the_fault() -> None:
    sitting = Sitting(Exercise(7, "arm_pin", ("tail_side",), 30))
    assert "m_second" not in {thing.id for thing in sitting.for_sale()}
    sitting.buy("m_bore")
    alone = sitting.case.sizes
    sitting.buy("m_second")
    one, other = sitting.exercise.three, sitting.exercise.second
    assert one != other and abs(other[1] - one[1]) < 0.1
    both = sitting.case.sizes
    for read, first, second in zip(
        both.middle, alone.middle, (sitting.exercise.second_read()[1],) * 2, strict=True
    ):
        assert read == pytest.approx((first + second) / 2)
