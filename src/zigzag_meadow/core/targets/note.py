"""The import note as data: everything a rehearsal, or a person at the destination, may know of a delivery."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import orjson
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.grid import Registration

__all__ = [
    "NOTE_VERSION",
    "BlockNote",
    "ChannelNote",
    "CheckPoint",
    "DistancesNote",
    "Extent",
    "FileKind",
    "FileNote",
    "GroundNote",
    "HeightNote",
    "ImportNote",
    "LegendNote",
    "SettingNote",
    "StepNote",
    "StoredHeights",
    "TargetNote",
    "TileNote",
    "UnitNote",
    "UnitsNote",
    "WeightsNote",
    "note_of",
    "parse_note",
]

NOTE_VERSION = 4
FileKind = Literal["height", "sheet", "map", "colour", "surface", "classes", "density", "points", "look"]
Count = Annotated[int, Field(ge=1, le=1 << 20)]


class NotePart(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, frozen=True, defer_build=True)


class Extent(NotePart):
    """Where something lies there, in metres: its south-west corner, and how wide and long it is."""

    west: float
    south: float
    width: Annotated[float, Field(gt=0)]
    length: Annotated[float, Field(gt=0)]

    @property
    def centre(self) -> tuple[float, float]:
        """Metres (east, north)."""
        return self.west + self.width / 2, self.south + self.length / 2


class BlockNote(NotePart):
    """``cells`` along a block side, and how many blocks."""

    cells: Count
    across: Count
    down: Count


class GroundNote(NotePart):
    """The height as one piece. ``anchor``: the place of it that lies at ``position`` (metres east, north, up).
    ``zero``: the height in the project, in metres, that is 0 there."""

    columns: Count
    rows: Count
    registration: Registration
    spacing_x: Annotated[float, Field(gt=0)]
    spacing_y: Annotated[float, Field(gt=0)]
    extent: Extent
    anchor: Literal["corner", "centre"]
    up: Literal["z", "y"]
    zero: float
    blocks: BlockNote | None = None


class UnitNote(NotePart):
    """A unit that numbers are typed in there: ``metres`` in one of it, and what stands behind a number."""

    metres: Annotated[float, Field(gt=0)] = 1.0
    symbol: Annotated[str, Field(min_length=1, max_length=20)] = "m"

    @property
    def plain(self) -> bool:
        return self.metres == 1.0 and self.symbol == "m"


class UnitsNote(NotePart):
    """In which unit heights, lengths and positions are typed; all numbers of the note itself are metres."""

    heights: UnitNote = UnitNote()
    lengths: UnitNote = UnitNote()
    positions: UnitNote = UnitNote()


class DistancesNote(NotePart):
    """Up to where, in metres, the near and the middle colour map are seen."""

    near_to: Annotated[float, Field(gt=0)]
    middle_to: Annotated[float, Field(gt=0)]


class StoredHeights(NotePart):
    """What stored values, from ``least`` to ``full``, stand for: metres = ``at_zero`` + stored · ``step``; floats may
    lie beyond.

    ``base_step``, ``multiplier``: where steps of a given size are multiplied.
    """

    step: Annotated[float, Field(gt=0)]
    at_zero: float
    middle: int | float
    at_middle: float
    full: int
    at_full: float
    least: int = 0
    at_least: float | None = None
    base_step: Annotated[float, Field(gt=0)] | None = None
    multiplier: Annotated[float, Field(gt=0)] | None = None


class HeightNote(NotePart):
    """Metres. ``lowest``, ``highest``: of the delivered file; those of the project may lie further apart.
    ``stored`` is None where the file holds metres. ``scale_by``: where the ends come from: the *target*, *typed* ends,
    the *codes* of the heightmap, or the *extremes* of the ground."""

    coding: str
    scale_by: str = "target"
    stored: StoredHeights | None
    lowest: float
    highest: float
    project_lowest: float
    project_highest: float
    water: float | None = None
    clipped: int = 0


class ChannelNote(NotePart):
    """What one channel carries. ``of``: the map in the project; ``black``, ``white``: what the ends stand for;
    ``numbers``: of classes, what each is called."""

    channel: Literal["r", "g", "b", "a"]
    kind: str
    title: str
    of: str = ""
    layer: str = ""
    colour: str = ""
    unit: str = ""
    mapping: str = ""
    black: float | None = None
    white: float | None = None
    turned: bool = False
    numbers: dict[int, str] = {}


class TileNote(NotePart):
    """Which part of the whole map a file is: ``x`` from the west, ``y`` from the north, and its first sample there."""

    x: Annotated[int, Field(ge=0)]
    y: Annotated[int, Field(ge=0)]
    first_row: Annotated[int, Field(ge=0)]
    first_column: Annotated[int, Field(ge=0)]


class FileNote(NotePart):
    """One file. ``of``: the item it belongs to; ``extent``: what it is laid over; ``whole_rows``, ``whole_columns``: of
    the whole map, of which a tile is a part. ``count``: of points."""

    file: str
    title: str
    of: str
    kind: FileKind
    form: str
    reads: str
    format: str
    bits: int
    floats: bool = False
    rows: int = 0
    columns: int = 0
    whole_rows: int = 0
    whole_columns: int = 0
    registration: Registration = "vertex"
    spacing_x: float = 0.0
    spacing_y: float = 0.0
    extent: Extent
    first_row: Literal["north", "south"] = "north"
    first_column: Literal["west", "east"] = "west"
    tile: TileNote | None = None
    colour_space: Literal["sRGB", "linear", "data"] = "data"
    tagged: bool = False
    alpha: Literal["straight data", "none"] = "none"
    byte_order: Literal["little", "big"] | None = None
    resampled: str = ""
    remark: str = ""
    channels: tuple[ChannelNote, ...] = ()
    count: int | None = None
    fields: tuple[str, ...] = ()
    stored: StoredHeights | None = None


class LegendNote(NotePart):
    """Which ground is where: ``texture`` and ``size`` (metres) of what it wears, and how rough it is, 0–1."""

    layer: str
    title: str
    colour: str
    file: str = ""
    channel: str = ""
    texture: str = ""
    size: float | None = None
    turn: float = 0.0
    roughness: float | None = None


class WeightsNote(NotePart):
    """``full``: what all weights add up to at every sample; None where that is not promised."""

    full: int | None
    base_implied: bool
    mixing: Literal["sum", "chain"]
    sentence: str


class SettingNote(NotePart):
    setting: str
    to: str
    because: str


class StepNote(NotePart):
    do: str
    because: str = ""


class CheckPoint(NotePart):
    """A place to look at there: metres east, north and up in its own coordinates, and the strongest layer."""

    title: str
    east: float
    north: float
    height: float
    strongest: str = ""


class TargetNote(NotePart):
    """``required``: maps without which it takes nothing; ``most_layers``, ``most_per_block``: how many it mixes."""

    id: str
    title: str
    sentence: str
    required: tuple[str, ...] = ()
    most_layers: int | None = None
    most_per_block: int | None = None


class ImportNote(NotePart):
    """``trial``: only a part of the ground was delivered, to try."""

    note: Literal[4] = 4
    project: str
    target: TargetNote
    units: UnitsNote = UnitsNote()
    ground: GroundNote
    distances: DistancesNote | None = None
    height: HeightNote | None
    weights: WeightsNote
    files: tuple[FileNote, ...]
    legend: tuple[LegendNote, ...] = ()
    neutral: tuple[SettingNote, ...] = ()
    after: tuple[StepNote, ...] = ()
    expect: tuple[str, ...] = ()
    check_points: tuple[CheckPoint, ...] = ()
    trial: bool = False

    @property
    def images(self) -> tuple[FileNote, ...]:
        return tuple(file for file in self.files if file.kind != "points")


_READ = (2, 3, NOTE_VERSION)


def parse_note(data: bytes, name: str) -> ImportNote:
    """The note in a file. Raises :class:`BadFile` where it is none, or of another version."""
    try:
        plain: Any = orjson.loads(data)
    except orjson.JSONDecodeError as error:
        raise BadFile(f"{name} is not JSON: {error}. Deliver again.") from None
    version = plain.get("note") if isinstance(plain, dict) else None
    if version not in _READ:
        told = "says no version" if version is None else f"is of version {version}"
        raise BadFile(f"{name} {told}, and {NOTE_VERSION} is read here. Deliver again.")
    return note_of({**plain, "note": NOTE_VERSION}, name)


def note_of(plain: Any, name: str) -> ImportNote:
    """The note in plain data of the newest version; earlier versions only lack fields. Raises
    :class:`BadFile`."""
    try:
        return ImportNote.model_validate(plain)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise BadFile(f"{name}: {place}: {first['msg']}: it was changed by hand or is damaged.") from None
