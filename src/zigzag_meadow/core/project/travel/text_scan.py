"""Reading a sentence from left to right; what is not as expected is told with its place."""

from __future__ import annotations

import json
import math
import re
from typing import Any, Literal

from zigzag_meadow.core.errors import BadText

__all__ = ["Scan", "phrases"]

_NUMBER = re.compile(r"[-−+]?\d{1,15}(?:\.\d{1,15})?(?:e[-+]?\d{1,3})?", re.IGNORECASE)
_PHRASE = re.compile(r"(\*\*[^*]+\*\*|\{[a-z_]+\})")


def phrases(sentence: str) -> list[tuple[Literal["text", "slot"], str]]:
    """A sentence of the catalogue as words and the names of its slots, in order."""
    found: list[tuple[Literal["text", "slot"], str]] = []
    for part in _PHRASE.split(sentence):
        if part.startswith("{"):
            found.append(("slot", part[1:-1]))
        elif part:
            found.append(("text", part.strip("*")))
    return found


def _finite(text: str) -> float:
    """A number of JSON; what stands for none, and what is larger than any, is as wrong as a missing brace."""
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(text)
    return value


class Scan:
    """One sentence, line ``number`` of a text; ``at``: how far it was read."""

    def __init__(self, text: str, number: int) -> None:
        self._text = text
        self._number = number
        self.at = 0
        self._skip()

    def _skip(self) -> None:
        while self.at < len(self._text) and self._text[self.at].isspace():
            self.at += 1

    def wrong(self, why: str, at: int | None = None) -> BadText:
        """The error at a place, by default where it was read to."""
        place = self.at if at is None else at
        column = place + 1
        near = self._text[place : place + 24] or "the end of the line"
        return BadText(f"Line {self._number}, column {column}, at “{near}”: {why}.", line=self._number, column=column)

    def maybe(self, words: str) -> bool:
        """Whether these words come next, whatever the space between them; they are read if so."""
        parts = [re.escape(part) for part in words.split()]
        found = re.compile(r"\s*".join(parts), re.IGNORECASE).match(self._text, self.at)
        if found is None:
            return False
        end = found.end()
        # A word ends where another character of its kind does not follow.
        if words[-1:].isalnum() and end < len(self._text) and self._text[end].isalnum():
            return False
        self.at = end
        self._skip()
        return True

    def word(self, words: str) -> None:
        """These words. Raises :class:`BadText`."""
        if not self.maybe(words):
            raise self.wrong(f"“{words}” is expected here")

    def one_of(self, words: list[str]) -> str:
        """One of several; the longest that fits. Raises :class:`BadText`."""
        for option in sorted(words, key=len, reverse=True):
            if self.maybe(option):
                return option
        raise self.wrong("one of these is expected here: " + ", ".join(words))

    def number(self) -> float:
        """A number. Raises :class:`BadText`."""
        found = _NUMBER.match(self._text, self.at)
        if found is None:
            raise self.wrong("a number is expected here")
        self.at = found.end()
        self._skip()
        value = float(found.group().replace("−", "-"))
        if not math.isfinite(value):
            raise self.wrong("this number is larger than any that is taken", found.start())
        return value

    def quoted(self) -> str:
        """A name in double quotes. Raises :class:`BadText`."""
        if not self._text.startswith('"', self.at):
            raise self.wrong("a name in double quotes is expected here")
        value, end = self._json_at(self.at)
        self.at = end
        self._skip()
        return str(value)

    def json(self) -> dict[str, Any]:
        """An object of further fields, where there is one. Raises :class:`BadText`."""
        if not self._text.startswith("{", self.at):
            return {}
        value, end = self._json_at(self.at)
        self.at = end
        self._skip()
        return dict(value)

    def _json_at(self, at: int) -> tuple[Any, int]:
        try:
            return json.JSONDecoder(parse_float=_finite, parse_constant=_finite).raw_decode(self._text, at)
        except (ValueError, RecursionError):
            raise self.wrong("this is not closed, or not as it should be", at) from None

    def note(self) -> str:
        """What stands after ``#``; nothing else may be left. Raises :class:`BadText`."""
        if self._text.startswith("#", self.at):
            return self._text[self.at + 1 :].strip()
        if self.at < len(self._text):
            raise self.wrong("the sentence ends here, but something follows")
        return ""
