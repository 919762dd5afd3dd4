"""Any process may end at any moment: five rounds here, a hundred in the bench."""

from __future__ import annotations

import os
import signal
import subprocess
import sys

import pytest

from tests.support.kills import Application, _stat, kill_rounds, wait_for
from tests.support.site import furnished

pytestmark = pytest.mark.e2e


def test_nothing_acknowledged_is_lost_whatever_ends(tmp_path):
    count = kill_rounds(furnished(tmp_path / "data"), 5, seed=11)
    assert len(count.killed) == 5
    assert count.edits > 20
    assert count.imports > 5
    assert count.upgrades > 2
    assert count.checked > 0


def test_when_the_application_is_killed_nothing_lives_on_and_a_second_one_says_who_is_first(tmp_path):
    app = Application(furnished(tmp_path / "data"))
    app.start()
    everybody = app.processes()
    assert len(everybody) >= 5
    second = subprocess.run(
        [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--port", str(app.port + 1)],
        env={**os.environ, "ZIGZAG_DATA": str(app.folder)}, capture_output=True, text=True, timeout=60,
    )  # fmt: skip
    assert second.returncode == 2
    assert f"in use by process {app.process.pid}, which serves it at {app.url}" in second.stderr
    os.kill(app.process.pid, signal.SIGKILL)
    app.process.wait()
    wait_for("the end of every process", lambda: not any(_stat(pid) for pid in everybody), 15)
    # Folder and port are free at once.
    app.start()
    app.stop()
    assert app.process.returncode == 0
