"""Where files from elsewhere are read: in this process, or wherever its owner has them read."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

__all__ = ["FileReader", "at_once"]


class FileReader(Protocol):
    """Runs ``work(*arguments)``, a function of a module, and returns what it returns or raises what it raises."""

    def __call__(self, work: Callable[..., Any], *arguments: Any, cancel: Callable[[], bool] | None = None) -> Any: ...


def at_once(work: Callable[..., Any], *arguments: Any, cancel: Callable[[], bool] | None = None) -> Any:
    """Read in this process: right for the command line and the worker, which serve nobody else meanwhile."""
    return work(*arguments)
