"""What travels through the API about targets, plans and sizes."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from zigzag_meadow.core.project.model.delivery import ItemChoice
from zigzag_meadow.core.targets.map_sizes import SizeKind
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.core.targets.tile_names import TileNames
from zigzag_meadow.server.api.schemas import ChoiceOut, WorstPlaceOut


class SentenceOut(Schema):
    """What a rule is about, and how it reads."""

    title: str
    sentence: str


class TargetOut(Schema):
    """``own``: one of the project's; ``rules``: the whole of it as data."""

    id: str
    title: str
    sentence: str
    own: bool
    sentences: list[SentenceOut]
    rules: Target


class SizeOfferOut(Schema):
    """A size: metres between samples, bytes on disk at most, whether it is the ground's own."""

    rows: int
    cols: int
    spacing_x: float
    spacing_y: float
    bytes: int
    own: bool


class FormOut(Schema):
    """A form that an item may have; ``loss``: what would be lost in it; ``endings``, ``orders``, ``packs``, ``tiled``:
    what else can be chosen."""

    id: str
    title: str
    loss: str | None
    remark: str
    endings: bool
    orders: bool
    packs: bool
    tiled: bool
    floats: bool


class TypedEndsOut(Schema):
    """What black and white stand for now, where that can be typed; ``log``: on the logarithm between them."""

    black: float
    white: float
    unit: str
    log: bool
    by: Literal["target", "typed", "codes", "extremes"]
    as_is: bool


class PlanItem(Schema):
    """One map and its files: ``name`` of the first, how many ``files``; ``rows``, ``cols`` of the whole; ``tiles``
    across and down; ``ends``: what black and white of a height stand for; ``sharpens``: a sharper reduction can be
    chosen."""

    of: str
    title: str
    group: str
    kind: str
    name: str
    files: int
    form: str
    format: str
    bits: int
    channels: list[str]
    rows: int
    cols: int
    bytes: int
    space: Literal["sRGB", "linear", "data"]
    ends: str
    typed: TypedEndsOut | None
    sharpens: bool
    resampled: str
    registration: Literal["vertex", "area"]
    tiles: list[int]
    free_size: bool
    choice: ItemChoice
    forms: list[FormOut]


class GroupOut(Schema):
    id: str
    title: str
    items: list[PlanItem]


class OtherOut(Schema):
    """Something that could be delivered and is not."""

    of: str
    title: str
    group: str
    choice: ItemChoice


class RowOut(Schema):
    title: str
    value: str
    why: str


class TrialOut(Schema):
    """What a chosen region becomes: metres east and south of the north-west corner, samples of the height."""

    east: float
    south: float
    width: float
    length: float
    rows: int
    cols: int


class KindSizeOut(Schema):
    """How large one kind of map is; ``free``: another size can be chosen, ``own``: one was; ``says``: the rule."""

    kind: SizeKind
    title: str
    rows: int
    cols: int
    registration: Literal["vertex", "area"]
    free: bool
    own: bool
    says: str


class PlanOut(Schema):
    """What a delivery would write, or why it cannot. ``numbers``: what is typed in there; ``kinds``: sizes of kinds of
    maps; ``height_tiles``: across and down; ``tile_names``: how tiles are numbered, as the target or the project has
    it; ``beyond``: lowest and highest height (metres) that can be stored, where the ground reaches beyond them."""

    refused: str | None
    groups: list[GroupOut]
    others: list[OtherOut]
    bytes: int
    files: int
    numbers: list[RowOut]
    trial: TrialOut | None
    height_tiles: list[int]
    tokens: list[str]
    pattern: str
    kinds: list[KindSizeOut]
    tile_names: TileNames
    beyond: list[float] | None


class BeyondOut(Schema):
    """Metres that can be stored, how many samples of the height file lie below and above, and where they do, by how
    many metres (less than 0: below), the worst first."""

    low: float
    high: float
    below: int
    above: int
    samples: int
    places: list[WorstPlaceOut]


class TargetChangeOut(Schema):
    """What choosing another target would change, in sentences."""

    sentences: list[str]


class CheckOut(Schema):
    """An own target looked at: its rules in full, what is wrong with it, or an example of sizes, names and numbers."""

    trouble: str | None
    rules: Target | None
    sizes: list[str]
    names: list[str]
    numbers: list[RowOut]
    sentences: list[SentenceOut]


class RuleFieldOut(Schema):
    name: str
    kind: Literal["number", "choice", "numbers", "rule"]
    title: str
    unit: str
    decimals: int
    choices: list[ChoiceOut]


class RuleKindOut(Schema):
    kind: str
    title: str
    sentence: str
    fields: list[RuleFieldOut]
    fresh: dict[str, object]


class RulesOut(Schema):
    """Every class of every rule by the place where it stands, forms that files may have, and plain choices of a
    target."""

    places: dict[str, list[RuleKindOut]]
    forms: list[ChoiceOut]
    data_sheets: list[ChoiceOut]
    size_kinds: list[ChoiceOut]
