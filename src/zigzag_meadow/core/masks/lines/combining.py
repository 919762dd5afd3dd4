"""Lines that put something else to what is there: take, add, leave out, keep only within, and their kin."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from zigzag_meadow.core.masks import algebra
from zigzag_meadow.core.masks.lines.base import STRENGTH, BaseLine, Family, Maps
from zigzag_meadow.core.masks.sources import Source
from zigzag_meadow.core.nodes.node import Node
from zigzag_meadow.core.nodes.operation import Array, Here, Numbers, by_sample
from zigzag_meadow.core.parts import Edited

__all__ = [
    "Add",
    "Blend",
    "Combining",
    "Difference",
    "KeepWithin",
    "LeaveOut",
    "Multiply",
    "Strongest",
    "Take",
    "Weakest",
    "blended",
    "combined",
]


def _combined(here: Here, numbers: Numbers, before: Array, line: Array) -> Array:
    return algebra.combine(before, line, numbers["verb"], numbers["strength"])


def _blended(here: Here, numbers: Numbers, before: Array, line: Array, by: Array) -> Array:
    return algebra.blend(before, line, by, numbers["strength"])


LITTLE, MOST = 0.1, 0.9
"""Shares of the ground that bands of new lines hold."""
COMBINE = by_sample("combine", _combined)
BLEND = by_sample("blend", _blended)


def combined(verb: str, strength: float, before: Node, taken: Node) -> Node:
    """``taken`` put to what was ``before`` with a verb of :func:`zigzag_meadow.core.masks.algebra.combine`."""
    if verb == "take" and strength == 1:
        return taken
    return Node(COMBINE, {"verb": verb, "strength": strength}, (before, taken))


def blended(before: Node, towards: Node, by: Node, strength: float = 1.0) -> Node:
    """From ``before`` ``towards`` something else where ``by`` says so."""
    return Node(BLEND, {"strength": strength}, (before, towards, by))


class Combining(BaseLine):
    """A line that reads one thing and puts it to what is there."""

    family: ClassVar[Family] = "combine"
    source: Annotated[Source, Edited("source", "What is read", start="band")]
    strength: STRENGTH = 1.0

    def node(self, before: Node, maps: Maps) -> Node:
        return combined(self.verb, self.strength, before, maps.source(self.source))

    @property
    def needs_source(self) -> bool:
        return True


class Take(Combining):
    title, hint, brings = "Take", "ground by a reading, a mask, a drawn line", True
    sentence = "**Take** {source} at {strength}"
    verb: Literal["take"] = "take"


class Add(Combining):
    title, hint, brings, holds = "Add", "lay more on, up to full", True, LITTLE
    sentence = "**Add** {source} at {strength}"
    verb: Literal["add"] = "add"


class LeaveOut(Combining):
    title, hint, holds = "Leave out", "where something else is strong", LITTLE
    sentence = "**Leave out** {source} at {strength}"
    verb: Literal["leave_out"] = "leave_out"


class KeepWithin(Combining):
    title, hint, keeps, holds = "Keep only within", "what something else holds", True, MOST
    sentence = "**Keep only within** {source} at {strength}"
    verb: Literal["keep_within"] = "keep_within"


class Strongest(Combining):
    title, hint, brings, holds = "Strongest of", "this and something else", True, LITTLE
    sentence = "**Strongest of** this and {source} at {strength}"
    verb: Literal["strongest"] = "strongest"


class Weakest(Combining):
    title, hint, keeps, holds = "Weakest of", "this and something else", True, MOST
    sentence = "**Weakest of** this and {source} at {strength}"
    verb: Literal["weakest"] = "weakest"


class Multiply(Combining):
    title, hint, keeps = "Multiply", "by a reading, a mask or a number", True
    sentence = "**Multiply** by {source} at {strength}"
    verb: Literal["multiply"] = "multiply"
    source: Annotated[Source, Edited("source", "What is read", start="mapped")]


class Difference(Combining):
    title, hint, brings, holds = "Difference", "where this and something else disagree", True, LITTLE
    sentence = "**Difference** to {source} at {strength}"
    verb: Literal["difference"] = "difference"


class Blend(Combining):
    title, hint, brings = "Blend by", "towards something else where a map says so", True
    sentence = "**Blend** towards {source} by {by} at {strength}"
    verb: Literal["blend"] = "blend"
    source: Annotated[Source, Edited("source", "What is read", start="full")]
    by: Annotated[Source, Edited("source", "What it is blended by", start="mapped")]

    def node(self, before: Node, maps: Maps) -> Node:
        return blended(before, maps.source(self.source), maps.source(self.by), self.strength)
