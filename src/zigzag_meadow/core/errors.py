"""The errors of the core: one root, one class per cause, each with a sentence for the artist.

A message names the value that was wrong and what to do about it. ``code`` is stable and machine-readable;
``field`` is the dotted path of the input that caused it, where there is one.
"""

from __future__ import annotations

__all__ = [
    "BadDocument",
    "BadFile",
    "BadNumber",
    "BadText",
    "Cancelled",
    "Conflict",
    "Cycle",
    "EndedTwice",
    "IllegalSize",
    "MeadowError",
    "NameTaken",
    "NoRoom",
    "NotFound",
    "TooLarge",
    "WrongFormat",
]


class MeadowError(Exception):
    """Root of every error the core raises on purpose."""

    code = "error"

    def __init__(self, message: str, *, field: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.field = field


class BadFile(MeadowError):
    """A file is empty, cut short, damaged or holds values that cannot be heights."""

    code = "bad-file"


class WrongFormat(BadFile):
    """A file is sound but is not of the kind that is needed here."""

    code = "wrong-format"


class TooLarge(MeadowError):
    """A file, image or request is over a stated limit."""

    code = "too-large"


class NoRoom(MeadowError):
    """The disk is full or may not be written."""

    code = "disk-full"


class EndedTwice(MeadowError):
    """Work that ended the whole process more than once."""

    code = "ended-twice"


class BadNumber(MeadowError):
    """A number is outside what it can mean."""

    code = "bad-number"


class BadDocument(MeadowError):
    """A project document does not hold together."""

    code = "bad-document"


class Cycle(BadDocument):
    """Maps read each other in a circle."""

    code = "cycle"


class NameTaken(MeadowError):
    """Two things of one kind would have the same name."""

    code = "name-taken"


class NotFound(MeadowError):
    """A name or id stands for nothing."""

    code = "not-found"


class IllegalSize(MeadowError):
    """A size is not one the target takes."""

    code = "illegal-size"


class Conflict(MeadowError):
    """An edit was made on a state that is no longer the newest."""

    code = "conflict"


class Cancelled(MeadowError):
    """The caller asked for the work to stop."""

    code = "cancelled"

    def __init__(self, message: str = "Stopped as asked.") -> None:
        super().__init__(message)


class BadText(MeadowError):
    """A recipe as text cannot be understood; ``line`` and ``column`` (from 1) say where."""

    code = "bad-text"

    def __init__(self, message: str, *, line: int, column: int) -> None:
        super().__init__(message, field="text")
        self.line = line
        self.column = column
