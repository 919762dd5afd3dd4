"""The names of maps: what every map of a project is asked for by, and the only place that knows how they are written.

A name is its kind and its parts with colons between: ``mask:ID``, ``at:2:slope``, ``colour``. In the core it is one of
the classes of :data:`MapName`; as text it stands in addresses, on the command line and in the document.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from typing import Any, ClassVar, Literal, Union, get_args

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.map_name_parts import COUNT, HOW, ID, IDS, LETTER, OTHERWISE, Distance, Part

__all__ = [
    "BandName",
    "ChannelName",
    "ClassesName",
    "CoatName",
    "ColourName",
    "CountName",
    "FarColourName",
    "FinalName",
    "FindingName",
    "HeightName",
    "HolesName",
    "LayersName",
    "LookName",
    "MapName",
    "MaskName",
    "MiddleColourName",
    "MixedName",
    "PictureName",
    "PointsName",
    "PreparedName",
    "ReadingName",
    "ScatterName",
    "SheetName",
    "StrengthName",
    "StrongestName",
    "SumsName",
    "SurfaceName",
    "WeightName",
    "WhereName",
    "every_kind",
    "is_albedo",
    "map_name",
    "named_by_title",
    "reading_of",
]

MOST_TEXT = 2000


def _part(part: Part, optional: bool = False) -> Any:
    told = {"part": part}
    return field(metadata=told, default=None) if optional else field(metadata=told)


@dataclass(frozen=True, slots=True)
class _Named:
    kind: ClassVar[str]

    def __str__(self) -> str:
        values = [(item.metadata["part"], getattr(self, item.name)) for item in fields(self)]
        return ":".join([self.kind, *(part.write(value) for part, value in values if value is not None)])


@dataclass(frozen=True, slots=True)
class ReadingName(_Named):
    """A reading on the prepared ground."""

    kind: ClassVar[str] = "reading"
    reading: str = _part(ID)


@dataclass(frozen=True, slots=True)
class PreparedName(_Named):
    """A reading on the ground after its first ``steps`` steps of preparation."""

    kind: ClassVar[str] = "at"
    steps: int = _part(COUNT)
    reading: str = _part(ID)


@dataclass(frozen=True, slots=True)
class WhereName(_Named):
    """Where the step of preparation with this number, from 0, acts, on the ground before it."""

    kind: ClassVar[str] = "where"
    step: int = _part(COUNT)


@dataclass(frozen=True, slots=True)
class FindingName(_Named):
    """Where a finding is, 0 or 1."""

    kind: ClassVar[str] = "finding"
    code: str = _part(ID)


@dataclass(frozen=True, slots=True)
class PictureName(_Named):
    """What a reading lays, in true colour; ``otherwise``: its samples taken the other way."""

    kind: ClassVar[str] = "picture"
    reading: str = _part(ID)
    otherwise: Literal[True] | None = _part(OTHERWISE, optional=True)


@dataclass(frozen=True, slots=True)
class MaskName(_Named):
    """A mask, or what it is after its first ``lines`` lines."""

    kind: ClassVar[str] = "mask"
    mask: str = _part(ID)
    lines: int | None = _part(COUNT, optional=True)


@dataclass(frozen=True, slots=True)
class BandName(_Named):
    """One band, from 0, of a mask that is cut into bands."""

    kind: ClassVar[str] = "band"
    mask: str = _part(ID)
    band: int = _part(COUNT)


@dataclass(frozen=True, slots=True)
class CountName(_Named):
    """How many of some masks are strong."""

    kind: ClassVar[str] = "count"
    masks: tuple[str, ...] = _part(IDS)


@dataclass(frozen=True, slots=True)
class ScatterName(_Named):
    """The density of what is scattered."""

    kind: ClassVar[str] = "scatter"
    scatter: str = _part(ID)


@dataclass(frozen=True, slots=True)
class FinalName(_Named):
    """Where a mask differs at the delivered size."""

    kind: ClassVar[str] = "final"
    mask: str = _part(ID)


@dataclass(frozen=True, slots=True)
class WeightName(_Named):
    """The weight of a layer, of several merged, or of the base."""

    kind: ClassVar[str] = "weight"
    layer: str = _part(ID)


@dataclass(frozen=True, slots=True)
class StrengthName(_Named):
    """A layer before sharing."""

    kind: ClassVar[str] = "strength"
    layer: str = _part(ID)


@dataclass(frozen=True, slots=True)
class StrongestName(_Named):
    """The number of the strongest layer."""

    kind: ClassVar[str] = "strongest"


@dataclass(frozen=True, slots=True)
class ClassesName(_Named):
    """The numbers of classes of the ground."""

    kind: ClassVar[str] = "classes"


@dataclass(frozen=True, slots=True)
class HolesName(_Named):
    """Where the ground is open."""

    kind: ClassVar[str] = "holes"


@dataclass(frozen=True, slots=True)
class LayersName(_Named):
    """The layers in their plain colours, or one of them alone over the base."""

    kind: ClassVar[str] = "layers"
    layer: str | None = _part(ID, optional=True)


@dataclass(frozen=True, slots=True)
class ColourName(_Named):
    """The colour map, or what it is after its first ``coats`` coats."""

    kind: ClassVar[str] = "colour"
    distance: ClassVar[Distance] = "near"
    coats: int | None = _part(COUNT, optional=True)


@dataclass(frozen=True, slots=True)
class MiddleColourName(_Named):
    """The colour map for middle distance, or what it is after its first ``coats`` coats."""

    kind: ClassVar[str] = "colour_middle"
    distance: ClassVar[Distance] = "middle"
    coats: int | None = _part(COUNT, optional=True)


@dataclass(frozen=True, slots=True)
class FarColourName(_Named):
    """The colour map for far away, or what it is after its first ``coats`` coats."""

    kind: ClassVar[str] = "colour_far"
    distance: ClassVar[Distance] = "far"
    coats: int | None = _part(COUNT, optional=True)


@dataclass(frozen=True, slots=True)
class CoatName(_Named):
    """How strongly a coat lies."""

    kind: ClassVar[str] = "coat"
    coat: str = _part(ID)


@dataclass(frozen=True, slots=True)
class SurfaceName(_Named):
    """A map of the surface: normal, roughness …"""

    kind: ClassVar[str] = "surface"
    map: str = _part(ID)


@dataclass(frozen=True, slots=True)
class SheetName(_Named):
    """A packed sheet."""

    kind: ClassVar[str] = "sheet"
    sheet: str = _part(ID)


@dataclass(frozen=True, slots=True)
class ChannelName(_Named):
    """One channel of a sheet."""

    kind: ClassVar[str] = "channel"
    sheet: str = _part(ID)
    channel: Literal["r", "g", "b", "a"] = _part(LETTER)


@dataclass(frozen=True, slots=True)
class SumsName(_Named):
    """Whether weights in sheets add up."""

    kind: ClassVar[str] = "sums"


@dataclass(frozen=True, slots=True)
class MixedName(_Named):
    """The grounds put together of the sheets: added up by weight, or each laid over what is below it."""

    kind: ClassVar[str] = "mixed"
    how: Literal["sum", "chain"] = _part(HOW)


@dataclass(frozen=True, slots=True)
class HeightName(_Named):
    """The height, as it is delivered."""

    kind: ClassVar[str] = "height"


@dataclass(frozen=True, slots=True)
class PointsName(_Named):
    """What is scattered, as points."""

    kind: ClassVar[str] = "points"
    scatter: str = _part(ID)


@dataclass(frozen=True, slots=True)
class LookName(_Named):
    """A texture of a look, as it comes: its albedo, normal or roughness."""

    kind: ClassVar[str] = "look"
    look: str = _part(ID)
    part: str = _part(ID)


MapName = Union[  # noqa: UP007 (one a line)
    ReadingName,
    PreparedName,
    WhereName,
    FindingName,
    PictureName,
    MaskName,
    BandName,
    CountName,
    ScatterName,
    FinalName,
    WeightName,
    StrengthName,
    StrongestName,
    LayersName,
    ColourName,
    MiddleColourName,
    FarColourName,
    ClassesName,
    HolesName,
    CoatName,
    SurfaceName,
    SheetName,
    ChannelName,
    SumsName,
    MixedName,
    HeightName,
    PointsName,
    LookName,
]
"""A map by its name. The last three are files of a delivery alone."""
_KINDS: dict[str, type[_Named]] = {item.kind: item for item in get_args(MapName)}


def map_name(text: MapName | str) -> MapName:
    """The name that ``text`` writes; a name as it is. Raises :class:`NotFound` for what is none."""
    if not isinstance(text, str):
        return text
    kind, *parts = text.split(":") if len(text) <= MOST_TEXT else [text]
    named = _KINDS.get(kind)
    wanted = [] if named is None else fields(named)
    least = sum(item.default is not None for item in wanted)
    if named is None or not least <= len(parts) <= len(wanted):
        raise NotFound(f"There is no map called {text[:80]!r}.", field="name")
    made: Any = named(*(item.metadata["part"].read(part) for item, part in zip(wanted, parts, strict=False)))
    return made  # type: ignore[no-any-return]


def named_by_title(text: str, find: Callable[[str, str], str]) -> MapName:
    """The name that ``text`` writes with what something is called in the place of its id; ``find`` tells the id of what
    is called so, by the kind of name and the title. Raises :class:`NotFound`."""
    kind, *parts = text.split(":")
    return map_name(":".join([kind, find(kind, parts[0]), *parts[1:]]) if parts and parts[0] else text)


def reading_of(name: MapName) -> str | None:
    """The reading that a map is; None for what is no reading."""
    return name.reading if isinstance(name, ReadingName | PreparedName) else None


def is_albedo(name: MapName) -> bool:
    """Whether a file holds the albedo of a look."""
    return isinstance(name, LookName) and name.part == "albedo"


def every_kind() -> dict[str, list[tuple[str, str, bool]]]:
    """Every kind of name with its parts: what each is called, its type on the pages, and whether it may be left out."""
    return {
        kind: [(item.name, item.metadata["part"].ts, item.default is None) for item in fields(named)]
        for kind, named in _KINDS.items()
    }
