"""Rules of the wire room at their edges, each worked by hand."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import replace

import numpy as np
import pytest

from inkthread.core.ends.rank import rank_families
from inkthread.core.physics.short_time import Pulse
from inkthread.core.wire.drop_inputs import inner_ohms, loop_limit, make_drops
from inkthread.core.wire.peaks import candidate_peak_c
from tests.conftest import HarnessBuilder


def lone(load: str = "M1 pump 5 A", length_mm: float = 900.0) -> HarnessBuilder:
    builder = (
        HarnessBuilder("vehicle")
        .feed(f"B1 battery > F1 fuse > {load} > B1")
        .run(f"B1 100 > F1 {length_mm} > M1")
    )
    builder.set("circuits/loads/M1/kind", "constant current")
    return builder


# How many ways of a connector count as loaded


@pytest.mark.parametrize(("share", "counted"), [(0.195, 0), (0.205, 2)])
def test_a_way_counts_as_loaded_from_a_fifth_of_the_best_contact(share, counted):
    """Common practice, no source: below a fifth of its current a contact heats a 25th as much."""
    builder = lone()
    family = builder.catalogue.connectors[builder.plain["ends"]["connectors"]["M1"]["family"]]
    best = max(c.current_by_area[-1][1] for c in family.contacts)
    # None loaded leaves all of a contact's current; one is enough to leave half.
    told = dataclasses.replace(family, derating=((0, 1.0), (1, 0.7), (2, 0.5)))
    builder.catalogue = dataclasses.replace(
        builder.catalogue, connectors={**builder.catalogue.connectors, family.code: told}
    )
    builder.set("circuits/loads/M1/current_a", share * best)
    w = builder.workings()
    assert w.wire.derating_by_connector["M1"] == {0: 1.0, 2: 0.5}[counted]


@pytest.mark.parametrize(("share", "taken"), [(0.195, True), (0.205, False)])
def test_a_family_in_its_place_is_held_to_the_same_loaded_ways(share, taken):
    builder = lone()
    family = builder.catalogue.connectors[builder.plain["ends"]["connectors"]["M1"]["family"]]
    best = max(c.current_by_area[-1][1] for c in family.contacts)
    builder.set("circuits/loads/M1/current_a", share * best)
    w = builder.workings()
    told = dataclasses.replace(family, derating=((0, 1.0), (1, 0.1)))
    held = dataclasses.replace(w.catalogue, connectors={**w.catalogue.connectors, family.code: told})
    ranking = rank_families(replace(w.context, catalogue=held), w.route, w.wire, "M1")
    assert (family.code in {c.family for c in ranking.choices}) == taken
    assert taken or "its contacts carry" in dict(ranking.rejected)[family.code]


def test_of_a_familys_housings_the_smallest_that_holds_the_pins_is_taken():
    w = lone().workings()
    ranking = rank_families(w.context, w.route, w.wire, "M1")
    assert len(ranking.choices) > 5
    for choice in ranking.choices:
        ways = sorted(h.ways for h in w.catalogue.connectors[choice.family].housings)
        assert choice.ways == next(n for n in ways if n >= 2)
        assert choice.spare == choice.ways - 2


# What is left of a drop limit for the wires


def room_v(builder: HarnessBuilder) -> tuple[float, float, float]:
    """What the program leaves, the limit, and what the contacts lose."""
    w = builder.workings()
    limits = [loop_limit(w.document, w.catalogue, w.brief, x) for x in w.circuits.loops]
    inner = inner_ohms(w.document, w.wire.tables.flow, w.wire.tables.path_ohm)
    length = np.ones((len(w.wire.tables.keys), 1))
    made = make_drops(
        w.circuits, w.wire.tables.flow, limits, inner, w.wire.tables.termination_ohm, length, length
    )
    return float(made.limits_v[0]), limits[0][0], 5.0 * float(w.wire.tables.termination_ohm.sum())


def test_what_lies_inside_devices_is_taken_off_the_limit():
    """5 A through a fuse of 20 mohm lose 0.1 V; the rest of 3 % of 13.2 V is for wires and contacts."""
    builder = lone().set("circuits/devices/F1/paths/1/resistance_mohm", 20.0)
    builder.set("brief/supply_working_v", 13.2)
    left, limit, _ = room_v(builder)
    assert limit == pytest.approx(0.396)
    assert left == pytest.approx(0.396 - 0.1)


@pytest.mark.parametrize("inside_mohm", [70.0, 79.2, 500.0])
def test_a_quarter_of_the_limit_is_always_left_to_the_wires(inside_mohm):
    """At 70 mohm 0.046 V would be left; at 79.2 nothing; at 500 less than nothing. A house rule."""
    builder = lone().set("circuits/devices/F1/paths/1/resistance_mohm", inside_mohm)
    builder.set("brief/supply_working_v", 13.2)
    left, limit, ends = room_v(builder)
    assert ends > 0
    assert left == pytest.approx(ends + 0.25 * limit)


# The weakest link


def test_a_wire_by_itself_holds_a_fuse_to_135_per_cent():
    """ISO 8820-3, from memory: at 135 % a blade fuse may hold for ten minutes."""
    builder = lone().set("wire/fixed/C2", {"order": 1, "gauge": "22 AWG", "reason": "tried"})
    for held in builder.plain["ends"]["connectors"].values():
        held.update(family="RING", shell="none", stud="M6")
    ring = builder.catalogue.connectors["RING"]
    strong = tuple(
        dataclasses.replace(c, current_by_area=tuple((mm2, 10 * a) for mm2, a in c.current_by_area))
        for c in ring.contacts
    )
    builder.catalogue = dataclasses.replace(
        builder.catalogue,
        connectors={**builder.catalogue.connectors, "RING": dataclasses.replace(ring, contacts=strong)},
    )
    w = builder.workings()
    at = w.wire.tables.at["C2"]
    free = float(w.wire.tables.judgement.free_air_a[at, w.wire.tables.chosen[at]])
    for rating, above in ((free / 1.34, True), (free / 1.36, False)):
        builder.set("circuits/devices/F1/paths/1/rating_a", round(rating, 3))
        found = [f for f in builder.evaluate().findings if f.code == "fuse-above-weakest"]
        assert bool(found) == above, rating
        assert not found or "22 AWG" in found[0].what


@pytest.mark.parametrize(
    ("load_a", "kind", "fits"),
    [(8.0, "fuse", "10 A"), (12.5, "fuse", None), (8.0, "breaker", "10 A"), (11.0, "breaker", None)],
)
def test_a_fuse_above_its_contact_names_the_largest_that_suits_both(load_a, kind, fits):
    """A 25 A fuse before a 13 A contact: 10 A is made, nothing is between 10 and 13 (ISO 8820-3)."""
    builder = lone(f"M1 pump {load_a:g} A (SR16)").set("circuits/devices/F1/paths/1/kind", kind)
    builder.set("circuits/devices/F1/paths/1/rating_a", 25.0)
    (found,) = [f for f in builder.evaluate().findings if f.code == "fuse-above-weakest"]
    told = [r.text for r in found.remedies if r.text.startswith("Fit ")]
    assert told == ([f"Fit {fits}, if the load allows it."] if fits else [])


# A short peak, with no heat leaving


@pytest.mark.parametrize("gauge", ["22 AWG", "16 AWG", "10 AWG"])
def test_a_short_peak_warms_a_wire_as_its_copper_takes_the_heat_up(gauge):
    """IEC 60949: I2 t = 226^2 S^2 ln((234.5 + T) / (234.5 + T0)) for pure copper; a wire of more
    resistance is heated more by as much."""
    w = lone().workings()
    table = w.wire.tables.free.table
    place = next(n for n, s in enumerate(table.sizes) if s.gauge == gauge)
    size = table.sizes[place]
    amps, seconds, start = 90.0 * size.area_mm2, 0.3, 40.0
    more = size.resistance_ohm_per_km / (17.241 / size.area_mm2)
    by_hand = 274.5 * math.exp(more * amps**2 * seconds / (226 * size.area_mm2) ** 2) - 234.5
    assert by_hand < table.rating_c[place], "so short that none of it leaves"
    reached = candidate_peak_c(table, 0, place, start, 0.0, Pulse(amps, seconds))
    assert reached - start == pytest.approx(by_hand - start, rel=0.01)
    twice = candidate_peak_c(table, 0, place, start, 0.0, Pulse(amps, seconds / 2, 2))
    assert twice == pytest.approx(reached, abs=0.01), "two halves make as much heat"
