"""A sample of the damaged files of `scripts/mutate`, each through its door; drawings that would not end."""

from __future__ import annotations

from pathlib import Path
from types import ModuleType

import pytest

from cordwainer.core.errors import InputError, StoppedError
from cordwainer.files import drawing
from tests.scripts import script

MANY = 40


@pytest.fixture(scope="module")
def mutate() -> ModuleType:
    """The script as a module."""
    return script("run_mutate")


KINDS = (
    "case", "crib", "drawing", "holes", "job", "logbook", "pdf", "points", "readings", "recovery", "run", "scale",
    "settings", "shop", "tools",
)  # fmt: skip


@pytest.mark.parametrize("kind", KINDS)
def test_no_damaged_file_breaks_anything(mutate: ModuleType, kind: str, tmp_path: Path) -> None:
    assert set(KINDS) == set(mutate.sound())
    _, many, bad, _, _ = mutate.tried((kind, 0, MANY, 2026, str(tmp_path)))
    assert many == MANY and not bad


def test_damage_is_done(mutate: ModuleType) -> None:
    base = mutate.sound()
    for kind in KINDS:
        made = {mutate.one(kind, number, 1, base) for number in range(30)}
        assert len(made) > 20 and not made <= set(base[kind])


def bomb(path: Path) -> None:
    """Twenty kilobytes that are three hundred billion parts."""
    import ezdxf

    document = ezdxf.new("R2010")
    document.blocks.new("B0").add_circle((0, 0), 2)
    for k in range(1, 6):
        block = document.blocks.new(f"B{k}")
        for i in range(10):
            block.add_blockref(f"B{k - 1}", (i * 10, 0))
    many = {"row_count": 30_000, "column_count": 30_000, "row_spacing": 5, "column_spacing": 5}
    document.modelspace().add_blockref("B5", (0, 0), many)
    document.saveas(path)


def test_a_drawing_is_counted_before_it_is_laid_out(tmp_path: Path) -> None:
    bomb(tmp_path / "bomb.dxf")
    assert (tmp_path / "bomb.dxf").stat().st_size < 25_000
    with pytest.raises(InputError, match=r"289,998,900,000,001 parts once its blocks are laid out; to 200,000"):
        drawing.read(tmp_path / "bomb.dxf")


def test_reading_a_drawing_says_how_far_it_is_and_stops_when_told(tmp_path: Path) -> None:
    import ezdxf

    document = ezdxf.new("R2010")
    for k in range(1000):
        document.modelspace().add_circle((k * 10, 0), 2)
    block = document.blocks.new("SELF")
    block.add_circle((0, 50), 1)
    block.add_blockref("SELF", (9, 9))
    document.modelspace().add_blockref("SELF", (0, 0))
    document.saveas(tmp_path / "many.dxf")
    told: list[tuple[int, int]] = []
    found = drawing.read(tmp_path / "many.dxf", lambda done, of: bool(told.append((done, of))))
    assert len(found.circles) == 1001 and [done for done, _ in told] == [0, 256, 512, 768]
    with pytest.raises(StoppedError):
        drawing.read(tmp_path / "many.dxf", lambda done, of: done > 300)
