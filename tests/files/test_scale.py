"""`cordwainer scale` on sixteen machines and touches, each worked by hand, right to half a division."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner

from cordwainer.cli import cli

TAN59 = math.tan(math.radians(59))


def scale(kind: str, unit: str, start: str, division: str, **more: str | None) -> dict[str, Any]:
    """A machine's scale as a file has it."""
    own: dict[str, Any] = {"kind": kind, "unit": unit, "start_reading": start, "division": division}
    return own | {"per_rev": None, "direction": "increases"} | more


def tool(diameter: str, zero_on: str, angle: float = 118, **more: str) -> dict[str, Any]:
    """A tool and what touches."""
    return {"diameter": diameter, "point_angle": angle, "zero_on": zero_on} | more


RAM = scale("tailstock_ram", "in", "0.500 in", "1/16 in", travel_limit="3 in")
RAM_MM = scale("tailstock_ram", "mm", "12 mm", "1 mm", travel_limit="80 mm")
WHEEL = scale("ram_handwheel", "in", "0 in", "0.001 in", per_rev="0.100 in")
KNEE = scale("knee_dial", "in", "0 in", "0.001 in", per_rev="0.100 in")
QUILL = scale("quill_scale", "mm", "60 mm", "1 mm", travel_limit="80 mm", direction="decreases")
READOUT = scale("readout", "mm", "3.250 mm", "0.005 mm")

# Common practice for the first two and the knee; arithmetic of cone and travel for the others.
CASES = {
    "3/8 deep from 1/2": (RAM, tool("1/4 in", "full_diameter"), {"depth_full": "3/8 in"}, {"stop_reading": 0.875}),
    "5/8 deep from 1": (
        RAM | {"start_reading": "1 in"}, tool("#7", "full_diameter"), {"depth_full": "5/8 in"},
        {"stop_reading": 1.625},
    ),
    "zeroed on the tip": (
        RAM_MM, tool("10 mm", "tip"), {"depth_full": "20 mm"}, {"stop_reading": 12 + 20 + 5 / TAN59}
    ),
    "metric ram, inch job": (
        RAM_MM, tool("3/8 in", "tip"), {"depth_full": "1/2 in"}, {"stop_reading": 12 + 12.7 + 4.7625 / TAN59}
    ),
    "handwheel turns": (
        WHEEL, tool("1/4 in", "full_diameter"), {"depth_full": "3/8 in"},
        {"stop_reading": 0.075, "whole_turns": 3, "divisions_past_whole_turns": 75},
    ),
    "a dial that comes round": (
        scale("ram_handwheel", "mm", "0.5 mm", "0.02 mm", per_rev="2 mm"), tool("8 mm", "flat_face", 180),
        {"depth_full": "10 mm"}, {"stop_reading": 0.5, "whole_turns": 5, "stop_total_reading": 10.5},
    ),
    "knee raised 0.500": (
        KNEE, tool("3/4 in", "flat_face", 180), {"counterbore_depth": "0.500 in"},
        {"stop_reading": 0.0, "whole_turns": 5, "divisions": 500, "stop_total_reading": 0.5},
    ),
    "a quill that counts down": (
        QUILL, tool("12 mm", "flat_face", 180), {"depth_full": "20 mm"}, {"stop_reading": 40}
    ),
    "lips on the edge of a pilot": (
        RAM_MM, tool("12 mm", "edge_touch", hole_diameter="5 mm"), {"depth_full": "15 mm"},
        {"travel": 15 + 6 / TAN59 - 2.5 / TAN59},
    ),
    "chamfer 1 x 45": (
        READOUT, tool("12 mm", "edge_touch", 90, hole_diameter="6.8 mm"), {"chamfer_width": "1 mm"},
        {"stop_reading": 4.25, "travel": 1.0},
    ),
    "countersink 82 from the edge": (
        KNEE, tool("5/8 in", "edge_touch", 82, hole_diameter="1/4 in"), {"countersink_diameter": "1/2 in"},
        {"travel": 0.125 / math.tan(math.radians(41))},
    ),
    "countersink 90 from its tip": (
        READOUT, tool("16 mm", "tip", 90), {"countersink_diameter": "12 mm"}, {"stop_reading": 9.25}
    ),
    "tenths of a millimeter on a readout": (
        READOUT, tool("0.4 mm", "tip"), {"depth_full": "2 mm"}, {"peck_readings": [4.25, 4.35, 4.45]}
    ),
    "carriage wheel, half thousandths": (
        scale("carriage_handwheel", "in", "0 in", "0.0005 in", per_rev="0.200 in"),
        tool("1/2 in", "full_diameter"),
        {"depth_full": "1-1/4 in"}, {"whole_turns": 6, "divisions_past_whole_turns": 100, "stop_reading": 0.05},
    ),
    "inch readout, metric job": (
        scale("readout", "in", "0 in", "0.0002 in"), tool("6 mm", "flat_face", 180), {"depth_full": "10 mm"},
        {"stop_reading": 10 / 25.4},
    ),
    "135 degree point through": (
        scale("quill_scale", "in", "0.250 in", "1/64 in", travel_limit="4 in"), tool("1/2 in", "tip", 135),
        {"depth_full": "1.040 in"}, {"stop_reading": 0.25 + 1.04 + 0.25 / math.tan(math.radians(67.5))},
    ),
}  # fmt: skip


def asked(tmp_path: Path, machine: dict[str, Any], own: dict[str, Any], ask: dict[str, Any]) -> Any:
    """What the command answers."""
    pecks = [{"depth": f"{1 + k / 10} mm", "of": "tip"} for k in range(3)] if own["diameter"] == "0.4 mm" else []
    path = tmp_path / "question.json"
    path.write_text(
        json.dumps(
            {"format": "cordwainer-scale", "version": 1, "machine_scale": machine, "tool": own, "ask": ask}
            | ({"pecks": pecks} if pecks else {})
        )
    )
    return CliRunner().invoke(cli, ["scale", str(path), "--json"])


@pytest.mark.parametrize("name", CASES)
def test_the_reading_is_right_to_half_a_division(tmp_path: Path, name: str) -> None:
    machine, own, ask, expected = CASES[name]
    found = asked(tmp_path, machine, own, ask)
    assert found.exit_code == 0, found.output
    answer = json.loads(found.output)
    whole, _, part = machine["division"].removesuffix(f" {machine['unit']}").partition("/")
    half = (float(whole) / float(part) if part else float(whole)) / 2
    assert answer["unit"] == machine["unit"]
    for key, value in expected.items():
        assert answer[key] == pytest.approx(value, abs=1e-6 if "turns" in key else min(half, 1e-4)), key
    rolled = abs(answer["stop_reading_nearest_division"] - answer["stop_reading"])
    assert min(rolled, abs(rolled - answer["stop_total_reading"])) <= half + 1e-9 or machine["per_rev"]


def test_beyond_the_travel_is_said_with_what_is_missing(tmp_path: Path) -> None:
    long = {"depth_full": "75 mm"}
    found = asked(tmp_path, RAM_MM, tool("8 mm", "flat_face", 180), long)
    assert found.exit_code == 1 and "7 mm missing" in found.output
