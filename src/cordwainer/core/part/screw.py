"""Socket head screws: the clearance hole and the counterbore that sinks the head.

Source: `counterbore_socket_head.csv` (ISO 4762, ISO 273, DIN 974-1; ASME B18.3).
"""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.tables import Row, rows


@dataclass(frozen=True)
class ScrewHead:
    """One socket head: its clearance hole (normal and close), head, and counterbore."""

    size: str
    clearance: Length
    close: Length
    head: Length
    head_height: Length
    counterbore: Length
    depth: Length
    source: str


def _from(row: Row) -> ScrewHead:
    unit = "in" if row.text("unit") == "inch" else "mm"

    def length(column: str) -> Length:
        return parse(f"{row.text(column)} {unit}")

    return ScrewHead(
        row.text("size"),
        length("clearance_normal"),
        length("clearance_close"),
        length("head_diameter"),
        length("head_height"),
        length("counterbore_diameter"),
        length("counterbore_depth"),
        row.source,
    )


def head_of(size: str) -> ScrewHead:
    """A socket head by its thread: ``M8``, ``3/8``, ``#10``.

    >>> str(head_of("M8").clearance), str(head_of("M8").counterbore)
    ('9.0 mm', '15 mm')
    """
    wanted = size.strip().upper().split("X")[0].split("-")[0]
    for row in rows("counterbore_socket_head"):
        if row.text("size").upper() == wanted:
            return _from(row)
    names = ", ".join(row.text("size") for row in rows("counterbore_socket_head"))
    raise InputError(
        "",
        tr("no socket head '{size}' is tabulated; write the figures, or one of {names}", size=size, names=names),
    )


def head_over(hole_mm: float, counterbore_mm: float) -> ScrewHead | None:
    """The socket head a clearance hole and a counterbore are for, or None."""
    for row in rows("counterbore_socket_head"):
        head = _from(row)
        near = min(abs(hole_mm - head.clearance.mm), abs(hole_mm - head.close.mm))
        if near < 0.06 and abs(counterbore_mm - head.counterbore.mm) < 0.3:
            return head
    return None
