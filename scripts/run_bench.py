"""Start-up, a first plan, an edit and a short command, each against a yardstick of the same run."""

from __future__ import annotations

import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from typing import Any

BARE = (
    "from PyQt6.QtWidgets import QApplication, QWidget; from PyQt6.QtCore import QTimer\n"
    "import numpy, pydantic\n"
    "app = QApplication([]); w = QWidget(); w.resize(1280, 800); w.show()\n"
    "QTimer.singleShot(0, lambda: (w.repaint(), app.exit(0))); app.exec()"
)
RUNS = 9


def processes(cases: dict[str, tuple[str, ...]]) -> dict[str, float]:
    """Seconds of each process, middle of several; taken in turn, so that a busy machine slows all alike."""
    found: dict[str, list[float]] = {name: [] for name in cases}
    for round_number in range(RUNS + 1):
        for name, arguments in cases.items():
            start = time.perf_counter()
            subprocess.run([sys.executable, *arguments], check=True, capture_output=True)
            if round_number:
                found[name].append(time.perf_counter() - start)
    return {name: statistics.median(seconds) for name, seconds in found.items()}


def timed(function: Callable[[], object]) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    function()
    return time.perf_counter() - start


def edit_to_paint() -> float:
    """Seconds from an edit of the depth to the repainted section, ladder and card, plan included.

    As in use: the last background work is done and what a first edit needs has been loaded. The edit is
    the one that Enter in a callout makes; the clock stops after a forced repaint of the whole window.
    """
    from PyQt6.QtCore import QEventLoop
    from PyQt6.QtWidgets import QApplication

    from cordwainer.files.places import Settings
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.warm_up import warm_up
    from cordwainer.ui.shell.window import Window

    application = QApplication.instance() or QApplication([])
    assert isinstance(application, QApplication)
    theme.apply(application)
    window = Window(Desk(Settings()))
    window.resize(1280, 800)
    window.begin(None, demo=True)
    window.show()

    def settled() -> None:
        while window.desk.plans.planning:
            application.processEvents(QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
        application.processEvents()
        window.repaint()

    settled()
    window.desk.warm_up(warm_up)
    finished(application, window)
    found = []
    for depth in range(20, 20 + RUNS):

        def change(depth: int = depth) -> None:
            window.desk.selection.edit_hole("Depth", depth=f"{depth}.5 mm")
            settled()

        finished(application, window)
        application.processEvents()
        found.append(timed(change))
    window.desk.document.clean = window.desk.document.data
    window.close()
    return statistics.median(found)


def finished(application: Any, window: Any) -> None:
    """Until nothing is being worked out beside the window."""
    while window.desk.background.turns:
        application.processEvents()


def crib_frames() -> dict[str, float]:
    """Longest frame in seconds of a crib of 2,000 tools: opened, filtered letter by letter, scrolled both ways."""
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
        end = time.perf_counter() + 3
        while time.perf_counter() < end or window.desk.plans.planning:
            application.processEvents()
        finished(application, window)
        application.processEvents()

    def frame(act: Callable[[], object]) -> float:
        def drawn() -> None:
            act()
            window.repaint()

        return max(timed(drawn), timed(application.processEvents))

    window.desk.stock.crib.edit("Import", lambda data: take_rows(data, read.new, read.matched))
    window.desk.warm_up(warm_up)
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
        "import os\nos.environ['OPENBLAS_NUM_THREADS'] = os.environ['OMP_NUM_THREADS'] = '1'\n"
        "import resource, statistics, time, numpy as np\n"
        "from cordwainer.core.formation.inputs import Metal, Op, Setup\n"
        "from cordwainer.core.formation.simulate import Model\n"
        "metal = Metal(20000, 20000, 11.7e-6, 'steel', 3.0, .35, 1.0, 1.0, 2000)\n"
        "sizes = (5, 9, 14, 17, 17.7)\n"
        "plan = [Op('drill', d, k) for k, d in enumerate(sizes, 1)] + [Op('ream', 18.01, 9)]\n"
        "def middle(f):\n"
        "    t = []\n"
        "    for _ in range(9):\n"
        "        a = time.perf_counter(); f(); t.append(time.perf_counter() - a)\n"
        "    return statistics.median(t)\n"
        "model = Model(plan, Setup(32.0, metal)); model.run()\n"
        "rng = np.random.default_rng(1)\n"
        "many = Model(plan, Setup(32.0, metal))\n"
        "print(middle(lambda: rng.standard_normal(20000 * 33 * 6)), middle(lambda: model.run(20000)),"
        " middle(lambda: many.run(40000)), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    )
    done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
    yard, one, two, memory = (float(part) for part in done.stdout.split())
    print(f"normals 20,000 x 33 x 6    {yard:6.3f} s  1.00")
    print(f"model / those normals      {one:6.3f} s  {one / yard:4.2f}")
    print(f"twice the holes / once     {two:6.3f} s  {two / one:4.2f}")
    print(f"memory of the process      {memory:6.0f} MB")


def screen() -> None:
    """The planner's closed-form screen of one more arc between two tools, over all candidates at once."""
    import numpy as np

    from cordwainer.core.cutting.force import drill_load
    from cordwainer.core.formation.oversize import expected_mean_sd

    sizes = np.linspace(3, 25, 1700)
    found = []
    for _ in range(RUNS):
        start = time.perf_counter()
        expected_mean_sd(sizes, 0.18 * sizes, 1.0, 0.4 * sizes)
        drill_load(sizes, 0.2, 24000, 24000, pilot_mm=0.4 * sizes)
        found.append(time.perf_counter() - start)
    middle = statistics.median(found)
    print(f"screen of 1,700 candidates {middle:6.4f} s  {1e6 * middle / len(sizes):4.2f} microseconds each")


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
        taken = statistics.median(timed(lambda: plan_hole(hole, shop, lathe, steel)) for _ in range(5))  # noqa: B023
        first = first or taken
        print(f"plan with {count:6d} tools      {taken:6.3f} s  {taken / first:4.2f} of the catalog's")


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
    print(f"first look at causes / bare {first:5.3f} s  {first / bare:4.2f}")
    print(f"an answer weighed          {again:6.4f} s  {again / 0.05:4.2f} of 50 ms")
    print(f"whole page after an answer {page:6.4f} s  {page / 0.05:4.2f} of 50 ms")


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
    start = time.perf_counter()
    found = schedule(task)
    seconds = time.perf_counter() - start
    print(
        f"12 holes x 40 parts / bare {seconds:6.3f} s  {seconds / bare:4.2f}, "
        f"{found.minutes / found.bound:5.3f} of bound"
    )


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
        "t = time.perf_counter(); s = built_in('catalog'); m = s.machine('bench_lathe'); a = time.perf_counter()\n"
        "plan_hole(h, s, m, material('medium_carbon_steel')); b = time.perf_counter()\n"
        "print(a - t, b - a)"
    )
    pairs = []
    for _ in range(RUNS):
        done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
        pairs.append(tuple(float(x) for x in done.stdout.split()))
    return statistics.median(p[0] for p in pairs), statistics.median(p[1] for p in pairs)


def main() -> None:
    """Print the ratios."""
    taken = processes(
        {
            "bare": ("-c", BARE),
            "demo": ("-m", "cordwainer", "--demo", "--quit-when-shown"),
            "empty": ("-m", "cordwainer", "--quit-when-shown"),
            "python": ("-c", "pass"),
            "limits": ("-m", "cordwainer", "limits", "20 H7"),
        }
    )
    bare, demo, empty, python, limits = (taken[name] for name in ("bare", "demo", "empty", "python", "limits"))
    shop, plan = first_plan()
    print(f"bare window process        {bare:6.3f} s  1.00")
    print(f"demo shown / bare window   {demo:6.3f} s  {demo / bare:4.2f}")
    print(f"first screen / bare window {empty:6.3f} s  {empty / bare:4.2f}")
    print(f"limits / python start      {limits:6.3f} s  {limits / python:4.2f}")
    print(f"catalog built / bare       {shop:6.3f} s  {shop / bare:4.2f}")
    print(f"first plan / bare          {plan:6.3f} s  {plan / bare:4.2f}")
    crib_growth()
    forward_model()
    screen()
    explaining(bare)
    batches(bare)
    edit = edit_to_paint()
    print(f"edit to repaint / bare     {edit:6.3f} s  {edit / bare:4.2f}")
    for name, seconds in crib_frames().items():
        print(f"2,000 tools, {name:14s}{seconds:6.3f} s  {seconds / 0.05:4.2f} of a frame of 50 ms")


if __name__ == "__main__":
    main()
