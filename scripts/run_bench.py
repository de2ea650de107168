"""The program's own processor time, each figure over a yardstick of its kind taken in the same run.

    scripts/bench                       prints the ratios
    scripts/bench --baseline            also keeps them in scripts/bench_baseline.json, with the commit
    scripts/bench --against [FILE]      also says what moved by more than 15 % since then, and over which commits

Processor time, not time by the clock: a busy machine lengthens the one and not the other. Figures and yardsticks
are taken in turn, the middle of several counts, and NumPy runs on one thread, which else burns time waiting.
"""

from __future__ import annotations

import argparse
import json
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ["OPENBLAS_NUM_THREADS"] = os.environ["OMP_NUM_THREADS"] = "1"

BARE = (
    "from PyQt6.QtWidgets import QApplication, QWidget; from PyQt6.QtCore import QTimer\n"
    "import numpy, pydantic\n"
    "app = QApplication([]); w = QWidget(); w.resize(1280, 800); w.show()\n"
    "QTimer.singleShot(0, lambda: (w.repaint(), app.exit(0))); app.exec()"
)
RUNS, FRAMES = 9, 2
MOVED = 0.15
BASELINE = Path(__file__).with_name("bench_baseline.json")
now = time.process_time
found_ratios: dict[str, float] = {}


def against_bare(name: str, seconds: float, bare: float) -> None:
    """A figure over the bare window's: `bare` in loops, and the loop of now, for no machine is always as fast."""
    show(name, seconds, seconds / loop() / bare, "a bare window")


def show(name: str, seconds: float, ratio: float, of: str) -> None:
    """One line, kept for the comparison."""
    found_ratios[name] = round(ratio, 4)
    print(f"{name:34s}{1000 * seconds:9.1f} ms {ratio:7.3f} of {of}", flush=True)


def processes(cases: dict[str, tuple[str, ...]]) -> dict[str, float]:
    """Processor seconds of each process, middle of several; taken in turn."""
    found: dict[str, list[float]] = {name: [] for name in cases}
    for round_number in range(RUNS + 1):
        for name, arguments in cases.items():
            process = subprocess.Popen([sys.executable, *arguments], stdout=subprocess.DEVNULL)
            _, status, used = os.wait4(process.pid, 0)
            process.returncode = os.waitstatus_to_exitcode(status)
            if process.returncode:
                sys.exit(f"{name} ended with {process.returncode}")
            if round_number:
                found[name].append(used.ru_utime + used.ru_stime)
        if round_number:
            found.setdefault("loop", []).append(loop())
    return {name: statistics.median(seconds) for name, seconds in found.items()}


def timed(function: Callable[[], object]) -> float:
    """Processor seconds of one call, all threads of the process together."""
    start = now()
    function()
    return now() - start


def held(function: Callable[[], object]) -> float:
    """Processor seconds one call keeps its own thread."""
    start = time.thread_time()
    function()
    return time.thread_time() - start


def loop() -> float:
    """A yardstick of plain Python: processor seconds of a loop, the middle of several."""

    def turn() -> int:
        total = 0
        for k in range(300_000):
            total += k & 7
        return total

    return statistics.median(timed(turn) for _ in range(RUNS))


def edits() -> dict[str, float]:
    """From an edit of the depth to the first route painted, and to the scored front painted; full repaints.

    As in use: the last background work is done and what a first edit needs has been loaded. The edit is the one
    that Enter in a callout makes; the clock stops once nothing of what it changed is left to be painted.
    """
    from PyQt6.QtCore import QEventLoop
    from PyQt6.QtWidgets import QApplication

    from cordwainer.files.places import Settings
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.application import SWITCH_S
    from cordwainer.ui.shell.warm_up import warm_up
    from cordwainer.ui.shell.window import Window

    sys.setswitchinterval(SWITCH_S)
    application = QApplication.instance() or QApplication([])
    assert isinstance(application, QApplication)
    theme.apply(application)
    window = Window(Desk(Settings()))
    window.resize(1280, 800)
    window.begin(None, demo=True)
    window.show()
    plans = window.desk.plans

    def until(done: Callable[[], bool]) -> None:
        while not done():
            application.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        for _ in range(FRAMES):  # the first lays out, the second paints
            application.processEvents()

    until(lambda: not plans.planning)
    window.desk.warm_up(warm_up)
    finished(application, window)
    taken: dict[str, list[float]] = {"edit to first route": [], "edit to scored front": []}
    for depth in range(20, 20 + RUNS):
        finished(application, window)
        application.processEvents()
        start = now()
        window.desk.selection.edit_hole("Depth", depth=f"{depth}.5 mm")
        until(lambda: not plans.waiting)
        taken["edit to first route"].append(now() - start)
        until(lambda: not plans.planning)
        taken["edit to scored front"].append(now() - start)
    for stage in ("plan", "cut", "measure"):
        window.go(stage)
        finished(application, window)
        application.processEvents()
        taken[f"repaint of {stage}"] = [timed(window.repaint) for _ in range(RUNS)]
    window.desk.document.clean = window.desk.document.data
    window.close()
    return {name: statistics.median(times) for name, times in taken.items()}


def finished(application: Any, window: Any) -> None:
    """Until nothing is being worked out beside the window."""
    while window.desk.background.turns:
        application.processEvents()


def crib_frames() -> dict[str, float]:
    """Longest the main thread is held, in seconds, by 2,000 tools: opened, filtered letter by letter, scrolled."""
    import sys

    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from cordwainer.files.crib import take_rows
    from cordwainer.files.places import Settings
    from cordwainer.files.tool_csv import read_text
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.application import SWITCH_S
    from cordwainer.ui.shell.warm_up import warm_up
    from cordwainer.ui.shell.window import Window

    sys.setswitchinterval(SWITCH_S)
    application = QApplication.instance() or QApplication([])
    assert isinstance(application, QApplication)
    theme.apply(application)
    window = Window(Desk(Settings()))
    window.resize(1280, 800)
    window.begin(None, demo=True)
    window.show()
    rows = "\n".join(f"{1 + n * 0.0125:.4f} mm,{n // 20 + 1},note {n}" for n in range(1855))
    read = read_text(f"diameter,drawer,note\n{rows}", ())

    def quiet() -> None:
        end = now() + 4  # the stages are made one after the other meanwhile
        while now() < end or window.desk.plans.planning:
            application.processEvents()
        finished(application, window)
        application.processEvents()

    def frame(act: Callable[[], object]) -> float:
        return max(held(act), *(held(application.processEvents) for _ in range(FRAMES)))

    window.desk.stock.crib.edit("Import", lambda data: take_rows(data, read.new, read.matched))
    window.desk.warm_up(warm_up, window.make_ready)
    quiet()
    found = {"open": frame(lambda: window.go("crib"))}
    stage = window.stages["crib"]
    quiet()
    found["scroll drawers"] = max(
        frame(lambda v=v: stage.drawers.verticalScrollBar().setValue(v)) for v in range(0, 2000, 25)
    )
    found["filter"] = max(frame(lambda c=c: QTest.keyClick(stage.finder, c)) for c in "note 12")
    stage.finder.setText("mm")
    bar = stage.list.verticalScrollBar()
    found["scroll list"] = max(frame(lambda v=v: bar.setValue(v)) for v in range(0, bar.maximum(), 500))
    window.desk.document.clean = window.desk.document.data
    window.close()
    return found


def forward_model() -> None:
    """The forward model beside its yardstick, on one thread: 20,000 holes, 33 depths, 6 cuts; memory; growth."""
    code = (
        "import resource, statistics, time, numpy as np\n"
        "from cordwainer.core.formation.inputs import Metal, Op, Setup\n"
        "from cordwainer.core.formation.simulate import Model\n"
        "metal = Metal(20000, 20000, 11.7e-6, 'steel', 3.0, .35, 1.0, 1.0, 2000)\n"
        "sizes = (5, 9, 14, 17, 17.7)\n"
        "plan = [Op('drill', d, k) for k, d in enumerate(sizes, 1)] + [Op('ream', 18.01, 9)]\n"
        "def middle(f):\n"
        "    t = []\n"
        "    for _ in range(9):\n"
        "        a = time.process_time(); f(); t.append(time.process_time() - a)\n"
        "    return statistics.median(t)\n"
        "model = Model(plan, Setup(32.0, metal)); model.run()\n"
        "rng = np.random.default_rng(1)\n"
        "many = Model(plan, Setup(32.0, metal))\n"
        "print(middle(lambda: rng.standard_normal(20000 * 33 * 6)), middle(lambda: model.run(20000)),"
        " middle(lambda: many.run(40000)), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    )
    done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
    yard, one, two, memory = (float(part) for part in done.stdout.split())
    show("model, 20,000 holes", one, one / yard, "its normals at 33 depths")
    show("model, 40,000 holes", two, two / one, "half of them")
    print(f"memory of the model's process     {memory:9.0f} MB")


def screen() -> None:
    """The planner's closed-form screen of one more arc between two tools, over all candidates at once."""
    import numpy as np

    from cordwainer.core.cutting.force import drill_load
    from cordwainer.core.formation.oversize import expected_mean_sd

    sizes = np.linspace(3, 25, 1700)
    found = []
    for _ in range(RUNS):
        start = now()
        expected_mean_sd(sizes, 0.18 * sizes, 1.0, 0.4 * sizes)
        drill_load(sizes, 0.2, 24000, 24000, pilot_mm=0.4 * sizes)
        found.append(now() - start)
    middle = statistics.median(found)
    show("screen of 1,700 candidates", middle, middle / loop(), "the loop")


def crib_growth() -> None:
    """Seconds of a whole plan, the front scored by the model, by the number of tools in the crib."""
    from dataclasses import replace
    from fractions import Fraction

    from cordwainer.core.lengths import Length, parse
    from cordwainer.core.part.hole import Hole, limits_of
    from cordwainer.core.planning.plan import plan_hole
    from cordwainer.core.shop.catalog import built_in
    from cordwainer.core.shop.makers import twist_drill
    from cordwainer.core.shop.material import material
    from cordwainer.core.shop.shop import Shop

    size, catalog, steel = parse("22 mm"), built_in("catalog"), material("medium_carbon_steel")
    hole = Hole("A", "sized", size, parse("32 mm"), True, limits_of(size, "H7", None, ""))
    base, lathe = list(catalog.tools), catalog.machine("toolroom_lathe")
    first = 0.0
    for count in (len(base), 5000, 10_000, 20_000):
        more = [
            replace(twist_drill(Length(Fraction(1500 + (k * 37) % 30_000, 1000), "")), id=f"more {k}")
            for k in range(count - len(base))
        ]
        shop = Shop("grown", catalog.machines, [*base, *more], catalog.gauges)
        plan_hole(hole, shop, lathe, steel)
        taken = statistics.median(timed(lambda: plan_hole(hole, shop, lathe, steel)) for _ in range(RUNS))  # noqa: B023
        first = first or taken
        show(f"plan with {count:,} tools", taken, taken / first, "the catalog's")


def explaining(bare: float) -> None:
    """Causes of one hole: its first look with its holes imagined, an answer weighed, the whole page after one."""
    from cordwainer.core.diagnosis.evidence import Case, Sizes
    from cordwainer.core.diagnosis.explained import explained
    from cordwainer.core.diagnosis.posterior import rank

    def case(**answers: str) -> Case:
        sizes = Sizes((8.35,), (8.16,), (8.12,))
        return Case(8.0, ("center_drill", "drill"), (8.0, 8.2), 40.0, sizes, answers=answers)

    first = timed(lambda: explained(case(q_flutes="packed_full")))
    sounds = ("quiet", "squeal", "chatter", "groan_or_thump", "crackle")
    again = statistics.median(timed(lambda s=s: rank(case(q_flutes="packed_full", q_sound=s))) for s in sounds)  # type: ignore[misc]
    page = statistics.median(timed(lambda s=s: explained(case(q_tip="chipped", q_sound=s))) for s in sounds)  # type: ignore[misc]
    against_bare("first look at causes", first, bare)
    against_bare("an answer weighed", again, bare)
    against_bare("whole page after an answer", page, bare)


def batches(bare: float) -> None:
    """Twelve distinct holes, forty parts, fifteen tools put in order, with the bound reached."""
    from cordwainer.core.scheduling.order import schedule
    from cordwainer.core.scheduling.task import Changes, Config, Piece, PieceStep, Task

    words = ("ABCD", "ABE", "AFGH", "AFGI", "ABCJ", "AKLM", "AKLN", "AKO", "AEH", "ACG", "AFM", "ABK")
    pieces = tuple(
        Piece(f"H{k}", tuple(PieceStep(n, "drill", Config("", c, 500.0), 1.0) for n, c in enumerate(word)))
        for k, word in enumerate(words)
    )
    task = Task(40, pieces, Changes(1.5, 6.0, 0.2, dict.fromkeys("ABCDEFGHIJKLMNO", 0.5)))
    start = now()
    found = schedule(task)
    seconds = now() - start
    against_bare("12 holes x 40 parts in order", seconds, bare)
    print(f"    {found.minutes / found.bound:.3f} of its bound")


def first_plan() -> tuple[float, float]:
    """Seconds of a first plan with the catalog (shop built too), and of one more."""
    code = (
        "import time\n"
        "from cordwainer.core.lengths import parse\n"
        "from cordwainer.core.part.hole import Hole, limits_of\n"
        "from cordwainer.core.planning.plan import plan_hole\n"
        "from cordwainer.core.shop.catalog import built_in\n"
        "from cordwainer.core.shop.material import material\n"
        "d = parse('18 mm')\n"
        "h = Hole('A', 'sized', d, parse('32 mm'), True, limits_of(d, 'H7', None, ''))\n"
        "n = time.process_time\n"
        "t = n(); s = built_in('catalog'); m = s.machine('bench_lathe'); a = n()\n"
        "plan_hole(h, s, m, material('medium_carbon_steel')); b = n()\n"
        "print(a - t, b - a)"
    )
    pairs = []
    for _ in range(RUNS):
        done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
        pairs.append(tuple(float(x) for x in done.stdout.split()))
    return statistics.median(p[0] for p in pairs), statistics.median(p[1] for p in pairs)


def main() -> None:
    """Print the ratios, keep them, compare them."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--baseline", action="store_true")
    parser.add_argument("--against", nargs="?", const="", default=None)
    told = parser.parse_args()
    taken = processes(
        {
            "bare": ("-c", BARE),
            "demo": ("-m", "cordwainer", "--demo", "--quit-when-shown"),
            "empty": ("-m", "cordwainer", "--quit-when-shown"),
            "python": ("-c", "pass"),
            "limits": ("-m", "cordwainer", "limits", "20 H7"),
        }
    )
    bare = taken["bare"] / taken["loop"]
    show("bare window", taken["bare"], bare, "the loop")
    for name, case in (("demo shown", "demo"), ("first screen", "empty")):
        show(name, taken[case], taken[case] / taken["bare"], "a bare window")
    show("limits on the terminal", taken["limits"], taken["limits"] / taken["python"], "a bare Python")
    shop, plan = first_plan()
    against_bare("catalog built", shop, bare)
    against_bare("first plan", plan, bare)
    crib_growth()
    forward_model()
    screen()
    explaining(bare)
    batches(bare)
    for name, seconds in edits().items():
        against_bare(name, seconds, bare)
    for name, seconds in crib_frames().items():
        against_bare(f"crib of 2,000, {name}", seconds, bare)
    if told.baseline:
        BASELINE.write_text(json.dumps({"commit": commit(), "ratios": found_ratios}, indent=2) + "\n")
        print(f"kept in {BASELINE.name}")
    if told.against is not None:
        compare(json.loads(Path(told.against or BASELINE).read_text()))


def commit() -> str:
    """Where the work stands."""
    done = subprocess.run(["git", "rev-parse", "--short", "HEAD"], capture_output=True, text=True)
    return done.stdout.strip() or "unknown"


def compare(before: dict[str, Any]) -> None:
    """What moved by more than 15 % since a baseline."""
    print(f"\nmoved by more than {MOVED:.0%} over {before['commit']}..{commit()}:")
    moved = False
    for name, ratio in found_ratios.items():
        old = before["ratios"].get(name)
        if old and abs(ratio / old - 1) > MOVED:
            moved = True
            print(f"  {name:34s}{old:8.3f} -> {ratio:8.3f}  {ratio / old - 1:+.0%}")
    if not moved:
        print("  nothing")


if __name__ == "__main__":
    main()
