"""Length types for file models: text with a unit outside, exact lengths inside."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator, PlainSerializer, WithJsonSchema

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.reading import length_field, length_or_zero, signed_length
from cordwainer.files.shown import shown

_SCHEMA = WithJsonSchema(
    {"type": "string", "description": tr("a length with its unit: '20 mm', '0.7500 in', '25/64 in', '#7'")}
)
_WRITE: Any = PlainSerializer(lambda value: str(value) if value is not None else None, return_type=str)


Positive = Annotated[Any, BeforeValidator(length_field), _WRITE, _SCHEMA]
NotNegative = Annotated[Any, BeforeValidator(length_or_zero), _WRITE, _SCHEMA]
Signed = Annotated[Any, BeforeValidator(signed_length), _WRITE, _SCHEMA]


LONGEST_ID = 120


def _seen(value: str) -> str:
    if shown(value, LONGEST_ID) != value:
        raise InputError(
            "", tr("'{value}' is long or not all to be seen; write letters and figures", value=shown(value, 40))
        )
    return value


Id = Annotated[str, AfterValidator(_seen)]


TOOL_LENGTHS = (
    "web",
    "flute_length",
    "overall_length",
    "shank_diameter",
    "lead",
    "min_bore",
    "max_overhang",
    "pilot_length",
    "body_diameter",
    "pilot_diameter",
    "pitch",
)
