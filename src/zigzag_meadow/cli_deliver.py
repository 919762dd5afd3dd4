"""``zigzag deliver``."""

from __future__ import annotations

import time
from collections.abc import Callable
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, fail, print_out, say, with_progress
from zigzag_meadow.core.errors import BadNumber, MeadowError
from zigzag_meadow.core.project.edits.ops_delivery import SetTarget
from zigzag_meadow.core.targets.catalogue import read_target
from zigzag_meadow.pipeline import Pipeline, open_project
from zigzag_meadow.watching import Watched

__all__ = ["deliver"]

LOOKS_EVERY = 0.5


def _own(pipeline: Pipeline, file: Path | None) -> None:
    """Put a target from a file among the project's own, and choose it."""
    if file is None:
        return
    wanted = read_target(file, file.name)
    pipeline.change(SetTarget(target=wanted))
    pipeline.aim(wanted.id)


def _delivered(pipeline: Pipeline, out: Path, only: list[str], overwrite: bool, as_json: bool) -> None:
    files = with_progress(
        as_json, lambda tell: pipeline.deliver(out, only=only or None, overwrite=overwrite, progress=tell)
    )
    print_out({"out": str(out), "files": files}, [f"{out}:", *(f"  {name}" for name in files)], as_json)


def _pairs(given: list[str]) -> list[tuple[str, Path]]:
    made = [tuple(text.partition("=")[::2]) for text in given]
    if any(not name or not file for name, file in made):
        raise BadNumber("--picture takes READING=FILE, such as Aerial=aerial.png.")
    return [(name, Path(file)) for name, file in made]


class Hold(StrEnum):
    """What keeps its metres under another heightmap: all stored codes, or the lowest and highest sample."""

    codes = "codes"
    ends = "ends"


@app.command()
def deliver(
    project: Path,
    out: Annotated[Path, typer.Option(help="A folder; files there that are not ours are left alone")],
    target: Annotated[str | None, typer.Option(help="The id of a target; the project's when left out")] = None,
    target_file: Annotated[Path | None, typer.Option(help="A target in a JSON file")] = None,
    size: Annotated[int | None, typer.Option(help="Samples on the longer side, instead of the project's")] = None,
    only: Annotated[list[str], typer.Option(help="Of the items these alone: height, sheet:ID …")] = [],  # noqa: B006
    heightmap: Annotated[Path | None, typer.Option(help="A heightmap instead of the project's")] = None,
    hold: Annotated[
        Hold | None,
        typer.Option(help="What keeps its metres under another heightmap; as the project has it when left out"),
    ] = None,
    picture: Annotated[list[str], typer.Option(help="READING=FILE: a picture instead of the project's")] = [],  # noqa: B006
    overwrite: Annotated[
        bool, typer.Option(help="Replace files of these names even where somebody else wrote or changed them")
    ] = False,
    watch: Annotated[
        bool, typer.Option(help="Deliver again whenever one of the files changes; Ctrl+C ends it")
    ] = False,
    as_json: AsJson = False,
) -> None:
    """Write every file of a project for a target, with its import note, shading recipe and manifest."""
    try:
        pictures = _pairs(picture)
        files = [project, *([heightmap] if heightmap else []), *(file for _, file in pictures)]
        watched = Watched(files)

        def once() -> None:
            with open_project(project) as pipeline:
                if heightmap is not None:
                    says = pipeline.replace_heightmap(heightmap, None if hold is None else hold.value)
                    say(f"{heightmap.name}: {says}")
                for name, file in pictures:
                    pipeline.replace_picture(name, file)
                _own(pipeline, target_file)
                pipeline.aim(target, size)
                _delivered(pipeline, out, only, overwrite, as_json)

        once()
    except TROUBLES as error:
        fail(error, as_json)
    if watch:
        _again(watched, once)


def _again(watched: Watched, once: Callable[[], None]) -> None:
    """Deliver again after every change that has come to rest; what goes wrong is told, and the next change is waited
    for."""
    try:
        while True:
            time.sleep(LOOKS_EVERY)
            if watched.changed():
                try:
                    once()
                except TROUBLES as error:
                    message = error.message if isinstance(error, MeadowError) else str(error)
                    say(message)
    except KeyboardInterrupt:
        raise typer.Exit(0) from None
