"""OpenEXR, half and float, one named channel, by the library.

The header and the table of chunks are read here first: what the library makes of a file that is cut or lies about its
size is no sentence, and sometimes no error.
"""

from __future__ import annotations

import mmap
import struct
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zigzag_meadow.core.errors import BadFile, WrongFormat
from zigzag_meadow.core.formats.layout import Layout
from zigzag_meadow.core.formats.limits import check_memory, check_size
from zigzag_meadow.core.formats.reading.decoding import decoding
from zigzag_meadow.core.formats.stored import Stored

__all__ = ["read_exr", "read_exr_pixels"]

Bytes = bytes | mmap.mmap
_PIXEL = {0: ("u4", 4), 1: ("f2", 2), 2: ("f4", 4)}
_LINES = {0: 1, 1: 1, 2: 1, 3: 16, 4: 32, 5: 16, 6: 32, 7: 32, 8: 32, 9: 256}
_LIKELY = ("height", "h", "z", "y", "depth", "displacement", "r")


@dataclass(frozen=True, slots=True)
class _Header:
    channels: tuple[tuple[str, int], ...]
    compression: int
    rows: int
    cols: int
    top: int
    table: int

    @property
    def row_bytes(self) -> int:
        """Bytes of one line with all its channels."""
        return sum(_PIXEL[kind][1] for _, kind in self.channels) * self.cols


def _string(data: Bytes, at: int) -> tuple[str, int]:
    end = data.find(b"\0", at, at + 256)
    if end < 0:
        raise ValueError("a name without an end")
    return data[at:end].decode("latin-1"), end + 1


def _channel_list(value: bytes, name: str) -> tuple[tuple[str, int], ...]:
    channels, at = [], 0
    while at < len(value) and value[at] != 0:
        title, at = _string(value, at)
        kind, _, across, down = struct.unpack_from("<iIii", value, at)
        at += 16
        if kind not in _PIXEL or across != 1 or down != 1:
            raise WrongFormat(f"{name}: the channel {title} is thinned out or of an unknown type.")
        channels.append((title, kind))
    return tuple(channels)


def _header(data: Bytes, name: str) -> _Header:
    version = struct.unpack_from("<I", data, 4)[0]
    if version & 0xFF != 2 or version & ~0xFF & ~0x400:
        raise WrongFormat(f"{name} is tiled, deep or has several parts. Save it as one scan-line image.")
    at, values = 8, {}
    while data[at] != 0:
        title, at = _string(data, at)
        _, at = _string(data, at)
        size = struct.unpack_from("<i", data, at)[0]
        if not 0 <= size <= len(data) - at - 4:
            raise BadFile(f"{name} is cut short inside its header. Save it again.")
        values[title] = data[at + 4 : at + 4 + size]
        at += 4 + size
    x0, y0, x1, y1 = struct.unpack("<4i", values["dataWindow"])
    return _Header(
        _channel_list(values["channels"], name), values["compression"][0], y1 - y0 + 1, x1 - x0 + 1, y0, at + 1
    )


def _check_chunks(data: Bytes, header: _Header, name: str) -> None:
    """Raises :class:`BadFile` where a chunk of lines reaches outside the file or is not the one it should be."""
    lines = _LINES[header.compression]
    count = -(-header.rows // lines)
    if header.table + 8 * count > len(data):
        raise BadFile(f"{name} is cut short: it ends inside its table of lines. Save it again.")
    most = header.row_bytes * lines * 2 + 65536
    for k, offset in enumerate(struct.unpack_from(f"<{count}Q", data, header.table)):
        if not header.table + 8 * count <= offset <= len(data) - 8:
            raise BadFile(f"{name} is cut short or damaged: line {k * lines} lies outside the file. Save it again.")
        first, size = struct.unpack_from("<ii", data, offset)
        if not 0 <= size <= most or offset + 8 + size > len(data) or first != header.top + k * lines:
            raise BadFile(f"{name} is cut short or damaged at line {k * lines}. Save it again.")


def _channel(path: Path, data: Bytes, header: _Header, title: str, name: str) -> NDArray[Any]:
    """One channel by the library, after every chunk was found in the file: the others are not held."""
    import OpenEXR  # only here: it is slow to load and few files need it

    _check_chunks(data, header, name)
    code = _PIXEL[dict(header.channels)[title]][0]
    file = OpenEXR.InputFile(str(path))
    try:
        plain = file.channel(title)
    finally:
        file.close()
    return np.frombuffer(plain, np.dtype(code).newbyteorder("<")).reshape(header.rows, header.cols)


def read_exr_pixels(path: Path, name: str) -> NDArray[np.float32]:
    """Up to four channels of an OpenEXR image as float32 (rows, columns, channels): red, green, blue, alpha where it
    has them, else as they are listed. Raises what :func:`read_exr` raises."""
    first = read_exr(path, name, Layout())
    known = {title.lower(): title for title in first.channels}
    wanted = [known[letter] for letter in "rgba" if letter in known] if "r" in known else []
    wanted = wanted or [known[letter] for letter in "ya" if letter in known] or list(first.channels[:4])
    check_memory(8 * len(wanted) * first.samples.size, name)
    planes = [read_exr(path, name, Layout(channel=title)).samples for title in wanted]
    return np.stack(planes, axis=-1).astype(np.float32, copy=False)


def read_exr(path: Path, name: str, layout: Layout) -> Stored:
    """One channel of an OpenEXR image as float32: the one asked for, or the likeliest.

    Raises :class:`BadFile` when damaged or cut, :class:`WrongFormat` for tiled and deep files and unknown channels.
    """
    with decoding(name, "OpenEXR"), path.open("rb") as file:
        data = mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ)
        try:
            header = _header(data, name)
        except (KeyError, IndexError):
            raise BadFile(f"{name} has a header that is cut short or lacks a part. Save it again.") from None
        check_size(header.rows, header.cols, name)
        if header.compression not in _LINES:
            raise WrongFormat(f"{name} is packed in an unknown way. Save it with ZIP or without compression.")
        # Its lines come unpacked with all their channels, some at a time; of the picture one channel is kept.
        lines = min(_LINES[header.compression], header.rows)
        check_memory(5 * header.row_bytes * lines + 12 * header.rows * header.cols, name)
        titles = tuple(title for title, _ in header.channels)
        if not titles:
            raise WrongFormat(f"{name} has no channels.")
        by_likelihood = sorted(titles, key=lambda t: _LIKELY.index(t.lower()) if t.lower() in _LIKELY else len(_LIKELY))
        chosen = layout.channel or by_likelihood[0]
        if chosen not in titles:
            known = ", ".join(titles[:12])
            raise WrongFormat(f"{name} has no channel {chosen}. It has: {known}.", field="channel")
        samples = _channel(path, data, header, chosen, name)
    if samples.shape != (header.rows, header.cols):
        raise BadFile(f"{name} decodes to another size than it declares.")
    depth = {0: "32", 1: "16f", 2: "32f"}[dict(header.channels)[chosen]]
    guessed = () if layout.channel or len(titles) == 1 else ("channel",)
    return Stored(samples.astype(np.float32), "exr", depth, channel=chosen, channels=titles[:64], guessed=guessed)
