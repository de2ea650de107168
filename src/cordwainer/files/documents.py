"""JSON documents read without surprises, and written without losing any.

Files over 5 MB, nesting over 50 levels, duplicate keys and NaN are refused. Every refusal is an
`InputError` with the path to the field, the value, and what to write instead.
"""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError

LARGEST_BYTES = 5_000_000
DEEPEST = 50
SUPPORTED_VERSION = 1


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise InputError(key, "stands twice in one object; keep one of them")
        found[key] = value
    return found


class _NotANumber(str):
    """NaN or infinity met while parsing, kept until its path is known."""


def _refuse_nan(value: Any, path: str = "") -> None:
    if isinstance(value, _NotANumber):
        raise InputError(path, f"'{value}' is not a number; write a figure, or null where not known")
    if isinstance(value, dict):
        for key, child in value.items():
            _refuse_nan(child, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            _refuse_nan(child, f"{path}[{index}]")


def parse_json(text: str) -> Any:
    """Parse JSON with duplicate keys, NaN and deep nesting refused."""
    try:
        data = json.loads(text, object_pairs_hook=_no_twice, parse_constant=_NotANumber)
    except json.JSONDecodeError as bad:
        raise InputError(
            f"line {bad.lineno}",
            f"not readable as JSON ({bad.msg.lower()}); is the file cut short or a comma missing?",
        ) from None
    except InputError:
        raise
    except RecursionError:
        raise InputError("", f"nested more than {DEEPEST} levels deep; no file of ours is") from None
    except ValueError as bad:
        raise InputError(
            "", f"not readable as JSON ({str(bad).split(';')[0].lower()}); shorten that number"
        ) from None
    level: list[Any] = [data]
    for _ in range(DEEPEST):
        level = [
            child
            for value in level
            for child in (value.values() if isinstance(value, dict) else value if isinstance(value, list) else ())
        ]
        if not level:
            _refuse_nan(data)
            return data
    raise InputError("", f"nested more than {DEEPEST} levels deep; no file of ours is")


def read_document(path: Path, wanted_format: str) -> dict[str, Any]:
    """The JSON object in a file, checked for size, shape, `format` and `version`."""
    try:
        size = path.stat().st_size
        if size > LARGEST_BYTES:
            raise InputError("", f"{size / 1e6:.1f} MB is too large; files over 5 MB are not read")
        text = path.read_text(encoding="utf-8-sig")
    except FileNotFoundError:
        raise InputError("", "there is no such file; check the name") from None
    except IsADirectoryError:
        raise InputError("", "is a folder; name a file in it") from None
    except UnicodeDecodeError:
        raise InputError("", "is not text in UTF-8; save it as a JSON file") from None
    except OSError as bad:
        raise InputError("", f"cannot be read: {bad.strerror}") from None
    return check_document(parse_json(text), wanted_format)


def check_document(data: Any, wanted_format: str) -> dict[str, Any]:
    """The object, when it is one of the wanted format with a version."""
    if not isinstance(data, dict):
        raise InputError("", f'holds no JSON object; write {{"format": "{wanted_format}", ...}}')
    found = data.get("format")
    if found != wanted_format:
        raise InputError("format", f"{show(found)} is not '{wanted_format}'; is this the right file?")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError("version", f"{show(version)} is not a version; write {SUPPORTED_VERSION}")
    return data


def show(value: Any) -> str:
    """A value as an error quotes it: short."""
    text = "missing" if value is None else repr(value)
    return text if len(text) <= 60 else text[:57] + "..."


def write_text(path: Path, text: str) -> None:
    """Write a file of text whole or not at all."""
    write_bytes(path, text.encode("utf-8"))


def write_bytes(path: Path, content: bytes) -> None:
    """Write a file whole or not at all: beside it first, then renamed over it."""
    import tempfile  # with what it brings it would be a tenth of the start-up

    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as stream:
            stream.write(content)
            stream.flush()
            os.fsync(stream.fileno())
        if path.exists():
            os.chmod(name, path.stat().st_mode & 0o777)
        else:
            umask = os.umask(0)
            os.umask(umask)
            os.chmod(name, 0o666 & ~umask)
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


def write_json(path: Path, data: Any) -> None:
    """Write a document as indented JSON, whole or not at all."""
    write_text(path, json.dumps(data, indent=1, ensure_ascii=False) + "\n")
