"""``zigzag``: what is typed leads to the module of its command, and nothing else is loaded."""

from __future__ import annotations

import sys
from importlib import import_module

import typer

from zigzag_meadow.cli_common import app

__all__ = ["COMMANDS", "load", "main"]

COMMANDS = {
    "inspect": ("cli_inspect", "Say what a heightmap file is and what is odd about it."),
    "reading": ("cli_maps", "Measure a heightmap: heights as stored, or stretched from --low to --high."),
    "readings": ("cli_readings", "List every reading: unit, range, numbers and what it is good for."),
    "map": ("cli_maps", "Write one map of a project file."),
    "demo": ("cli_maps", "Write the demo project files."),
    "deliver": (
        "cli_deliver",
        "Write every file of a project for a target, with its import note, shading recipe and manifest.",
    ),
    "fit": ("cli_fit", "Read a delivery back as its target would."),
    "align": ("cli_fit", "How a map lies on a height: orientation, scale, shift and how sure that is."),
    "targets": ("cli_targets", "List every target, or check one from a file."),
    "serve": ("cli_serve", "Start the application with its worker; Ctrl+C ends both."),
}
"""Every command in the order in which help tells them: the module that registers it by being there, and what it does,
in the first sentence of its help."""


def load(command: str | None = None) -> typer.Typer:
    """The application with one command, or with all of them."""
    for name, (module, _) in COMMANDS.items():
        if command in (None, name):
            import_module(f"zigzag_meadow.{module}")
    return app


def _overview() -> typer.Typer:
    """The application for its own help, which needs no more of a command than its name and a sentence."""
    told = typer.Typer(no_args_is_help=True, add_completion=False, rich_markup_mode=None)
    told.callback()(_zigzag)
    for name, (_, says) in COMMANDS.items():
        told.command(name, help=says)(_nothing)
    return told


@app.callback()
def _zigzag() -> None:
    """Maps for terrain textures, from a heightmap to files that line up."""


def _nothing() -> None:
    return None


def main() -> None:
    """Entry point of ``zigzag``."""
    # Names that are not UTF-8 must not break printing them.
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")
    first = next(iter(sys.argv[1:]), "--help")
    (load(first) if first in COMMANDS else _overview())()


if __name__ == "__main__":
    main()
