"""Drives the window on the demo and saves a picture of each main view."""

from __future__ import annotations

import random
import re
import sys
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QApplication

from cordwainer.core.training.spacing import Result
from cordwainer.files.places import Settings
from cordwainer.ui.canvas.where_read import depths_of
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.dialogs.guide import PICTURES
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.cut.cut_stage import CutStage
from cordwainer.ui.stages.part.part_stage import PartStage
from cordwainer.ui.stages.practice.practice_stage import PracticeStage
from cordwainer.ui.stages.train.train_stage import TrainStage
from cordwainer.ui.stages.what_if.what_if_stage import WhatIfStage

Kind = TypeVar("Kind", bound=Stage)

SIZE = (1280, 800)
AT = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)
HELP = Path(__file__).parents[1] / "src/cordwainer/data/help"


def settle(application: QApplication, window: Window) -> None:
    """Let plans and forecasts come, and paint."""
    window.desk.background.settle()
    painted()


def painted() -> None:
    """What is shown a few rows at a time, whole."""
    for _ in range(12):
        QApplication.processEvents()


def stage_of(window: Window, kind: type[Kind]) -> Kind:
    """A stage of the window, by what it is."""
    name = re.sub(r"(?<!^)([A-Z])", r"_\1", kind.__name__.removesuffix("Stage")).lower()
    stage = window.stages[name]
    assert isinstance(stage, kind)
    return stage


def identified(window: Window) -> None:
    """An unmarked drill measured with a caliper."""
    window.go("crib")
    stage_of(window, CribStage).what.reading.setText("8.2")


def gone_wrong(window: Window) -> None:
    """The tailstock off, beside the sound hole."""
    window.desk.selection.select_hole(0)
    window.run("what_if")
    painted()
    row = stage_of(window, WhatIfStage).rows["tail_side"]
    row.amount.setText("0.05")
    row.box.click()


def asked(window: Window, line: str) -> None:
    """A small question over the plan."""
    window.desk.selection.select_hole(1)
    window.desk.plans.select_operation(1)
    window.go("plan")
    window.run("ask")
    window.ask_line.field.setText(line)


def opened_at(window: Window, demo: str, hole: int) -> None:
    """A demo job, planned, with a hole of it in hand."""
    if demo not in window.desk.document.job.file.name.lower():
        window.desk.document.clean = window.desk.document.data
        leaving_commands.open_demo(window, f"demo_{demo}.job.json")
    window.desk.selection.select_hole(hole)
    wait_for_plan(window)


def of_kind(window: Window, hole: int, kind: str) -> None:
    """A hole of the roll housing with the last operation of a kind."""
    opened_at(window, "splitter", hole)
    route = window.desk.plans.route
    if route is not None:
        window.desk.plans.select_operation([i for i, o in enumerate(route.operations) if o.kind == kind][-1])
    window.go("plan")


def doubtful(window: Window) -> None:
    """A bore near its limit, read with a gauge too rough for it, and off its place at the far end."""
    of_kind(window, 0, "bore")
    desk = window.desk
    desk.readings.put("Gauge", gauge="telescoping")
    hole = desk.selection.hole
    assert hole is not None
    for share, depth in zip((0.62, 0.5, 0.47), depths_of(hole), strict=True):
        size = hole.limits.lower_mm + share * (hole.limits.upper_mm - hole.limits.lower_mm)
        for way, off in ((0.0, 0.0), (90.0, 0.0006)):
            desk.readings.put_reading(depth, way, f"{size - off:.4f} mm")
    desk.readings.put("Off its place", offset_entry="0.01 mm", offset_exit="0.03 mm")
    window.go("measure")


def answered(window: Window, hole: int, sizes: tuple[str, ...], answers: dict[str, str]) -> None:
    """A hole of the guide plate with three sizes and answers typed at Explain."""
    desk = window.desk
    opened_at(window, "clicker", hole)
    desk.selection.edit_hole("Answers", evidence=None, measured=None)
    found = desk.selection.hole
    assert found is not None
    for depth, size in zip(depths_of(found), sizes, strict=True):
        desk.readings.put_reading(depth, 0.0, size)
    for question, answer in answers.items():
        desk.causes.answer(question, answer)
    window.go("explain")


def clear_case(window: Window) -> None:
    """A straight hole much too large, with unequal chips: a point off center."""
    sizes = ("8.93 mm", "8.92 mm", "8.91 mm")
    answers = {"q_chips_lips": "uneven", "q_orbit": "yes", "q_finish": "spiral_scores", "q_newtool": "gone"}
    answered(window, 1, sizes, answers)


def filled(window: Window) -> None:
    """A shop of one's own begun, with sets in it, one of them open as a drawer, and a line being typed."""
    from cordwainer.ui.stages.crib.fill_page import FillPage

    window.desk.selection.set_unit("in")
    window.run("new_shop")
    page = stage_of(window, CribStage).pages.currentWidget()
    assert isinstance(page, FillPage)
    page.begin.name.setText("North bay")
    page.begin.do()
    rows = {row.of.id: row for row in page.rows}
    for name in ("letters", "centers_inch", "numbers"):
        rows[name].click()
    painted()
    for place in (11, 12, 40):
        page.drawer.places[place].click()
    page.typed.field.setText("3x 17/64 stub, 5/16 reamer, #4 center drill, 6.83, frob 7")


def ordered(window: Window, demo: str, quantity: int, hole: int, rate: float | None = None) -> None:
    """A demo job as a batch, its order found, its cost by kinds of drill."""
    desk = window.desk
    desk.document.clean = desk.document.data
    leaving_commands.open_demo(window, demo)
    desk.document.edit("Parts", lambda data: data.__setitem__("quantity", quantity))
    desk.selection.select_hole(hole)
    wait_for_plan(window)
    if rate is not None:
        desk.document.set_batch("Cost of an hour", rate_per_hour=rate)
    window.run("open_batch")


def from_above(window: Window) -> None:
    """The roll housing from above, with what is left beside a tie rod's hole."""
    of_kind(window, 0, "bore")
    window.run("open_part")
    stage_of(window, PartStage).choose(2, 0)


def before_cut(window: Window) -> None:
    """A hole whose chance a check before the cut raises: said over the ladder."""
    opened_at(window, "strap", 0)
    route = window.desk.plans.route
    assert route is not None
    window.desk.plans.select_operation([i for i, o in enumerate(route.operations) if o.kind == "ream"][-1])
    window.go("plan")
    window.desk.background.settle()


def practiced(window: Window) -> None:
    """Ream or bore, with what each choice changes for the roll seat."""
    of_kind(window, 0, "bore")
    window.run("open_practice")
    page = stage_of(window, PracticeStage)
    page.show_school("finish")
    window.desk.background.settle()


def trained(window: Window) -> None:
    """An exercise half way: two checks bought, an opinion begun."""
    training = window.desk.training
    training.new_seed = lambda: 40
    window.run("go_train")
    window.desk.background.settle()
    stage = stage_of(window, TrainStage)
    assert training.sitting is not None
    stage.choose("m_bore")
    stage.buy()
    stage.choose("q_lips")
    training.think(training.sitting.exercise.listed[4], 38)
    training.think(training.sitting.exercise.listed[2], 24)


def opened(window: Window) -> None:
    """That exercise cut open: what it was, what each check was worth, what the program would have bought."""
    training, stage = window.desk.training, stage_of(window, TrainStage)
    assert training.sitting is not None
    stage.choose("q_lips")
    stage.buy()
    training.think(training.sitting.exercise.truth[0], 62)
    training.open()


def laddered(window: Window) -> None:
    """The ladder of lessons with an invented learner's results."""
    dice, training = random.Random(4), window.desk.training
    training.set_learner("apprentice")
    for number in range(38):
        lesson = training.course.lessons[number // 8]
        right = dice.random() < 0.72
        points = dice.uniform(60, 132) if right else dice.uniform(-20, 30)
        on = AT.date() - timedelta(days=38 - number)
        training.results.append(Result("apprentice", lesson.id, number, "", ("dull",), on, right, points, 9.0))
    stage_of(window, TrainStage).show_ladder()


def drawn(window: Window) -> None:
    """The demo drawing as it is opened, its callouts marked."""
    window.desk.document.clean = window.desk.document.data
    leaving_commands.new_job(window)
    leaving_commands.read_demo_drawing(window, "skiver_arm.pdf")
    painted()


def at_the_machine(window: Window, hole: int, operation: int, gestures: int, dim: bool = False) -> None:
    """A hole under way: the steps before one done, then some stops of it confirmed."""
    window.ask_line.put_away()
    window.desk.selection.select_hole(hole)
    wait_for_plan(window)
    window.go("cut")
    stage = stage_of(window, CutStage)
    assert isinstance(stage, CutStage)
    stage.set_dim(dim)
    cutting = stage.cutting
    cutting.clock.now = lambda: AT
    while cutting.index < operation:
        for caution in cutting.unticked():
            cutting.tick(caution.id)
        cutting.done()
    for caution in cutting.unticked():
        cutting.tick(caution.id)
    for _ in range(gestures):
        cutting.forward()


def logged(window: Window) -> None:
    """A drill's invented holes, reground after twenty of them."""
    from cordwainer.core.planning.machine.run import Event
    from cordwainer.files.run import Record, begin_line
    from cordwainer.logbook.book import Book, Measurement
    from cordwainer.ui.desk.log import logbook_path

    tools = window.desk.stock.shop.of_kind("drill")
    drill = next(t for t in tools if t.designation == "9.5 mm")
    luck, now = random.Random(2), [AT]
    book = Book(logbook_path(), lambda: now[0])
    jobs = ("Skiver rebuild, presser arm", "Band splitter, roll housing", "Strap cutter, roller bracket")
    for k in range(34):
        at = (AT - timedelta(days=90 - 2 * k)).isoformat()
        entry = {"kind": "drill", "diameter": "9.5 mm", "tool": {"id": drill.id, "designation": drill.designation}}
        begin = begin_line(
            f"demo-{k}", at, number=k % 4 + 1, operations=[entry],
            job={"name": luck.choice(jobs), "material": luck.choice(("medium_carbon_steel", "bronze"))},
            hole={"id": "D", "name": "oil seat", "diameter": "9.7 mm"},
        )  # fmt: skip
        record = Record(begin["run"], begin, [Event(at, "done", 0, {"minutes": 1.0}), Event(at, "finish")])
        book.take_run(record)
        size = 9.5 + (0.16 if k < 20 else 0.08) + luck.gauss(0, 0.018)
        verdict = "reject" if size > 9.68 else luck.choice(["accept"] * 5 + ["cannot_tell"])
        taken = [Measurement(8, 0, size, size)]
        book.put_readings(record.id, taken, "two-point bore gauge", verdict, size, (9.5, 9.72))
        if k == 19:
            now[0] = AT - timedelta(days=90 - 2 * k - 1)
            book.regrind(drill.id)
            now[0] = AT
    book.close()
    window.desk.log.learn()
    window.go("logbook")


def wait_for_plan(window: Window) -> None:
    """What hangs on the plan, there and painted."""
    application = QApplication.instance()
    assert isinstance(application, QApplication) and window.desk.plans.complete
    application.processEvents()


def views(window: Window) -> dict[str, Callable[[], None]]:
    """Each picture with how to get there from the demo."""

    def show(stage: str, hole: int, operation: int = 0) -> Callable[[], None]:
        def go() -> None:
            window.desk.selection.select_hole(hole)
            window.desk.plans.select_operation(operation)
            window.go(stage)

        return go

    return {
        "print": show("print", 0),
        "plan": show("plan", 0, 3),
        "what_if": lambda: gone_wrong(window),
        "ask": lambda: asked(window, "#7, 5/8 to 3/4 deep from 1 in"),
        "cut": lambda: at_the_machine(window, 1, 1, 3),
        "crib": lambda: identified(window),
        "measure": lambda: doubtful(window),
        "logbook": lambda: logged(window),
        "before": lambda: before_cut(window),
        "practice": lambda: practiced(window),
        "part": lambda: from_above(window),
        "explain": lambda: clear_case(window),
        "batch": lambda: ordered(window, "demo_clicker.job.json", 6, 1),
        "new_shop": lambda: filled(window),
        "train": lambda: trained(window),
        "train_open": lambda: opened(window),
        "train_ladder": lambda: laddered(window),
        "drawing": lambda: drawn(window),
    }


def main() -> None:
    """Save all pictures, or only those named."""
    folder, wanted = Path(sys.argv[1]), sys.argv[2:]
    folder.mkdir(parents=True, exist_ok=True)
    application = QApplication(["cordwainer"])
    theme.apply(application)
    window = Window(Desk(Settings(), inline=True))
    window.resize(*SIZE)
    window.begin(None, ask=False)
    window.show()
    settle(application, window)
    window.grab().save(str(folder / "first.png"))
    window.begin(None, demo=True)
    settle(application, window)
    for name, go in views(window).items():
        if wanted and name not in wanted:
            continue
        go()
        settle(application, window)
        picture = window.grab()
        picture.save(str(folder / f"{name}.png"))
        if name in PICTURES and not wanted:
            small = picture.scaled(QSize(800, 500), transformMode=Qt.TransformationMode.SmoothTransformation)
            HELP.mkdir(exist_ok=True)
            small.save(str(HELP / f"{name}.jpg"), quality=84)
    window.desk.quiet()


if __name__ == "__main__":
    main()
