"""A running application, as tests of the pages and of starting see it."""

from __future__ import annotations

import socket
import subprocess
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


@dataclass
class Site:
    """A running application: its address, its data folder and its process."""

    url: str
    data: Path
    process: subprocess.Popen[bytes]


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
