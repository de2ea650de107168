"""Scale files: one depth asked of one scale."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from cordwainer.core.cutting.reading import Ask, ScaleReading, ToolZero, read
from cordwainer.core.errors import InputError
from cordwainer.files.documents import read_document
from cordwainer.files.fields import NotNegative, Positive
from cordwainer.files.reading import Part, WholeFile, validate
from cordwainer.files.shop import ScaleFile

FORMAT = "cordwainer-scale"


class ScaleToolFile(Part):
    """The tool and what touches at the start reading."""

    diameter: Positive
    point_angle: float = Field(default=118.0, gt=0, le=180)
    zero_on: Literal["tip", "full_diameter", "flat_face", "edge_touch"] = "tip"
    hole_diameter: Positive | None = None


class AskFile(Part):
    """What is wanted: exactly one."""

    depth_full: Positive | None = None
    chamfer_width: Positive | None = None
    countersink_diameter: Positive | None = None
    counterbore_depth: Positive | None = None


class PeckFile(Part):
    """One depth at which chips are cleared."""

    depth: NotNegative
    of: Literal["tip", "full_diameter"] = "tip"


class ScaleQuestionFile(WholeFile):
    """A scale file as it stands on disk."""

    format: Literal["cordwainer-scale"]
    version: int = Field(ge=1)
    machine_scale: ScaleFile
    tool: ScaleToolFile
    ask: AskFile
    pecks: list[PeckFile] = Field(default_factory=list, max_length=5000)


def answer(file: ScaleQuestionFile) -> ScaleReading:
    """The reading to stop at."""
    ask = Ask(
        depth_full_mm=file.ask.depth_full.mm if file.ask.depth_full else None,
        chamfer_width_mm=file.ask.chamfer_width.mm if file.ask.chamfer_width else None,
        countersink_mm=file.ask.countersink_diameter.mm if file.ask.countersink_diameter else None,
        counterbore_mm=file.ask.counterbore_depth.mm if file.ask.counterbore_depth else None,
    )
    wanted = [
        value
        for value in (ask.depth_full_mm, ask.chamfer_width_mm, ask.countersink_mm, ask.counterbore_mm)
        if value is not None
    ]
    if len(wanted) != 1:
        raise InputError(
            "ask",
            f"{len(wanted)} things asked; write one of depth_full, chamfer_width, "
            "countersink_diameter, counterbore_depth",
        )
    tool = ToolZero(
        file.tool.diameter.mm,
        file.tool.point_angle,
        file.tool.zero_on,
        file.tool.hole_diameter.mm if file.tool.hole_diameter else None,
    )
    pecks = tuple(p.depth.mm + (tool.point_mm if p.of == "full_diameter" else 0.0) for p in _pecks(file))
    return read(file.machine_scale.resolved(), tool, ask, pecks)


def _pecks(file: ScaleQuestionFile) -> list[PeckFile]:
    """Pecks stand beside `ask`, or inside it."""
    inside = (file.ask.model_extra or {}).get("pecks")
    if file.pecks or not isinstance(inside, list):
        return file.pecks
    return [PeckFile.model_validate(entry) for entry in inside]


def load(path: Path) -> ScaleQuestionFile:
    """Read a scale file."""
    return validate(ScaleQuestionFile, read_document(path, FORMAT))


def reading_data(reading: ScaleReading) -> dict[str, Any]:
    """A reading as `cordwainer scale` gives it out."""
    return {
        "unit": reading.unit,
        "stop_reading": reading.stop,
        "stop_total_reading": reading.stop_total,
        "stop_reading_nearest_division": reading.stop_nearest,
        "travel": reading.travel,
        "tip_depth": reading.tip_depth,
        "turns": reading.turns,
        "whole_turns": reading.whole_turns,
        "divisions_past_whole_turns": reading.divisions_past,
        "divisions": reading.divisions,
        "peck_readings": list(reading.pecks),
    }
