"""Where settings, recovery files and the log live: the XDG folders."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import platformdirs

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.documents import read_json
from cordwainer.files.writing import remove, set_aside, write_json

NAME = "cordwainer"
LONGEST_NAME = 180
MOST_RECENT = 8
SHOP_ENDING = ".shop.json"


def config_folder() -> Path:
    """The XDG config folder of the application."""
    return Path(platformdirs.user_config_dir(NAME))


def state_folder() -> Path:
    """The XDG state folder: recovery files, locks, the log."""
    return Path(platformdirs.user_state_dir(NAME))


def data_folder() -> Path:
    """The XDG data folder: the logbook, notes on cribs."""
    return Path(platformdirs.user_data_dir(NAME))


def name_for(text: str) -> str:
    """A file's name for any text, short enough for every file system, never two texts with one.

    >>> name_for("/shop/crib.json"), len(name_for("\u0e01" * 300).encode()) < 200
    ('%shop%crib.json', True)
    """
    name = text.replace("/", "%").replace("\0", "%")
    try:
        if len(name.encode("utf-8", "surrogateescape")) <= LONGEST_NAME:
            return name
    except UnicodeEncodeError:  # half a character, which no file's name can hold
        pass
    import hashlib

    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()


def crib_path(shop_name: str) -> Path:
    """Where the notes on the crib of a shop are kept, a built-in one's or a file's."""
    return data_folder() / "cribs" / f"{name_for(shop_name) or 'none'}.crib.json"


def aside(path: Path, what: str) -> str:
    """Set aside what stands where a file of ours should; what is to be said of it."""
    new = set_aside(path)
    if new is None:
        return tr("{what} could not be read and not be set aside: {path}.", what=what, path=path)
    return tr("{what} could not be read; it stands aside as {new}.", what=what, new=new.name)


class Settings:
    """A small JSON file of what the user has settled. `said` is what was wrong with it, to be shown once."""

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or config_folder() / "settings.json"
        self.values: dict[str, Any] = {}
        self.said: list[str] = []
        self._told = False
        try:
            found = read_json(self.path) if os.path.lexists(self.path) else {}
            if not isinstance(found, dict):
                raise InputError("", tr("holds no JSON object"))
            self.values = found
        except InputError:
            self.said.append(aside(self.path, tr("The file of settings")))

    def get(self, key: str, default: Any = None) -> Any:
        """A setting, or the default."""
        return self.values.get(key, default)

    def mapping(self, key: str) -> dict[str, Any]:
        """A setting that is an object; empty where it is missing or anything else."""
        found = self.values.get(key)
        return dict(found) if isinstance(found, dict) else {}

    def put(self, key: str, value: Any) -> None:
        """Settle something and write it down; where that cannot be, it lasts as long as the window and is said."""
        if self.values.get(key) == value:
            return
        self.values[key] = value
        try:
            write_json(self.path, self.values, own=True)
        except InputError as bad:
            if not self._told:
                self._told = True
                self.said.append(tr("Settings last only until this window closes: {bad}.", bad=bad))

    def drop(self, key: str) -> None:
        """Forget what was settled."""
        self.values.pop(key, None)
        try:
            write_json(self.path, self.values, own=True)
        except InputError as bad:
            self.said.append(tr("Settings last only until this window closes: {bad}.", bad=bad))

    def recent(self) -> list[str]:
        """Files opened lately that still exist, newest first."""
        found = self.get("recent", [])
        return [p for p in found if isinstance(p, str) and os.path.exists(p)] if isinstance(found, list) else []

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


@dataclass(frozen=True)
class Left:
    """Work left behind by a window that is gone: its copy, the user's own file if it had one, the job."""

    copy: Path
    file: Path | None
    data: dict[str, Any]

    @property
    def name(self) -> str:
        """What it is called before the user."""
        return self.file.name if self.file else str(self.data.get("name") or tr("an untitled job"))

    def is_of(self, path: Path) -> bool:
        """Whether it is work on that very file."""
        return self.file is not None and os.path.realpath(self.file) == os.path.realpath(path)


class Recovery:
    """The recovery file of one window; the user's own file changes only on Save."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or state_folder() / "recovery"
        self.path = self.folder / f"{os.getpid()}-{id(self):x}.json"
        self.said: list[str] = []

    def write(self, data: dict[str, Any], file: Path | None) -> None:
        """Keep a copy of the job. Raises `InputError` where it cannot be written."""
        pid = os.getpid()
        own = str(file) if file else None
        entry = {"pid": pid, "started": process_start(pid), "file": own, "job": data}
        write_json(self.path, entry, own=True)

    def drop(self) -> None:
        """Forget the copy: the work is saved or let go on purpose."""
        remove(self.path)

    def left_behind(self) -> list[Left]:
        """Copies of windows that are gone, newest first; what cannot be read is set aside and `said`."""
        try:
            names = sorted(os.listdir(self.folder)) if os.path.lexists(self.folder) else []
        except OSError:
            self.said.append(aside(self.folder, tr("The folder of recovery copies")))
            return []
        found = [(_changed(path), path) for path in (self.folder / n for n in names if n.endswith(".json"))]
        return [left for _, path in sorted(found, reverse=True) if (left := self._left(path)) is not None]

    def _left(self, path: Path) -> Left | None:
        if path == self.path:
            return None
        try:
            entry = read_json(path)
            file, job = entry["file"], entry["job"]
            if process_lives(int(entry["pid"]), entry.get("started")):
                return None
            if not isinstance(job, dict):
                raise InputError("job", tr("is no job"))
            return Left(path, Path(file) if isinstance(file, str) and "\0" not in file else None, job)
        except (InputError, KeyError, TypeError, ValueError, OverflowError, AttributeError):
            if os.path.lexists(path):  # another window may have taken it away meanwhile
                self.said.append(aside(path, tr("A recovery copy")))
            return None


def _changed(path: Path) -> float:
    try:
        return path.lstat().st_mtime
    except OSError:
        return 0.0


def shop_words(name: str) -> str:
    """A shop as it is called on the screen: a built-in one by its name, a file by its own, without its ending.

    >>> shop_words("demo"), shop_words("/x/north-bay.shop.json")
    ('demo', 'north bay')
    """
    return name.rsplit("/", 1)[-1].removesuffix(SHOP_ENDING).replace("-", " ")
