"""The core in tests."""

from __future__ import annotations

from pathlib import Path

import pytest


@pytest.fixture(scope="session", autouse=True)
def _ready(warm: Path) -> None:
    """No test waits for the compiler."""
