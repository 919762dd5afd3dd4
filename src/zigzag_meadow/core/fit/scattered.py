"""Lists of points, read back."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
import orjson
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile
from zigzag_meadow.core.fit.listed import digest
from zigzag_meadow.core.fit.report import Fact, MapState
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.targets.note import FileNote

__all__ = ["check_points_file", "read_points"]

F64 = NDArray[np.float64]
FIELDS = 5
MOST = 512 * 2**20
WRITTEN = 6e-4
"""Metres: points are written with three digits."""


def read_points(path: Path, file: FileNote) -> F64:
    """float64 (n, 5): metres east, north and up, size, degrees. Raises :class:`BadFile`."""
    if path.stat().st_size > MOST or file.reads not in _READERS:
        raise BadFile(f"{file.file} is no list of points that can be read. Deliver again.")
    with decoding(file.file, "a list of points"):
        found = _READERS[file.reads](path)
    if found.ndim != 2 or found.shape[1] != FIELDS:
        raise BadFile(f"{file.file} does not hold {FIELDS} numbers a point. Deliver again.")
    return found


def _csv(path: Path) -> F64:
    with path.open("rb") as stream:
        if stream.readline().count(b",") != FIELDS - 1:
            raise ValueError("another number of columns")
        # A list without a point is one, too.
        lines = stream.readlines()
    found = np.loadtxt(lines, np.float64, delimiter=",", ndmin=2) if lines else np.empty(0)
    return found.reshape(-1, FIELDS)


def _geojson(path: Path) -> F64:
    made = [
        (*item["geometry"]["coordinates"], item["properties"]["size"], item["properties"]["turn"])
        for item in orjson.loads(path.read_bytes())["features"]
    ]
    return np.array(made, np.float64).reshape(-1, FIELDS)


def _ply(path: Path) -> F64:
    data = path.read_bytes()
    end = data.index(b"end_header\n") + len(b"end_header\n")
    return np.frombuffer(data[end:], "<f4").astype(np.float64).reshape(-1, FIELDS)


_READERS: dict[str, Callable[[Path], F64]] = {"csv": _csv, "geojson": _geojson, "ply": _ply}


def check_points_file(run: Run, file: FileNote) -> None:
    """Read a list of points back and hold it against its count, its extent, the heights and the project."""
    run.report.files += 1
    path = run.rehearsal.folder / Path(file.file).name
    before = len(run.report.findings)
    found: F64 | None = None
    try:
        if path.is_file():
            found = read_points(path, file)
            _check(run, file, path, found)
        else:
            run.say("missing-file", file.file, f"{file.file} is missing.", title="Missing")
    except (BadFile, OSError) as error:
        text = error.message if isinstance(error, BadFile) else f"{file.file} cannot be read: {error.strerror}."
        run.say("unreadable", file.file, text, title="Unreadable")
    wrong = len(run.report.findings) > before
    many = 0 if found is None else len(found)
    words = f"{many} points, each where it was meant" if run.truth is not None else f"{many} points, as delivered"
    run.report.maps.append(
        MapState(
            file.of,
            file.title,
            "points",
            (file.file,),
            "unread" if found is None else "wrong" if wrong else "exact",
            "see the finding" if wrong else words,
            "samples" if run.truth is not None else "manifest",
        )
    )
    run.report.facts.append(
        Fact("Points", not wrong, f"{many}", f"{file.title}: {'read back' if not wrong else 'off'}")
    )


def _check(run: Run, file: FileNote, path: Path, found: F64) -> None:
    listed = run.rehearsal.listing.files.get(file.file)
    if not np.isfinite(found).all():
        run.say("not-numbers", file.file, f"{file.file} holds points that are no numbers.", title="No numbers")
        return
    if file.count is not None and len(found) != file.count:
        run.say(
            "count",
            file.file,
            f"{file.file} holds {len(found)} points, {file.count} were delivered.",
            title="Another count",
        )
        return
    if run.truth is not None:
        _compare(run, file, found, run.truth.points(file))
    elif listed is not None and digest(path) != listed.sha256:
        run.say("changed", file.file, f"{file.file} was changed after delivery.", title="Changed")


def _compare(run: Run, file: FileNote, found: F64, meant: F64) -> None:
    if len(found) != len(meant):
        run.say(
            "count",
            file.file,
            f"{file.file} holds {len(found)} points, the project {len(meant)}.",
            title="Another count",
        )
        return
    apart = found - meant
    # Directions are written with one digit in one format.
    slack = WRITTEN + np.abs(meant) * 2e-7
    off = np.abs(apart[:, :4]) > slack[:, :4]
    turned = np.abs((apart[:, 4] + 180) % 360 - 180) > 0.06
    if not off.any() and not turned.any():
        return
    many = int((off.any(axis=1) | turned).sum())
    moved = apart[:, :3]
    middle = np.median(moved, axis=0)
    together = bool((np.abs(moved - middle) <= 2 * slack[:, :3]).all())
    if together and np.abs(middle).max() > WRITTEN:
        east, north, up = middle
        text = (
            f"{file.file}: all points lie {east:+.3g} m east, {north:+.3g} m north and {up:+.3g} m up of their places."
        )
        run.say("shifted", file.file, text, title="Not in their places")
    else:
        worst = float(np.abs(moved).max())
        run.say(
            "changed",
            file.file,
            f"{file.file}: {many} of {len(found)} points are not where they were meant, by up to {worst:.3g} m.",
            title="Changed",
        )
