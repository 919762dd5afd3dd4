"""A project file opened without a server."""

from __future__ import annotations

import tempfile
from pathlib import Path

from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.evaluate.cache import TileCache
from zigzag_meadow.core.evaluate.engine import Engine, Evaluation
from zigzag_meadow.core.formats.names import safe_file_name
from zigzag_meadow.core.map_name import MapName, named_by_title
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.archive import open_archive
from zigzag_meadow.core.stripes import Stripes

__all__ = ["Opened", "ids_in"]


class Opened:
    """An open project file, ready to evaluate; closes with the context."""

    def __init__(self, path: Path) -> None:
        self._folder = tempfile.TemporaryDirectory(prefix="zigzag-")
        self.stripes = Stripes()
        place = self._place = Path(self._folder.name)
        with path.open("rb") as file:
            opened = open_archive(file, place, safe_file_name(path.name))
        self.project = opened.project
        self.engine = Engine(
            self.stripes, TileCache(384 * 2**20), lambda key: place / key, crew=Crew(self.stripes.threads - 1)
        )

    def __enter__(self) -> Opened:
        return self

    def __exit__(self, *_: object) -> None:
        self.stripes.close()
        self._folder.cleanup()

    def asset(self, asset: str) -> Path:
        """Where a file of the project lies, by its checksum."""
        return self._place / asset

    def evaluation(self, project: Project | None = None) -> Evaluation:
        return self.engine.evaluation(project or self.project)


def ids_in(project: Project, text: str) -> MapName:
    """A map's name, in which things may be called by their names: they are looked up only here, at the edge.

    Raises :class:`NotFound` with what there is.
    """
    layers = [(item.name, item.id) for item in project.layers]
    masks = [(m.name, m.id) for m in project.masks]
    things: dict[str, list[tuple[str, str]]] = {
        "mask": masks,
        "band": masks,
        "final": masks,
        "weight": [*((item.name, item.id) for item in project.outcomes), *layers],
        "strength": layers,
        "layers": layers,
        "sheet": [(s.name, s.id) for s in project.sheets],
        "scatter": [(s.name, s.id) for s in project.scatters],
    }

    def found(kind: str, called: str) -> str:
        if kind not in things:
            return called
        for title, thing_id in things[kind]:
            if called.casefold() in (title.casefold(), thing_id):
                return thing_id
        known = ", ".join(title for title, _ in things[kind]) or "none"
        raise NotFound(f"There is no {kind} called {called!r}. There are: {known}.")

    return named_by_title(text, found)
