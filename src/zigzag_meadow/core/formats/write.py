"""Write single maps: which form a file's name means, and a map in it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadNumber, WrongFormat
from zigzag_meadow.core.formats.catalogue import form, format_named, forms
from zigzag_meadow.core.formats.declare import Form
from zigzag_meadow.core.formats.writing.raster import Raster
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.rounding import quantise_mask
from zigzag_meadow.core.stripes import Stripes

__all__ = ["form_of_file", "forms_of_file", "mask_form", "mask_forms", "write_map"]


def forms_of_file(path: Path, form_id: str | None = None) -> list[Form]:
    """Forms that a file of this name may have: the one that is asked for, else those whose ending it has.

    Raises :class:`NotFound` for a form that is none, :class:`BadNumber` for one of points and for another ending,
    :class:`WrongFormat` where the ending says nothing.
    """
    suffix = path.suffix.lower()
    if form_id is not None:
        chosen = form(form_id)
        kind = format_named(chosen.reads)
        if chosen.takes != "raster":
            raise BadNumber(f"{chosen.title} holds points, no map.", field="form")
        if suffix not in kind.endings and not chosen.endings:
            raise BadNumber(f"A {chosen.title} file ends in {' or '.join(kind.endings)}, got {path.name!r}.")
        return [chosen]
    every = [one for one in forms() if one.takes == "raster" and not one.world]
    named = [one for one in every if f".{one.ending}" == suffix]
    named = named or [one for one in every if not one.endings and suffix in format_named(one.reads).endings]
    if not named:
        known = ", ".join(dict.fromkeys(f".{one.ending}" for one in every))
        raise WrongFormat(f"{path.name}: a map is written as {known}; or say with --form what the file is.")
    return named


def form_of_file(path: Path, form_id: str | None = None) -> Form:
    """The form of a map of one channel: the one that is asked for, else the finest whose ending the file has.

    Raises what :func:`forms_of_file` raises, and :class:`WrongFormat` where it cannot hold data.
    """
    named = forms_of_file(path, form_id)
    good = [one for one in named if one.losses(["r"], 8, False, "the map") is None]
    if not good:
        raise WrongFormat(f"{named[0].losses(['r'], 8, False, 'the map')} Write it as .png, .tif or .npy.")
    return max(good, key=lambda one: one.bits)


def mask_form(form_id: str) -> Form:
    """A form in which a mask can be sent out, painted in and taken back. Raises :class:`NotFound`, or
    :class:`BadNumber` for other forms."""
    chosen = form(form_id)
    if chosen not in mask_forms():
        raise BadNumber(
            f"A mask is sent out as a picture that comes back as it is; {chosen.title} is none.", field="form"
        )
    return chosen


def mask_forms() -> list[Form]:
    """Every form in which a mask comes back value by value."""
    return [
        one
        for one in forms()
        if one.takes == "raster" and one.data and 1 in one.channels and "mask" in format_named(one.reads).uses
    ]


def write_map(path: Path, values: NDArray[np.float32], grid: Grid, chosen: Form, stripes: Stripes) -> str:
    """Write a float32 map of a grid's (rows, columns). Returns what was written, in words.

    Floats keep the values; whole numbers hold 0–1 over their full scale (masks and weights). Where the form tells of
    places, they are metres from the ground's south-west corner. Raises :class:`WrongFormat` for values that the form
    cannot hold.
    """
    raster = Raster(
        grid.rows,
        grid.cols,
        1,
        chosen.sample,
        packed=False,
        vertex=grid.registration == "vertex",
        spacing=(grid.dy, grid.dx) if chosen.places else (1.0, 1.0),
    )
    samples = _samples(values, chosen)
    with chosen.open(path, raster, stripes) as out:
        out.write(samples)
    return f"{format_named(chosen.reads).title}, {chosen.bits}-bit {'float' if chosen.floats else 'grey'}"


def _samples(values: NDArray[np.float32], chosen: Form) -> NDArray[np.generic]:
    if chosen.floats:
        most = float(np.finfo(np.float16 if chosen.sample == "f16" else np.float32).max)
        if float(np.nanmax(np.abs(values))) > most:
            raise WrongFormat(f"{chosen.title} holds numbers up to {most:g}; the map has larger ones.")
        return values.astype(np.float16 if chosen.sample == "f16" else np.float32, copy=False)
    # Not a number is neither within nor without.
    if not (float(values.min()) >= 0 and float(values.max()) <= 1):
        raise WrongFormat(
            f"{chosen.title} holds 0 to 1 here; write readings in their own unit, and maps with gaps, as .tif or .npy."
        )
    return quantise_mask(values, chosen.bits)
