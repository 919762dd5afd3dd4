"""Starting the application: it loads nothing of the core, so that who starts it waits only once."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated

import typer

from zigzag_meadow.cli_common import app, fail
from zigzag_meadow.core.errors import BadNumber, MeadowError, NotFound
from zigzag_meadow.core.formats.names import safe_file_name


def _allowed(folder: Path) -> str:
    """A folder that may be looked into, links resolved. Raises :class:`NotFound`, :class:`BadNumber`."""
    path = folder.resolve()
    if not path.is_dir():
        raise NotFound(f"There is no folder {safe_file_name(folder.name)} to look into.")
    if os.pathsep in str(path):
        raise BadNumber(f"A folder whose name holds {os.pathsep!r} cannot be looked into. Rename it.")
    return str(path)


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Port on this machine")] = 8000,
    host: Annotated[str, typer.Option(help="An address of this machine alone; others are refused")] = "127.0.0.1",
    demo: Annotated[bool, typer.Option(help="Put the demo projects on an empty shelf")] = False,
    folder: Annotated[
        list[Path], typer.Option(help="A folder whose files may be watched as heightmaps; may be said several times")
    ] = [],  # noqa: B006
) -> None:
    """Start the application with its worker; Ctrl+C ends both."""
    try:
        os.environ["ZIGZAG_FOLDERS"] = os.pathsep.join(_allowed(path) for path in folder)
    except MeadowError as error:
        fail(error, False)
    from zigzag_meadow.server.supervise import serve as run  # the command line works without a server otherwise

    raise typer.Exit(run(port, demo, host))
