"""A project as the pages have it: whole when it is opened, and what an edit changed of it afterwards."""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass
from typing import Any

import orjson
from django.http import HttpResponse

from zigzag_meadow.core.delivery.cautions import cautions
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.formats.codes import code_ends
from zigzag_meadow.core.grid import reference_grid
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.ground import turning_back
from zigzag_meadow.core.project.model.stored import differences, plain
from zigzag_meadow.core.project.model.uses import uses
from zigzag_meadow.server import projects
from zigzag_meadow.server.api.catalogues import readings_of
from zigzag_meadow.server.outdated import written_keys
from zigzag_meadow.server.revisions import Unreadable

__all__ = ["changed", "shown"]

MOST_KEPT = 8


@dataclass(frozen=True)
class _Told:
    """A state as it was told: JSON data, and the graph that its keys were read off."""

    payload: dict[str, Any]
    graph: Graph


class _Recently:
    """The states that were told last: most edits are made on one of them."""

    def __init__(self) -> None:
        self._told: OrderedDict[tuple[str, int], _Told] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, project_id: str, revision: int) -> _Told | None:
        with self._lock:
            return self._told.get((project_id, revision))

    def put(self, project_id: str, revision: int, told: _Told) -> None:
        with self._lock:
            self._told[(project_id, revision)] = told
            while len(self._told) > MOST_KEPT:
                self._told.popitem(last=False)


_recently = _Recently()


def shown(state: projects.State, status: int = 200) -> HttpResponse:
    """A state as a whole (:class:`StateOut`)."""
    return _answer(_told(state, _graph_before(state)).payload, status)


def changed(project_id: str, base: int, state: projects.State) -> HttpResponse:
    """What changed since revision ``base`` (:class:`StateChange`), of which whoever asks has the whole."""
    try:
        before = _recently.get(project_id, base) or _told(projects.state_at(project_id, base))
    except Unreadable:
        # Nobody has what cannot be read: all of it is new.
        changes = [{"op": "replace", "path": "", "value": _told(state).payload}]
    else:
        changes = differences(before.payload, _told(state, before.graph).payload)
    return _answer({"base": base, "revision": state.revision.number, "changes": changes})


def _answer(data: dict[str, Any], status: int = 200) -> HttpResponse:
    # Of our own making, and thousands of parts: it is tested against its form, not checked each time it is sent.
    return HttpResponse(orjson.dumps(data), content_type="application/json", status=status)


def _graph_before(state: projects.State) -> Graph | None:
    """The graph of a state that was told already, of which this one may keep what is the same."""
    number = state.revision.number
    told = _recently.get(state.row.id, number) or _recently.get(state.row.id, number - 1)
    return None if told is None else told.graph


def _told(state: projects.State, before: Graph | None = None) -> _Told:
    document, number = state.document, state.revision.number
    home = document.ground.home
    graph = Graph(document, before=before)
    payload = {
        "id": state.row.id,
        "revision": number,
        "document": plain(document),
        "undo": state.undo_label,
        "undo_place": state.undo_place,
        "redo": state.redo_label,
        "cautions": [_fields(caution) for caution in cautions(document)],
        "home": home.as_json(),
        "view": reference_grid(home).as_json(),
        "final": document.final.as_json(),
        "ground_key": graph.stage().ground.key,
        "mask_keys": {mask.id: graph.mask(mask.id).key for mask in document.masks},
        "writes": sorted(written_keys(document)),
        "readings": readings_of(graph),
        "uses": [_fields(use) for use in uses(document)],
        "bands": {mask.id: mask.bands for mask in document.masks if mask.bands is not None},
        "gaps": document.ground.keeps_voids,
        "in_place": document.ground.in_place,
        "outer": list(reversed(document.ground.outer)),
        "file_ends": document.ground.file_ends,
        "codes": _codes(document),
        "to_file": turning_back(document.ground, 0).numbers,
    }
    told = _Told(payload, graph)
    _recently.put(state.row.id, number, told)
    return told


def _codes(document: Project) -> dict[str, Any] | None:
    """What stored numbers stand for now, from black to white of the file's format."""
    ground = document.ground
    stored, metres = code_ends(ground.depth), ground.format_ends
    if stored is None:
        return None
    step, at_zero = ground.coding
    black, white = metres or stored
    return {
        "black": stored[0],
        "white": stored[1],
        "at_black": black,
        "at_white": white,
        "metres_a_step": step,
        "at_zero": at_zero,
    }


def _fields(thing: Any) -> dict[str, Any]:
    """The fields of a flat dataclass, of which there may be thousands."""
    return {field: getattr(thing, field) for field in type(thing).__dataclass_fields__}
