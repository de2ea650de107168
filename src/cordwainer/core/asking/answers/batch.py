"""Batches: time, what a faster step saves, what a hole costs."""

from __future__ import annotations

from cordwainer.core.asking.answer import Given, Said
from cordwainer.core.scheduling.cost import Drilling, break_even, in_the_long_run


def _hours(minutes: float) -> str:
    return f"{minutes:.1f} min" if minutes < 300 else f"{minutes:.0f} min = {minutes / 60:.1f} h"


def _change(given: Given, each: float) -> float:
    """Minutes between parts: as given, or so many times the drilling."""
    if not given.has("change"):
        return 0.0
    return given["change"] * (each if given.slots["change"].kind == "ratio" else 1.0)


def _total(given: Given, each: float, change: float) -> list[Said]:
    count = given["count"]
    total = count * (each + change)
    working = f"{count:g} × ({each:.4g} + {change:.4g} min)"
    lines = [Said("all of it", _hours(total), working, "derived")]
    if change:
        lines.insert(0, Said("changing", f"{change:.3f} min a part", "", "derived"))
        share = 100 * change / (each + change)
        lines.append(Said("changing takes", f"{share:.1f} % of it", "change / (drill + change)", "derived"))
    return lines


def batch(given: Given) -> list[Said]:
    """Time of a batch from minutes a part and what changing takes."""
    return _total(given, given["each"], _change(given, given["each"]))


def batch_cut(given: Given) -> list[Said]:
    """Time of a batch from depth, feed and speed, and what another speed saves."""
    rate = given["f"] * given["n"]
    each = given["depth"] / rate
    change = _change(given, each)
    lines = [Said("drilling", f"{each:.4f} min a part", f"L / (f n) at {given.rates(rate)}", "derived")]
    lines += _total(given, each, change)
    if given.has("faster"):
        other = given["depth"] / (given["f"] * given["faster"])
        total, then = given["count"] * (each + change), given["count"] * (other + change)
        saves = total - then
        word = "saves" if saves >= 0 else "costs"
        lines.append(
            Said(
                f"at {given['faster']:g} rev/min",
                f"{_hours(then)}: {word} {abs(saves):.1f} min",
                f"{other:.4f} min a part",
                "derived",
            )
        )
    return lines


def cost(given: Given) -> list[Said]:
    """What a hole costs by price and life of two tools, and from which lot the dearer one pays."""
    first = Drilling("a", "first", given["price"], given["life"])
    second = Drilling("b", "second", given["price2"], given["life2"])
    lines = []
    for name, drilling in (("first", first), ("second", second)):
        own = in_the_long_run(drilling, 0.0)
        lines.append(
            Said(
                f"{name}, in the long run",
                f"{own:.4g} a hole",
                f"{drilling.price:g} / {drilling.holes:g}",
                "derived",
            )
        )
    cheap, dear = sorted((first, second), key=lambda drilling: drilling.price)
    lot = break_even(cheap, dear, 0.0)
    text = f"from a lot of {lot} holes" if lot is not None else "never: it costs as much a hole or more"
    lines.append(Said("the dearer one pays", text, "whole drills are bought for a lot", "derived"))
    return lines


ANSWERS = {"batch": batch, "batch_cut": batch_cut, "cost": cost}
