"""From a document to a graph of operations whose keys are made of content alone.

A node's key is the hash of operation, version, numbers and input keys: never a name or an id. Two masks that do
the same thing are the same node.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any

from zigzag_meadow.core.colour.whole import bytes_of
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.packed import Packing
from zigzag_meadow.core.evaluate.painted import Painting
from zigzag_meadow.core.evaluate.recipe_nodes import Recipes
from zigzag_meadow.core.evaluate.stages import first_stage, next_stage
from zigzag_meadow.core.evaluate.unchanged import unchanged_masks
from zigzag_meadow.core.grid import Grid, whole_ground_grid
from zigzag_meadow.core.ground.finding_maps import finding_map
from zigzag_meadow.core.ground.left import carried, left_by, left_how, run_of, settled
from zigzag_meadow.core.layers.classed import classed, opened
from zigzag_meadow.core.layers.weights import counted
from zigzag_meadow.core.map_name import (
    BandName,
    ChannelName,
    ClassesName,
    CoatName,
    ColourName,
    CountName,
    FarColourName,
    FinalName,
    FindingName,
    HolesName,
    LayersName,
    MapName,
    MaskName,
    MiddleColourName,
    MixedName,
    PictureName,
    PreparedName,
    ReadingName,
    ScatterName,
    SheetName,
    StrengthName,
    StrongestName,
    SumsName,
    SurfaceName,
    WeightName,
    WhereName,
    map_name,
    reading_of,
)
from zigzag_meadow.core.masks.draft_final import final_difference
from zigzag_meadow.core.masks.lines.combining import combined
from zigzag_meadow.core.masks.lines.threshold import Threshold
from zigzag_meadow.core.masks.lines.widen import Widen
from zigzag_meadow.core.masks.sources import Band, FeatureUse, Source, constant
from zigzag_meadow.core.nodes.ground_nodes import VOID, Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.features import Clear
from zigzag_meadow.core.project.model.ground import turning_back
from zigzag_meadow.core.project.model.left import Leaving
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.sheets import (
    Channel,
)
from zigzag_meadow.core.project.model.steps import Step
from zigzag_meadow.core.readings.asked import Asked
from zigzag_meadow.core.readings.colours import coloured, to_look_at
from zigzag_meadow.core.readings.declare import Reading

__all__ = ["Graph"]


class Graph:
    """Nodes of every map of one document, made as they are asked for.

    ``draft``: the same maps measured on a much smaller ground, for a first picture: samples on its longer side, or 0.
    ``before``: the graph of a document that this one was made of by an edit: masks whose every part is shared with it
    are the nodes that they were.
    """

    def __init__(self, project: Project, draft: int = 0, before: Graph | None = None) -> None:
        self.project = project
        self.draft = draft
        self.recipes = Recipes(self)
        if before is not None and before.draft == draft:
            self.recipes.keep(before.recipes, unchanged_masks(before.project, project))
        self.painting = Painting(self)
        self.packing = Packing(self)
        self.measured: dict[str, Reading] = {}
        """Declarations of the readings that were asked for, by the keys of their nodes."""
        self._stages: dict[int, Stage] = {}
        self._readings: dict[tuple[str, int, bool], Node] = {}
        self._recipes: dict[int, Recipes] = {}

    def stage(self, steps: int | None = None) -> Stage:
        """The ground after its first ``steps`` steps of preparation (default: all)."""
        count = len(self.project.ground.steps) if steps is None else steps
        if count not in self._stages:
            if count == 0:
                self._stages[0] = first_stage(self.project, self.draft)
            else:
                step = self.project.ground.steps[count - 1]
                base = self.project.ground.base
                before = self.stage(count - 1)
                self._stages[count] = next_stage(before, step, self.draft, base, lambda: self._where(step, before))
        return self._stages[count]

    def _where(self, step: Step, before: Stage) -> Node | None:
        """Where a step acts: its recipe on the ground before it."""
        return None if not step.where else self.recipes_on(before).limit(step.where)

    def acts(self, step: int) -> Node:
        """Where the step with this number, from 0, acts, on the ground before it. Raises :class:`NotFound`."""
        before = self.after_steps(step)
        if before.steps == len(self.project.ground.steps):
            raise NotFound(f"The ground has {before.steps} steps of preparation.", field="name")
        limit = self._where(self.project.ground.steps[before.steps], before)
        return constant(1.0, before.home) if limit is None else limit

    def recipes_on(self, stage: Stage) -> Recipes:
        """Recipes over the ground at one point of its preparation."""
        if stage.steps not in self._recipes:
            back = turning_back(self.project.ground, stage.steps)
            self._recipes[stage.steps] = Recipes(self, stage, back)
        return self._recipes[stage.steps]

    def height(self) -> Node:
        return self.reading("height")

    def reading(self, reading_id: str, stage: Stage | None = None, lifted: bool = True) -> Node:
        """A reading by its id, on the prepared ground or on ``stage``. ``lifted`` false: heights above the base."""
        here = stage or self.stage()
        place = (reading_id, here.steps, lifted)
        if place not in self._readings:
            self._readings[place] = self._reading(reading_id, here, lifted)
        return self._readings[place]

    def _reading(self, reading_id: str, here: Stage, lifted: bool) -> Node:
        resolved = resolve(self.project, reading_id, here.true_home)
        asked = Asked(
            stage=here,
            params=resolved.kind.params,
            numbers=resolved.numbers,
            given=resolved.given,
            water=self.project.ground.water,
            base=self.project.ground.base if lifted else 0.0,
            other=lambda other: self.reading(other, here),
            named=lambda name: self._named_on(name, here),
            pictured=lambda other: self.pictured(other, here),
            outer=self.project.ground.outer,
        )
        node = resolved.kind.build(asked) if resolved.left is None else self._left(resolved.left, here)
        node = Node(VOID, {}, (node, here.ground)) if here.has_voids else node
        self.measured[node.key] = resolved.kind
        return node

    def pictured(
        self, reading_id: str, stage: Stage | None = None, otherwise: bool = False, sharp: bool = False
    ) -> Node | None:
        """The colours of the picture that a reading lays; None where it lays none. ``otherwise``: taken as cells where
        it is taken to reach to the border, and the other way round; ``sharp``: enlarged sharply."""
        here = stage or self.stage()
        if not reading_id:
            return None
        numbers = dict(resolve(self.project, reading_id, here.true_home).numbers)
        if not numbers.get("asset"):
            return None
        if otherwise:
            numbers["samples"] = "border" if numbers["samples"] == "cells" else "cells"
        return coloured(here.solid, numbers, here.home, self.project.ground.outer, sharp)

    def shown_picture(self, reading_id: str, otherwise: bool) -> Node:
        """:meth:`pictured`, to be looked at. Raises :class:`NotFound` where there is none."""
        colours = self.pictured(reading_id, otherwise=otherwise)
        if colours is None:
            raise NotFound("That reading lays no picture.", field="name")
        return to_look_at(colours)

    def _named_on(self, text: str, here: Stage) -> Node:
        """A mask or a reading by its name, on the ground at hand."""
        name = map_name(text)
        if here.steps == len(self.project.ground.steps):
            return self.named(name)
        return (
            self.recipes_on(here).mask(name.mask)
            if isinstance(name, MaskName)
            else self.reading(reading_of(name) or "", here)
        )

    def _left(self, leaving: Leaving, here: Stage) -> Node:
        """What a step of preparation left, as it lies on the ground ``here``. Raises :class:`NotFound` on ground before
        that step."""
        steps, step, left = self.project.ground.steps, leaving.step, leaving.left
        if here.steps <= leaving.index:
            raise NotFound(f"{leaving.title} is not there before step {leaving.index + 1}.", field="reading")
        home = self.stage(leaving.index).home
        if step.muted:
            nothing = home.dy * home.dx * 0.1 if left.like.scale == "log" else 0.0
            return constant(nothing, here.home)
        before = self.stage(leaving.index)
        run = run_of(step, before, self.project.ground.base)
        made = left_by(run, step, left, self._where(step, before), before, self.stage(leaving.index + 1))
        for at in range(leaving.index + 1, here.steps):
            made = carried(made, steps[at], self.stage(at), self.stage(at + 1), left_how(left))
        return settled(made, here.home)

    def after_steps(self, steps: int) -> Stage:
        """The stage after so many steps of preparation. Raises :class:`NotFound` where there are not so many."""
        most = len(self.project.ground.steps)
        if steps > most:
            raise NotFound(f"The ground has {most} steps of preparation, not {steps}.", field="name")
        return self.stage(steps)

    def home_of(self, name: MapName | str) -> Grid:
        """The home grid that a map belongs to: of an earlier stage of the ground, where its name says so."""
        name = map_name(name)
        if isinstance(name, PreparedName):
            return self.after_steps(name.steps).true_home
        return self.after_steps(name.step).true_home if isinstance(name, WhereName) else self.stage().true_home

    def finding(self, code: str) -> Node:
        """Where a finding is, 0 or 1, on the prepared ground."""
        return finding_map(code, self.stage().ground)

    def mask(self, mask_id: str, lines: int | None = None) -> Node:
        """The mask of a recipe, or what it is after its first ``lines`` lines."""
        return self.recipes.mask(mask_id, lines)

    def counted(self, mask_ids: Sequence[str]) -> Node:
        """How many of some masks are strong (above 0.5) at each sample."""
        return counted([self.mask(mask_id) for mask_id in mask_ids])

    def scattered(self, scatter_id: str) -> Node:
        """How densely something is scattered, 0–1: its mask, without what keeps it out and where it is too steep."""
        scatter = self.project.scatter(scatter_id)
        if scatter is None:
            raise NotFound(f"Nothing scattered has the id {scatter_id!r}.", field="scatter")
        node = self.recipes.constant(1.0) if scatter.mask is None else self.mask(scatter.mask)
        for other in scatter.keep_out:
            node = combined("leave_out", 1.0, node, self.mask(other))
        for clear in scatter.clear:
            node = combined("leave_out", 1.0, node, self._beside(clear))
        if scatter.steepest < 90:
            limit = Band(reading="slope", low=0, high=scatter.steepest)
            node = combined("keep_within", 1.0, node, self.recipes.source(limit))
        return node

    def _beside(self, clear: Clear) -> Node:
        """Where something is so near that nothing is scattered: a sample further, as density is read between
        samples."""
        grid = whole_ground_grid(self.stage().home)
        near = clear.distance + math.hypot(grid.dy, grid.dx)
        if clear.of == "mask":
            within = Threshold(id="at", at=0.5, softness=0.01).node(self.mask(clear.id), self.recipes)
            return Widen(id="by", by=near, fade=0.0).node(within, self.recipes)
        feature = self.project.feature(clear.id)
        wide = near if feature is not None and feature.closed else 2 * near
        return self.recipes.source(FeatureUse(feature=clear.id, width=wide, fade=0.0))

    def classes(self) -> Node:
        """Numbers of classes of the ground: uint8. Raises :class:`NotFound` where there are none."""
        told = self.project.classes.classes
        if not told:
            raise NotFound("No classes of the ground are made yet.", field="name")
        numbers = {item.of: item.number for item in told if item.of.startswith("layer:")}
        # What is merged is what any of its layers is.
        table = [
            next((numbers[f"layer:{i}"] for i in (o.id, *o.members) if f"layer:{i}" in numbers), 0)
            for o in self.project.outcomes
        ]
        masks = [(c.number, self.mask(c.of.removeprefix("mask:"))) for c in told if c.of.startswith("mask:")]
        return classed(self.painting.strongest(), table, masks)

    def holes(self) -> Node:
        """1 where the ground is open. Raises :class:`NotFound` where no mask says so."""
        if self.project.classes.holes is None:
            raise NotFound("No mask says where the ground is open.", field="name")
        return opened(self.mask(self.project.classes.holes))

    def source(self, source: Source) -> Node:
        """What a line, a layer or a coat reads, 0–1."""
        return self.recipes.source(source)

    def weights(self) -> Node:
        """The stack of all weights, base first, merged layers as one."""
        return self.painting.outcomes()

    def weight(self, layer_id: str) -> Node:
        return self.painting.weight(layer_id)

    def sheet(self, sheet_id: str) -> Node:
        return self.packing.sheet(sheet_id)

    def channel(self, sheet_id: str, channel: Channel) -> Node:
        return self.packing.channel(sheet_id, channel)

    def cut_band(self, mask_id: str, band: int) -> Node:
        """One band, from 0, of a mask that is cut into bands."""
        return self.recipes.band(mask_id, band)

    def named(self, name: MapName | str) -> Node:
        """The node of a map by its name. Raises :class:`NotFound` for what is not there, or is no map of the ground."""
        name = map_name(name)
        make = _MAKERS.get(type(name))
        if make is None:
            raise NotFound(f"{name} is made for files alone: there is no such map to look at.", field="name")
        return make(self, name)


_MAKERS: dict[type, Callable[[Graph, Any], Node]] = {
    ReadingName: lambda graph, name: graph.reading(name.reading),
    PreparedName: lambda graph, name: graph.reading(name.reading, graph.after_steps(name.steps)),
    WhereName: lambda graph, name: graph.acts(name.step),
    PictureName: lambda graph, name: graph.shown_picture(name.reading, name.otherwise is True),
    FindingName: lambda graph, name: graph.finding(name.code),
    MaskName: lambda graph, name: graph.mask(name.mask, name.lines),
    BandName: lambda graph, name: graph.cut_band(name.mask, name.band),
    CountName: lambda graph, name: graph.counted(name.masks),
    ScatterName: lambda graph, name: graph.scattered(name.scatter),
    FinalName: lambda graph, name: final_difference(graph.mask(name.mask), graph.project.final),
    WeightName: lambda graph, name: graph.weight(name.layer),
    StrengthName: lambda graph, name: graph.painting.strength(name.layer),
    ClassesName: lambda graph, name: graph.classes(),
    HolesName: lambda graph, name: graph.holes(),
    StrongestName: lambda graph, name: graph.painting.strongest(),
    LayersName: lambda graph, name: graph.painting.shown(name),
    ColourName: lambda graph, name: graph.painting.shown(name),
    MiddleColourName: lambda graph, name: graph.painting.shown(name),
    FarColourName: lambda graph, name: graph.painting.shown(name),
    SurfaceName: lambda graph, name: graph.painting.shown(name),
    CoatName: lambda graph, name: graph.painting.lies(name.coat),
    SheetName: lambda graph, name: graph.sheet(name.sheet),
    ChannelName: lambda graph, name: graph.channel(name.sheet, name.channel),
    SumsName: lambda graph, name: graph.packing.sums(),
    MixedName: lambda graph, name: bytes_of(graph.packing.mixed(name.how), coded=True),
}
"""How every map of the ground is made, by the class of its name."""
