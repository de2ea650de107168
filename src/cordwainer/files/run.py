"""Run records beside a job: one line of JSON for each thing that happened, written through to the disk.

A file holds the runs of many holes. A line is ``begin`` with a snapshot of hole, plan and machine, or an event of
the run begun under the same id. Lines are only added, so a crash or a power cut costs at most the last one; a last
line cut short is passed over, a broken one in the middle is counted and said.
"""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.planning.machine.run import WHAT, Event, Run, folded

FORMAT, VERSION = "cordwainer-run", 1
MOST_BYTES = 200_000_000


@dataclass
class Record:
    """One hole of one part as it was made: what was begun, and all that happened since."""

    id: str
    begin: dict[str, Any]
    events: list[Event] = field(default_factory=list)

    @property
    def hole(self) -> str:
        """The hole's id in its job."""
        return str(self.begin.get("hole", {}).get("id", ""))

    @property
    def number(self) -> int:
        """Which of the like holes of all parts it is, from 1."""
        return int(self.begin.get("number", 1))

    @property
    def operations(self) -> list[dict[str, Any]]:
        """The operations as last planned."""
        planned = [e.data["operations"] for e in self.events if e.what == "plan"]
        return list(planned[-1] if planned else self.begin.get("operations", []))

    @property
    def run(self) -> Run:
        """How it stands."""
        return folded(len(self.begin.get("operations", [])), self.events)


@dataclass
class Read:
    """What a file holds: its records in the order they were begun, and how many lines could not be read."""

    records: list[Record]
    passed: int = 0


def path_beside(job: Path) -> Path:
    """Where the runs of a job file stand: beside it.

    >>> path_beside(Path("/jobs/arm.job.json")).name
    'arm.run.jsonl'
    """
    return job.with_name(job.name.removesuffix(".json").removesuffix(".job") + ".run.jsonl")


def read(path: Path) -> Read:
    """The records of a file; none where there is no file. Raises `InputError` for one that is something else."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise InputError("", f"{path.name} is over {MOST_BYTES // 1_000_000} MB; move it away to begin anew")
        lines = path.read_text(encoding="utf-8", errors="replace").split("\n")
    except FileNotFoundError:
        return Read([])
    except OSError as bad:
        raise InputError("", f"{path.name} could not be read: {bad.strerror}") from None
    found: dict[str, Record] = {}
    passed = 0
    for number, line in enumerate(lines):
        if not line.strip():
            continue
        try:
            taken = _take(found, json.loads(line))
        except (ValueError, KeyError, TypeError, RecursionError):
            taken = False
        # The last line may have been cut short by a power cut: what it would have said never happened.
        passed += not taken and number < len(lines) - 1
    if passed and not found:
        raise InputError("", f"{path.name} is no run record; move it away to begin anew")
    return Read(list(found.values()), passed)


def _take(found: dict[str, Record], entry: Any) -> bool:
    """Put one line where it belongs; False for one that belongs nowhere."""
    if not isinstance(entry, dict) or not isinstance(entry.get("run"), str):
        return False
    if entry.get("what") == "begin":
        if entry.get("format") != FORMAT or not isinstance(entry.get("operations"), list):
            return False
        found[entry["run"]] = Record(entry["run"], entry)
        return True
    record = found.get(entry["run"])
    if record is None or entry.get("what") not in WHAT:
        return False
    data = entry.get("data", {})
    event = Event(str(entry["at"]), entry["what"], int(entry.get("operation", 0)), dict(data))
    folded(len(record.begin["operations"]), [*record.events, event])
    record.events.append(event)
    return True


def begin_line(run: str, at: str, **snapshot: Any) -> dict[str, Any]:
    """The first line of a record."""
    return {"format": FORMAT, "version": VERSION, "run": run, "what": "begin", "at": at, **snapshot}


def event_line(run: str, event: Event) -> dict[str, Any]:
    """The line of an event."""
    data: dict[str, Any] = {"run": run, "what": event.what, "at": event.at, "operation": event.operation}
    return data | ({"data": dict(event.data)} if event.data else {})


def append(path: Path, entry: Mapping[str, Any]) -> None:
    """Add one line and see it on the disk before going on. Raises `OSError`."""
    path.parent.mkdir(parents=True, exist_ok=True)
    fresh = not path.exists()
    with path.open("ab") as file:
        if not fresh and file.tell() and not _ends_whole(path):
            file.write(b"\n")
        file.write(json.dumps(entry, ensure_ascii=False, separators=(",", ":")).encode() + b"\n")
        file.flush()
        os.fsync(file.fileno())
    if fresh:
        folder = os.open(path.parent, os.O_RDONLY)
        try:
            os.fsync(folder)
        finally:
            os.close(folder)


def _ends_whole(path: Path) -> bool:
    """Whether the last line was written to its end."""
    with path.open("rb") as file:
        file.seek(-1, os.SEEK_END)
        return file.read(1) == b"\n"
