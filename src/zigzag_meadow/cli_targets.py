"""``zigzag targets``."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from zigzag_meadow.cli_common import TROUBLES, AsJson, app, fail, print_out
from zigzag_meadow.core.targets.catalogue import built_in, read_target
from zigzag_meadow.core.targets.editing import rule_sentences, targets_table
from zigzag_meadow.core.targets.model import Target

__all__ = ["targets"]


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
        from zigzag_meadow.core.formats.catalogue import forms_table

        print_out({"formats": forms_table()}, [forms_table()], as_json)
        return
    print_out({"targets": [_plain(item) for item in built_in()]}, [targets_table(built_in())], as_json)


def _plain(item: Target) -> dict[str, Any]:
    return {"id": item.id, "title": item.title, "sentence": item.sentence, "rules": dict(rule_sentences(item))}
