"""Lengths: what the trade writes, exactly."""

from __future__ import annotations

import pickle
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.core.errors import BeyondTravelError, InputError
from cordwainer.core.lengths import Length, fraction_name, from_mm, in_unit, inch_text, number_drills, parse
from cordwainer.core.part.callout_words import Doubt


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("20 mm", 20.0),
        ("12,7 mm", 12.7),
        ("0.7500 in", 19.05),
        (".3130 in", 7.9502),
        ("25/64 in", 9.921875),
        ("1-1/8 in", 28.575),
        ("1 1/8 in", 28.575),
        ('3/4"', 19.05),
        ("Ø14 mm", 14.0),
        ("15 thou", 0.381),
        ("8 µm", 0.008),
        ("#7", 5.1054),  # ASME B94.11M, number drill 7 = 0.2010 in
        ("# 80", 0.3429),  # ASME B94.11M, number drill 80 = 0.0135 in
        ("letter F", 6.5278),  # ASME B94.11M, letter F = 0.2570 in
        ("letter e", 6.35),  # ASME B94.11M, letter E = 1/4 in
        ("0,125 in", 3.175),
        ("20,507 mm", 20.507),
        ("3,001 mm", 3.001),
        ("12,345 in", 313.563),
    ],
)
def test_reads_what_the_trade_writes(text: str, mm: float) -> None:
    assert parse(text).mm == pytest.approx(mm, abs=1e-12)


@pytest.mark.parametrize(
    ("text", "mend"),
    [
        ("12", "no unit; write '12 mm' or '0.4724 in'"),
        ("1,000 mm", "two ways"),
        ("2,999 mm", "two ways"),
        ("-3 mm", "negative"),
        ("", "empty"),
        ("x mm", "not a length"),
        ("3/0 in", "divides by zero"),
        ("1-9/8 in", "mixed number"),
        ("12 furlong", "not known"),
        ("#81", "#1 to #80"),
        ("letter AA", "A to Z"),
        ("nan mm", "not a length"),
        ("inf mm", "not a length"),
        ("1e3 mm", "not a length"),
        ("9" * 70 + " mm", "too long"),
        ("999999999 mm", "larger than any work"),
        ("٣ mm", "not a length"),
    ],
)
def test_refuses_with_the_mend(text: str, mend: str) -> None:
    with pytest.raises(InputError) as caught:
        parse(text)
    assert mend in caught.value.problem


@pytest.mark.parametrize("value", [12, 12.5, True, None, [], float("nan")])
def test_a_bare_number_in_a_file_is_refused(value: object) -> None:
    with pytest.raises(InputError) as caught:
        parse(value)
    assert " mm" in caught.value.problem


def test_zero_is_a_length_and_sign_needs_leave() -> None:
    assert parse("0 mm").mm == 0
    assert parse("-0.5 in", signed=True).mm == -12.7


@given(st.fractions(min_value=0, max_value=1000, max_denominator=64))
def test_fractions_of_an_inch_come_back(inches: Fraction) -> None:
    name = fraction_name(inches)
    if (inches * 64).denominator == 1:
        assert name is not None
        assert parse(name).exact_mm == inches * Fraction(254, 10)
        assert str(parse(name)) == name
    else:
        assert name is None


@given(st.decimals(min_value=0, max_value=3900, places=4, allow_nan=False))
def test_decimals_come_back_exactly(value: object) -> None:
    for unit in ("mm", "in"):
        text = f"{value} {unit}"
        found = parse(text)
        assert str(found) == text
        assert parse(str(found)) == found
        assert found.unit == unit


@given(st.integers(min_value=0, max_value=500_000))
def test_micrometers_survive_writing(um: int) -> None:
    length = from_mm(Fraction(um, 1000))
    assert parse(str(length)).exact_mm == Fraction(um, 1000)


@given(st.text(max_size=30))
def test_any_text_is_a_length_or_an_error_that_says_why(text: str) -> None:
    try:
        found = parse(text)
    except InputError as bad:
        assert bad.problem
    else:
        assert parse(str(found)) == found


def test_equality_is_by_value_notation_is_kept() -> None:
    assert parse("0.5 in") == parse("1/2 in") == parse("12.7 mm")
    assert hash(parse("0.5 in")) == hash(parse("1/2 in"))
    assert [str(parse(t)) for t in ("0.50 in", "1/2 in", "letter F")] == ["0.50 in", "1/2 in", "letter F"]
    assert Length(Fraction(1), "1 mm").inch == pytest.approx(0.03937, abs=1e-5)


def test_the_drill_names_run_full() -> None:
    names = number_drills()
    assert len(names) == 80 + 26
    for name, inch in (
        ("#25", "0.1495"),
        ("#29", "0.1360"),
        ("#43", "0.0890"),
        ("#1", "0.2280"),
        ("letter A", "0.2340"),
    ):
        assert names[name] == Fraction(inch)  # ASME B94.11M
    numbers = [names[f"#{n}"] for n in range(1, 81)]
    assert numbers == sorted(numbers, reverse=True)
    letters = [names[f"letter {c}"] for c in "ABCDEFGHIJKLMNOPQRSTUVWXYZ"]
    assert letters == sorted(letters)
    assert numbers[0] < letters[0]


def test_inches_print_without_a_leading_zero() -> None:
    assert inch_text(7.9502) == ".3130"
    assert inch_text(-0.0254) == "−.0010"
    assert inch_text(28.575, 3) == "1.125"
    assert in_unit(18.0134, "mm", 3) == "18.013"


@pytest.mark.parametrize(
    "error",
    [
        InputError("holes[0].depth", "too deep"),
        Doubt("which?", 2, 5, (("so", "12 H7"),)),
        BeyondTravelError("too far", 3.5),
    ],
)
def test_an_error_reaches_another_process_whole(error: Exception) -> None:
    again = pickle.loads(pickle.dumps(error))
    assert type(again) is type(error) and str(again) == str(error) and vars(again) == vars(error)
