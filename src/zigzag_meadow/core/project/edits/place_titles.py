"""Places of a document in words, and which of them differ between two states."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from zigzag_meadow.core.project.edits.ops_base import Op
from zigzag_meadow.core.project.edits.places import Steps, meets, places
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import find_deliverable
from zigzag_meadow.core.project.model.painting import BASE, LayerStrokes
from zigzag_meadow.core.project.model.readings import title_of

__all__ = ["changed_places", "edited_places", "meeting_places", "place_title"]

_PARTS = {
    "name": "the project's name",
    "ground": "the ground",
    "base": "the base",
    "mixing": "how layers share",
    "surface": "the surface",
    "delivery": "the delivery",
    "classes": "the classes of the ground",
}
# One of a list, and all of it.
_THINGS = {
    "readings": ("the reading", "the readings"),
    "masks": ("the mask", "the masks"),
    "pieces": ("the piece", "the pieces"),
    "features": ("the drawing", "the drawings"),
    "scatters": ("the scatter", "the scatters"),
    "looks": ("the texture", "the textures"),
    "layers": ("the layer", "the layers"),
    "merges": ("the merged layer", "the merged layers"),
    "strokes": ("the strokes for", "the strokes"),
    "coats": ("the coat", "the coats"),
    "coat_pieces": ("the piece of colour", "the pieces of colour"),
    "sheets": ("the sheet", "the sheets"),
    "targets": ("the target", "the targets"),
    "lines": ("the line", "the recipe"),
    "steps": ("the step", "the preparation"),
    "items": ("the file of", "the files"),
}
_MOST = 2


def place_title(project: Project, steps: Steps) -> str:
    """A place in words, as the artist knows what stands there: *the line take of the mask Scree*.

    Things that the project does not hold are called by what they are alone.
    """
    at: Any = project
    words: list[str] = []
    for k, step in enumerate(steps):
        named = steps[k - 1] if k else ""
        if isinstance(at, tuple):
            at = next((item for item in at if _id(item) == step), None)
            one, called = _THINGS[named][0], _called(project, named, step, at)
            words[-1] = f"{one} {called}" if called else one.removesuffix(" of").removesuffix(" for")
        elif step in _THINGS:
            at = getattr(at, step, ())
            words.append(_THINGS[step][1])
        elif not k:
            at = getattr(at, step, None)
            words.append(_PARTS[step])
        else:
            break
    # Steps and items are told by themselves: there is one ground and one delivery.
    kept = words[1:] if len(words) > 1 and words[0] in (_PARTS["ground"], _PARTS["delivery"]) else words
    return " of ".join(reversed(kept))


def _id(thing: Any) -> str:
    return str(getattr(thing, "id", None) or getattr(thing, "of", ""))


def _called(project: Project, kind: str, thing_id: str, thing: Any) -> str:
    if kind == "readings":
        return title_of(project, thing_id)
    if kind == "items":
        found = find_deliverable(project, thing_id)
        return found.title if found is not None else ""
    if isinstance(thing, LayerStrokes):
        thing = project.base if thing.layer == BASE else project.layer(thing.layer)
    name = getattr(thing, "name", None) or getattr(thing, "title", None)
    return (str(name).lower() if kind in ("lines", "steps", "coats") else str(name)) if name else ""


def edited_places(project: Project, operations: Sequence[Op]) -> str:
    """Where some operations change a project, in words: the first places of each, and how many more."""
    titles = list(dict.fromkeys(place_title(project, steps) for one in operations for steps in places(one)))
    more = f" and {len(titles) - _MOST} more" if len(titles) > _MOST else ""
    return f"{', '.join(titles[:_MOST])}{more}"


def changed_places(before: Project, after: Project) -> tuple[Steps, ...]:
    """The places at which two states differ: a list where something came, went or moved, else as deep as it goes."""
    return tuple(_differing(before.model_dump(mode="json"), after.model_dump(mode="json"), ()))


def _differing(one: Any, other: Any, steps: Steps) -> Iterator[Steps]:
    if one == other:
        return
    if isinstance(one, dict) and isinstance(other, dict):
        for field in {**one, **other}:
            yield from _differing(one.get(field), other.get(field), (*steps, field))
        return
    if isinstance(one, list) and isinstance(other, list):
        ids = [[item.get("id", item.get("of")) if isinstance(item, dict) else None for item in x] for x in (one, other)]
        if None not in ids[0] and ids[0] == ids[1]:
            for thing_id, a, b in zip(ids[0], one, other, strict=True):
                yield from _differing(a, b, (*steps, str(thing_id)))
            return
    yield steps


def meeting_places(project: Project, operations: Sequence[Op], changed: Sequence[Steps]) -> list[str]:
    """Which places of some operations are among those that were ``changed``, or decide what comes of them; in words."""
    return list(dict.fromkeys(place_title(project, steps) for one in operations for steps in meets(one, changed)))
