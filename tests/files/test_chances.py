"""The model's chances from a second process are those worked out in this one."""

from __future__ import annotations

import json
import os
import subprocess
import sys

import pytest

from cordwainer.core.shop.catalog import built_in
from cordwainer.files.chances import Chances
from cordwainer.files.job import Job, from_data
from cordwainer.files.plan import plan_data, plan_job
from tests.jobs import job_data

HOLES = [{"id": name, "diameter": size, "depth": "30 mm"} for name, size in (("A", "8.7 mm"), ("B", "12.3 mm"))]
HOLES += [{"id": "T", "kind": "tapped", "thread": "M8x1.25", "depth": "18 mm"}]

APART = """
import json, sys
from cordwainer.files import chances
from tests.files.test_chances import asked, job, refused
if sys.argv[1] == "refused":
    chances.ProcessPoolExecutor = refused
told, second = asked(job(), end_early=sys.argv[1] == "early")
print(json.dumps([told, second]))
"""


def job() -> Job:
    return from_data(job_data(*HOLES))


def asked(found: Job, *, end_early: bool = False) -> tuple[object, bool]:
    """PLAN by way of `Chances`, and whether a second process was there at the start."""
    shop = built_in("catalog")
    with Chances(found, shop, samples=2000) as chances:
        second = chances._second
        plans = plan_job(found, shop, made=chances.ask)
        if end_early and second is not None:
            for process in second._processes.values():
                process.kill()
        chances.finish(plans)
        return plan_data(found, plans, 0, chances), second is not None


def refused(*given: object) -> None:
    """As where shared memory may not be written."""
    raise PermissionError(13, "Permission denied")


@pytest.mark.parametrize("how", ["whole", "early", "refused"])
def test_a_second_process_says_what_this_one_would(how: str) -> None:
    here, _ = asked(job())  # beside other threads nothing is forked
    run = [sys.executable, "-c", APART, how]
    told, second = json.loads(subprocess.run(run, capture_output=True, text=True, check=True).stdout)
    assert second == (how != "refused" and len(os.sched_getaffinity(0)) > 1)
    assert told == json.loads(json.dumps(here))
    assert all(r["chance_in_tolerance"] is not None for h in told["holes"] for r in h["routes"])
