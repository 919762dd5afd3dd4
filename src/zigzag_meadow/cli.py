"""``zigzag``: what is typed leads to the module of its command."""

from __future__ import annotations

import sys
from importlib import import_module

import typer

from zigzag_meadow.cli_common import app

__all__ = ["load", "main"]

COMMANDS = ("cli_maps", "cli_deliver", "cli_serve")
"""Modules that register their commands by being there, in the order in which help tells them."""


def load(only: str | None = None) -> typer.Typer:
    """All commands, or only those of one module."""
    for name in COMMANDS:
        if only in (None, name):
            import_module(f"zigzag_meadow.{name}")
    return app


@app.callback()
def _zigzag() -> None:
    """Maps for terrain textures, from a heightmap to files that line up."""


def main() -> None:
    """Entry point of ``zigzag``."""
    # Names that are not UTF-8 must not break printing them.
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")
    load("cli_serve" if sys.argv[1:2] == ["serve"] else None)()


if __name__ == "__main__":
    main()
