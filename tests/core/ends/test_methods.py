"""Joining a wire to its contact: which ways suit, what speaks against them where, and the card of each."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.build import steps_of
from inkthread.core.ends.methods import HOT_C, joint_methods
from tests.core.build.test_checks import clamped
from tests.core.scenarios import pump, zoned

CATALOGUE = shipped_catalogue()


def methods_of(w, ref: str, ambient_c: float | None = 20.0):
    contact = next(c for (pin, _), c in w.ends.contacts.items() if pin == ref)
    return {m.name: m for m in joint_methods(w.document, CATALOGUE, contact, ref, ambient_c)}


def test_its_own_way_suits_every_contact_that_ships_and_is_chosen():
    kinds = {(c.kind, c.joint) for f in CATALOGUE.connectors.values() for c in f.contacts}
    own = {"crimp": "crimped", "solder": "soldered", "clamp": "clamped"}
    for kind, joint in kinds:
        assert kind in CATALOGUE.rescue.methods[own[joint]].joins or kind == "end", (kind, joint)
    assert methods_of(pump().workings(), "M1.+")["crimped"].chosen


def test_a_stamped_contact_is_not_welded_and_a_screw_is_not_crimped():
    crimp, screw = methods_of(pump().workings(), "M1.+"), methods_of(clamped().workings(), "M1.+")
    assert not crimp["welded"].suits
    assert not crimp["clamped"].suits
    assert screw["clamped"].suits
    assert screw["clamped"].chosen
    assert not screw["crimped"].suits


def test_solder_is_spoken_against_where_it_shakes_and_where_it_is_hot():
    still, shaken = pump().workings(), zoned(pump(), vibration=True).workings()
    assert methods_of(still, "M1.+")["soldered"].against == ()
    assert "where it shakes" in methods_of(shaken, "M1.+")["soldered"].against[0]
    assert methods_of(shaken, "M1.+")["crimped"].against == ()
    assert methods_of(still, "M1.+", HOT_C)["soldered"].against == ()
    assert len(methods_of(still, "M1.+", HOT_C + 0.1)["soldered"].against) == 1


@pytest.mark.parametrize(
    ("joint", "work"),
    [
        ("as its part", "crimp"),
        ("soldered", "solder"),
        ("solder sleeve", "solder-sleeve"),
        ("welded", "weld"),
    ],
)
def test_each_way_has_a_step_of_its_own_between_strip_and_look(joint, work):
    w = pump(amps=60, end=" (RING)").set("ends/pinout/B1.+/joint", joint).workings()
    steps = [o for o in steps_of(w.rooms).values() if o.end == "B1.+"]
    works = [o.work for o in steps]
    assert work in works
    assert works.index("strip") < works.index(work) < works.index("tug")
    assert len({"crimp", "solder", "solder-sleeve", "weld"} & set(works)) == 1


def test_a_solder_sleeve_where_it_shakes_is_judged_like_solder():
    builder = zoned(pump(), vibration=True).set("ends/pinout/M1.+/joint", "soldered")
    assert "contact-soldered-shakes" in builder.codes()
    lug = pump(amps=60, end=" (RING)").set("ends/pinout/B1.+/joint", "solder sleeve")
    assert "lug-soldered" in lug.codes()
    assert "lug-soldered" not in pump(amps=60, end=" (RING)").set("ends/pinout/B1.+/joint", "welded").codes()
