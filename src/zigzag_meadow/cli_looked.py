"""How a heightmap is named on the command line, and looked at."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Annotated, Any

import typer

from zigzag_meadow.core.errors import BadNumber
from zigzag_meadow.core.formats.header import header_beside
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.raw import BYTES
from zigzag_meadow.core.ground.diagnose import Inspection, inspect_file

__all__ = ["Channel", "Columns", "NoData", "Order", "Rows", "Sample", "Skip", "looked_at"]

Rows = Annotated[int | None, typer.Option(help="Rows of a raw file.")]
Columns = Annotated[int | None, typer.Option(help="Columns of a raw file.")]
Sample = Annotated[str | None, typer.Option(help=f"Sample type of a raw file: {', '.join(BYTES)}")]
Order = Annotated[str | None, typer.Option("--byte-order", help="Of a raw file: little or big")]
Skip = Annotated[int, typer.Option(help="Bytes to skip at the beginning of a raw file.")]
Channel = Annotated[str | None, typer.Option(help="The channel that holds the heights, where there are several")]
NoData = Annotated[float | None, typer.Option("--no-data", help="The stored value that stands for no height")]


def _one_of(option: str, value: str | None, known: Sequence[str]) -> Any:
    """``value`` if it is one that is known. Raises :class:`BadNumber` with those there are."""
    if value is not None and value not in known:
        raise BadNumber(f"--{option} is one of {', '.join(known)}; got {value!r}.")
    return value


def looked_at(
    file: Path,
    rows: int | None,
    cols: int | None,
    sample: str | None,
    order: str | None,
    skip: int,
    channel: str | None,
    no_data: float | None,
) -> Inspection:
    """What a file holds, read as it is said. Raises :class:`BadNumber`, :class:`BadFile`."""
    layout = Layout(
        rows=rows,
        cols=cols,
        byte_order=_one_of("byte-order", order, ("little", "big")),
        header=skip,
        sample=_one_of("sample", sample, tuple(BYTES)),
        channel=channel,
        nodata=no_data,
    )
    return inspect_file(file, layout=layout, header=header_beside(file))
