"""What of a project can be delivered, each under the name of its map, and what is by default."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, get_args

from zigzag_meadow.core.colour.surface import SURFACE_MAPS, SurfaceMap
from zigzag_meadow.core.looks.catalogue import LOOKS
from zigzag_meadow.core.map_name import (
    BandName,
    ClassesName,
    CoatName,
    ColourName,
    FarColourName,
    HeightName,
    HolesName,
    LookName,
    MapName,
    MaskName,
    MiddleColourName,
    PointsName,
    ReadingName,
    ScatterName,
    SheetName,
    StrongestName,
    SurfaceName,
    WeightName,
)
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.model.propose import carries_weights
from zigzag_meadow.core.project.model.readings import resolve
from zigzag_meadow.core.project.model.sheets import COLOURS, PaintedSource, Sheet
from zigzag_meadow.core.readings.catalogue import READINGS
from zigzag_meadow.core.remembered import once_an_object
from zigzag_meadow.core.targets.map_sizes import SizeKind
from zigzag_meadow.core.targets.model import MapKindName
from zigzag_meadow.core.targets.note import FileKind

__all__ = ["GROUPS", "Deliverable", "Group", "deliverables", "delivered", "find_deliverable", "map_of", "worn_looks"]

Group = Literal["height", "weights", "colour", "data", "scattered", "looks", "alone"]
GROUPS: dict[Group, str] = {
    "height": "Height",
    "weights": "Weights",
    "colour": "Colour and surface",
    "data": "Data sheets",
    "scattered": "Scattered",
    "looks": "Looks",
    "alone": "By itself",
}
LookPart = Literal["albedo", "normal", "roughness"]


@dataclass(frozen=True, slots=True)
class Deliverable:
    """``name``: of its map; ``map``: what stands for it in names of files; ``rule``: the target's rule it goes by, and
    ``size_kind``: as which kind of map it has its size."""

    name: MapName
    title: str
    map: str
    group: Group
    kind: FileKind
    rule: MapKindName | None
    default: bool
    size_kind: SizeKind | None = None

    @property
    def of(self) -> str:
        """Its map's name as text, by which the document knows it."""
        return str(self.name)


def _sheet(project: Project, sheet: Sheet) -> Deliverable:
    weights = carries_weights(sheet)
    painted = any(isinstance(sheet.source(c), PaintedSource) for c in sheet.channels)
    group: Group = "weights" if weights else "colour" if painted else "data"
    # A target of classes takes no weights; sheets of data go to every target.
    default = not (weights and project.target.sheets.kind == "classes")
    rule: MapKindName = "colour" if sheet.holds_colours else "masks"
    size: SizeKind = "weights" if weights else "colour" if sheet.holds_colours else "data"
    return Deliverable(SheetName(sheet.id), sheet.name, sheet.name, group, "sheet", rule, default, size)


def _painted(project: Project) -> Iterator[Deliverable]:
    asked = project.target.by_default
    colours: tuple[tuple[MapName, SizeKind, str], ...] = (
        (ColourName(), "colour", "colour"),
        (MiddleColourName(), "colour_middle", "middle_colour"),
        (FarColourName(), "colour_far", "far_colour"),
    )
    for colour, size, file in colours:
        yield Deliverable(colour, COLOURS[size], file, "colour", "colour", "colour", size in asked, size)
    for name in get_args(SurfaceMap):
        of = SurfaceName(name)
        own: SizeKind = name if name in ("occlusion", "normal") else "surface"
        yield Deliverable(of, SURFACE_MAPS[name], name, "colour", "surface", "detail", str(of) in asked, own)
    classes = "strongest" in asked
    yield Deliverable(StrongestName(), "Strongest layer", "classes", "weights", "classes", "masks", classes, "classes")


def _classed(project: Project) -> Iterator[Deliverable]:
    """Maps of classes and of holes, where there are any."""
    if project.classes.classes:
        title = "Classes of the ground"
        yield Deliverable(ClassesName(), title, "ground_classes", "data", "classes", "masks", False, "classes")
    if project.classes.holes is not None:
        yield Deliverable(HolesName(), "Holes", "holes", "data", "map", "masks", False, "classes")


def _single(name: MapName, title: str, file: str) -> Deliverable:
    """A map that is delivered by itself, where somebody asks for it."""
    return Deliverable(name, title, file, "alone", "map", "masks", False, "data")


def _alone(project: Project) -> Iterator[Deliverable]:
    for mask in project.masks:
        yield _single(MaskName(mask.id), mask.name, mask.name)
        for at in range(mask.bands or 0):
            yield _single(BandName(mask.id, at), f"{mask.name}, band {at + 1}", f"{mask.name}_{at + 1}")
    for item in project.outcomes:
        yield _single(WeightName(item.id), f"{item.name}, weight", f"{item.name}_weight")
    for coat in project.coats:
        yield _single(CoatName(coat.id), f"{coat.title}, where it lies", f"{coat.title}_{coat.id}")
    ids = dict.fromkeys([*(kind.name for kind in READINGS if kind.ready), *(item.id for item in project.readings)])
    for reading in ids:
        title = resolve(project, reading).title
        yield _single(ReadingName(reading), title, title)


def _scattered(project: Project) -> Iterator[Deliverable]:
    for item in project.scatters:
        density, title, of = f"{item.name}_density", f"{item.name}, density", ScatterName(item.id)
        yield Deliverable(of, title, density, "scattered", "density", "masks", item.deliver, "densities")
        wanted = item.deliver and item.points_format != "none"
        points, title = f"{item.name}_points", f"{item.name}, points"
        yield Deliverable(PointsName(item.id), title, points, "scattered", "points", None, wanted)


def worn_looks(project: Project) -> list[tuple[str, str]]:
    """(id, name) of every texture that a layer or the base wears, each once, from the bottom."""
    own = {look.id: look.name for look in project.looks}
    bundled = {look.id: look.title for look in LOOKS}
    dressings = [project.base.dressing, *(layer.dressing for layer in project.shown_layers)]
    ids = dict.fromkeys(d.look for d in dressings if d.look is not None)
    return [(look, own.get(look) or bundled[look]) for look in ids if look in own or look in bundled]


def _looks(project: Project) -> Iterator[Deliverable]:
    for look, name in worn_looks(project):
        for part in get_args(LookPart):
            yield Deliverable(
                LookName(look, part),
                f"{name}, {part}",
                f"{name}_{part}",
                "looks",
                "look",
                "colour" if part == "albedo" else "detail",
                False,
            )


@once_an_object
def deliverables(project: Project) -> tuple[Deliverable, ...]:
    """Everything that can be delivered, in the order of its groups."""
    made = [Deliverable(HeightName(), "Height", "height", "height", "height", None, True)]
    made += [_sheet(project, sheet) for sheet in project.sheets]
    made += [*_painted(project), *_classed(project), *_scattered(project), *_looks(project), *_alone(project)]
    order = list(GROUPS)
    return tuple(sorted(made, key=lambda item: order.index(item.group)))


def map_of(item: Deliverable) -> MapName:
    """The map of the ground that it is made of (not of looks, which are none)."""
    if isinstance(item.name, PointsName):
        return ScatterName(item.name.scatter)
    return ReadingName("height") if isinstance(item.name, HeightName) else item.name


def find_deliverable(project: Project, of: str) -> Deliverable | None:
    """What can be delivered under a map's name."""
    return next((item for item in deliverables(project) if item.of == of), None)


def delivered(project: Project, item: Deliverable) -> bool:
    """Whether it is delivered: as chosen, else as the target has it."""
    chosen = project.delivery.choice(item.of).deliver
    return item.default if chosen is None else chosen
