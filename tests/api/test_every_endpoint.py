"""Every endpoint of the API description, asked in every way that its schema allows and some that it does not."""

from __future__ import annotations

import json
from typing import Any

import pytest
import schemathesis
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from ninja.responses import NinjaJSONEncoder

from tests.support.mutations import SEED, TIMES
from tests.support.server import run_all
from zigzag_meadow.server.api import api as served
from zigzag_meadow.server.models import Job, Project
from zigzag_meadow.server.projects import find

SCHEMA = schemathesis.openapi.from_dict(json.loads(json.dumps(served.get_openapi_schema(), cls=NinjaJSONEncoder)))
OPERATIONS = {f"{op.ok().method.upper()} {op.ok().path}": op.ok() for op in SCHEMA.get_all_operations()}
# What exists, so that requests get past the door: the rest of a request is still anything.
THERE = {
    "mask_id": "steep",
    "number": 1,
    "scatter_id": "stones",
    "name": "mask:steep",
    "kit_id": "own",
    "file": "x",
    "look_id": "sand",
    "part": "albedo",
}
QUIET = [
    HealthCheck.function_scoped_fixture,
    HealthCheck.too_slow,
    HealthCheck.filter_too_much,
    HealthCheck.data_too_large,
]


@pytest.fixture
def there(api, project) -> dict[str, Any]:
    pid = project["id"]
    scatter = {"id": "stones", "name": "Stones", "mask": "steep", "density": 0.2}
    api.edit(pid, project["revision"], {"op": "add_scatter", "scatter": scatter})
    return {**THERE, "project_id": pid}


def _files(body: Any) -> dict[str, Any]:
    """A multipart body as the test client sends it: whatever is generated travels as a file."""
    fields = body if isinstance(body, dict) else {"file": body}
    files = {}
    for name, value in fields.items():
        many = value if isinstance(value, list) else [value]
        raw = [item if isinstance(item, bytes) else str(item).encode("utf-8", "replace") for item in many]
        files[name] = [SimpleUploadedFile(f"{name}.png", data) for data in raw]
    return files


@pytest.mark.parametrize("name", sorted(OPERATIONS))
def test_no_request_breaks_it(api, there, name):
    operation = OPERATIONS[name]
    if "{number}" in name or "{job_id}" in name:
        there["job_id"] = api.post(f"/projects/{there['project_id']}/deliveries", status=202)["id"]
        run_all()

    @settings(max_examples=8 * TIMES, derandomize=not SEED, database=None, suppress_health_check=QUIET)
    @given(operation.as_strategy(), st.booleans())
    def ask(case: Any, real: bool) -> None:
        if real:
            case.path_parameters = {
                **case.path_parameters,
                **{k: v for k, v in there.items() if k in case.path_parameters},
            }
        path = case.formatted_path
        query = {k: v for k, v in (case.query or {}).items() if v is not None}
        if isinstance(case.body, dict) and "base" in case.body and real and "project_id" in case.path_parameters:
            case.body["base"] = find(there["project_id"], deleted=True).head
        if case.media_type == "multipart/form-data":
            response = (
                api.client.generic(case.method, path, query_params=query)
                if not case.body
                else api.client.post(path, _files(case.body), query_params=query)
            )
        else:
            body = "" if case.body is schemathesis.core.NOT_SET else json.dumps(case.body)
            response = api.client.generic(case.method, path, body, content_type="application/json", query_params=query)
        assert response.status_code < 500, (path, response.content[:400])
        if response.status_code >= 400:
            assert response["Content-Type"] == "application/problem+json", (path, response.status_code)
            assert json.loads(response.content)["detail"].endswith((".", "?", ".”", "”"))
        Project.objects.filter(id=there["project_id"]).update(deleted_at=None)

    ask()
    # Whatever was asked, the project can still be read and no job was left in a state that nothing leads out of.
    assert api.get(f"/projects/{there['project_id']}")["document"]["masks"] is not None
    assert set(Job.objects.values_list("state", flat=True)) <= {"waiting", "done", "cancelled", "failed"}
