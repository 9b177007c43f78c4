"""Work beside the requests: in order, none lost, none stopped by what failed before it."""

from __future__ import annotations

import threading

from inkthread.web.in_turn import InTurn


def test_what_is_given_is_done_in_order_and_none_is_lost():
    turn, done = InTurn(), []
    for one in range(500):
        turn.do(lambda one=one: done.append(one))
    turn.wait()
    assert done == list(range(500))
    assert not turn.busy


def test_from_many_threads_at_once_none_is_lost():
    turn, done = InTurn(), []
    givers = [
        threading.Thread(target=lambda: [turn.do(lambda: done.append(1)) for _ in range(200)])
        for _ in range(8)
    ]
    for giver in givers:
        giver.start()
    for giver in givers:
        giver.join()
    turn.wait()
    assert len(done) == 1600


def test_what_fails_is_logged_and_the_next_is_done(caplog):
    turn, done = InTurn(), []
    turn.do(lambda: [][0])
    turn.do(lambda: done.append("next"))
    turn.wait()
    assert done == ["next"]
    assert "IndexError" in caplog.text


def test_what_may_be_left_is_left_while_something_is_done():
    turn, done, gate = InTurn(), [], threading.Event()
    turn.do(gate.wait)
    assert turn.busy
    turn.do(lambda: done.append("left"), or_leave=True)
    turn.do(lambda: done.append("waited"))
    gate.set()
    turn.wait()
    turn.do(lambda: done.append("free"), or_leave=True)
    turn.wait()
    assert done == ["waited", "free"]
