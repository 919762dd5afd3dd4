"""A project as a library: maps with their grid, and deliveries, without a server."""

from __future__ import annotations

import hashlib
import os
import shutil
from collections.abc import Callable, Collection
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING, Any, Literal, Self

from numpy.typing import NDArray

from zigzag_meadow.core.delivery.earlier import Earlier
from zigzag_meadow.core.delivery.placing import ours_in, place
from zigzag_meadow.core.delivery.plan import make_plan
from zigzag_meadow.core.delivery.run import deliver as write_delivery
from zigzag_meadow.core.errors import BadNumber, MeadowError, NotFound
from zigzag_meadow.core.formats.limits import LONGEST_SIDE, SHORTEST_SIDE
from zigzag_meadow.core.grid import Grid
from zigzag_meadow.core.ground.diagnose import inspect_file
from zigzag_meadow.core.map_name import MapName, ReadingName
from zigzag_meadow.core.project.edits.operations import Operation, apply_operations
from zigzag_meadow.core.project.edits.ops_delivery import ChooseTarget, SetDelivery
from zigzag_meadow.core.project.edits.ops_ground import HeightmapFile, ReplaceHeightmap, held_heights
from zigzag_meadow.core.project.edits.ops_readings import SetReading
from zigzag_meadow.core.project.model.document import Project
from zigzag_meadow.core.project.travel.adopt import file_fields
from zigzag_meadow.core.readings.picture import check_picture
from zigzag_meadow.core.targets.catalogue import built_in
from zigzag_meadow.core.targets.sizes import pair_for
from zigzag_meadow.opened import Opened, ids_in
from zigzag_meadow.out import check_way, folder_of, staging_beside

if TYPE_CHECKING:
    from zigzag_meadow.core.fit.report import FitReport
    from zigzag_meadow.core.fit.seen_maps import Keep
    from zigzag_meadow.core.fit.typed import Typed

__all__ = ["GridArray", "Pipeline", "open_project", "sized"]

Progress = Callable[[float, str], None]


@dataclass(frozen=True, slots=True)
class GridArray:
    """An array and where its samples lie; ``values``: (rows, columns) or (rows, columns, parts), row 0 north."""

    values: NDArray[Any]
    grid: Grid


def sized(home: Grid, size: int) -> tuple[int, int]:
    """(rows, columns) of a ground with ``size`` samples on its longer side. Raises :class:`BadNumber`."""
    if not SHORTEST_SIDE <= size <= LONGEST_SIDE:
        raise BadNumber(f"A size is {SHORTEST_SIDE} to {LONGEST_SIDE} samples on the longer side, got {size}.")
    share = (size - 1) / (max(home.rows, home.cols) - 1)
    return max(round((home.rows - 1) * share), 1) + 1, max(round((home.cols - 1) * share), 1) + 1


def open_project(path: str | os.PathLike[str]) -> Pipeline:
    """A project file, ready to make maps of; close it, or use it as a context manager.

    Raises :class:`zigzag_meadow.core.errors.MeadowError` for a file that is none.
    """
    return Pipeline(Opened(Path(path)))


class Pipeline:
    """A project file opened: maps and deliveries of it."""

    def __init__(self, opened: Opened) -> None:
        self._opened = opened
        self.project: Project = opened.project

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def close(self) -> None:
        """Give back threads and what was unpacked."""
        self._opened.__exit__()

    # Maps ---------------------------------------------------------------------------------------------------------

    def map(self, name: str, size: int | None = None) -> GridArray:
        """A map by its name (``mask:Scree``, ``weight:Scree``, ``surface:normal`` …), at home size or with ``size``
        samples on the longer side. Raises :class:`NotFound`, :class:`BadNumber`."""
        return self._map(ids_in(self.project, name), size)

    def _map(self, name: MapName, size: int | None) -> GridArray:
        home = self.project.ground.home
        grid = home if size is None else home.resized(*sized(home, size))
        return GridArray(self._opened.evaluation(self.project).map(name, grid), grid)

    def reading(self, name: str, size: int | None = None) -> GridArray:
        """A reading, float32 in its own unit, NaN where there is no height."""
        return self._map(ReadingName(name), size)

    def mask(self, name: str, size: int | None = None) -> GridArray:
        """A mask by its name, float32 from 0 to 1."""
        return self.map(f"mask:{name}", size)

    # Changes ------------------------------------------------------------------------------------------------------

    def change(self, *operations: Operation) -> None:
        """Apply edits to the project in memory; the file stays as it is. Raises what does not hold together."""
        self.project, _ = apply_operations(self.project, operations)

    def replace_heightmap(self, path: str | os.PathLike[str], hold: Literal["codes", "ends"] | None = None) -> str:
        """Another heightmap under the same project, over the same extent; what becomes of its heights, in a sentence.
        ``hold``: what keeps its metres, all stored *codes* or the lowest and highest sample (*ends*); left out, as the
        ground has it."""
        asset = self._taken(Path(path))
        fields = file_fields(asset, inspect_file(self._opened.asset(asset), Path(path).name))
        file, ground = HeightmapFile.model_validate(fields), self.project.ground
        self.change(ReplaceHeightmap(file=file, hold=hold))
        return held_heights(ground, file, hold or ground.holds).says

    def replace_picture(self, reading: str, path: str | os.PathLike[str]) -> None:
        """Another file under a reading that lays a picture, by the reading's name or id. Raises :class:`NotFound`."""
        found = next(
            (
                r
                for r in self.project.readings
                if r.kind == "picture" and reading.casefold() in (r.id.casefold(), (r.name or "").casefold())
            ),
            None,
        )
        if found is None:
            raise NotFound(f"No reading called {reading!r} lays a picture.")
        asset = self._taken(Path(path))
        check_picture(self._opened.asset(asset), Path(path).name)
        changed = found.model_copy(update={"numbers": {**found.numbers, "asset": asset}})
        self.change(SetReading(setting=changed))

    def _taken(self, path: Path) -> str:
        """A file under its checksum."""
        with path.open("rb") as file:
            asset = hashlib.file_digest(file, "sha256").hexdigest()
        shutil.copyfile(path, self._opened.asset(asset))
        return asset

    # Deliveries ---------------------------------------------------------------------------------------------------

    def aim(self, target: str | None = None, size: int | None = None) -> None:
        """Choose a target (its nearest size, its way to pack weights), and a size with so many samples on the longer
        side. Raises :class:`NotFound`, :class:`IllegalSize`; then nothing is chosen."""
        before = self.project
        if target is not None and target != self.project.delivery.target:
            self.change(ChooseTarget(target=target))
        if size is None:
            return
        try:
            self.change(SetDelivery(delivery=self.project.delivery.model_copy(update=self._size(size))))
        except MeadowError:
            self.project = before
            raise

    def _size(self, size: int) -> dict[str, int]:
        home = self.project.ground.home
        rows, cols = pair_for(self.project.target.sizes, home, size) or sized(home, size)
        return {"rows": rows, "cols": cols}

    def deliver(
        self,
        out: str | os.PathLike[str],
        *,
        target: str | None = None,
        size: int | None = None,
        only: Collection[str] | None = None,
        overwrite: bool = False,
        progress: Progress = lambda share, text: None,
    ) -> list[str]:
        """Write every file into the folder ``out``, made if it is not there.

        What an earlier delivery of ours put there gives way, file by file; files that would come out the same are kept.
        Nothing that somebody else put there or changed is touched, unless ``overwrite`` says that files under the names
        of this delivery may be replaced. Returns names of files. ``only``: of the items these alone (``height``,
        ``sheet:ID`` …). Raises :class:`Conflict` where something is in the way, before the work, and
        :class:`BadNumber` where ``out`` is no folder. Whatever is refused leaves the project as it was.
        """
        before = self.project
        try:
            self.aim(target, size)
            folder = folder_of(out)
            make_plan(self.project, only=only)
            evaluation = self._opened.evaluation(self.project)
            plan = make_plan(self.project, evaluation.heights(), only, date.today().isoformat())
            check_way(folder, plan.names, overwrite)
        except MeadowError:
            self.project = before
            raise
        with staging_beside(folder) as staging:
            earlier = Earlier(folder) if folder.is_dir() else None
            names = write_delivery(evaluation, plan, staging, self._opened.stripes, progress, earlier)
            folder.mkdir(parents=True, exist_ok=True)
            place(staging, folder, ours_in(folder), plan.names if overwrite else (), instead=True)
        return names

    def _as_packed_for(self, target: str) -> Project:
        """The project as it packs its maps for a target: as :meth:`deliver` did, whichever is chosen now."""
        same = target == self.project.delivery.target or all(
            target != item.id for item in (*built_in(), *self.project.targets)
        )
        return self.project if same else apply_operations(self.project, [ChooseTarget(target=target)])[0]

    def fit(
        self,
        folder: str | os.PathLike[str],
        *,
        typed: Typed | None = None,
        progress: Progress = lambda share, text: None,
        keep: Keep = lambda name, values: None,
    ) -> FitReport:
        """Read a delivery back as its target would, and compare it with this project. ``typed``: what was typed
        there in place of the note's numbers, and what was read off; ``keep``: takes pictures to look at."""
        # Only here: who delivers waits for no part of the check.
        from zigzag_meadow.core.fit.check import check_delivery
        from zigzag_meadow.core.fit.rehearsal import Rehearsal
        from zigzag_meadow.core.fit.truth import ProjectTruth

        rehearsal = Rehearsal(Path(folder))
        truth = ProjectTruth(self._opened.evaluation(self._as_packed_for(rehearsal.note.target.id)), rehearsal)
        return check_delivery(Path(folder), truth, typed=typed, progress=progress, keep=keep, rehearsal=rehearsal)
