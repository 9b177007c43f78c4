"""The five ways of joining a circuit, on routes made at random, against least trees and plain distances."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.document.starter import new_document
from tests.conftest import HarnessBuilder

pytestmark = pytest.mark.slow

WAYS = ("cascade", "star", "daisy chain", "block", "home runs")


@st.composite
def routes(draw: st.DrawFn) -> tuple[list[tuple[int, float]], list[int]]:
    """A tree (parent and length in mm of each point after the first), and the points of the ends."""
    count = draw(st.integers(2, 9))
    tree = [(draw(st.integers(0, n)), float(draw(st.integers(200, 900)))) for n in range(count)]
    ends = draw(st.lists(st.integers(0, count), min_size=3, max_size=6))
    return tree, ends


def harness(tree: list[tuple[int, float]], ends: list[int], way: str) -> HarnessBuilder:
    """One ground circuit between studs on ring terminals, one at each end's point."""
    plain: dict[str, Any] = new_document("threads", "vehicle")
    for n in range(len(tree) + 1):
        plain["route"]["points"][f"P{n}"] = {"order": n, "name": ""}
    for n, (parent, length) in enumerate(tree, 1):
        plain["route"]["branches"][f"R{n}"] = {
            "order": n, "from_point": f"P{parent}", "to_point": f"P{n}", "length_mm": length,
            "measured": "tape", "zone": None, "slack_mm": 0.0,
        }  # fmt: skip
    held = {}
    for n, point in enumerate(ends):
        pins = {"1": {"order": 1, "role": "ground", "name": "stud"}}
        plain["circuits"]["devices"][f"D{n}"] = {"order": n, "name": "box", "pins": pins}
        plain["ends"]["connectors"][f"D{n}"] = {
            "order": n, "family": "RING", "ways": 1, "shell": "none", "stud": "M6", "point": f"P{point}",
        }  # fmt: skip
        plain["ends"]["pinout"][f"D{n}.1"] = {"order": n, "connector": f"D{n}", "cavity": "1"}
        held[f"D{n}.1"] = {"order": n}
    plain["circuits"]["circuits"]["C1"] = {"order": 1, "name": "ground", "ends": held, "threading": way}
    return HarnessBuilder(plain=plain)


def graph(tree: list[tuple[int, float]]) -> nx.Graph:
    g = nx.Graph()
    g.add_node(0)
    for n, (parent, length) in enumerate(tree, 1):
        g.add_edge(parent, n, weight=length)
    return g


def passed(g: nx.Graph, ends: list[int]) -> set[frozenset[int]]:
    """The edges on the ways between the ends."""
    ways = [nx.shortest_path(g, ends[0], a) for a in ends]
    return {frozenset(e) for way in ways for e in pairwise(way)}


def least_tree_mm(tree: list[tuple[int, float]], ends: list[int]) -> float:
    """Length of the smallest subtree that holds the ends."""
    g = graph(tree)
    return sum(g.edges[tuple(e)]["weight"] for e in passed(g, ends))


def apart_mm(tree: list[tuple[int, float]], a: int, b: int) -> float:
    return float(nx.shortest_path_length(graph(tree), a, b, weight="weight"))


def joined(sections: list[Any]) -> nx.Graph:
    g = nx.Graph()
    g.add_edges_from((s.a.id, s.b.id, {"key": s.key}) for s in sections)
    return g


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=25, deadline=None)
@given(made=routes())
def test_every_end_is_joined_once_and_by_a_tree(way, made):
    tree, ends = made
    w = harness(tree, ends, way).workings()
    sections = list(w.route.sections.values())
    g = joined(sections)
    assert {f"D{n}.1" for n in range(len(ends))} <= set(g)
    assert nx.is_tree(g), "no end left over, and no wire that closes a loop"
    assert g.number_of_edges() == len(sections), "no two wires between the same two places"


@settings(max_examples=40, deadline=None)
@given(made=routes())
def test_a_cascade_lays_hardly_more_wire_than_the_least_tree(made):
    tree, ends = made
    w = harness(tree, ends, "cascade").workings()
    laid = sum(s.length_mm for s in w.route.sections.values())
    least = least_tree_mm(tree, ends)
    assert laid >= least - 1e-6
    # A splice set off its branching place leaves every wire that comes to it that much longer, at most.
    off = sum(len(s.sections) * s.offset_mm for s in w.route.splices.values())
    assert laid <= least + off + 1e-6


@settings(max_examples=40, deadline=None)
@given(made=routes())
def test_home_runs_are_as_long_as_each_end_is_from_home(made):
    tree, ends = made
    w = harness(tree, ends, "home runs").workings()
    assert not w.route.splices
    laid = sum(s.length_mm for s in w.route.sections.values())
    assert laid == pytest.approx(sum(apart_mm(tree, ends[0], p) for p in ends[1:]))


@settings(max_examples=40, deadline=None)
@given(made=routes())
def test_a_star_stands_where_it_takes_least_wire(made):
    tree, ends = made
    w = harness(tree, ends, "star").workings()
    (splice,) = w.route.splices.values()
    at = int(splice.point.removeprefix("P"))

    def wire(point: int) -> float:
        return sum(apart_mm(tree, point, p) for p in ends)

    on_the_way = {p for a in ends for p in nx.shortest_path(graph(tree), ends[0], a)}
    assert at in on_the_way
    assert wire(at) == pytest.approx(min(wire(p) for p in on_the_way))
    assert len(splice.sections) == len(ends)


@settings(max_examples=40, deadline=None)
@given(made=routes())
def test_a_block_is_a_star_with_a_stud_for_each(made):
    tree, ends = made
    star = harness(tree, ends, "star").workings()
    block = harness(tree, ends, "block").workings()
    (one,), (other,) = star.route.splices.values(), block.route.splices.values()
    assert (other.kind, other.point) == ("block", one.point)
    assert other.offset_mm == 0
    assert block.ends.blocks == {other.id: len(ends)}


@settings(max_examples=40, deadline=None)
@given(made=routes())
def test_a_chain_goes_from_end_to_end_along_the_route(made):
    tree, ends = made
    w = harness(tree, ends, "daisy chain").workings()
    assert not w.route.splices, "rings hold two"
    g = joined(list(w.route.sections.values()))
    degrees = sorted(d for _, d in g.degree)
    assert degrees == [1, 1, *[2] * (len(ends) - 2)]
    first, last = (n for n, d in g.degree if d == 1)
    farthest = max(apart_mm(tree, a, b) for a in ends for b in ends)
    where = {f"D{n}.1": p for n, p in enumerate(ends)}
    assert apart_mm(tree, where[first], where[last]) == pytest.approx(farthest)
    laid = sum(s.length_mm for s in w.route.sections.values())
    assert least_tree_mm(tree, ends) - 1e-6 <= laid <= 2 * least_tree_mm(tree, ends) + 1e-6


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=15, deadline=None)
@given(made=routes())
def test_what_is_cut_is_what_is_laid_and_what_the_ends_take_up(way, made):
    tree, ends = made
    w = harness(tree, ends, way).workings()
    for cut in w.cut.cuts:
        section = w.route.sections[cut.wire]
        assert cut.finished_mm == pytest.approx(section.length_mm + section.slack_mm, abs=0.01)
        assert cut.cut_mm >= cut.finished_mm + cut.a.takes_mm + cut.b.takes_mm - 1e-6


@pytest.mark.parametrize("way", WAYS)
@settings(max_examples=15, deadline=None)
@given(made=routes())
def test_every_branch_holds_the_wires_that_pass_it_and_no_others(way, made):
    tree, ends = made
    e = harness(tree, ends, way).evaluate()
    for branch, view in e.route.branches.items():
        assert view.wires == len(e.route.wires.get(branch, ()))
    needed = passed(graph(tree), ends)
    for n, (parent, _) in enumerate(tree, 1):
        held = e.route.branches[f"R{n}"].wires
        if frozenset((parent, n)) in needed and way in ("cascade", "home runs", "daisy chain"):
            assert held >= 1, f"R{n} leads to an end"
