"""The parts of a map's name: how each is read, refused and written."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from zigzag_meadow.core.errors import NotFound

__all__ = ["COUNT", "HOW", "ID", "IDS", "LETTER", "OTHERWISE", "Distance", "Part"]

Distance = Literal["near", "middle", "far"]
"""From how far away a colour is seen."""

_ID = re.compile(r"[a-z0-9_-]{1,80}")


@dataclass(frozen=True, slots=True)
class Part:
    """How one part of a name is read and written; ``ts``: its type on the pages."""

    read: Callable[[str], Any]
    ts: str
    write: Callable[[Any], str] = str


def _id(text: str) -> str:
    if not _ID.fullmatch(text):
        raise NotFound(f"A map's name has an id here, got {text[:40]!r}.", field="name")
    return text


def _count(text: str) -> int:
    # More than is counted anywhere, and far from what text and numbers cannot be turned into each other at.
    if not (text.isascii() and text.isdigit() and len(text) < 7):
        raise NotFound(f"A map's name has a count here, got {text[:40]!r}.", field="name")
    return int(text)


def _one_of(what: str, *words: str) -> Part:
    def read(text: str) -> str:
        if text not in words:
            raise NotFound(f"{what} is {', '.join(words[:-1])} or {words[-1]}, got {text[:40]!r}.", field="name")
        return text

    return Part(read, " | ".join(f'"{word}"' for word in words))


def _otherwise(text: str) -> bool:
    if text != "otherwise":
        raise NotFound(f"A picture is shown as it is or otherwise, got {text[:40]!r}.", field="name")
    return True


ID, COUNT = Part(_id, "string"), Part(_count, "number")
IDS = Part(lambda text: tuple(_id(part) for part in text.split("+")), "string[]", "+".join)
LETTER = _one_of("A channel", "r", "g", "b", "a")
HOW = _one_of("Grounds are put together by", "sum", "chain")
OTHERWISE = Part(_otherwise, "true", lambda _: "otherwise")
