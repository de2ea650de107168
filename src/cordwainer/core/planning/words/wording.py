"""Sizes and operations in the words and forms shown on screen."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from cordwainer.core.language import localized, tr, trn
from cordwainer.core.lengths import Length, inch_text, mm_text
from cordwainer.core.planning.words.names import (
    as_written,
    fixed,
    limits_pair,
    peck_stops,
    plain,
    print_size,
    role_name,
    size_said,
    size_shown,
)
from cordwainer.core.planning.words.sentences import chance_words

if TYPE_CHECKING:
    from cordwainer.core.formation.outcome import Chance, Outcome
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import Route

VERDICT_WORDS = {"accept": tr("Accept"), "reject": tr("Reject"), "cannot_tell": tr("Cannot tell yet")}
LABEL_WORDS = {
    "balanced": tr("Balanced"),
    "quickest": tr("Quickest"),
    "surest": tr("Surest"),
    "to_get": tr("To get"),
    "drilled": tr("Drilled"),
    "core_drilled": tr("Core drilled"),
    "reamed": tr("Reamed"),
    "bored": tr("Bored"),
    "bored_and_reamed": tr("Bored, reamed"),
    "milled": tr("Milled"),
    "both_ends": tr("From both ends"),
}


def route_words(route: Route) -> str:
    """What a route is called: by its label, or by its number of drills."""
    return LABEL_WORDS.get(route.label) or route.label.replace("_", " ")


def route_chance(route: Route) -> float:
    """The chance of a route before it is worked out closely: the planner's own figure."""
    return route.chance_all if route.chance_all is not None else route.screen_chance


def shown_chance(found: Outcome, hole: Hole) -> Chance:
    """The chance shown of a hole: of its size, with place and finish where the print asks for them."""
    more = hole.position_tolerance_mm is not None or hole.finish_ra_um is not None
    return found.right if more else found.in_size


def asked_words(hole: Hole) -> str:
    """What that chance is of."""
    if hole.kind == "taper_pin":
        return tr("reamed all the way")
    parts = [tr("size")]
    parts += [tr("place")] if hole.position_tolerance_mm is not None else []
    parts += [tr("finish")] if hole.finish_ra_um is not None else []
    return tr("in tolerance") if len(parts) == 1 else ", ".join(parts)


def band_words(chance: Chance, *, lines: bool = False) -> str:
    """How a chance spreads from shop to shop, or over what this shop may be after its own holes, in words."""
    low, high = f"{100 * chance.low:.0f}", f"{100 * chance.high:.0f}"
    if chance.holes:
        between = low if low == high else tr("{low} to {high}", low=low, high=high)
        return (
            tr("{between} after\n{shop_words}", between=between, shop_words=shop_words(chance.holes))
            if lines
            else between
        )
    if low == high:
        return tr("{low} in\nall shops", low=low) if lines else tr("all shops")
    return (
        tr("from shop\nto shop {low} to {high}", low=low, high=high)
        if lines
        else tr("{low} to {high}", low=low, high=high)
    )


def shop_words(holes: int) -> str:
    """From how many holes the shop is known."""
    return trn("{holes} hole of this shop", "{holes} holes of this shop", holes, holes=holes)


def instead_words(route: Route) -> list[str]:
    """What the crib has in place of each tool a route lacks, and the chance with it, a sentence each."""
    found = []
    for entry in route.instead:
        if entry.nearest is None:
            found.append(tr("For the {missing}: {why_not}.", missing=entry.missing.name, why_not=entry.why_not))
        else:
            chance = (
                "" if entry.chance is None else tr(", {chance} in 100 with it", chance=chance_words(entry.chance))
            )
            found.append(
                tr(
                    "For the {missing} the nearest here is the {nearest}{chance}.",
                    missing=entry.missing.name,
                    nearest=entry.nearest.name,
                    chance=chance,
                )
            )
    return found


def micro(value_mm: float, unit: str) -> tuple[str, str]:
    """A small difference: micrometers, or ten-thousandths of an inch as decimals, with its unit."""
    if unit == "in":
        return localized(inch_text(value_mm, 5 if abs(value_mm) < 0.0025 else 4)), "in"
    return localized(mm_text(value_mm * 1000, 1 if abs(value_mm) < 0.1 else 0)), "µm"


RA_MICRO_INCH = {0.2: 8, 0.4: 16, 0.8: 32, 1.6: 63, 3.2: 125, 6.3: 250, 12.5: 500}


def finish_text(ra_um: float, unit: str) -> str:
    """A finish as it is written in the unit: µm, or µin by the usual steps (ISO 1302; ASME B46.1).

    >>> finish_text(1.6, "in"), finish_text(1.6, "mm")
    ('63 µin', '1.6 µm')
    """
    if unit == "in":
        return localized(f"{RA_MICRO_INCH.get(round(ra_um, 2), round(ra_um / 0.0254)):g} µin")
    return localized(f"{ra_um:g} µm")


def words_in(text: str, unit: str) -> str:
    """A sentence with its lengths in inches where those are shown, differences of heat in the scale beside it.

    >>> words_in("tailstock off the spindle, 0.05 mm", "in"), words_in("4 µm over", "in")
    ('tailstock off the spindle, .0020 in', '.00016 in over')
    >>> words_in("15 K warm", "in"), words_in("15 K warm", "mm")
    ('27 °F warm', '15 °C warm')
    """
    if unit != "in":
        return re.sub(r"([0-9.]+) K\b", r"\1 °C", text)

    def told(found: re.Match[str]) -> str:
        if found[2] == "K":
            return f"{1.8 * float(found[1]):.0f} °F"
        mm = float(found[1]) / (1000 if found[2] == "µm" else 1)
        return localized(f"{inch_text(mm, 5 if mm < 0.01 else 4 if mm < 1 else 2)} in")

    return re.sub(r"([0-9.]+) (mm|µm|K)\b", told, text)


def length_in(length: Length, unit: str) -> str:
    """A length as it was written where that is in the unit shown, else worked out in it; with its unit."""
    return str(length) if length.unit == unit else f"{fixed(length.mm, unit, 3, 4)} {unit}"


__all__ = [
    "as_written",
    "asked_words",
    "band_words",
    "finish_text",
    "fixed",
    "instead_words",
    "length_in",
    "limits_pair",
    "micro",
    "peck_stops",
    "plain",
    "print_size",
    "role_name",
    "route_chance",
    "route_words",
    "shop_words",
    "shown_chance",
    "size_said",
    "size_shown",
    "words_in",
]
