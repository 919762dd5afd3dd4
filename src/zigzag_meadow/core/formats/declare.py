"""A format as a declaration: how its files are known, what they can hold, how they are read and written."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from numpy.typing import NDArray

if TYPE_CHECKING:
    from zigzag_meadow.core.formats.layout import Layout
    from zigzag_meadow.core.formats.stored import Stored
    from zigzag_meadow.core.formats.writing.raster import SampleKind
    from zigzag_meadow.core.stripes import Stripes

__all__ = ["Form", "Format", "Head", "Opened", "Pixels", "Use"]

Tag = Literal["tagged", "linear", "untagged"]
Use = Literal["heightmap", "picture", "texture", "mask"]
"""What a file is brought in for."""
Opened = Any
"""A writer as a context manager: of rows, or of points."""
Pixels = NDArray[Any]
"""Samples at their stored depth: (rows, columns) or (rows, columns, channels)."""


@dataclass(frozen=True, slots=True)
class Head:
    """What is known of a file before it is read: its first bytes, its name, and how many bytes it has."""

    data: bytes
    name: str
    size: int

    @property
    def suffix(self) -> str:
        return Path(self.name).suffix.lower()


@dataclass(frozen=True, slots=True)
class Form:
    """A format with a depth, as it is written.

    ``takes``: pictures or points. ``colours``: how it carries what its colours are: a tag, linear light by its own
    rule, or not at all. ``data``: values come back as they were written. ``orders``: either byte order can be asked
    for; ``endings``: any file extension; ``packs``, ``tiled``: whether compression and tiles inside the file can be
    chosen. ``places``: it says where its samples lie in metres; ``world``: in the source's own reference. ``lacks``:
    what else to know of it. ``reads``: the id of its format, which tells it.
    """

    id: str
    title: str
    ending: str
    takes: Literal["raster", "points"]
    sample: SampleKind
    channels: tuple[int, ...]
    colours: Tag
    open: Callable[[Path, Any, Stripes], Opened]
    data: bool = True
    orders: bool = False
    endings: bool = False
    packs: bool = False
    tiled: bool = False
    places: bool = False
    world: bool = False
    lacks: str = ""
    reads: str = ""

    @property
    def bits(self) -> int:
        return {"u8": 8, "u16": 16, "f16": 16, "f32": 32}[self.sample]

    @property
    def floats(self) -> bool:
        return self.sample in ("f16", "f32")

    def losses(self, channels: Sequence[str], bits: int, colours: bool, title: str) -> str | None:
        """What a picture with these channels and so many bits would lose in it, as a sentence; None where nothing."""
        if len(channels) not in self.channels:
            most = max((n for n in self.channels if n < len(channels)), default=0)
            gone = " and ".join(letter.upper() for letter in channels[most:])
            if most == 0:
                return f"{self.title} cannot hold {title}: it has no picture of {len(channels)} channels."
            return f"{self.title} has no more than {most} channels: {gone} of {title} would be lost."
        if self.bits < bits and not (self.floats and bits <= 8):
            return f"{self.title} holds {self.bits} bits of the {bits} that {title} has: finer steps would be lost."
        if not self.data and not colours:
            return f"{self.title} bends values in blocks of 8 by 8: {title} is data and would not come back."
        return None


@dataclass(frozen=True, slots=True)
class Format:
    """A kind of file. Whatever is None cannot be done with it.

    ``title``: as it stands in lists; ``endings``: of its files, with the dot, in lower case, the usual one first.

    How a file of it is known: ``begins`` by its content; ``called`` by its name and length, where no content tells;
    ``may_be`` where not even a name tells and nothing else fits.

    ``heights``: a heightmap as it is stored, by what a person said of it. ``pixels``: every channel, for a picture that
    is laid over the ground, or a mask. ``texture``: the same for a texture. Each raises :class:`BadFile`,
    :class:`WrongFormat` or :class:`TooLarge`. ``forms``: how it is written. ``dense``: its files are packed already.
    """

    id: str
    title: str
    endings: tuple[str, ...]
    media: str = "application/octet-stream"
    begins: Callable[[Head], bool] | None = None
    called: Callable[[Head], bool] | None = None
    may_be: Callable[[Head], bool] | None = None
    heights: Callable[[Path, str, Layout], Stored] | None = None
    pixels: Callable[[Path, str], Pixels] | None = None
    texture: Callable[[Path, str], Pixels] | None = None
    forms: tuple[Form, ...] = ()
    dense: bool = False

    def __post_init__(self) -> None:
        object.__setattr__(self, "forms", tuple(replace(one, reads=self.id) for one in self.forms))

    @property
    def exact(self) -> bool:
        """Whether values come back as they were written."""
        return all(form.data for form in self.forms)

    @property
    def uses(self) -> tuple[Use, ...]:
        """What its files can be brought in for."""
        # What a mask is sent out in comes back, raw samples too: their size is that of the ground.
        back = self.pixels or (self.heights if self.forms else None)
        readers: dict[Use, object] = {
            "heightmap": self.heights,
            "picture": self.pixels,
            "texture": self.texture,
            "mask": back,
        }
        return tuple(use for use, reader in readers.items() if reader is not None)
