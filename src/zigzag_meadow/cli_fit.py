"""``zigzag fit`` and ``zigzag align``."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, fail, print_out, with_progress
from zigzag_meadow.core.fit.check import check_delivery
from zigzag_meadow.core.fit.foreign.align import align as find_alignment
from zigzag_meadow.core.fit.foreign.bringing import height_of, planes_of
from zigzag_meadow.core.fit.page import fit_page, verdict
from zigzag_meadow.core.fit.report import FitReport
from zigzag_meadow.core.fit.typed import Typed
from zigzag_meadow.core.stripes import Stripes
from zigzag_meadow.pipeline import open_project

__all__ = ["align", "fit"]


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
