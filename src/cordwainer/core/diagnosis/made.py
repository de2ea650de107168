"""How a hole was made, as the forward model takes it."""

from __future__ import annotations

from dataclasses import dataclass, field

from cordwainer.core.formation.inputs import Op, Setup


@dataclass(frozen=True, eq=False)
class Made:
    """Operations and setup as the forward model takes them; one is only like itself, so that it can be a key."""

    ops: tuple[Op, ...]
    setup: Setup
    known: bool = field(default=False)
