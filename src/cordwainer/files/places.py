"""Where settings, recovery files and the log live: the XDG folders."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import platformdirs

from cordwainer.files.documents import write_json

NAME = "cordwainer"
MOST_RECENT = 8


def config_folder() -> Path:
    """The XDG config folder of the application."""
    return Path(platformdirs.user_config_dir(NAME))


def state_folder() -> Path:
    """The XDG state folder: recovery files, locks, the log."""
    return Path(platformdirs.user_state_dir(NAME))


class Settings:
    """A small JSON file of what the user has settled; unreadable settings are set aside."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or config_folder() / "settings.json"
        self.values: dict[str, Any] = {}
        try:
            found = json.loads(self.path.read_text(encoding="utf-8"))
            self.values = found if isinstance(found, dict) else {}
        except FileNotFoundError:
            pass
        except (OSError, ValueError):
            self._set_aside()

    def _set_aside(self) -> None:
        try:
            self.path.replace(self.path.with_suffix(".unreadable.json"))
        except OSError:
            return

    def get(self, key: str, default: Any = None) -> Any:
        """A setting, or the default."""
        return self.values.get(key, default)

    def put(self, key: str, value: Any) -> None:
        """Settle something and write it down; a read-only home only loses the setting."""
        if self.values.get(key) == value:
            return
        self.values[key] = value
        try:
            write_json(self.path, self.values)
        except OSError:
            return

    def recent(self) -> list[str]:
        """Files opened lately that still exist, newest first."""
        found = self.get("recent", [])
        return [p for p in found if isinstance(p, str) and Path(p).exists()] if isinstance(found, list) else []

    def add_recent(self, path: Path) -> None:
        """Put a file at the top of the recent ones."""
        text = str(path.resolve())
        self.put("recent", [text, *(p for p in self.recent() if p != text)][:MOST_RECENT])


def process_start(pid: int) -> str | None:
    """When a process started, in clock ticks as Linux tells it; None when it is gone or only a husk."""
    try:
        fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    except OSError:
        return None
    return None if fields[0] in "ZX" else fields[19]


def process_lives(pid: int, started: str | None = None) -> bool:
    """Whether that very process still runs; a number given out again to another does not count."""
    now = process_start(pid)
    return now is not None and (started is None or started == now)


class Recovery:
    """The recovery file of one window; the user's own file changes only on Save."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or state_folder() / "recovery"
        self.path = self.folder / f"{os.getpid()}-{id(self):x}.json"

    def write(self, data: dict[str, Any], file: Path | None) -> bool:
        """Keep a copy of the job; False where the folder cannot be written."""
        try:
            write_json(self.path, self._entry(data, file))
        except OSError:
            return False
        return True

    def _entry(self, data: dict[str, Any], file: Path | None) -> dict[str, Any]:
        pid = os.getpid()
        return {"pid": pid, "started": process_start(pid), "file": str(file) if file else None, "job": data}

    def drop(self) -> None:
        """Forget the copy: the work is saved or let go on purpose."""
        self.path.unlink(missing_ok=True)

    def left_behind(self) -> list[tuple[Path, Path | None, dict[str, Any]]]:
        """Copies of windows that are gone: recovery file, user's file, job."""
        found = []
        if not self.folder.is_dir():
            return []
        for path in sorted(self.folder.glob("*.json"), key=lambda p: p.stat().st_mtime, reverse=True):
            try:
                entry = json.loads(path.read_text(encoding="utf-8"))
                if path == self.path or process_lives(int(entry["pid"]), entry.get("started")):
                    continue
                found.append((path, Path(entry["file"]) if entry.get("file") else None, dict(entry["job"])))
            except (OSError, ValueError, KeyError, TypeError):
                continue
        return found
