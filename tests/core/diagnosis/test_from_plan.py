"""A plan never accuses itself: what was done on purpose clears causes, and speaks for one only off the rules."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import pytest

from cordwainer.core.diagnosis.case_of import case_of
from cordwainer.core.diagnosis.evidence import Case, Offset
from cordwainer.core.diagnosis.explained import explained
from cordwainer.core.diagnosis.from_plan import departures
from cordwainer.core.diagnosis.knowledge import answer_words, questions
from cordwainer.core.diagnosis.next_check import open_questions
from cordwainer.core.diagnosis.posterior import UNEXPLAINED, posterior, rank
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from tests.core.planning.test_kinds import asked
from tests.core.planning.test_schools import PLAIN, SEAT, route

MACHINES = ("bench_lathe", "drill_press", "knee_mill")
THREAD = {"kind": "tapped", "thread": "M8x1.25", "depth": "16 mm", "through": True}
OWN_CHOICES = {"cd_shallow", "cd_deep", "dr_none_start", "pilot_large", "pilot_small", "web_thick", "peck_deep"}


@cache
def planned(kind: str, machine: str) -> tuple[Hole, Route]:
    entry = {"plain": PLAIN, "seat": SEAT, "thread": THREAD}[kind]
    return asked(**entry), route(entry, machine)


def case(kind: str, machine: str, said: dict[str, str]) -> Case:
    hole, found = planned(kind, machine)
    on = built_in("catalog").machine(machine)
    return case_of(hole, None, found, on, material("medium_carbon_steel"), said)


def first(found: Case) -> str:
    return next(r.id for r in rank(found) if r.id != UNEXPLAINED)


@pytest.mark.parametrize("machine", MACHINES)
@pytest.mark.parametrize("kind", ["plain", "seat", "thread"])
def test_no_single_symptom_makes_the_plans_own_choice_the_first_cause(kind: str, machine: str) -> None:
    bare = case(kind, machine, {})
    assert bare.departs <= {"q_speed"} and first(bare) not in OWN_CHOICES
    mistaken = {
        (question.id, answer)
        for question in open_questions(bare)
        for answer in question.answers
        if question.group not in ("start", "params")
        and question.id not in ("q_mouth", "q_deflect", "q_sound", "q_feel", "q_slows")
        and first(case(kind, machine, {question.id: answer})) in OWN_CHOICES
    }
    assert not mistaken


def test_with_nothing_told_only_the_prior_speaks() -> None:
    bare = case("seat", "bench_lathe", {})
    without = replace(bare, planned={})
    now, then = posterior(bare), posterior(without)
    both = set(now) & set(then)
    ratio = now["tail_side"] / then["tail_side"]
    assert all(now[cause] == pytest.approx(ratio * then[cause]) for cause in both)
    found = explained(bare)
    assert (found.bare, found.chosen, found.answered) == (True, "", 0)
    placed = explained(replace(bare, offset=Offset(0.3, 0.3)))
    assert not placed.bare and placed.chosen  # a place measured is something to go by, with no zone to hold it to


def test_departures_are_told_and_weigh_only_beside_something_seen() -> None:
    hole, found = planned("plain", "drill_press")
    assert departures(found, hole) == frozenset()
    unled = replace(found, operations=tuple(o for o in found.operations if o.kind not in ("spot_drill", "punch")))
    assert departures(unled, hole) == {"q_start"}
    lathe_hole, turned = planned("plain", "bench_lathe")
    deep = tuple(replace(o, cone_share=1.0) if o.kind == "center_drill" else o for o in turned.operations)
    assert departures(replace(turned, operations=deep), lathe_hole) == {"q_start_depth"}
    on, metal = built_in("catalog").machine("drill_press"), material("medium_carbon_steel")
    seen = {"q_deflect": "yes", "q_mouth": "off_the_mark"}
    led = posterior(case_of(hole, None, found, on, metal, seen)).get("dr_none_start", 0.0)
    skated = case_of(hole, None, unled, on, metal, seen)
    assert first(skated) == "dr_none_start" and led < 0.02  # common practice: nothing starts it, it skates


def test_answers_read_as_words() -> None:
    for question in questions().values():
        for answer in question.answers:
            words = answer_words(question.id, answer)
            assert "_" not in words and not any(c.isupper() for c in words), (question.id, answer)
    assert answer_words("q_peck", "le1D") == "1 diameter or less"
    assert not any("colour" in q.text for q in questions().values())
