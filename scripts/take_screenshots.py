"""Drives the window on the demo and saves a picture of each main view."""

from __future__ import annotations

import random
import sys
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from cordwainer.ui.canvas.where_read import depths_of
from cordwainer.ui.desk.places import Settings
from cordwainer.ui.desk.session import Session
from cordwainer.ui.dialogs.guide import PICTURES
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage

SIZE = (1280, 800)
AT = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)
HELP = Path(__file__).parents[1] / "src/cordwainer/data/help"


def settle(application: QApplication, window: Window) -> None:
    """Let plans arrive and paint."""
    for _ in range(600):
        application.processEvents()
        if len(window.session.plans) == len(window.session.job.holes):
            break
        time.sleep(0.01)
    for _ in range(600):
        application.processEvents()
        if "forecaster" not in vars(window.session) or not window.session.forecaster.under_way:
            break
        time.sleep(0.01)
    for _ in range(4):
        application.processEvents()


def identified(window: Window) -> None:
    """An unmarked drill measured with a caliper."""
    window.go("crib")
    window.crib_stage().what.reading.setText("8.2")


def point_read(window: Window) -> None:
    """A drill with one lip long, read on a gauge."""
    window.go("crib")
    stage = window.crib_stage()
    stage.open_page("drawers")
    drills = window.session.shop.of_kind("drill")
    stage.show_tool(next(t for t in drills if t.designation == "11.5 mm"))
    window.check_point()
    page = window.stages["point"]
    read = {"lip_a": "6.22", "lip_b": "5.98", "half_a": "59", "half_b": "58", "relief_a": "11", "relief_b": "7"}
    for key, text in (read | {"web": "1.7", "wear": "0.15"}).items():
        page.keep(key, text)  # type: ignore[attr-defined]


def gone_wrong(window: Window) -> None:
    """The tailstock off, beside the sound hole."""
    window.session.select_hole(0)
    window.what_if()
    row = window.stages["what_if"].rows["tail_side"]  # type: ignore[attr-defined]
    row.amount.setText("0.05")
    row.box.click()


def of_kind(window: Window, hole: int, kind: str) -> None:
    """A hole of the roll housing with the last operation of a kind."""
    if "splitter" not in window.session.job.file.name:
        window.session.clean = window.session.data
        window.open_demo("demo_splitter.job.json")
    window.session.select_hole(hole)
    wait_for_plan(window)
    route = window.session.route
    if route is not None:
        window.session.select_operation([i for i, o in enumerate(route.operations) if o.kind == kind][-1])
    window.go("plan")


def doubtful(window: Window) -> None:
    """A bore near its limit, read with a gauge too rough for it, and off its place at the far end."""
    of_kind(window, 0, "bore")
    session = window.session
    session.put_measured("Gauge", gauge="telescoping")
    hole = session.hole
    assert hole is not None
    for share, depth in zip((0.62, 0.5, 0.47), depths_of(hole), strict=True):
        size = hole.limits.lower_mm + share * (hole.limits.upper_mm - hole.limits.lower_mm)
        for way, off in ((0.0, 0.0), (90.0, 0.0006)):
            session.put_reading(depth, way, f"{size - off:.4f} mm")
    session.put_measured("Off its place", offset_entry="0.01 mm", offset_exit="0.03 mm")
    window.go("measure")


def answered(window: Window, hole: int, sizes: tuple[str, ...], answers: dict[str, str]) -> None:
    """A hole of the guide plate with three sizes and answers typed at Explain."""
    session = window.session
    if "Clicker" not in session.job.file.name:
        session.clean = session.data
        window.open_demo("demo_clicker.job.json")
    session.select_hole(hole)
    wait_for_plan(window)
    session.edit_hole("Answers", evidence=None, measured=None)
    found = session.hole
    assert found is not None
    for depth, size in zip(depths_of(found), sizes, strict=True):
        session.put_reading(depth, 0.0, size)
    for question, answer in answers.items():
        session.answer(question, answer)
    window.go("explain")


def clear_case(window: Window) -> None:
    """A straight hole much too large, with unequal chips: a point off center."""
    sizes = ("8.93 mm", "8.92 mm", "8.91 mm")
    answers = {"q_chips_lips": "uneven", "q_orbit": "yes", "q_finish": "spiral_scores", "q_newtool": "gone"}
    answered(window, 1, sizes, answers)


def unclear_case(window: Window) -> None:
    """Answers that pull apart."""
    sizes = ("8.93 mm", "8.92 mm", "8.91 mm")
    answered(window, 1, sizes, {"q_chips_lips": "uneven", "q_orbit": "yes", "q_lips": "equal"})


def rescued(window: Window) -> None:
    """What can be done with a seat reamed wide at its mouth."""
    window.session.clean = window.session.data
    window.open_demo("demo.job.json")
    window.session.select_hole(1)
    wait_for_plan(window)
    window.session.edit_hole("Edge", edge="9 mm")
    window.go("explain")
    window.stages["explain"].turn_over()  # type: ignore[attr-defined]


def ordered(window: Window, demo: str, quantity: int, hole: int, rate: float | None = None) -> None:
    """A demo job as a batch, its order found, its cost by kinds of drill."""
    session = window.session
    session.clean = session.data
    window.open_demo(demo)
    session.edit("Parts", lambda data: data.__setitem__("quantity", quantity))
    session.select_hole(hole)
    wait_for_plan(window)
    if rate is not None:
        session.put_batch("Cost of an hour", rate_per_hour=rate)
    window.open_batch()
    application = QApplication.instance()
    for _ in range(800):
        if application is not None:
            application.processEvents()
        if not session.batch.working and session.batch.better:
            break
        time.sleep(0.01)


def priced(window: Window) -> None:
    """What a pivot bore's drill costs over the lot, and the order in words."""
    ordered(window, "demo.job.json", 40, 0, 42.0)
    page = window.stages["batch"]
    page.turn_over()  # type: ignore[attr-defined]


def from_above(window: Window) -> None:
    """The roll housing from above, with what is left beside a tie rod's hole."""
    of_kind(window, 0, "bore")
    window.open_part()
    window.stages["part"].choose(2, 0)  # type: ignore[attr-defined]


def practiced(window: Window) -> None:
    """Ream or bore, with what each choice changes for the roll seat."""
    of_kind(window, 0, "bore")
    window.open_practice()
    page = window.stages["practice"]
    page.show_school("finish")  # type: ignore[attr-defined]
    application = QApplication.instance()
    while page.effects.working and application is not None:  # type: ignore[attr-defined]
        application.processEvents()
        time.sleep(0.01)


def at_the_machine(window: Window, hole: int, operation: int, gestures: int, dim: bool = False) -> None:
    """A hole under way: the steps before one done, then some stops of it confirmed."""
    window.session.select_hole(hole)
    wait_for_plan(window)
    window.go("cut")
    stage = window.stages["cut"]
    assert isinstance(stage, CutStage)
    stage.set_dim(dim)
    cutting = stage.cutting
    cutting.now = lambda: AT
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
    from cordwainer.ui.desk.log_keeper import logbook_path

    tools = window.session.shop.of_kind("drill")
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
    window.session.log.learn()
    window.go("logbook")
    application = QApplication.instance()
    for _ in range(6):
        window.session.log.pool.waitForDone()
        if application is not None:
            application.processEvents()


def on_paper(window: Window, path: Path) -> None:
    """The first page of the demo's shop sheet as a picture."""
    from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
    from PyQt6.QtGui import QPainter
    from PyQt6.QtPdf import QPdfDocument

    buffer = QBuffer()
    buffer.setData(QByteArray(window.sheet_bytes()))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    page = document.render(0, QSize(893, 1263))
    paper = QImage(page.size(), QImage.Format.Format_RGB32)
    paper.fill(0xFFFFFFFF)
    painter = QPainter(paper)
    painter.drawImage(0, 0, page)
    painter.end()
    paper.save(str(path))


def wait_for_plan(window: Window) -> None:
    """Until the selected hole has its plan."""
    application = QApplication.instance()
    while window.session.planning and application is not None:
        application.processEvents()
        time.sleep(0.005)


def views(window: Window) -> dict[str, Callable[[], None]]:
    """Each picture with how to get there from the demo."""

    def show(stage: str, hole: int, operation: int = 0) -> Callable[[], None]:
        def go() -> None:
            window.session.select_hole(hole)
            window.session.select_operation(operation)
            window.go(stage)

        return go

    return {
        "print": show("print", 0),
        "plan": show("plan", 0, 3),
        "what_if": lambda: gone_wrong(window),
        "cut": lambda: at_the_machine(window, 1, 1, 3),
        "cut_dim": lambda: at_the_machine(window, 0, 3, 0, dim=True),
        "crib": lambda: identified(window),
        "measure": lambda: doubtful(window),
        "logbook": lambda: logged(window),
        "point": lambda: point_read(window),
        "plan_bored": lambda: of_kind(window, 0, "bore"),
        "practice": lambda: practiced(window),
        "part": lambda: from_above(window),
        "explain": lambda: clear_case(window),
        "explain_unclear": lambda: unclear_case(window),
        "batch": lambda: ordered(window, "demo_clicker.job.json", 6, 1),
        "batch_cost": lambda: priced(window),
        "rescue": lambda: rescued(window),
    }


def main() -> None:
    """Save all pictures, or only those named."""
    folder, wanted = Path(sys.argv[1]), sys.argv[2:]
    folder.mkdir(parents=True, exist_ok=True)
    application = QApplication(["cordwainer"])
    theme.apply(application)
    window = Window(Session(Settings()))
    window.resize(*SIZE)
    window.begin(None, ask=False)
    window.show()
    settle(application, window)
    window.grab().save(str(folder / "first.png"))
    window.begin(None, demo=True)
    settle(application, window)
    for name, go in views(window).items():
        if wanted and name not in wanted and not (name == "plan" and "sheet" in wanted):
            continue
        go()
        settle(application, window)
        picture = window.grab()
        picture.save(str(folder / f"{name}.png"))
        if name in PICTURES and not wanted:
            small = picture.scaled(QSize(800, 500), transformMode=Qt.TransformationMode.SmoothTransformation)
            HELP.mkdir(exist_ok=True)
            small.save(str(HELP / f"{name}.jpg"), quality=84)
        if name == "plan" and (not wanted or "sheet" in wanted):
            on_paper(window, folder / "sheet.png")
    window.session.quiet()


if __name__ == "__main__":
    main()
