"""Files from elsewhere are read in a process of their own: whatever a decoder does there, the application goes on."""

from __future__ import annotations

import itertools
import os
import time

import numpy as np
import pytest

from tests.support.ground import hills, png16
from zigzag_meadow.core.errors import BadFile, Cancelled, TooLarge
from zigzag_meadow.core.formats.read import read_stored
from zigzag_meadow.server.engine import engine
from zigzag_meadow.server.helped_reader import HelpedReader
from zigzag_meadow.server.models import Asset


@pytest.fixture(scope="module")
def file_reader():
    made = HelpedReader(seconds=3, memory=200 * 2**20)
    made.start()
    yield made
    made.close()


def test_a_helper_gives_what_reading_here_gives(file_reader, tmp_path):
    path = tmp_path / "h.png"
    path.write_bytes(png16(hills(300, 200)))
    here, there = read_stored(path, "h.png"), file_reader(read_stored, path, "h.png")
    assert (here.samples == there.samples).all()
    assert there.samples.flags.writeable
    (tmp_path / "bad.png").write_bytes(b"\x89PNG\r\n\x1a\n" + bytes(40))
    with pytest.raises(BadFile, match=r"bad\.png is"):
        file_reader(read_stored, tmp_path / "bad.png", "bad.png")


@pytest.mark.parametrize(
    ("work", "arguments", "error", "words"),
    [
        (time.sleep, (30,), TooLarge, "took longer than 3 s"),
        (os._exit, (3,), BadFile, "could not be read"),
        (os.abort, (), BadFile, "could not be read"),
        (np.ones, ((9000, 9000),), TooLarge, "more memory"),
    ],
    ids=["too long", "gone", "crashed", "too much memory"],
)
def test_whatever_a_decoder_does_the_next_file_is_read(file_reader, tmp_path, work, arguments, error, words):
    path = tmp_path / "h.png"
    path.write_bytes(png16(hills(30, 20)))
    with pytest.raises(error, match=words):
        file_reader(work, *arguments)
    assert file_reader(read_stored, path, "h.png").samples.shape == (30, 20)


def test_a_mistake_of_ours_in_the_helper_is_ours(file_reader):
    with pytest.raises(RuntimeError, match="TypeError"):
        file_reader(len, 5)


def test_who_is_no_longer_there_is_not_read_for(file_reader):
    asked = itertools.count()
    with pytest.raises(Cancelled):
        file_reader(time.sleep, 30, cancel=lambda: next(asked) > 2)


def test_others_are_served_while_a_file_is_read(api, project, monkeypatch):
    """A reader that hangs holds up whoever brought the file, and nobody else."""
    import threading

    slow, gone = HelpedReader(seconds=60), threading.Event()
    slow.start()
    monkeypatch.setattr("zigzag_meadow.server.engine.file_reader", lambda: slow)
    held = threading.Thread(
        target=lambda: pytest.raises(Cancelled, slow, time.sleep, 50, cancel=gone.is_set)  # noqa: RUF061
    )
    held.start()
    for _ in range(20):
        api.get(f"/projects/{project['id']}")
        api.get("/projects")
    assert held.is_alive()
    gone.set()
    held.join(10)
    assert not held.is_alive()
    slow.close()


def test_files_of_the_ground_are_read_in_the_helper_too(api, project):
    """Also when a map is made, long after the file was brought in."""
    assert engine().reads.__class__ is HelpedReader
    assert Asset.objects.count() == 1
