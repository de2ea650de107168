"""Drives the window on the demo and saves a picture of each main view."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from cordwainer.ui import theme
from cordwainer.ui.places import Settings
from cordwainer.ui.session import Session
from cordwainer.ui.window import Window

SIZE = (1280, 800)


def settle(application: QApplication, window: Window) -> None:
    """Let plans arrive and paint."""
    for _ in range(600):
        application.processEvents()
        if len(window.session.plans) == len(window.session.job.holes):
            break
        time.sleep(0.01)
    for _ in range(4):
        application.processEvents()


def doubtful(window: Window) -> None:
    """A seat measured with too rough a gauge."""
    window.session.select_hole(0)
    window.session.put_measured("Gauge", gauge="telescoping", part_temperature_c=26.0, gauge_temperature_c=21.0)
    depths = ((2.9, "20.0148", "20.0131"), (12.0, "20.0122", "20.0117"), (21.1, "20.0117", "20.0109"))
    for depth, first, second in depths:
        window.session.put_reading(depth, 0.0, first)
        window.session.put_reading(depth, 90.0, second)
    window.go("measure")


def insisted(window: Window) -> None:
    """A pilot kept against the rules, and what it breaks."""
    window.session.select_hole(0)
    window.go("plan")
    stage = window.stages["plan"]
    tiny = next(t for t in window.session.shop.of_kind("drill") if t.designation == "2 mm")
    stage.edits.swap(1, tiny)  # type: ignore[attr-defined]
    wait_for_plan(window)
    window.session.select_operation(2)


def identified(window: Window) -> None:
    """An unmarked drill measured with a caliper."""
    window.session.undo.undo()
    window.go("crib")
    window.stages["crib"].what.reading.setText("5.95")  # type: ignore[attr-defined]


def in_inches(window: Window) -> None:
    """The demo job drawn in inches."""
    window.session.clean = window.session.data
    window.open_demo("demo_strap.job.json")
    wait_for_plan(window)
    window.session.select_operation(2)


def wait_for_plan(window: Window) -> None:
    """Until the selected hole has its plan."""
    application = QApplication.instance()
    while window.session.planning and application is not None:
        application.processEvents()
        time.sleep(0.005)


def refused(window: Window) -> None:
    """A hole this shop cannot make."""
    window.session.select_hole(0)
    window.session.edit_hole("Finer", tolerance="H5")
    window.go("plan")


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
        "measure": show("measure", 1),
        "explain": show("explain", 1),
        "measure_cannot_tell": lambda: doubtful(window),
        "plan_insisted": lambda: insisted(window),
        "crib": lambda: identified(window),
        "plan_refused": lambda: refused(window),
        "plan_inch": lambda: in_inches(window),
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
    if wanted == ["plan_scale2"]:
        window.begin(None, demo=True)
        settle(application, window)
        window.session.select_operation(3)
        settle(application, window)
        window.grab().save(str(folder / "plan_scale2.png"))
        window.session.quiet()
        return
    window.grab().save(str(folder / "first.png"))
    window.begin(None, demo=True)
    settle(application, window)
    for name, go in views(window).items():
        if wanted and name not in wanted:
            continue
        go()
        settle(application, window)
        window.grab().save(str(folder / f"{name}.png"))
    from cordwainer.ui.shortcut_sheet import ShortcutSheet

    sheet = ShortcutSheet(window)
    sheet.show()
    settle(application, window)
    sheet.grab().save(str(folder / "shortcuts.png"))
    window.session.quiet()


if __name__ == "__main__":
    main()
