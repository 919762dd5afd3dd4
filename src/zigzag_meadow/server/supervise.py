"""Start the web process and the worker together, and end them together."""

from __future__ import annotations

import os
import secrets
import signal
import socket
import subprocess
import sys
import time
from types import FrameType

from zigzag_meadow import DATA
from zigzag_meadow.server.lifeline import READY, Held, hold, with_parent
from zigzag_meadow.server.memory import FEW_ARENAS

__all__ = ["HERE", "serve"]

HERE = ("127.0.0.1", "localhost")
"""The names of what is served: the address that only this machine reaches."""
THREADS = 128
"""As many may wait for their turn at what is computed (see ``rooms``), and some are left for what is quick."""
RESTART_SECONDS = 1.0
PORT_SECONDS = 5.0
MOST_ENDS, ENDS_SECONDS = 5, 60.0
"""A web process that ends more often in so many seconds is given up."""


def _manage(*arguments: str) -> list[str]:
    return [sys.executable, "-m", "django", *arguments, "--settings", "zigzag_meadow.server.settings"]


def _web(port: int) -> list[str]:
    return [
        sys.executable,
        "-m",
        "gunicorn",
        "zigzag_meadow.server.wsgi:application",
        "--bind",
        f"127.0.0.1:{port}",
        "--workers",
        "1",
        "--threads",
        str(THREADS),
        "--worker-class",
        "gthread",
        "--timeout",
        "300",
        "--graceful-timeout",
        "3",
        "--keep-alive",
        "75",
        "--log-level",
        "warning",
        "--no-control-socket",
    ]


def _say(text: str) -> int:
    print(f"zigzag: {text}", file=sys.stderr, flush=True)
    return 2


def _refusal(port: int, host: str) -> str | None:
    """Why nothing can be served there, or None."""
    if host not in HERE:
        return (
            f"The application is served to this machine only, not at {host}: it has no passwords. From another "
            f"machine, open a tunnel, such as ssh -L {port}:127.0.0.1:{port} {socket.gethostname()}, and use "
            f"http://127.0.0.1:{port} there."
        )
    if not 1 <= port <= 65535:
        return f"A port is a number from 1 to 65535, got {port}."
    return None


def _is_taken(port: int) -> bool:
    """Whether somebody listens there; who is just ending is given a moment."""
    end = time.monotonic() + PORT_SECONDS
    while True:
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                if time.monotonic() > end:
                    return True
                time.sleep(0.2)
                continue
            return False


def serve(port: int, demo: bool, host: str = "127.0.0.1") -> int:
    """Prepare, then run web and worker until interrupted. What ends by itself is started again.

    Returns 0 when it was stopped, 1 when the web process ended again and again, 2 when it could not begin.
    """
    refusal = _refusal(port, host)
    if refusal is not None:
        return _say(refusal)
    try:
        DATA.mkdir(parents=True, exist_ok=True, mode=0o700)
        lock = hold(DATA, {"process": os.getpid(), "port": port})
    except Held as error:
        who, where = error.holder.get("process", "?"), error.holder.get("port", "?")
        return _say(
            f"This data folder is in use by process {who}, which serves it at http://127.0.0.1:{where}. Use that one, "
            "end it first, or name another folder in ZIGZAG_DATA."
        )
    except OSError as error:
        return _say(f"The data folder cannot be written: {error.strerror}. Look at its rights and its disk.")
    with lock:
        if _is_taken(port):
            return _say(f"Port {port} is taken by another program. Choose another with --port.")
        os.environ["ZIGZAG_RUN"] = secrets.token_hex(8)
        return _begin(port, demo)


def _start(command: list[str], keep: tuple[int, ...] = ()) -> subprocess.Popen[bytes]:
    # A session of its own: Ctrl+C reaches this process alone, which then ends the others in order.
    told = {**os.environ, **FEW_ARENAS}
    return subprocess.Popen(command, start_new_session=True, preexec_fn=with_parent(), pass_fds=keep, env=told)


def _begin(port: int, demo: bool) -> int:
    """The web process is started beside the preparation, so that both load what they need at once; it answers nobody
    before it is told that all is ready."""
    waits, tells = os.pipe()
    os.environ[READY] = str(waits)
    web = _start(_web(port), (waits,))
    os.close(waits)
    del os.environ[READY]
    try:
        prepared = subprocess.call(_manage("prepare", *(["--demo"] if demo else [])), preexec_fn=with_parent()) == 0
        if prepared:
            # One for every process that may ask: one that is started again asks once more.
            os.write(tells, b"1" * 4096)
    except KeyboardInterrupt:
        _end(web)
        return 0
    finally:
        os.close(tells)
    if not prepared:
        _end(web)
        return _say("The data folder could not be made ready; what is said above names the reason.")
    return _run(port, web)


def _run(port: int, web: subprocess.Popen[bytes]) -> int:
    stopping = False

    def stop(number: int, frame: FrameType | None) -> None:
        nonlocal stopping
        stopping = True

    signal.signal(signal.SIGINT, stop)
    signal.signal(signal.SIGTERM, stop)
    worker = _start(_manage("worker"))
    ends: list[float] = []
    print(f"Zigzag Meadow is at http://127.0.0.1:{port}  (Ctrl+C ends it)", flush=True)
    try:
        while not stopping:
            if web.poll() is not None:
                ends = [at for at in ends if time.monotonic() - at < ENDS_SECONDS] + [time.monotonic()]
                if len(ends) > MOST_ENDS:
                    _say("The web process ends again and again; what is said above may name the reason.")
                    return 1
                _say("The web process ended by itself and is started again.")
                web = _start(_web(port))
                time.sleep(RESTART_SECONDS)
            if worker.poll() is not None:
                worker = _start(_manage("worker"))
                time.sleep(RESTART_SECONDS)
            time.sleep(0.2)
    finally:
        for process in (web, worker):
            _end(process)
    return 0


def _end(process: subprocess.Popen[bytes]) -> None:
    if process.poll() is not None:
        return
    process.terminate()
    try:
        process.wait(8)
    except subprocess.TimeoutExpired:
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
