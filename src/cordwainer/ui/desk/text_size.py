"""Text and everything with it at 100 to 200 %: a setting that Qt takes when it starts.

Changing it hands the open job over to a fresh start of the program, with nothing lost but the undo steps.
"""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path
from typing import Any

from cordwainer.files.places import Settings
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection

SIZES = (100, 125, 150, 200)
SCALE = "QT_SCALE_FACTOR"


def size_of(settings: Settings) -> int:
    """The size in force in percent; anything unknown counts as 100."""
    found = settings.get("text_size", 100)
    return found if found in SIZES else 100


def prepare(settings: Settings) -> None:
    """Tell Qt the size before it starts; a scale given from outside stands."""
    size = size_of(settings)
    if size != 100 and SCALE not in os.environ:
        os.environ[SCALE] = f"{size / 100:g}"


def next_size(current: int, up: bool) -> int:
    """The next size, or the same at either end.

    >>> next_size(100, True), next_size(100, False), next_size(200, True)
    (125, 100, 200)
    """
    place = SIZES.index(current) + (1 if up else -1)
    return SIZES[min(max(place, 0), len(SIZES) - 1)]


def hand_over(document: Document, selection: Selection, stage: str) -> Path:
    """Write down all that is open, for the next start to take up."""
    path = document.recovery.folder / f"handover-{os.getpid()}.json"
    path.parent.mkdir(parents=True, exist_ok=True)
    entry = {
        "job": document.data,
        "clean": document.clean,
        "file": str(document.path) if document.path else None,
        "shop": document.shop_name,
        "read_only": document.read_only,
        "stage": stage,
        "hole": selection.hole_index,
        "operation": selection.operation_index,
    }
    path.write_text(json.dumps(entry), encoding="utf-8")
    return path


def take_over(document: Document, path: Path) -> str:
    """Take up what was handed over; the stage that was shown. The file goes once it is read."""
    entry: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    document.take_over(entry)
    path.unlink(missing_ok=True)
    return str(entry["stage"])


def start_again(path: Path) -> None:
    """Replace this process by a fresh start that takes over."""
    os.environ.pop(SCALE, None)
    os.execv(sys.executable, [sys.executable, "-m", "cordwainer", "--take-over", str(path)])
