"""Reading JSON documents without surprises, and writing them without losing any.

Files over 5 MB, nesting over 50 levels, duplicate keys and NaN are refused. Every refusal is an
`InputError` with the path to the field, the value, and what to write instead.
"""

from __future__ import annotations

import json
import os
import tempfile
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError
from pydantic_core import ErrorDetails

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import Length, parse

LARGEST_BYTES = 5_000_000
DEEPEST = 50
SUPPORTED_VERSION = 1
Model = TypeVar("Model", bound="Document")


class Part(BaseModel):
    """A piece of a document; unknown keys are kept."""

    model_config = ConfigDict(extra="allow", populate_by_name=True)


class Document(Part):
    """A whole document; `format` and `version` say what it is."""

    format: str
    version: int


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
        raise InputError("format", f"{_show(found)} is not '{wanted_format}'; is this the right file?")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError("version", f"{_show(version)} is not a version; write {SUPPORTED_VERSION}")
    return data


def _show(value: Any) -> str:
    text = "missing" if value is None else repr(value)
    return text if len(text) <= 60 else text[:57] + "..."


def validate(model: type[Model], data: dict[str, Any]) -> Model:
    """The document as its model; the first thing wrong becomes an `InputError`."""
    try:
        return model.model_validate(data)
    except ValidationError as bad:
        raise _first(bad) from None


def _first(bad: ValidationError) -> InputError:
    details = bad.errors(include_url=False)[0]
    return InputError(_path(details["loc"]), _problem(details))


def _path(parts: tuple[int | str, ...]) -> str:
    text = ""
    for part in parts:
        text += f"[{part}]" if isinstance(part, int) else (f".{part}" if text else part)
    return text


def _problem(details: ErrorDetails) -> str:
    kind, value = details["type"], details.get("input")
    context = details.get("ctx") or {}
    if isinstance(context.get("error"), InputError):
        inner: InputError = context["error"]
        return f"{inner.field}: {inner.problem}" if inner.field else inner.problem
    if kind == "missing":
        return "missing; it must be given"
    wanted = {
        "string_type": "text in quotes",
        "int_type": "a whole number",
        "int_parsing": "a whole number",
        "int_from_float": "a whole number",
        "float_type": "a number",
        "float_parsing": "a number",
        "bool_type": "true or false",
        "bool_parsing": "true or false",
        "list_type": "a list in [ ]",
        "dict_type": "an object in { }",
        "model_type": "an object in { }",
        "literal_error": f"one of {context.get('expected', '')}",
        "finite_number": "a finite number",
        "greater_than": f"a number above {context.get('gt', 0)}",
        "greater_than_equal": f"a number not below {context.get('ge', 0)}",
        "less_than_equal": f"a number not above {context.get('le', 0)}",
        "too_short": "more entries",
        "too_long": "fewer entries",
    }.get(kind)
    if wanted is None:
        return f"{_show(value)}: {details['msg'].lower()}"
    return f"{_show(value)} does not fit here; write {wanted}"


def length_field(value: Any) -> Any:
    """A length as written in a file, for use as a Pydantic validator: text with a unit, positive."""
    if isinstance(value, Length):
        return value
    found = parse(value)
    if found.exact_mm <= 0:
        raise InputError("", f"'{value}' is not more than zero; write a length such as '12 mm'")
    return found


def length_or_zero(value: Any) -> Any:
    """A length that may be zero."""
    return value if isinstance(value, Length) else parse(value)


def signed_length(value: Any) -> Any:
    """A length that may be negative (a position or a reading on a scale)."""
    return value if isinstance(value, Length) else parse(value, signed=True)


def unknown_keys(model: BaseModel, prefix: str = "") -> list[str]:
    """Paths of all keys a document holds that its model does not know."""
    found = [f"{prefix}{key}" for key in (model.model_extra or {})]
    for name in type(model).model_fields:
        value = getattr(model, name)
        if isinstance(value, BaseModel):
            found += unknown_keys(value, f"{prefix}{name}.")
        elif isinstance(value, list):
            for index, item in enumerate(value):
                if isinstance(item, BaseModel):
                    found += unknown_keys(item, f"{prefix}{name}[{index}].")
    return found


def write_text(path: Path, text: str) -> None:
    """Write a file whole or not at all: beside it first, then renamed over it."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", dir=path.parent)
    try:
        with os.fdopen(handle, "w", encoding="utf-8") as stream:
            stream.write(text)
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
