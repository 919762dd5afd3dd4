"""From layers and coats to nodes: weights, colours and surface maps."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Protocol, get_args

from zigzag_meadow.core.colour.coats.base import BaseCoat
from zigzag_meadow.core.colour.coats.layers import layers_colour
from zigzag_meadow.core.colour.surface import (
    SurfaceMap,
    curvature_map,
    detail_map,
    normal_map,
    occlusion_map,
    roughness_map,
    worn_surface,
)
from zigzag_meadow.core.colour.whole import bytes_of
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.layers.brushed import brushed
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.layers.weights import (
    merged,
    reliefs_of,
    share_bytes,
    strength_of,
    strongest,
    weight_of,
    weights_of,
)
from zigzag_meadow.core.looks.model import Dressing
from zigzag_meadow.core.looks.texture import Texture, Worn, made_texture, read_texture, worn
from zigzag_meadow.core.map_name import (
    ColourName,
    FarColourName,
    LayersName,
    MapName,
    MiddleColourName,
    SurfaceName,
    map_name,
)
from zigzag_meadow.core.map_name_parts import Distance
from zigzag_meadow.core.masks.sources import MaskUse, Source, constant
from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.project.model.document import Outcome, Project
from zigzag_meadow.core.project.model.painting import BASE, Layer
from zigzag_meadow.core.project.model.pieces import lines_with

__all__ = ["Painting"]


class _Around(Protocol):
    """What painting needs of the graph it is part of."""

    project: Project

    def stage(self, steps: int | None = None) -> Stage: ...
    def reading(self, reading_id: str, stage: Stage | None = None) -> Node: ...
    def source(self, source: Source) -> Node: ...
    def pictured(self, reading_id: str, *, sharp: bool = False) -> Node | None: ...


class Painting:
    """Nodes of weights, colours and surface maps of one document."""

    def __init__(self, around: _Around) -> None:
        self._around = around
        self.project = around.project

    # Layers ---------------------------------------------------------------------------------------------------

    def texture(self, look_id: str | None) -> Texture | None:
        """A look by its id, bundled or brought in; None where there is none (any more)."""
        if look_id is None:
            return None
        own = self.project.look(look_id)
        return made_texture(look_id) if own is None else read_texture(own)

    def worn(self) -> list[Worn]:
        """What the base and every layer that takes part wear, bottom first."""
        base = self.project.base
        layers = [self.wears(item.dressing, item.colour) for item in self.project.shown_layers]
        return [self.wears(base.dressing, base.colour), *layers]

    def wears(self, dressing: Dressing, colour: str) -> Worn:
        """A dressing with its textures in place."""
        textures = self.texture(dressing.look), self.texture(dressing.middle)
        return worn(dressing, colour, *textures, self.project.mixing.one_size)

    def strength(self, layer_id: str) -> Node:
        """A layer's mask as strongly as it lets it, before sharing."""
        layer = self.layer(layer_id)
        if layer.mask is None or layer.muted:
            return constant(0.0, self._around.stage().home)
        return strength_of(self._around.source(MaskUse(mask=layer.mask, band=layer.band)), layer.strength)

    def layer(self, layer_id: str) -> Layer:
        layer = self.project.layer(layer_id)
        if layer is None:
            raise NotFound(f"There is no layer with the id {layer_id!r}.", field="layer")
        return layer

    def reliefs(self) -> Node | None:
        """Reliefs of what is worn, in metres."""
        return reliefs_of(self.worn(), self._around.stage().home)

    def shared(self) -> Node:
        """The stack of weights after sharing, before the layer brush; base first, every layer by itself."""
        project = self.project
        masks = [self._around.source(MaskUse(mask=x.mask or "", band=x.band)) for x in project.shown_layers]
        strengths = [layer.strength for layer in project.shown_layers]
        mixing = project.mixing
        reliefs = self.reliefs() if SHARINGS[mixing.sharing].by_relief else None
        return weights_of(masks, strengths, mixing.sharing, mixing.depth, reliefs)

    def leaves(self) -> Node:
        """The stack of weights after the layer brush; every layer by itself."""
        node = self.shared()
        for item in self.project.strokes:
            place = self.place(item.layer)
            if place is not None and not item.muted:
                only = None if item.only is None else self._around.source(item.only)
                node = brushed(node, place, item.asset, only)
        return node

    def place(self, layer_id: str) -> int | None:
        """Which plane of the stack a layer is; None where it takes no part."""
        ids = [BASE, *(layer.id for layer in self.project.shown_layers)]
        return ids.index(layer_id) if layer_id in ids else None

    def outcomes(self) -> Node:
        """The stack of what comes out: merged layers as one."""
        made = self.project.outcomes
        places = [[self.place(member) or 0 for member in outcome.members] for outcome in made]
        return merged(self.leaves(), places)

    def weight(self, layer_id: str) -> Node:
        """The weight of a layer, of merged layers or of the base."""
        at = self._outcome(layer_id)
        if at is not None:
            return weight_of(self.outcomes(), at)
        if all(merge.id != layer_id for merge in self.project.merges):
            self.layer(layer_id)
        place = self.place(layer_id)
        return constant(0.0, self._around.stage().home) if place is None else weight_of(self.leaves(), place)

    def weight_bytes(self, layer_id: str, bits: int = 8) -> Node | None:
        """The weight in whole numbers that add up to full scale with all others; None where it takes no part."""
        at = self._outcome(layer_id)
        return None if at is None else share_bytes(self.outcomes(), at, bits)

    def _outcome(self, layer_id: str) -> int | None:
        return next((at for at, item in enumerate(self.project.outcomes) if item.id == layer_id), None)

    def strongest(self) -> Node:
        """Which outcome is strongest: uint8."""
        return strongest(self.outcomes())

    def plain_colours(self) -> Node:
        """Every outcome in its plain colour: float32 (rows, columns, 3), linear light."""
        return layers_colour(self.outcomes(), [self._plain(item) for item in self.project.outcomes], "plain")

    def alone(self, layer_id: str) -> Node:
        """One layer over the base, as strong as it is before sharing, in their textures' mean colours."""
        layer = self.layer(layer_id)
        base = self.project.base
        pair = [self.wears(base.dressing, base.colour), self.wears(layer.dressing, layer.colour)]
        return layers_colour(weights_of([self.strength(layer_id)]), pair, "mean")

    def _plain(self, outcome: Outcome) -> Worn:
        return self.wears(Dressing(), outcome.colour)

    # Colour ---------------------------------------------------------------------------------------------------

    def coats(self, distance: Distance = "near", count: int | None = None) -> Node:
        """Colours for a distance after the first ``count`` coats (default: all): float32 (rows, columns, 3), linear
        light.

        Ground without a coat is the base's colour.
        """
        asked = _Asked(self, self._around, distance)
        node = layers_colour(weights_of([]), [self.wears(Dressing(), self.project.base.colour)], "plain")
        node = Node(node.op, node.params, node.inputs, home=self._around.stage().home)
        for coat in self.project.coats[:count]:
            if coat.shown(distance):
                node = coat.node(node, asked)
        return node

    def lies(self, coat_id: str) -> Node:
        """How strongly a coat lies at each place, before its strength, 0–1."""
        coat = self.project.coat(coat_id)
        if coat is None:
            raise NotFound(f"There is no coat with the id {coat_id!r}.", field="coat")
        return coat.lies(self.around()) or constant(1.0, self._around.stage().home)

    def around(self) -> _Asked:
        """What coats may ask, to look at one by itself."""
        return _Asked(self, self._around, "near")

    # Surface maps ---------------------------------------------------------------------------------------------

    def surface(self, which: SurfaceMap) -> Node:
        """A surface map, 0–1: float32 (rows, columns), *normal* (rows, columns, 3)."""
        told = self.project.surface
        if which == "occlusion":
            return occlusion_map(self._around.reading("occlusion"), told)
        if which == "curvature":
            return curvature_map(self._around.reading("mean_curvature"), told)
        surface = worn_surface(self.leaves(), self.worn())
        if which == "roughness":
            return roughness_map(surface)
        if which == "detail":
            return detail_map(surface, told)
        stage = self._around.stage()
        return normal_map(stage.solid, [stage.true_home.dy, stage.true_home.dx], surface, told)

    def light(self, name: MapName | str) -> tuple[Node, bool]:
        """(a colour or surface map by its name, whether it holds colours: linear light, to be coded). Raises
        :class:`NotFound` for any other."""
        name = map_name(name)
        if isinstance(name, ColourName | MiddleColourName | FarColourName):
            return self.coats(name.distance, name.coats), True
        if isinstance(name, LayersName):
            return (self.plain_colours() if name.layer is None else self.alone(name.layer)), True
        if isinstance(name, SurfaceName) and name.map in get_args(SurfaceMap):
            which: SurfaceMap = name.map  # type: ignore[assignment]
            return self.surface(which), False
        raise NotFound(f"There is no colour or surface map called {str(name)!r}.", field="name")

    def shown(self, name: MapName) -> Node:
        """The same as bytes: uint8 (rows, columns, 3), or (rows, columns) for surface maps of one part."""
        node, coded = self.light(name)
        return bytes_of(node, coded)


class _Asked:
    """What coats ask for (:class:`zigzag_meadow.core.colour.coats.base.Around`)."""

    def __init__(self, painting: Painting, graph: _Around, distance: Distance) -> None:
        self._painting = painting
        self._graph = graph
        self.distance = distance

    def stage(self) -> Stage:
        return self._graph.stage()

    def source(self, source: Source) -> Node:
        return self._graph.source(source)

    def height(self) -> Node:
        return self._graph.reading("height")

    def water(self) -> float | None:
        return self._painting.project.ground.water

    def weights(self) -> Node:
        return self._painting.leaves()

    def worn(self) -> Sequence[Worn]:
        return self._painting.worn()

    def picture(self, reading: str, sharp: bool = False) -> Node | None:
        return self._graph.pictured(reading, sharp=sharp)

    def piece(self, piece_id: str, numbers: Mapping[str, float]) -> Sequence[BaseCoat]:
        piece = self._painting.project.coat_piece(piece_id)
        if piece is None:
            raise NotFound("A coat uses a piece that is no longer there.", field="piece")
        return lines_with(piece, numbers)
