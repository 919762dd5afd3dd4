"""Somebody at work on the real application, doing everything at once and remembering what was answered."""

from __future__ import annotations

import hashlib
import http.client
import io
import json
import threading
import urllib.error
import uuid
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, Protocol

import numpy as np

from tests.support.ground import hills, png16

__all__ = ["GONE", "Artist", "Kills"]

# An answer may also be cut off in its middle.
GONE = (urllib.error.URLError, OSError, TimeoutError, json.JSONDecodeError, http.client.HTTPException)
FIRST_VERSION = Path(__file__).parents[1] / "samples" / "project_1.json"


class _Application(Protocol):
    def call(self, method: str, path: str, body: Any = None) -> Any: ...
    def upload(self, path: str, data: bytes, name: str = ...) -> Any: ...


@dataclass
class Kills:
    """What was acknowledged, and what became of it."""

    edits: int = 0
    imports: int = 0
    deliveries: int = 0
    upgrades: int = 0
    checked: int = 0
    killed: list[str] = field(default_factory=list)


def _old_project() -> bytes:
    """A project file of the first version, on a ground of its own."""
    document = json.loads(FIRST_VERSION.read_text())
    heights = hills(document["ground"]["rows"], document["ground"]["cols"]).astype("<u2").tobytes()
    document["ground"]["asset"] = hashlib.sha256(heights).hexdigest()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("project.json", json.dumps(document))
        archive.writestr(f"assets/{document['ground']['asset']}", heights)
    return out.getvalue()


class Artist:
    """Edits, brings files and old projects in, has a heightmap watched that is written anew, and asks for deliveries
    that go into ``game`` and are checked there.

    ``numbers``: of deliveries that were seen, by their job. ``pending``: an edit whose answer is still owed; it is sent
    again under the same id until there is one.
    """

    def __init__(self, app: _Application, project: str, count: Kills, game: Path) -> None:
        self.app, self.project, self.count, self.game = app, project, count, game
        self.revision, self.tried = 1, 0
        self.pending: dict[str, Any] | None = None
        self.assets: list[str] = []
        self.brought: list[str] = []
        self.jobs: list[str] = []
        self.numbers: dict[str, int] = {}
        self.wrong: list[BaseException] = []
        self._old = _old_project()
        self._stop = threading.Event()

    def __enter__(self) -> Artist:
        self._stop.clear()
        works = (self._edit, self._bring, self._deliver, self._upgrade, self._write)
        self._threads = [threading.Thread(target=self._go, args=(work,)) for work in works]
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        for thread in self._threads:
            thread.join(90)
        if self.wrong:
            raise self.wrong[0]

    def _go(self, work: Callable[[], None]) -> None:
        while not self._stop.is_set():
            try:
                work()
            except GONE:
                self._stop.wait(0.1)
            except BaseException as error:
                self.wrong.append(error)
                return

    def _edit(self) -> None:
        if self.pending is None:
            self.tried += 1
            operation = {"op": "rename_project", "name": f"N{self.tried}"}
            self.pending = {"base": self.revision, "tab": "t", "id": str(uuid.uuid4()), "operations": [operation]}
        made = self.app.call("POST", f"/projects/{self.project}/edits", self.pending)
        if made.get("code") == "busy":
            return
        # Nobody else edits: each arrives once, whatever became of its answer.
        assert made.get("revision") == self.revision + 1, (made, self.revision)
        self.pending, self.revision = None, made["revision"]
        self.count.edits += 1

    def _bring(self) -> None:
        self.tried += 1
        made = self.app.upload("/heightmaps", png16(hills(64, 64, self.tried)))
        if "asset" in made:
            self.count.imports += 1
            self.assets.append(made["asset"])

    def _deliver(self) -> None:
        if len(self.app.call("GET", f"/projects/{self.project}/jobs")) < 2:
            made = self.app.call("POST", f"/projects/{self.project}/deliveries", {"then_fit": True})
            if "id" in made:
                self.count.deliveries += 1
                self.jobs.append(made["id"])
        self._stop.wait(0.2)

    def _upgrade(self) -> None:
        made = self.app.upload("/projects/bring-in", self._old, "old.meadow.zip")
        if "id" in made:
            self.count.upgrades += 1
            self.brought.append(made["id"])
        self._stop.wait(1.0)

    def _write(self) -> None:
        aside = self.game / "writing.png"
        aside.write_bytes(png16(np.roll(hills(253, 253), self.tried, 0)))
        aside.replace(self.game / "watched.png")
        self.app.call("GET", f"/projects/{self.project}/watch")
        self._stop.wait(0.3)
