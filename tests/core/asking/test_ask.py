"""Small questions in one line: answered right however they are written, or refused at the place of the doubt."""

from __future__ import annotations

import random
from pathlib import Path

import pytest

from cordwainer.core.asking import questions as kinds
from cordwainer.core.asking.answer import Here
from cordwainer.core.asking.ask import ANSWERS, ask
from cordwainer.core.asking.quantities import vocabulary
from cordwainer.core.asking.questions import questions
from cordwainer.core.asking.spoken import rewritten
from cordwainer.core.shop.machines import machines
from cordwainer.core.shop.material import material

DATA = Path(__file__).parents[2] / "data" / "questions.txt"
LINES = [line.split(" | ", 2) for line in DATA.read_text().splitlines() if " | " in line and line[0] != "#"]
WAYS = [(unit, way.strip()) for unit, _, ways in LINES for way in ways.split(";;")]
MOST_FITS = (
    1200  # lookings at a question for one line; the table of questions is gone through for each way of reading
)


@pytest.mark.parametrize(("unit", "says", "ways"), LINES, ids=[ways.split(" ;;")[0] for _, _, ways in LINES])
def test_a_question_is_answered_however_it_is_written(unit: str, says: str, ways: str) -> None:
    assert len(ways.split(";;")) >= 3
    for way in ways.split(";;"):
        reply = ask(way.strip(), Here(unit))
        missing = [said for said in says.split("; ") if said.strip() not in reply.text()]
        assert not missing and not reply.doubts, (way, reply.text())


def test_there_are_questions_enough_and_each_shows_its_examples() -> None:
    assert len(LINES) >= 150
    assert {question.id for question in questions()} == set(ANSWERS)
    for question in questions():
        for example in question.examples:
            reply = ask(example, Here("mm" if "mm" in example else "in"))
            assert (reply.question, reply.answered, reply.doubts) == (question.id, True, ()), example
            assert all(said.text and "nan" not in said.text for said in reply.lines)


@pytest.mark.parametrize(
    ("line", "at"),
    [
        ("300 ft/min 1 in blorp", "blorp"),
        ("1,000 mm", "1,000 mm"),
        ("#99 drill", "#99"),
        ("1/2 3/8 5/16", "5/16"),
        ("enters 9/64 not 9/64", "enters 9/64 not 9/64"),
        ("µm of ½ zork", "zork"),
    ],
)
def test_what_cannot_be_read_is_named_at_its_place(line: str, at: str) -> None:
    doubts = ask(line, Here("in")).doubts
    assert at in [line[doubt.start : doubt.end] for doubt in doubts], doubts


def test_an_unread_word_does_not_take_the_answer_away_a_figure_too_many_does() -> None:
    assert ask("300 ft/min 1 in blorp", Here("in")).lines
    assert not ask("300 ft/min 1 in 7 in 9 in", Here("in")).lines


@pytest.mark.parametrize(
    ("said", "figures"),
    [
        ("number seven", "#7"),
        ("quarter-twenty", "1/4-20"),
        ("half thirteen", "1/2-13"),
        ("five sixteenths-eighteen", "5/16-18"),
        ("ten thirty-two", "#10-32"),
        ("inch and a half", "1-1/2 in"),
        ("two and three quarter", "2-3/4"),
        ("twenty nine sixty-fourths", "29/64"),
        ("½ by 1½", "1/2 by 1-1/2"),
        ("half the cone", "half the cone"),
    ],
)
def test_numbers_as_they_are_said(said: str, figures: str) -> None:
    assert rewritten(said).text == figures


def test_the_machine_says_what_it_has_and_what_to_do_where_it_cannot() -> None:
    bench = next(machine for machine in machines() if machine.id == "drill_press")
    slowest = min(bench.steps())
    reply = ask(f"{slowest * 0.4:.0f} rpm on this machine", Here("in", bench))
    assert "cannot go that slow" in reply.text() and "slower machine" in reply.text()
    # common practice: 620 where 250 is wanted is 148 % over
    assert f"({100 * (slowest / 250 - 1):+.0f} %)" in ask("250 rpm on this machine", Here("in", bench)).text()


def test_a_bare_figure_is_in_the_unit_it_looks_like() -> None:
    assert "18 mm" in ask("18 H7", Here("in")).understood
    assert ".2810 in" in ask("drill .250 came out .281", Here("mm")).understood
    assert "6.8 mm" in ask("M8 6.8", Here("in")).understood
    assert "12.6 mm" in ask("hole 6.6 csk 12.6 90 deg", Here("in")).understood


def test_the_material_of_the_job_stands_in_where_none_is_typed() -> None:
    steel = Here("mm", None, material("medium_carbon_steel"))
    assert "20 to 27 m/min" in ask("10 mm 600 rpm", steel).text().replace(".0", "")
    assert "brass" in ask("10 mm drill in brass", steel).understood


def line_of(dice: random.Random) -> str:
    """Words of the trade in no order, questions with letters changed, letters of any kind."""
    words = [*vocabulary().meanings, *vocabulary().materials]
    units = ("in", "mm", "rpm", "ft/min", "m/min", "mm/rev", "thou", "%", "deg", "tpi", "min", "s", "x", "holes")

    def figure() -> str:
        return dice.choice(
            (
                str(dice.randrange(500)), f"{dice.random() * 10:.3f}", f".{dice.randrange(1000):03}", "0",
                f"{dice.randrange(64)}/{dice.choice((0, 2, 8, 64))}", f"#{dice.randrange(99)}", "999999999",
                f"M{dice.randrange(40)}", "1/4-20", "letter z", "center #4", "H7", "1,000", "1-1/2",
            )
        )  # fmt: skip

    kind = dice.random()
    if kind < 0.35:
        parts = (dice.choice((dice.choice(words), figure(), f"{figure()} {dice.choice(units)}")) for _ in range(6))
        return " ".join(list(parts)[: dice.randrange(1, 7)])
    if kind < 0.85:
        letters = list(dice.choice(WAYS)[1])
        for _ in range(dice.randrange(1, 5)):
            at = dice.randrange(len(letters) + 1)
            letters[at : at + dice.randrange(2)] = dice.choice("0123456789./#-x \u202e\0½٣²µ")
        return "".join(letters)
    return "".join(chr(dice.choice((*range(32, 127), 0x3B1, 0x1F600, 0xD800))) for _ in range(dice.randrange(90)))


def test_twenty_thousand_lines_of_anything_are_answered_or_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    dice, fits, most, answered = random.Random(22), [0], 0, 0
    fit = kinds._fit

    def counted(*given: object) -> object:
        fits[0] += 1
        return fit(*given)  # type: ignore[arg-type]

    monkeypatch.setattr(kinds, "_fit", counted)
    for _ in range(20_000):
        line = line_of(dice)
        fits[0] = 0
        reply = ask(line, Here(dice.choice(("mm", "in"))))
        most, answered = max(most, fits[0]), answered + reply.answered
        assert reply.answered or reply.doubts or not line.strip(), line
        assert all(0 <= doubt.start <= doubt.end <= len(line) for doubt in reply.doubts), line
        assert not any(" nan" in said.text or "inf " in said.text for said in reply.lines), line
    assert answered > 2_000 and most <= MOST_FITS, most
