"""Hot bundles cooled quickly come out as one wire a turn, with every bundle looked at anew, brings them."""

from __future__ import annotations

import pytest
from tools.harnesses import synthetic

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.wire.hot_bundles import Raising

pytestmark = pytest.mark.slow


def crowded(wires: int, times: float, points: int, sources: int, zone_c: float = 70.0):
    """Many wires through few branches in one air, with loads of so many times the usual current."""
    plain = synthetic(wires, seed=wires, points=points, sources=sources)
    for load in plain["circuits"]["loads"].values():
        load["current_a"] = round(load["current_a"] * times, 2)
    plain["brief"]["zones"]["hot"]["ambient_c"] = zone_c
    for branch in plain["route"]["branches"].values():
        branch["zone"] = "hot"
    return plain


CASES = [(1000, 1.0, 3, 4, 70.0), (1000, 2.0, 4, 12, 70.0), (1000, 1.0, 6, 12, 100.0)]


@pytest.fixture
def slowly(monkeypatch):
    """One wire a turn in every hot bundle, and everything looked at anew after it; the turns taken."""
    turns: list[int] = []

    def one_turn(self: Raising, hot) -> int:
        self.raise_by_one(self.next_in(hot))
        turns.append(1)
        return 1

    def evaluated(plain):
        with monkeypatch.context() as patched:
            patched.setattr(Raising, "cool", one_turn)
            return evaluate(parse_document(plain), shipped_catalogue())

    return evaluated, turns


@pytest.mark.parametrize("case", CASES)
def test_it_comes_to_the_same_as_one_wire_a_turn(slowly, case):
    plain = crowded(*case)
    slow, turns = slowly[0](plain), slowly[1]
    assert turns, "nothing was too hot: the case shows nothing"
    quick = evaluate(parse_document(plain), shipped_catalogue())
    assert {k: (w.family, w.gauge) for k, w in quick.wire.wires.items()} == {
        k: (w.family, w.gauge) for k, w in slow.wire.wires.items()
    }
    assert quick == slow


def test_a_bundle_that_no_size_cools_ends_the_search():
    plain = crowded(120, 400.0, points=6, sources=1)
    w = work_out(parse_document(plain), shipped_catalogue())
    in_bundles = w.wire.tables.in_bundles
    assert (in_bundles.heat.core_c > in_bundles.limit_c).any()
    assert "branch-too-hot" in {f.code for f in w.evaluation.findings}


def test_a_bundle_that_is_hot_by_a_rounding_alone_ends_the_search(monkeypatch, slowly):
    """Looked at by itself it is cool, in company it is not: then a wire is raised as is usual."""
    plain = crowded(300, 4.0, points=3, sources=4)
    slow, turns = slowly[0](plain), slowly[1]
    assert turns
    looked: list[int] = []
    monkeypatch.setattr(Raising, "cool", lambda _self, _hot: looked.append(1) or 0)
    assert evaluate(parse_document(plain), shipped_catalogue()) == slow
    assert len(looked) == len(turns)
