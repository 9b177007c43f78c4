"""A fuse that blows: what hangs behind it, what makes a short likelier, and which connector halves the search."""

from __future__ import annotations

import pytest

from inkthread.core.prove import BadComplaint, read_complaint, shorted_behind
from inkthread.demo import demo_document
from tests.conftest import HarnessBuilder
from tests.core.prove.test_later import PLACES, SYMPTOMS, lamps

LARKSPUR = HarnessBuilder(plain=demo_document("larkspur")).workings()


def behind(w, fuse: str):
    return shorted_behind(w.rooms, w.circuits, fuse)


def test_only_what_the_fuse_protects_is_named():
    w = lamps().workings()
    for fuse, lamp, other in (("F1.1", "E1", "E2"), ("F2.1", "E2", "E1")):
        causes = behind(w, fuse).causes
        wires = {c.wire for c in causes if c.wire}
        assert wires == {
            k for k, s in w.route.sections.items() if w.circuits.circuits[s.circuit].fuse == fuse
        }
        assert any(c.words.startswith(lamp) for c in causes)
        assert not any(c.words.startswith(other) for c in causes)
        assert sum(c.share for c in causes) == pytest.approx(1.0, abs=0.01)


@pytest.mark.parametrize(("name", "times"), [("abrasion", 4.0), ("flex", 2.0), ("vibration", 1.5)])
def test_where_it_rubs_bends_or_shakes_a_short_is_likelier_by_what_the_data_say(name, times):
    def weight(w) -> float:
        causes = behind(w, "F1.1").causes
        wire = next(c.share for c in causes if c.wire)
        lamp = next(c.share for c in causes if c.sort == "load")
        return wire / lamp

    plain = lamps()
    zone = {"order": 1, "name": "z", "ambient_c": 30.0, name: True}
    plain.plain["brief"].setdefault("zones", {})["z"] = zone
    for branch in plain.plain["route"]["branches"].values():
        branch["zone"] = "z"
    still = weight(lamps().workings())
    part = 0.3  # of a connector: it does not hang on the zone
    assert weight(plain.workings()) == pytest.approx((still - part) * times + part, rel=0.02)


def test_a_bare_edge_on_its_way_adds_to_it():
    plain = lamps().workings()
    edged = lamps().set("route/points/mid/edge", "bare metal").workings()

    def share(w):
        return next(c.share for c in behind(w, "F1.1").causes if c.wire)

    assert share(edged) > share(plain)


def test_the_search_is_halved_at_the_connector_that_most_hangs_behind():
    """Larkspur's coil feed passes the bulkhead: parting it takes both coils and their wires off at once."""
    told = behind(LARKSPUR, "F1.1")
    assert "Part J1a:" in told.next or "Part J1b:" in told.next
    lonely = behind(lamps().workings(), "F1.1")
    assert "Part E1" in lonely.next or "bit by bit" in lonely.next


@pytest.mark.parametrize(
    ("text", "fuse"), [("F1.6 blows", "F1.6"), ("fuse F0 blows", "F0.1"), ("f0 main fuse blew", "F0.1")]
)
def test_a_fuse_is_named_by_itself_or_by_its_device(text, fuse):
    read = read_complaint(text, LARKSPUR.document, set(), SYMPTOMS, LARKSPUR.circuits.fuses)
    assert read.blows == fuse


def test_a_fuse_that_is_none_or_one_of_several_is_asked_for():
    fuses = LARKSPUR.circuits.fuses
    with pytest.raises(BadComplaint, match="F1 has several: say which"):
        read_complaint("F1 blows", LARKSPUR.document, set(), SYMPTOMS, fuses)
    with pytest.raises(BadComplaint, match="no fuse 'F99'"):
        read_complaint("F99 blows", LARKSPUR.document, set(), SYMPTOMS, fuses)
    with pytest.raises(BadComplaint, match="hang behind"):
        behind(lamps().workings(), "F9.1")
    assert read_complaint("E1 dim", lamps().workings().document, PLACES, SYMPTOMS).blows == ""
