"""A tour of all stages with threads as they are in use: the longest the main thread was away, and where."""

from __future__ import annotations

import os
import sys
import time
from collections.abc import Callable, Iterator
from typing import ClassVar

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from cordwainer.files.places import Settings
from cordwainer.ui.commands import leaving
from cordwainer.ui.desk.demos import DEMOS
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.application import SWITCH_S
from cordwainer.ui.shell.warm_up import warm_up
from cordwainer.ui.shell.window import READY, Window
from cordwainer.ui.stages.cut.cut_stage import CutStage

STAGES = ("print", "part", "plan", "what_if", "practice", "batch", "measure", "explain", "crib", "logbook")
PAUSE_S = 0.2
SHOWN = 8


class Timed(QApplication):
    """Times every event that is not part of another."""

    depth: ClassVar[int] = 0
    doing: ClassVar[str] = ""
    found: ClassVar[list[tuple[float, str]]] = []

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """One event; by processor time, so that another program in the way does not count."""
        Timed.depth += 1
        begun = time.thread_time()
        try:
            return super().notify(receiver, event)
        finally:
            Timed.depth -= 1
            if not Timed.depth:
                kind = event.type().name if event is not None else ""
                where = type(receiver).__name__
                Timed.found.append((time.thread_time() - begun, f"{Timed.doing}: {kind} at {where}"))


def gestures(window: Window) -> Iterator[tuple[str, Callable[[], object]]]:
    """What is done, one thing after the other, with its name."""
    desk = window.desk
    for demo in DEMOS:
        desk.document.clean = desk.document.data
        yield f"open {demo}", lambda demo=demo: leaving.open_demo(window, demo)
        for hole in range(len(desk.document.job.holes)):
            yield f"hole {hole}", lambda hole=hole: desk.selection.select_hole(hole)
            for stage in STAGES:
                yield stage, lambda stage=stage: window.go(stage)
            yield "deeper", lambda: desk.document.edit("Metal", lambda data: data.update(quantity=2))
            yield "read", lambda: desk.readings.put_reading(4.0, 0.0, "8.41 mm")
            yield "explain", lambda: window.go("explain")
            yield "answer", lambda: desk.causes.answer("q_chips_lips", "uneven")
            yield "unit", lambda: window.run("swap_unit")
            yield "cut", lambda: window.go("cut")
            stage_cut = window.stages["cut"]
            assert isinstance(stage_cut, CutStage)
            for _ in range(6):
                yield "next stop", lambda at=stage_cut: QTest.keyClick(at, Qt.Key.Key_PageDown)
            yield "plan", lambda: window.go("plan")
            for command in ("larger_tool", "faster", "plan_freely", "next_route"):
                yield command, lambda command=command: window.run(command)


def main() -> None:
    """Make the tour and print what took longest."""
    sys.setswitchinterval(SWITCH_S)
    application = Timed(["cordwainer"])
    theme.apply(application)
    window = Window(Desk(Settings()))
    window.resize(1280, 800)
    window.begin(None, ask=False)
    window.show()
    window.desk.warm_up(warm_up, window.make_ready)
    begun = time.monotonic()

    def work_until_quiet() -> None:
        end = time.monotonic() + PAUSE_S
        while time.monotonic() < end or window.desk.background.turns:
            application.processEvents()
            time.sleep(0.001)

    while not all(name in window.stages for name in READY):
        work_until_quiet()
    for name, act in gestures(window):
        Timed.doing = name
        before = time.thread_time()
        act()
        Timed.found.append((time.thread_time() - before, f"{name}: the gesture itself"))
        work_until_quiet()
    window.desk.document.clean = window.desk.document.data
    print(f"tour of {time.monotonic() - begun:.0f} s, {len(Timed.found)} events; the longest of the main thread:")
    for seconds, where in sorted(Timed.found, reverse=True)[:SHOWN]:
        print(f"  {1000 * seconds:6.1f} ms  {where}")
    window.close()
    sys.stdout.flush()
    os._exit(0)  # the timing of events outlives their receivers


if __name__ == "__main__":
    main()
