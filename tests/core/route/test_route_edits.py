"""Editing a measured route: points put in and taken out, branches hung elsewhere; and its drawing."""

from __future__ import annotations

import itertools
import random

import pytest

from inkthread.core.document.draft import LineError
from inkthread.core.document.types import Branch, Point, Route
from inkthread.core.route.layout import lay_out, shape_of
from tests.conftest import HarnessBuilder


def act(builder: HarnessBuilder, name: str, text: str, about: str) -> HarnessBuilder:
    from inkthread.core.acts import act_operations
    from inkthread.storage.patches import apply_with_inverse

    builder.plain, _ = apply_with_inverse(
        builder.plain, act_operations(builder.plain, builder.catalogue, name, text, about)
    )
    return builder


def cuts(builder: HarnessBuilder) -> dict[str, float]:
    return {c.wire: c.cut_mm for c in builder.evaluate().cut.cuts}


def test_a_point_put_on_a_branch_changes_no_wire(pump):
    before = cuts(pump)
    act(pump, "insert_point", "grommet 0.3 m", "R2")
    branches = pump.plain["route"]["branches"]
    assert sorted(b["length_mm"] for b in branches.values()) == [100, 300, 400, 600]
    assert cuts(pump) == before


def test_taking_the_point_out_again_makes_one_branch_of_two(pump):
    before = cuts(pump)
    act(pump, "insert_point", "grommet 300", "R2")
    act(pump, "merge_point", "", "grommet")
    assert cuts(pump) == before
    assert "grommet" not in pump.plain["route"]["points"]


def test_stretches_stay_where_they_lie(pump):
    pump.set("brief/zones/hot", {"order": 1, "name": "hot", "ambient_c": 90.0})
    stretch = {"order": 1, "zone": "hot", "from_mm": 200.0, "to_mm": 500.0}
    pump.set("route/branches/R2/stretches", {"s": dict(stretch)})
    act(pump, "insert_point", "grommet 300", "R2")
    parts = {
        k: [(s["from_mm"], s["to_mm"]) for s in b.get("stretches", {}).values()]
        for k, b in pump.plain["route"]["branches"].items()
    }
    assert parts["R2"] == [(200, 300)]
    assert [(0, 200)] in parts.values()
    act(pump, "merge_point", "", "grommet")
    merged = pump.plain["route"]["branches"]["R2"]["stretches"].values()
    assert sum(s["to_mm"] - s["from_mm"] for s in merged) == 300


@pytest.mark.parametrize(
    ("name", "text", "about", "says"),
    [
        ("insert_point", "", "R2", "how far along"),
        ("insert_point", "grommet", "R2", "How far is grommet"),
        ("insert_point", "grommet 2 m", "R2", "between its ends"),
        ("insert_point", "mid 100", "R2", "already"),
        ("insert_point", "grommet 100", "R99", "no branch"),
        ("merge_point", "", "M1", "joins 1 branches"),
        ("merge_point", "", "F1", "F1 lies at F1"),
        ("rehang", "nowhere", "R3", "no point"),
        ("rehang", "mid", "R3", "already"),
    ],
)
def test_what_cannot_be_done_says_why(pump, name, text, about, says):
    with pytest.raises(LineError, match=says):
        act(pump, name, text, about)


def test_a_branch_hung_elsewhere_takes_along_what_lies_beyond(pump):
    before = cuts(pump)
    act(pump, "rehang", "F1", "R3")
    after = cuts(pump)
    branch = pump.plain["route"]["branches"]["R3"]
    assert {branch["from_point"], branch["to_point"]} == {"F1", "M1"}
    assert all(after[k] <= before[k] for k in before)
    assert max(before[k] - after[k] for k in before) >= 900


def test_a_typed_run_names_its_free_end():
    builder = HarnessBuilder("vehicle").run("tail 310 > left 250 > P13 rain lamp")
    route = builder.plain["route"]
    assert route["points"]["P13"]["name"] == "rain lamp"
    assert sorted(b["length_mm"] for b in route["branches"].values()) == [250, 310]


def tree(seed: int, branches: int) -> Route:
    """A route as machines have them: some long runs, much that hangs."""
    rng = random.Random(seed)
    points = {f"P{n}": Point(float(n), datum=n == 0) for n in range(branches + 1)}
    made = {}
    for n in range(1, branches + 1):
        near = n - 1 if rng.random() < 0.5 else rng.randrange(max(0, n - 14 if seed % 2 else 0), n)
        made[f"R{n}"] = Branch(float(n), f"P{near}", f"P{n}", rng.uniform(40, 700))
    return Route(points, made)


def crossings(route: Route) -> int:
    laid = lay_out(shape_of(route))
    at = {p: (x.x_mm, x.y_mm) for p, x in laid.items()}

    def side(a, b, p):
        return (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0])

    count = 0
    for one, two in itertools.combinations(route.branches.values(), 2):
        if {one.from_point, one.to_point} & {two.from_point, two.to_point}:
            continue
        a, b, c, d = at[one.from_point], at[one.to_point], at[two.from_point], at[two.to_point]
        count += side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0
    return count


@pytest.mark.parametrize("seed", range(10))
def test_a_hundred_branches_are_drawn_to_scale_and_none_crosses_another(seed):
    route = tree(seed, 100)
    laid = lay_out(shape_of(route))
    for b in route.branches.values():
        p, q = laid[b.from_point], laid[b.to_point]
        drawn = ((p.x_mm - q.x_mm) ** 2 + (p.y_mm - q.y_mm) ** 2) ** 0.5
        assert drawn == pytest.approx(b.length_mm, abs=1e-6)
    assert crossings(route) == 0


def test_stations_are_counted_along_the_harness_from_the_datum():
    route = tree(3, 40)
    laid = lay_out(shape_of(route))
    assert laid["P0"].station_mm == 0
    for b in route.branches.values():
        one, two = laid[b.from_point].station_mm, laid[b.to_point].station_mm
        assert abs(one - two) == pytest.approx(b.length_mm)


def test_a_branch_says_what_it_is_shared_with(larkspur):
    bundles = larkspur.evaluate().dress.bundles
    words = {w for b in bundles.values() for w in b.shares_with}
    assert {"an ignition lead", "a data pair", "heat"} <= words


def test_a_point_between_makes_no_finding_of_its_own(pump):
    before = [f.code for f in pump.evaluate().findings]
    act(pump, "insert_point", "grommet 300", "R2")
    assert [f.code for f in pump.evaluate().findings] == before


@pytest.mark.parametrize(
    ("measured", "stated", "slack", "unsure"),
    [
        ("guess", None, None, True),
        ("guess", None, 120.0, False),
        ("tape", None, None, False),
        ("tape", 40.0, None, True),
        ("laid in place", None, 5.0, False),
        ("model", None, 15.0, True),
    ],
)
def test_a_length_known_less_well_than_its_slack_is_said(pump, measured, stated, slack, unsure):
    """900 mm with 20 mm of slack by the rule; by method 0.2 % laid, 0.5 % tape, 2 % model, 10 % guessed."""
    pump.set("route/branches/R2/measured", measured).set("route/branches/R2/uncertainty_mm", stated)
    pump.set("route/branches/R2/slack_mm", slack)
    assert ("measure-unsure" in {f.code for f in pump.evaluate().findings}) == unsure


@pytest.mark.parametrize(
    ("typed", "stretch"),
    [
        ("bay 0 120", ("bay", 0.0, 120.0)),
        ("Engine bay 50 to 12 cm", ("bay", 50.0, 120.0)),
        ("engine 2 in 300", ("bay", 50.8, 300.0)),
        ("engine bay", ("bay", 0.0, 900.0)),
    ],
)
def test_a_stretch_in_another_zone_is_typed(pump, typed, stretch):
    pump.set("brief/zones/bay", {"order": 1, "name": "Engine bay", "ambient_c": 105.0})
    branch = next(b for b, x in pump.plain["route"]["branches"].items() if x["length_mm"] == 900)
    pump._act_about("stretch", typed, branch)
    (put,) = pump.plain["route"]["branches"][branch]["stretches"].values()
    assert (put["zone"], round(put["from_mm"], 6), put["to_mm"]) == stretch
    (seen,) = pump.evaluate().route.branches[branch].stretches
    assert (seen.zone, round(seen.from_mm, 6), seen.to_mm) == stretch


@pytest.mark.parametrize(
    ("typed", "told"),
    [
        ("cellar 0 120", "Engine bay"),
        ("bay 120 50", "900 mm long"),
        ("bay 0 2 m", "900 mm long"),
        ("", "Name the zone"),
    ],
)
def test_a_stretch_that_is_none_is_refused(pump, typed, told):
    pump.set("brief/zones/bay", {"order": 1, "name": "Engine bay", "ambient_c": 105.0})
    branch = next(b for b, x in pump.plain["route"]["branches"].items() if x["length_mm"] == 900)
    with pytest.raises(LineError, match=told):
        pump._act_about("stretch", typed, branch)


def test_hot_is_said_in_one_place(pump):
    for zone, air in (("warm", 69.9), ("hot", 70.0)):
        pump.set(f"brief/zones/{zone}", {"order": 1, "name": zone, "ambient_c": air})
    first = next(iter(pump.plain["route"]["branches"].values()))
    first["zone"] = "hot"
    e = pump.evaluate()
    assert e.brief.hot_zones == ("hot",)
    assert [b for b, x in e.dress.bundles.items() if "heat" in x.shares_with] == [
        next(iter(pump.plain["route"]["branches"]))
    ]
