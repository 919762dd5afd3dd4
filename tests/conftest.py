"""Tests use a data folder of their own; compiled kernels are kept between runs."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path

import django
import pytest
from hypothesis import HealthCheck, settings

# Speed is for the bench, and a run that fails says something of the change that it runs on.
settings.register_profile("tests", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("tests")
ROOT = Path(__file__).resolve().parents[1]
# Before anything of the application is loaded, which would take the data folder of whoever runs the tests.
os.environ["ZIGZAG_DATA"] = tempfile.mkdtemp(prefix="zigzag-test-")
atexit.register(shutil.rmtree, os.environ["ZIGZAG_DATA"], ignore_errors=True)
os.environ["ZIGZAG_KERNELS"] = str(ROOT / "build" / "kernels")
os.environ["DJANGO_SETTINGS_MODULE"] = "zigzag_meadow.server.settings"
django.setup()


@pytest.fixture(scope="session")
def warm(tmp_path_factory: pytest.TempPathFactory) -> Path:
    from zigzag_meadow.core.warm import warm_up

    warm_up()
    # On a fresh machine this is what the warm-up alone compiled, before any test adds to it.
    base, made = tmp_path_factory.mktemp("warm") / "kernels", Path(os.environ["NUMBA_CACHE_DIR"])
    shutil.copytree(made, base / made.name)
    return base


@pytest.fixture
def warm_kernels(warm: Path) -> Path:
    """The kernels that a warm-up leaves behind."""
    return warm


@pytest.fixture(scope="session")
def stripes() -> Iterator[object]:
    from zigzag_meadow.core.stripes import Stripes

    pool = Stripes(2)
    yield pool
    pool.close()
