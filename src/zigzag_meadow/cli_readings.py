"""``zigzag readings``: from a table that is made of the declarations, so that nothing has to be loaded for it."""

from __future__ import annotations

import json
from pathlib import Path

from zigzag_meadow.cli_common import AsJson, app, print_out

__all__ = ["TABLE", "readings"]

TABLE = Path(__file__).parent / "core" / "readings" / "table.json"


@app.command()
def readings(as_json: AsJson = False) -> None:
    """List every reading: unit, range, numbers and what it is good for."""
    told = json.loads(TABLE.read_text("utf-8"))
    print_out({"readings": told["readings"]}, [told["table"].rstrip()], as_json)
