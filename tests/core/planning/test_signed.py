"""What a toolmaker would sign, job by job."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.planning.signing import jobs, objections, planned


@pytest.mark.parametrize("job", jobs(), ids=lambda job: job["name"])
def test_a_toolmaker_signs(job: dict[str, Any]) -> None:
    assert objections(planned(job)) == []
