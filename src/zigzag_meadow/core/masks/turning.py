"""From places of the prepared ground, on which things are drawn, to places of the ground at an earlier step."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

__all__ = ["UNTURNED", "Turning"]


@dataclass(frozen=True, slots=True)
class Turning:
    """East and south of a place become ``east`` and ``south``: (per metre east, per metre south, and so many metres
    more). Ground is cut, turned and mirrored, but never stretched."""

    east: tuple[float, float, float] = (1.0, 0.0, 0.0)
    south: tuple[float, float, float] = (0.0, 1.0, 0.0)

    def one(self, east: float, south: float) -> tuple[float, float]:
        a, b, c = self.east
        d, e, f = self.south
        return a * east + b * south + c, d * east + e * south + f

    def all(self, places: Iterable[tuple[float, float]]) -> list[tuple[float, float]]:
        return [self.one(east, south) for east, south in places]

    @property
    def numbers(self) -> list[float]:
        """For a node that depends on it."""
        return [*self.east, *self.south]


UNTURNED = Turning()
