"""Questions on scales: readings, stops, fractions and handwheels of the machines as they are."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from functools import partial

import numpy as np

from cordwainer.core.cutting.marks import Marks, marks
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import Length, fraction_name, inch_text
from cordwainer.core.shop.machine import Machine, Scale
from cordwainer.core.shop.machines import machines
from cordwainer.core.training.questions import Dial, Line, Question, Rule, drawn, one_of

KIND = "scales"
ALONG = ("tailstock_ram", "quill_scale")


def question(
    seed: int, last: str = "", due: frozenset[str] = frozenset(), own: tuple[Machine, ...] = ()
) -> Question:
    """A question on a scale of the shop's `own` machines, or of the usual ones."""
    known = own or machines()
    lacking = _lacking(known)
    makers = {name: partial(make, known) for name, make in MAKERS.items() if name not in lacking}
    return drawn(makers, seed, last, due)


def _lacking(known: tuple[Machine, ...]) -> set[str]:
    """What no machine of the shop could be asked about."""
    kinds = {scale.kind for machine in known for scale in machine.scales}
    dials = any(scale.per_rev is not None for machine in known for scale in machine.scales)
    lacking = set() if dials else {"turns", "dial"}
    return lacking if kinds & set(ALONG) else lacking | {"stop", "ram", "unit"}


def _scales(known: tuple[Machine, ...], dial: bool) -> list[tuple[Machine, Scale]]:
    return [
        (machine, scale)
        for machine in known
        for scale in machine.scales
        if (scale.per_rev is not None if dial else scale.kind in ALONG)
    ]


def _per(scale: Scale) -> float:
    return 25.4 if scale.unit == "in" else 1.0


def _written(value: float, scale: Scale) -> str:
    """A depth as a print has it, in the scale's unit with that."""
    if scale.unit == "in":
        return localized(f"{inch_text(value * 25.4, 3)} in")
    return localized(f"{value:g} mm")


def _stop(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    machine, scale = one_of(luck, _scales(known, dial=False))
    inch = scale.unit == "in"
    begin = round(float(luck.integers(1, 8)) * 0.125, 3) if inch else float(luck.integers(3, 25))
    deep = round(float(luck.integers(12, 100)) * 0.02, 2) if inch else float(luck.integers(16, 66)) / 2
    found = _marked(scale, begin, deep)
    sign = tr("less") if found.falls else tr("and")
    say = found.say(found.stop)
    return Question(
        KIND,
        "stop",
        tr(
            "{machine}, {found}: it reads {begin} {scale} with the tip on the face. The "
            "tip is to go {written} deep. What does it read at the stop?",
            machine=machine.name,
            found=found.words,
            begin=found.say(begin),
            scale=scale.unit,
            written=_written(deep, scale),
        ),
        Line(f"{found.say(begin)}  →  ?"),
        f"{say} {scale.unit}",
        tr(
            "{begin} {sign} {written} is {say} {scale}.",
            begin=found.say(begin),
            sign=sign,
            written=_written(deep, scale),
            say=say,
            scale=scale.unit,
        ),
        20.0,
        scale.unit,
        value=found.stop,
        within=found.division / 2,
    )


def _marked(scale: Scale, begin: float, deep: float) -> Marks:
    per = Fraction(str(_per(scale)))
    start = Length(Fraction(str(begin)) * per, localized(f"{begin:g} {scale.unit}"))
    return marks(scale, 0.0, deep * _per(scale), start=start)


def _turns(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    machine, scale = one_of(luck, _scales(known, dial=True))
    assert scale.per_rev is not None
    count = round(scale.per_rev.exact_mm / scale.division.exact_mm)
    whole, past = int(luck.integers(2, 13)), int(luck.integers(1, count))
    deep_mm = float(whole * scale.per_rev.exact_mm + past * scale.division.exact_mm)
    deep = _written(round(deep_mm / _per(scale), 4), scale)
    found = marks(scale, 0.0, deep_mm)
    assert found.turns is not None and found.divisions is not None
    return Question(
        KIND,
        "turns",
        tr(
            "{machine}, {found}: one turn is {short}, a division {short_2}. The tip "
            "touches at 0 and is to go {deep} deep. How many whole turns, and how many "
            "divisions past them?",
            machine=machine.name,
            found=found.words,
            short=_short(scale.per_rev),
            short_2=_short(scale.division),
            deep=deep,
        ),
        Dial(count, found.division, _numbered(count), 0.0),
        tr("{turns} turns and {divisions:g}", turns=found.turns, divisions=found.divisions),
        tr(
            "{turns} turns are {turns_2:g} {scale}; the rest is {divisions:g} divisions.",
            turns=found.turns,
            turns_2=found.turns * float(scale.per_rev.exact_mm) / _per(scale),
            scale=scale.unit,
            divisions=found.divisions,
        ),
        30.0,
        scale.unit,
        within=0.5,
        turns=(found.turns, found.divisions),
    )


def _short(length: Length) -> str:
    """A length as it stands on an inch dial: without the nought."""
    return (
        str(length).replace("0.", ".", 1) if length.unit == "in" and str(length).startswith("0.") else str(length)
    )


def _numbered(count: int) -> int:
    return 10 if count % 10 == 0 else 5


def _dial(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    machine, scale = one_of(luck, _scales(known, dial=True))
    assert scale.per_rev is not None
    count = round(scale.per_rev.exact_mm / scale.division.exact_mm)
    at = int(luck.integers(0, 2 * count)) / 2
    division = float(scale.division.exact_mm) / _per(scale)
    value = at * division
    right = localized(f"{inch_text(value * 25.4, 4)} in") if scale.unit == "in" else localized(f"{value:.4g} mm")
    return Question(
        KIND,
        "dial",
        tr(
            "{machine}: a division of this dial is {short}. What does it read?",
            machine=machine.name,
            short=_short(scale.division),
        ),
        Dial(count, division, _numbered(count), at),
        right,
        tr("{at:g} divisions of {short}.", at=at, short=_short(scale.division)),
        12.0,
        scale.unit,
        value=value,
        within=division / 4,
    )


def _ram(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    ruled = [found for found in _scales(known, dial=False) if found[1].division.mm > 0.4]
    machine, scale = one_of(luck, ruled or _scales(known, dial=False))
    if scale.unit == "mm":
        low = 10.0 * int(luck.integers(0, 5))
        at = low + int(luck.integers(5, 75)) / 2
        figure = Rule(low, low + 40, 1.0, 10.0, at, scale.direction == "decreases")
        right, within = localized(f"{at:g} mm"), 0.25
    else:
        low = float(luck.integers(0, 3))
        at = low + int(luck.integers(3, 45)) / 32
        figure = Rule(low, low + 1.5, 1 / 16, 0.5, at, scale.direction == "decreases", 16)
        right, within = str(fraction_name(Fraction(at).limit_denominator(64)) or at), 1 / 64
    return Question(
        KIND,
        "ram",
        tr("{machine}, the scale as it stands. What does it read?", machine=machine.name),
        figure,
        right,
        tr("The edge stands there, halves of a division told by eye."),
        10.0,
        scale.unit,
        value=at,
        within=within,
    )


def _fraction(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    bottom = int(one_of(luck, (16, 32, 64)))
    part = Fraction(2 * int(luck.integers(0, bottom // 2)) + 1, bottom)
    name = str(fraction_name(part))
    whole = part.numerator * 64 // part.denominator
    return Question(
        KIND,
        "fraction",
        tr("{name} as a decimal, to the thousandth?", name=name),
        Line(name.removesuffix(" in")),
        localized(f"{inch_text(float(part) * 25.4, 4)} in"),
        tr("{whole} sixty-fourths of .015625 in each.", whole=whole),
        20.0,
        "in",
        value=float(part),
        within=0.0011,
    )


def _unit(known: tuple[Machine, ...], luck: np.random.Generator) -> Question:
    machine, scale = one_of(luck, _scales(known, dial=False))
    if scale.unit == "in":
        deep_mm = float(luck.integers(6, 45))
        value, words, way = (
            deep_mm / 25.4,
            localized(f"{deep_mm:g} mm"),
            tr("{deep_mm:g} over 25.4", deep_mm=deep_mm),
        )
        right, within = localized(f"{inch_text(deep_mm, 3)} in"), 0.002
    else:
        part = Fraction(int(luck.integers(9, 100)), 64)
        value, words = float(part) * 25.4, str(fraction_name(part))
        way, right, within = tr("{part:.4g} times 25.4", part=float(part)), localized(f"{value:.1f} mm"), 0.11
    reads = tr("inches") if scale.unit == "in" else "mm"
    return Question(
        KIND,
        "unit",
        tr(
            "The print wants a hole {words} deep. {machine}: its scale reads {reads}, 0 at "
            "the touch. What does it read at the stop?",
            words=words,
            machine=machine.name,
            reads=reads,
        ),
        Line(words),
        right,
        tr("{way} is {right}.", way=way, right=right),
        40.0,
        scale.unit,
        value=value,
        within=within,
    )


MAKERS: dict[str, Callable[[tuple[Machine, ...], np.random.Generator], Question]] = {
    "stop": _stop,
    "turns": _turns,
    "dial": _dial,
    "ram": _ram,
    "fraction": _fraction,
    "unit": _unit,
}
