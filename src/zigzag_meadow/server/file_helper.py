"""The process that reads files from elsewhere, under limits of time and memory: ``python -m … FD SECONDS BYTES``.

It knows nothing of the server. Work comes in as a function and its arguments, results go out with their arrays in
shared memory. It ends when the other end of its connection does.
"""

from __future__ import annotations

import os
import pickle
import resource
import signal
import sys
import traceback
from multiprocessing import reduction
from multiprocessing.connection import Connection
from typing import Any

# What is read with is loaded before the first file comes, and before memory is counted.
import zigzag_meadow.core.formats.tiles
import zigzag_meadow.core.ground.diagnose
import zigzag_meadow.core.readings.picture  # noqa: F401
from zigzag_meadow.core.errors import MeadowError, NoRoom, TooLarge

__all__ = ["serve"]

SLACK = 128 * 2**20


def _held_bytes() -> int:
    with open("/proc/self/status", encoding="ascii") as file:
        return next(int(line.split()[1]) * 1024 for line in file if line.startswith("VmData"))


def _limit_memory(most: int) -> None:
    resource.setrlimit(resource.RLIMIT_DATA, (_held_bytes() + most + SLACK,) * 2)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _shared(value: Any) -> tuple[bytes, list[int], int | None]:
    """(the value without its arrays, their sizes, a file of shared memory with them)."""
    buffers: list[pickle.PickleBuffer] = []
    plain = pickle.dumps(value, protocol=5, buffer_callback=buffers.append)
    if not buffers:
        return plain, [], None
    file = os.memfd_create("read")
    sizes = []
    for buffer in buffers:
        view = buffer.raw()
        sizes.append(view.nbytes)
        done = 0
        while done < view.nbytes:
            done += os.write(file, view[done : done + 2**26])
    return plain, sizes, file


def _answer(connection: Connection, most: int) -> None:
    work, arguments = connection.recv()
    try:
        plain, sizes, file = _shared(work(*arguments))
    except MeadowError as error:
        connection.send(("refused", error))
    except MemoryError:
        gib = f"{most / 2**30:g} GiB"
        connection.send(("refused", TooLarge(f"The file needs more memory than the {gib} that one file may use.")))
    except OSError as error:
        connection.send(("refused", NoRoom(f"The file could not be read from the disk: {error.strerror}.")))
    except Exception:
        connection.send(("broken", traceback.format_exc()))
    else:
        connection.send(("done", (plain, sizes)))
        if file is not None:
            reduction.send_handle(connection, file, 0)
            os.close(file)


def serve(connection: Connection, seconds: int, most: int) -> None:
    """Answer until the other end is gone. Work that takes longer than ``seconds`` ends this process by a signal that
    no decoder can hold up."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGALRM, signal.SIG_DFL)
    _limit_memory(most)
    connection.send(("ready", None))
    while True:
        try:
            if not connection.poll(None):
                continue
            # The other end gives up first and says so; this is for a decoder that nobody can reach.
            signal.alarm(seconds + 2)
            _answer(connection, most)
            signal.alarm(0)
        except (EOFError, ConnectionError):
            return


if __name__ == "__main__":
    serve(Connection(int(sys.argv[1])), int(sys.argv[2]), int(sys.argv[3]))
