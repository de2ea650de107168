"""A copy of a small file for each day it is changed on, the newest few kept."""

from __future__ import annotations

import os
from datetime import date
from pathlib import Path

from cordwainer.core.errors import InputError
from cordwainer.files.writing import remove, write_bytes

KEPT = 7


def daily_copies(path: Path) -> list[Path]:
    """The copies of a file, newest first."""
    if not path.parent.is_dir():
        return []
    names = sorted(os.listdir(path.parent), reverse=True)
    return [path.with_name(name) for name in names if name.startswith(f"{path.name}.day-")]


def keep_for_the_day(path: Path, day: date) -> None:
    """Copy a file as it stands before the first change of a day; trouble with the copy holds nothing up."""
    target = path.with_name(f"{path.name}.day-{day.isoformat()}")
    if target.exists() or not path.is_file():
        return
    try:
        write_bytes(target, path.read_bytes())
    except (OSError, InputError):
        return
    for old in daily_copies(path)[KEPT:]:
        remove(old)
