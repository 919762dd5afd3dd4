"""Operations change what they say, and only that; what changes different places can come in either order."""

from __future__ import annotations

from typing import Any

import pytest

from tests.support.every_edit import every_edit, project_to_edit
from zigzag_meadow.core.errors import MeadowError
from zigzag_meadow.core.project.places import OPERATIONS, apart, places

PROJECT = project_to_edit()
EDITS = every_edit(PROJECT)


def _touched(before: Any, after: Any, path: tuple[str, ...] = ()) -> list[tuple[str, ...]]:
    """The places where two documents differ; a list whose things came, went or moved differs as a whole."""
    if before == after:
        return []
    if isinstance(before, dict) and isinstance(after, dict):
        keys = dict.fromkeys((*before, *after))
        return [found for key in keys for found in _touched(before.get(key), after.get(key), (*path, key))]
    if isinstance(before, list) and isinstance(after, list):
        ids = [
            [item.get("id", item.get("of")) if isinstance(item, dict) else None for item in all_]
            for all_ in (before, after)
        ]
        if ids[0] == ids[1] and None not in ids[0]:
            pairs = zip(ids[0], before, after, strict=True)
            return [found for name, b, a in pairs for found in _touched(b, a, (*path, name))]
    return [path]


def test_every_operation_is_tried():
    assert {edit.op for edit in EDITS} == set(OPERATIONS)


@pytest.mark.parametrize("edit", EDITS, ids=lambda edit: edit.op)
def test_it_changes_something_and_nothing_beyond_what_it_says(edit):
    after, _ = edit.apply(PROJECT)
    touched = _touched(PROJECT.model_dump(mode="json"), after.model_dump(mode="json"))
    assert touched
    declared = places(edit)
    assert [path for path in touched if not any(path[: len(place)] == place for place in declared)] == []


def test_two_that_are_apart_come_to_the_same_in_either_order():
    """Every pair of operations there is."""

    def both(first, second):
        try:
            return second.apply(first.apply(PROJECT)[0])[0]
        except MeadowError as error:
            return error.message

    compared = 0
    for at, one in enumerate(EDITS):
        for other in EDITS[at + 1 :]:
            if not apart(one, other):
                continue
            made = [both(one, other), both(other, one)]
            # Where one is refused because of the other, nothing is lost: the artist is told.
            if any(isinstance(result, str) for result in made):
                continue
            assert made[0] == made[1], (one.op, other.op)
            compared += 1
    assert compared > 4000
