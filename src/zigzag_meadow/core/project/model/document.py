"""The project document: one typed tree. Ids never change and every reference is by id."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from zigzag_meadow.core.colour.surface import Surface
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.looks.model import Look
from zigzag_meadow.core.parts import AssetId, Id, Name, Part
from zigzag_meadow.core.project.model.classes import GroundClasses
from zigzag_meadow.core.project.model.delivery import Delivery
from zigzag_meadow.core.project.model.features import Feature, Scatter
from zigzag_meadow.core.project.model.ground import Ground
from zigzag_meadow.core.project.model.painting import (
    BASE,
    BaseLayer,
    Coat,
    CoatPiece,
    Layer,
    LayerStrokes,
    Merge,
    Mixing,
)
from zigzag_meadow.core.project.model.recipe import Mask, Piece
from zigzag_meadow.core.project.model.sheets import Sheet
from zigzag_meadow.core.targets.catalogue import target
from zigzag_meadow.core.targets.model import Target

__all__ = ["Outcome", "Project", "ReadingSetting"]


class ReadingSetting(Part):
    """Numbers of a reading that differ from its defaults, or one more reading of a kind with numbers of its own.

    The id of a kind's first reading is the kind itself.
    """

    id: Id
    kind: Id
    name: Name | None = None
    numbers: dict[Id, float | str] = Field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Outcome:
    """What comes out of sharing under one name: the base, a layer, or several merged; ``members``: ids of the layers
    (or of the base) whose weights it is the sum of."""

    id: str
    name: str
    colour: str
    members: tuple[str, ...]


class Project(Part):
    """Everything an artist decided; what can be computed from it is not in it. ``targets``: its own ones."""

    version: Literal[7] = 7
    name: Name
    ground: Ground
    readings: Annotated[tuple[ReadingSetting, ...], Field(max_length=200)] = ()
    masks: Annotated[tuple[Mask, ...], Field(max_length=200)] = ()
    pieces: Annotated[tuple[Piece, ...], Field(max_length=100)] = ()
    features: Annotated[tuple[Feature, ...], Field(max_length=500)] = ()
    scatters: Annotated[tuple[Scatter, ...], Field(max_length=50)] = ()
    looks: Annotated[tuple[Look, ...], Field(max_length=100)] = ()
    base: BaseLayer = BaseLayer()
    layers: Annotated[tuple[Layer, ...], Field(max_length=64)] = ()
    mixing: Mixing = Mixing()
    merges: Annotated[tuple[Merge, ...], Field(max_length=32)] = ()
    strokes: Annotated[tuple[LayerStrokes, ...], Field(max_length=200)] = ()
    coats: Annotated[tuple[Coat, ...], Field(max_length=100)] = ()
    coat_pieces: Annotated[tuple[CoatPiece, ...], Field(max_length=100)] = ()
    surface: Surface = Surface()
    classes: GroundClasses = GroundClasses()
    sheets: Annotated[tuple[Sheet, ...], Field(max_length=64)] = ()
    targets: Annotated[tuple[Target, ...], Field(max_length=32)] = ()
    delivery: Delivery

    def setting(self, reading_id: str) -> ReadingSetting | None:
        return next((r for r in self.readings if r.id == reading_id), None)

    @property
    def assets(self) -> tuple[AssetId, ...]:
        """Every stored file that the document refers to, the heightmap first."""
        used = [self.ground.asset, *(asset for step in self.ground.steps for asset in step.assets)]
        for item in self.readings:
            asset = item.numbers.get("asset")
            if isinstance(asset, str) and asset and asset not in used:
                used.append(asset)
        for mask in self.masks:
            used += [asset for line in mask.lines for asset in line.assets if asset not in used]
        used += [asset for look in self.looks for asset in look.assets if asset not in used]
        used += [item.asset for item in self.strokes if item.asset not in used]
        return tuple(dict.fromkeys(used))

    @property
    def recipes(self) -> tuple[Mask | Piece, ...]:
        """Everything that has lines."""
        return (*self.pieces, *self.masks)

    def piece(self, piece_id: str) -> Piece | None:
        return next((p for p in self.pieces if p.id == piece_id), None)

    def feature(self, feature_id: str) -> Feature | None:
        return next((f for f in self.features if f.id == feature_id), None)

    def scatter(self, scatter_id: str) -> Scatter | None:
        return next((s for s in self.scatters if s.id == scatter_id), None)

    def mask(self, mask_id: str) -> Mask | None:
        return next((m for m in self.masks if m.id == mask_id), None)

    def layer(self, layer_id: str) -> Layer | None:
        return next((item for item in self.layers if item.id == layer_id), None)

    def look(self, look_id: str) -> Look | None:
        return next((item for item in self.looks if item.id == look_id), None)

    def coat(self, coat_id: str) -> Coat | None:
        return next((item for item in self.coats if item.id == coat_id), None)

    def coat_piece(self, piece_id: str) -> CoatPiece | None:
        return next((item for item in self.coat_pieces if item.id == piece_id), None)

    def merge_of(self, layer_id: str) -> Merge | None:
        """What a layer is merged into."""
        return next((item for item in self.merges if layer_id in item.layers), None)

    @property
    def outcomes(self) -> tuple[Outcome, ...]:
        """What sharing comes out as: the base, then layers from the bottom, merged ones where their lowest lies."""
        made = [Outcome(BASE, self.base.name, self.base.colour, (BASE,))]
        done: set[str] = set()
        for layer in self.shown_layers:
            merge = self.merge_of(layer.id)
            if merge is None:
                made.append(Outcome(layer.id, layer.name, layer.colour, (layer.id,)))
            elif merge.id not in done:
                done.add(merge.id)
                shown = tuple(item.id for item in self.shown_layers if item.id in merge.layers)
                made.append(Outcome(merge.id, merge.name, merge.colour, shown))
        return tuple(made)

    def sheet(self, sheet_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.id == sheet_id), None)

    @property
    def target(self) -> Target:
        """Where it is delivered to: one of the project's own targets, or a built-in one."""
        return target(self.delivery.target, self.targets)

    @property
    def final(self) -> Grid:
        """The grid of the delivered height: the ground's extent at the delivery's size."""
        return self.target.height_grid(self.ground.home, self.delivery.rows, self.delivery.cols)

    @property
    def shown_layers(self) -> tuple[Layer, ...]:
        """Layers that take part in sharing, bottom first."""
        return tuple(item for item in self.layers if not item.muted and item.mask is not None)
