"""Shared: a settings and state folder of its own for every test, and the two built-in shops."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
settings.register_profile("same", deadline=None, derandomize=True)  # one commit, one answer
settings.register_profile("drawn", deadline=None)  # pytest --hypothesis-profile drawn: other draws every time
settings.load_profile("same")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """No test reads or writes the user's own folders."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / name.lower()))
