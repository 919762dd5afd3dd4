"""Answers that need computing take turns; what is quick and what is long goes past them."""

from __future__ import annotations

import threading
import time

import pytest

from zigzag_meadow.core.errors import Cancelled
from zigzag_meadow.core.evaluate.board import WorkBoard
from zigzag_meadow.server import rooms
from zigzag_meadow.server.rooms import Full, Room, outside, waiting_on


def never() -> bool:
    return False


class Guest(threading.Thread):
    """Somebody in a room, until let go."""

    def __init__(self, room: Room, gone=never, long: bool = False) -> None:
        super().__init__(daemon=True)
        self.room, self.gone, self.long = room, gone, long
        self.inside, self.let_go, self.told = threading.Event(), threading.Event(), []
        self.error: BaseException | None = None
        self.start()

    def run(self) -> None:
        try:
            with self.room.enter(self.gone, self.told.append):
                self.inside.set()
                self.let_go.wait(10)
        except BaseException as error:
            self.error = error


def waited(guest: Guest, places: int) -> None:
    end = time.monotonic() + 10
    while places not in guest.told:
        assert time.monotonic() < end
        time.sleep(0.005)


def test_places_are_taken_in_turn_and_told():
    room = Room("two", 2, 2)
    first, second = Guest(room), Guest(room)
    assert first.inside.wait(10)
    assert second.inside.wait(10)
    third = Guest(room)
    waited(third, 1)
    fourth = Guest(room)
    waited(fourth, 2)
    with pytest.raises(Full), room.enter(never):
        pass
    second.let_go.set()
    assert third.inside.wait(10)
    assert not fourth.inside.is_set()
    first.let_go.set()
    assert fourth.inside.wait(10)
    for guest in (third, fourth):
        guest.let_go.set()
        guest.join(10)
        assert guest.error is None


def test_who_is_gone_waits_no_longer():
    room = Room("one", 1, 5)
    first = Guest(room)
    assert first.inside.wait(10)
    left = threading.Event()
    second = Guest(room, left.is_set)
    waited(second, 1)
    left.set()
    second.join(10)
    assert isinstance(second.error, Cancelled)
    third = Guest(room)
    first.let_go.set()
    assert third.inside.wait(10)
    third.let_go.set()


def test_long_work_gives_its_place_away_and_takes_it_back_at_once(monkeypatch):
    """Who comes back waits for nobody: those inside may be waiting for what was made."""
    room = Room("one", 1, 5)
    board = WorkBoard()
    with waiting_on(board, "p", room, never), outside():
        other = Guest(room)
        assert other.inside.wait(10)
    assert other.is_alive()
    other.let_go.set()
    other.join(10)
    last = Guest(room)
    assert last.inside.wait(10)
    last.let_go.set()


def test_who_waits_for_long_answers_is_on_the_board_and_can_be_stopped_there(monkeypatch):
    room = Room("long", 1, 5)
    monkeypatch.setattr(rooms, "LONG", room)
    board = WorkBoard()
    first = Guest(room)
    assert first.inside.wait(10)
    stopped: list[BaseException] = []

    def ask() -> None:
        try:
            with waiting_on(board, "p", room, never):
                pass
        except Cancelled as error:
            stopped.append(error)

    waits = threading.Thread(target=ask, daemon=True)
    waits.start()
    end = time.monotonic() + 10
    while not any("Waits for 1" in task.title for task, _ in board.of("p")):
        assert time.monotonic() < end
        time.sleep(0.005)
    (task, _), *_ = board.of("p")
    assert board.stop("p", task.key)
    waits.join(10)
    assert len(stopped) == 1
    assert board.of("p") == []
    first.let_go.set()


@pytest.mark.parametrize(
    ("path", "room"),
    [
        ("maps/reading:slope", "MAPS"),
        ("preview", "PREVIEWS"),
        ("align", "LONG"),
        ("layers/propose", "LONG"),
        ("edits", None),
        ("", None),
        ("deliveries", None),
        ("working", None),
    ],
)
def test_which_request_belongs_where(rf, path, room):
    request = rf.get(f"/api/projects/abc/{path}".rstrip("/"))
    assert rooms.room_for(request) is (None if room is None else getattr(rooms, room))


def test_a_room_that_is_full_says_when_to_come_again(api, project, monkeypatch):
    monkeypatch.setattr(rooms.MAPS, "most", 0)
    response = api.client.get(f"/api/projects/{project['id']}/maps/reading:slope")
    assert (response.status_code, response["Retry-After"]) == (503, "1")
    assert api.get(f"/projects/{project['id']}")["id"] == project["id"]
