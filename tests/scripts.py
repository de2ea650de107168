"""Scripts of the project as modules, to be tested like any other."""

from __future__ import annotations

import importlib.util
import sys
from pathlib import Path
from types import ModuleType


def script(name: str) -> ModuleType:
    """A script by its name without its ending."""
    spec = importlib.util.spec_from_file_location(name, Path(__file__).parents[1] / "scripts" / f"{name}.py")
    assert spec is not None and spec.loader is not None
    found = importlib.util.module_from_spec(spec)
    sys.modules[name] = found
    spec.loader.exec_module(found)
    return found
