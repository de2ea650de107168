"""Every file the program writes is written here: whole or not at all, seen on the disk, never by surprise.

A file is written into another beside it, synced, renamed over it, and the folder synced: after a crash or a power
cut there is the old file or the new one. Permissions and owner of a file that was there are kept. A link is
followed: what it points to is written, the link stays. Every refusal is an `InputError` in plain words.
"""

from __future__ import annotations

import contextlib
import errno
import json
import os
import stat
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr

PART = ".cordwainer-"
OWN, OWN_FOLDER = 0o600, 0o700

WHY = {
    errno.ENOSPC: tr("the disk is full"),
    errno.EDQUOT: tr("the disk's quota is used up"),
    errno.EROFS: tr("the disk can only be read"),
    errno.EACCES: tr("writing there is not allowed"),
    errno.EPERM: tr("writing there is not allowed"),
    errno.ENOENT: tr("there is no such folder"),
    errno.ENOTDIR: tr("what should be its folder is a file"),
    errno.EISDIR: tr("a folder of that name is there"),
    errno.ENAMETOOLONG: tr("the name is too long"),
    errno.EIO: tr("the disk failed"),
    errno.EFBIG: tr("the file would be too large"),
    errno.ELOOP: tr("the link leads in a circle"),
}


UNREAD = {errno.ENOENT: tr("there is no such file"), errno.EACCES: tr("reading it is not allowed")}


def why(bad: OSError) -> str:
    """An error of the system in plain words, whatever its language.

    >>> why(OSError(errno.ENOSPC, "Kein Platz"))
    'the disk is full'
    """
    return WHY.get(bad.errno or 0, bad.strerror or str(bad))


def why_unread(bad: OSError) -> str:
    """Why a file could not be read, in plain words.

    >>> why_unread(OSError(errno.ENOENT, "Keine Datei"))
    'there is no such file'
    """
    return UNREAD.get(bad.errno or 0) or why(bad)


@contextlib.contextmanager
def told(path: Path) -> Iterator[None]:
    """What the system has against writing a file comes out as an `InputError` that names it."""
    try:
        yield
    except InputError:
        raise
    except FileExistsError:
        raise InputError("", tr("{path} is there already", path=path.name)) from None
    except OSError as bad:
        raise InputError("", tr("{path} could not be written: {why}", path=path.name, why=why(bad))) from None
    except ValueError:
        raise InputError("", tr("{path!r} is no name for a file", path=path.name)) from None


def with_ending(path: Path, *endings: str) -> Path:
    """A name with the first ending added where it has none of them: added, never swapped.

    >>> with_ending(Path("bracket 1.5"), ".pdf").name, with_ending(Path("a.PDF"), ".pdf").name
    ('bracket 1.5.pdf', 'a.PDF')
    """
    if path.name.lower().endswith(endings):
        return path
    return path.with_name(path.name + endings[0])


def plain_name(text: str, otherwise: str) -> str:
    """A name for a file from what somebody calls something: no folder in it, nothing that cannot be seen, short.

    >>> plain_name("arm 3/4\\n", "job"), plain_name("..", "job")
    ('arm 3 4', 'job')
    """
    kept = "".join(c if c.isprintable() and c not in "/\\" else " " for c in text)
    kept = kept.encode("utf-8", "ignore")[:100].decode("utf-8", "ignore")
    return " ".join(kept.split()).strip(". ") or otherwise


def may_write(path: Path, with_what: str) -> None:
    """Raise `InputError` for a file that is there already; `with_what` writes over it all the same."""
    if os.path.lexists(path):
        raise InputError(
            "",
            tr(
                "{path} is there already and is left as it is; write over it with {with_what}",
                path=path,
                with_what=with_what,
            ),
        )


def write_text(path: Path, text: str, *, over: bool = True, own: bool = False) -> None:
    """Write a file of text; see `write_bytes`."""
    write_bytes(path, text.encode("utf-8", "surrogatepass"), over=over, own=own)


def write_json(path: Path, data: Any, *, over: bool = True, own: bool = False) -> None:
    """Write a document as indented JSON; see `write_bytes`."""
    write_text(path, json.dumps(data, indent=1, ensure_ascii=False) + "\n", over=over, own=own)


def write_bytes(path: Path, content: bytes, *, over: bool = True, own: bool = False) -> None:
    """Write a file whole or not at all, and see it on the disk.

    Without `over` a file that is there stays, and that is an error. `own` is for what the program keeps for
    itself: folders are made, and nobody else may read it. Raises `InputError`.
    """
    with told(path):
        target = Path(os.path.realpath(path))
        if own:
            make_folder(target.parent)
        there = _there(target)
        if there is not None and not over:
            raise FileExistsError
        _sweep(target.parent)
        beside = target.with_name(f"{PART}{os.getpid()}-{os.urandom(6).hex()}")
        handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, OWN if own else 0o666)
        try:
            with os.fdopen(handle, "wb") as stream:
                if there is not None:
                    _like(stream.fileno(), there, own)
                stream.write(content)
                stream.flush()
                os.fsync(stream.fileno())
            _put(beside, target, over)
        except BaseException:
            beside.unlink(missing_ok=True)
            raise
        sync_folder(target.parent)


def _there(target: Path) -> os.stat_result | None:
    """The file that is there, None where none is; anything but a file is refused."""
    try:
        found = target.stat()
    except FileNotFoundError:
        return None
    if stat.S_ISDIR(found.st_mode):
        raise IsADirectoryError(errno.EISDIR, "")
    if not stat.S_ISREG(found.st_mode):
        raise InputError("", tr("{target} is no ordinary file; name another", target=target.name))
    return found


def _like(handle: int, there: os.stat_result, own: bool) -> None:
    """Permissions and owner as they were, as far as the system allows."""
    with contextlib.suppress(OSError):
        os.fchown(handle, there.st_uid, there.st_gid)
    os.fchmod(handle, OWN if own else stat.S_IMODE(there.st_mode) & 0o777)


def _put(beside: Path, target: Path, over: bool) -> None:
    if over:
        os.replace(beside, target)
        return
    try:
        os.link(beside, target)  # unlike a rename it fails where a file came meanwhile
    except FileExistsError:
        raise
    except OSError:  # a disk without links
        if target.exists():
            raise FileExistsError from None
        os.replace(beside, target)
        return
    beside.unlink()


def write_chunks(path: Path, chunks: Iterable[bytes]) -> None:
    """A new file piece by piece, for what is too large to hold, in a folder made for it."""
    with told(path), path.open("xb") as out:
        for chunk in chunks:
            out.write(chunk)


def append_line(path: Path, line: bytes) -> None:
    """Add a line to the program's own record and see it on the disk; on failure the file is as it was.

    Raises `InputError`.
    """
    with told(path):
        make_folder(path.parent)
        handle = os.open(path, os.O_RDWR | os.O_CREAT | os.O_APPEND | os.O_CLOEXEC, 0o666)
        try:
            size = os.fstat(handle).st_size
            cut_short = bool(size) and os.pread(handle, 1, size - 1) != b"\n"
            content = (b"\n" if cut_short else b"") + line + b"\n"
            try:
                written = os.write(handle, content)
                if written < len(content):
                    raise OSError(errno.ENOSPC, "")
                os.fsync(handle)
            except OSError:
                with contextlib.suppress(OSError):
                    os.ftruncate(handle, size)
                raise
        finally:
            os.close(handle)
        if not size:
            sync_folder(path.parent)


def begin_own(path: Path) -> None:
    """An empty file of our own for another program to fill, that nobody else may read; one there stays."""
    make_folder(path.parent)
    with contextlib.suppress(FileExistsError):
        os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, OWN))


def make_folder(folder: Path) -> None:
    """The folder of a file of our own, nobody else's to read where it is new. Raises OSError."""
    if not folder.is_dir():
        make_folder(folder.parent)
        try:
            folder.mkdir(OWN_FOLDER)
        except FileExistsError:
            if not folder.is_dir():
                raise NotADirectoryError(errno.ENOTDIR, "") from None


def sync_folder(folder: Path) -> None:
    """See the names in a folder on the disk, where the file system knows of such a thing."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def move(source: Path, target: Path) -> None:
    """Give a file another name; one that stands there stays, and that is an error. Raises `InputError`."""
    with told(target):
        if os.path.lexists(target):
            raise FileExistsError
        os.rename(source, target)
        sync_folder(target.parent)


def take_place(beside: Path, target: Path) -> None:
    """Put a file written beside another, by whatever means, in its place, synced. Raises OSError."""
    handle = os.open(beside, os.O_RDONLY | os.O_CLOEXEC)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
    os.replace(beside, target)
    sync_folder(target.parent)


def remove(path: Path) -> bool:
    """Take away a file of our own; whether it is gone."""
    try:
        path.unlink(missing_ok=True)
    except OSError:
        return False
    return True


def set_aside(path: Path) -> Path | None:
    """Rename what stands where a file of ours should, whatever it is; None where that cannot be."""
    for number in range(1, 1000):
        aside = path.with_name(f"{path.name}.aside-{number}")
        if not os.path.lexists(aside):
            try:
                os.rename(path, aside)
            except OSError:
                return None
            return aside
    return None


_swept: set[Path] = set()


def _sweep(folder: Path) -> None:
    """Take away what a killed process left half-written in a folder, once a process."""
    if folder in _swept:
        return
    _swept.add(folder)
    with contextlib.suppress(OSError):
        for left in folder.glob(f"{PART}*-*"):
            number = left.name.removeprefix(PART).partition("-")[0]
            if number.isdigit() and int(number) != os.getpid() and not Path(f"/proc/{number}").exists():
                left.unlink(missing_ok=True)
