"""Damaged files through every door of the program: none may bring a traceback, a hang or a hunger for memory.

Files of each kind are made from sound ones by damage as it happens (bits turned, cut short, joined) and as it is
meant (values swapped for awkward ones, nested, repeated, renamed). What breaks is kept to be looked at.
"""

from __future__ import annotations

import argparse
import copy
import ctypes
import gc
import json
import multiprocessing
import os
import random
import subprocess
import sys
import tempfile
import time
import traceback
import warnings
from collections import deque
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path
from typing import Any

from click.testing import CliRunner

from cordwainer.core.errors import CordwainerError

SLOW_S, MOST_MB, MOST_PLACES, MOST_TEXT = 5.0, 500.0, 20_000, 6_000_000
AWKWARD: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 2**31, 10**40, -1e308, 1e308, 1e-320, 0.1, float("nan"), float("inf"), "", " ",
    "0 mm", "-1 mm", "1e9 mm", "0.0000000001 mm", "9" * 400 + " mm", "1/0 in", "#7", "letter Z", "\ud800",
    "\u202e", "\x00", "=1+1", "a" * 100_000, [], {}, [[]], [None], {"": {}}, "H7", "nan mm", "١٢ mm", "½ in",
)  # fmt: skip


def base_job() -> dict[str, Any]:
    """A job with holes of most kinds."""
    from cordwainer.core.tables import document

    found: dict[str, Any] = dict(document("demo.job.json"))
    return found


def documents() -> dict[str, list[Any]]:
    """Sound documents of each kind the commands read."""
    from cordwainer.core.shop.catalog import built_in
    from cordwainer.files.shop_out import shop_data

    job = base_job()
    shop = shop_data(built_in("demo"))
    small = shop | {"tools": shop["tools"][::40], "format": "cordwainer-shop", "version": 1}
    hole = {"id": "A", "diameter": "18 mm", "tolerance": "H7", "depth": "32 mm", "through": True}
    readings = {
        "format": "cordwainer-readings", "version": 1, "hole": hole,
        "gauge": {"kind": "two_point_bore_gauge", "resolution": "0.002 mm", "jaw_width": "0.3 mm"},
        "part_temperature_c": 31, "gauge_temperature_c": 21, "deburred": True,
        "readings": [{"depth": d, "direction_deg": a, "size": s} for d, a, s in (("2 mm", 0, "18.012 mm"),
            ("2 mm", 90, "18.01 mm"), ("16 mm", 0, "18.008 mm"), ("30 mm", 0, "18.02 mm"))],
        "pins": [{"size": "18.00 mm", "goes": True, "depth": "30 mm"}],
        "offset": {"entry": "0.02 mm", "exit": "0.1 mm"},
    }  # fmt: skip
    points = dict(readings) | {"readings": [], "points": [[9, 0, 1], [0, 9, 1], [-9, 0, 1], [0, -9, 1], [9, 0, 20],
        [0, 9, 20], [-9, 0, 20], [0, -9, 20]]}  # fmt: skip
    scale = {
        "format": "cordwainer-scale", "version": 1,
        "machine_scale": {"kind": "carriage_handwheel", "start_reading": "0.1 in", "travel_limit": "4 in",
            "division": "0.001 in", "per_rev": "0.100 in", "unit": "in", "direction": "increases"},
        "tool": {"diameter": "12 mm", "point_angle": 118, "zero_on": "edge_touch", "hole_diameter": "8 mm"},
        "ask": {"depth_full": "20 mm"}, "pecks": [{"depth": "18 mm", "of": "tip"}],
    }  # fmt: skip
    chamfer = dict(scale) | {"ask": {"chamfer_width": "1 mm"}}
    case = {
        "format": "cordwainer-case", "version": 1,
        "hole": {"diameter": "0.375 in", "limits": ["0.375 in", "0.381 in"], "depth": "1 in"},
        "operations": ["center_drill", "drill", "ream"], "machine": "drill_press", "material": "bronze",
        "sizes": {"entry": ["0.3880 in", "0.3878 in"], "middle": ["0.387 in"], "exit": ["0.3865 in"]},
        "offset": {"entry": "0.02 mm", "exit": "0.15 mm", "tolerance": "0.1 mm"},
        "evidence": {"q_chips_lips": "uneven"},
    }  # fmt: skip
    return {
        "job": [job | {"holes": [hole]} for hole in job["holes"]],
        "shop": [small], "readings": [readings, points], "scale": [scale, chamfer], "case": [case],
    }  # fmt: skip


def places(document: Any) -> list[tuple[Any, ...]]:
    """The places in a document, down to a depth no sound one has, as many as any sound one has."""
    found: list[tuple[Any, ...]] = []
    waiting = deque([((), document)])
    while waiting and len(found) < MOST_PLACES:
        path, value = waiting.popleft()
        children = (
            value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
        )
        for key, child in children:
            found.append((*path, key))
            if len(path) < 60:
                waiting.append(((*path, key), child))
    return found


def meant(document: Any, dice: random.Random) -> Any:
    """A document with a few of its values made awkward."""
    data = json.loads(json.dumps(document))
    for _ in range(dice.choice((1, 1, 1, 2, 3, 6))):
        spots = places(data)
        if not spots:
            break
        *way, last = dice.choice(spots)
        holder = data
        for step in way:
            holder = holder[step]
        how = dice.randrange(8)
        if how == 0 and isinstance(holder, dict):
            del holder[last]
        elif how == 1 and isinstance(holder, list) and len(holder) < 100:
            holder.extend([holder[last]] * dice.choice((1, 50, 3000)))
        elif how == 2 and isinstance(holder, dict):
            holder[dice.choice(("x" * 300, "\ud800", "id", "", "sequence", "count"))] = holder.pop(last)
        elif how == 3:
            deep: Any = holder[last]
            for _ in range(dice.choice((3, 60, 300))):
                deep = [deep]
            holder[last] = deep
        elif how == 4 and isinstance(holder[last], int | float) and not isinstance(holder[last], bool):
            holder[last] = holder[last] * dice.choice((-1, 0, 1e-9, 1e9, 1e300))
        elif how == 5 and isinstance(holder[last], str):
            holder[last] = holder[last].replace(dice.choice("0123456789 mi"), dice.choice("09-./ \u2212x#"))
        else:
            holder[last] = copy.deepcopy(dice.choice(AWKWARD))
    return data


def damaged(content: bytes, dice: random.Random) -> bytes:
    """Bytes with damage as disks and people do it."""
    found = bytearray(content)
    for _ in range(dice.choice((1, 1, 2, 5, 20))):
        if not found:
            break
        at, how = dice.randrange(len(found)), dice.randrange(6)
        if how == 0:
            found[at] ^= 1 << dice.randrange(8)
        elif how == 1:
            del found[at : at + dice.choice((1, 3, 40, 1000))]
        elif how == 2:
            found[at:at] = bytes(dice.randrange(256) for _ in range(dice.choice((1, 4, 30))))
        elif how == 3:
            piece = found[at : at + dice.choice((1, 10, 200))]
            found[at:at] = piece * dice.choice((1, 2, 30))
        elif how == 4:
            del found[at:]
        else:
            found[at : at + 1] = dice.choice((b"9", b"-", b'"', b"{", b"\n", b"\xff", b"e", b"."))
    return bytes(found)


def commands(kind: str, path: Path) -> list[list[str]]:
    """What a machinist would do with a file of a kind at the command line."""
    name = str(path)
    if kind == "job":
        return [[("plan", "plan", "plan", "schedule")[path.stat().st_size % 4], name, "--shop", "demo"]]
    return [{"shop": ["shop", name], "readings": ["measure", name], "scale": ["scale", name],
        "case": ["diagnose", name]}[kind] + ["--json"]]  # fmt: skip


def through_commands(kind: str, path: Path) -> None:
    """Through the entry points; raises what a command lets out."""
    from cordwainer.__main__ import WORDS  # what the starter knows
    from cordwainer.cli import cli

    for arguments in commands(kind, path):
        assert arguments[0] in WORDS
        done = CliRunner().invoke(cli, arguments)
        if done.exception is not None and not isinstance(done.exception, SystemExit):
            raise done.exception
        if done.exit_code not in (0, 1, 2) or "Traceback" in done.output:
            raise AssertionError(f"exit {done.exit_code}: {done.output[-300:]}")


def through_review(path: Path) -> None:
    """A drawing read, gone through, taken, looked at, and given out with balloons."""
    from cordwainer.core.lengths import parse
    from cordwainer.files.job import blank, from_data
    from cordwainer.files.prints.balloons import ballooned, balloons_of
    from cordwainer.files.prints.pdf import PdfFile
    from cordwainer.files.prints.read import read_print
    from cordwainer.files.prints.report import review_data
    from cordwainer.files.prints.review import of_print

    review = of_print(read_print(path, "mm"))
    review.thickness = parse("12 mm", "mm")
    review.set_unit("in")
    review.set_unit("mm")
    entries, _ = review.take(review.sure(), ())
    json.dumps(review_data(review, entries))
    job = from_data(blank() | {"holes": entries[:20]})
    if path.suffix == ".pdf":
        with PdfFile(path) as file:
            for page in range(min(file.pages, 3)):
                file.picture(page, 1.0)
        if entries:
            ballooned(*balloons_of(job))


def through(kind: str, path: Path) -> None:
    """Through the door a file of a kind comes in by; an error raised on purpose is an answer."""
    from cordwainer.core.measuring.points import read_csv, work_up
    from cordwainer.core.shop.catalog import built_in
    from cordwainer.files import crib, hole_csv, lists, places, run, tool_csv
    from cordwainer.files.documents import read_document
    from cordwainer.logbook.carry import import_json

    try:
        if kind in ("job", "shop", "readings", "scale", "case"):
            through_commands(kind, path)
        elif kind in ("drawing", "pdf"):
            through_review(path)
        elif kind == "tools":
            found = tool_csv.read_file(path, [])
            lists.refused_text(found.head, found.refused)
        elif kind == "holes":
            hole_csv.read_file(path, "mm", (), "ISO 2768-m")
        elif kind == "points":
            work_up(read_csv(lists.text_of(path)))
        elif kind == "run":
            for record in run.read(path).records:
                assert record.run is not None and record.hole is not None and record.operations is not None
                own_book().take_run(record)
        elif kind == "logbook":
            import_json(own_book(), path)
        elif kind == "crib":
            assert (
                crib.with_changes(built_in("demo"), crib.checked(read_document(path, crib.FORMAT))).tools
                is not None
            )
        elif kind == "settings":
            settings = places.Settings(path)
            settings.recent()
            settings.put("unit", "mm")
        elif kind == "recovery":
            places.Recovery(path.parent).left_behind()
    except CordwainerError as bad:
        str(bad).encode()


@cache
def own_book() -> Any:
    """A logbook of this process alone."""
    from datetime import datetime

    from cordwainer.logbook.book import Book

    return Book(Path(tempfile.mkdtemp(prefix="mutate-")) / "logbook.sqlite", datetime.now)


def run_lines() -> bytes:
    """A run record with an event of each kind."""
    begin = {"format": "cordwainer-run", "version": 1, "run": "r1", "what": "begin", "at": "2026-01-01T08:00:00",
        "hole": {"id": "A"}, "number": 1, "operations": [{"kind": "drill"}, {"kind": "ream"}]}  # fmt: skip
    events = [{"run": "r1", "what": w, "at": "2026-01-01T08:01:00", "operation": 0, "data": d} for w, d in (
        ("touch", {}), ("cleared", {"rung": 1}), ("start_reading", {"scale": "readout", "reading": "1 mm"}),
        ("felt", {"question": "q", "answer": "a"}), ("rpm", {"rpm": 300}), ("back", {"rung": 0}),
        ("plan", {"operations": [{"kind": "drill"}]}), ("done", {"minutes": 2}), ("finish", {}))]  # fmt: skip
    return "\n".join(json.dumps(line) for line in [begin, *events]).encode()


def logbook() -> bytes:
    """A logbook with a hole in it, as it is given out."""
    from cordwainer.files import run
    from cordwainer.logbook.carry import as_data

    path = Path(tempfile.mkdtemp(prefix="mutate-")) / "a.run.jsonl"
    path.write_bytes(run_lines())
    own_book().take_run(run.read(path).records[0])
    return json.dumps(as_data(own_book())).encode()


def sound() -> dict[str, list[bytes]]:
    """Sound files of each kind, as bytes."""
    found = {
        kind: [json.dumps(d, ensure_ascii=False).encode() for d in some] for kind, some in documents().items()
    }
    found["drawing"], found["pdf"] = drawings(), pdfs()
    found["tools"] = [
        b"id,kind,diameter,drawer,quantity\na1,drill,6.8 mm,3,2\na2,reamer,5/16 in,4,1\n,tap,M6,1,1\n"
    ]
    found["holes"] = [b"hole,count,x,y\n22 H7 thru 30,2,10 mm,5 mm\nM8 16 deep,4,,\n#7 thru 1,1,,\n"]
    found["points"] = [b"x,y,z\n9,0,1\n0,9,1\n-9,0,1\n0,-9,1\n9,0,20\n0,9,20\n-9,0,20\n0,-9,20\n"]
    found["run"], found["logbook"] = [run_lines()], [logbook()]
    crib = {"format": "cordwainer-crib", "version": 1, "shop": "demo", "removed": [], "gauges": {}, "practice": {},
        "changed": {"x": {"quantity": 2, "note": "sharp"}}, "machines": {"bench_lathe": {"power_kw": 1}},
        "added": [{"id": "n", "kind": "drill", "diameter": "7 mm"}]}  # fmt: skip
    found["crib"] = [json.dumps(crib).encode()]
    found["settings"] = [b'{"unit": "mm", "recent": ["/a"], "text_size": 125, "readout": {"port": "x"}}']
    found["recovery"] = [json.dumps({"pid": 4_000_000, "started": "5", "file": "/a", "job": base_job()}).encode()]
    return found


def drawings() -> list[bytes]:
    """Drawings with circles, arcs, polylines, splines, blocks in blocks and arrays of them."""
    import io

    import ezdxf

    drawing = ezdxf.new("R2010")
    space = drawing.modelspace()
    block = drawing.blocks.new("HOLE")
    block.add_circle((0, 0), 3)
    outer = drawing.blocks.new("ROW")
    outer.add_blockref("HOLE", (0, 0), {"row_count": 2, "column_count": 3, "row_spacing": 9, "column_spacing": 9})
    space.add_blockref("ROW", (50, 50))
    space.add_circle((5, 5), 2.1)
    space.add_arc((20, 5), 3, 0, 180)
    space.add_arc((20, 5), 3, 180, 360)
    space.add_lwpolyline([(30, 0, 0, 0, 1), (36, 0, 0, 0, 1)], close=True)
    space.add_ellipse((60, 5), (3, 0), 1.0)
    space.add_spline([(3, 0), (0, 3), (-3, 0), (0, -3), (3, 0), (0, 3), (-3, 0), (0, -3), (3, 0)])
    space.add_mtext(r"4X %%c9 THRU\P{\Fgdt;v}15 {\Fgdt;x}8.6", dxfattribs={"insert": (5, 30), "char_height": 2})
    space.add_leader([(6, 6), (5, 28)])
    space.add_text("%%c6 H7 THRU", height=2).set_placement((30, 30))
    space.add_diameter_dim((60, 5), radius=3, angle=40, text="2X <> THRU").render()
    out = io.StringIO()
    drawing.write(out)
    return [out.getvalue().encode()]


def one(kind: str, number: int, seed: int, base: dict[str, list[bytes]]) -> bytes:
    """One damaged file of a kind."""
    dice = random.Random(f"{seed} {kind} {number}")
    content = dice.choice(base[kind])
    if kind == "drawing" and dice.random() < 0.6:
        return _groups(content, dice)
    if kind == "pdf" and dice.random() < 0.6:
        return _figures(content, dice)
    if kind in ("tools", "holes", "points", "drawing", "pdf", "run") or dice.random() < 0.3:
        return damaged(content, dice)
    data = meant(json.loads(content), dice)
    text = json.dumps(data, ensure_ascii=dice.random() < 0.8)
    return text[:MOST_TEXT].encode("utf-8", "surrogatepass")


def _figures(content: bytes, dice: random.Random) -> bytes:
    """A PDF with a few of its figures or names swapped for awkward ones."""
    import re

    found = [*re.finditer(rb"(?<![A-Za-z])-?[0-9]+(?:\.[0-9]+)?|/[A-Za-z]+", content)]
    awkward = (
        b"0",
        b"-1",
        b"1e9",
        b"99999999999",
        b"0.0000001",
        b"-99999",
        b"nan",
        b"/X",
        b"[ ]",
        b"<< >>",
        b"null",
    )
    for match in sorted(dice.sample(found, dice.choice((1, 2, 6))), key=lambda m: -m.start()):
        content = content[: match.start()] + dice.choice(awkward) + content[match.end() :]
    return content


def pdfs() -> list[bytes]:
    """Drawings as PDF: the one that ships, and plain ones with turned, scaled and single characters."""
    import io

    from reportlab.pdfgen.canvas import Canvas

    from cordwainer.files.prints.demo import demo_drawing

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(400, 300), pageCompression=0, invariant=1)
    for number, line in enumerate(("4X \u00d89 THRU", "M8x1.25-6H 16 DEEP", "\u00d812 H7 THRU", ".250 DIA")):
        canvas.saveState()
        canvas.translate(60, 250 - 40 * number)
        canvas.rotate(30 * number)
        canvas.scale(1 + number / 2, 1)
        if number % 2:
            for k, character in enumerate(line):
                canvas.drawString(7 * k, 0, character)
        else:
            canvas.drawString(0, 0, line)
        canvas.restoreState()
    canvas.showPage()
    canvas.setPageRotation(90)
    canvas.drawString(60, 200, "DIMENSIONS ARE IN INCHES")
    canvas.bookmarkPage("a")
    canvas.linkURL("file:///etc/passwd", (0, 0, 100, 100))
    canvas.save()
    return [demo_drawing().read_bytes(), out.getvalue()]


def _groups(content: bytes, dice: random.Random) -> bytes:
    """A drawing with a few of its group values swapped for awkward ones, or sections of it gone."""
    lines = content.split(b"\n")
    for _ in range(dice.choice((1, 1, 2, 5))):
        at = dice.randrange(len(lines))
        how = dice.randrange(3)
        if how == 0:
            lines[at] = dice.choice(
                (b"0", b"-1", b"30000", b"1e308", b"nan", b"", b"x" * 5000, b"1e-300", b"9999999")
            )
        elif how == 1:
            del lines[at : at + dice.choice((1, 2, 40, 400))]
        else:
            lines[at:at] = lines[max(0, at - 40) : at] * dice.choice((1, 3))
    return b"\n".join(lines)


def tried(job: tuple[str, int, int, int, str]) -> tuple[str, int, list[str], float, float]:
    """A range of damaged files through their door: how many, what broke, the slowest in s, memory in MB."""
    kind, first, many, seed, keep = job
    base, bad, slowest, memory = sound(), [], 0.0, 0.0
    begun_with = _memory_mb("VmRSS")
    warnings.simplefilter("error", RuntimeWarning)
    with tempfile.TemporaryDirectory() as folder:
        for number in range(first, first + many):
            path = Path(folder) / f"file{ {'drawing': '.dxf', 'pdf': '.pdf'}.get(kind, '.json') }"
            for left in Path(folder).iterdir():
                left.unlink()
            content = one(kind, number, seed, base)
            path.write_bytes(content)
            _forget_peak(begun_with)
            begun = time.process_time()
            try:
                through(kind, path)
            except Exception as error:
                where = traceback.extract_tb(error.__traceback__)
                own = [f for f in where if "cordwainer" in f.filename] or where
                bad.append(f"{type(error).__name__} {str(error)[:80]!r} at {own[-1].filename}:{own[-1].lineno}")
                (Path(keep) / f"{kind}-{number}").write_bytes(content)
            took = time.process_time() - begun
            if took > SLOW_S:
                bad.append(f"slow: {took:.1f} s")
                (Path(keep) / f"{kind}-{number}").write_bytes(content)
            slowest, memory = max(slowest, took), max(memory, _memory_mb("VmHWM"))
    return kind, many, bad, slowest, memory


def _memory_mb(what: str) -> float:
    """A figure of this process's memory, as the system has it."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return int(next(line for line in lines if line.startswith(what)).split()[1]) / 1024


def _forget_peak(begun_with: float) -> None:
    """What the making of a file took counts no more: from here on it is the reading."""
    if _memory_mb("VmRSS") > begun_with + 60:
        gc.collect()
        ctypes.CDLL(None).malloc_trim(0)
    Path("/proc/self/clear_refs").write_text("5")


def real(many: int, seed: int) -> list[str]:
    """Damaged files through the command itself, in a process of its own each."""
    base, bad = sound(), list[str]()
    kinds = ["job", "shop", "readings", "scale", "case"]
    command = Path(sys.executable).parent / "cordwainer"
    with tempfile.TemporaryDirectory() as folder:
        for number in range(many):
            kind = kinds[number % len(kinds)]
            path = Path(folder) / "file.json"
            path.write_bytes(one(kind, 1_000_000 + number, seed, base))
            for arguments in commands(kind, path):
                begun = time.monotonic()
                done = subprocess.run([command, *arguments], capture_output=True, text=True, check=False)
                loud = [w for w in ("Traceback", "Warning") if w in done.stderr]
                if done.returncode not in (0, 1, 2) or loud or time.monotonic() - begun > 4 * SLOW_S:
                    bad.append(f"{kind} {number}: exit {done.returncode}, {done.stderr[-200:]}")
    return bad


def main() -> int:
    """Try so many of each kind; 1 where something broke."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("many", type=int, nargs="?", default=1000, help="files of each kind")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--kinds", default="")
    parser.add_argument("--real", type=int, default=0, help="files through the command itself")
    parser.add_argument("--keep", default=tempfile.gettempdir())
    told = parser.parse_args()
    kinds = told.kinds.split(",") if told.kinds else sorted(sound())
    piece = 250
    jobs = [
        (kind, first, min(piece, told.many - first), told.seed, told.keep)
        for kind in kinds
        for first in range(0, told.many, piece)
    ]
    sums: dict[str, list[Any]] = {}
    fresh = multiprocessing.get_context("spawn")  # a process a piece, so that its memory is its own
    with ProcessPoolExecutor(os.cpu_count(), fresh, max_tasks_per_child=1) as pool:
        for kind, many, bad, slowest, memory in pool.map(tried, jobs):
            at = sums.setdefault(kind, [0, [], 0.0, 0.0])
            at[0], at[2], at[3] = at[0] + many, max(at[2], slowest), max(at[3], memory)
            at[1] += bad
    broke = 0
    for kind, (many, bad, slowest, memory) in sorted(sums.items()):
        over = memory > MOST_MB
        broke += len(bad) + over
        print(f"{kind:10} {many:6} tried, {len(bad)} broke, slowest {slowest:.2f} s, memory {memory:.0f} MB")
        for line in sorted(set(bad))[:12]:
            print(f"           {line}")
    bad = real(told.real, told.seed) if told.real else []
    for line in bad[:12]:
        print(f"the command {line}")
    if told.real:
        print(f"command    {told.real:6} tried, {len(bad)} broke")
    return 1 if broke or bad else 0


if __name__ == "__main__":
    sys.exit(main())
