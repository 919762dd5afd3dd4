"""A plan as data: every map with its files, where they lie, and how they are stored."""

from __future__ import annotations

from dataclasses import dataclass

from zigzag_meadow.core.delivery.height_scale import Levels
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.grid import Grid, Window
from zigzag_meadow.core.layers.scatter import densest
from zigzag_meadow.core.map_name import PointsName, ScatterName
from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import Deliverable
from zigzag_meadow.core.project.model.sheets import Channel, Sheet
from zigzag_meadow.core.targets.codings import Scale
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.tiles import Tile

__all__ = ["KEPT", "Plan", "PlannedFile", "PlannedItem", "scatter_of"]

SMALL = 65536
KEPT = {
    "import_note.html",
    "import_note.txt",
    "import_note.json",
    "manifest.json",
    "shading_recipe.txt",
    "shading_recipe.glsl",
    "shading_recipe.mtlx",
}
"""Files that every delivery writes beside its maps."""


def scatter_of(thing: Deliverable) -> str | None:
    """The id of what is scattered, of its points and densities alone."""
    return thing.name.scatter if isinstance(thing.name, ScatterName | PointsName) else None


@dataclass(frozen=True, slots=True)
class PlannedFile:
    """One file: its name, and which part of the whole map it holds (of a map that is one file, all of it)."""

    name: str
    tile: Tile
    single: bool


@dataclass(frozen=True, slots=True)
class PlannedItem:
    """One map and its files. ``channels``: letters in file order; ``scale``: of heights that are not stored as metres,
    ``scale_by``: where its ends come from (:class:`HeightScale`); ``rows_up``, ``cols_back``: files begin in the south
    or east.
    """

    thing: Deliverable
    choice: ItemChoice
    form: Form
    grid: Grid
    window: Window
    channels: tuple[Channel, ...]
    scale: Scale | None
    rows_up: bool
    cols_back: bool
    files: tuple[PlannedFile, ...]
    sheet: Sheet | None = None
    scale_by: str = "target"

    @property
    def is_picture(self) -> bool:
        return self.form.takes == "raster"

    @property
    def scatter(self) -> str:
        """The id of what is scattered: of points and densities alone."""
        return scatter_of(self.thing) or ""

    @property
    def full(self) -> float:
        """What stored full scale is."""
        return 1.0 if self.form.floats else float(2**self.form.bits - 1)

    def bytes_at_most(self, project: Project) -> int:
        """Room that its files may need."""
        if self.is_picture:
            each = len(self.channels) * self.form.bits // 8
            text = 14 if self.form.id == "asc" else each
            windows = (file.tile.window for file in self.files)
            return sum(w.rows * w.cols * text + SMALL for w in windows)
        scatter = project.scatter(self.scatter)
        assert scatter is not None  # points are of something scattered
        home = project.ground.home
        many = home.width * home.length / 100 * min(scatter.density, densest(scatter.distance))
        return int(many * (140 if self.form.id == "geojson" else 60)) + SMALL


@dataclass(frozen=True, slots=True)
class Plan:
    """A delivery ready to run. ``grid``: of the height as a whole; ``part``: what of it is written, ``tried``: of that
    only some tiles; ``ends``: lowest and highest height of the prepared ground, ``mean``: its mean; ``zero``: the
    height that is 0 there, all in the project's metres."""

    project: Project
    target: Target
    grid: Grid
    part: Window
    ends: tuple[float, float]
    zero: float
    items: tuple[PlannedItem, ...]
    mean: float = 0.0
    tried: bool = False

    @property
    def levels(self) -> Levels:
        """Of the prepared ground in the target's metres."""
        low, high = self.ends
        return Levels(low - self.zero, high - self.zero, self.mean - self.zero)

    @property
    def trial(self) -> bool:
        return self.tried or self.part != self.grid.whole

    @property
    def bytes_needed(self) -> int:
        """Room on disk for the files."""
        return sum(item.bytes_at_most(self.project) for item in self.items)

    @property
    def names(self) -> tuple[str, ...]:
        """Every file that there will be."""
        return (*(file.name for item in self.items for file in item.files), *sorted(KEPT))

    def item(self, of: str) -> PlannedItem | None:
        return next((item for item in self.items if item.thing.of == of), None)
