"""Documents of earlier versions, brought up to the newest one: one upgrade a version, applied in a row."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

__all__ = ["Data", "Upgrades", "upgraded"]

Data = dict[str, Any]
Upgrades = Mapping[int, Callable[[Data], Data]]


def upgraded(data: Any, upgrades: Upgrades, field: str = "version") -> Any:
    """``data`` (plain JSON) after all ``upgrades`` that its version, in ``field``, still needs; anything that is no
    document of an earlier version as it is."""
    while isinstance(data, dict) and type(data.get(field)) is int and data[field] in upgrades:
        version = data[field]
        data = {**upgrades[version](data), field: version + 1}
    return data
