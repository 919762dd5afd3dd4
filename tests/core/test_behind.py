"""Work that is handed on: in its order, and to an end whatever happens."""

from __future__ import annotations

import threading
import time

import pytest

from zigzag_meadow.core.delivery.behind import Behind


def test_it_is_done_in_order_beside_the_caller_and_all_of_it():
    done, here = [], threading.get_ident()
    with Behind() as behind:
        for k in range(20):
            behind.hand(lambda k=k: (time.sleep(0.001), done.append((k, threading.get_ident() == here))))
    assert done == [(k, False) for k in range(20)]


def test_nothing_is_begun_after_what_fails_and_the_failure_arrives():
    done = []

    def all_of_it():
        with Behind() as behind:
            behind.hand(lambda: done.append(1))
            behind.hand(lambda: (_ for _ in ()).throw(OSError("full")))
            for k in range(50):
                behind.hand(lambda k=k: done.append(k))

    with pytest.raises(OSError, match="full"):
        all_of_it()
    assert done == [1]


def test_who_gives_up_waits_for_what_is_under_way_and_begins_no_more():
    begun, go_on, done = threading.Event(), threading.Event(), []

    def slow():
        begun.set()
        go_on.wait(5)
        done.append("slow")

    def given_up():
        with Behind() as behind:
            behind.hand(slow)
            behind.hand(lambda: done.append("next"))
            begun.wait(5)
            threading.Timer(0.05, go_on.set).start()
            raise KeyError

    with pytest.raises(KeyError):
        given_up()
    assert done == ["slow"]
