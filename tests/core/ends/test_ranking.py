"""Families ranked for a connector."""

from __future__ import annotations

import copy
from dataclasses import replace

from inkthread.catalogue import shipped_catalogue
from inkthread.core.ends.rank import rank_families
from inkthread.core.quantity import parse_gauge
from inkthread.core.shop import OwnedTool, ProvenNest, Shop
from tests.conftest import HarnessBuilder
from tests.core.scenarios import half, pump, zoned

CATALOGUE = shipped_catalogue()


def test_every_family_is_either_ranked_or_rejected_with_a_reason(chassis):
    w = chassis.workings()
    for connector_id, connector in w.document.ends.connectors.items():
        family = w.catalogue.connectors[connector.family]
        if family.loose:
            continue
        ranking = rank_families(w.context, w.route, w.wire, connector_id)
        codes = [c.family for c in ranking.choices] + [c for c, _ in ranking.rejected]
        assert len(codes) == len(set(codes))
        assert all(reason for _, reason in ranking.rejected)
        assert connector.family in {c.family for c in ranking.choices}
        # By grade; what has many ways too many never leads.
        used = len([1 for e in w.document.ends.pinout.values() if e.connector == connector_id])
        order = [(c.spare > max(4, used), ("best", "better", "good").index(c.grade)) for c in ranking.choices]
        assert order == sorted(order)


def test_what_is_ranked_fits_when_it_is_taken(chassis):
    w = chassis.workings()
    for choice in rank_families(w.context, w.route, w.wire, "M1").choices:
        builder = HarnessBuilder(plain=copy.deepcopy(chassis.plain))
        half(
            builder,
            "M1",
            family=choice.family,
            ways=choice.ways,
            shell=choice.shell,
            contact_gender=choice.contact_gender,
        )
        cavities = list(w.catalogue.connectors[choice.family].housing(choice.ways).face.cavities)
        ours = [e for e in builder.plain["ends"]["pinout"].values() if e["connector"] == "M1"]
        for entry, cavity in zip(ours, cavities, strict=False):
            entry["cavity"] = cavity
        assert all(c.fits for c in builder.evaluate().ends.connectors["M1"].cavities), choice.family


def test_water_heat_and_shaking_rule_families_out():
    dry = pump().workings()
    wet = zoned(pump(), wet=True, vibration=True).workings()
    free = {c.family for c in rank_families(dry.context, dry.route, dry.wire, "M1").choices}
    ranking = rank_families(wet.context, wet.route, wet.wire, "M1")
    held = {c.family for c in ranking.choices}
    assert held < free
    assert all(CATALOGUE.connectors[f].sealed or CATALOGUE.connectors[f].studs for f in held)
    reasons = dict(ranking.rejected)
    assert "IP54" in reasons["LN21"]


def test_a_family_is_ranked_with_the_gauge_that_its_wires_would_have_with_it():
    """5 A over 16 m and back at 12.8 V and 3 %: 14 AWG loses more, and SR16 takes no thicker wire."""
    builder = HarnessBuilder("marine").feed("B1 battery > F1 fuse (RING) > M1 bilge pump 5 A (SR16) > B1")
    builder.run("B1 80 > F1 8 m > M1")
    w = builder.workings()
    assert "drop-over-limit" in builder.codes()
    ranking = rank_families(w.context, w.route, w.wire, "M1")
    refused = dict(ranking.rejected)
    assert "SR16" in refused
    assert "takes" in refused["SR16"]
    assert {"RING", "BLADE63"} & {c.family for c in ranking.choices}
    for choice in ranking.choices:
        taken = HarnessBuilder(plain=copy.deepcopy(builder.plain))
        taken._act("connector", f"M1 {choice.family}")
        found = taken.evaluate()
        made = [x for x in found.wire.wires.values() if "M1" in x.from_text + x.to_text]
        # Least copper may divide it otherwise between feed and return: within a size.
        told = [parse_gauge(g).area_mm2 for g in choice.gauges]
        for wire in made:
            assert min(told) / 1.8 <= wire.area_mm2 <= max(told) * 1.8, choice.family
        assert "drop-over-limit" not in {f.code for f in found.findings}, choice.family


def test_terminals_are_ranked_beside_connectors():
    w = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 winch 45 A > B1")
        .run("B1 80 > F1 900 > M1")
        .workings()
    )
    ranking = rank_families(w.context, w.route, w.wire, "M1")
    groups = {w.catalogue.connectors[c.family].group for c in ranking.choices}
    assert {"terminal", "power"} & groups
    assert all("A is wanted" in why or "takes" in why or why for _, why in ranking.rejected)


def test_owned_tools_make_a_family_cheaper():
    w = pump().workings()
    bare = rank_families(w.context, w.route, w.wire, "M1")
    own = rank_families(replace(w.context, shop=Shop({"T-IND": OwnedTool("T-IND")})), w.route, w.wire, "M1")
    price = {c.family: c for c in bare.choices}["SR16"], {c.family: c for c in own.choices}["SR16"]
    assert price[0].tooling_cost > price[1].tooling_cost == 0
    assert price[1].total_each < price[0].total_each


def test_a_stamped_contact_is_taken_where_its_tool_is_the_one_owned():
    builder = pump()
    assert builder.evaluate().ends.connectors["M1"].cavities[0].contact.startswith("R16T-"), (
        "the tool is a tenth"
    )
    machined = {"order": 1, "value": 2.0, "reason": "set by depth"}
    builder.set("brief/house_rules/contact_kind", machined)
    assert builder.evaluate().ends.connectors["M1"].cavities[0].contact.startswith("R16-")
    del builder.plain["brief"]["house_rules"]["contact_kind"]
    builder.shop = Shop({"T-OB-M": OwnedTool("T-OB-M", certified=True)})
    made = builder.workings()
    (end,) = (x for x in made.ends.contacts if x[0] == "M1.+")
    assert made.ends.contacts[end].kind == "stamped"
    assert made.ends.crimps[end].owned
    assert not any(t.code == "T-IND" for t in made.parts.tools)


def test_a_nest_proven_here_goes_before_the_contacts_own_data():
    builder = pump()
    w = builder.workings()
    (end,) = (x for x in w.ends.contacts if x[0] == "M1.+")
    contact, crimp = w.ends.contacts[end], w.ends.crimps[end]
    size = w.wire.size(end[1])
    wire = f"{w.wire.tables.family.code} {size.gauge}"
    proven = ProvenNest(contact.code, wire, crimp.tool, "9", "deep", "held 12 kg")
    builder.shop = Shop({}, {(contact.code, wire): proven})
    again = builder.workings().ends.crimps[end]
    assert (again.nest, again.depth, again.proven) == ("9", "deep", "held 12 kg")
