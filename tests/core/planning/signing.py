"""Jobs held against what a toolmaker would sign, in words a program can check; and printed to be read aloud.

`python -m tests.core.planning.signing 9 3` prints nine of them drawn with seed 3.
"""

from __future__ import annotations

import random
import re
import sys
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from cordwainer.core.lengths import parse
from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.files import job as job_files
from cordwainer.files.plan import plan_job
from cordwainer.files.plan_text import plan_lines
from tests.core.planning.rule_check import Checker
from tests.jobs import job_data

FILE = Path(__file__).parents[2] / "data" / "toolmaker_jobs.toml"
CLOSING = ("deburr", "measure")
DRILLS = ("drill", "core_drill", "spade_drill")
OTHER_UNIT = {
    "mm": r"(?<![\w/])\.?\d[\d./-]* in\b(?! a row| \d+ strokes| 100)|\bft/min|\blb\b|\bhp\b",
    "in": r"\d mm\b|m/min\b(?<!ft/min)|\b\d+ N\b|\bkW\b|\bnewton|µm\b",
}


@dataclass(frozen=True)
class Signed:
    """One job, its plan, and where it was planned."""

    job: dict[str, Any]
    plan: HolePlan
    shop: Shop
    machine: Machine
    material: Material

    @property
    def text(self) -> str:
        """All that the recommended route says, as it is printed."""
        first = HolePlan(self.plan.hole, self.plan.routes[:1], self.plan.why_not)
        return "\n".join(plan_lines([first]))


def jobs() -> list[dict[str, Any]]:
    """The jobs of the file."""
    found: list[dict[str, Any]] = tomllib.loads(FILE.read_text(encoding="utf-8"))["job"]
    return found


def planned(job: dict[str, Any]) -> Signed:
    """A job planned as the command does it."""
    shop_name, machine, material = job["at"]
    entry = {"id": "A"} | job["hole"]
    unit = "in" if any(" in" in str(v) for v in entry.values()) else "mm"
    data = job_data(entry, units=unit, machine=machine, material=material)
    found, shop = job_files.from_data(data), built_in(shop_name)
    return Signed(job, plan_job(found, shop)[0], shop, shop.machine(machine), found.material)


def objections(signed: Signed) -> list[str]:
    """What a toolmaker would not sign, in words; empty when he would."""
    job, routes = signed.job, signed.plan.routes
    if "refused" in job:
        said = " ".join(signed.plan.why_not)
        return (
            []
            if not routes and re.search(job["refused"], said, re.I)
            else [f"not refused: {said or routes[0].label}"]
        )
    if not routes:
        return [f"no route: {'; '.join(signed.plan.why_not)}"]
    return [*_sequence(job, routes[0]), *_words(job, signed), *_rules(signed), *_chance(job, routes[0])]


def _sequence(job: dict[str, Any], route: Route) -> Iterator[str]:
    kinds = " ".join(o.kind for o in route.operations if o.kind not in CLOSING and o.role != "guide")
    if "route" in job and not re.fullmatch(job["route"].strip(), kinds.strip()):
        yield f"does {kinds}"
    drills = [o for o in route.operations if o.kind in DRILLS and o.role is None and o.end == 1]
    if len(drills) > job.get("drills", 99):
        yield f"{len(drills)} drills"
    if "last" in job and drills:
        low, high = (parse(text).mm for text in job["last"])
        if not low - 0.005 <= (drills[-1].diameter_mm or 0.0) <= high + 0.005:
            yield f"last drill {drills[-1].tool and drills[-1].tool.name}"
    reamers = [o for o in route.operations if o.kind == "ream" and o.tool is not None]
    if "reams" in job and [o.tool.diameter for o in reamers if o.tool] != [parse(job["reams"])]:
        yield f"reams {[o.tool.name for o in reamers if o.tool]}"
    if "unit" in job:
        other = [o for o in (*drills, *reamers) if o.tool is not None and o.tool.diameter.unit != job["unit"]]
        if other and not all(o.tool is not None and o.tool.kind == "taper_pin_reamer" for o in other):
            yield f"of the other unit: {[o.tool.name for o in other if o.tool]}"
    for name in job.get("never", ()):
        used = [o for o in route.operations if o.kind == name or _named(o, name)]
        if used:
            yield f"uses {name}: {used[0].tool.name if used[0].tool else used[0].kind}"


def _named(operation: Operation, name: str) -> bool:
    tool = operation.tool
    return tool is not None and (tool.kind == name or tool.series == name or name in tool.name)


def _words(job: dict[str, Any], signed: Signed) -> Iterator[str]:
    text = signed.text
    for wanted in job.get("says", ()):
        if not re.search(wanted, text, re.I):
            yield f"does not say /{wanted}/"
    for unwanted in job.get("silent", ()):
        found = re.search(unwanted, text, re.I)
        if found:
            yield f"says {found[0]!r}"
    scales = r"^ +(?:tailstock|ram handwheel|carriage wheel|quill|knee dial|readout).*$"
    body = re.sub(scales, "", text, flags=re.M)
    tools = {o.tool.name for o in signed.plan.routes[0].operations if o.tool is not None}
    tools |= {o.tool.designation for o in signed.plan.routes[0].operations if o.tool is not None}
    for tool in sorted(tools, key=len, reverse=True):
        body = re.sub(rf"(?<![\d./-]){re.escape(tool)}", "", body)
    slip = re.search(OTHER_UNIT[signed.plan.hole.unit], body)
    if slip:
        yield f"unit: ...{body[max(slip.start() - 40, 0) : slip.end() + 20]!r}"


def _rules(signed: Signed) -> Iterator[str]:
    route = signed.plan.routes[0]
    yield from Checker(signed.plan.hole, route, signed.shop, signed.machine, signed.material).run()


def _chance(job: dict[str, Any], route: Route) -> Iterator[str]:
    if route.chance_all is None:
        return
    low, high = job.get("chance", (0, 100))
    in_100 = 100 * route.chance_all
    if not low - 0.5 <= in_100 <= high + 0.5:
        yield f"{in_100:.0f} in 100"
    if (in_100 < 80) is not any(w.id == "unlikely" for w in route.warnings):
        yield f"{in_100:.0f} in 100 and {'no' if in_100 < 80 else 'a'} warning of it"


def main(count: int, seed: int) -> None:
    """Print some jobs to be read."""
    for job in random.Random(seed).sample(jobs(), count):
        signed = planned(job)
        print(f"=== {job['name']} ({', '.join(job['at'])})", *objections(signed), sep="\n  X ")
        print(signed.text, "\n")


if __name__ == "__main__":
    main(*(int(word) for word in (sys.argv[1:] or ["9", "0"])))
