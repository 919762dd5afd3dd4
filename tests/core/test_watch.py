"""What native code was in the middle of when it ended the process: told once, refused after the second time."""

from __future__ import annotations

import pytest

from zigzag_meadow.core.errors import EndedTwice
from zigzag_meadow.core.evaluate.watch import Watch


def ends_in_the_middle(place, key, run="1", made_of="a"):
    """A process that goes in and never comes out; others beside it were finished."""
    watch = Watch(place, run, made_of)
    with watch.over("fine", "Moor"):
        pass
    inside = watch.over(key, "Scree")
    inside.__enter__()
    return watch, inside


def test_what_ended_the_process_twice_is_not_tried_again_and_all_else_is(tmp_path):
    place = tmp_path / "web"
    first, _under_way = ends_in_the_middle(place, "k")
    assert first.again is None
    second, _too = ends_in_the_middle(place, "k")
    assert "while it worked out “Scree” and was started again" in second.again
    third = Watch(place, "1", "a")
    with pytest.raises(EndedTwice, match=r"“Name of today”.*twice"):
        third.over("k", "Name of today").__enter__()
    with third.over("fine", "Moor"):
        pass
    # What raises is no end of the process.
    for _ in range(3):
        with pytest.raises(ZeroDivisionError), third.over("raises", "x"):
            raise ZeroDivisionError
    assert Watch(place, "1", "a").again == (
        "The application ended by itself and was started again. Nothing that was saved is lost."
    )


def test_a_stop_of_all_counts_for_nothing_and_other_code_tries_again(tmp_path):
    place = tmp_path / "web"
    held = [ends_in_the_middle(place, "k", run) for run in ("1", "2", "2")]
    assert held[1][0].again is None
    with pytest.raises(EndedTwice):
        Watch(place, "2", "a").over("k", "x").__enter__()
    with Watch(place, "2", "b").over("k", "x"):
        pass


def test_a_damaged_record_stops_nothing(tmp_path):
    place = tmp_path / "web"
    for damaged in (b"", b"{", b"[]", b'{"run": "1", "made_of": "a", "starts": "x", "counts": 3}', b"\xff" * 300):
        place.with_suffix(".json").write_bytes(damaged)
        place.write_bytes(damaged)
        with Watch(place, "1", "a").over("k", "x"):
            pass


def test_more_threads_than_are_written_down_all_go_on(tmp_path):
    watch = Watch(tmp_path / "web", "1", "a")
    held = [watch.over(str(k), "x") for k in range(70)]
    for one in held:
        one.__enter__()
    for one in held:
        one.__exit__(None, None, None)
    assert not Watch(tmp_path / "web", "1", "a")._kept.counts
