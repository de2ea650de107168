"""Walls, edges, and how a deep hole drifts."""

from __future__ import annotations

from cordwainer.core.asking.answer import Given, Said, Use
from cordwainer.core.errors import InputError


def wall(given: Given) -> list[Said]:
    """Wall left of a round part with a bore in its middle."""
    outside, bore = given["outside"], given["bore"]
    if bore >= outside:
        raise InputError("", "the bore is as large as the part")
    left = (outside - bore) / 2
    working = f"({given.length(outside)} − {given.length(bore)}) / 2"
    lines = [Said("wall", given.length(left), working, "derived", Use("length", left))]
    if left < 0.12 * bore:
        lines.append(
            Said(
                "",
                "thin: it springs in the jaws; soft jaws or a collet, or bore before the outside is turned",
                "",
                "common practice",
            )
        )
    return lines


def edge(given: Given) -> list[Said]:
    """Metal between a hole and the edge."""
    left = given["edge"] - given["d"] / 2
    working = f"{given.length(given['edge'])} − {given.length(given['d'])} / 2"
    if left <= 0:
        return [Said("metal to the edge", f"none: it breaks out by {given.length(-left)}", working, "derived")]
    return [Said("metal to the edge", given.length(left), working, "derived", Use("length", left))]


def drift(given: Given) -> list[Said]:
    """How a hole narrows or widens from top to bottom, and over a length."""
    change = given["top"] - given["bottom"]
    word = (
        "narrower at the bottom"
        if change > 0
        else "wider at the bottom"
        if change < 0
        else "the same at both ends"
    )
    lines = [Said("change", f"{given.length(abs(change))}, {word}", "top − bottom", "derived")]
    if given.has("depth") and given["depth"] > 0:
        per = abs(change) / given["depth"]
        over = f"{given.length(abs(change))} over {given.length(given['depth'])}"
        unit = f"{per:.5f} in an inch" if given.unit == "in" else f"{100 * per:.3f} mm in 100 mm"
        lines.append(
            Said(
                "taper",
                f"{over}: {unit.removeprefix('0')}" if given.unit == "in" else f"{over}: {unit}",
                "change / depth",
                "derived",
            )
        )
    return lines


ANSWERS = {"wall": wall, "edge": edge, "drift": drift}
