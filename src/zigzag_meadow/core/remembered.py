"""What is worked out once for an object that never changes, and kept as long as the object is."""

from __future__ import annotations

import weakref
from collections.abc import Callable, Sequence
from functools import wraps
from typing import TypeVar

__all__ = ["once_an_object", "same_objects"]

Thing = TypeVar("Thing")
Made = TypeVar("Made")


def once_an_object(make: Callable[[Thing], Made]) -> Callable[[Thing], Made]:
    """``make``, asked once for each object (not for each that is equal); for frozen things alone. The same result is
    handed out again: nobody may change it. Raises what ``make`` raises, every time."""
    kept: dict[int, tuple[weakref.ref[Thing], Made]] = {}

    @wraps(make)
    def made(thing: Thing) -> Made:
        found = kept.get(id(thing))
        # Another object may have come to lie where one lay that is gone.
        if found is not None and found[0]() is thing:
            return found[1]
        value = make(thing)
        place = id(thing)

        def forget(gone: weakref.ref[Thing]) -> None:
            if place in kept and kept[place][0] is gone:
                kept.pop(place, None)

        kept[place] = (weakref.ref(thing, forget), value)
        return value

    return made


def same_objects(one: Sequence[object], other: Sequence[object]) -> bool:
    """Whether two runs are of the very same objects: what is merely equal counts as another."""
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))
