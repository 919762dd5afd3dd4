"""What was accepted once, changed in one place: every edit, document and kit is taken or refused in a sentence."""

from __future__ import annotations

import json
import random

import pytest

from tests.support.mutations import SEED, TIMES, accepted_edits, document_of_every_kind, mutated
from zigzag_meadow.core.delivery.cautions import cautions
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.project.checks.whole import parse_project
from zigzag_meadow.core.project.travel.kit import parse_kit
from zigzag_meadow.core.project.travel.own_kits import OWN_KITS
from zigzag_meadow.core.warm_project import STROKES, every_stroke
from zigzag_meadow.server.assets import incoming, keep
from zigzag_meadow.server.models import Revision
from zigzag_meadow.server.projects import Project, create_on, head, shelf
from zigzag_meadow.server.revisions import forget_all, stored

EDITS, DOCUMENTS = 500 * TIMES, 500 * TIMES


@pytest.fixture
def everything(api, project):
    """A project of every kind, on the files that it reads."""
    pid = project["id"]
    document = document_of_every_kind()
    place = incoming()
    place.write_bytes(every_stroke())
    strokes = keep(place, pid)
    ground = api.get(f"/projects/{pid}")["document"]["ground"]
    text = json.dumps({**document, "name": "Everything"}).replace(STROKES, strokes).replace("0" * 64, ground["asset"])
    data = json.loads(text)
    same = ("rows", "cols", "stored_low", "stored_high", "file_name")
    data["ground"] |= {name: ground[name] for name in same}
    state = create_on("Everything", data["ground"])
    full = parse_project({**data, "delivery": state.document.model_dump(mode="json")["delivery"]})
    Revision.objects.filter(project=state.row).update(document=full.model_dump(mode="json"))
    return state.row.id, full.model_dump(mode="json")


def test_every_edit_is_taken_or_refused(api, everything):
    pid, document = everything
    rng = random.Random(7 + SEED)
    edits = accepted_edits(document)
    refused = 0
    for turn in range(EDITS):
        base = Project.objects.get(id=pid).head
        text = mutated(edits[turn % len(edits)], rng)
        body = f'{{"base": {base}, "tab": "t", "operations": [{text}]}}'
        response = api.client.generic("POST", f"/api/projects/{pid}/edits", body, content_type="application/json")
        assert response.status_code in (200, 404, 409, 413, 422), (text, response.content[:300])
        if response.status_code == 200:
            # What it came to can be shown, planned, and taken back.
            api.post(f"/projects/{pid}/undo", {"base": json.loads(response.content)["revision"]})
        else:
            refused += 1
    assert EDITS * 0.2 < refused < EDITS


@pytest.mark.parametrize("rows", [-1, 0, 1, 2, 7, 8194, 10**9])
def test_a_heightmap_of_another_size_than_any_is_refused(api, project, rows):
    pid = project["id"]
    ground = project["document"]["ground"]
    fields = ("asset", "file_name", "file_format", "depth", "cols", "stored_low", "stored_high", "voids")
    file = {**{name: ground[name] for name in fields}, "rows": rows}
    for keep_what in ("extent", "spacing"):
        edit = {"op": "replace_heightmap", "file": file, "keep": keep_what}
        body = {"base": project["revision"], "tab": "t", "operations": [edit]}
        assert api.call("POST", f"/projects/{pid}/edits", body, status=422)["detail"]


def test_every_document_and_kit_is_read_or_refused(db):
    document = document_of_every_kind()
    kit = OWN_KITS["moor"].model_dump(mode="json")
    rng = random.Random(11 + SEED)
    read, said = 0, []
    for turn in range(DOCUMENTS):
        try:
            if turn % 4:
                project = parse_project(json.loads(mutated(document, rng)))
                graph = Graph(project)
                assert all(graph.mask(mask.id).key for mask in project.masks)
                cautions(project)
            else:
                parse_kit(json.loads(mutated(kit, rng)))
            read += 1
        except MeadowError as error:
            said.append(error.message)
    assert all(text.endswith((".", "?", ".”")) for text in said)
    assert DOCUMENTS * 0.1 < read < DOCUMENTS


@pytest.mark.parametrize("part", ["ground", "masks", "delivery", "readings"])
@pytest.mark.parametrize("version", [1, 2, 4, 5, 99])
def test_a_stored_document_that_makes_no_sense_hides_no_other(api, project, part, version):
    pid = project["id"]
    row = Revision.objects.get(project=pid, number=head(pid).revision.number)
    document = json.loads(stored(pid, row.number))
    for odd in ("text", ["list"], 7):
        Revision.objects.filter(id=row.id).update(document={**document, "version": version, part: odd})
        Project.objects.filter(id=pid).update(summary=None)
        forget_all()
        ((_, told),) = shelf()
        assert told["trouble"].startswith("This project cannot be opened.")
        assert api.call("GET", f"/projects/{pid}", status=409)["code"] == "unreadable"
