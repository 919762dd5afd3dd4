"""What all coats have in common."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal, Protocol, Self

from pydantic import Field

from zigzag_meadow.core.colour.blend import MODES, Mode, blended
from zigzag_meadow.core.looks.texture import Worn
from zigzag_meadow.core.map_name_parts import Distance
from zigzag_meadow.core.masks.lines.combining import combined
from zigzag_meadow.core.masks.sources import SOURCES, Source
from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node, Operation
from zigzag_meadow.core.nodes.operation import Array, Here, Local, Numbers, by_sample
from zigzag_meadow.core.parts import Edited, Id, Part, Told, Unit

__all__ = [
    "LENGTH",
    "MODE",
    "SEED",
    "STRENGTH",
    "WITHIN",
    "Around",
    "BaseCoat",
    "Begun",
    "Change",
    "Family",
    "Painted",
    "laid_on",
]

Family = Literal["ground", "change", "wear"]
STRENGTH = Annotated[Unit, Told("Strength", "%")]
WITHIN = Annotated[Source | None, Edited("source", "Where it lies", none="everywhere", lead="within ")]
MODE = Annotated[Mode, Told("Laid on", choices=MODES)]
LENGTH = Annotated[float, Field(gt=0, le=20000)]
SEED = Annotated[int, Field(ge=0, le=999999), Told("Seed", step=1, decimals=0)]


Seen = Literal["both", "near", "middle", "far", "near_middle", "middle_far"]
SEEN: dict[Seen, tuple[Distance, ...]] = {
    "both": ("near", "middle", "far"),
    "near": ("near",),
    "middle": ("middle",),
    "far": ("far",),
    "near_middle": ("near", "middle"),
    "middle_far": ("middle", "far"),
}
"""From which distances a coat is seen, by how that is called."""


class Around(Protocol):
    """What a coat may ask of the maps around it while its node is made."""

    distance: Distance
    """From how far away this colour is seen."""

    def stage(self) -> Stage:
        """The prepared ground."""

    def source(self, source: Source) -> Node:
        """What is read, 0–1."""

    def height(self) -> Node:
        """Heights in metres."""

    def water(self) -> float | None:
        """The water level in metres."""

    def weights(self) -> Node:
        """The stack of all weights, base first."""

    def worn(self) -> Sequence[Worn]:
        """What the base and every layer of that stack wear."""

    def picture(self, reading: str, sharp: bool = False) -> Node | None:
        """A picture in colour where its reading lays it: linear colour and how much of it is there; None without a
        file. ``sharp``: enlarged sharply."""

    def piece(self, piece_id: str, numbers: Mapping[str, float]) -> Sequence[BaseCoat]:
        """The coats of a piece with numbers in place. Raises :class:`NotFound`."""


@dataclass(frozen=True, slots=True)
class Begun:
    """What a new coat may begin with: lowest and highest of the ground in metres, a reading that is a picture."""

    low: float
    high: float
    span: float
    picture: str | None = None


def _laid_on(here: Here, numbers: Numbers, below: Array, *more: Array) -> Array:
    plain = numbers["colour"]
    top, rest = (tuple(plain), more) if plain else (more[0], more[1:])
    return blended(below, top, numbers["mode"], numbers["strength"], rest[0] if rest else None)


LAID_ON = by_sample("laid_on", _laid_on)


def laid_on(
    below: Node, top: Node | tuple[float, float, float], mode: Mode, strength: float, mask: Node | None
) -> Node:
    """Colours (or one linear colour) on those below; ``mask``: where, None everywhere."""
    plain = None if isinstance(top, Node) else list(top)
    inputs = [below, *([top] if isinstance(top, Node) else []), *([] if mask is None else [mask])]
    return Node(LAID_ON, {"mode": mode, "strength": strength, "colour": plain}, tuple(inputs))


def partly(numbers: Numbers, below: Array, made: Array, mask: Array | None) -> Array:
    """What a coat made of ``below``, as far as its strength and mask let it."""
    if numbers["strength"] == 1 and mask is None:
        return made
    return blended(below, made, "normal", numbers["strength"], mask)


def split(numbers: Numbers, more: Sequence[Array]) -> tuple[Sequence[Array], Array | None]:
    """(what a change reads, its mask): the mask comes last where there is one."""
    return (more[:-1], more[-1]) if numbers["masked"] else (more, None)


def changing(name: str, make: Callable[..., Array], *, version: int = 1) -> Local:
    """An operation that changes what is below sample by sample: ``make(here, numbers, below, *inputs)``.

    Strength and mask are part of it: asked for once, what is below is made once, however many coats lie on it.
    """

    def whole(here: Here, numbers: Numbers, below: Array, *more: Array) -> Array:
        inputs, mask = split(numbers, more)
        return partly(numbers, below, make(here, numbers, below, *inputs), mask)

    return by_sample(name, whole, version=version)


@dataclass(frozen=True, slots=True)
class Change:
    """A coat's operation on what is below, with its numbers and what else it reads."""

    op: Operation
    numbers: dict[str, Any]
    inputs: tuple[Node, ...] = ()


HELD = by_sample("held_colours", lambda here, numbers, below: below.copy(), quick=False)


def held(below: Node) -> Node:
    """What is below, kept once made: for coats that ask for it more than once."""
    return Node(HELD, {}, (below,))


THERE = by_sample("there", lambda here, numbers, colours: colours[..., 3].copy())


def within(by: Node, mask: Node | None) -> Node:
    """As strong as ``by`` says, within a mask."""
    return by if mask is None else combined("keep_within", 1.0, by, mask)


class BaseCoat(Part):
    """A coat of the colour map. ``title``, ``family`` and ``hint`` are for choosing; ``sentence`` is how it reads.

    Each kind says in its own file what it is called, which numbers it takes and how its colours are made.
    """

    title: ClassVar[str]
    family: ClassVar[Family]
    hint: ClassVar[str]
    sentence: ClassVar[str]
    kind: str

    id: Id
    muted: bool = False
    note: Annotated[str, Field(max_length=400)] = ""
    seen: Annotated[
        Seen,
        Told(
            "Seen",
            choices=(
                ("both", "near and far"),
                ("near", "near only"),
                ("middle", "at middle distance only"),
                ("far", "far only"),
                ("near_middle", "near and at middle distance"),
                ("middle_far", "at middle distance and far"),
            ),
        ),
    ] = "both"
    within: WITHIN = None
    strength: STRENGTH = 1.0

    def node(self, below: Node, around: Around) -> Node:
        """Colours after this coat: float32 (rows, columns, 3), linear light; ``below``: before."""
        change = self.change(around)
        if change is None:
            return below
        mask = self.mask(around)
        numbers = {**change.numbers, "strength": self.strength, "masked": mask is not None}
        return Node(change.op, numbers, (below, *change.inputs, *([] if mask is None else [mask])))

    def change(self, around: Around) -> Change | None:
        """What it makes of what is below; None where it makes nothing."""
        raise NotImplementedError

    def mask(self, around: Around) -> Node | None:
        """Where it lies; None everywhere."""
        return None if self.within is None else around.source(self.within)

    def lies(self, around: Around) -> Node | None:
        """How strongly it lies at each place, before its strength; None everywhere fully."""
        return self.mask(around)

    def shown(self, distance: Distance) -> bool:
        """Whether it takes part in the colour for a distance."""
        return not self.muted and distance in SEEN[self.seen]

    def trouble(self, around: Around) -> str | None:
        """Why it lays nothing, as a sentence."""
        return None

    @classmethod
    def begun(cls, begun: Begun) -> dict[str, Any]:
        """Fields of a new one that depend on the project."""
        return {}

    def sources(self) -> Iterator[tuple[str, Source]]:
        """(field, what is read there) of everything it reads."""
        for name in type(self).model_fields:
            value = getattr(self, name)
            if isinstance(value, SOURCES):
                yield name, value

    @property
    def picture_id(self) -> str | None:
        """The picture that it lays."""
        return None

    @property
    def piece_id(self) -> str | None:
        """The piece that it uses."""
        return None

    def changed(self, **fields: Any) -> Self:
        """The same with other fields, unchecked."""
        return self.model_copy(update=fields)


class Painted(BaseCoat):
    """A coat that lays colours of its own on those below."""

    part: ClassVar[bool] = False
    """Its colours come with how much of them is there."""
    whole: ClassVar[bool] = False
    """Its colours are everywhere: laid on as they are, nothing of what is below is seen."""
    mode: MODE = "normal"

    def node(self, below: Node, around: Around) -> Node:
        top, mask = self.top(around), self.mask(around)
        if self.whole and isinstance(top, Node) and self.mode == "normal" and self.strength == 1 and mask is None:
            return top
        return below if top is None else laid_on(below, top, self.mode, self.strength, mask)

    def lies(self, around: Around) -> Node | None:
        top, mask = self.top(around), self.mask(around)
        return within(Node(THERE, {}, (top,)), mask) if self.part and isinstance(top, Node) else mask

    def top(self, around: Around) -> Node | tuple[float, float, float] | None:
        """Its colours, or one linear colour; None where there are none."""
        raise NotImplementedError
