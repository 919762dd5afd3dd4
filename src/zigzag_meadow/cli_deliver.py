"""Commands that deliver, check and list targets."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, errors, fail, print_out, with_progress
from zigzag_meadow.core.errors import BadNumber, MeadowError
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.foreign.align import align as find_alignment
from zigzag_meadow.core.fit.foreign.bringing import height_of, planes_of
from zigzag_meadow.core.fit.page import fit_page, verdict
from zigzag_meadow.core.fit.report import FitReport
from zigzag_meadow.core.fit.typed import Typed
from zigzag_meadow.core.formats.writing.forms import forms_table
from zigzag_meadow.core.project.ops_delivery import SetTarget
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.core.targets.catalogue import built_in, read_target
from zigzag_meadow.core.targets.editing import rule_sentences, targets_table
from zigzag_meadow.core.targets.model import Target
from zigzag_meadow.pipeline import Pipeline, open_project
from zigzag_meadow.watching import Watched

__all__ = ["align", "deliver", "fit", "targets"]

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


@app.command()
def deliver(
    project: Path,
    out: Annotated[Path, typer.Option(help="A folder; files there that are not ours are left alone")],
    target: Annotated[str | None, typer.Option(help="The id of a target; the project's when left out")] = None,
    target_file: Annotated[Path | None, typer.Option(help="A target in a JSON file")] = None,
    size: Annotated[int | None, typer.Option(help="Samples on the longer side, instead of the project's")] = None,
    only: Annotated[list[str], typer.Option(help="Of the items these alone: height, sheet:ID …")] = [],  # noqa: B006
    heightmap: Annotated[Path | None, typer.Option(help="A heightmap instead of the project's")] = None,
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
                    pipeline.replace_heightmap(heightmap)
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
                    errors.print(f"zigzag: {message}", markup=False, highlight=False)
    except KeyboardInterrupt:
        raise typer.Exit(0) from None


def _typed(file: Path | None) -> Typed | None:
    """What was typed at the target, from a JSON file."""
    return None if file is None else Typed.model_validate_json(file.read_bytes())


@app.command()
def fit(
    folder: Path,
    project: Annotated[Path | None, typer.Option(help="Compare in full with this project file")] = None,
    typed: Annotated[
        Path | None, typer.Option(help="A JSON file: numbers typed in place of the note's, settings, places read off")
    ] = None,
    page: Annotated[Path | None, typer.Option(help="Also write a page to print or send (HTML)")] = None,
    as_json: AsJson = False,
) -> None:
    """Read a delivery back as its target would. Exit code 0: fits; 1: findings; 2: wrong use."""
    try:
        with tempfile.TemporaryDirectory(prefix="zigzag-fit-") as place:
            report = _checked(folder, project, _typed(typed), Path(place), as_json)
            if page is not None:
                made = fit_page(report.as_json(), folder.resolve().name, None, Path(place))
                page.write_text(made, encoding="utf-8")
    except TROUBLES as error:
        fail(error, as_json)
    lines = [f"{'ok ' if fact.good else 'NOT'} {fact.title}: {fact.result}, {fact.detail}" for fact in report.facts]
    lines += [f"{item.severity}: {item.message} {item.fix}" for item in report.findings]
    lines.append(verdict(report.as_json()))
    print_out(report.as_json(), lines, as_json)
    raise typer.Exit(0 if report.fits else 1)


def _checked(folder: Path, project: Path | None, typed: Typed | None, place: Path, as_json: bool) -> FitReport:
    def keep(name: str, values: Any) -> None:
        np.save(place / f"{name}.npy", values)

    made: list[FitReport] = []

    def work(tell: Callable[[float, str], None]) -> list[str]:
        if project is None:
            made.append(check_delivery(folder, typed=typed, progress=tell, keep=keep))
        else:
            with open_project(project) as pipeline:
                made.append(pipeline.fit(folder, typed=typed, progress=tell, keep=keep))
        return []

    with_progress(as_json, work)
    return made[0]


@app.command()
def align(height: Path, map: Path, as_json: AsJson = False) -> None:
    """How a map lies on a height: orientation, scale, shift and how sure that is. Exit code 0: they belong together; 1:
    they do not; 2: wrong use."""
    try:
        found = find_alignment(height_of(height, height.name), planes_of(map, map.name), stripes=Stripes())
    except TROUBLES as error:
        fail(error, as_json)
    lines = [found.says]
    if found.belong:
        lines.append(f"Put it right: {found.cure}.")
        lines.append(f"It covers {found.across:.4f} × {found.down:.4f} of the height,")
        lines.append(f"{found.left:.4f} from its western and {found.top:.4f} from its northern border;")
        lines.append(f"{found.scale[1]:.4f} × {found.scale[0]:.4f} samples of the height are one of the map.")
        if found.same_kind is not None:
            factor, offset, share = found.same_kind
            lines.append(f"Both are heights: stored there = {factor:.6g} × stored here + {offset:.6g} ({share:.2%}).")
    lines.append(f"Confidence {found.confidence:.2f}.")
    print_out(found.as_json(), lines, as_json)
    raise typer.Exit(0 if found.belong else 1)


@app.command()
def targets(
    check: Annotated[Path | None, typer.Option(help="A target in a JSON file, to be checked")] = None,
    formats: Annotated[bool, typer.Option(help="List formats instead")] = False,
    as_json: AsJson = False,
) -> None:
    """List every target, or check one from a file."""
    try:
        if check is not None:
            found = read_target(check, check.name)
            lines = [
                f"{found.title}: {found.sentence}",
                *(f"  {title}: {text}" for title, text in rule_sentences(found)),
            ]
            print_out(_plain(found), [*lines, "It holds together."], as_json)
            return
    except TROUBLES as error:
        fail(error, as_json)
    if formats:
        print_out({"formats": forms_table()}, [forms_table()], as_json)
        return
    print_out({"targets": [_plain(item) for item in built_in()]}, [targets_table(built_in())], as_json)


def _plain(item: Target) -> dict[str, Any]:
    return {"id": item.id, "title": item.title, "sentence": item.sentence, "rules": dict(rule_sentences(item))}
