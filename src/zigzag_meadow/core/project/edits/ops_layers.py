"""Edits of layers, of how they share, of what they wear, of merges and of the layer brush."""

from __future__ import annotations

from collections.abc import Callable, Set
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from zigzag_meadow.core.errors import BadDocument, NotFound
from zigzag_meadow.core.layers.sharing import SHARINGS
from zigzag_meadow.core.looks.model import Dressing, Look
from zigzag_meadow.core.parts import Id, Name, Unit
from zigzag_meadow.core.project.edits.ops_base import Index, Op, inserted, moved, replaced, with_changes, without
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BASE, BaseLayer, HowShared, Layer, LayerStrokes, Merge, Mixing
from zigzag_meadow.core.project.model.sheets import StepSource, WeightSource
from zigzag_meadow.core.project.model.uses import words_for
from zigzag_meadow.core.srgb import hex_of, linear_of

__all__ = [
    "AddLayer",
    "AddLayers",
    "AddLook",
    "DeleteLayer",
    "DeleteLook",
    "DeleteStrokes",
    "MergeLayers",
    "MoveLayer",
    "SetBase",
    "SetLayer",
    "SetLook",
    "SetMixing",
    "SetStrokes",
    "TakeMergeApart",
]


def _layer(project: Project, layer_id: str) -> Layer:
    layer = project.layer(layer_id)
    if layer is None:
        raise NotFound("That layer is no longer there. Undo brings it back.", field="layer")
    return layer


class AddLayer(Op):
    op: Literal["add_layer"] = "add_layer"
    changes: ClassVar = ("layers",)
    layer: Layer
    at: Index | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        layers = inserted(project.layers, self.layer, self.at)
        return with_changes(project, layers=layers), f"new layer {self.layer.name}"


class AddLayers(Op):
    """Several layers at once, on top, bottom first, and how they share."""

    op: Literal["add_layers"] = "add_layers"
    changes: ClassVar = ("layers", "mixing/sharing")
    layers: Annotated[tuple[Layer, ...], Field(min_length=1, max_length=64)]
    sharing: HowShared | None = None

    def apply(self, project: Project) -> tuple[Project, str]:
        new = with_changes(project, layers=(*project.layers, *self.layers))
        if self.sharing is not None:
            new = with_changes(new, mixing=new.mixing.model_copy(update={"sharing": self.sharing}))
        many = len(self.layers)
        return new, f"new layer {self.layers[0].name}" if many == 1 else f"{many} new layers"


class SetLayer(Op):
    op: Literal["set_layer"] = "set_layer"
    replaces: ClassVar = "layers/{layer}"
    layer: Layer

    def apply(self, project: Project) -> tuple[Project, str]:
        before = _layer(project, self.layer.id)
        return with_changes(project, layers=replaced(project.layers, self.layer)), _layer_change(before, self.layer)


def _layer_change(before: Layer, after: Layer) -> str:
    if before.name != after.name:
        return f"rename to {after.name}"
    if before.muted != after.muted:
        return f"{'switch off' if after.muted else 'switch on'} {after.name}"
    if before.strength != after.strength:
        return f"{after.name} at {after.strength * 100:.0f} %"
    return f"look of {after.name}" if before.dressing != after.dressing else f"change {after.name}"


class MoveLayer(Op):
    op: Literal["move_layer"] = "move_layer"
    changes: ClassVar = ("layers",)
    layer: Id
    to: Index

    def apply(self, project: Project) -> tuple[Project, str]:
        layer = _layer(project, self.layer)
        return with_changes(project, layers=moved(project.layers, self.layer, self.to)), f"move {layer.name}"


class DeleteLayer(Op):
    """Delete a layer with its brush strokes; channels that carried its weight become empty. Of two merged layers the
    other one stays, and carries on in their channels."""

    op: Literal["delete_layer"] = "delete_layer"
    changes: ClassVar = ("layers", "merges", "strokes", "sheets", "classes")
    layer: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        layer = _layer(project, self.layer)
        merges: list[Merge] = []
        for merge in project.merges:
            left = [pair for pair in zip(merge.layers, merge.shares, strict=True) if pair[0] != self.layer]
            if len(left) == len(merge.layers):
                merges.append(merge)
            elif len(left) > 1:
                merges.append(_merge(project, merge.id, merge.name, *zip(*left, strict=True)))
            else:
                project = _carrying(project, merge.id, left[0][0])
        new = with_changes(
            _carrying(project, self.layer, None),
            layers=without(project.layers, self.layer),
            merges=tuple(merges),
            strokes=tuple(item for item in project.strokes if item.layer != self.layer),
        )
        return new, f"delete {layer.name}"


class SetBase(Op):
    op: Literal["set_base"] = "set_base"
    replaces: ClassVar = "base"
    base: BaseLayer

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, base=self.base), f"change {self.base.name}"


class SetMixing(Op):
    op: Literal["set_mixing"] = "set_mixing"
    replaces: ClassVar = "mixing"
    mixing: Mixing

    def apply(self, project: Project) -> tuple[Project, str]:
        before = project.mixing
        label = "size of all textures" if before.one_size != self.mixing.one_size else "depth of sharing"
        if before.sharing != self.mixing.sharing:
            label = f"share {SHARINGS[self.mixing.sharing].title}"
        return with_changes(project, mixing=self.mixing), label


def _carrying(project: Project, weight: str, instead: str | None) -> Project:
    """The channels that carry a weight (or its blend step) carry that of another layer, or nothing."""
    return _recarried(project, {weight}, lambda told: instead)


def _recarried(project: Project, gone: Set[str], instead: Callable[[bool], str | None]) -> Project:
    """Channels with a weight that is ``gone`` carry the one that ``instead`` says, told whether it was asked before."""
    sheets, told = [], False
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            if isinstance(source, WeightSource | StepSource) and source.layer in gone:
                layer = instead(told)
                new = None if layer is None else source.model_copy(update={"layer": layer})
                sheet, told = sheet.model_copy(update={channel: new}), True
        sheets.append(sheet)
    return with_changes(project, sheets=tuple(sheets))


def _merge(project: Project, merge_id: str, name: str, layers: tuple[str, ...], shares: tuple[float, ...]) -> Merge:
    """Layers merged, in the colour that they have together."""
    total = sum(shares)
    whole = tuple(s / total for s in shares) if total > 0 else tuple(1 / len(shares) for _ in shares)
    colours = np.array([linear_of(_layer(project, item).colour) for item in layers])
    return Merge(id=merge_id, name=name, layers=layers, shares=whole, colour=hex_of(np.array(whole) @ colours))


class MergeLayers(Op):
    """Layers that count as one from now on; ``shares``: which part of the ground each covers. Channels that carried
    the weight of one of them carry that of all of them, once."""

    op: Literal["merge_layers"] = "merge_layers"
    changes: ClassVar = ("merges", "sheets")
    reads: ClassVar = ("layers",)
    id: Id
    name: Name
    layers: Annotated[tuple[Id, ...], Field(min_length=2, max_length=64)]
    shares: Annotated[tuple[Unit, ...], Field(min_length=2, max_length=64)]

    def apply(self, project: Project) -> tuple[Project, str]:
        if len(self.layers) != len(self.shares):
            raise BadDocument(f"{len(self.layers)} layers need as many shares, got {len(self.shares)}.", field="shares")
        merge = _merge(project, self.id, self.name, self.layers, self.shares)
        sheets = _recarried(project, set(self.layers), lambda told: None if told else self.id)
        return with_changes(sheets, merges=(*project.merges, merge)), f"merge into {self.name}"


class TakeMergeApart(Op):
    """Merged layers count one by one again; a channel that carried them carries the first of them."""

    op: Literal["take_merge_apart"] = "take_merge_apart"
    changes: ClassVar = ("merges", "sheets", "classes")
    merge: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        merge = next((item for item in project.merges if item.id == self.merge), None)
        if merge is None:
            raise NotFound("Those layers are not merged any more.", field="merge")
        left = _carrying(project, merge.id, merge.layers[0])
        return with_changes(left, merges=without(project.merges, self.merge)), f"part {merge.name}"


class SetStrokes(Op):
    """Brush strokes on one layer or the base; without any they go."""

    op: Literal["set_strokes"] = "set_strokes"
    replaces: ClassVar = "strokes/{strokes}"
    strokes: LayerStrokes

    def apply(self, project: Project) -> tuple[Project, str]:
        item = self.strokes
        name = project.base.name if item.layer == BASE else _layer(project, item.layer).name
        before = next((one for one in project.strokes if one.id == item.id), None)
        if before is None:
            return with_changes(project, strokes=(*project.strokes, item)), f"brush {name}"
        label = f"brush {name}" if item.count > before.count else f"take back strokes on {name}"
        if item.asset == before.asset:
            label = f"change the strokes on {name}"
        return with_changes(project, strokes=replaced(project.strokes, item)), label


class DeleteStrokes(Op):
    op: Literal["delete_strokes"] = "delete_strokes"
    changes: ClassVar = ("strokes",)
    strokes: Id

    def apply(self, project: Project) -> tuple[Project, str]:
        if all(item.id != self.strokes for item in project.strokes):
            raise NotFound("Those strokes are no longer there.", field="strokes")
        return with_changes(project, strokes=without(project.strokes, self.strokes)), "take strokes away"


class AddLook(Op):
    op: Literal["add_look"] = "add_look"
    changes: ClassVar = ("looks",)
    look: Look

    def apply(self, project: Project) -> tuple[Project, str]:
        return with_changes(project, looks=(*project.looks, self.look)), f"new look {self.look.name}"


class SetLook(Op):
    op: Literal["set_look"] = "set_look"
    replaces: ClassVar = "looks/{look}"
    look: Look

    def apply(self, project: Project) -> tuple[Project, str]:
        if project.look(self.look.id) is None:
            raise NotFound("That look is no longer there. Undo brings it back.", field="look")
        return with_changes(project, looks=replaced(project.looks, self.look)), f"change the look {self.look.name}"


class DeleteLook(Op):
    """Delete a look that nobody wears, or with ``take_off`` from everybody who does."""

    op: Literal["delete_look"] = "delete_look"
    changes: ClassVar = ("looks", "layers", "base")
    look: Id
    take_off: bool = False

    def apply(self, project: Project) -> tuple[Project, str]:
        look = project.look(self.look)
        if look is None:
            raise NotFound("That look is no longer there.", field="look")
        used = words_for(project, f"look:{look.id}")
        if used and not self.take_off:
            raise BadDocument(f"{look.name} is worn by {', '.join(used)}.", field="look")
        project = _dressed(project, lambda dressing: _without_look(dressing, look.id))
        return with_changes(project, looks=without(project.looks, look.id)), f"delete the look {look.name}"


def _without_look(dressing: Dressing, gone: str) -> Dressing:
    parts = {"look": dressing.look, "middle": dressing.middle}
    return dressing.model_copy(update={name: None for name, look in parts.items() if look == gone})


def _dressed(project: Project, change: Callable[[Dressing], Dressing]) -> Project:
    layers = tuple(item.model_copy(update={"dressing": change(item.dressing)}) for item in project.layers)
    base = project.base.model_copy(update={"dressing": change(project.base.dressing)})
    return with_changes(project, layers=layers, base=base)
