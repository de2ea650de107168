"""A window in a process of its own, driven at the machine by keys until it is killed in the middle of a hole.

Arguments: the job file, and how many gestures to make before the process kills itself (0: to the end of the job).
"""

from __future__ import annotations

import os
import signal
import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from cordwainer.files.places import Settings
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.ui.windows import at

PATIENCE_S = 60


class Driver:
    """Fingers on the keys."""

    def __init__(self, window: Window) -> None:
        self.window = window
        stage = at(window, CutStage)
        assert isinstance(stage, CutStage)
        self.stage = stage

    def wait(self, true: Callable[[], bool]) -> None:
        """Let the window work until something is so."""
        end = time.monotonic() + PATIENCE_S
        while not true():
            if time.monotonic() > end:
                raise SystemExit("it never came")
            QTest.qWait(5)

    def key(self, key: Qt.Key) -> None:
        """One key."""
        QTest.keyClick(self.stage, key)

    def one(self) -> None:
        """The next gesture: tick what waits, go on to the next hole, or the next rung, or done."""
        cutting, stage = self.stage.cutting, self.stage
        if cutting.unticked():
            self.key(Qt.Key.Key_1)
        elif cutting.over:
            QTest.mouseClick(stage.following, Qt.MouseButton.LeftButton)
        else:
            card = cutting.card
            assert card is not None
            if stage.live._stand_in is not None:
                stage.live._stand_in.speed_mm_s = 2000.0
            if card.start and cutting.rung < len(card.rungs) - 1:
                self.wait(lambda: stage.live.mm is not None)
            if card.start and 0 <= cutting.rung < len(card.rungs) - 1:
                goal = cutting.readout.shows_mm(card.rungs[cutting.rung + 1].tip_mm)
                self.wait(lambda: goal is None or abs((stage.live.mm or 0.0) - goal) < 0.02)
            self.key(Qt.Key.Key_PageDown)


def begin(path: Path) -> Driver:
    """A window on a job, at the machine, with the stand-in readout linked."""
    settings = Settings()
    settings.put("readout", {"port": "stand-in"})
    window = Window(Desk(settings, inline=True))
    window.begin(path, ask=False)
    window.show()
    end = time.monotonic() + PATIENCE_S
    while len(window.desk.plans.fresh) < len(window.desk.document.job.holes) and time.monotonic() < end:
        QTest.qWait(10)
    window.go("cut")
    QTest.qWait(20)
    return Driver(window)


def main() -> None:
    """Drive, then die without a word."""
    application = QApplication([])
    theme.apply(application)
    driver = begin(Path(sys.argv[1]))
    for _ in range(int(sys.argv[2])):
        driver.one()
    print(driver.stage.cutting.index, driver.stage.cutting.rung, flush=True)
    os.kill(os.getpid(), signal.SIGKILL)


if __name__ == "__main__":
    main()
