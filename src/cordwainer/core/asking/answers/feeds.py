"""Feeds: per turn, per minute, the time they take, the metal they remove."""

from __future__ import annotations

import math

from cordwainer.core.asking.answer import Given, Said, Use, both
from cordwainer.core.cutting.force import drill_load
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.machine import Machine


def minutes(value: float) -> str:
    """A time in minutes, and in seconds where it is short."""
    return f"{value:.2f} min = {60 * value:.0f} s" if value < 10 else f"{value:.1f} min"


def feeds_near(given: Given, machine: Machine, wanted: float) -> list[Said]:
    """The machine's own feeds next below and above one."""
    own = machine.feeds_mm_per_rev
    if not own:
        return [Said(machine.name, "fed by hand: no feeds of its own", "", "the machine's plate")]
    below = max((f for f in own if f <= wanted + 1e-9), default=None)
    above = min((f for f in own if f > wanted + 1e-9), default=None)
    lines = []
    for name, step in (("next below", below), ("next above", above)):
        if step is not None:
            off = f"{100 * (step / wanted - 1):+.0f} %".replace("-", "−")
            lines.append(
                Said(
                    f"{machine.name}, {name}",
                    f"{given.feeds(step)} ({off})",
                    "",
                    "the machine's plate",
                    Use("feed", step),
                )
            )
    return lines


def feed_of(given: Given) -> list[Said]:
    """A feed in both units, with the machine's nearest."""
    lines = []
    for f in given.ends("f"):
        lines.append(Said("feed", given.feeds(f), "1 in = 25.4 mm", "derived", Use("feed", f)))
    if given.has("other"):
        low, high = given.ends("other")[0], given.ends("other")[-1]
        f = given["f"]
        off = "inside" if low <= f <= high else f"{100 * (f / high - 1):.1f} % over" if f > high else ""
        lines.append(Said("against it", off or f"{100 * (1 - f / low):.1f} % under"))
        lines += [Said("that", given.feeds(end)) for end in given.ends("other")]
    if given.here.machine is not None:
        lines += feeds_near(given, given.here.machine, given["f"])
    return lines


def feed_rate(given: Given) -> list[Said]:
    """Feed a minute, and the time for a depth."""
    rate = given["f"] * given["n"]
    working = f"f n = {given['f']:.4g} mm/rev × {given['n']:g} rev/min"
    lines = [Said("feed a minute", given.rates(rate), working, "derived")]
    if given.has("depth"):
        lines.append(_time(given, rate))
    return lines


def _time(given: Given, rate: float) -> Said:
    working = f"L / (f n) = {given.length(given['depth'])} / {given.rates(rate)}"
    return Said("time", minutes(given["depth"] / rate), working, "derived; point and approach come on top")


def rate_time(given: Given) -> list[Said]:
    """Time for a depth at a feed a minute."""
    return [_time(given, given["rate"]), Said("feed a minute", given.rates(given["rate"]))]


def rate_convert(given: Given) -> list[Said]:
    """A feed a minute in both units, and per turn."""
    lines = [Said("feed a minute", given.rates(given["rate"]), "1 in = 25.4 mm", "derived")]
    if given.has("n"):
        f = given["rate"] / given["n"]
        lines.append(Said("feed", given.feeds(f), "f = F / n", "derived", Use("feed", f)))
    return lines


def metal(given: Given) -> list[Said]:
    """Metal a drill removes a minute from solid, and the power that takes."""
    rate = given["f"] * given["n"] if given.has("f", "n") else given["rate"]
    area = math.pi * given["d"] ** 2 / 4
    removed = area * rate / 1000
    text = both(f"{removed:.2f} cm³/min", f"{removed / (INCH_MM / 10) ** 3:.2f} in³/min", given.unit)
    lines = [
        Said("removed", text, "π d² / 4 × f n", "derived, from solid"),
        Said("feed a minute", given.rates(rate)),
    ]
    if given.material is not None and given.has("f", "n"):
        load = drill_load(given["d"], given["f"], given.material.kd_torque, given.material.kd_thrust)
        power = load.power_kw(given["n"])
        text = both(f"{power:.2f} kW", f"{power / 0.7457:.2f} hp", given.unit)
        lines.append(
            Said(f"power at the drill, {given.material.name}", text, "P = M n / 9550", "Machinery's Handbook")
        )
        push = both(f"{load.thrust_n:.0f} N", f"{load.thrust_n / 4.44822:.0f} lbf", given.unit)
        lines.append(Said("push", push, "", "Machinery's Handbook, drilling thrust"))
    return lines


ANSWERS = {
    "feed_of": feed_of,
    "feed_rate": feed_rate,
    "rate_time": rate_time,
    "rate_convert": rate_convert,
    "metal": metal,
    "metal_rate": metal,
}
