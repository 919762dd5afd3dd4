"""A crew does everything once, passes errors on, and never waits for helpers that are busy elsewhere."""

from __future__ import annotations

import threading

import pytest

from tests.support.ground import document, evaluation, small_tiles
from zigzag_meadow.core.crew import Crew
from zigzag_meadow.core.errors import Cancelled


@pytest.mark.parametrize("helpers", [0, 1, 3])
def test_everything_is_done_once(helpers):
    crew = Crew(helpers)
    done: list[int] = []
    crew.each(50, done.append)
    crew.close()
    assert sorted(done) == list(range(50))


def test_the_first_error_ends_it_and_is_raised():
    crew = Crew(1)
    done: list[int] = []

    def work(k: int) -> None:
        done.append(k)
        if k == 3:
            raise Cancelled()

    with pytest.raises(Cancelled):
        crew.each(10_000, work)
    assert len(done) < 10_000


def test_a_busy_helper_keeps_nobody_waiting():
    """Work that calls for the crew again, and callers whose helper is held by another: all come to an end."""
    crew = Crew(1)
    held, go = threading.Event(), threading.Event()

    def hold(_: int) -> None:
        held.set()
        go.wait(20)

    other = threading.Thread(target=lambda: crew.each(2, hold))
    other.start()
    held.wait(20)
    done: list[tuple[int, int]] = []
    crew.each(4, lambda a: crew.each(4, lambda b: done.append((a, b))))
    assert len(set(done)) == 16
    go.set()
    other.join(20)
    assert not other.is_alive()


def test_a_map_is_the_same_with_a_crew(tmp_path, monkeypatch):
    small_tiles(monkeypatch, 32)
    _, alone = evaluation(tmp_path, document())
    _, crewed = evaluation(tmp_path, document())
    object.__setattr__(crewed.engine, "crew", Crew(2))
    for name in ("mask:steep", "weight:rock", "sheet:splat"):
        assert (alone.map(name) == crewed.map(name)).all()
