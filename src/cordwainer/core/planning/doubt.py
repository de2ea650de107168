"""What a route that is not likely to come out right says against itself, for those who show it."""

from __future__ import annotations

from cordwainer.core.language import inner, tr
from cordwainer.core.planning.search.fronts import chance_of
from cordwainer.core.planning.words.operation import PlanWarning, Route
from cordwainer.core.tables import constant

UNLIKELY = "unlikely"


def doubt_of(route: Route) -> PlanWarning | None:
    """What a route says against itself, or None."""
    return next((w for w in route.warnings if w.id == UNLIKELY), None)


def headline(route: Route) -> str:
    """What stands before anything else of a route that is no even chance; empty else."""
    doubt = doubt_of(route)
    if doubt is None or chance_of(route) >= constant("chance_even"):
        return ""
    return tr("More likely to fail than not: {doubt}{doubt_2}", doubt=inner(doubt.text[0]), doubt_2=doubt.text[1:])
