"""Questions on drills: unmarked ones, points to judge by eye, callouts to read, drills for a tap."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.thread import read_thread
from cordwainer.core.part.tolerance import written_limits
from cordwainer.core.planning.steps.tapping import table_drill
from cordwainer.core.shop.identify import SYSTEMS, NamedSize, between, named_sizes
from cordwainer.core.tables import constant
from cordwainer.core.training.questions import Line, PointSeen, Question, drawn, one_of

KIND = "drills"
FEW = 4
LEFT_OUT = (10.0, 12.7, 6.35)
CODES = ("H6", "H7", "H8", "H9", "F7", "G7")
THREADS = ("M5", "M6", "M8", "M12", "M16", "#8-32", "#10-32", "5/16-18", "3/8-16", "7/16-14")


def question(seed: int, last: str = "", due: frozenset[str] = frozenset()) -> Question:
    """A question on a drill."""
    return drawn(MAKERS, seed, last, due)


def _unmarked(luck: np.random.Generator) -> Question:
    """A caliper over the margins of a drill whose stamp is gone."""
    same = constant("caliper_band_mm")
    system = one_of(luck, SYSTEMS)
    usual = [s for s in named_sizes(system) if 2.5 < s.size.mm < 13 and s.size.mm not in LEFT_OUT]
    while True:
        found = one_of(luck, usual)
        if all(c.named.size.mm == found.size.mm for c in between(found.size.mm - same, found.size.mm + same)):
            break  # nothing else a caliper could not tell from it
    unit = found.size.unit
    near = [c.named for c in between(0.9 * found.size.mm, 1.1 * found.size.mm) if _apart(c.named, found, 2 * same)]
    near.sort(key=lambda named: abs(named.size.mm - found.size.mm))
    others: list[NamedSize] = []
    for named in near:
        if len(others) < FEW - 1 and all(_apart(named, other, same) for other in others):
            others.append(named)
    reading = f"{in_unit(found.size.mm - float(luck.uniform(0, same / 3)), unit, 2, 3)} {unit}"
    return Question(
        KIND,
        "unmarked",
        tr("No stamp left. A caliper over the margins reads this. Which drill is it?"),
        Line(reading),
        found.name,
        tr(
            "{found} is {found_2} {unit}; the next, {name}, is {size}.",
            found=found.name,
            found_2=in_unit(found.size.mm, unit, 3, 4),
            unit=unit,
            name=others[0].name,
            size=in_unit(others[0].size.mm, unit, 3, 4),
        ),
        20.0,
        choices=_shuffled(luck, [found.name, *(other.name for other in others)]),
    )


def _apart(one: NamedSize, other: NamedSize, by_mm: float) -> bool:
    return abs(one.size.mm - other.size.mm) > by_mm


def _shuffled(luck: np.random.Generator, words: Sequence[str]) -> tuple[str, ...]:
    return tuple(words[int(k)] for k in luck.permutation(len(words)))


POINTS = {
    tr("One lip longer: the point stands off the axis"): tr(
        "It drills large, by about twice what the point stands off."
    ),
    tr("Lips at unlike angles"): tr("One lip does most of the cutting; the hole comes out large and rough."),
    tr("No relief behind a lip"): tr("The heel rubs: it will not cut, it heats and squeals. Not to be used."),
    tr("Corners worn round"): tr("It rubs at the corners and burns; grind back past the wear."),
    tr("Web too thick"): tr("A hard push from solid; thin it, or drill a pilot."),
    tr("Nothing: fit to use"): tr(
        "Lips alike, relief 8 to 12° behind both, corners sharp, web about 0.15 of the size."
    ),
}


def _point(luck: np.random.Generator) -> Question:
    """A point seen from the side and from the corner."""
    names = tuple(POINTS)
    right = one_of(luck, names)
    half = float(one_of(luck, (59.0, 59.0, 67.5)))
    sign = float(luck.choice((-1, 1)))
    lean = float(luck.uniform(5, 10)) if right == names[1] else float(luck.uniform(0, 0.5))
    rubs = right == names[2]
    reliefs = [float(luck.uniform(9.5, 11.5)) for _ in range(2)]
    if rubs:
        reliefs[int(luck.integers(2))] = float(luck.uniform(-4, 0))
    seen = PointSeen(
        half + sign * lean,
        half - sign * lean,
        sign * float(luck.uniform(0.05, 0.09)) if right == names[0] else 0.0,
        reliefs[0],
        reliefs[1],
        float(luck.uniform(*((0.26, 0.32) if right == names[4] else (0.13, 0.17)))),
        float(luck.uniform(0.06, 0.1)) if right == names[3] else 0.0,
    )
    rest = [name for name in names if name != right]
    others = [rest[int(k)] for k in luck.permutation(len(rest))[: FEW - 1]]
    return Question(
        KIND,
        "point",
        tr("A reground drill, its faults drawn larger. What is wrong with its point?"),
        seen,
        right,
        POINTS[right],
        15.0,
        choices=_shuffled(luck, [right, *others]),
    )


def _callout(luck: np.random.Generator) -> Question:
    """The largest or smallest size a callout allows."""
    side = one_of(luck, ("largest", "smallest"))
    if luck.random() < 0.5:
        size = one_of(luck, [8, 9, 11, 12, 14, 16, 18, 22, 25, 30])
        text = f"Ø{size} {one_of(luck, CODES)} ↧ {int(size * luck.uniform(1.2, 3))}"
    else:
        size_in = one_of(luck, [".3125", ".4375", ".5625", ".6250", ".6875", ".8750"])
        plus = one_of(luck, ("+.0008 -.0000", "+.0010 -.0005", "+.002 -.000", "±.003"))
        text = f"Ø{size_in} {plus} ↧ {one_of(luck, ('.75', '1.00', '1.25'))}"
    found = read_callout(text, "in" if text.startswith("Ø.") else "mm")
    assert found.diameter is not None and found.tolerance is not None
    limits = written_limits(found.diameter.exact_mm, found.tolerance)
    unit = found.diameter.unit
    value_mm = limits.upper_mm if side == "largest" else limits.lower_mm
    ends = [in_unit(v, unit, 3, 4) for v in (limits.lower_mm, limits.upper_mm)]
    return Question(
        KIND,
        "callout",
        tr("The print says this. What is the {side} size the hole may have?", side=side),
        Line(text),
        f"{in_unit(value_mm, unit, 3, 4)} {unit}",
        tr("It may lie between {ends} and {ends_2} {unit}.", ends=ends[0], ends_2=ends[1], unit=unit),
        30.0,
        unit,
        value=value_mm / (25.4 if unit == "in" else 1.0),
        within=0.00006 if unit == "in" else 0.0006,
    )


def _tap_drill(luck: np.random.Generator) -> Question:
    """The usual drill before a tap."""
    name = one_of(luck, THREADS)
    thread = read_thread(name)
    right = table_drill(thread.name)
    assert right is not None
    wrong = {str(right)}
    for percent in (0.35, 1.25, 1.6):  # a thread too thin, a tap that binds, and one that cannot go in
        size_mm = thread.major_mm - percent * (thread.major_mm - right.mm)
        pool = [s for system in SYSTEMS for s in named_sizes(system) if s.size.unit == right.unit]
        near = min(pool, key=lambda s: abs(s.size.mm - size_mm))
        wrong.add(near.name)
    return Question(
        KIND,
        "tap_drill",
        tr("Which drill before the tap, for the usual three quarters of a thread: {thread}?", thread=thread.name),
        Line(thread.name),
        str(right),
        tr(
            "{right}: about {percent_of:.0f} % of the thread.", right=right, percent_of=thread.percent_of(right.mm)
        ),
        15.0,
        choices=_shuffled(luck, sorted(wrong)),
    )


MAKERS: dict[str, Callable[[np.random.Generator], Question]] = {
    "unmarked": _unmarked,
    "point": _point,
    "callout": _callout,
    "tap_drill": _tap_drill,
}
