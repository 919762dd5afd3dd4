"""A band dragged in Plan, in the running application: server time, and input to painted overlay."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request

from playwright.sync_api import Page, sync_playwright

from measure import Row

FLAGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
# Every pointer movement waits for the overlay it caused: the time between the two is what a hand feels.
WATCH = """
() => {
  window.__painted = 0;
  window.__decoded = 0;
  const whole = Response.prototype.arrayBuffer;
  Response.prototype.arrayBuffer = async function () {
    const bytes = await whole.call(this);
    if (this.url.endsWith("/preview")) window.__decoded = performance.now();
    return bytes;
  };
  const plan = document.querySelector('[data-testid=plan]');
  new MutationObserver(() => { window.__painted = performance.now(); })
    .observe(plan, { attributes: true, attributeFilter: ['data-painted'] }); }
"""
SHARES = """
(start) => {
  const last = performance.getEntriesByType("resource").filter((one) => one.name.endsWith("/preview")).at(-1);
  const app = last.serverTiming.find((one) => one.name === "app").duration;
  return {
    asked: last.requestStart - start, server: app, waited: last.responseStart - last.requestStart,
    transport: last.responseEnd - last.requestStart - app, decode: window.__decoded - last.responseEnd,
    paint: window.__painted - window.__decoded, all: window.__painted - start };
}
"""


def _start(folder: str) -> tuple[subprocess.Popen[bytes], str]:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    environment = {**os.environ, "ZIGZAG_DATA": folder}
    command = [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--demo", "--port", str(port)]
    process = subprocess.Popen(command, env=environment)
    url = f"http://127.0.0.1:{port}"
    while process.poll() is None:
        try:
            with urllib.request.urlopen(f"{url}/api/projects", timeout=5):
                return process, url
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise RuntimeError("the application ended while starting")


EDIT = """
async (operations) => {
  const id = location.pathname.split("/")[2];
  const state = await (await fetch(`/api/projects/${id}`)).json();
  const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
  const answer = await fetch(`/api/projects/${id}/edits`, { method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRFToken": token },
    body: JSON.stringify({ base: state.revision, tab: "bench", operations }) });
  if (!answer.ok) throw new Error(await answer.text()); }
"""


EDITS = """
async (operations) => {
  const id = location.pathname.split("/")[2];
  const token = document.cookie.match(/csrftoken=([^;]+)/)[1];
  let { revision } = await (await fetch(`/api/projects/${id}`)).json();
  const took = [];
  for (const operation of operations) {
    const start = performance.now();
    const answer = await fetch(`/api/projects/${id}/edits`, { method: "POST",
      headers: { "Content-Type": "application/json", "X-CSRFToken": token },
      body: JSON.stringify({ base: revision, tab: "bench", operations: [operation] }) });
    ({ revision } = await answer.json());
    took.push(performance.now() - start); }
  return took; }
"""


def _edit_of_two_hundred(page: Page, url: str) -> float:
    """Median milliseconds of an edit of one line in a project of 200 masks (180 of eight lines), as the browser has
    its answer."""
    page.goto(url)
    page.get_by_role("link", name="Open Lantern Moor").click()
    page.get_by_test_id("view-label").wait_for()
    lines = [{"id": f"l{k}", "verb": "take", "source": _band("slope", 10 + k, 90)} for k in range(8)]
    masks = [{"id": f"all{k}", "name": f"All {k}", "lines": lines} for k in range(180)]
    page.evaluate(EDIT, [{"op": "add_mask", "mask": mask} for mask in masks])
    edits = [{"op": "set_line", "mask": "all7", "line": {**lines[3], "strength": 0.3 + k / 50}} for k in range(20)]
    took: list[float] = page.evaluate(EDITS, edits)
    return statistics.median(took[2:])


def _open_with_twenty(page: Page, url: str) -> tuple[float, float]:
    """Milliseconds until the mask of a project with 20 masks is seen, and until every thumbnail is there."""
    page.goto(url)
    page.get_by_role("link", name="Open Lantern Moor").click()
    page.get_by_role("navigation").get_by_role("link", name="Masks").click()
    page.get_by_test_id("view-label").get_by_text("covers").wait_for()
    more = [{"verb": "take", "source": _band("slope", 20 + k, 90)} for k in range(12)]
    page.evaluate(
        EDIT,
        [
            {"op": "add_mask", "mask": {"id": f"more{k}", "name": f"More {k}", "lines": [{"id": "a", **line}]}}
            for k, line in enumerate(more)
        ],
    )
    start = time.perf_counter()
    page.reload()
    page.get_by_test_id("view-label").get_by_text("covers").wait_for()
    seen = time.perf_counter() - start
    page.wait_for_load_state("networkidle")
    return seen * 1000, (time.perf_counter() - start) * 1000 - 500


def _band(reading: str, low: float, high: float) -> dict[str, object]:
    return {"kind": "band", "reading": reading, "low": low, "high": high, "fade_low": 3}


EIGHT = [
    {"verb": "keep_within", "source": _band("height", 60, 430)},
    {"verb": "add", "source": _band("flow", 16000, 1e9)},
    {"verb": "leave_out", "source": {"kind": "mask", "mask": "peat"}},
    {"verb": "strongest", "source": _band("mean_curvature", 0.01, 1)},
    {"verb": "levels", "in_low": 0.05, "middle": 1.2},
    {"verb": "weakest", "source": {"kind": "plain", "value": 0.9}},
]
"""With the two lines that Scree has in the demo these make a recipe of eight."""


def _drag(page: Page, url: str) -> dict[str, float]:
    """Median milliseconds of a move: the whole of it, and what it is made of."""
    page.goto(url)
    page.get_by_role("link", name="Open Lantern Moor").click()
    page.get_by_role("navigation").get_by_role("link", name="Masks").click()
    lines = [{"op": "add_line", "mask": "scree", "line": {"id": f"e{k}", **line}} for k, line in enumerate(EIGHT)]
    page.evaluate(EDIT, lines)
    page.reload()
    page.get_by_test_id("view-label").get_by_text("covers").wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)
    page.evaluate("() => performance.setResourceTimingBufferSize(5000)")
    box = page.locator("[data-handle=low]").bounding_box()
    assert box
    x, y = box["x"] + 12, box["y"] + 12
    page.mouse.move(x, y)
    page.mouse.down()
    moves: list[dict[str, float]] = []
    for i in range(60):
        with page.expect_response(lambda answer: answer.url.endswith("/preview")):
            start = page.evaluate("() => performance.now()")
            page.mouse.move(x - 1 - i, y)
        page.wait_for_function("start => window.__painted > start", arg=start)
        moves.append(page.evaluate(SHARES, start))
    page.mouse.up()
    return {name: statistics.median(move[name] for move in moves[10:]) for name in moves[0]}


def _stop(process: subprocess.Popen[bytes]) -> None:
    process.send_signal(signal.SIGINT)
    process.wait(30)


def rows() -> list[Row]:
    folder = tempfile.mkdtemp()
    process, _ = _start(folder)
    _stop(process)
    start = time.perf_counter()
    process, url = _start(folder)
    warm = time.perf_counter() - start
    try:
        with sync_playwright() as play:
            browser = play.chromium.launch(
                executable_path=shutil.which("chromium-headless-shell") or "/usr/bin/chromium", args=FLAGS
            )
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            seen, streamed = _open_with_twenty(page, url)
            took = _drag(page, url)
            edited = _edit_of_two_hundred(page, url)
            browser.close()
    finally:
        _stop(process)
        shutil.rmtree(folder, ignore_errors=True)
    shares = ", ".join(f"{name} {took[name]:.0f}" for name in ("asked", "server", "transport", "decode", "paint"))
    return [
        Row("a warm start, to the first answer", f"{warm:.1f} s", "<= 5 s", warm <= 5),
        Row("a project of 20 masks opens", f"{seen:.0f} ms", "<= 2000 ms", seen <= 2000),
        Row("and all its thumbnails are there after", f"{streamed:.0f} ms", "", True),
        Row(f"band drag under eight lines in Plan at 1009²: {shares} ms", "", "", True),
        Row("the server's answer begins", f"{took['waited']:.0f} ms", "<= 20 ms", took["waited"] <= 20),
        Row("an edit in a project of 200 masks, answered", f"{edited:.0f} ms", "<= 60 ms", edited <= 60),
        Row("input to paint", f"{took['all']:.0f} ms", "<= 80 ms", took["all"] <= 80),
    ]
