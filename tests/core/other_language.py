"""What the core works out in one language, without its words: figures, counts, and which words were asked for."""

from __future__ import annotations

import json
import sys
from collections.abc import Mapping
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any

from cordwainer.core import language


def bones(thing: Any) -> Any:
    """A result with every text taken for itself alone."""
    if is_dataclass(thing):
        return [bones(getattr(thing, each.name)) for each in fields(thing)]
    if isinstance(thing, Mapping):
        return [bones(value) for value in thing.values()]
    if isinstance(thing, (list, tuple)):
        return [bones(value) for value in thing]
    if isinstance(thing, str):
        return bool(thing)
    return thing if thing is None or isinstance(thing, (int, float)) else type(thing).__name__


def worked_out() -> list[Any]:
    """Plans, the order of a batch, an explanation, short questions."""
    from cordwainer.core.training import drills, scales
    from cordwainer.files import case, shop
    from cordwainer.files.job import from_data
    from cordwainer.files.plan import plan_data, plan_job
    from cordwainer.files.schedule import schedule_data, schedule_job
    from tests.jobs import job_data

    asked = [
        {"id": "R", "diameter": "12 mm", "tolerance": "H7", "depth": "30 mm"},
        {"id": "B", "diameter": "33 mm", "tolerance": "H7", "depth": "60 mm", "finish": "1.6 um"},
        {"id": "T", "kind": "tapped", "thread": "3/8-16", "depth": "1 in"},
    ]
    found: list[Any] = []
    for machine, material in (("bench_lathe", "aluminum_wrought"), ("drill_press", "stainless_austenitic")):
        job = from_data(job_data(*asked, machine=machine, material=material))
        plans = plan_job(job, shop.load("demo"))
        found.append([plan_data(job, plans, 0), schedule_data(schedule_job(job, shop.load("demo")))])
        found.append([[r.chance, r.chance_all] for p in plans for r in p.routes])
    cases = sorted((Path(__file__).parents[1] / "data" / "cases").glob("*.case.json"))
    found += [case.explanation_data(case.load(each)) for each in cases[::4]]
    for seed in range(60):
        for kind in (scales, drills):
            question = kind.question(seed)
            found.append([len(question.choices), question.value, question.within, question.par_s])
    return [bones(each) for each in found]


if __name__ == "__main__":
    language.take(sys.argv[1])
    print(json.dumps(worked_out()))
