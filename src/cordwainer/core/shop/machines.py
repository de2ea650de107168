"""The four machines of the built-in shops."""

from __future__ import annotations

from functools import cache

from cordwainer.core.lengths import Length, parse
from cordwainer.core.shop.machine import Machine, Scale
from cordwainer.core.tables import document


def _scale(fields: dict[str, str]) -> Scale:
    def read(key: str) -> Length | None:
        return parse(fields[key]) if key in fields else None

    return Scale(
        kind=fields["kind"],
        unit=fields["unit"],
        start=parse(fields["start_reading"]),
        division=parse(fields["division"]),
        per_rev=read("per_rev"),
        travel_limit=read("travel_limit"),
        direction=fields.get("direction", "increases"),
    )


@cache
def machines() -> tuple[Machine, ...]:
    """The four machines of the built-in shops (invented figures)."""
    found = []
    for entry in document("machines.json")["machines"]:
        fields = dict(entry)
        fields["scales"] = tuple(_scale(scale) for scale in fields["scales"])
        fields["speeds_rpm"] = tuple(float(n) for n in fields["speeds_rpm"])
        if fields.get("feeds_mm_per_rev"):
            fields["feeds_mm_per_rev"] = tuple(fields["feeds_mm_per_rev"])
        found.append(Machine(**fields))
    return tuple(found)
