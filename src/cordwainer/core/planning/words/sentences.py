"""Cautions and sentences that plans are explained with, in the hole's own unit."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM, inch_text, mm_text
from cordwainer.core.tables import by_key

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import Caution, PlanWarning

SURE_SHOWN = 0.995
NEWTON_PER_POUND, KILOWATT_PER_HP, NM_PER_IN_LB = 4.4482216, 0.7456999, 0.1129848


def say(value_mm: float, unit: str, decimals: int | None = None) -> str:
    """A length with its unit, as it is spoken of in text.

    >>> say(17.7, "mm"), say(7.9375, "in")
    ('17.7 mm', '.3125 in')
    """
    if unit == "in":
        return localized(f"{inch_text(value_mm, 4 if decimals is None else decimals + 1)} in")
    text = mm_text(value_mm, 3 if decimals is None else decimals)
    if decimals is None and "." in text:
        text = text.rstrip("0").rstrip(".")
    return localized(f"{text} mm")


def feed_words(mm_per_rev: float, unit: str) -> str:
    """A feed per turn with its unit.

    >>> feed_words(0.127, "in"), feed_words(0.127, "mm")
    ('.0050 in/rev', '0.127 mm/rev')
    """
    return tr("{feed}/rev", feed=say(mm_per_rev, unit, 3))


def held_back_by(what: str) -> str:
    """What a feed was held back for, "thrust" or "power", as it is said."""
    return {"thrust": tr("thrust"), "power": tr("spindle power")}[what]


def force_words(newtons: float, unit: str) -> str:
    """A force with its unit: newtons, or pounds in an inch job.

    >>> force_words(4448.2, "in"), force_words(4448.2, "mm")
    ('1000 lb', '4448 N')
    """
    return tr("{newtons:.0f} lb", newtons=newtons / NEWTON_PER_POUND) if unit == "in" else f"{newtons:.0f} N"


def give_words(mm_per_newton: float, unit: str) -> str:
    """How far something gives under force: micrometers a newton, or inches for 100 lb in an inch job.

    >>> give_words(0.037e-3, "mm"), give_words(0.037e-3, "in")
    ('0.037 µm for each newton', '.00065 in for each 100 lb')
    """
    if unit == "in":
        inches = 100 * NEWTON_PER_POUND * mm_per_newton / INCH_MM
        return tr("{inches} in for each 100 lb", inches=localized(f"{inches:.5f}".lstrip("0")))
    return tr("{mm_per_newton:.2g} µm for each newton", mm_per_newton=1000 * mm_per_newton)


def power_words(kilowatts: float, unit: str) -> str:
    """A power with its unit: kilowatts, or horsepower in an inch job.

    >>> power_words(0.7457, "in"), power_words(0.7457, "mm")
    ('1.00 hp', '0.75 kW')
    """
    return (
        tr("{kilowatts:.2f} hp", kilowatts=kilowatts / KILOWATT_PER_HP)
        if unit == "in"
        else localized(f"{kilowatts:.2f} kW")
    )


def surface_words(m_min: float, unit: str) -> str:
    """A surface speed with its unit.

    >>> surface_words(30.48, "in"), surface_words(30.48, "mm")
    ('100 ft/min', '30.5 m/min')
    """
    return f"{m_min / 0.3048:.0f} ft/min" if unit == "in" else localized(f"{m_min:.1f} m/min")


def times_words(times: int) -> str:
    """How often: once, twice, three times.

    >>> times_words(1), times_words(2), times_words(5)
    ('once', 'twice', '5 times')
    """
    if times in (1, 2):
        return (tr("once"), tr("twice"))[times - 1]
    return tr("{times} times", times=times)


def chance_words(chance: float) -> str:
    """A chance in a hundred as it is shown: never a certainty.

    >>> chance_words(0.874), chance_words(0.9961), chance_words(0.003)
    ('87', 'over 99', 'under 1')
    """
    if chance >= SURE_SHOWN:
        return tr("over 99")
    return tr("under 1") if chance < 1 - SURE_SHOWN else f"{100 * chance:.0f}"


@cache
def caution(identifier: str) -> Caution:
    """The caution of that id."""
    from cordwainer.core.planning.words.operation import Caution

    row = by_key("cautions", "id")[identifier]
    return Caution(identifier, row.text("level"), row.words("text"))


def too_fast(rpm: float, ideal: float) -> PlanWarning:
    """That even the machine's slowest step is faster than would be right."""
    from cordwainer.core.planning.words.operation import PlanWarning

    return PlanWarning(
        "too_fast",
        tr("{rpm:g} rev/min is the slowest step; {ideal:.0f} would be right", rpm=rpm, ideal=ideal),
        numbers={"rpm": rpm, "rpm_ideal": ideal},
    )
