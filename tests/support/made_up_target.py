"""A made-up target and a made-up form, as docs/adding.md says: one data file, and one writer with its line."""

from __future__ import annotations

from pathlib import Path

from zigzag_meadow.core.formats.writing.forms import FORMS, Form
from zigzag_meadow.core.formats.writing.plain import RawWriter
from zigzag_meadow.core.targets import catalogue

FORMS.append(
    Form(
        "hidden16", "Hidden 16", "raw", "hid", "raster", "u16", (1,), "untagged",
        lambda path, told, stripes: RawWriter(path, told),
    )
)  # fmt: skip
catalogue.PLACES.append(Path(__file__).resolve().parents[1] / "samples" / "targets")
