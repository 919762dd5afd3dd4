"""The real application under work, any of its processes ended at any moment, and started again: is anything lost?"""

from __future__ import annotations

import http.cookiejar
import json
import os
import random
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from tests.support.artist import GONE, Artist, Kills
from tests.support.ground import hills, png16
from zigzag_meadow.core.fit.check import check_delivery

__all__ = ["Application", "below", "kill_rounds", "wait_for"]

START_SECONDS = 300
"""A start on a machine that has no compiled kernels yet makes them first."""
END_SECONDS = 15
KEPT = 10
"""So many of the newest deliveries are there whatever was cleared."""


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _stat(pid: int) -> tuple[int, str] | None:
    """(parent, state) of a process that is there and no zombie."""
    try:
        text = Path(f"/proc/{pid}/stat").read_text()
    except OSError:
        return None
    state, parent = text.rpartition(")")[2].split()[:2]
    return None if state in "ZX" else (int(parent), state)


def below(pid: int) -> list[int]:
    """A process and all that it and its children started, those that are still there."""
    parents = {
        int(p.name): stat[0] for p in Path("/proc").iterdir() if p.name.isdigit() and (stat := _stat(int(p.name)))
    }
    found, more = [], [pid]
    while more:
        here = more.pop()
        if here in parents:
            found.append(here)
        more += [child for child, parent in parents.items() if parent == here]
    return found


def wait_for(what: str, ready: Callable[[], bool], seconds: float) -> None:
    end = time.monotonic() + seconds
    while not ready():
        assert time.monotonic() < end, f"{what} did not happen within {seconds} s"
        time.sleep(0.05)


@dataclass
class Application:
    """``zigzag serve`` on a data folder, and a client that knows its token; ``game``: a folder that it may write to."""

    folder: Path
    game: Path | None = None
    port: int = field(default_factory=free_port)
    process: subprocess.Popen[bytes] | None = None
    all: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.cookies = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.cookies))

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        command = [sys.executable, "-m", "zigzag_meadow.cli", "serve", "--port", str(self.port)]
        command += [] if self.game is None else ["--folder", str(self.game)]
        environment = {**os.environ, "ZIGZAG_DATA": str(self.folder)}
        self.process = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL)

        def answers() -> bool:
            assert self.process is not None
            assert self.process.poll() is None, "the application did not start again"
            try:
                self.opener.open(f"{self.url}/", timeout=5).close()
                return isinstance(self.call("GET", "/projects"), list)
            except GONE:
                return False

        wait_for("an answer", answers, START_SECONDS)

    def call(self, method: str, path: str, body: Any = None, kind: str = "application/json") -> Any:
        token = next((c.value or "" for c in self.cookies if c.name == "csrftoken"), "")
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        headers = {"X-CSRFToken": token, "Content-Type": kind}
        request = urllib.request.Request(f"{self.url}/api{path}", data, headers, method=method)
        try:
            with self.opener.open(request, timeout=60) as answer:
                return json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            said = json.loads(error.read())
            code = error.code
        assert code < 500 or said["code"] == "busy", said
        return said

    def upload(self, path: str, data: bytes, name: str = "h.png") -> Any:
        head = f'--b\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'.encode()
        return self.call("POST", path, head + data + b"\r\n--b--\r\n", "multipart/form-data; boundary=b")

    def processes(self) -> list[int]:
        assert self.process is not None
        return below(self.process.pid)

    def stop(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
            self.process.wait(30)


def _made(app: Application) -> str:
    found = app.upload("/heightmaps", png16(hills(253, 253)))
    new = {
        "name": "Moor",
        "source": {"asset": found["asset"], "name": "h.png"},
        "heights": "range",
        "low": 0,
        "high": 90,
        "spacing_x": 2,
        "spacing_y": 2,
    }
    made = str(app.call("POST", "/projects", new)["id"])
    app.call("POST", f"/projects/{made}/destination", {"folder": 0, "name": ""})
    app.call("POST", f"/projects/{made}/watch", {"folder": 0, "name": "watched.png"})
    return made


def kill_rounds(folder: Path, rounds: int, seed: int, told: Callable[[str], None] = lambda text: None) -> Kills:
    """End a random process at a random moment, start again what does not come up by itself, look, and go on.

    Raises AssertionError as soon as anything acknowledged is gone, anything cannot be read, or anything lives on.
    """
    game = folder.parent / "game"
    game.mkdir()
    (game / "watched.png").write_bytes(png16(hills(253, 253)))
    luck, count, app = random.Random(seed), Kills(), Application(folder, game)
    app.start()
    try:
        artist = Artist(app, _made(app), count, game)
        for number in range(rounds):
            with artist:
                time.sleep(luck.uniform(0.4, 2.0))
                everybody = app.processes()
                victim = luck.choice(everybody)
                name = _name_of(victim)
                os.kill(victim, signal.SIGKILL)
                count.killed.append(name)
                time.sleep(luck.uniform(0.2, 1.0))
            _come_up(app, everybody, victim)
            _look(app, artist)
            told(f"round {number + 1}: {name} ended; {count.edits} edits, {count.imports} files kept")
        _finish(app, artist)
        everybody = app.processes()
        app.stop()
        wait_for("the end of every process", lambda: not any(_stat(pid) for pid in everybody), END_SECONDS)
    finally:
        if app.process is not None and app.process.poll() is None:
            for pid in app.processes():
                os.kill(pid, signal.SIGKILL)
            app.process.wait()
    return count


def _name_of(pid: int) -> str:
    words = Path(f"/proc/{pid}/cmdline").read_bytes().decode().split("\0")
    names = {
        "gunicorn": "web",
        "worker": "worker",
        "serve": "application",
        "zigzag_meadow.server.file_helper": "reader",
    }
    return next((name for word, name in names.items() if word in words), words[0])


def _come_up(app: Application, everybody: list[int], victim: int) -> None:
    assert app.process is not None

    def answers() -> bool:
        assert app.process is not None
        if app.process.poll() is not None:
            return True
        try:
            return isinstance(app.call("GET", "/projects"), list)
        except GONE:
            return False

    wait_for("an answer or an end", answers, 60)
    if app.process.poll() is not None:
        # Nobody lives on, holds the port or the folder.
        wait_for("the end of all it had started", lambda: not any(_stat(pid) for pid in everybody), END_SECONDS)
        app.start()


def _look(app: Application, artist: Artist) -> None:
    """Everything that was acknowledged is there, once, and the folder holds one whole delivery."""
    state = app.call("GET", f"/projects/{artist.project}")
    # One more where an answer is still owed.
    assert state["revision"] - artist.revision in ((0, 1) if artist.pending else (0,)), (state, artist.revision)
    for asset in artist.assets[-5:]:
        found = app.call("POST", "/heightmaps/again", {"asset": asset, "name": "h.png"})
        assert found.get("rows") == 64, found
    for other in artist.brought[-2:]:
        assert app.call("GET", f"/projects/{other}")["document"]["ground"]["rows"] == 1009
    _look_at_deliveries(app, artist)
    assert app.call("GET", f"/projects/{artist.project}/watch")["file"]["name"] == "watched.png"
    idle(app, artist)
    # What was cut off is taken up as soon as there is a worker again, without anybody asking.
    wait_for("the end of putting", lambda: not _on_the_way(artist.game), 30)
    if (artist.game / "manifest.json").exists():
        report = check_delivery(artist.game)
        assert report.fits, [finding.message for finding in report.findings]


def _look_at_deliveries(app: Application, artist: Artist) -> None:
    """Each that was acknowledged is there, unless as many newer ones are as are kept: there may be some among those
    whose answer nobody got."""
    there = {row["job"]["id"]: row["number"] for row in app.call("GET", f"/projects/{artist.project}/deliveries")}
    first_new = max(artist.numbers.values(), default=0) + 1
    for job in artist.jobs[-KEPT:]:
        number = there.get(job) or artist.numbers.get(job, first_new)
        assert job in there or sum(other > number for other in there.values()) >= KEPT, (job, number, there)
    artist.numbers.update(there)


def _on_the_way(game: Path) -> list[str]:
    return [path.name for path in game.iterdir() if path.name.startswith(".")]


def idle(app: Application, artist: Artist) -> None:
    wait_for("the end of all jobs", lambda: app.call("GET", f"/projects/{artist.project}/jobs") == [], 120)


def _finish(app: Application, artist: Artist) -> None:
    """Every job comes to an end, and the last delivery holds together."""
    idle(app, artist)
    _look_at_deliveries(app, artist)
    rows = app.call("GET", f"/projects/{artist.project}/deliveries")
    states = {row["job"]["state"] for row in rows}
    assert states <= {"done", "failed"}, states
    assert "done" in states or not artist.jobs
    checked = [row for row in rows if row["fit"] is not None]
    assert all(row["fit"]["fits"] for row in checked)
    artist.count.checked = len(checked)
