"""The API in tests."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from django.conf import settings

from tests.support.api import Api, moor


@pytest.fixture(scope="session", autouse=True)
def _ready(warm: Path) -> None:
    """No test waits for the compiler."""


@pytest.fixture
def api(db: None) -> Api:
    return Api()


@pytest.fixture
def project(api: Api) -> dict[str, Any]:
    """The test moor, made through the API and filled by one edit."""
    return moor(api)


@pytest.fixture
def data_folder() -> Path:
    folder: Path = settings.MEADOW_DATA
    return folder
