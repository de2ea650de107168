"""Prints what the window says in a unit that is not the job's: scripts/audit_units.py [in|mm].

Every label of every stage, hole and step of the four demo jobs, in the unit asked for. Names of tools and the
readings of a scale are right there; anything else is to be looked at.
"""

from __future__ import annotations

import os
import re
import sys
import tempfile
from pathlib import Path
from typing import Any

STAGES = ("print", "part", "batch", "practice", "what_if", "measure", "explain", "crib", "logbook", "cut")
FOREIGN = {
    "in": re.compile(r"\d\s*(?:mm|µm|m/min|cm³|mm²|mm/rev|N·m)(?![a-z])|\bmm\b|µm"),
    "mm": re.compile(r"\d\s*(?:in|ft/min|thou|in/rev|lbf|hp)\b(?! 100| a)"),
}


def gather(unit: str, folder: Path) -> dict[str, set[str]]:
    """Texts with a foreign unit, each with the places it stands."""
    sys.path.insert(0, str(Path(__file__).parents[1]))
    from PyQt6.QtWidgets import QApplication
    from tests.ui.needs_walk import reads

    from cordwainer.files.places import Settings
    from cordwainer.ui.commands.leaving import open_demo
    from cordwainer.ui.desk.demos import DEMOS
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.window import Window

    application = QApplication([])
    theme.apply(application)
    found: dict[str, set[str]] = {}

    def look(window: Any, where: str) -> None:
        window.desk.background.settle()
        for _ in range(8):
            application.processEvents()
        for text in reads(window).split(" | "):
            if FOREIGN[unit].search(text):
                found.setdefault(text, set()).add(where)

    for demo in DEMOS:
        window = Window(Desk(Settings(folder / "settings.json"), inline=True))
        window.begin(None, ask=False)
        open_demo(window, demo)
        window.desk.selection.set_unit(unit)
        window.resize(1280, 800)
        window.show()
        for hole in range(len(window.desk.document.job.holes)):
            window.desk.selection.select_hole(hole)
            window.go("plan")
            route = window.desk.plans.route
            for step in range(len(route.operations) if route is not None else 0):
                window.desk.plans.select_operation(step)
                look(window, f"{demo} plan")
            for stage in STAGES if hole == 0 else ("print", "measure", "explain"):
                window.go(stage)
                look(window, f"{demo} {stage}")
        window.desk.document.clean = window.desk.document.data
        window.close()
    return found


def main(unit: str) -> None:
    """Print them."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    with tempfile.TemporaryDirectory() as name:
        for kind in ("CONFIG", "STATE", "DATA", "CACHE"):
            os.environ[f"XDG_{kind}_HOME"] = str(Path(name) / kind)
        for text, places in sorted(gather(unit, Path(name)).items()):
            print(f"{text[:300]}   [{', '.join(sorted(places))}]")


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "in")
