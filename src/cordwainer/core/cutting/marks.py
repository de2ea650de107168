"""What a handle shows: a depth on one scale or dial, from whatever it reads at the touch."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from cordwainer.core.cutting.reading import exact
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import MM_PER_INCH, Length, fraction_name
from cordwainer.core.shop.machine import SCALE_WORDS, Scale


@dataclass(frozen=True)
class Marks:
    """One scale for one step: start, stop, clearing stops and where the feed is halved, in the scale's unit.

    `turns` are whole turns of a dial from the start, `divisions` those past them, to the nearest half. `missing`
    is the travel that is not there, None where there is enough. A dial that rolls shows what stands on it.
    """

    kind: str
    unit: str
    start: float
    stop: float
    nearest: float
    division: float
    per_turn: int | None
    pecks: tuple[float, ...] = ()
    slow: float | None = None
    turns: int | None = None
    divisions: float | None = None
    missing: float | None = None
    falls: bool = False
    floor: bool = False

    @property
    def words(self) -> str:
        """The scale's name."""
        return SCALE_WORDS.get(self.kind, tr(self.kind.replace("_", " ")))

    @property
    def places(self) -> int:
        """Decimals that its divisions, halved by eye, bear."""
        most = 4 if self.unit == "in" else 3
        return next((p for p in range(most) if self.division / 2 >= 0.999 * 10**-p), most)

    def say(self, reading: float) -> str:
        """A reading as it is looked for: in sixty-fourths on a fractional scale, else with the places it bears.

        >>> Marks("tailstock_ram", "in", 0.5, 0.875, 0.875, 0.0625, None).say(0.875)
        '7/8'
        >>> Marks("tailstock_ram", "mm", 8, 55.9, 56, 1.0, None).say(55.912)
        '55.9'
        """
        if self.unit == "in" and self.fractional:
            halves = Fraction(self.division).limit_denominator(128) / 2
            name = fraction_name(round(Fraction(reading) / halves) * halves, 128)
            return (name or localized(f"{reading:.4f}")).removesuffix(" in")
        text = localized(f"{reading:.{self.places}f}")
        return text.replace("0.", ".", 1) if self.unit == "in" and text.startswith("0.") else text

    @property
    def fractional(self) -> bool:
        """Whether its divisions are binary parts of an inch."""
        part = Fraction(self.division).limit_denominator(1000)
        return self.unit == "in" and part.numerator == 1 and part.denominator in (4, 8, 16, 32, 64)

    def tip_at(self, reading: float, tip_at_start_mm: float) -> float:
        """Depth of the tip in mm when a scale that does not roll shows a reading."""
        unit_mm = float(MM_PER_INCH) if self.unit == "in" else 1.0
        return tip_at_start_mm + (self.start - reading if self.falls else reading - self.start) * unit_mm


def marks(
    scale: Scale,
    tip_at_start_mm: float,
    tip_mm: float,
    pecks_tip_mm: Sequence[float] = (),
    slow_tip_mm: float | None = None,
    start: Length | None = None,
    ends_tip_mm: Sequence[float] = (),
    floor: bool = False,
) -> Marks:
    """The marks of one scale; `start` is what it reads at the touch where that is not the machine's usual.

    `ends_tip_mm` are where strokes end, from which each next one begins at the start reading again. `floor`: metal
    is left below, so that the stop is rounded to the shallower division.

    Tip depths are below the face, in mm. The travel is the same on every scale of the machine; a dial in the other
    unit shows it in its own. Source: derived.
    """
    begin = scale.start.exact_mm if start is None else start.exact_mm
    unit_mm = MM_PER_INCH if scale.unit == "in" else Fraction(1)
    sign = -1 if scale.direction == "decreases" else 1
    division = scale.division.exact_mm
    travel = exact(tip_mm - (ends_tip_mm[-2] if len(ends_tip_mm) > 1 else tip_at_start_mm))

    def total(tip: float) -> Fraction:
        done = next((end for end in reversed(ends_tip_mm[:-1]) if tip > end + 1e-9), tip_at_start_mm)
        return begin + sign * exact(tip - done)

    def rounded(value: Fraction) -> Fraction:
        if not floor:
            return round(value / division) * division
        return begin + sign * ((abs(value - begin) + Fraction(1, 10**6)) // division) * division

    def shown(value: Fraction) -> float:
        rolled = value % scale.per_rev.exact_mm if scale.rolls and scale.per_rev is not None else value
        return float(rolled / unit_mm)

    turns = past = None
    if scale.per_rev is not None:
        turns = int(travel // scale.per_rev.exact_mm)
        past = round(float((travel - turns * scale.per_rev.exact_mm) / division) * 2) / 2
        if past * division >= scale.per_rev.exact_mm:
            turns, past = turns + 1, 0.0
    room = scale.room
    if room is not None and start is not None and scale.kind in ("tailstock_ram", "quill_scale"):
        room = begin if sign < 0 else (scale.travel_limit.exact_mm if scale.travel_limit else room) - begin
    missing = float((travel - room) / unit_mm) if room is not None and travel > room and not ends_tip_mm else None
    return Marks(
        kind=scale.kind,
        unit=scale.unit,
        start=shown(begin),
        stop=shown(total(tip_mm)),
        nearest=shown(rounded(total(tip_mm))),
        division=float(division / unit_mm),
        per_turn=round(scale.per_rev.exact_mm / division) if scale.per_rev is not None else None,
        pecks=tuple(shown(total(peck)) for peck in pecks_tip_mm),
        slow=None if slow_tip_mm is None else shown(total(slow_tip_mm)),
        turns=turns,
        divisions=past,
        missing=missing,
        falls=sign < 0,
        floor=floor,
    )
