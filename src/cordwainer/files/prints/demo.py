"""The drawing that ships with the program."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from cordwainer.files.places import data_folder
from cordwainer.files.writing import make_folder, write_bytes


def demo_drawing(name: str = "skiver_arm.pdf") -> Path:
    """Its file; out of a packed installation a copy among the user's own data. Raises `InputError`."""
    found = files("cordwainer") / "data" / "drawings" / name
    if isinstance(found, Path) and found.is_file():
        return found
    target = data_folder() / name
    make_folder(target.parent)
    write_bytes(target, found.read_bytes())
    return target
