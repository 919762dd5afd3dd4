"""What becomes of the places where a mask is used when the mask goes: emptied, or another mask put there.

One function for each kind of user, as its uses are one generator in ``uses``: it gets the project, the mask that goes
and the mask that comes instead or None, and returns the project without uses of its own.
"""

from __future__ import annotations

from collections.abc import Callable

from zigzag_meadow.core.errors import BadDocument
from zigzag_meadow.core.masks.sources import MaskUse, Plain, Source
from zigzag_meadow.core.project.edits.ops_base import sheets_with, with_changes
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.painting import Coat
from zigzag_meadow.core.project.model.recipe import Line
from zigzag_meadow.core.project.model.sheets import BandSource, MaskSource

__all__ = ["with_mask_taken_out"]


def _lines(lines: tuple[Line, ...], gone: str, to: str | None) -> tuple[Line, ...]:
    """Lines that read ``to`` instead of ``gone``; without it those that cannot do without a source go."""
    kept: list[Line] = []
    for line in lines:
        instead = None if to is None else MaskUse(mask=to)
        reads = [name for name, source in line.sources() if isinstance(source, MaskUse) and source.mask == gone]
        if to is None and reads and line.needs_source:
            continue
        kept.append(line.changed(**dict.fromkeys(reads, instead)))
    return tuple(kept)


def _of_recipes(project: Project, gone: str, to: str | None) -> Project:
    masks = tuple(m.model_copy(update={"lines": _lines(m.lines, gone, to)}) for m in project.masks)
    pieces = tuple(p.model_copy(update={"lines": _lines(p.lines, gone, to)}) for p in project.pieces)
    empty = next((p for p in pieces if not p.lines), None)
    if empty is not None:
        raise BadDocument(f"The piece {empty.name} would have no lines left. Delete or change it first.", field="mask")
    return with_changes(project, masks=masks, pieces=pieces)


def _of_layers(project: Project, gone: str, to: str | None) -> Project:
    layers = (
        layer.model_copy(update={"mask": to, "band": None}) if layer.mask == gone else layer for layer in project.layers
    )
    instead = None if to is None else MaskUse(mask=to)
    strokes = (
        item.model_copy(update={"only": instead}) if _reads(item.only, gone) else item for item in project.strokes
    )
    return with_changes(project, layers=tuple(layers), strokes=tuple(strokes))


def _reads(source: Source | None, gone: str) -> bool:
    return isinstance(source, MaskUse) and source.mask == gone


def _coats(coats: tuple[Coat, ...], gone: str, to: str | None) -> tuple[Coat, ...]:
    """Coats that read ``to`` instead of ``gone``; without it they lie nowhere where they cannot do without."""
    made = []
    for coat in coats:
        reads = [name for name, source in coat.sources() if _reads(source, gone)]
        optional = {name for name in reads if type(coat).model_fields[name].default is None}
        empty = {name: None if name in optional else Plain(value=0.0) for name in reads}
        made.append(coat.changed(**(empty if to is None else dict.fromkeys(reads, MaskUse(mask=to)))))
    return tuple(made)


def _of_coats(project: Project, gone: str, to: str | None) -> Project:
    pieces = tuple(p.model_copy(update={"coats": _coats(p.coats, gone, to)}) for p in project.coat_pieces)
    return with_changes(project, coats=_coats(project.coats, gone, to), coat_pieces=pieces)


def _of_sheets(project: Project, gone: str, to: str | None) -> Project:
    """Channels that carried it; one that carried a band carries the whole of another mask, which may have none."""
    instead = None if to is None else MaskSource(mask=to)
    sheets = sheets_with(project, lambda s: isinstance(s, MaskSource | BandSource) and s.mask == gone, instead)
    return with_changes(project, sheets=sheets)


def _of_delivery(project: Project, gone: str, to: str | None) -> Project:
    """A file of its own goes with its mask."""
    kept = tuple(x for x in project.delivery.items if x.of != f"mask:{gone}" and not x.of.startswith(f"band:{gone}:"))
    return with_changes(project, delivery=project.delivery.model_copy(update={"items": kept}))


def _of_scatters(project: Project, gone: str, to: str | None) -> Project:
    name, new = f"mask:{gone}", "" if to is None else f"mask:{to}"
    scatters = (
        item.model_copy(
            update={
                "mask": to if item.mask == gone else item.mask,
                "keep_out": tuple(dict.fromkeys(m if m != gone else to for m in item.keep_out if m != gone or to)),
                "clear": tuple(
                    clear if not (clear.of == "mask" and clear.id == gone) else clear.model_copy(update={"id": to})
                    for clear in item.clear
                    if to or not (clear.of == "mask" and clear.id == gone)
                ),
                "size_by": new if item.size_by == name else item.size_by,
            }
        )
        for item in project.scatters
    )
    return with_changes(project, scatters=tuple(scatters))


def _of_readings(project: Project, gone: str, to: str | None) -> Project:
    name, new = f"mask:{gone}", "" if to is None else f"mask:{to}"
    readings = (
        setting.model_copy(update={"numbers": {k: new if v == name else v for k, v in setting.numbers.items()}})
        for setting in project.readings
    )
    return with_changes(project, readings=tuple(readings))


def _of_steps(project: Project, gone: str, to: str | None) -> Project:
    steps = tuple(step.model_copy(update={"where": _lines(step.where, gone, to)}) for step in project.ground.steps)
    return with_changes(project, ground=project.ground.model_copy(update={"steps": steps}))


def _of_classes(project: Project, gone: str, to: str | None) -> Project:
    """A class of it goes, or comes to be of another that has none; there is no hole any more."""
    old = project.classes
    instead = None if to is None or any(item.of == f"mask:{to}" for item in old.classes) else f"mask:{to}"
    kept = tuple(
        item if item.of != f"mask:{gone}" else item.model_copy(update={"of": instead})
        for item in old.classes
        if item.of != f"mask:{gone}" or instead is not None
    )
    holes = to if old.holes == gone else old.holes
    return with_changes(project, classes=old.model_copy(update={"classes": kept, "holes": holes}))


TAKERS: list[Callable[[Project, str, str | None], Project]] = [
    _of_recipes,
    _of_layers,
    _of_coats,
    _of_sheets,
    _of_scatters,
    _of_readings,
    _of_steps,
    _of_classes,
    _of_delivery,
]


def with_mask_taken_out(project: Project, gone: str, to: str | None) -> Project:
    """The project with nothing of its own using the mask ``gone``, ``to`` (an id) in its places where one is given.

    Raises ``BadDocument`` where something cannot do without it: a piece that would have no lines left.
    """
    for taker in TAKERS:
        project = taker(project, gone, to)
    return project
