"""A first colour map, made of coats that can each be changed."""

from __future__ import annotations

from collections.abc import Set

from zigzag_meadow.core.colour.coats.layers import Layers
from zigzag_meadow.core.colour.coats.ramp import Ramp
from zigzag_meadow.core.colour.coats.vary import Vary
from zigzag_meadow.core.colour.coats.water import Water
from zigzag_meadow.core.colour.coats.wear import Bleach, Soil
from zigzag_meadow.core.masks.sources import ReadingUse
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import Coat

__all__ = ["first_coats"]


def first_coats(project: Project, taken: Set[str]) -> tuple[Coat, ...]:
    """Bottom first: the layers' textures, or a ramp along height without layers; patches; soil where mixed occlusion
    shelters; pale edges by curvature; water where there is any."""
    low, high = project.ground.file_ends
    home = project.ground.home
    step = max(home.dy, home.dx)
    begin: Coat = (
        Layers(id="layers")
        if project.layers
        else Ramp(id="ramp", along=ReadingUse(reading="height", black=low, white=max(high, low + 1)))
    )
    coats: list[Coat] = [
        begin,
        Vary(id="vary", size=float(f"{25 * step:.2g}")),
        Soil(id="soil", strength=0.55),
        Bleach(id="edges", by=ReadingUse(reading="mean_curvature", black=0, white=float(f"{0.05 / step:.2g}"))),
    ]
    if project.ground.water is not None:
        coats.append(Water(id="water", deep=float(f"{max((high - low) / 20, 2):.2g}")))
    fresh = []
    for coat in coats:
        number, name = 2, coat.id
        while name in taken:
            name, number = f"{coat.id}{number}", number + 1
        fresh.append(coat.changed(id=name))
    return tuple(fresh)
