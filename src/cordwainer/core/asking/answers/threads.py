"""Threads: drills, percent, turns."""

from __future__ import annotations

from cordwainer.core.asking.answer import Given, Said, Use, both
from cordwainer.core.asking.answers.sizes import notations
from cordwainer.core.errors import InputError
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.part.thread import Thread, hole_for_percent, read_thread
from cordwainer.core.planning.steps.tapping import TOUGH, table_drill
from cordwainer.core.shop.identify import neighbors

LEADS = (("taper", 8.0), ("plug", 4.0), ("bottoming", 1.5))


def _thread(given: Given) -> Thread:
    return read_thread(given.named("thread"))


def _percent(thread: Thread, hole_mm: float) -> str:
    return f"{thread.percent_of(hole_mm):.1f} %"


def _minor(given: Given, thread: Thread) -> Said:
    low, high = float(thread.minor_low_mm), float(thread.minor_high_mm)
    source = "ISO 965-1, 6H" if thread.system == "metric" else "ASME B1.1, 2B"
    return Said("hole within", f"{given.length(low)} to {given.length(high)}", "", source)


def tap_drill(given: Given) -> list[Said]:
    """The drill for a thread, its percent, and one for a percent that is asked."""
    thread = _thread(given)
    major, pitch = float(thread.major_mm), float(thread.pitch_mm)
    lines = []
    if not given.has("percent"):
        drill = table_drill(thread.name)
        if drill is not None:
            text = f"{drill} ({notations(drill.mm, given.unit)}): {_percent(thread, drill.mm)} of thread"
            lines.append(
                Said(
                    "drill for the tap",
                    text,
                    "(d − drill) / (1.299 P)",
                    "handbook tap drill table",
                    Use("length", drill.mm),
                )
            )
    asks = [given["percent"]] if given.has("percent") else [75.0]
    if given.material is not None and given.material.id.startswith(TOUGH) and not given.has("percent"):
        asks = [62.5]
        lines.append(
            Said(
                "",
                f"in {given.material.name} 60 to 65 % is enough: a full thread breaks taps",
                "",
                "common practice",
            )
        )
    for percent in asks:
        if not 20 <= percent <= 100:
            raise InputError("", "percent of thread lies between 20 and 100")
        hole = hole_for_percent(major, pitch, percent)
        near = ", ".join(f"{c.named.name} ({_percent(thread, c.named.size.mm)})" for c in neighbors(hole))
        lines.append(
            Said(
                f"{percent:g} % is",
                f"{given.length(hole)}; nearest {near}",
                "d − 1.299 P × percent / 100",
                "derived",
                Use("length", hole),
            )
        )
    return [*lines, _minor(given, thread)]


def percent(given: Given) -> list[Said]:
    """Percent of thread a hole leaves."""
    thread, hole = _thread(given), given["hole"]
    if hole >= float(thread.major_mm):
        raise InputError("", "the hole is as large as the thread itself")
    metric = thread.system == "metric"
    tpi = (
        f"P {float(thread.pitch_mm):g} mm" if metric else f"{INCH_MM / float(thread.pitch_mm):.4g} threads an inch"
    )
    value = thread.percent_of(hole)
    lines = [Said("thread", _percent(thread, hole), f"(d − hole) / (1.299 P), {tpi}", "derived")]
    word = "over full: the tap labors and breaks" if value > 85 else "thin: it may strip" if value < 55 else ""
    tough = given.material is not None and given.material.id.startswith(TOUGH)
    if word and not (tough and value >= 50):
        lines.append(Said("", word, "", "common practice"))
    lines.append(_minor(given, thread))
    takes = thread.takes(hole)
    lines.append(Said("", "inside its limits" if takes else "outside its limits", "", ""))
    flank = (float(thread.major_mm) - hole) / 2
    lines.append(
        Said("chamfer to the major diameter", f"{given.length(flank)} a side", "(d − hole) / 2", "derived")
    )
    return lines


def turns(given: Given) -> list[Said]:
    """Turns to tap a depth, and what is left under the thread in a drilled one."""
    thread = _thread(given)
    pitch, depth = float(thread.pitch_mm), given["depth"]
    lines = [Said("turns", f"{depth / pitch:.2f}", f"depth / pitch {given.length(pitch)}", "derived")]
    if given.has("drilled"):
        spare = (given["drilled"] - depth) / pitch
        if spare < 0:
            raise InputError("", "drilled less deep than the thread")
        lines.append(Said("spare under the thread", f"{spare:.2f} turns", "(drilled − depth) / pitch", "derived"))
        for name, lead in LEADS:
            fits = (
                "goes all the way"
                if lead + 1 <= spare
                else f"its lead of {lead:g} turns and one beyond does not fit"
            )
            lines.append(Said(f"{name} tap", fits, "", "common practice"))
    lines.append(
        Said(
            "clearing chips",
            "1.5 to 2 turns on, half a turn back; a spiral-point tap runs through",
            "",
            "common practice",
        )
    )
    return lines


def tpi(given: Given) -> list[Said]:
    """A pitch from threads per inch, and turns for a depth."""
    pitch = INCH_MM / given["tpi"]
    lines = [
        Said(
            "pitch",
            both(f"{pitch:.4f} mm", f"{1 / given['tpi']:.4f} in".removeprefix("0"), given.unit),
            "1 in / threads",
            "derived",
            Use("length", pitch),
        )
    ]
    if given.has("depth"):
        lines.insert(0, Said("turns", f"{given['depth'] / pitch:.2f}", "depth × threads per inch", "derived"))
    return lines


ANSWERS = {"tap_drill": tap_drill, "thread_percent": percent, "turns": turns, "tpi_depth": tpi}
