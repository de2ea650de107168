"""The soak's own judgement: what it must notice, and what it must not complain of."""

from __future__ import annotations

import json
from pathlib import Path
from types import ModuleType
from typing import Any

import pytest

from cordwainer.files import run as run_files
from tests.jobs import PIVOT, job_data
from tests.scripts import script


@pytest.fixture(scope="module")
def soak() -> ModuleType:
    """The script as a module."""
    return script("run_soak")


@pytest.fixture
def lost(soak: ModuleType, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Any:
    """What is found lost in a folder after notes of a ledger."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / name.lower()))

    def found(*notes: dict[str, Any]) -> list[str]:
        lines = [json.dumps({"at": k} | note) for k, note in enumerate(notes)]
        (tmp_path / "ledger.jsonl").write_text("\n".join(lines) + "\n" + '{"kind": "cut sh')
        missing: list[str] = soak.lost(tmp_path)
        return missing

    return found


def test_a_saved_file_that_changed_is_noticed(soak: ModuleType, lost: Any, tmp_path: Path) -> None:
    path, job = tmp_path / "arm.job.json", job_data(PIVOT)
    path.write_text(json.dumps(job))
    note = {"path": str(path), "data": soak.digest(job)}
    assert not lost({"kind": "saving", **note}, {"kind": "saved", **note})
    later = note | {"data": soak.digest(job_data())}
    assert not lost({"kind": "saved", **note}, {"kind": "saving", **later})  # killed in the middle
    assert "not as it was saved" in lost({"kind": "saved", **note}, {"kind": "saved", **later})[0]
    path.unlink()
    assert "not as it was saved" in lost({"kind": "saved", **note})[0]


def test_a_copy_that_is_gone_or_old_is_noticed(soak: ModuleType, lost: Any, tmp_path: Path) -> None:
    old, new = job_data(PIVOT), job_data(PIVOT | {"depth": "9 mm"})
    kept = [{"kind": "copy", "data": soak.digest(data)} for data in (old, new)]
    assert "is not offered" in lost(kept[0])[0]
    folder = tmp_path / "state" / "cordwainer" / "recovery"
    folder.mkdir(parents=True)
    (folder / "gone.json").write_text(json.dumps({"pid": 2**22 + 3, "file": None, "job": old}))
    assert not lost(kept[0]) and "is not offered" in lost(*kept)[0]
    (folder / "gone.json").write_text(json.dumps({"pid": 2**22 + 3, "file": None, "job": new}))
    assert not lost(kept[0], {"kind": "state", "data": soak.digest(new)})  # newer than what was said
    assert not lost(*kept, {"kind": "dropping"})


def test_lines_runs_settings_and_exports_are_looked_for(soak: ModuleType, lost: Any, tmp_path: Path) -> None:
    line = run_files.begin_line("r", "2026-01-01", operations=[{"kind": "drill"}], hole={"id": "A"})
    note = {"kind": "line", "line": soak.digest(line)}
    assert "run record are gone" in lost(note)[0]
    run_files.append(tmp_path / "arm.run.jsonl", line)
    assert not lost(note)
    exported = {"kind": "exported", "path": str(tmp_path / "a.pdf"), "content": "0" * 64}
    assert "not as it was exported" in lost(exported)[0]
    first, last = ({"kind": "setting", "key": key, "value": "0"} for key in ("unit", "dim"))
    assert lost(first, last) == ["setting unit"]  # of the last one it cannot be told whether it was said


def test_the_lag_is_from_the_first_edit_not_yet_kept(soak: ModuleType, tmp_path: Path) -> None:
    notes = [("state", 1.0), ("state", 1.2), ("copy", 1.5), ("state", 2.0), ("copy", 2.1), ("state", 9.0)]
    lines = [json.dumps({"kind": kind, "at": at}) for kind, at in notes]
    (tmp_path / "ledger.jsonl").write_text("\n".join(lines))
    assert soak.lag(tmp_path) == pytest.approx(0.5)
