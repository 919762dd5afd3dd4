"""Layers made of masks in one go, and looks that go with layers by name."""

from __future__ import annotations

import re
from collections.abc import Sequence

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.looks.model import Dressing
from zigzag_meadow.core.masks.sources import MaskUse
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE, Layer

__all__ = ["free_name", "layer_named_like", "layers_of", "look_named_like"]

COLOURS = (
    "#54422f",
    "#8a5c7d",
    "#9c9a92",
    "#3f6f6a",
    "#b9a983",
    "#7f9457",
    "#a0713f",
    "#5f6b78",
    "#c9b15e",
    "#6d4f4a",
    "#4f7f4a",
    "#b78a8f",
)


def free_name(name: str, taken: Sequence[str]) -> str:
    """A name that nobody has yet: the same, or with a number."""
    folded = {other.casefold() for other in taken}
    number, new = 2, name[:60]
    while new.casefold() in folded:
        new, number = f"{name[:55]} {number}", number + 1
    return new


def _words(name: str) -> set[str]:
    return {word.rstrip("s") for word in re.findall(r"[a-z]+", name.casefold())}


def look_named_like(project: Project, name: str) -> str | None:
    """The look, brought in or bundled, whose name shares the most words with a layer's; None where none does."""
    wanted = _words(name)
    looks = [(look.id, look.name) for look in project.looks] + [(look.id, look.title) for look in LOOKS]
    scored = [(len(wanted & _words(title)) / max(len(_words(title)), 1), look) for look, title in looks]
    best = max(scored, key=lambda pair: pair[0], default=(0.0, None))
    return best[1] if best[0] >= 0.5 else None


def layer_named_like(project: Project, name: str) -> str | None:
    """The layer (or ``base``) whose name shares the most words with that of a set of textures; None where none does."""
    wanted = _words(name)
    layers = [(BASE, project.base.name), *((layer.id, layer.name) for layer in project.layers)]
    scored = [(len(wanted & _words(title)) / max(len(_words(title)), 1), layer) for layer, title in layers]
    best = max(scored, key=lambda pair: pair[0])
    return best[1] if best[0] >= 0.5 else None


def layers_of(project: Project, masks: Sequence[MaskUse], prefix: str) -> tuple[Layer, ...]:
    """A layer of each mask or band, bottom first, named after it, with a colour of its own and a look of its name.

    ``prefix`` begins their ids. Raises :class:`NotFound`, and :class:`BadDocument` for too many.
    """
    if len(project.layers) + len(masks) > 64:
        raise BadDocument(f"A project has at most 64 layers; it has {len(project.layers)} and {len(masks)} would come.")
    taken = [project.base.name, *(layer.name for layer in project.layers), *(merge.name for merge in project.merges)]
    made: list[Layer] = []
    for number, use in enumerate(masks):
        mask = project.mask(use.mask)
        if mask is None:
            raise NotFound("That mask is no longer there.", field="mask")
        title = mask.name if use.band is None else f"{mask.name}, band {use.band + 1}"
        name = free_name(title, taken)
        taken.append(name)
        colour = COLOURS[(len(project.layers) + number) % len(COLOURS)]
        dressing = Dressing(look=look_named_like(project, name))
        made.append(
            Layer(id=f"{prefix}-{number}", name=name, mask=use.mask, band=use.band, colour=colour, dressing=dressing)
        )
    return tuple(made)
