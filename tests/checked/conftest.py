"""These tests run by themselves, with kernels that check their bounds: ``NUMBA_BOUNDSCHECK=1 pytest tests/checked``."""

from __future__ import annotations

import os

import pytest


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    if os.environ.get("NUMBA_BOUNDSCHECK", "0") in ("", "0"):
        for item in items:
            item.add_marker(pytest.mark.skip(reason="only with kernels that check their bounds: NUMBA_BOUNDSCHECK=1"))
