"""Where in the document every operation changes something: read off the operations, told to the pages as a table."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any, get_args

from pydantic import BaseModel

from zigzag_meadow.core.project.edits.operations import Operation
from zigzag_meadow.core.project.edits.ops_base import Op

__all__ = ["OPERATIONS", "Steps", "apart", "meets", "places", "places_json"]

OPERATIONS: dict[str, type[Op]] = {kind.model_fields["op"].default: kind for kind in get_args(get_args(Operation)[0])}
"""Every operation by its name."""

Steps = tuple[str, ...]


def places(operation: Op) -> tuple[Steps, ...]:
    """The places that an operation changes, as steps from the top of the document; things stand there by their ids."""
    return _places(operation, (*operation.changes, *([] if operation.replaces is None else [operation.replaces])))


def _places(operation: Op, paths: tuple[str, ...]) -> tuple[Steps, ...]:
    return tuple(dict.fromkeys(steps for path in paths for steps in _resolved(operation, path)))


def _resolved(operation: Op, path: str) -> list[Steps]:
    found: list[Steps] = [()]
    for step in path.split("/"):
        if not step.startswith("{"):
            found = [(*steps, step) for steps in found]
            continue
        value: Any = getattr(operation, step[1:-1])
        things = value if isinstance(value, tuple) else (value,)
        found = [(*steps, _id(thing)) for steps in found for thing in things]
    return found


def _id(thing: Any) -> str:
    if not isinstance(thing, BaseModel):
        return str(thing)
    told = thing.model_dump(include={"id", "of"})
    return str(told.get("id", told.get("of")))


def apart(one: Op, other: Op) -> bool:
    """Whether neither of two operations changes what the other changes or looks at: then it is the same which of them
    comes first."""
    return not (meets(one, places(other)) or meets(other, places(one)))


def meets(operation: Op, changed: Sequence[Steps]) -> list[Steps]:
    """The places that an operation changes or looks at and that lie in one that was ``changed``, or hold it."""
    mine = dict.fromkeys((*places(operation), *_places(operation, operation.reads)))
    return [a for a in mine if any(a[: len(b)] == b or b[: len(a)] == a for b in changed)]


def places_json() -> str:
    """``{operation: {"replaces": path or null, "changes": [path]}}`` as JSON, for the pages."""
    table = {name: {"replaces": kind.replaces, "changes": list(kind.changes)} for name, kind in OPERATIONS.items()}
    return json.dumps(table, indent=2) + "\n"


if __name__ == "__main__":
    print(places_json(), end="")
