"""Scales, drills and plans to practice: one right answer each, wrong ones wrong, the same by seed."""

from __future__ import annotations

from collections import Counter
from types import ModuleType

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.machines import machines
from cordwainer.core.training import drills, scales
from cordwainer.core.training.planning import Laid, judged
from cordwainer.core.training.questions import Rule, points
from cordwainer.core.training.settings import planned

SEEDS = st.integers(0, 2**31 - 1)


@pytest.mark.parametrize("subject", [scales, drills])
@given(seed=SEEDS)
@settings(max_examples=120, deadline=None)
def test_a_question_has_one_right_answer(subject: ModuleType, seed: int) -> None:
    asked = subject.question(seed)
    assert asked == subject.question(seed) and asked.par_s > 0 and asked.working
    assert asked.judged(asked.right)
    if asked.choices:
        assert len(set(asked.choices)) == len(asked.choices) >= 3
        assert sum(asked.judged(choice) for choice in asked.choices) == 1
    elif asked.turns is not None:
        assert not asked.judged(f"{asked.turns[0] + 1} and {asked.turns[1]:g}")
        with pytest.raises(InputError):
            asked.judged("many")
    else:
        assert asked.value is not None
        assert not asked.judged(f"{asked.value + 3 * asked.within + 0.001:.6f} {asked.unit}")
        with pytest.raises(InputError):
            asked.judged("about so")
    assert subject.question(seed, last=asked.about).about != asked.about


@pytest.mark.parametrize("subject", [scales, drills])
def test_every_kind_comes_and_what_was_missed_comes_oftener(subject: ModuleType) -> None:
    usual = Counter(subject.question(seed).about for seed in range(400))
    assert set(usual) == set(subject.MAKERS) and min(usual.values()) > 40
    name = next(iter(subject.MAKERS))
    due = Counter(subject.question(seed, due=frozenset({name})).about for seed in range(400))
    assert due[name] > 1.8 * usual[name]


def test_a_shop_without_dials_is_not_asked_about_them() -> None:
    press = next(machine for machine in machines() if machine.is_drill_press)
    assert {scales.question(seed, own=(press,)).about for seed in range(200)} == {
        "stop",
        "ram",
        "fraction",
        "unit",
    }
    lathe: Machine = next(machine for machine in machines() if machine.id == "bench_lathe")
    assert set(scales.MAKERS) == {scales.question(seed, own=(lathe,)).about for seed in range(200)}


def test_known_answers() -> None:
    by_words = {asked.words: asked for asked in map(scales.question, range(600)) if asked.about == "fraction"}
    seven = by_words["7/16 in as a decimal, to the thousandth?"]
    assert seven.judged(".4375") and seven.judged(".437") and not seven.judged(".4475")  # 7 / 16
    taps = {asked.words: asked for asked in map(drills.question, range(600)) if asked.about == "tap_drill"}
    assert next(a for w, a in taps.items() if "M8x1.25" in w).right == "6.8 mm"  # ISO 2306
    assert (
        next(a for w, a in taps.items() if "5/16-18" in w).right == "letter F"
    )  # Machinery's Handbook, from memory
    rules = [asked.figure for asked in map(scales.question, range(200)) if isinstance(asked.figure, Rule)]
    assert all(rule.low < rule.at < rule.high for rule in rules)
    assert points(True, 5, 10) == 100 > points(True, 20, 10) == 50 > points(False, 1, 10)


def laid(*steps: str) -> list[Laid]:
    """Steps as a learner writes them."""
    return [Laid(step.split()[0], " ".join(step.split()[1:])) for step in steps]


def test_a_learners_sequence_is_held_against_the_programs() -> None:
    same = [Laid(o.kind, o.tool.designation if o.tool else "") for o in planned("arm_pin").route.operations]
    whole = judged("arm_pin", same)
    assert whole.points == 100 and not whole.differences and not whole.broken
    bare = judged("arm_pin", laid("drill 15.5", "ream 16"))
    assert (
        bare.points < 50 and bare.mine is not None and (bare.mine.chance_all or 0) < (bare.theirs.chance_all or 0)
    )
    said = " ".join(found.words for found in bare.differences)
    assert "no center drill" in said and "no drill 9.5 mm" in said and "no deburr" in said
    assert all(found.reason for found in bare.differences)
    assert any("thrust" in words for words in bare.broken) and any("skates" in words for words in bare.broken)
    nothing = judged("arm_pin", laid("center_drill A 2.5"))
    assert nothing.mine is None and nothing.points == 0 and nothing.why_not
    bored = judged(
        "arm_pin", laid("center_drill A 2.5", "drill 8", "drill 15", "bore 16.009", "deburr", "measure")
    )
    assert any("bore to 16.009" in found.words for found in bored.differences) and bored.points < 90
    with pytest.raises(InputError, match=r"9\.77"):
        judged("arm_pin", laid("drill 9.77"))
    with pytest.raises(InputError):
        judged("arm_pin", [])
