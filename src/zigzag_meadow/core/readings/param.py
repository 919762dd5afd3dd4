"""A number or a choice that a reading takes, its default and its bounds on a ground at hand."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.names import is_checksum
from zigzag_meadow.core.grid import Grid

__all__ = ["Param", "Value"]

Value = float | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Param:
    """A number or a choice that a reading takes.

    ``of`` says what ``default`` counts: itself, home spacings, or the ground's longer side; so that a default means
    the same on every ground. ``choices`` are (value, title); a parameter that has them is no number. *map*: the name
    of a mask or reading, or empty. *file*: the SHA-256 of a stored file, or empty. *picture*: the id of a reading that
    lays a picture, or empty. *colour*: ``#rrggbb``.
    """

    name: str
    title: str
    unit: str = ""
    default: Value = 0.0
    low: float = 0.0
    high: float = 0.0
    step: float = 1.0
    decimals: int = 0
    of: Literal["", "spacing", "extent", "area"] = ""
    kind: Literal["number", "choice", "map", "file", "picture", "colour"] = "number"
    choices: tuple[tuple[str, str], ...] = ()

    def default_on(self, home: Grid) -> Value:
        """The default on a ground with this home grid, rounded to two digits where it is measured."""
        if isinstance(self.default, str) or self.of == "":
            return self.default
        low, high = self.bounds(home)
        raw = (
            self.default
            * {
                "spacing": max(home.dy, home.dx),
                "extent": max(home.width, home.length),
                "area": home.width * home.length,
            }[self.of]
        )
        return min(max(raw if self.of == "spacing" else float(f"{raw:.2g}"), low), high)

    def checked(self, value: object, home: Grid, where: str) -> Value:
        """``value`` if it can be taken. Raises :class:`BadNumber` naming the value and what it must be."""
        if self.kind == "choice":
            known = [v for v, _ in self.choices]
            if value not in known:
                raise BadNumber(
                    f"{where}: {self.title} must be one of {', '.join(known)}, got {value}.", field=self.name
                )
            return str(value)
        if self.kind == "map":
            if not isinstance(value, str):
                raise BadNumber(f"{where}: {self.title} must name a map, got {value}.", field=self.name)
            return value
        if self.kind == "picture":
            if not isinstance(value, str) or not re.fullmatch(r"[a-z0-9_-]{0,60}", value):
                raise BadNumber(f"{where}: {self.title} must be a reading that lays a picture.", field=self.name)
            return value
        if self.kind == "colour":
            if not isinstance(value, str) or not re.fullmatch(r"#[0-9a-f]{6}", value):
                raise BadNumber(
                    f"{where}: {self.title} must be a colour such as #7a8450, got {value}.", field=self.name
                )
            return value
        if self.kind == "file":
            if not isinstance(value, str) or (value and not is_checksum(value)):
                raise BadNumber(f"{where}: {self.title} must name a stored file by its checksum.", field=self.name)
            return value
        if isinstance(value, bool) or not isinstance(value, int | float):
            raise BadNumber(f"{where}: {self.title} must be a number, got {value}.", field=self.name)
        low, high = self.bounds(home)
        if not low * (1 - 1e-6) <= value <= high * (1 + 1e-6):
            raise BadNumber(
                f"{where}: {self.title} must be {low:g} to {high:g} {self.unit}".rstrip() + f", got {value:g}.",
                field=self.name,
            )
        return float(value)

    def bounds(self, home: Grid) -> tuple[float, float]:
        """Least and most; lengths counted in spacings begin at the home spacing."""
        if self.of in ("spacing", "extent"):
            spacing = max(home.dy, home.dx)
            return spacing, max(self.high, 4 * spacing)
        return self.low, self.high
