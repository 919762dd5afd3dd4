"""What an artist should know before delivering, and what changing the target changes."""

from __future__ import annotations

from dataclasses import dataclass

from zigzag_meadow.core.delivery.beyond import storable
from zigzag_meadow.core.delivery.plan import Plan, make_plan
from zigzag_meadow.core.errors import BadDocument, BadNumber, IllegalSize, MeadowError, WrongFormat
from zigzag_meadow.core.evaluate.coarser import coarser_words
from zigzag_meadow.core.evaluate.graph import Graph
from zigzag_meadow.core.project.edits.operations import apply_operations
from zigzag_meadow.core.project.edits.ops_delivery import ChooseTarget
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.items import deliverables, delivered, map_of
from zigzag_meadow.core.project.model.painting import BASE
from zigzag_meadow.core.project.model.propose import carries_weights
from zigzag_meadow.core.project.model.uses import uses

__all__ = ["Caution", "cautions", "target_change"]


CUT_OFF = "heights cut off"


@dataclass(frozen=True, slots=True)
class Caution:
    """Something that does not stop a delivery but should be known before; ``short`` says it in two or three words."""

    waypoint: str
    message: str
    short: str


_SHORT: dict[type[MeadowError], str] = {
    IllegalSize: "size not legal",
    BadDocument: "gaps to fill",
    BadNumber: "file names to mend",
    WrongFormat: "format not taken",
}
"""What a refused plan is called in short, by its cause."""


def cautions(project: Project) -> list[Caution]:
    """Empty and doubled channels, weights that nobody packed, too many layers, maps that are missing or end nowhere,
    and why the delivery cannot run, if it cannot."""
    told = [*_channels(project), *_weights(project), *_maps(project)]
    try:
        plan = make_plan(project)
    except MeadowError as error:
        told.append(Caution("delivery", error.message, _SHORT.get(type(error), "cannot run yet")))
    else:
        told += _files(plan)
    return told


def _channels(project: Project) -> list[Caution]:
    told = []
    carried: dict[str, str] = {}
    for sheet in project.sheets:
        for channel in sheet.channels:
            source = sheet.source(channel)
            place = f"{channel.upper()} of {sheet.name}"
            if source is None:
                text = f"Channel {place} is empty: whoever reads it finds black."
                told.append(Caution("packing", text, "empty channels"))
                continue
            key = source.model_dump_json()
            if key in carried and source.kind not in ("rest", "constant"):
                text = f"Channel {place} carries the same as {carried[key]}."
                told.append(Caution("packing", text, "doubled channels"))
            carried.setdefault(key, place)
    return told


def _weights(project: Project) -> list[Caution]:
    told: list[Caution] = []
    chosen = project.target
    packed: set[str] = set()
    for sheet in project.sheets:
        for source in (sheet.source(channel) for channel in sheet.channels):
            if source is not None and source.kind in ("weight", "step"):
                packed.add(source.layer)
            elif source is not None and source.kind in ("base", "rest"):
                packed.add(BASE)
    classes = chosen.sheets.kind == "classes"
    # Who packs no weights, is asked for none and delivers the colour wants the colour.
    colour = any(item.of == "colour" and delivered(project, item) for item in deliverables(project))
    asked = any(carries_weights(sheet) for sheet in project.sheets) or "weights" in chosen.required or not colour
    if not classes and asked and (project.sheets or project.layers):
        told += [
            Caution("packing", f"The weight of {item.name} is in no channel.", "weights unpacked")
            for item in project.outcomes
            if item.id not in packed and item.id != BASE
        ]
    kinds = {s.kind for sheet in project.sheets for c in sheet.channels if (s := sheet.source(c)) is not None}
    if chosen.mixing.kind == "chain" and "weight" in kinds and not classes:
        text = f"{chosen.title} lays one ground over the other: it needs blend steps, not weights. Propose sheets."
        told.append(Caution("packing", text, "weights, not steps"))
    if chosen.mixing.kind == "sum" and "step" in kinds:
        text = f"{chosen.title} adds grounds up by weights: blend steps would not add up. Propose sheets."
        told.append(Caution("packing", text, "steps, not weights"))
    implied = chosen.sheets.base_implied or classes or chosen.mixing.kind == "chain"
    if any(carries_weights(sheet) for sheet in project.sheets) and BASE not in packed and not implied:
        text = f"The base, {project.base.name}, is in no channel: the target must imply it."
        told.append(Caution("packing", text, "base unpacked"))
    if chosen.sheets.base_implied and BASE in packed:
        text = f"{chosen.title} implies the base: {project.base.name} is packed for nothing."
        told.append(Caution("packing", text, "base packed"))
    if len(project.outcomes) > chosen.most_layers:
        text = f"{len(project.outcomes)} layers with the base; {chosen.title} takes {chosen.most_layers}. Merge some."
        told.append(Caution("layers", text, "too many layers"))
    return told


def _maps(project: Project) -> list[Caution]:
    """Maps that the target needs and does not get, and masks that end nowhere."""
    told = []
    for item in deliverables(project):
        if item.default and not delivered(project, item) and item.of in project.target.by_default:
            text = f"{project.target.title} needs {item.title.lower()}, and it is left out."
            told.append(Caution("delivery", text, "a map is missing"))
    if not project.sheets and not any(item.deliver for item in project.delivery.items):
        by_target = project.target.by_default
        if not by_target:
            told.append(Caution("packing", "There are no sheets: only the height would be delivered.", "no sheets"))
    used = {use.used for use in uses(project)}
    lost = [mask.name for mask in project.masks if f"mask:{mask.id}" not in used]
    if lost and project.sheets:
        many = ", ".join(lost[:3]) + (f" and {len(lost) - 3} more" if len(lost) > 3 else "")
        end = "ends" if len(lost) == 1 else "end"
        told.append(Caution("masks", f"{many} {end} nowhere: no layer, channel or file takes it.", "ends nowhere"))
    return told


def _files(plan: Plan) -> list[Caution]:
    told = _coarser(plan)
    for item in plan.items:
        if item.form.lacks:
            told.append(Caution("delivery", f"{item.thing.title} as {item.form.title}: {item.form.lacks}.", "lossy"))
        if item.scale is not None:
            held = storable(plan)
            if held is not None:
                low, high, bottom, top = (metres - plan.zero for metres in (*plan.ends, *held))
                text = (
                    f"Heights from {low:g} to {high:g} m go beyond {bottom:g} to {top:g} m that can be stored: "
                    "they will be cut off."
                )
                told.append(Caution("delivery", text, CUT_OFF))
            if item.form.bits == 8:
                text = f"The height with 8 bits has steps of {item.scale.step:.3g} m: slopes become stairs."
                told.append(Caution("delivery", text, "8-bit height"))
    return told


def _coarser(plan: Plan) -> list[Caution]:
    """Files that hang on work that is made coarser than the ground."""
    graph = Graph(plan.project)
    found = {
        item.thing.title: coarser_words(graph, map_of(item.thing))
        for item in plan.items
        if item.is_picture and item.thing.kind != "look"
    }
    titles = [title for title, words in found.items() if words is not None]
    if not titles:
        return []
    many = ", ".join(titles[:3]) + (f" and {len(titles) - 3} more" if len(titles) > 3 else "")
    return [Caution("delivery", f"{many}: {found[titles[0]]}", "coarser than the ground")]


def target_change(project: Project, target_id: str) -> list[str]:
    """What changing to another target changes, in sentences. Raises :class:`NotFound`."""
    after, _ = apply_operations(project, [ChooseTarget(target=target_id)])
    told = []
    was, now = project.delivery, after.delivery
    if (was.rows, was.cols) != (now.rows, now.cols):
        told.append(f"The height becomes {now.cols} × {now.rows} instead of {was.cols} × {was.rows}.")
    old, new = project.target, after.target
    for name, a, b in (
        ("Heights", old.height.coding, new.height.coding),
        ("Weights", old.sheets, new.sheets),
        ("Tiles", old.tiles, new.tiles),
        ("Colour", old.distances, new.distances),
        ("Mixing", old.mixing, new.mixing),
    ):
        if a != b:
            told.append(f"{name}: {b.read()}")
    before_sheets, after_sheets = _weight_sheets(project), _weight_sheets(after)
    if before_sheets != after_sheets:
        told.append(
            f"Sheets with weights: {', '.join(after_sheets) or 'none'} instead of {', '.join(before_sheets) or 'none'}."
        )
    if new.most_layers < len(after.outcomes):
        told.append(f"{len(after.outcomes)} layers with the base are too many: it takes {new.most_layers}.")
    names = _names(after)
    if _names(project) != names:
        told.append(f"Files: {', '.join(names) or 'none'}.")
    if (old.first_row, old.first_column) != (new.first_row, new.first_column):
        told.append(f"Files begin in the {new.first_row}-{new.first_column}.")
    return told or ["Nothing but the name."]


def _weight_sheets(project: Project) -> list[str]:
    layouts = {"rgba": "RGBA", "rgb": "RGB", "grey_alpha": "grey and alpha", "grey": "grey"}
    return [f"{sheet.name} ({layouts[sheet.layout]})" for sheet in project.sheets if carries_weights(sheet)]


def _names(project: Project) -> list[str]:
    try:
        plan = make_plan(project)
    except MeadowError:
        return []
    return [
        item.files[0].name + (f" and {len(item.files) - 1} more" if len(item.files) > 1 else "") for item in plan.items
    ]
