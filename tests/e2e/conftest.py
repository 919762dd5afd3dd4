"""The real application: server and worker as they are started for artists, and a browser on its pages."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, Request, expect, sync_playwright

from tests.support.ground import hills, png16
from tests.support.pages import own_project
from tests.support.site import ROOT, Site, free_port, furnished

FLAGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--enable-unsafe-swiftshader",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
START_SECONDS = 120
# Beside everything else that is tested a page may answer late; what never comes is still missed.
expect.set_options(timeout=25000)


@pytest.fixture(scope="session")
def site(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Site]:
    """Started by the command that `make demo` uses, on a data folder of its own."""
    data = furnished(tmp_path_factory.mktemp("site"))
    port = free_port()
    environment = {**os.environ, "ZIGZAG_DATA": str(data)}
    command = [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--demo", "--port", str(port)]
    process = subprocess.Popen(command, env=environment, cwd=ROOT)
    url = f"http://127.0.0.1:{port}"
    deadline = time.monotonic() + START_SECONDS
    while True:
        try:
            with urllib.request.urlopen(f"{url}/api/projects", timeout=5):
                break
        except (urllib.error.URLError, OSError):
            assert process.poll() is None, "the application ended while starting"
            assert time.monotonic() < deadline, "the application did not start in time"
            time.sleep(0.1)
    yield Site(url, data, process)
    process.send_signal(signal.SIGINT)
    assert process.wait(30) == 0
    shutil.rmtree(data, ignore_errors=True)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    # The one without windows needs a third of the time to open a page.
    path = shutil.which("chromium-headless-shell") or shutil.which("chromium")
    assert path, "Chromium is missing. Install Debian's package chromium-headless-shell, then run make test again."
    with sync_playwright() as play:
        made = play.chromium.launch(executable_path=path, args=FLAGS)
        yield made
        made.close()


@pytest.fixture
def page(browser: Browser, site: Site) -> Iterator[Page]:
    """A fresh page; a journey fails when anything in it throws or an address answers 500."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=site.url, accept_downloads=True, reduced_motion="reduce"
    )
    made = context.new_page()
    made.set_default_timeout(60000)
    broken: list[str] = []
    made.on("pageerror", lambda error: broken.append(str(error)))
    # A page that asks for what its own policy forbids is broken, if quietly.
    made.on("console", lambda said: broken.append(said.text) if "Content Security Policy" in said.text else None)
    made.on("response", lambda answer: broken.append(answer.url) if answer.status >= 500 else None)
    # What a journey that fails was waiting for.
    asked: dict[Request, float] = {}
    made.on("request", lambda request: asked.update({request: time.monotonic()}))
    for end in ("requestfinished", "requestfailed"):
        made.on(end, lambda request: asked.pop(request, None))
    yield made
    for request, since in asked.items():
        print(f"{request.method} {request.url} waits for {time.monotonic() - since:.1f} s", file=sys.stderr)
    context.close()
    assert broken == []


@pytest.fixture
def fell(page: Page) -> Page:
    """A project of its own on rolling ground, open at Masks."""
    own_project(page, "fell", png16(hills(253, 253)), "masks")
    expect(page.get_by_role("region", name="Masks", exact=True)).to_be_visible()
    return page
