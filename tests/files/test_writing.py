"""Writing a file: whole or not at all, whatever goes wrong at whichever call, and nothing else writes any."""

from __future__ import annotations

import ast
import errno
import os
import stat
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

import cordwainer
from cordwainer.core.errors import InputError
from cordwainer.files import writing
from cordwainer.files.writing import append_line, may_write, move, plain_name, set_aside, with_ending, write_text

CALLS = ("open", "write", "fsync", "fchmod", "replace", "link")


def failing(monkeypatch: pytest.MonkeyPatch, call: str, number: int, done: int = 0) -> None:
    """The `done`-th use of a call of the system fails."""
    real: Callable[..., Any] = getattr(os, call)
    count = iter(range(10**6))

    def fails(*args: Any, **kwargs: Any) -> Any:
        if next(count) == done:
            raise OSError(number, os.strerror(number))
        return real(*args, **kwargs)

    monkeypatch.setattr(os, call, fails)


def test_a_file_is_written_and_written_over(tmp_path: Path) -> None:
    path = tmp_path / "a.txt"
    write_text(path, "one")
    assert path.read_text() == "one" and stat.S_IMODE(path.stat().st_mode) == 0o666 & ~_umask()
    path.chmod(0o640)
    write_text(path, "two")
    assert path.read_text() == "two" and stat.S_IMODE(path.stat().st_mode) == 0o640
    own = tmp_path / "state" / "deep" / "own.json"
    write_text(own, "mine", own=True)
    assert stat.S_IMODE(own.stat().st_mode) == 0o600 and stat.S_IMODE(own.parent.stat().st_mode) == 0o700


def _umask() -> int:
    found = os.umask(0)
    os.umask(found)
    return found


def test_a_link_is_followed_and_stays(tmp_path: Path) -> None:
    (tmp_path / "real.txt").write_text("old")
    (tmp_path / "link.txt").symlink_to("real.txt")
    write_text(tmp_path / "link.txt", "new")
    assert (tmp_path / "link.txt").is_symlink() and (tmp_path / "real.txt").read_text() == "new"
    (tmp_path / "round").symlink_to("round")
    with pytest.raises(InputError, match="circle"):
        write_text(tmp_path / "round", "x")


@pytest.mark.parametrize(
    ("name", "said"),
    [("folder", "a folder of that name"), ("pipe", "no ordinary file"), ("none/x", "no such folder"),
     ("file/x", "is a file"), ("x" * 300, "too long"), ("nul\0", "no name for a file")],
)  # fmt: skip
def test_what_is_no_place_for_a_file(tmp_path: Path, name: str, said: str) -> None:
    (tmp_path / "folder").mkdir()
    (tmp_path / "file").write_text("kept")
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(InputError, match=said):
        write_text(tmp_path / name, "x")
    assert sorted(p.name for p in tmp_path.iterdir()) == ["file", "folder", "pipe"]


@pytest.mark.parametrize("call", ["open", "fsync", "fchmod", "replace"])
@pytest.mark.parametrize("number", [errno.ENOSPC, errno.EROFS, errno.EIO, errno.EACCES])
def test_a_failure_at_any_call_leaves_the_old_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, call: str, number: int
) -> None:
    path = tmp_path / "a.txt"
    path.write_text("old")
    with monkeypatch.context() as disk:
        failing(disk, call, number)
        with pytest.raises(InputError, match=writing.WHY[number]):
            write_text(path, "new")
    assert path.read_text() == "old" and [p.name for p in tmp_path.iterdir()] == ["a.txt"]


def test_without_over_a_file_that_comes_meanwhile_stays(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "a.txt"
    real = os.fsync

    def comes(handle: int) -> None:
        path.write_text("theirs")
        real(handle)

    with monkeypatch.context() as disk:
        disk.setattr(os, "fsync", comes)
        with pytest.raises(InputError, match="is there already"):
            write_text(path, "ours", over=False)
    assert path.read_text() == "theirs" and len(list(tmp_path.iterdir())) == 1
    failing(monkeypatch, "link", errno.EPERM)  # a disk without links
    write_text(tmp_path / "b.txt", "ours", over=False)
    assert (tmp_path / "b.txt").read_text() == "ours"


@pytest.mark.parametrize("call", ["write", "fsync"])
def test_a_line_that_cannot_be_added_leaves_none_of_itself(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, call: str
) -> None:
    path = tmp_path / "a.jsonl"
    append_line(path, b"one")
    with monkeypatch.context() as disk:
        failing(disk, call, errno.ENOSPC)
        with pytest.raises(InputError, match="disk is full"):
            append_line(path, b"two")
    with monkeypatch.context() as disk:
        real = os.write
        disk.setattr(os, "write", lambda handle, content: real(handle, content[:2]))
        with pytest.raises(InputError, match="disk is full"):
            append_line(path, b"three")
    assert path.read_bytes() == b"one\n"
    path.write_bytes(b"one\ncut sh")  # as a power cut leaves it
    append_line(path, b"two")
    assert path.read_bytes() == b"one\ncut sh\ntwo\n"


@pytest.mark.parametrize("at", ["write", "fsync", "replace", "after"])
def test_killed_at_any_moment_there_is_the_old_file_or_the_new(tmp_path: Path, at: str) -> None:
    path = tmp_path / "a.txt"
    path.write_text("old")
    child = os.fork()
    if not child:
        real = getattr(os, at, None)
        if real is not None:
            setattr(os, at, lambda *_: os._exit(9))
        write_text(path, "new" * 100_000)
        os._exit(9)
    os.waitpid(child, 0)
    assert path.read_text() in ("old", "new" * 100_000)
    assert (path.read_text() == "old") == (at in ("fsync", "replace"))
    writing._swept.clear()
    write_text(path, "later")  # what the killed one left half-written goes with the next one written
    assert [p.name for p in tmp_path.iterdir()] == ["a.txt"] and path.read_text() == "later"


def test_what_is_aside_and_what_is_moved(tmp_path: Path) -> None:
    for _ in range(2):
        (tmp_path / "a.json").symlink_to("nowhere")
        assert set_aside(tmp_path / "a.json") is not None
    assert sorted(os.listdir(tmp_path)) == ["a.json.aside-1", "a.json.aside-2"]
    assert set_aside(tmp_path / "none") is None
    (tmp_path / "b").write_text("b")
    with pytest.raises(InputError, match="is there already"):
        move(tmp_path / "b", tmp_path / "a.json.aside-1")
    with pytest.raises(InputError, match="--force"):
        may_write(tmp_path / "b", "--force")


@given(st.text())
def test_any_name_makes_one_for_a_file(text: str) -> None:
    found = plain_name(text, "job")
    assert found and "/" not in found and found not in (".", "..") and len(found.encode()) <= 100
    assert with_ending(Path(found), ".pdf").name.startswith(found)


WRITERS = {"write_text", "write_bytes", "touch", "mkstemp", "NamedTemporaryFile", "mkdir", "unlink", "rename"}
OS_WRITERS = {"replace", "rename", "remove", "unlink", "link", "makedirs", "mkdir", "truncate"}
# SQLite writes its own file; Qt its locks; a terminal for the stand-in gauge is no file.
MAY = {"files/writing.py", "devices/stand_in.py", "devices/stand_in_gauge.py"}


def test_nothing_else_opens_a_file_for_writing() -> None:
    root, found = Path(cordwainer.__file__).parent, []
    for path in sorted(root.rglob("*.py")):
        name = str(path.relative_to(root))
        if name in MAY:
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.Call):
                continue
            function = node.func
            modes = [a.value for a in node.args if isinstance(a, ast.Constant) and isinstance(a.value, str)]
            called = function.attr if isinstance(function, ast.Attribute) else getattr(function, "id", "")
            owner = ast.unparse(function.value) if isinstance(function, ast.Attribute) else ""
            writes = (
                (isinstance(function, ast.Attribute) and called in WRITERS)
                or (owner in ("os", "shutil") and called in OS_WRITERS)
                or (called in ("open", "fdopen") and any(set(m) & set("wax+") and len(m) < 4 for m in modes))
                or called in ("QSaveFile", "saveas", "O_WRONLY")
            )
            if writes:
                found.append(f"{name}:{node.lineno} {called}")
    assert not found
