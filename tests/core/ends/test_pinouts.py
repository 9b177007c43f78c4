"""Ways given out by a rule, and what lies beside what."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.ends.adjacent import Way, bridge, propose, standing
from inkthread.core.ends.pinout import PinoutError, clear, give_out, swap
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import HarnessBuilder
from tests.core.scenarios import pump


def box(pins: dict[str, str], family: str = "SR16", ways: int = 12) -> HarnessBuilder:
    """One device with these pins (id to role), all of them in circuits of their own."""
    builder = pump()
    made = {p: {"order": n, "role": r, "name": f"{r} {p}"} for n, (p, r) in enumerate(pins.items())}
    builder.set("circuits/devices/N1", {"order": 9, "name": "box", "pins": made})
    connector = {"order": 9, "family": family, "ways": ways, "point": "M1", "shell": "plug"}
    builder.set("ends/connectors/N1", connector)
    for n, p in enumerate(pins):
        builder.set(f"circuits/circuits/N{p}", {"order": 50 + n, "ends": {f"N1.{p}": {"order": 1}}})
    return builder


def given_out(builder: HarnessBuilder, rule: str) -> dict[str, str]:
    w = builder.workings()
    operations = give_out(w.document, w.catalogue, w.circuits, "N1", rule)  # type: ignore[arg-type]
    builder.plain, _ = apply_with_inverse(builder.plain, operations)
    return {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == "N1"}


PINS = {"3": "signal", "1": "supply_in", "X": "data", "2": "ground", "7": "signal"}


def test_ways_follow_the_devices_own_numbers():
    assert given_out(box(PINS), "as the device") == {
        "N1.3": "3",
        "N1.1": "1",
        "N1.2": "2",
        "N1.7": "7",
        "N1.X": "4",
    }


def test_power_goes_apart_from_signals_with_a_way_between():
    got = given_out(box(PINS), "power apart")
    power = {got["N1.1"], got["N1.2"]}
    assert power == {"1", "2"}
    assert "3" not in got.values()
    assert set(got.values()) == {"1", "2", "4", "5", "6"}


def test_by_name_counts_numbers_as_numbers():
    got = given_out(box({"b": "signal", "a": "signal"} | {"10": "signal", "9": "signal"}), "by name")
    assert sorted(got, key=lambda r: int(got[r])) == ["N1.9", "N1.10", "N1.a", "N1.b"]


@pytest.mark.slow
@settings(max_examples=40, deadline=None)
@given(
    st.permutations(list(PINS)),
    st.sampled_from(["as the device", "pairs together", "power apart", "by name", "by port"]),
)
def test_every_rule_gives_each_pin_a_way_of_its_own_and_leaves_what_is_locked(order, rule):
    builder = box({p: PINS[p] for p in order})
    builder.set("ends/pinout/N1.X", {"order": 1, "connector": "N1", "cavity": "9", "locked": True})
    builder.set("ends/connectors/N1/spares", {"1": {"order": 1, "state": "reserved", "reason": "later"}})
    got = given_out(builder, rule)
    assert set(got) == {f"N1.{p}" for p in PINS}
    assert len(set(got.values())) == len(PINS)
    assert got["N1.X"] == "9"
    assert "1" not in got.values()
    # Doing it again changes nothing.
    again = builder.workings()
    assert give_out(again.document, again.catalogue, again.circuits, "N1", rule) == []


def test_too_few_ways_are_refused_and_nothing_is_lost():
    builder = box(PINS, "SR16", 4)
    w = builder.workings()
    with pytest.raises(PinoutError, match="4 ways to give and 5 pins"):
        give_out(w.document, w.catalogue, w.circuits, "N1", "by port")


def test_two_ways_are_exchanged_one_may_be_free_and_locked_ones_stay():
    builder = box(PINS)
    given_out(builder, "as the device")
    w = builder.workings()
    builder.plain, inverse = apply_with_inverse(builder.plain, swap(w.document, w.catalogue, "N1", "3", "12"))
    assert builder.plain["ends"]["pinout"]["N1.3"]["cavity"] == "12"
    builder.plain, _ = apply_with_inverse(builder.plain, inverse)
    builder.set("ends/pinout/N1.1/locked", True)
    w = builder.workings()
    with pytest.raises(PinoutError, match="locked"):
        swap(w.document, w.catalogue, "N1", "1", "2")
    with pytest.raises(PinoutError, match="no way"):
        swap(w.document, w.catalogue, "N1", "1", "99")
    builder.plain, _ = apply_with_inverse(builder.plain, clear(w.document, "N1"))
    left = [r for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == "N1"]
    assert left == ["N1.1"]


def test_supply_beside_a_signal_scores_worse_than_signal_beside_signal():
    builder = box({"1": "supply_in", "2": "signal", "3": "signal"}, "SS15", 3)
    given_out(builder, "as the device")
    builder.set("circuits/circuits/C1/ends/N1.1", {"order": 9})
    del builder.plain["circuits"]["circuits"]["N1"]
    w = builder.workings()
    now = standing(w.document, w.catalogue, w.circuits, "N1")
    assert [(b.a, b.b) for b in now.bridges] == [("1", "2"), ("2", "3")]
    assert now.bridges[0].score > now.bridges[1].score
    assert "input" in now.bridges[0].words


@pytest.mark.parametrize(
    "change", [{"ways": 11}, {"family": "RING", "shell": "none", "stud": "M6", "ways": 3}]
)
def test_where_no_housing_is_made_or_ends_are_loose_nothing_lies_side_by_side(change):
    builder = box({"1": "supply_in", "2": "signal", "3": "signal"})
    given_out(builder, "as the device")
    w = builder.workings()
    assert standing(w.document, w.catalogue, w.circuits, "N1").bridges
    builder.plain["ends"]["connectors"]["N1"].update(change)
    builder.gone = True
    w = builder.workings()
    assert standing(w.document, builder.catalogue, w.circuits, "N1").bridges == ()


def test_bridges_rank_by_what_they_do():
    """Common practice, no source: what burns or kills before what only reads wrongly; scores are our own."""

    def score(a: str, b: str, *, fused: bool = True, circuit: str = "C2") -> float:
        return bridge(Way(a, "C1", fused), Way(b, circuit, fused))[0]

    worst = score("ignition", "signal")
    assert worst == score("supply", "ground", fused=False) == 10.0
    order = [
        score("supply", "data"), score("supply", "reference"), score("supply", "ground"),
        score("ground", "data"), score("ground", "signal"), score("signal", "signal"),
    ]  # fmt: skip
    assert order == [9, 8, 5, 4, 3, 2]
    assert all(score(k, "ignition") == worst for k in ("supply", "ground", "reference", "data"))
    assert score("ground", "ignition", circuit="C1") == 0, "two ways of one circuit are one wire"


def test_a_proposal_does_better_keeps_every_pin_and_moves_nothing_that_is_locked():
    pins = {"1": "supply_in", "2": "signal", "3": "supply_in", "4": "signal", "5": "signal"}
    builder = box(pins, "SR16", 12)
    given_out(builder, "as the device")
    for n, p in enumerate(("1", "3")):
        builder.plain["circuits"]["circuits"]["C1"]["ends"][f"N1.{p}"] = {"order": 9 + n}
        del builder.plain["circuits"]["circuits"][f"N{p}"]
    builder.set("ends/pinout/N1.2/locked", True)
    w = builder.workings()
    before = standing(w.document, w.catalogue, w.circuits, "N1")
    better = propose(w.document, w.catalogue, w.circuits, "N1")
    assert better is not None
    assert better.score < before.score
    assert set(better.cavities) == {f"N1.{p}" for p in pins}
    assert len(set(better.cavities.values())) == len(pins)
    assert better.cavities["N1.2"] == "2"
    for ref, cavity in better.cavities.items():
        builder.plain["ends"]["pinout"][ref]["cavity"] = cavity
    w = builder.workings()
    assert standing(w.document, w.catalogue, w.circuits, "N1").score == better.score


@pytest.mark.parametrize("grouped", [(), ("N1", "N5"), ("N2", "N6", "N7")])
def test_no_exchange_of_two_ways_betters_what_is_proposed(grouped):
    """Held to every exchange there is, each scored anew from the document."""
    roles = ("supply_in", "signal", "ground", "data", "sensor_return", "signal", "signal", "supply_out")
    builder = box({str(n): role for n, role in enumerate(roles, 1)}, "SR16", 12)
    if grouped:
        members = {c: {"order": n} for n, c in enumerate(grouped)}
        kind = "pair" if len(grouped) == 2 else "three"
        builder.set("circuits/groups/g", {"order": 1, "kind": kind, "members": members})
    given_out(builder, "as the device")
    w = builder.workings()
    better = propose(w.document, w.catalogue, w.circuits, "N1")
    assert better is not None
    pinout = builder.plain["ends"]["pinout"]
    for ref, cavity in better.cavities.items():
        pinout[ref]["cavity"] = cavity
    housing = w.catalogue.connectors["SR16"].housing(12)
    refs = dict(zip(better.cavities.values(), better.cavities, strict=True))
    for a, b in itertools.combinations(housing.face.cavities, 2):
        exchanged = [(refs[c], other) for c, other in ((a, b), (b, a)) if c in refs]
        for ref, cavity in exchanged:
            pinout[ref]["cavity"] = cavity
        now = builder.workings()
        assert standing(now.document, now.catalogue, now.circuits, "N1").score >= better.score
        for ref, _ in exchanged:
            pinout[ref]["cavity"] = better.cavities[ref]


def test_pairs_lie_together_by_the_rule_that_says_so():
    builder = box({str(n): "signal" for n in range(1, 9)}, "SR16", 12)
    members = {"N1": {"order": 1}, "N5": {"order": 2}}
    builder.set("circuits/groups/g", {"order": 1, "kind": "pair", "members": members})
    got = given_out(builder, "as the device")
    assert "pair-split" in builder.codes()
    got = given_out(builder, "pairs together")
    assert "pair-split" not in builder.codes()
    assert len(set(got.values())) == 8
    assert list(itertools.islice(got, 1)) == ["N1.1"]
