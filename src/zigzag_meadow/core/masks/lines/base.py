"""What all lines of recipes have in common."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, Any, ClassVar, Literal, Protocol, Self

from pydantic import Field

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.masks.sources import SOURCES, Source
from zigzag_meadow.core.masks.turning import Turning
from zigzag_meadow.core.nodes.ground_nodes import Stage
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.parts import Id, Part, Told, Unit

__all__ = ["AREA", "LENGTH", "SEED", "STRENGTH", "BaseLine", "Family", "Maps", "Pieces", "numbered"]

Family = Literal["combine", "tone", "area", "breakup", "hand", "reuse"]
LENGTH = Annotated[float, Field(ge=0, le=20000)]
AREA = Annotated[float, Field(ge=0, le=1e9)]
SEED = Annotated[int, Field(ge=0, le=999999), Told("Seed", step=1, decimals=0)]
STRENGTH = Annotated[Unit, Told("Strength", "%")]


class Maps(Protocol):
    """What a line may ask of the maps around it while its node is made. ``back``: where what is drawn on the prepared
    ground lies on the ground at hand."""

    back: Turning

    def stage(self) -> Stage:
        """The prepared ground."""

    def source(self, source: Source) -> Node:
        """What is read, 0–1."""

    def begin_empty(self, lines: Sequence[BaseLine]) -> bool:
        """Whether a recipe with these lines starts from nothing."""

    def start(self, lines: Sequence[BaseLine]) -> Node:
        """What a recipe with these lines begins from."""

    def after(self, before: Node, lines: Sequence[BaseLine]) -> Node:
        """What is there after some lines."""

    def piece(self, piece_id: str, numbers: Mapping[str, float]) -> Sequence[BaseLine]:
        """The lines of a piece with numbers in place. Raises :class:`NotFound`."""


class Pieces(Protocol):
    """What a line may ask of the document when it is checked."""

    def check_piece(self, piece_id: str, numbers: Mapping[str, float], place: str) -> None:
        """Raises what is wrong with the use of a piece."""


class BaseLine(Part):
    """A line of a recipe. ``title``, ``family`` and ``hint`` are for choosing; ``sentence`` is how it reads, with its
    numbers in braces.

    Each kind says in its own file what it is called, which numbers it takes and how its node is made; what it is to
    the rest of the application is told by the class variables.
    """

    title: ClassVar[str]
    family: ClassVar[Family]
    hint: ClassVar[str]
    sentence: ClassVar[str]
    brings: ClassVar[bool] = False
    """It brings something: a recipe that begins with it starts from nothing."""
    keeps: ClassVar[bool] = False
    """Of what is there, only what it reads is left."""
    holds: ClassVar[float] = 0.3
    """The share of the ground that a band holds which a new one begins with: what cuts or adds begins with little,
    what keeps with nearly all, so that a mask is neither emptied nor filled by it."""
    bound: ClassVar[bool] = False
    """It belongs to one ground and cannot go to another one with a kit."""
    offered: ClassVar[bool] = True
    """It can be chosen from the list of lines; else something else makes it."""
    in_piece: ClassVar[bool] = True
    """It may be one of the lines of a piece."""
    outside: ClassVar[str] = ""
    """What it is, where it may not be in a piece."""
    verb: str

    id: Id
    muted: bool = False
    note: Annotated[str, Field(max_length=400)] = ""

    def node(self, before: Node, maps: Maps) -> Node:
        """What is there after this line; ``before``: what was."""
        raise NotImplementedError

    def checked(self, place: str, pieces: Pieces) -> None:
        """Raise :class:`BadNumber` where numbers do not go together; ``place`` begins the sentence."""

    def renamed(self, before: Self) -> str | None:
        """What an edit of it is called, where its numbers alone would not tell."""
        return None

    def at_final(self, draft: float) -> str | None:
        """Why it may look different at the delivered size; ``draft``: metres between samples of the draft."""
        return None

    def begins_empty(self, maps: Maps) -> bool:
        """Whether a recipe that begins with it starts from nothing, not from all of the ground."""
        return self.brings

    @property
    def assets(self) -> tuple[str, ...]:
        """Stored files that it reads."""
        return ()

    @property
    def piece_id(self) -> str | None:
        """The piece that it uses."""
        return None

    @property
    def bands(self) -> int | None:
        """Into how many bands it cuts what is there."""
        return None

    def in_band(self, before: Node, band: int) -> Node:
        """1 in one of its bands (from 0)."""
        raise BadNumber(f"{self.title} makes no bands.")

    def sources(self) -> Iterator[tuple[str, Source]]:
        """(field, what is read there) of everything it reads."""
        for name in type(self).model_fields:
            value = getattr(self, name)
            if isinstance(value, SOURCES):
                yield name, value

    @property
    def needs_source(self) -> bool:
        """Whether it cannot do without what it reads."""
        return False

    def changed(self, **fields: Any) -> Self:
        """The same with other fields, unchecked."""
        return self.model_copy(update=fields)


def numbered(line: BaseLine, *names: str) -> dict[str, Any]:
    """Some of a line's numbers by name."""
    return {name: getattr(line, name) for name in names}
