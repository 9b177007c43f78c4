"""Threading over the route: connectors in mid-branch, jumpers, splices kept clear, pieces apart."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.document import parse_document
from inkthread.core.route import build_tree
from tests.conftest import HarnessBuilder


def lamps(*points: str) -> HarnessBuilder:
    """Battery B1, fuse F1 and lamps of 1 A at the points named, not routed yet."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse")
    for n, point in enumerate(points, 1):
        builder.feed(f"F1.out > E{n} lamp 1 A > B1")
        builder.set(f"route/points/{point}", {"order": 50 + n, "name": ""})
        builder.set(f"ends/connectors/E{n}/point", point)
    return builder


def lengths(builder: HarnessBuilder) -> dict[str, float]:
    return {c.wire: c.route_mm for c in builder.evaluate().cut.cuts}


def feed_of(builder: HarnessBuilder) -> str:
    circuits = builder.plain["circuits"]["circuits"]
    return next(k for k, c in circuits.items() if "F1.out" in c["ends"])


def test_a_connector_in_mid_branch_gets_its_splice_beside_it_on_the_longer_side():
    builder = lamps("half", "far").run("B1 100 > F1 400 > half 900 > far")
    feed = feed_of(builder)
    e = builder.evaluate()
    splice = next(s for s in e.route.splices.values() if s.circuit == feed)
    assert (splice.point, splice.offset_mm) == ("half", 70)
    branch = builder.plain["route"]["branches"][splice.branch]
    assert {branch["from_point"], branch["to_point"]} == {"half", "far"}
    made = lengths(builder)
    assert made[f"{feed}:F1.out"] == 470, "400 and on to the splice"
    assert made[f"{feed}:E1.+"] == 70
    assert made[f"{feed}:E2.+"] == 830


def test_a_short_branch_takes_its_splice_at_the_middle():
    builder = lamps("end", "end").run("B1 100 > F1 60 > end")
    builder.feed("F1.out > E2.+", "E2.- > B1.-")
    builder.set("ends/connectors/E2/point", "end")
    feed = feed_of(builder)
    splice = next(s for s in builder.evaluate().route.splices.values() if s.circuit == feed)
    assert splice.offset_mm == 30


def test_two_ends_at_one_point_are_a_jumper_with_slack_and_allowances():
    builder = lamps("end", "end").run("B1 100 > F1 500 > end")
    builder.set("ends/connectors/E2/point", "end")
    builder.plain["circuits"]["circuits"]["J"] = {"order": 99, "name": "jumper", "ends": {}}
    for lamp in ("E1", "E2"):
        builder.set(f"circuits/devices/{lamp}/pins/t", {"order": 9, "role": "signal", "name": "tap"})
        builder.set(f"ends/connectors/{lamp}/ways", 3)
        builder.set(f"ends/pinout/{lamp}.t", {"order": 99, "connector": lamp, "cavity": "3"})
        builder.set(f"circuits/circuits/J/ends/{lamp}.t", {"order": 1})
    cut = next(c for c in builder.evaluate().cut.cuts if c.wire == "J")
    assert (cut.route_mm, cut.slack_mm, cut.cut_mm) == (0, 20, 50)


def test_a_circuit_goes_on_without_the_end_that_cannot_be_reached():
    builder = lamps("near", "island").run("B1 100 > F1 500 > near")
    e = builder.evaluate()
    codes = {f.code for f in e.findings}
    assert "route-broken" in codes
    feed = feed_of(builder)
    assert [w.key for w in e.wire.wires.values() if w.circuit == feed] == [feed]
    assert e.wire.wires[feed].carries_a == pytest.approx(2.0), "the current asked of it is not forgotten"


def test_the_hottest_zone_on_the_way_is_the_wires_own():
    builder = lamps("far").run("B1 100 > F1 500 > mid 300 > far")
    builder.set("brief/zones", {"z": {"order": 1, "name": "Hot", "ambient_c": 90.0}})
    builder.shaded()
    builder.set("route/branches/R3/zone", "z")
    e = builder.evaluate()
    assert e.wire.wires[feed_of(builder)].ambient_c == 90
    assert next(w for w in e.wire.wires.values() if w.to_text.startswith("F1-1")).ambient_c == 40
    assert e.route.branches["R2"].hottest_c < 60 < e.route.branches["R3"].hottest_c


def test_paths_climb_to_the_meeting_place_and_down_again():
    builder = HarnessBuilder("vehicle").run("a 100 > b 200 > c 300 > d", "b 50 > e 60 > f", "x 10 > y")
    tree = build_tree(parse_document(builder.plain).route)
    assert [p for _, p in tree.path("d", "f")] == ["c", "b", "e", "f"]
    assert [p for _, p in tree.path("f", "d")] == ["e", "b", "c", "d"]
    assert tree.path("a", "a") == ()
    assert tree.path("a", "y") is None


@given(st.lists(st.integers(0, 30), min_size=1, max_size=30))
@settings(max_examples=60, deadline=None)
def test_a_path_is_the_one_that_a_search_outward_finds(parents):
    """Trees of any shape: point n hangs on one of those before it. Against a search from end to end."""
    ties = {f"b{n}": (f"p{parent % n}", f"p{n}") for n, parent in enumerate(parents, 1)}
    builder = HarnessBuilder("vehicle")
    for n in range(len(parents) + 1):
        builder.set(f"route/points/p{n}", {"order": n, "name": ""})
    for n, (key, (a, b)) in enumerate(ties.items()):
        builder.set(f"route/branches/{key}", {"order": n, "from_point": a, "to_point": b, "length_mm": 100.0})
    tree = build_tree(parse_document(builder.plain).route)
    near: dict[str, list[tuple[str, str]]] = {}
    for key, (a, b) in ties.items():
        near.setdefault(a, []).append((key, b))
        near.setdefault(b, []).append((key, a))
    for start in near:
        ways = {start: ()}
        queue = [start]
        for point in queue:
            for key, other in near[point]:
                if other not in ways:
                    ways[other] = (*ways[point], (key, other))
                    queue.append(other)
        assert {end: tree.path(start, end) for end in near} == ways


def test_a_splice_is_named_by_what_is_there():
    builder = lamps("half", "far").run("B1 100 > F1 400 > half 900 > far")
    builder.set("route/points/half/name", "rear hoop")
    texts = {w.to_text for w in builder.evaluate().wire.wires.values() if "splice" in w.to_text}
    assert "splice at rear hoop" in texts
