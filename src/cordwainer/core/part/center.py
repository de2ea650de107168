"""Center holes: the sizes of center drills and what each leaves.

Source: `center_drills.csv` (ANSI/ASME B94.11M plain and bell, ISO 866 type A, ISO 2540 type B, ISO 2541 type R).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.tables import Row, rows

CENTER_TYPES = {"A": "A", "B": "B", "R": "R", "plain": "plain_inch", "bell": "bell_inch"}
TYPE_WORDS = {
    "A": tr("plain 60° cone, for most work between centers"),
    "B": tr("60° cone under a protecting cone: the seat survives knocks, for work that comes back to centers"),
    "R": tr("rounded seat: touches on a ring whatever the alignment, for grinding and taper turning"),
    "plain": tr("plain 60° cone, for most work between centers"),
    "bell": tr("60° cone under a recess: the seat survives knocks, for work that comes back to centers"),
}


@dataclass(frozen=True)
class CenterSize:
    """One center drill: pilot, its length, body, the mouth of its protecting cone or recess (None without)."""

    type: str
    size: str
    pilot: Length
    pilot_length: Length
    body: Length
    protect: Length | None
    unit: str
    source: str


def _from(row: Row, center_type: str) -> CenterSize:
    unit = "in" if row.text("unit") == "inch" else "mm"

    def length(column: str) -> Length:
        return parse(f"{row.text(column)} {unit}")

    protect = length("bell_or_protect_diameter") if row.text("bell_or_protect_diameter") else None
    size = row.text("size")
    return CenterSize(
        center_type,
        size,
        length("pilot_diameter"),
        length("pilot_length"),
        length("body_diameter"),
        protect,
        unit,
        row.source,
    )


@cache
def center_sizes(center_type: str) -> tuple[CenterSize, ...]:
    """All sizes of a type, 'A', 'B', 'R', 'plain' or 'bell', small to large."""
    if center_type not in CENTER_TYPES:
        raise InputError(
            "center_type",
            tr(
                "'{center_type}' is not a type; write one of {center_types}",
                center_type=center_type,
                center_types=", ".join(CENTER_TYPES),
            ),
        )
    found = [
        _from(row, center_type) for row in rows("center_drills") if row.text("type") == CENTER_TYPES[center_type]
    ]
    return tuple(sorted(found, key=lambda size: size.body.mm))


def center_size(center_type: str, size: str) -> CenterSize:
    """A center drill by its designation: ``A`` and ``3.15``, ``plain`` and ``#4``.

    >>> str(center_size("plain", "4").body), str(center_size("A", "3.15").pilot)
    ('0.3125 in', '3.15 mm')
    """
    wanted = size.strip().upper().removeprefix(center_type.upper()).strip()
    known = center_sizes(center_type)
    for found in known:
        if _same(found.size, wanted):
            return found
    names = ", ".join(found.size for found in known)
    raise InputError(
        "size",
        tr(
            "'{size}' is not a size of type {center_type}; write one of {names}",
            size=size,
            center_type=center_type,
            names=names,
        ),
    )


def _same(known: str, wanted: str) -> bool:
    known, wanted = (text.lstrip("#").replace("-", " ").strip() for text in (known, wanted))
    if known == wanted:
        return True
    try:
        return not known.startswith("0") and not wanted.startswith("0") and float(known) == float(wanted)
    except ValueError:
        return False
