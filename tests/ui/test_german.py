"""The window in German, as a person sees it: nothing left in English, nothing cut off."""

from __future__ import annotations

import io
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from babel.messages.pofile import read_po

ROOT = Path(__file__).parents[2]
WORD = re.compile(r"[A-Za-zÄÖÜäöüß]{3,}")
OWN = {
    "Bench",
    "lathe",
    "Toolroom",
    "demo",
    "catalog",
    "TiN",
    "TiAlN",
    "bright",
    "ZrN",
    "deep",
    "through",
    "drill",
}


def walked(folder: Path) -> dict[str, Any]:
    """What a walk through the window sees, in a process of its own and folders of its own."""
    places = {f"XDG_{name}_HOME": str(folder / name) for name in ("CONFIG", "STATE", "DATA", "CACHE")}
    done = subprocess.run(
        [sys.executable, str(ROOT / "tests" / "ui" / "german_walk.py")],
        env={**os.environ, **places, "PYTHONPATH": str(ROOT)},
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    found: dict[str, Any] = json.loads(done.stdout)
    return found


@pytest.fixture(scope="module")
def german(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    """The window in German."""
    return walked(tmp_path_factory.mktemp("german"))


def vocabulary() -> tuple[dict[str, str], set[str], set[str]]:
    """Each English text with its German, and the words of both."""
    found, english, said = {}, set(), set()
    for message in read_po(io.BytesIO((ROOT / "language" / "de.po").read_bytes())):
        for one, other in zip(
            [message.id] if isinstance(message.id, str) else message.id,
            [message.string] if isinstance(message.string, str) else message.string,
            strict=True,
        ):
            found[one] = other
            english |= {word.lower() for word in WORD.findall(re.sub(r"\{[^}]*\}", "", one))}
            said |= {word.lower() for word in WORD.findall(re.sub(r"\{[^}]*\}", "", other))}
    return found, english, said


def test_no_text_is_left_in_english(german: dict[str, Any]) -> None:
    """Neither a whole text that has its German, nor two words of one that German does not have."""
    known, english, said = vocabulary()
    own = OWN | {word for name in german["names"] for word in WORD.findall(name)}
    left = []
    for text, stage in german["seen"].items():
        if not text or set(WORD.findall(text)) <= own:
            continue
        if known.get(text, text) != text and text.lower() not in said:
            left.append((stage, text))
            continue
        odd = [w for w in WORD.findall(text) if w.lower() in english and w.lower() not in said and w not in own]
        if len(odd) >= 2:
            left.append((stage, text))
    assert not left
    assert len(german["seen"]) > 500  # the walk did see the window


def test_nothing_is_cut_off(german: dict[str, Any]) -> None:
    """German is longer: what is painted or labeled has its place all the same."""
    assert german["wide"] == {}


def test_figures_have_their_comma(german: dict[str, Any]) -> None:
    """A millimeter figure with a point would be read as thousands; inches keep their notation."""
    bad = [
        (stage, text)
        for text, stage in german["seen"].items()
        if re.search(r"\d\.\d+ ?(mm|µm|min|U)\b", text) and "in" not in text.split()
    ]
    assert not bad


def test_what_is_typed_with_a_comma_is_kept_with_a_point(german: dict[str, Any]) -> None:
    """Readings, powers, feeds, costs typed as they are shown: files have points, no figure is torn apart."""
    kept = german["kept"]
    assert '"20.013 mm"' in kept
    assert (
        '"power_kw": 0.75' in kept
        and '"feeds_mm_per_rev": [0.05, 0.125]' in kept
        and '"rate_per_hour": 62.5' in kept
    )
    assert not re.search(r"\d,\d+ ?(mm|in)\b", kept)
