"""Thirty at once on the running application: how long an edit waits, whether memory comes to rest, and whether eight
who line maps up hold anybody else up."""

from __future__ import annotations

import json
import random
import statistics
import threading
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

import numpy as np

from application import _start
from measure import Row

CLIENTS = 30
SECONDS = 60
REST_SECONDS = 30
MAPS = ("reading:slope", "reading:flow", "mask:scree", "mask:heather", "weight:base", "colour", "reading:occlusion")


class Client:
    """One page: it asks for maps, drags, and edits a project of its own."""

    def __init__(self, url: str) -> None:
        self.url, self.cookie = url, ""
        with urllib.request.urlopen(f"{url}/", timeout=60) as answer:
            self.cookie = answer.headers.get("Set-Cookie", "").split(";")[0]
        self.times: dict[str, list[float]] = {"edit": [], "map": [], "preview": [], "shelf": []}
        self.troubles: list[str] = []

    def call(self, method: str, path: str, data: bytes | None = None, kind: str = "application/json") -> bytes:
        token = self.cookie.partition("=")[2]
        headers = {"Cookie": self.cookie, "X-CSRFToken": token, "Content-Type": kind}
        request = urllib.request.Request(f"{self.url}/api{path}", data, headers, method=method)
        while True:
            try:
                with urllib.request.urlopen(request, timeout=300) as answer:
                    made: bytes = answer.read()
                    return made
            except urllib.error.HTTPError as error:
                if error.code != 503:
                    raise
                time.sleep(1)

    def timed(self, what: str, *request: Any) -> Any:
        start = time.perf_counter()
        try:
            made = self.call(*request)
        except OSError as error:
            self.troubles.append(f"{what}: {error}")
            return None
        self.times[what].append(time.perf_counter() - start)
        return made

    def work(self, source: str, until: float, seed: int) -> None:
        rng = random.Random(seed)
        state = json.loads(self.call("POST", f"/projects/{source}/duplicate", b"{}"))
        project, revision = state["id"], state["revision"]
        line = next(mask for mask in state["document"]["masks"] if mask["id"] == "scree")["lines"][0]
        while time.monotonic() < until:
            low = round(rng.uniform(10, 50), 2)
            moved = {"op": "set_line", "mask": "scree", "line": {**line, "source": {**line["source"], "low": low}}}
            for step in range(3):
                body = {
                    "tab": str(seed),
                    "slot": "drag",
                    "sequence": int(time.time() * 1e3) * 8 + step,
                    "operations": [moved],
                    "map": "mask:scree",
                    "shown": 577,
                }
                self.timed("preview", "POST", f"/projects/{project}/preview", json.dumps(body).encode())
            body = {"base": revision, "tab": str(seed), "id": str(uuid.uuid4()), "operations": [moved]}
            made = self.timed("edit", "POST", f"/projects/{project}/edits", json.dumps(body).encode())
            revision = revision if made is None else json.loads(made)["revision"]
            for name in rng.sample(MAPS, 2):
                self.timed("map", "GET", f"/projects/{project}/maps/{name}")
            self.timed("shelf", "GET", "/projects")
            time.sleep(rng.uniform(0.2, 1.0))


def _held(pid: int) -> int:
    """Bytes in memory of a process and of all below it."""
    total, more = 0, [pid]
    parents = {}
    for path in Path("/proc").iterdir():
        if path.name.isdigit():
            try:
                stat = (path / "stat").read_text().rpartition(")")[2].split()
                parents[int(path.name)] = (int(stat[1]), int(stat[21]) * 4096)
            except OSError:
                continue
    while more:
        here = more.pop()
        total += parents.get(here, (0, 0))[1]
        more += [child for child, (parent, _) in parents.items() if parent == here]
    return total


def _share(values: list[float], share: float) -> float:
    return sorted(values)[min(int(len(values) * share), len(values) - 1)]


def _lining_up(url: str, project: str) -> float:
    """Seconds that the shelf takes at most while eight line maps up."""
    import imagecodecs  # only here

    noise = np.random.default_rng(1).integers(0, 255, (127, 127), np.uint8)
    body = (
        b'--b\r\nContent-Disposition: form-data; name="file"; filename="m.png"\r\n\r\n'
        + bytes(imagecodecs.png_encode(noise))
        + b"\r\n--b--\r\n"
    )
    clients = [Client(url) for _ in range(9)]
    threads = [
        threading.Thread(
            target=one.timed,
            daemon=True,
            args=("map", "POST", f"/projects/{project}/align", body, "multipart/form-data; boundary=b"),
        )
        for one in clients[1:]
    ]
    for thread in threads:
        thread.start()
    worst = 0.0
    while any(thread.is_alive() for thread in threads):
        start = time.perf_counter()
        clients[0].call("GET", "/projects")
        worst = max(worst, time.perf_counter() - start)
        time.sleep(0.1)
    return worst


def rows() -> list[Row]:
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        process, url = _start(folder)
        try:
            first = Client(url)
            cards = json.loads(first.call("GET", "/projects"))
            source = next(card["id"] for card in cards if card["name"] == "Lantern Moor")
            shelf = _lining_up(url, source)
            clients = [Client(url) for _ in range(CLIENTS)]
            until = time.monotonic() + SECONDS
            threads = [threading.Thread(target=one.work, args=(source, until, n)) for n, one in enumerate(clients)]
            for thread in threads:
                thread.start()
            held = []
            while any(thread.is_alive() for thread in threads):
                time.sleep(2)
                held.append(_held(process.pid))
            time.sleep(REST_SECONDS)
            rest = _held(process.pid)
        finally:
            process.terminate()
            process.wait()
    times = {what: [t for one in clients for t in one.times[what]] for what in clients[0].times}
    troubles = [text for one in clients for text in one.troubles]
    edit, quick = _share(times["edit"], 0.99), _share(times["shelf"], 0.99)
    half = max(held[: len(held) // 2]), max(held[len(held) // 2 :])
    mib = 2**20
    return [
        Row(
            "edit, 30 clients, median and p99",
            f"{statistics.median(times['edit']):.2f} s and {edit:.2f} s of {len(times['edit'])}",
            "<= 2 s",
            edit <= 2,
        ),
        Row("shelf, 30 clients, p99", f"{quick:.2f} s of {len(times['shelf'])}", "<= 2 s", quick <= 2),
        Row(
            "map and preview, 30 clients, median",
            f"{statistics.median(times['map']):.2f} s and {statistics.median(times['preview']):.2f} s",
            "told",
            True,
        ),
        Row("refused or lost", f"{len(troubles)} {troubles[:1]}", "none", not troubles),
        Row("shelf while eight line maps up", f"{shelf:.2f} s at most", "<= 2 s", shelf <= 2),
        Row(
            "memory under load, halves, and at rest",
            f"{half[0] / mib:.0f}, {half[1] / mib:.0f}, {rest / mib:.0f} MiB",
            "second half <= 1.2 x first",
            half[1] <= 1.2 * half[0],
        ),
    ]


if __name__ == "__main__":
    for row in rows():
        print(row)
