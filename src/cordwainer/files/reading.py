"""Documents held against their models: the first thing wrong becomes an `InputError` that says the mend."""

from __future__ import annotations

from fractions import Fraction
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError
from pydantic_core import ErrorDetails

from cordwainer.core.errors import InputError
from cordwainer.core.language import inner, tr
from cordwainer.core.lengths import Length, parse
from cordwainer.files.documents import show
from cordwainer.files.shown import lines

Model = TypeVar("Model", bound="WholeFile")
Piece = TypeVar("Piece", bound="Part")


MOST_MM, LEAST_MM = 100_000, Fraction(1, 1_000_000)
KEPT = ConfigDict(extra="allow", populate_by_name=True)


class Part(BaseModel):
    """A piece of a document; unknown keys are kept."""

    model_config = KEPT


class WholeFile(BaseModel):
    """A whole document; `format` and `version` say what it is, unknown keys are kept."""

    model_config = KEPT

    format: str
    version: int


def validate(model: type[Model], data: dict[str, Any]) -> Model:
    """The document as its model; the first thing wrong becomes an `InputError`."""
    try:
        return model.model_validate(data)
    except ValidationError as bad:
        raise _first(bad) from None


def validate_part(model: type[Piece], data: dict[str, Any]) -> Piece:
    """A piece of a document as its model; the first thing wrong becomes an `InputError`."""
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
        found: InputError = context["error"]
        return f"{found.field}: {found.problem}" if found.field else found.problem
    if kind == "missing":
        return tr("missing; it must be given")
    wanted = {
        "string_type": tr("text in quotes"),
        "int_type": tr("a whole number"),
        "int_parsing": tr("a whole number"),
        "int_from_float": tr("a whole number"),
        "float_type": tr("a number"),
        "float_parsing": tr("a number"),
        "bool_type": tr("true or false"),
        "bool_parsing": tr("true or false"),
        "list_type": tr("a list in [ ]"),
        "dict_type": "an object in { }",
        "model_type": "an object in { }",
        "literal_error": tr("one of {expected}", expected=context.get("expected", "")),
        "finite_number": tr("a finite number"),
        "greater_than": tr("a number above {gt}", gt=context.get("gt", 0)),
        "greater_than_equal": tr("a number not below {ge}", ge=context.get("ge", 0)),
        "less_than_equal": tr("a number not above {le}", le=context.get("le", 0)),
        "too_short": tr("more entries"),
        "too_long": tr("fewer entries"),
    }.get(kind)
    if wanted is None:
        return f"{show(value)}: {inner(details['msg'])}"
    return tr("{value} does not fit here; write {wanted}", value=show(value), wanted=wanted)


def length_field(value: Any) -> Any:
    """A length as written in a file, for use as a Pydantic validator: text with a unit, positive."""
    if isinstance(value, Length):
        return value
    found = _of_this_world(parse(value), value)
    if found.exact_mm < LEAST_MM:
        raise InputError(
            "", tr("'{lines}' is not more than zero; write a length such as '12 mm'", lines=lines(value, 40))
        )
    return found


def length_or_zero(value: Any) -> Any:
    """A length that may be zero."""
    return value if isinstance(value, Length) else _of_this_world(parse(value), value)


def signed_length(value: Any) -> Any:
    """A length that may be negative (a position or a reading on a scale)."""
    return value if isinstance(value, Length) else _of_this_world(parse(value, signed=True), value)


def _of_this_world(found: Length, value: Any) -> Length:
    if abs(found.exact_mm) > MOST_MM:
        raise InputError(
            "", tr("'{lines}' is longer than anything made here; is the unit right?", lines=lines(value, 40))
        )
    return found


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
