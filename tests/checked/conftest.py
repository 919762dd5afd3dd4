"""These tests run by themselves, with kernels that check their bounds: ``NUMBA_BOUNDSCHECK=1 pytest tests/checked``."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

HERE = Path(__file__).parent


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    if os.environ.get("NUMBA_BOUNDSCHECK", "0") in ("", "0"):
        # The hook is given every test of a run, not those of this folder alone.
        for item in (item for item in items if HERE in item.path.parents):
            item.add_marker(pytest.mark.skip(reason="only with kernels that check their bounds: NUMBA_BOUNDSCHECK=1"))
