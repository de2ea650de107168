"""Small makers of holes and job files for tests."""

from __future__ import annotations

from typing import Any

from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole, limits_of


def hole(diameter: str, tolerance: str | None, depth: str, through: bool = True, **more: Any) -> Hole:
    """A hole as the core takes it; sized when it has a tolerance."""
    size = parse(diameter)
    return Hole(
        id="A",
        kind=more.pop("kind", "sized" if tolerance else "plain"),
        diameter=size,
        depth=parse(depth),
        through=through,
        limits=limits_of(size, tolerance, None, "ISO 2768-m"),
        tolerance=tolerance or "",
        **more,
    )


def job_data(*holes: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A job file's JSON object."""
    return {
        "format": "cordwainer-job",
        "version": 1,
        "name": "Bell skiver",
        "units": "mm",
        "material": "medium_carbon_steel",
        "machine": "bench_lathe",
        "holes": list(holes),
    } | more


PIVOT = {
    "id": "A",
    "name": "pivot",
    "kind": "sized",
    "diameter": "18 mm",
    "tolerance": "H7",
    "depth": "32 mm",
    "through": True,
}
