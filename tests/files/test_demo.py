"""The demonstration: an inch and two metric holes, one gone wrong, all with the demo crib."""

from __future__ import annotations

from pathlib import Path

import pytest

import cordwainer
from cordwainer.core.diagnosis.posterior import rank
from cordwainer.core.measuring.finding import Measured, Reading
from cordwainer.core.measuring.verdict import assess
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import demo_shop
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.tables import document
from cordwainer.files import job as job_files
from cordwainer.files.plan import plan_job
from cordwainer.ui.desk.demos import DEMOS

DATA = Path(cordwainer.__file__).parent / "data"


@pytest.fixture(scope="module")
def demo() -> job_files.Job:
    """The demo job."""
    return job_files.from_data(document("demo.job.json"))


def test_it_reads_without_a_warning(demo: job_files.Job) -> None:
    assert not demo.warnings
    assert [h.unit for h in demo.holes] == ["mm", "in", "mm"]
    assert [h.kind for h in demo.holes] == ["sized", "sized", "plain"]
    assert job_files.to_data(demo.file) == document("demo.job.json")


def test_every_hole_has_a_sequence_in_the_demo_crib(demo: job_files.Job) -> None:
    for plan in plan_job(demo, demo_shop()):
        assert plan.routes, plan.why_not
        assert all(o.tool is None or o.tool.drawer for o in plan.routes[0].operations)


def test_one_hole_went_wrong_and_has_a_likely_cause(demo: job_files.Job) -> None:
    index = next(i for i, h in enumerate(demo.file.holes) if h.measured)
    entry = demo.file.holes[index].measured
    assert entry is not None
    finding = assess(
        Measured(
            hole=demo.holes[index],
            material=demo.material,
            gauge=Gauge("g", entry.gauge, 0, 100, 0.001),
            readings=tuple(Reading(r.depth.mm, r.size.mm, r.direction_deg) for r in entry.readings),
            part_c=entry.part_temperature_c,
            gauge_c=entry.gauge_temperature_c,
        )
    )
    assert finding.verdict == "reject" and finding.form == ("bell_mouth",)
    from cordwainer.core.diagnosis.evidence import Case, Sizes

    entry_mm, middle_mm, exit_mm = finding.entry_mm, finding.middle_mm, finding.exit_mm
    assert entry_mm and middle_mm and exit_mm
    case = Case(
        diameter_mm=demo.holes[index].nominal_mm,
        operations=("center_drill", "drill", "ream"),
        limits_mm=(demo.holes[index].limits.lower_mm, demo.holes[index].limits.upper_mm),
        sizes=Sizes((entry_mm,), (middle_mm,), (exit_mm,)),
        answers={k: str(v) for k, v in demo.file.holes[index].evidence.items()},
    )
    assert rank(case)[0].id == "rm_misaligned"


def test_other_machines_plan_it_too(demo: job_files.Job) -> None:
    shop = demo_shop()
    for machine in shop.machines:
        plan = plan_hole(demo.holes[2], shop, machine, demo.material)
        assert plan.routes, (machine.id, plan.why_not)


def test_the_package_carries_its_typeface_and_license() -> None:
    letters = {f"B612-{weight}.{kind}" for weight in ("Regular", "Bold") for kind in ("otf", "ttf")}
    assert {p.name for p in (DATA / "fonts").iterdir()} == letters | {"OFL.txt", "ABOUT.txt"}
    assert "SIL OPEN FONT LICENSE" in (DATA / "fonts" / "OFL.txt").read_text()


def test_no_table_is_without_a_reader() -> None:
    source = "\n".join(p.read_text() for p in DATA.parent.rglob("*.py"))
    for table in (*DATA.glob("*.csv"), *DATA.glob("*.json")):
        assert table.stem in source, table.name


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_every_demo_job_reads_plans_and_keeps_off_the_worn_examples(name: str) -> None:
    data = document(name)
    job = job_files.from_data(data)
    assert not job.warnings and job.file.name.split(",")[0] in DEMOS[name]
    for plan in plan_job(job, demo_shop()):
        assert plan.routes, (plan.hole.id, plan.why_not)
        assert not plan.routes[0].missing_tools
    for hole in job.holes:
        reamed = hole.kind == "sized"
        assert not (reamed and abs(hole.nominal_mm - 12.7) < 1e-6) and not (reamed and hole.nominal_mm == 10)
