"""JSON documents read without surprises.

Files over 5 MB, nesting over 50 levels, duplicate keys and NaN are refused. Every refusal is an
`InputError` with the path to the field, the value, and what to write instead.
"""

from __future__ import annotations

import json
import math
import re
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import inner, tr

LARGEST_BYTES = 5_000_000
DEEPEST = 50
SUPPORTED_VERSION = 1


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise InputError(key, tr("stands twice in one object; keep one of them"))
        found[key] = value
    return found


class _NotANumber(str):
    """NaN or infinity met while parsing, kept until its path is known."""


HALF_A_CHARACTER = re.compile("[\ud800-\udfff]")


def _refuse(value: Any, path: str = "") -> None:
    """What JSON lets through and no file of ours may hold: NaN, infinity, half characters."""
    if isinstance(value, _NotANumber):
        raise InputError(
            path, tr("'{value}' is not a number; write a figure, or null where not known", value=value)
        )
    if isinstance(value, float) and not math.isfinite(value):
        raise InputError(path, tr("is too large for a number; write a figure, or null where not known"))
    if isinstance(value, str):
        _whole(value, path)
    elif isinstance(value, dict):
        for key, child in value.items():
            _whole(key, path)
            _refuse(child, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for index, child in enumerate(value):
            _refuse(child, f"{path}[{index}]")


def _whole(text: str, path: str) -> None:
    if HALF_A_CHARACTER.search(text):
        shown = HALF_A_CHARACTER.sub("\N{REPLACEMENT CHARACTER}", text)[:40]
        raise InputError(
            path, tr("'{shown}' holds half a character (\\ud800 to \\udfff); write the whole one", shown=shown)
        )


def parse_json(text: str) -> Any:
    """Parse JSON with duplicate keys, NaN and deep nesting refused."""
    try:
        data = json.loads(text, object_pairs_hook=_no_twice, parse_constant=_NotANumber)
    except json.JSONDecodeError as bad:
        raise InputError(
            tr("line {lineno}", lineno=bad.lineno),
            tr("not readable as JSON ({msg}); is the file cut short or a comma missing?", msg=inner(bad.msg)),
        ) from None
    except InputError:
        raise
    except RecursionError:
        raise InputError(
            "", tr("nested more than {deepest} levels deep; no file of ours is", deepest=DEEPEST)
        ) from None
    except ValueError as bad:
        raise InputError(
            "", tr("not readable as JSON ({split}); shorten that number", split=inner(str(bad).split(";")[0]))
        ) from None
    level: list[Any] = [data]
    for _ in range(DEEPEST):
        level = [
            child
            for value in level
            for child in (value.values() if isinstance(value, dict) else value if isinstance(value, list) else ())
        ]
        if not level:
            _refuse(data)
            return data
    raise InputError("", tr("nested more than {deepest} levels deep; no file of ours is", deepest=DEEPEST))


def read_text(path: Path, kind: str = tr("a JSON file"), most: int = LARGEST_BYTES) -> str:
    """The text of a file of at most 5 MB, or as many bytes as said.

    Raises `InputError` for one that is none or cannot be read. Pipes and devices are read as far as that many
    bytes go, so that nothing is waited for without end but the first.
    """
    try:
        with path.open("rb") as file:
            found = file.read(most + 1)
        if len(found) > most:
            size = max(path.stat().st_size, len(found))
            raise InputError(
                "",
                tr(
                    "{size:.1f} MB is too large; files over {most:.0f} MB are not read",
                    size=size / 1000000.0,
                    most=most / 1000000.0,
                ),
            )
        return found.decode("utf-8-sig")
    except InputError:
        raise
    except FileNotFoundError:
        raise InputError("", tr("there is no such file; check the name")) from None
    except IsADirectoryError:
        raise InputError("", tr("is a folder; name a file in it")) from None
    except UnicodeDecodeError:
        raise InputError("", tr("is not text in UTF-8; save it as {kind}", kind=kind)) from None
    except OSError as bad:
        raise InputError("", tr("cannot be read: {strerror}", strerror=bad.strerror)) from None
    except ValueError:
        raise InputError("", tr("is no name of a file; check it")) from None


def read_json(path: Path) -> Any:
    """What a JSON file holds, checked for size and depth. Raises `InputError`."""
    return parse_json(read_text(path))


def read_document(path: Path, wanted_format: str) -> dict[str, Any]:
    """The JSON object in a file, checked for size, shape, `format` and `version`."""
    return check_document(read_json(path), wanted_format)


def check_document(data: Any, wanted_format: str) -> dict[str, Any]:
    """The object, when it is one of the wanted format with a version."""
    if not isinstance(data, dict):
        raise InputError("", f'holds no JSON object; write {{"format": "{wanted_format}", ...}}')
    found = data.get("format")
    if found != wanted_format:
        raise InputError(
            "format",
            tr(
                "{found} is not '{wanted_format}'; is this the right file?",
                found=show(found),
                wanted_format=wanted_format,
            ),
        )
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError(
            "version",
            tr(
                "{version} is not a version; write {supported_version}",
                version=show(version),
                supported_version=SUPPORTED_VERSION,
            ),
        )
    return data


def show(value: Any) -> str:
    """A value as an error quotes it: short."""
    text = "missing" if value is None else repr(value)
    return text if len(text) <= 60 else text[:57] + "..."
