"""Things that were accepted, with one number, text or list changed to what somebody might send instead."""

from __future__ import annotations

import json
import os
import random
from collections.abc import Iterator
from typing import Any

from tests.support.every_edit import puts
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.warm_project import project_of_every_kind

__all__ = ["SEED", "TIMES", "accepted_edits", "document_of_every_kind", "mutated"]

# A test is short and always the same; long runs (bench/fuzzing.py) try other things, and more of them.
TIMES, SEED = (int(os.environ.get(f"ZIGZAG_FUZZ_{name}", default)) for name, default in (("TIMES", 1), ("SEED", 0)))

HOME = Grid(33, 41, 2.0, 3.0)
# What JSON cannot say as a number goes in by name and is put into the text.
_NAMED = ("NaN", "Infinity", "-Infinity", "1e999")
_NUMBERS: tuple[Any, ...] = (
    0,
    -1,
    1,
    2,
    0.5,
    -0.5,
    1e-300,
    1e300,
    -1e300,
    2**31,
    2**63,
    -(2**63),
    10**30,
    *(f"@{n}@" for n in _NAMED),
)
_OTHERS: tuple[Any, ...] = (None, "", "x" * 5000, "../../x", "\u0000", "mask:nothing", [], {}, [[[]]], True)


def document_of_every_kind() -> dict[str, Any]:
    return project_of_every_kind(HOME, HOME.resized(43, 43)).model_dump(mode="json")


def _leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    if isinstance(value, dict):
        for key, part in value.items():
            yield from _leaves(part, (*path, key))
    elif isinstance(value, list) and value and not isinstance(value[0], int | float):
        for at, part in enumerate(value):
            yield from _leaves(part, (*path, at))
    else:
        yield path, value


def _beside(value: float) -> tuple[Any, ...]:
    """As large, turned about, and next to it: where bounds are, one of those lies beyond."""
    return (-value, value + 1, value - 1, value * 1000, value / 1000)


def mutated(value: Any, rng: random.Random, skip: tuple[str, ...] = ("op", "version")) -> str:
    """``value`` as JSON text with one leaf changed."""
    leaves = [(path, was) for path, was in _leaves(value) if path and path[-1] not in skip]
    path, was = rng.choice(leaves)
    number = isinstance(was, int | float) and not isinstance(was, bool)
    options = (*_NUMBERS, *_beside(was)) if number else (*_OTHERS, *_NUMBERS)
    changed = json.loads(json.dumps(value))
    holder = changed
    for key in path[:-1]:
        holder = holder[key]
    holder[path[-1]] = rng.choice(options)
    text = json.dumps(changed)
    for name in _NAMED:
        text = text.replace(f'"@{name}@"', name)
    return text


def accepted_edits(document: dict[str, Any]) -> list[dict[str, Any]]:
    """An edit that changes nothing for everything in a document, and some that do."""
    fields = ("asset", "file_name", "file_format", "depth", "rows", "cols", "stored_low", "stored_high", "voids")
    file = {name: document["ground"][name] for name in fields}
    return [
        *puts(document),
        {"op": "replace_heightmap", "file": file, "keep": "extent"},
        {"op": "move_coat", "coat": document["coats"][0]["id"], "to": 1},
        {"op": "merge_layers", "id": "both", "name": "Both", "layers": ["l", "k"], "shares": [0.5, 0.5]},
    ]
