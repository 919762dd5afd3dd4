"""What is being worked out, written down where it outlives the process: native code may end it without a word."""

from __future__ import annotations

import json
import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zigzag_meadow.core.errors import EndedTwice

__all__ = ["MOST_ENDS", "Watch"]

MOST_ENDS = 2
"""After so many ends of the process in the middle of it, something is not tried again."""
_SLOT = 256
_SLOTS = 64


@dataclass(frozen=True, slots=True)
class _Kept:
    """``counts``: how often the process ended in the middle of what, by key; ``starts``: how often one began in this
    run of the application; ``names``: what it was in the middle of when the last one ended."""

    run: str
    made_of: str
    starts: int
    counts: dict[str, int]
    names: tuple[str, ...] = ()


class Watch:
    """Writes down work before it begins; made once a process, before any.

    ``place``: a file of its own for every role of a process. ``run``: names the start of the whole application: what an
    earlier one left behind was stopped with it and says nothing. ``made_of``: changes with the code: what ended an
    older one is tried again.
    """

    def __init__(self, place: Path, run: str, made_of: str) -> None:
        self._told = place.with_suffix(".json")
        before = self._before(run, made_of)
        left = _left(place) if before.run == run else []
        counts = dict(before.counts)
        for key, _ in left:
            counts[key] = counts.get(key, 0) + 1
        names = tuple(dict.fromkeys(name for _, name in left))
        starts = before.starts + 1 if before.run == run else 1
        self._kept = _Kept(run, made_of, starts, counts, names)
        self._save()
        self._file = os.open(place, os.O_RDWR | os.O_CREAT | os.O_TRUNC | os.O_CLOEXEC, 0o600)
        self._free = list(range(_SLOTS))
        self._lock = threading.Lock()

    def _before(self, run: str, made_of: str) -> _Kept:
        try:
            data: dict[str, Any] = json.loads(self._told.read_bytes())
            counts = {str(key): int(many) for key, many in data["counts"].items()}
            same = data["made_of"] == made_of
            return _Kept(str(data["run"]), made_of, int(data["starts"]), counts if same else {})
        except (OSError, ValueError, TypeError, KeyError, AttributeError):
            # Nothing was written yet, or what was is damaged: everything is tried.
            return _Kept("", made_of, 0, {})

    def _save(self) -> None:
        kept = self._kept
        aside = self._told.with_suffix(".new")
        aside.write_text(
            json.dumps({"run": kept.run, "made_of": kept.made_of, "starts": kept.starts, "counts": kept.counts})
        )
        aside.replace(self._told)

    @property
    def again(self) -> str | None:
        """What happened, as a sentence, where this process took the place of one that ended by itself."""
        if self._kept.starts < 2:
            return None
        what = f" while it worked out “{self._kept.names[0]}”" if self._kept.names else ""
        return f"The application ended by itself{what} and was started again. Nothing that was saved is lost."

    @contextmanager
    def over(self, key: str, name: str) -> Iterator[None]:
        """Around native work. Raises :class:`EndedTwice` where it ended the process :data:`MOST_ENDS` times."""
        if self._kept.counts.get(key, 0) >= MOST_ENDS:
            raise EndedTwice(
                f"A part of this (“{name}”) ended the application twice and is not tried again. Change or leave out "
                "what it reads, or take the last change back."
            )
        with self._lock:
            slot = self._free.pop() if self._free else None
        if slot is None:
            yield
            return
        os.pwrite(self._file, f"{key}\n{name}".encode()[:_SLOT].ljust(_SLOT, b"\0"), slot * _SLOT)
        try:
            yield
        finally:
            os.pwrite(self._file, bytes(_SLOT), slot * _SLOT)
            with self._lock:
                self._free.append(slot)


def _left(place: Path) -> list[tuple[str, str]]:
    """(key, name) of what was under way when the last process ended."""
    try:
        data = place.read_bytes()
    except OSError:
        return []
    slots = [data[at : at + _SLOT].rstrip(b"\0").decode(errors="replace") for at in range(0, len(data), _SLOT)]
    return [(key, name) for key, _, name in (slot.partition("\n") for slot in slots if slot)]
