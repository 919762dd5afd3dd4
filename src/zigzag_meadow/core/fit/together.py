"""What several files make together: sums of weights, layers by block, and borders that tiles share."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from zigzag_meadow.core.fit.report import Fact
from zigzag_meadow.core.fit.run import Run
from zigzag_meadow.core.targets.note import FileNote, ImportNote

__all__ = ["Together"]


@njit(nogil=True, cache=True)
def _mark(weights: Any, row0: int, col0: int, cells: int, blocks: Any) -> None:
    """Mark blocks that hold something; vertices on a border belong to the blocks on both sides."""
    down, across = blocks.shape
    for r in range(weights.shape[0]):
        for j in range(weights.shape[1]):
            if weights[r, j] == 0:
                continue
            i, k = (row0 + r) // cells, (col0 + j) // cells
            above = i - 1 if (row0 + r) % cells == 0 else i
            before = k - 1 if (col0 + j) % cells == 0 else k
            for y in (above, i):
                for x in (before, k):
                    if 0 <= y < down and 0 <= x < across:
                        blocks[y, x] = True


@dataclass
class Together:
    """Gathers bands of all files, north up."""

    note: ImportNote
    sums: dict[tuple[int, int, int], NDArray[Any]] = field(default_factory=dict)
    there: dict[tuple[int, int, int], NDArray[np.bool_]] = field(default_factory=dict)
    """Of a trial, in which tiles may be left out: which samples were delivered."""
    blocks: NDArray[np.bool_] | None = None
    missed: set[str] = field(default_factory=set)
    _carried: int = 0
    _edges: dict[tuple[str, str], NDArray[Any]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        block, most = self.note.ground.blocks, self.note.target.most_per_block
        # Tiles of one map carry the same layers.
        layers = dict.fromkeys(
            (f.of, i)
            for f in self.note.images
            for i, c in enumerate(f.channels)
            if f.kind == "sheet" and c.kind in ("weight", "base")
        )
        if block is not None and most is not None and layers:
            self.blocks = np.zeros((block.down, block.across, len(layers)), bool)
        self._layer = {place: k for k, place in enumerate(layers)}

    def miss(self, file: FileNote) -> None:
        """A file could not be read: what it takes part in cannot be told."""
        if file.kind == "sheet":
            self.missed.add(file.file)

    def add(self, file: FileNote, row: int, block: NDArray[Any]) -> None:
        """A band of a file that begins at its ``row``."""
        if file.tile is not None:
            self._keep_edges(file, row, block)
        if file.kind != "sheet" or block.dtype.kind == "f":
            return
        carried = [i for i, c in enumerate(file.channels) if c.kind in ("weight", "base")]
        if not carried:
            return
        row0, col0 = (row, 0) if file.tile is None else (file.tile.first_row + row, file.tile.first_column)
        sums = self._sums(file)
        # Along borders that tiles share, each sample counts once.
        rows, cols = self._own(file)
        own = block[: max(rows - row, 0), :cols]
        part = sums[row0 : row0 + own.shape[0], col0 : col0 + own.shape[1]]
        for i in carried:
            part += own[:, :, i]
        if self.note.trial and file.tile is not None:
            key = (file.whole_rows, file.whole_columns, file.bits)
            there = self.there.setdefault(key, np.zeros(key[:2], bool))
            there[row0 : row0 + own.shape[0], col0 : col0 + own.shape[1]] = True
        if self.blocks is not None and file.registration == "vertex":
            for i in carried:
                self._count(block[:, :, i], row0, col0, self._layer[file.of, i])

    def _own(self, file: FileNote) -> tuple[int, int]:
        """How many rows and columns of a file no further tile holds, too."""
        if file.tile is None:
            return file.rows, file.columns
        others = [f.tile for f in self.note.images if f.of == file.of and f.tile is not None]
        below = [t.first_row for t in others if t.first_row > file.tile.first_row]
        beyond = [t.first_column for t in others if t.first_column > file.tile.first_column]
        return (
            min([file.rows, *(row - file.tile.first_row for row in below)]),
            min([file.columns, *(col - file.tile.first_column for col in beyond)]),
        )

    def _sums(self, file: FileNote) -> NDArray[Any]:
        key = (file.whole_rows, file.whole_columns, file.bits)
        if key not in self.sums:
            # Of bytes, sixteen bits hold the sum of more channels than there can be.
            self.sums[key] = np.zeros(key[:2], np.uint16 if file.bits == 8 else np.uint32)
        return self.sums[key]

    def _count(self, weights: NDArray[Any], row0: int, col0: int, layer: int) -> None:
        """Which blocks a layer is in."""
        block = self.note.ground.blocks
        if block is None or self.blocks is None:
            return
        size = (block.down * block.cells + 1, block.across * block.cells + 1)
        if size == (self.note.ground.rows, self.note.ground.columns):
            _mark(weights, row0, col0, block.cells, self.blocks[:, :, layer])

    def _keep_edges(self, file: FileNote, row: int, block: NDArray[Any]) -> None:
        """Samples along the borders of a tile."""
        if row == 0:
            self._edges[file.file, "north"] = block[0].copy()
        if row + block.shape[0] == file.rows:
            self._edges[file.file, "south"] = block[-1].copy()
        for side, column in (("west", 0), ("east", -1)):
            kept = self._edges.get((file.file, side))
            part = block[:, column]
            # Of files from the south bands come from below.
            ordered = [part] if kept is None else [kept, part] if file.first_row == "north" else [part, kept]
            self._edges[file.file, side] = np.concatenate(ordered)

    def say(self, run: Run) -> None:
        """What came of it."""
        self._say_sums(run)
        self._say_blocks(run)
        self._say_edges(run)

    def _say_sums(self, run: Run) -> None:
        weights = self.note.weights
        for key, all_of_it in self.sums.items():
            full = 2 ** key[2] - 1
            sums = all_of_it[self.there[key]] if key in self.there else all_of_it
            if weights.full is not None and self.missed:
                run.report.facts.append(Fact("Weights", False, "unknown", "a sheet could not be read"))
                return
            if weights.full is not None and weights.full == full:
                self._say_full(run, sums, full)
            elif weights.base_implied and weights.mixing == "sum":
                over = int((sums > full).sum())
                run.report.facts.append(
                    Fact(
                        "Base",
                        not over,
                        "negative" if over else "implied",
                        f"{full} less all weights, {_grouped(over)} samples below 0",
                    )
                )
                if over and not _named(run):
                    run.say(
                        "base-negative",
                        "all sheets",
                        f"Weights add up to more than {full} at {over} samples: the "
                        "base that is left would be negative.",
                        title="Base below 0",
                    )

    @staticmethod
    def _say_full(run: Run, sums: NDArray[Any], full: int) -> None:
        right, total = int((sums == full).sum()), sums.size
        good = right == total
        detail = f"{full} at {_grouped(right)} of {_grouped(total)}"
        run.report.facts.append(Fact("Weights", good, "exact" if good else "off", detail))
        if not good and not _named(run):
            low, high = int(sums.min()), int(sums.max())
            text = f"Weights add up to {low} to {high} instead of {full} at {total - right} samples."
            run.say("sums-off", "all sheets", text, title="Sums")

    def _say_blocks(self, run: Run) -> None:
        most = self.note.target.most_per_block
        if self.blocks is None or most is None or self.missed:
            return
        many = self.blocks.sum(axis=2)
        over = int((many > most).sum())
        worst = int(many.max())
        run.report.facts.append(
            Fact("Layers a block", not over, f"{worst} of {most}", f"{many.size} blocks, {over or 'none'} over")
        )
        if over and not _named(run):
            row, col = divmod(int(many.argmax()), many.shape[1])
            where = f"block {col + 1} from the west, {row + 1} from the north"
            text = f"{over} blocks hold more than {most} layers; {worst} in {where}."
            run.say(
                "over-budget",
                "all sheets",
                text,
                "Merge layers, or let them reach less far.",
                "attention",
                title="Layers a block",
                remedy="outside",
            )

    def _say_edges(self, run: Run) -> None:
        """Tiles that share a border must agree along it."""
        by_place = {(f.of, f.tile.x, f.tile.y): f for f in self.note.images if f.tile is not None}
        shared = wrong = 0
        for (of, x, y), file in by_place.items():
            tile = file.tile
            assert tile is not None
            for beside, mine, theirs in (((of, x + 1, y), "east", "west"), ((of, x, y + 1), "south", "north")):
                other = by_place.get(beside)
                if other is None or other.tile is None:
                    continue
                along = (
                    (tile.first_column + file.columns - 1 == other.tile.first_column)
                    if mine == "east"
                    else (tile.first_row + file.rows - 1 == other.tile.first_row)
                )
                a, b = self._edges.get((file.file, mine)), self._edges.get((other.file, theirs))
                if not along or a is None or b is None:
                    continue
                shared += 1
                if a.shape != b.shape or not np.array_equal(a, b):
                    wrong += 1
                    if not (run.report.has(file.file) or run.report.has(other.file)):
                        run.say(
                            "seam",
                            file.file,
                            f"{file.file} and {other.file} differ along the border that they share: a seam.",
                            title="Seam between tiles",
                        )
        if shared:
            run.report.facts.append(
                Fact(
                    "Tile borders", not wrong, f"{shared - wrong} of {shared}", "shared borders are equal on both sides"
                )
            )


def _named(run: Run) -> bool:
    """Whether a sheet is at fault already: then what sheets make together says nothing new."""
    sheets = {file.file for file in run.rehearsal.note.images if file.kind == "sheet"}
    return any(f.severity == "error" and f.file in sheets for f in run.report.findings)


def _grouped(count: int) -> str:
    return f"{count:,}".replace(",", "\u202f")
