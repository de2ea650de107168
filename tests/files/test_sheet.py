"""The shop sheet: text to select, nothing past the margins at either paper, the figures of the cards."""

from __future__ import annotations

import json
import subprocess
import sys
import xml.etree.ElementTree as tree
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QRectF
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QApplication

from cordwainer.core.planning.machine.card import card_of
from cordwainer.core.planning.words.names import print_size
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.tables import packaged
from cordwainer.files import job as job_files
from cordwainer.files.plan import plan_job
from cordwainer.files.section_drawing import section
from cordwainer.files.sheet import MARGIN_MM, section_svg, sequence_text, sheet_pdf
from tests.jobs import job_data

POINTS = 72 / 25.4
DEMOS = ("demo.job.json", "demo_strap.job.json", "demo_clicker.job.json", "demo_splitter.job.json")


def planned(name: str) -> tuple[job_files.Job, tuple[HolePlan, ...]]:
    """A demo job with its plans."""
    job = job_files.from_data(json.loads(packaged(name)))
    return job, plan_job(job, built_in("demo"))


def opened(content: bytes) -> tuple[QPdfDocument, QBuffer]:
    """A PDF as a reader sees it; the buffer has to live as long."""
    buffer = QBuffer()
    buffer.setData(QByteArray(content))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    return document, buffer


@pytest.mark.parametrize("paper", ["a4", "letter"])
@pytest.mark.parametrize("name", DEMOS)
def test_a_page_a_hole_with_every_figure_as_text_inside_the_margins(
    qapp: QApplication, name: str, paper: str
) -> None:
    job, plans = planned(name)
    machine = built_in("demo").machine(job.file.machine)
    document, _held = opened(sheet_pdf(job, plans, machine, paper))
    assert document.pageCount() == len(plans)  # each of these fits its page
    size = document.pagePointSize(0)
    wide = {"a4": 210, "letter": 215.9}[paper]
    assert size.width() == pytest.approx(wide * POINTS, abs=0.6)
    room = QRectF(0, 0, size.width(), size.height()).adjusted(
        *(s * (MARGIN_MM - 1) * POINTS for s in (1, 0, -1, 0))
    )
    for page, plan in enumerate(plans):
        everything = document.getAllText(page)
        text = everything.text().replace("\r\n", "\n")
        for box in everything.bounds():
            edge = box.boundingRect()
            assert edge.left() >= room.left() and edge.right() <= room.right(), (page, edge)
            assert edge.top() > 0 and edge.bottom() < size.height() - 5 * POINTS
        route = plan.recommended
        assert route is not None and plan.hole.id in text and "a qualified person on the spot" in text
        flat = " ".join(text.split())
        for index, operation in enumerate(route.operations):
            card = card_of(route, index, machine, job.file.units)
            assert card.name.split()[0] in flat
            if card.start:
                assert f"{card.start} → {card.stop}" in flat
            for caution in operation.cautions:
                assert " ".join(caution.text.split()[:5]) in flat, caution.id


def test_many_steps_run_over_to_a_second_page_with_the_heads_again(qapp: QApplication) -> None:
    job, plans = planned("demo.job.json")
    route = plans[0].routes[0]
    long = HolePlan(plans[0].hole, (type(route)("balanced", route.operations * 6, 1.0, 0.5, 1.0),))
    document, _held = opened(sheet_pdf(job, [long], built_in("demo").machine(job.file.machine)))
    assert document.pageCount() >= 3
    assert all("Step and tool" in document.getAllText(page).text() for page in range(2))


def test_a_drawer_and_a_name_without_end_still_make_a_sheet(qapp: QApplication) -> None:
    job, plans = planned("demo.job.json")
    route = plans[0].recommended
    assert route is not None
    drawn = next(o for o in route.operations if o.kind == "drill")
    assert drawn.tool is not None
    tool = replace(drawn.tool, drawer="under the bench " * 400, designation="long " * 900)
    odd = replace(route, operations=(replace(drawn, tool=tool),))
    content = sheet_pdf(job, (replace(plans[0], routes=(odd,)),), built_in("demo").machines[0], "a4")
    document, _held = opened(content)
    assert "long long long" in " ".join(document.getAllText(0).text().split())


def test_a_hole_without_a_route_says_why(qapp: QApplication) -> None:
    entry = {
        "id": "Q",
        "kind": "sized",
        "diameter": "16 mm",
        "tolerance": "H7",
        "depth": "20 mm",
        "through": True,
        "finish_ra_um": 0.2,
    }
    job = job_files.from_data(job_data(entry))
    plans = plan_job(job, built_in("demo"))
    document, _held = opened(sheet_pdf(job, plans, built_in("demo").machine(job.file.machine)))
    text = " ".join(document.getAllText(0).text().split())
    assert "No route" in text and plans[0].why_not[0].split(";")[0][:40] in text


@pytest.mark.parametrize("name", DEMOS)
def test_the_section_is_drawn_to_scale_and_stays_in_its_box(name: str) -> None:
    job, plans = planned(name)
    for plan in plans:
        shapes = section(plan.hole, plan.recommended, "mm", 180.0, 60.0)
        places = [point for shape in shapes for point in shape.points]
        assert all(-0.01 <= x <= 180.01 and -0.01 <= y <= 60.01 for x, y in places), plan.hole.id
        root = tree.fromstring(section_svg(plan, plan.recommended, job.file.units).encode())
        words = [node.text for node in root.iter() if node.tag.endswith("text")]
        assert root.get("viewBox") == "0 0 180 90" and any(
            word and print_size(plan.hole, job.file.units) in word for word in words
        )
        hole = plan.hole
        final = max((s for s in shapes if s.closed and s.wide_mm == 0.5), key=lambda s: len(s.points))
        xs, ys = [x for x, _ in final.points], [y for _, y in final.points]
        if hole.kind in ("sized", "plain") and hole.through and not hole.mouth.countersink:
            across, deep = max(ys) - min(ys), max(xs) - min(xs)
            assert plan.recommended is not None
            size = [o.diameter_mm for o in plan.recommended.operations if o.sizes_hole][-1]
            assert across / deep == pytest.approx((size or 0.0) / hole.depth_mm, rel=0.01)


def test_a_sequence_copied_as_text_reads_a_line_a_step() -> None:
    job, plans = planned("demo.job.json")
    route = plans[0].routes[0]
    text = sequence_text(plans[0], route, built_in("demo").machine(job.file.machine), "mm")
    lines = text.splitlines()
    assert len(lines) == 1 + len(route.operations) and lines[0].startswith("P1 pivot bore: Ø20 +0.021 0")
    assert "readout 0.000 to" in lines[1] and "rpm" in lines[1]


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    """The command line."""
    return subprocess.run(
        [sys.executable, "-m", "cordwainer", "sheet", *arguments], capture_output=True, text=True, timeout=120
    )


def test_the_command_writes_whole_files_or_none(tmp_path: Path) -> None:
    job = tmp_path / "arm.job.json"
    job.write_bytes(packaged("demo.job.json"))
    done = run(str(job), "--shop", "demo", "--paper", "letter", "-o", str(tmp_path / "arm.pdf"), "--json")
    assert done.returncode == 0 and json.loads(done.stdout)["holes"] == ["P1", "P2", "P3"]
    assert (tmp_path / "arm.pdf").read_bytes().startswith(b"%PDF")
    one = run(str(job), "--shop", "demo", "--hole", "P3", "-o", str(tmp_path / "p3.svg"))
    assert one.returncode == 0 and "<svg" in (tmp_path / "p3.svg").read_text()
    for arguments, words in (
        ((str(job), "-o", str(tmp_path / "x.svg")), "name it with --hole"),
        ((str(job), "--paper", "a9", "-o", str(tmp_path / "x.pdf")), "a4, letter"),
        ((str(job), "--hole", "Z", "-o", str(tmp_path / "x.pdf")), "it has P1, P2, P3"),
        ((str(job), "-o", str(tmp_path / "no" / ".." / "arm.job.json" / "x.pdf")), "could not be written"),
        ((str(tmp_path / "none.json"), "-o", str(tmp_path / "x.pdf")), "no such file"),
    ):
        bad = run(*arguments)
        assert bad.returncode == 2 and words in bad.stderr and len(bad.stderr.splitlines()) == 1, bad.stderr
    assert not list(tmp_path.glob("x.*")) and not list(tmp_path.glob(".*"))
