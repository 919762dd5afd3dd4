"""Documents as plain data, the way they are stored and told, and what an edit changed in them.

Edits share all that they leave alone with the document before: each part is turned into plain data once.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import orjson
from pydantic import BaseModel

from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.remembered import once_an_object

__all__ = ["Changes", "differences", "plain", "plain_size"]

Plain = Any
Changes = list[dict[str, Plain]]
"""Operations of a JSON Patch (RFC 6902): ``op`` (add, remove, replace, move), ``path``, and ``value`` or ``from``."""

_TOLD_BY = ("id", "of", "name")


@once_an_object
def _part(part: BaseModel) -> Plain:
    return part.model_dump(mode="json")


@once_an_object
def _size(part: BaseModel) -> int:
    return len(orjson.dumps(_part(part)))


def plain(project: Project) -> dict[str, Plain]:
    """The document as JSON data. Parts are shared with other documents that hold them: nobody may change it."""
    return {name: _each(getattr(project, name), _part) for name in type(project).model_fields}


def plain_size(project: Project) -> int:
    """How many bytes the document has as JSON."""
    told = [(name, getattr(project, name)) for name in type(project).model_fields]
    return 1 + sum(len(name) + 4 + _bytes(value) for name, value in told)


def _bytes(value: Any) -> int:
    if isinstance(value, tuple):
        return 2 + sum(_bytes(item) + 1 for item in value) - bool(value)
    return _size(value) if isinstance(value, BaseModel) else len(orjson.dumps(value))


def _each(value: Any, make: Callable[[BaseModel], Plain]) -> Plain:
    if isinstance(value, tuple):
        return [_each(item, make) for item in value]
    return make(value) if isinstance(value, BaseModel) else value


def differences(before: Plain, after: Plain, path: str = "") -> Changes:
    """What makes ``after`` of ``before`` (JSON data both), as few changes as are found without trying many ways.

    Things in lists are told apart by ``id``, ``of`` or ``name`` where all have one; any other list is replaced whole.
    """
    # Of most parts it is known at once: they are the same objects.
    if before is after or (type(before) is type(after) and before == after):
        return []
    if isinstance(before, dict) and isinstance(after, dict):
        return _of_things(before, after, path)
    if isinstance(before, list) and isinstance(after, list):
        names, wanted = _names(before), _names(after)
        if names is not None and wanted is not None:
            return _of_lists(dict(zip(names, before, strict=True)), wanted, after, path)
    return [{"op": "replace", "path": path, "value": after}]


def _of_things(before: dict[str, Plain], after: dict[str, Plain], path: str) -> Changes:
    made: Changes = [{"op": "remove", "path": f"{path}/{_step(key)}"} for key in before if key not in after]
    for key, value in after.items():
        place = f"{path}/{_step(key)}"
        made += (
            differences(before[key], value, place) if key in before else [{"op": "add", "path": place, "value": value}]
        )
    return made


def _of_lists(there: dict[str, Plain], wanted: list[str], after: list[Plain], path: str) -> Changes:
    made: Changes = []
    now = list(there)
    staying = set(wanted)
    for at in range(len(now) - 1, -1, -1):
        if now[at] not in staying:
            made.append({"op": "remove", "path": f"{path}/{at}"})
            del now[at]
    for at, (name, item) in enumerate(zip(wanted, after, strict=True)):
        if name not in there:
            made.append({"op": "add", "path": f"{path}/{at}", "value": item})
            now.insert(at, name)
        elif now[at] != name:
            # One that went down leaves all between where they are; else this one came up.
            goes = at + 1 < len(now) and now[at + 1] == name
            down = min(wanted.index(now[at]), len(now) - 1)
            made.append(_moved(now, at, down, path) if goes else _moved(now, now.index(name), at, path))
    for at, (name, item) in enumerate(zip(wanted, after, strict=True)):
        if name in there:
            made += differences(there[name], item, f"{path}/{at}")
    return made


def _moved(now: list[str], start: int, end: int, path: str) -> dict[str, Plain]:
    now.insert(end, now.pop(start))
    return {"op": "move", "from": f"{path}/{start}", "path": f"{path}/{end}"}


def _names(items: list[Plain]) -> list[str] | None:
    """What tells the entries of a list apart, or None where nothing does."""
    told = [
        next((item[key] for key in _TOLD_BY if key in item), None) if isinstance(item, dict) else None for item in items
    ]
    names = [name for name in told if isinstance(name, str)]
    return names if len(set(names)) == len(items) else None


def _step(key: str) -> str:
    return key.replace("~", "~0").replace("/", "~1")
