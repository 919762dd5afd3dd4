"""Layers, coats and sheets of a kit: taken out of a project, and put into another one under new ids."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Set
from dataclasses import dataclass
from typing import Any

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.looks.model import Dressing
from zigzag_meadow.core.masks.sources import Band, FeatureUse, MaskUse, ReadingUse, Source
from zigzag_meadow.core.parts import Part
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import BaseLayer, Coat, CoatPiece, Layer, Merge, Mixing
from zigzag_meadow.core.project.model.sheets import (
    BandSource,
    ChannelSource,
    MaskSource,
    PaintedSource,
    ReadingSource,
    ScatterSource,
    Sheet,
    StepSource,
    WeightSource,
)
from zigzag_meadow.core.project.travel.layer_proposals import free_name

__all__ = ["KitPainting", "Wanted", "coats_with", "painting_into", "painting_out"]


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which parts of the painting go into a kit."""

    layers: bool = False
    coats: bool = False
    sheets: bool = False


class KitPainting(Part):
    """The painting of a kit; ids are those of the project that it was taken out of."""

    base: BaseLayer | None = None
    layers: tuple[Layer, ...] = ()
    mixing: Mixing | None = None
    merges: tuple[Merge, ...] = ()
    coats: tuple[Coat, ...] = ()
    coat_pieces: tuple[CoatPiece, ...] = ()
    sheets: tuple[Sheet, ...] = ()

    @property
    def sources(self) -> list[Source]:
        """Everything that its coats read."""
        every = [*self.coats, *(coat for piece in self.coat_pieces for coat in piece.coats)]
        return [source for coat in every for _, source in coat.sources()]

    @property
    def masks(self) -> list[str]:
        """Masks that it needs."""
        used = [layer.mask for layer in self.layers if layer.mask is not None]
        used += [source.mask for source in self.sources if isinstance(source, MaskUse)]
        used += [source.mask for source in self._channels() if isinstance(source, MaskSource | BandSource)]
        return list(dict.fromkeys(used))

    @property
    def readings(self) -> list[str]:
        """Readings that it needs."""
        used = [source.reading for source in self.sources if isinstance(source, Band | ReadingUse)]
        used += [source.reading for source in self._channels() if isinstance(source, ReadingSource)]
        return list(dict.fromkeys(used))

    def _channels(self) -> Iterable[ChannelSource]:
        for sheet in self.sheets:
            for channel in sheet.channels:
                source = sheet.source(channel)
                if source is not None:
                    yield source


def painting_out(project: Project, wanted: Wanted) -> tuple[KitPainting, list[str]]:
    """(the wanted parts without what belongs to one ground, what stays behind in sentences).

    Brush strokes, textures that were brought in, pictures and drawn lines stay.
    """
    left: list[str] = []
    own = {look.id: look.name for look in project.looks}

    def bare(dressing: Dressing, name: str) -> Dressing:
        worn = {"look": dressing.look, "middle": dressing.middle}
        gone = {part: None for part, look in worn.items() if look in own}
        if gone:
            left.append(f"{name}: the texture that was brought in.")
        return dressing.model_copy(update=gone)

    filed = {setting.id for setting in project.readings if setting.numbers.get("asset")}
    parts: dict[str, Any] = {}
    if wanted.layers:
        base = project.base
        parts["base"] = base.model_copy(update={"dressing": bare(base.dressing, base.name)})
        parts["layers"] = tuple(x.model_copy(update={"dressing": bare(x.dressing, x.name)}) for x in project.layers)
        parts |= {"mixing": project.mixing, "merges": project.merges}
        if project.strokes:
            left.append("The strokes of the layer brush.")
    if wanted.coats:
        coats = tuple(coat for coat in project.coats if _movable(coat, filed))
        if len(coats) < len(project.coats):
            left.append(f"{len(project.coats) - len(coats)} coats that lay a picture or read a drawn line.")
        used = {coat.piece_id for coat in coats}
        pieces = tuple(p for p in project.coat_pieces if p.id in used and all(_movable(c, filed) for c in p.coats))
        kept = {piece.id for piece in pieces} | {None}
        parts |= {"coats": tuple(c for c in coats if c.piece_id in kept), "coat_pieces": pieces}
    if wanted.sheets:
        parts["sheets"] = tuple(_sheet_out(sheet, wanted, filed) for sheet in project.sheets)
    return KitPainting(**parts), left


def _movable(coat: Coat, filed: Set[str]) -> bool:
    """Whether a coat reads nothing that was drawn on this ground or brought in for it."""

    def stays(source: Source) -> bool:
        return isinstance(source, FeatureUse) or (isinstance(source, Band | ReadingUse) and source.reading in filed)

    return coat.picture_id is None and not any(stays(source) for _, source in coat.sources())


def _sheet_out(sheet: Sheet, wanted: Wanted, filed: Set[str]) -> Sheet:
    def keeps(source: ChannelSource | None) -> bool:
        if isinstance(source, WeightSource | StepSource):
            return wanted.layers
        if isinstance(source, ReadingSource):
            return source.reading not in filed
        return not isinstance(source, ScatterSource) and (wanted.coats or not isinstance(source, PaintedSource))

    sources = {channel: sheet.source(channel) for channel in sheet.channels}
    return sheet.model_copy(update={channel: s if keeps(s) else None for channel, s in sources.items()})


def coats_with(coats: tuple[Coat, ...], change: Callable[[Source], Source]) -> tuple[Coat, ...]:
    """Coats whose sources are changed."""
    return tuple(coat.changed(**{name: change(source) for name, source in coat.sources()}) for coat in coats)


def painting_into(
    project: Project, kit: KitPainting, ids: Mapping[str, str], prefix: str, change: Callable[[Source], Source]
) -> dict[str, Any]:
    """The fields of ``project`` with the painting of a kit put in on top.

    ``ids``: new ids of the kit's readings and, as ``mask:ID``, of its masks; ``change``: sources with those ids. The
    base and how layers share come along where the project has no layers of its own.
    """
    layer_ids = {layer.id: f"{prefix}-layer{n}" for n, layer in enumerate(kit.layers)}
    layer_ids |= {merge.id: f"{prefix}-merge{n}" for n, merge in enumerate(kit.merges)}
    piece_ids = {piece.id: f"{prefix}-coats{n}" for n, piece in enumerate(kit.coat_pieces)}
    alone = not project.layers and kit.base is not None
    base = kit.base if alone and kit.base is not None else project.base
    taken = [base.name, *(x.name for x in project.layers), *(x.name for x in project.merges)]
    piece_names = [piece.name for piece in project.coat_pieces]
    sheet_names = [sheet.name for sheet in project.sheets]

    def named(name: str, taken: list[str] = taken) -> str:
        taken.append(free_name(name, taken))
        return taken[-1]

    layers = tuple(
        layer.model_copy(
            update={
                "id": layer_ids[layer.id],
                "name": named(layer.name),
                "mask": ids.get(f"mask:{layer.mask}"),
                "band": layer.band if f"mask:{layer.mask}" in ids else None,
            }
        )
        for layer in kit.layers
    )
    merges = tuple(
        merge.model_copy(
            update={
                "id": layer_ids[merge.id],
                "name": named(merge.name),
                "layers": tuple(layer_ids[x] for x in merge.layers),
            }
        )
        for merge in kit.merges
    )
    pieces = tuple(
        piece.model_copy(
            update={
                "id": piece_ids[piece.id],
                "name": named(piece.name, piece_names),
                "coats": coats_with(piece.coats, change),
            }
        )
        for piece in kit.coat_pieces
    )
    coats = tuple(
        coat.changed(
            id=f"{prefix}-coat{n}", **({} if coat.piece_id is None else {"piece": piece_ids.get(coat.piece_id)})
        )
        for n, coat in enumerate(coats_with(kit.coats, change))
    )
    sheets = [
        _sheet_in(sheet, f"{prefix}-sheet{n}", named(sheet.name, sheet_names), layer_ids, ids)
        for n, sheet in enumerate(kit.sheets)
    ]
    return {
        "base": base,
        "layers": (*project.layers, *layers),
        "merges": (*project.merges, *merges),
        "mixing": kit.mixing if alone and kit.mixing is not None else project.mixing,
        "coats": (*project.coats, *coats),
        "coat_pieces": (*project.coat_pieces, *pieces),
        "sheets": (*project.sheets, *sheets),
    }


def _sheet_in(sheet: Sheet, new: str, name: str, layers: Mapping[str, str], ids: Mapping[str, str]) -> Sheet:
    def moved(source: ChannelSource | None) -> ChannelSource | None:
        if isinstance(source, WeightSource | StepSource):
            if source.layer not in layers:
                raise BadDocument("The kit is not whole: a sheet carries a layer that is not in it.", field="kit")
            return source.model_copy(update={"layer": layers[source.layer]})
        if isinstance(source, MaskSource | BandSource):
            if f"mask:{source.mask}" not in ids:
                raise BadDocument("The kit is not whole: a sheet carries a mask that is not in it.", field="kit")
            return source.model_copy(update={"mask": ids[f"mask:{source.mask}"]})
        if isinstance(source, ReadingSource):
            return source.model_copy(update={"reading": ids.get(source.reading, source.reading)})
        return source

    changes: dict[str, ChannelSource | None] = {channel: moved(sheet.source(channel)) for channel in sheet.channels}
    return sheet.model_copy(update={"id": new, "name": name, **changes})
