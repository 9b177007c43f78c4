"""What else a relay or a fuse may be made as, against the bill worked out again by hand."""

from __future__ import annotations

import pytest

from inkthread.core.alternatives import alternatives
from inkthread.storage.patches import apply_with_inverse
from tests.conftest import HarnessBuilder


def fan(protection: str = "fuse") -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed(
        f"B1 battery > F1 {protection} > K1 relay coil 0.15 A > M1 fan 8 A > B1",
        "F1 > S1 switch > K1 coil > B1",
    )
    return builder.run("B1 100 > F1 500 > K1 700 > M1", "K1 400 > S1")


def test_a_relay_may_have_a_base_a_base_with_leads_or_single_terminals():
    builder = fan()
    ways = alternatives(builder.workings(), "K1")
    assert [w.name.split(",")[0] for w in ways] == ["RBLK", "RBLKW", "TAB63"]
    (now,) = [w for w in ways if w.chosen]
    assert (now.cost, now.grams, now.joints, now.operations) == (0, 0, 0, ())
    for way in ways:
        other = HarnessBuilder(plain=apply_with_inverse(builder.plain, list(way.operations))[0])
        parts, was = other.evaluate().parts, builder.evaluate().parts
        assert way.cost == pytest.approx(parts.cost_total - was.cost_total, abs=0.011)
        assert way.grams == pytest.approx(parts.mass_each_g - was.mass_each_g, abs=0.06)
        assert {e["connector"] for r, e in other.plain["ends"]["pinout"].items() if r.startswith("K1.")} == {
            "K1"
        }


def test_a_base_with_leads_is_bought_as_one_and_each_wire_is_spliced_to_its_lead():
    builder = fan()
    builder._act("connector", "K1 RBLKW")
    found = builder.evaluate()
    billed = {x.code: x.quantity for x in found.parts.lines}
    assert billed["RBLKW-1"] == 1
    wires = sum(1 for c in found.ends.connectors["K1"].cavities if c.wire)
    assert sum(n for code, n in billed.items() if code.startswith("RBW-")) == wires
    assert not [
        f.code for f in found.findings if f.severity == "stop" and any(p.id == "K1" for p in f.places)
    ]


def test_a_fuse_is_held_against_a_breaker_with_cost_weight_trip_and_reset():
    """ISO 8820-3 blade fuses and thermal breakers, both from memory, as the catalogue has their bands."""
    fuse, breaker = alternatives(fan().workings(), "F1")
    assert (fuse.name, fuse.chosen, breaker.name, breaker.chosen) == ("fuse", True, "breaker", False)
    assert breaker.cost > 0
    assert breaker.grams > 0
    assert "opens in 0.15 to 5 s at twice its rating" in fuse.words
    assert "opens in 10 to 45 s at twice its rating" in breaker.words
    assert any("reset by hand" in w for w in breaker.words)
    assert any("new fuse" in w for w in fuse.words)
    builder = fan()
    other = HarnessBuilder(plain=apply_with_inverse(builder.plain, list(breaker.operations))[0])
    assert {f.kind for f in other.workings().circuits.fuses.values()} == {"breaker"}
    back = alternatives(fan("breaker").workings(), "F1")
    assert [w.chosen for w in back] == [False, True]


def test_what_is_neither_has_no_other_way():
    w = fan().workings()
    assert alternatives(w, "M1") == ()
    assert alternatives(w, "B1") == ()
    with pytest.raises(KeyError):
        alternatives(w, "Q9")
