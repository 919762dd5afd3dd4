"""Where answers that need computing take turns, so that quick ones always find a thread and a processor.

Which request belongs where is told by its path alone; everything else is answered at once. Work that takes long steps
out of its room for as long as it runs: what is quick goes past it.
"""

from __future__ import annotations

import os
import re
import threading
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.http import HttpRequest

from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.evaluate.board import WorkBoard

__all__ = ["Full", "Room", "outside", "room_for", "waiting_on"]

_LOOK_SECONDS = 0.03
_CORES = os.cpu_count() or 2


class Full(Exception):
    """So many wait already that one more had better come again."""


class Room:
    """``many`` at once; up to ``most`` others wait in the order in which they came."""

    def __init__(self, name: str, many: int, most: int) -> None:
        self.name, self.many, self.most = name, many, most
        self._inside = 0
        self._line: deque[object] = deque()
        self._changed = threading.Condition()

    @contextmanager
    def enter(self, gone: Callable[[], bool], told: Callable[[int], None] = lambda place: None) -> Iterator[None]:
        """Wait for a place; ``told`` how many are before it. Raises :class:`Full`, and :class:`Cancelled` when whoever
        asked is ``gone``."""
        self._wait(gone, told)
        try:
            yield
        finally:
            self._leave()

    def _wait(self, gone: Callable[[], bool], told: Callable[[int], None]) -> None:
        mine = object()
        with self._changed:
            if len(self._line) >= self.most:
                raise Full()
            self._line.append(mine)
            try:
                while self._inside >= self.many or self._line[0] is not mine:
                    told(self._line.index(mine) + 1)
                    self._changed.wait(_LOOK_SECONDS)
                    if gone():
                        raise Cancelled()
                self._inside += 1
            finally:
                self._line.remove(mine)
                self._changed.notify_all()

    def _leave(self) -> None:
        with self._changed:
            self._inside -= 1
            self._changed.notify_all()

    @contextmanager
    def left(self) -> Iterator[None]:
        """Give the place to others for a while. Whoever comes back waits for nobody: others inside may be waiting for
        what was made."""
        self._leave()
        try:
            yield
        finally:
            with self._changed:
                self._inside += 1


PREVIEWS = Room("previews", _CORES, 24)
MAPS = Room("maps", _CORES + 1, 72)
LONG = Room("long answers", 2, 12)
_PATHS = (
    (PREVIEWS, r"/projects/\w+/(preview|scatters/[\w-]+/preview)$"),
    (
        LONG,
        r"/projects/\w+/(align|align/lay|layers/propose|height-change|point|finals/[\w-]+|painted/[^/]+|detail|stops"
        r"|beyond|coats/[\w-]+/beside|send-out/[\w-]+|take-back/.+|finished)$",
    ),
    (
        MAPS,
        r"/projects/\w+/(maps/.+|stats|probe|profile|looks/.+|layers/report|why.*|painting|diagnosis|bands/.+"
        r"|together|fit-band|trace|file-sample|scatters/[\w-]+/points)$",
    ),
)
_ROOMS = tuple((room, re.compile(f"/api{pattern}")) for room, pattern in _PATHS)
_here = threading.local()


def room_for(request: HttpRequest) -> Room | None:
    """The room in which a request is answered; None for what is quick."""
    return next((room for room, path in _ROOMS if path.match(request.path)), None)


@contextmanager
def waiting_on(board: WorkBoard, owner: str, room: Room, gone: Callable[[], bool]) -> Iterator[None]:
    """In a room from its turn on; who waits in the room of long answers is shown on the board with its place, and can
    be stopped there."""
    if room is not LONG:
        with room.enter(gone), _in(room):
            yield
        return
    key = f"waits-{threading.get_ident()}"
    with board.task(key, owner, "Waits for its turn", gone) as (task, stop):

        def told(place: int) -> None:
            task.title = f"Waits for {place - 1 + room.many} others that take long"

        waiting = room.enter(stop, told)
        waiting.__enter__()
    try:
        with _in(room):
            yield
    finally:
        waiting.__exit__(None, None, None)


@contextmanager
def _in(room: Room) -> Iterator[None]:
    _here.room = room
    try:
        yield
    finally:
        _here.room = None


@contextmanager
def outside() -> Iterator[None]:
    """For long work on a whole ground: what is quick goes past it. It is shown, stopped, and limited by its memory."""
    room: Room | None = getattr(_here, "room", None)
    if room is None or room is LONG:
        yield
        return
    _here.room = None
    try:
        with room.left():
            yield
    finally:
        _here.room = room
