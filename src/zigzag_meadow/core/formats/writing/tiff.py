"""TIFF by its library, with where it lies in the world where that is asked for."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import Any

import imagecodecs
import numpy as np
import tifffile
from isal import isal_zlib
from numpy.typing import NDArray
from PIL import ImageCms

from zigzag_meadow.core.formats.reading.georeference import MATRIX, GeoReference
from zigzag_meadow.core.formats.writing.fed import FedWriter, regrouped
from zigzag_meadow.core.formats.writing.raster import DTYPES, Raster

__all__ = ["GeoTiffWriter", "TiffWriter", "geo_tags", "local_reference", "srgb_profile"]

STRIP = 256
_BIG = 2**32 - 2**25


@cache
def srgb_profile() -> bytes:
    """The sRGB profile, with a fixed date: the same colours give the same bytes."""
    data = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    data[24:36] = bytes((7, 208, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0))
    data[84:100] = bytes(16)
    return bytes(data)


class TiffWriter(FedWriter):
    """Strips or tiles, packed with deflate and a predictor or not at all; colours carry the sRGB profile."""

    def tags(self) -> list[tuple[Any, ...]]:
        return []

    def pull(self, blocks: Iterator[NDArray[Any]]) -> None:
        raster = self.raster
        shape = (raster.rows, raster.cols, raster.channels) if raster.channels > 1 else (raster.rows, raster.cols)
        wanted: dict[str, Any] = {"tile": (raster.tile,) * 2} if raster.tile else {"rowsperstrip": STRIP}
        floats = raster.sample in ("f16", "f32")
        if raster.packed:
            wanted |= {"compression": "zlib", "predictor": 3 if floats else 2}
        if raster.channels in (2, 4):
            # Straight where whoever reads it takes alpha, so that programs on the way keep it; else nothing is said,
            # and nobody shall multiply by it.
            wanted |= {"extrasamples": ("unassalpha" if raster.alpha else "unspecified",)}
        if raster.srgb:
            wanted |= {"iccprofile": srgb_profile()}
        kind = "rgb" if raster.channels > 2 else "minisblack"
        with tifffile.TiffWriter(self.path, bigtiff=raster.bytes > _BIG) as file:
            file.write(
                self._parts(blocks),
                shape=shape,
                dtype=DTYPES[raster.sample],
                photometric=kind,
                software="",
                metadata=None,
                maxworkers=1,
                extratags=self.tags(),
                **wanted,
            )

    def _parts(self, blocks: Iterator[NDArray[Any]]) -> Iterator[bytes]:
        """Strips or tiles as they stand in the file: tiles at the border are filled up with their last samples."""
        side, cols = self.raster.tile, self.raster.cols
        for rows in regrouped(blocks, side or STRIP):
            rows = rows.reshape(len(rows), cols, -1)
            if not side:
                yield self._packed(rows)
                continue
            filled = np.pad(rows, ((0, side - len(rows)), (0, -cols % side), (0, 0)), mode="edge")
            for at in range(0, filled.shape[1], side):
                yield self._packed(np.ascontiguousarray(filled[:, at : at + side]))

    def _packed(self, part: NDArray[Any]) -> bytes:
        if not self.raster.packed:
            return part.tobytes()
        if self.raster.sample in ("f16", "f32"):
            left = imagecodecs.floatpred_encode(part, axis=-2, dist=1)
        else:
            left = imagecodecs.delta_encode(part, axis=-2)
        packed: bytes = isal_zlib.compress(np.ascontiguousarray(left), 2)
        return packed


def local_reference(raster: Raster) -> GeoReference:
    """Metres from where the raster's spacing and south-west corner are counted, in no system of the world."""
    dy, dx = raster.spacing
    height = (raster.rows - (1 if raster.vertex else 0)) * dy
    west, south = raster.south_west
    keys = (1, 1, 1, 3, 1024, 0, 1, 32767, 1025, 0, 1, 2 if raster.vertex else 1, 3076, 0, 1, 9001)
    return GeoReference(keys, (), "", (west, south + height), (dx, 0.0), (0.0, -dy), raster.vertex)


def geo_tags(raster: Raster) -> list[tuple[Any, ...]]:
    """Tags that say where a picture lies: in the source's own reference, else in metres from its south-west corner.

    OGC GeoTIFF 1.1, sections 7.1 and 7.5.
    """
    geo = raster.geo or local_reference(raster)
    keys = _as_samples(geo.keys, raster.vertex)
    (west, north), (a, d), (b, e) = geo.origin, geo.col, geo.row
    if geo.upright:
        made: list[tuple[Any, ...]] = [
            (33550, "d", 3, (a, -e, 0.0), True),
            (33922, "d", 6, (0.0, 0.0, 0.0, west, north, 0.0), True),
        ]
    else:
        matrix = (a, b, 0.0, west, d, e, 0.0, north, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0)
        made = [(MATRIX, "d", 16, matrix, True)]
    made.append((34735, "H", len(keys), keys, True))
    made += [(34736, "d", len(geo.doubles), geo.doubles, True)] if geo.doubles else []
    return made + ([(34737, "s", 0, geo.texts, True)] if geo.texts else [])


def _as_samples(keys: tuple[int, ...], points: bool) -> tuple[int, ...]:
    """The same keys, that say whether samples are points or cells."""
    entries = [list(keys[at : at + 4]) for at in range(4, len(keys) - 3, 4) if keys[at] != 1025]
    entries.append([1025, 0, 1, 2 if points else 1])
    entries.sort()
    return (*keys[:3], len(entries), *(value for entry in entries for value in entry))


class GeoTiffWriter(TiffWriter):
    """The same with where it lies in the world."""

    def tags(self) -> list[tuple[Any, ...]]:
        return geo_tags(self.raster)
