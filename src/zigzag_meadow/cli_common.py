"""What all commands of ``zigzag`` share: the application, errors as sentences, progress."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from typing import Annotated, Any, NoReturn

import typer

from zigzag_meadow.core.errors import BadNumber, MeadowError, TooLarge
from zigzag_meadow.core.formats.names import safe_file_name

__all__ = ["TROUBLES", "AsJson", "app", "fail", "print_out", "say", "with_progress"]

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_enable=False, rich_markup_mode=None)
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON for scripts.")]


def _told(error: Exception) -> tuple[str, str]:
    """(code, sentence) of what a command may end with; anything else is a mistake of ours and shows as one."""
    if isinstance(error, MeadowError):
        return error.code, error.message
    if isinstance(error, OSError):
        return "file-system", f"{error.strerror or error}: {safe_file_name(str(error.filename))}"
    if isinstance(error, MemoryError):
        return TooLarge.code, "This needs more memory than there is. Ask for fewer samples."
    from pydantic import ValidationError  # only here: what is refused waits for it, nothing else does

    from zigzag_meadow.core.project.model.wrong import told

    if isinstance(error, ValidationError):
        return BadNumber.code, told(error, "What was said").message
    raise error


# What a model refuses is a ValueError, too; any other one is raised again by :func:`_told`.
TROUBLES = (MeadowError, OSError, ValueError, MemoryError)
"""What every command tells in a sentence, with exit code 2."""


def say(message: str) -> None:
    """A sentence beside what is printed."""
    print(f"zigzag: {message}", file=sys.stderr, flush=True)


def fail(error: Exception, as_json: bool) -> NoReturn:
    code, message = _told(error)
    if as_json:
        print(json.dumps({"error": code, "message": message}))
    else:
        say(message)
    raise typer.Exit(2)


def print_out(data: dict[str, Any], lines: list[str], as_json: bool) -> None:
    print(json.dumps(data, indent=2) if as_json else "\n".join(lines))


def with_progress(as_json: bool, work: Callable[[Callable[[float, str], None]], list[str]]) -> list[str]:
    if as_json or not sys.stderr.isatty():
        return work(lambda share, text: None)
    from rich.console import Console  # only here: nobody waits for it who sees no bar
    from rich.progress import BarColumn, Progress, TextColumn, TimeRemainingColumn

    columns = (TextColumn("{task.description}"), BarColumn(), TimeRemainingColumn())
    with Progress(*columns, console=Console(stderr=True)) as bar:
        task = bar.add_task("", total=1.0)
        return work(lambda share, text: bar.update(task, completed=share, description=text))
