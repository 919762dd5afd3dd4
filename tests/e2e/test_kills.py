"""Any process may end at any moment: five rounds here, a hundred in the bench."""

from __future__ import annotations

import os
import signal
import subprocess
import sys

import pytest
from playwright.sync_api import Browser, expect

from tests.support.ground import hills
from tests.support.kills import Application, _name_of, _stat, kill_rounds, wait_for
from tests.support.pages import go, started
from tests.support.site import furnished
from zigzag_meadow.core.fit.check import check_delivery

pytestmark = pytest.mark.e2e


def test_nothing_acknowledged_is_lost_whatever_ends(tmp_path):
    count = kill_rounds(furnished(tmp_path / "data"), 5, seed=11)
    assert len(count.killed) == 5
    assert count.edits > 20
    assert count.imports > 5
    assert count.upgrades > 2
    assert count.checked > 0


def worker_of(app: Application) -> int:
    return next(pid for pid in app.processes() if _name_of(pid) == "worker")


def test_work_goes_on_where_everything_was_cut_off(tmp_path, browser: Browser):
    """From a raw file to a first colour and a delivery in a folder; the worker, the pages' process and all of it end in
    between, and what was changed while nobody answered is there afterwards."""
    game = tmp_path / "game"
    game.mkdir()
    app = Application(furnished(tmp_path / "data"), game)
    app.start()
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=app.url, reduced_motion="reduce")
    page = context.new_page()
    page.set_default_timeout(60000)
    try:
        (tmp_path / "fell.raw").write_bytes(hills(1025, 1025).astype("<u2").tobytes())
        page.goto("/")
        page.get_by_role("button", name="New from a heightmap").click()
        page.get_by_test_id("heightmap").set_input_files(tmp_path / "fell.raw")
        expect(page.get_by_test_id("inspection")).to_contain_text("raw 16 · 1\u202f025 × 1\u202f025")
        page.get_by_label("High, m").fill("300")
        page.get_by_role("button", name="Make the project").click()
        expect(page.get_by_role("region", name="Ground", exact=True)).to_contain_text("1\u202f025 × 1\u202f025")
        go(page, "Colour")
        page.get_by_role("button", name="A first colour", exact=True).click()
        expect(page.get_by_role("button", name="Undo a first colour")).to_be_visible()

        go(page, "Delivery")
        page.get_by_label("Folder of this machine").click()
        page.get_by_role("option", name="game").or_(page.get_by_role("menuitem", name="game")).first.click()
        _, card = started(page)
        wait_for("files on their way", lambda: any(game.iterdir()), 120)
        os.kill(worker_of(app), signal.SIGKILL)
        expect(card.get_by_role("link", name="Zip")).to_be_visible(timeout=120000)
        wait_for("the end of putting", lambda: not [p for p in game.iterdir() if p.name.startswith(".")], 120)
        report = check_delivery(game)
        assert report.fits, [finding.message for finding in report.findings]

        web = next(pid for pid in app.processes() if _name_of(pid) == "web" and _stat(pid)[0] != app.process.pid)
        os.kill(web, signal.SIGKILL)
        go(page, "Ground")
        expect(page.get_by_role("alert").filter(has_text="was started again")).to_be_visible(timeout=60000)

        everybody = app.processes()
        assert len(everybody) >= 5
        second = subprocess.run(
            [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--port", str(app.port + 1)],
            env={**os.environ, "ZIGZAG_DATA": str(app.folder)},
            capture_output=True,
            text=True,
            timeout=60,
        )
        assert second.returncode == 2
        assert f"in use by process {app.process.pid}, which serves it at {app.url}" in second.stderr
        os.kill(app.process.pid, signal.SIGKILL)
        app.process.wait()
        # Nobody lives on; folder and port are free for the next start.
        wait_for("the end of every process", lambda: not any(_stat(pid) for pid in everybody), 15)
        saving = page.get_by_role("status", name="Saving state")
        high = page.get_by_role("region", name="Ground", exact=True).get_by_label("High", exact=True)
        high.click()
        page.get_by_label("High, typed").fill("320")
        page.keyboard.press("Enter")
        expect(saving).to_contain_text("1 change waits for the application", timeout=60000)
        app.start()
        expect(saving).to_contain_text("Saved", timeout=60000)
        page.reload()
        expect(high).to_have_attribute("aria-valuenow", "320")
    finally:
        context.close()
        app.stop()
    assert app.process.returncode == 0
