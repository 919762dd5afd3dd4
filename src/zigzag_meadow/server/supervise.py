"""Start the web process and the worker together, and end them together."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from types import FrameType

__all__ = ["serve"]

THREADS = 8
RESTART_SECONDS = 1.0


def _manage(*arguments: str) -> list[str]:
    return [sys.executable, "-m", "django", *arguments, "--settings", "zigzag_meadow.server.settings"]


def _web(port: int) -> list[str]:
    return [
        sys.executable, "-m", "gunicorn", "zigzag_meadow.server.wsgi:application", "--bind", f"127.0.0.1:{port}",
        "--workers", "1", "--threads", str(THREADS), "--worker-class", "gthread", "--timeout", "300",
        "--graceful-timeout", "3", "--keep-alive", "75", "--log-level", "warning", "--no-control-socket",
    ]  # fmt: skip


def serve(port: int, demo: bool) -> int:
    """Prepare, then run web and worker until interrupted. A worker that dies is started again."""
    prepare = _manage("prepare", *(["--demo"] if demo else []))
    if subprocess.call(prepare) != 0:
        return 2
    stopping = False

    def stop(number: int, frame: FrameType | None) -> None:
        nonlocal stopping
        stopping = True

    signal.signal(signal.SIGINT, stop)
    signal.signal(signal.SIGTERM, stop)
    # Sessions of their own: Ctrl+C reaches this process alone, which then ends the others in order.
    web = subprocess.Popen(_web(port), start_new_session=True)
    worker = subprocess.Popen(_manage("worker"), start_new_session=True)
    print(f"Zigzag Meadow is at http://127.0.0.1:{port}  (Ctrl+C ends it)", flush=True)
    code = 0
    try:
        while not stopping:
            if web.poll() is not None:
                print("The web process ended by itself; is the port taken?", file=sys.stderr)
                code = 1
                break
            if worker.poll() is not None:
                worker = subprocess.Popen(_manage("worker"), start_new_session=True)
                time.sleep(RESTART_SECONDS)
            time.sleep(0.2)
    finally:
        for process in (web, worker):
            _end(process)
    return code


def _end(process: subprocess.Popen[bytes]) -> None:
    if process.poll() is not None:
        return
    process.terminate()
    try:
        process.wait(8)
    except subprocess.TimeoutExpired:
        os.kill(process.pid, signal.SIGKILL)
        process.wait()
