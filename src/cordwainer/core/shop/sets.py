"""Sets of tools as they are sold and stored: what fills a new crib, one press a set.

Source: `tool_sets.csv`. Sizes are written `1/16..1/2 by 1/64 in`, `#1..#60`, `A..Z`, or one after the other with
their unit behind the last, `;` between where blanks stand within a size.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cache

from cordwainer.core.shop.sized import sized
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import rows


@dataclass(frozen=True)
class SetPart:
    """The tools of one kind in a set: their sizes as written, and the drawer they go to."""

    kind: str
    series: str
    sizes: tuple[str, ...]
    angle: float | None
    drawer: str

    def tools(self) -> tuple[tuple[str, Tool], ...]:
        """Each size as written with the tool it names, in its drawer."""
        return tuple((size, sized(self.kind, self.series, size, self.angle)) for size in self.sizes)


@dataclass(frozen=True)
class ToolSet:
    """A set as it is sold: its name, the group it stands in, the unit of its sizes, its parts."""

    id: str
    group: str
    words: str
    unit: str
    parts: tuple[SetPart, ...]

    @property
    def count(self) -> int:
        """How many tools are in it."""
        return sum(len(part.sizes) for part in self.parts)


@cache
def sets() -> tuple[ToolSet, ...]:
    """All sets, in the order of the table."""
    found: dict[str, ToolSet] = {}
    for row in rows("tool_sets"):
        angle = row.number_or_none("angle")
        part = SetPart(
            row.text("kind"), row.text("series"), sizes_in(row.text("sizes")), angle, row.text("drawer")
        )
        known = found.get(row.text("id"))
        parts = (*known.parts, part) if known is not None else (part,)
        found[row.text("id")] = ToolSet(
            row.text("id"), row.words("group"), row.words("words"), row.text("unit"), parts
        )
    return tuple(found.values())


def sizes_in(text: str) -> tuple[str, ...]:
    """The sizes of a set, written out.

    >>> sizes_in("1/16..1/8 by 1/32 in"), sizes_in("#4..#6"), sizes_in("6 10 mm"), sizes_in("#36 #29;5/16 in;U")
    (('1/16 in', '3/32 in', '1/8 in'), ('#4', '#5', '#6'), ('6 mm', '10 mm'), ('#36', '#29', '5/16 in', 'U'))
    """
    if ";" in text:
        return tuple(size for part in text.split(";") for size in _one_after_other(part))
    if ".." not in text:
        return _one_after_other(text)
    first, _, rest = text.partition("..")
    last, _, step = rest.partition(" by ")
    if not step:
        return _run(first, last)
    each, unit = step.split()
    at, most = Fraction(first), Fraction(last)
    found = []
    while at <= most:
        found.append(f"{_written(at, unit)} {unit}")
        at += Fraction(each)
    return tuple(found)


def _one_after_other(text: str) -> tuple[str, ...]:
    words = text.split()
    if words[-1] in ("mm", "in"):
        plain = [w for w in words[:-1] if not _is_named(w)]
        return tuple(f"{w} {words[-1]}" if w in plain else w for w in words[:-1])
    return (text,) if words[0].isalpha() and len(words) > 1 and len(words[0]) == 1 else tuple(words)


def _is_named(word: str) -> bool:
    return word.startswith("#") or (len(word) == 1 and word.isalpha())


def _run(first: str, last: str) -> tuple[str, ...]:
    """Numbers from one to another, or letters."""
    if first.startswith("#"):
        return tuple(f"#{n}" for n in range(int(first[1:]), int(last[1:]) + 1))
    return tuple(chr(n) for n in range(ord(first), ord(last) + 1))


def _written(value: Fraction, unit: str) -> str:
    if unit == "mm":
        return f"{float(value):g}"
    return str(value) if value.denominator > 1 and value < 1 else _mixed(value)


def _mixed(value: Fraction) -> str:
    whole, rest = divmod(value, 1)
    return f"{whole}-{rest}" if rest else f"{whole}"
