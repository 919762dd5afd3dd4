"""Targets as data: what a destination takes, and what must be typed in and switched off there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from zigzag_meadow.core.errors import NotFound
from zigzag_meadow.core.grid import Registration

__all__ = ["TARGETS", "BlockLayout", "HeightCoding", "HeightFormat", "Target", "target"]

HeightCoding = Literal["signed-step"]
HeightFormat = Literal["png16", "raw16"]


@dataclass(frozen=True, slots=True)
class BlockLayout:
    """One way a block grid of a given size can be divided: cells per patch, patches per block side, blocks."""

    patch: int
    patches: int
    blocks: int

    @property
    def size(self) -> int:
        return self.patch * self.patches * self.blocks + 1


@dataclass(frozen=True, slots=True)
class Target:
    """The import rules of a destination.

    ``coding`` *signed-step*: height = (value − 32768) · step, with a step of ``base_step`` metres times the
    vertical scale that is typed in. ``most_per_block``: layers in one block, the base counted. ``far_share``: far
    colour and surface maps have so many times fewer cells a side. ``neutral`` are settings that must be left alone or
    switched off.
    """

    id: str
    title: str
    sentence: str
    registration: Registration
    patches: tuple[int, ...]
    patches_per_side: tuple[int, ...]
    most_blocks: int
    coding: HeightCoding
    base_step: float
    height_formats: tuple[HeightFormat, ...]
    byte_order: Literal["little", "big"]
    most_layers: int
    most_per_block: int
    far_share: int
    neutral: tuple[tuple[str, str, str], ...]

    def layouts(self, size: int) -> list[BlockLayout]:
        """Every legal layout with ``size`` samples on a side; empty when the size is not legal."""
        fitting = []
        for patch in self.patches:
            for patches in self.patches_per_side:
                blocks, rest = divmod(size - 1, patch * patches)
                if rest == 0 and 1 <= blocks <= self.most_blocks:
                    fitting.append(BlockLayout(patch, patches, blocks))
        return sorted(fitting, key=lambda item: (item.blocks, item.patch))

    def is_legal(self, size: int) -> bool:
        return bool(self.layouts(size))

    def legal_sizes(self) -> list[int]:
        sizes = {
            patch * patches * blocks + 1
            for patch in self.patches
            for patches in self.patches_per_side
            for blocks in range(1, self.most_blocks + 1)
        }
        return sorted(sizes)

    def nearest_sizes(self, size: int, count: int = 3) -> list[int]:
        """The legal sizes nearest to ``size``, nearest first (the smaller first when equally near)."""
        return sorted(self.legal_sizes(), key=lambda legal: (abs(legal - size), legal))[:count]


_BLOCK_GRID = Target(
    id="block-grid",
    title="Block grid",
    sentence="Square blocks of patches; heights count signed steps about a middle; maps sit on the same vertices.",
    registration="vertex",
    patches=(7, 15, 31, 63, 127, 255),
    patches_per_side=(1, 2),
    most_blocks=32,
    coding="signed-step",
    base_step=1 / 128,
    height_formats=("png16", "raw16"),
    byte_order="little",
    most_layers=16,
    most_per_block=8,
    far_share=4,
    neutral=(
        ("Smoothing on import", "off", "It would round off what the height file holds exactly."),
        ("Colour space of every sheet", "linear, not sRGB", "A mask read as sRGB turns 128 into 55."),
        (
            "Compression of every sheet",
            "none, or one that keeps 8 bits a channel",
            "Block compression breaks sums.",
        ),
        ("Alpha of every sheet", "straight data", "Multiplying colour by alpha destroys the other channels."),
    ),
)

TARGETS: tuple[Target, ...] = (_BLOCK_GRID,)


def target(target_id: str) -> Target:
    """A target by its id. Raises :class:`NotFound` with the ids there are."""
    for item in TARGETS:
        if item.id == target_id:
            return item
    known = ", ".join(item.id for item in TARGETS)
    raise NotFound(f"There is no target {target_id!r}. There are: {known}.", field="target")
