"""What a question is answered with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from cordwainer.core.asking.quantities import Quantity, Unread
from cordwainer.core.lengths import INCH_MM, fraction_name, inch_text
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.working import figure


@dataclass(frozen=True)
class Here:
    """Where a question is asked: the job's unit, its machine and material, where there are any."""

    unit: str = "mm"
    machine: Machine | None = None
    material: Material | None = None


@dataclass(frozen=True)
class Use:
    """What an answer can be used for: a speed in rev/min, a length in mm, a feed in mm/rev."""

    kind: str
    value: float


@dataclass(frozen=True)
class Said:
    """One line of an answer: what it is, its figure with the unit, how it came about, and where that is from."""

    name: str
    text: str
    working: str = ""
    source: str = ""
    use: Use | None = None


@dataclass(frozen=True)
class Reply:
    """An answer, or why there is none: what was understood, the lines, what could not be read."""

    asked: str
    question: str
    understood: str
    lines: tuple[Said, ...]
    doubts: tuple[Unread, ...] = ()

    @property
    def answered(self) -> bool:
        """Whether anything is answered."""
        return bool(self.lines)

    def text(self) -> str:
        """The whole in plain lines, as the command prints it."""
        found = [self.understood] if self.understood else []
        for line in self.lines:
            found.append(f"{line.name}: {line.text}" if line.name else line.text)
            tail = [line.working, f"({line.source})" if line.source else ""]
            if any(tail):
                found.append("    " + " ".join(part for part in tail if part))
        return "\n".join(found + [doubt.said for doubt in self.doubts])


class Given:
    """What was given with a question, by the slot it fills."""

    def __init__(
        self,
        slots: Mapping[str, Quantity],
        words: frozenset[str],
        material: Material | None,
        here: Here,
        unit: str,
    ) -> None:
        self.slots, self.words, self.material, self.here, self.unit = slots, words, material, here, unit

    def has(self, *names: str) -> bool:
        """Whether each of these was given."""
        return all(name in self.slots for name in names)

    def __getitem__(self, name: str) -> float:
        """The figure of a slot in the program's own unit, the middle of a range."""
        return self.slots[name].value

    def get(self, name: str, default: float) -> float:
        """The figure of a slot, or the default."""
        return self.slots[name].value if name in self.slots else default

    def ends(self, name: str) -> tuple[float, ...]:
        """Both ends of a range, one figure where it is none."""
        slot = self.slots[name]
        return (slot.low,) if slot.low == slot.high else (slot.low, slot.high)

    def named(self, name: str) -> str:
        """The name a slot was typed with, such as that of a thread or a center drill."""
        return self.slots[name].unit

    def length(self, value_mm: float, *, exact: bool = False) -> str:
        """A length in the unit of the question, with it."""
        return length(value_mm, self.unit, exact=exact)

    def feeds(self, mm_per_rev: float) -> str:
        """A feed in both units."""
        return both(f"{figure(round(mm_per_rev, 4))} mm/rev", f"{thin(mm_per_rev / INCH_MM)} in/rev", self.unit)

    def rates(self, mm_per_min: float) -> str:
        """A feed rate in both units."""
        return both(f"{_two(mm_per_min)} mm/min", f"{_two(mm_per_min / INCH_MM)} in/min", self.unit)


def both(metric: str, inch: str, unit: str) -> str:
    """Two figures, the one in the unit asked for first."""
    return f"{inch}, {metric}" if unit == "in" else f"{metric}, {inch}"


def thin(inches: float) -> str:
    """Inches with four places, no leading zero."""
    return inch_text(inches * INCH_MM)


def _two(value: float) -> str:
    return f"{value:.0f}" if value >= 1000 else f"{value:.1f}" if value >= 100 else f"{value:.2f}"


def length(value_mm: float, unit: str, *, exact: bool = False) -> str:
    """A length with its unit: a fraction where it is one and `exact` asks for it, else four or three places."""
    if unit == "in":
        inches = Fraction(value_mm / INCH_MM).limit_denominator(10000)
        name = fraction_name(inches) if exact else None
        return name if name and "/" in name else f"{inch_text(value_mm)} in"
    text = f"{value_mm:.3f}".rstrip("0").rstrip(".").replace("-", "−")
    return f"{text} mm"
