"""Drawings as files: what a corpus asks for is read, damaged ones are refused, what is taken is a job."""

from __future__ import annotations

import json
import shutil
from collections import Counter
from pathlib import Path

import ezdxf
import pytest

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.core.lengths import parse
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.core.prints.words import Box
from cordwainer.files import job as job_files
from cordwainer.files.hole_csv import read_text
from cordwainer.files.prints.demo import demo_drawing
from cordwainer.files.prints.dxf_text import note_lines
from cordwainer.files.prints.pdf import PdfFile
from cordwainer.files.prints.read import read_print
from cordwainer.files.prints.review import of_list, of_print
from tests.scripts import script


@pytest.mark.parametrize("hand", ["bench", "other", "aside"])
def test_what_a_drawing_asks_for_is_read_and_nothing_wrong_is_taken(hand: str, tmp_path: Path) -> None:
    make, judge = script("make_drawings"), script("run_drawings")
    make.make_pdf(tmp_path, 6, hand)
    for seed in range(7):  # one of each version
        make.dxf_of(seed, hand, tmp_path / f"{hand}_{seed:03}.dxf")
    for kind, least in (("pdf", 20), ("dxf", 25)):
        tally: Counter[str] = Counter()
        for path in sorted(tmp_path.glob(f"*.{kind}")):
            truth = json.loads(path.with_name(path.name + ".json").read_text())
            judge.judge(read_print(path, "mm").read, truth, tally, path.stem, False, kind)
        right = tally["right"] + tally["right, in doubt"]
        assert tally["asked"] >= least and right >= 0.9 * tally["asked"], tally
        assert not tally["WRONG SILENTLY"] and not tally["TAKEN THOUGH NO HOLE"], tally


@pytest.mark.parametrize("kind", ["pdf", "dxf"])
def test_the_demo_drawing_goes_in_whole(kind: str) -> None:
    review = of_print(read_print(demo_drawing(f"skiver_arm.{kind}"), "in"))
    assert (review.unit, review.counted()) == ("mm", "5 read, 1 in doubt") and str(review.thickness) == "16 mm"
    entries, left = review.take(review.sure(), ["A"])
    assert not left and [e["id"] for e in entries] == ["B", "C", "D", "E", "F"]
    data = job_files.blank() | {"holes": entries}
    holes = job_files.from_data(data).holes
    assert sorted((h.kind, h.count) for h in holes) == [
        ("counterbored", 4), ("sized", 1), ("sized", 1), ("sized", 1), ("tapped", 2),
    ]  # fmt: skip
    assert all(e["print"]["text"] and e["print"]["sheet"] == 1 for e in entries)
    if kind == "dxf":
        assert "6 callouts for 10 circles" in review.said
        assert {tuple(p) for e in entries for p in e.get("places", ())} >= {
            ("22 mm", "35 mm"),
            ("146 mm", "18 mm"),
        }


def test_doubts_are_settled_one_by_one_and_undone_with_their_holes() -> None:
    review = of_list(Path("list.txt"), read_text("hole\n9 thru 12\nØ12 H7\n", "mm", (), "ISO 2768-m"), "mm")
    assert [i.state for i in review.items] == [SURE, DOUBT] and "line 3" in review.items[1].found.why
    added = review.add("Ø5.5", Box(0, 0, 10, 4, 0), 0)
    with pytest.raises(InputError, match="how deep"):
        review.accept(added)
    review.settle(added, "through")
    assert review.items[added].state == SURE
    with pytest.raises(InputError, match="how thick"):
        review.entry(added, set())
    review.thickness = parse("10 mm", "mm")
    review.retype(1, "Ø12 H7 20 deep")
    entries, left = review.take([0, 1, added], [])
    assert not left and [e.get("depth") for e in entries] == ["12 mm", "20 mm", "10 mm"]
    assert review.sure() == []
    review.taken_stand({entries[0]["id"]})
    assert review.sure() == [1, added]
    review.is_no_hole(added)
    assert review.items[added].state == NO_HOLE
    with pytest.raises(InputError):
        review.retype(1, "  ")


def test_circles_without_callouts_are_holes_once_somebody_says_so(tmp_path: Path) -> None:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 0
    for k in range(5):
        document.modelspace().add_circle((10 + 12 * k, 8), 2.1, dxfattribs={"layer": "wick"})
    path = tmp_path / "plate.dxf"
    document.saveas(path)
    review = of_print(read_print(path, "mm"))
    assert not review.unit_said and review.sure() == [] and "unit" in review.items[0].found.why
    review.set_unit("in")
    assert review.items[0].found.text == "5 circles Ø4.2 in on layer wick"
    review.set_unit("mm")
    review.thickness = parse("14 mm", "mm")
    (entry,), _ = review.take(review.sure(), [])
    assert (entry["count"], entry["diameter"], entry["name"]) == (5, "4.2 mm", "wick")


def test_formatted_notes_are_read() -> None:
    # codes of drawing files, common practice
    assert note_lines(r"{\fgdt|b0;n}12 \S+0.02^-0.01;\P\H0.7x;M6 {\Fgdt;x}10") == ["Ø12 +0.02/-0.01", "M6 ↧10"]
    assert note_lines(r"\U+22051/4 \S1/16;") == ["Ø1/4 1/16"] and note_lines(r"%%c10 \S10.018^10.000;")[0] == (
        "Ø10 10.000/10.018"
    )


def test_pages_are_pictures_and_damage_is_said(tmp_path: Path) -> None:
    with PdfFile(demo_drawing()) as file:
        wide, high, gray = file.picture(0, 1.0)
        assert (wide, high) == (842, 596) and len(gray) == wide * high and min(gray) < 80 and max(gray) == 255
        with pytest.raises(StoppedError):
            file.sheet(0, lambda: True)
    for name, content, words in (
        ("empty.pdf", b"", "no PDF"),
        ("text.pdf", b"%PDF-1.4 nothing more", "no PDF"),
        ("drawing.dxf", b"\x00\xff" * 50, "no DXF"),
        ("drawing.step", b"ISO-10303-21;", "are read as"),
    ):
        path = tmp_path / name
        path.write_bytes(content)
        with pytest.raises(InputError, match=words):
            read_print(path, "mm")
    for name in ("gone.pdf", "gone.dxf"):
        with pytest.raises(InputError, match="could not be read: there is no such file"):
            read_print(tmp_path / name, "mm")


def test_a_scan_says_so(tmp_path: Path) -> None:
    from reportlab.pdfgen.canvas import Canvas

    path = tmp_path / "scan.pdf"
    canvas = Canvas(str(path))
    canvas.rect(100, 100, 200, 200)
    canvas.save()
    read = read_print(path, "mm").read
    assert read.found == () and "scan" in read.said[0] and read.sheets[0].scanned


def test_it_reads_from_the_terminal(tmp_path: Path) -> None:
    from click.testing import CliRunner

    from cordwainer.cli import cli

    drawing = tmp_path / "arm.pdf"
    shutil.copy(demo_drawing(), drawing)
    out = tmp_path / "arm.job.json"
    told = CliRunner().invoke(cli, ["read", str(drawing), "-o", str(out), "--json"])
    data = json.loads(told.stdout)
    assert told.exit_code == 0 and sorted(c["state"] for c in data["callouts"]) == ["doubt"] + ["sure"] * 5
    assert data["notes"]["material_id"] == "medium_carbon_steel" and len(data["holes"]) == 5
    assert len(job_files.load(out).holes) == 5
    again = CliRunner().invoke(cli, ["read", str(drawing), "-o", str(out)])
    assert again.exit_code == 2 and "--force" in again.stderr


@pytest.mark.parametrize("how", ["ordinate", "edges", "chain", "none"])
def test_places_are_counted_from_where_the_dimensions_start(how: str, tmp_path: Path) -> None:
    document = ezdxf.new("R2010", setup=True)
    document.header["$INSUNITS"] = 4
    space = document.modelspace()
    zero, holes = (112.0, 58.0), [(20.0, 15.0), (60.0, 15.0), (60.0, 40.0)]
    centers = [(zero[0] + x, zero[1] + y) for x, y in holes]
    for number, (x, y) in enumerate(centers):
        space.add_circle((x, y), 4)
        before = zero if number == 0 or how == "edges" else centers[number - 1]
        if how == "ordinate":
            space.add_ordinate_x_dim((x, y), (0, 12), origin=zero).render()
            space.add_ordinate_y_dim((x, y), (12, 0), origin=zero).render()
        elif how != "none":
            space.add_linear_dim(base=(x, y - 30), p1=(before[0], zero[1]), p2=(x, y)).render()
            space.add_linear_dim(base=(x + 30, y), p1=(zero[0], before[1]), p2=(x, y), angle=90).render()
    space.add_text("3X %%c8 H8 THRU 12", height=2.5).set_placement((zero[0] + 70, zero[1] + 48))
    document.saveas(tmp_path / "plate.dxf")
    review = of_print(read_print(tmp_path / "plate.dxf", "mm"))
    assert review.zero == pytest.approx(zero if how != "none" else (0.0, 0.0))
    entries, _ = review.take(review.sure(), [])
    shift = (0.0, 0.0) if how != "none" else zero
    assert {tuple(p) for p in entries[0]["places"]} == {
        (f"{x + shift[0]:g} mm", f"{y + shift[1]:g} mm") for x, y in holes
    }


@pytest.mark.parametrize("way", ["blind", "lying", "through", "flat", "said otherwise", "no length", "a pin"])
def test_a_section_says_how_deep_a_blind_hole_goes(way: str, tmp_path: Path) -> None:
    """Walls from 0 to 25, a drill's point under them: the length beside them is the depth, and only then."""
    document = ezdxf.new("R2010", setup=True)
    document.header["$INSUNITS"] = 4
    space = document.modelspace()

    def put(x: float, y: float) -> tuple[float, float]:
        return (y + 70, x + 30) if way == "lying" else (x + 30, 70 - y)

    for x in (-4, 4):
        space.add_line(put(x, 0), put(x, 25))
        if way not in ("through", "flat"):
            space.add_line(put(x, 25), put(0, 27.4))
    if way == "flat":
        space.add_line(put(-4, 25), put(4, 25))
    turned, beside = (90, 0) if way == "lying" else (0, 90)
    space.add_linear_dim(
        base=put(0, -9), p1=put(-4, 0), p2=put(4, 0), angle=turned, text="%%c8" if way == "a pin" else "%%c8 H7"
    ).render()
    if way != "no length":
        told = {"text": "24" if way == "said otherwise" else "<>", "override": {"dimlfac": 1.0}}
        space.add_linear_dim(base=put(14, 0), p1=put(4, 0), p2=put(4, 25), angle=beside, **told).render()
    document.saveas(tmp_path / "section.dxf")
    review = of_print(read_print(tmp_path / "section.dxf", "mm"))
    hole = next(item for item in review.items if "Ø8" in item.found.text)
    if way in ("blind", "lying"):
        assert hole.state == SURE and str(hole.found.callout.depth) == "25 mm", hole.found
    else:
        assert hole.state == DOUBT and ("outside" if way == "a pin" else "how deep") in hole.found.why
