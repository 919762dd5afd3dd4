"""``zigzag inspect``."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, fail, print_out
from zigzag_meadow.cli_looked import Channel, Columns, NoData, Order, Rows, Sample, Skip, looked_at

__all__ = ["inspect"]


@app.command()
def inspect(
    file: Path,
    as_json: AsJson = False,
    rows: Rows = None,
    columns: Columns = None,
    sample: Sample = None,
    byte_order: Order = None,
    skip: Skip = 0,
    channel: Channel = None,
    no_data: NoData = None,
) -> None:
    """Say what a heightmap file is and what is odd about it. A header file (.hdr) beside it is read as well."""
    try:
        file_told = looked_at(file, rows, columns, sample, byte_order, skip, channel, no_data)
    except TROUBLES as error:
        fail(error, as_json)
    data = asdict(file_told)
    lines = [
        f"{file_told.name}: {file_told.format}, {file_told.columns} × {file_told.rows}, {file_told.depth} bits, "
        f"{file_told.low:g} to {file_told.high:g}, {file_told.levels} levels",
        *(f"  {item.severity}: {item.message}" for item in file_told.findings),
    ]
    print_out(data, lines, as_json)
