"""Speeds: for a surface speed, of a speed, on the machine."""

from __future__ import annotations

from cordwainer.core.asking.answer import Given, Said, Use, both
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.speed import METERS_PER_FOOT, rpm_for, rpm_shop_form, surface_speed
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.machine import Machine
from cordwainer.core.tables import constant

SLOWER = (
    "a slower machine or a back gear, a smaller drill first and the size bored, or a tool that bears the speed"
)


def rpm_text(n: float) -> str:
    """A speed in whole turns, with a decimal under a hundred."""
    return f"{n:.0f} rev/min" if n >= 100 else f"{n:.1f} rev/min"


def surface_text(m_min: float, unit: str) -> str:
    """A surface speed in both units."""
    return both(f"{m_min:.1f} m/min", f"{m_min / METERS_PER_FOOT:.1f} ft/min", unit)


def steps_near(machine: Machine, rpm: float) -> list[Said]:
    """The machine's nearest speeds below and above one, with how far off they are."""
    steps = machine.steps()
    below = max((n for n in steps if n <= rpm + 1e-9), default=None)
    above = min((n for n in steps if n > rpm + 1e-9), default=None)
    lines = []
    for name, step in (("next below", below), ("next above", above)):
        if step is not None:
            off = 100 * (step / rpm - 1)
            text = f"{step:g} rev/min ({off:+.0f} %)".replace("-", "−") if abs(off) >= 0.5 else f"{step:g} rev/min"
            lines.append(Said(f"{machine.name}, {name}", text, "", "the machine's speeds", Use("rpm", step)))
    if below is None:
        lines.append(Said("cannot go that slow", f"lowest {steps[0]:g} rev/min; {SLOWER}", "", "common practice"))
    if above is None and below is not None and rpm > 1.02 * below:
        lines.append(Said("cannot go that fast", f"{below:g} rev/min is its highest; feed no harder per turn"))
    return lines


def _exact(v: float, d: float, unit: str) -> str:
    """The exact form with its figures, in the unit asked in."""
    if unit == "in":
        return f"12 V / (π D) = 12 × {v / METERS_PER_FOOT:.4g} / (π × {d / INCH_MM:.4g})"
    return f"1000 v / (π d) = 1000 × {v:.4g} / (π × {d:.4g})"


def _surface(n: float, d: float, unit: str) -> str:
    return (
        f"π D n / 12 = π × {d / INCH_MM:.4g} × {n:g} / 12"
        if unit == "in"
        else f"π d n / 1000 = π × {d:.4g} × {n:g} / 1000"
    )


def _for_diameter(given: Given, v: float, diameter: float, name: str) -> list[Said]:
    n, short = rpm_for(v, diameter), rpm_shop_form(v / METERS_PER_FOOT, diameter / INCH_MM)
    sum_ = f"4 × {v / METERS_PER_FOOT:.4g} / {diameter / INCH_MM:.4g}, in ft/min and inches"
    return [
        Said(name, f"{rpm_text(n)}, exact", _exact(v, diameter, given.unit), "derived", Use("rpm", n)),
        Said("by the shop's 4 V / D", rpm_text(short), sum_, "common practice, 4.7 % over"),
    ]


def speed_for(given: Given) -> list[Said]:
    """rev/min for a surface speed at a drill's or a work's diameter, halved for drilling where asked."""
    lines = list[Said]()
    diameters = [
        (name, given[key]) for key, name in (("d", "at the drill"), ("stock", "at the work")) if given.has(key)
    ]
    if not diameters:
        raise ValueError
    for v in given.ends("v"):
        for name, diameter in diameters:
            shown = name if given.has("d", "stock") or "drill" in given.words or given.has("stock") else "speed"
            lines += _for_diameter(given, v, diameter, shown)
    first = rpm_for(given["v"], diameters[0][1])
    half = first / 2
    drilling = "turning" in given.words or "half" in given.words or given.has("stock")
    wanted = half if "half" in given.words else first
    for name, diameter in diameters if drilling else ():
        own = rpm_for(given["v"], diameter) / 2
        short = rpm_shop_form(given["v"] / METERS_PER_FOOT, diameter / INCH_MM) / 2
        said = "half of it, for drilling" if len(diameters) == 1 else f"half of it {name}"
        text = f"{own:.0f} rev/min, {short:.0f} by 4 V / D"
        lines.append(Said(said, text, "n / 2", "common practice", Use("rpm", own)))
    if given.has("d", "stock"):
        lines.append(
            Said("which one", "drills by the drill's own diameter; turning by the work's", "", "common practice")
        )
    if given.here.machine is not None:
        lines += steps_near(given.here.machine, wanted)
    return lines


def surface(given: Given) -> list[Said]:
    """Surface speed of a diameter at a speed, against what a sheet says."""
    v = surface_speed(given["n"], given["d"])
    sum_ = _surface(given["n"], given["d"], given.unit)
    lines = [Said("surface speed", surface_text(v, given.unit), sum_, "derived")]
    if given.has("v"):
        low, high = given.ends("v")[0], given.ends("v")[-1]
        off = "inside" if low <= v <= high else f"{100 * (1 - v / low):.0f} % under" if v < low else ""
        off = off or f"{100 * (v / high - 1):.0f} % over"
        lines.append(Said("against it", f"{surface_text(v, given.unit)} is {off} what is wanted"))
        ends = [rpm_for(end, given["d"]) for end in given.ends("v")]
        text = " to ".join(f"{n:.0f}" for n in ends) + " rev/min"
        lines.append(
            Said("that would be", text, _exact(given["v"], given["d"], given.unit), "derived", Use("rpm", ends[0]))
        )
    made_of = given.material
    if made_of is not None:
        for name, operation in (("drill", "drill"), ("reamer", "ream")):
            band = speeds.speed_band(made_of, operation, "hss")
            text = both(
                f"{band.low:g} to {band.high:g} m/min",
                f"{band.low / METERS_PER_FOOT:.0f} to {band.high / METERS_PER_FOOT:.0f} ft/min",
                given.unit,
            )
            lines.append(Said(f"usual for a {name}, {made_of.name}", text, "", "table of cutting speeds"))
    return lines


def same_surface(given: Given) -> list[Said]:
    """The speed that keeps the surface speed at another diameter."""
    n = given["n"] * given["d"] / given["other"]
    working = f"n × {given.length(given['d'])} / {given.length(given['other'])}"
    v = surface_text(surface_speed(given["n"], given["d"]), given.unit)
    return [Said("same surface speed", f"{n:.0f} rev/min", working, "derived", Use("rpm", n)), Said("that is", v)]


def step_for(given: Given) -> list[Said]:
    """The machine's nearest speeds."""
    if given.here.machine is None:
        return [Said("", "no machine is chosen; with one, its nearest speeds stand here")]
    return steps_near(given.here.machine, given["n"])


def two_speeds(given: Given) -> list[Said]:
    """One speed as a share of another."""
    share = given["n"] / given["other"]
    return [Said("share", f"{100 * share:.0f} % of it ({share:.2f})", "n / n", "derived")]


def half_speed(given: Given) -> list[Said]:
    """Half the drill's speed for a countersink, half the turning speed for a drill."""
    what = "countersink" if "countersink" in given.words else "half of it"
    half = Said(what, f"{given['n'] / 2:g} rev/min", "n / 2", "common practice", Use("rpm", given["n"] / 2))
    near = steps_near(given.here.machine, given["n"] / 2) if given.here.machine is not None else []
    return [half, *near]


def ream_speed(given: Given) -> list[Said]:
    """Reamer speeds after a drill's."""
    n = given["n"]
    lines = [
        Said(
            "reamer",
            f"{0.5 * n:.0f} to {0.7 * n:.0f} rev/min",
            "0.5 n to 0.7 n",
            "common practice",
            Use("rpm", 0.7 * n),
        ),
        Said("by hand and for finish", "as slow as the machine goes, often 60 rev/min", "", "common practice"),
    ]
    return lines + (steps_near(given.here.machine, 0.7 * n) if given.here.machine is not None else [])


def table_speed(given: Given) -> list[Said]:
    """Speed and feed of the tables for a tool in a metal."""
    made_of, machine = given.material, given.here.machine
    assert made_of is not None
    operation = next((kind for kind in ("ream", "bore") if kind in given.words), "drill")
    depth = given.get("depth", 0.0) or None
    found = speeds.choose(made_of, operation, "hss", given["d"], depth, machine)
    fed = feeds.choose(made_of, "ream" if operation == "ream" else "drill", given["d"], depth, machine)
    band = speeds.speed_band(made_of, operation, "hss")
    text = f"{found.ideal_rpm:.0f} rev/min at {surface_text(found.ideal_m_min, given.unit)}"
    working = _exact(found.ideal_m_min, given["d"], given.unit)
    lines = [
        Said(
            f"speed, high-speed steel, {operation}",
            text,
            working,
            "table of cutting speeds",
            Use("rpm", found.ideal_rpm),
        )
    ]
    lines.append(Said("usual", f"{surface_text(band.low, given.unit)} to {surface_text(band.high, given.unit)}"))
    lines.append(Said("feed", given.feeds(fed.mm_per_rev), "", fed.row_source, Use("feed", fed.mm_per_rev)))
    if machine is not None:
        lines += steps_near(machine, constant("speed_over_ideal") * found.ideal_rpm)
    return lines


ANSWERS = {
    "rpm_for": speed_for,
    "surface_of": surface,
    "same_surface": same_surface,
    "step_for": step_for,
    "two_speeds": two_speeds,
    "half_speed": half_speed,
    "ream_speed": ream_speed,
    "table_speed": table_speed,
}
