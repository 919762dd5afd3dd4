"""A client on the API that knows its forms, and a project made through it."""

from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from jsonpatch import apply_patch

from tests.support.ground import band, document, hills, png16

__all__ = ["Api", "low", "moor", "problem"]


class Api:
    """Calls that check the answer's form: JSON on success, problem details otherwise; never 500."""

    def __init__(self) -> None:
        self.client = Client(raise_request_exception=True)
        self.states: dict[tuple[str, int], Any] = {}
        """Every state that was answered, by project and revision: an edit answers with what it changed of one."""

    def call(self, method: str, path: str, body: Any = None, *, status: int = 200) -> Any:
        kind = "application/json"
        data = json.dumps(body) if body is not None else ""
        response = self.client.generic(method, f"/api{path}", data, content_type=kind)
        assert response.status_code == status, response.content[:500]
        if status >= 400:
            return problem(response)
        if not (response["Content-Type"].startswith(kind) and response.content):
            return response
        return self._whole(path, json.loads(response.content))

    def _whole(self, path: str, told: Any) -> Any:
        """What was told; where that is only what changed of a state, the state."""
        if isinstance(told, dict) and told.keys() == {"base", "revision", "changes"}:
            project = path.split("/")[2]
            base = self.states.get((project, told["base"]))
            told = self.get(f"/projects/{project}") if base is None else apply_patch(base, told["changes"])
        if isinstance(told, dict) and {"id", "revision", "document"} <= told.keys():
            self.states[(told["id"], told["revision"])] = told
        return told

    def get(self, path: str, **more: Any) -> Any:
        return self.call("GET", path, **more)

    def post(self, path: str, body: Any = None, **more: Any) -> Any:
        return self.call("POST", path, body, **more)

    def upload(self, path: str, name: str, data: bytes, *, status: int = 200) -> Any:
        response = self.client.post(f"/api{path}", {"file": SimpleUploadedFile(name, data)})
        assert response.status_code == status, response.content[:500]
        return problem(response) if status >= 400 else json.loads(response.content)

    def saved_out(self, project: str) -> bytes:
        """The open project file of a project."""
        response = self.client.get(f"/api/projects/{project}/save-out")
        assert response.status_code == 200
        return b"".join(response.streaming_content)

    def step(self, way: str, project: str, *, status: int = 200) -> Any:
        """Undo or redo from the newest revision."""
        base = self.get(f"/projects/{project}")["revision"]
        return self.post(f"/projects/{project}/{way}", {"base": base}, status=status)

    def edit(self, project: str, base: int, *operations: Any, status: int = 200, **more: Any) -> Any:
        body = {"base": base, "tab": "t", "operations": list(operations), **more}
        return self.post(f"/projects/{project}/edits", body, status=status)


def problem(response: Any) -> dict[str, Any]:
    """Every refusal: a code, and a sentence that ends like one and names no internals."""
    assert response["Content-Type"] == "application/problem+json"
    body = json.loads(response.content)
    assert {"type", "title", "status", "code", "detail"} <= set(body)
    assert body["status"] == response.status_code
    assert body["detail"].endswith((".", "?"))
    assert "Traceback" not in body["detail"]
    return body


def moor(api: Api) -> dict[str, Any]:
    """The test moor, made through the API and filled by one edit; its state."""
    found = api.upload("/heightmaps", "hills.png", png16(hills(127, 127)))
    source = {"asset": found["asset"], "name": found["name"]}
    data = document()
    ground = {k: data["ground"][k] for k in ("low", "high", "spacing_x", "spacing_y", "water")}
    new = {"name": "Test Moor", "source": source, "heights": "range", **ground}
    state = api.post("/projects", new, status=201)
    steps = [{"op": "add_mask", "mask": mask, "at": 0} for mask in reversed(data["masks"])]
    steps += [{"op": "add_layer", "layer": layer} for layer in data["layers"]]
    steps += [{"op": "add_sheet", "sheet": sheet} for sheet in data["sheets"]]
    return api.edit(state["id"], 1, *steps)


def low(value: float) -> dict[str, Any]:
    """An edit of the mask *steep*: its lower edge."""
    line = {"id": "a", "verb": "take", "source": band("slope", value, 90, fade_low=8)}
    return {"op": "set_line", "mask": "steep", "line": line}
