"""A logged hole as a job of its own, as it was made: to look at it again, explain it and plan the next one."""

from __future__ import annotations

import copy
from typing import Any

from cordwainer.core.diagnosis.evidence import checked_answer
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import from_mm
from cordwainer.core.planning.machine.run import SKIPPED
from cordwainer.core.shop.gauge import WORDS
from cordwainer.files.job import from_data
from cordwainer.logbook.records import HoleMade, Seen

DEFAULT_MATERIAL, DEFAULT_MACHINE = "medium_carbon_steel", "bench_lathe"


def _understood(seen: Seen) -> bool:
    """Whether an answer is one that is still asked for."""
    try:
        checked_answer(seen.question, seen.answer)
    except InputError:
        return False
    return True


def job_of(made: HoleMade) -> dict[str, Any]:
    """The hole of a logbook row with its sequence, readings and answers as a job file's object.

    Raises `InputError` where too little was kept of it to be looked at again.
    """
    kept = copy.deepcopy(made.snapshot)
    hole = kept.get("hole") or {}
    if not hole.get("diameter"):
        raise InputError("", tr("too little is known of {made} to explain it", made=made.name or tr("this hole")))
    hole.setdefault("depth", str(from_mm(max((r.depth_mm for r in made.readings), default=0.0) or 10.0, 3)))
    if made.lower_mm is not None and made.upper_mm is not None and not hole.get("tolerance"):
        hole["limits"] = [str(from_mm(made.lower_mm, 4)), str(from_mm(made.upper_mm, 4))]
    gauge = next((r.gauge for r in made.readings if r.gauge), "")
    kind = next((kind for kind, words in WORDS.items() if gauge in (kind, words)), "two_point_bore_gauge")
    hole["evidence"] = {seen.question: seen.answer for seen in made.evidence if _understood(seen)}
    if made.readings:
        readings = sorted(made.readings, key=lambda r: (r.depth_mm, r.direction_deg))
        hole["measured"] = {
            "gauge": kind,
            "readings": [
                {
                    "depth": str(from_mm(r.depth_mm, 3)),
                    "direction_deg": r.direction_deg,
                    "size": str(from_mm(r.corrected_mm, 4)),
                }
                for r in readings
            ],
        }
    ran = {o.place: o for o in made.operations}
    entries = []
    for place, entry in enumerate(kept.get("operations") or []):
        row = ran.get(place)
        if row is not None and row.state == SKIPPED:
            continue
        entries.append(entry | ({"rpm": row.rpm} if row is not None and row.rpm else {}))
    if entries:
        hole["sequence"], hole["sequence_only"] = entries, True
    job = kept.get("job") or {}
    data = {
        "format": "cordwainer-job",
        "version": 1,
        "name": f"{job.get('name') or made.job}, {made.name} {made.number}".strip(" ,"),
        "units": "in" if str(hole["diameter"]).endswith("in") else "mm",
        "material": made.material or DEFAULT_MATERIAL,
        "machine": made.machine or DEFAULT_MACHINE,
        "holes": [hole],
    }
    try:
        from_data(data)
    except InputError:
        # A sequence or answer of an older shape: the hole alone is still worth looking at.
        for key in ("sequence", "sequence_only", "evidence"):
            hole.pop(key, None)
        from_data(data)
    return data
