"""A running application, as tests of the pages and of starting see it."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
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


def furnished(folder: Path) -> Path:
    """A data folder whose bundled textures are there, as after a first start: making them takes longest of all."""
    prepared = ROOT / "build" / "prepared"
    command = [sys.executable, "-m", "django", "prepare", "--settings", "zigzag_meadow.server.settings"]
    subprocess.run(command, env={**os.environ, "ZIGZAG_DATA": str(prepared)}, check=True, stdout=subprocess.DEVNULL)
    shutil.copytree(prepared / "maps", folder / "maps")
    return folder
