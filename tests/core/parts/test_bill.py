"""The bill of materials at its edges: what is bought, how often, for how much, and where it is used."""

from __future__ import annotations

from collections import Counter

import pytest

from inkthread.core.parts.spares import Spares
from inkthread.core.shop import OwnedTool, ProvenNest, Shop
from inkthread.demo import DEMOS
from tests.conftest import HarnessBuilder
from tests.core.reckoning.test_one_truth import WORKED


def pump(load: str = "M1 pump 5 A") -> HarnessBuilder:
    return HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > {load} > B1").run("B1 100 > F1 900 > M1")


@pytest.mark.parametrize("name", DEMOS)
def test_the_bill_adds_up(name):
    """Money and mass line by line; what comes with something else costs nothing."""
    w = WORKED[name]
    bill, quantity = w.parts, w.document.brief.quantity
    assert bill.cost_total == pytest.approx(sum(x.cost for x in bill.lines), abs=1e-9)
    assert bill.mass_each_g * quantity == pytest.approx(
        sum(x.mass_g for x in bill.lines), abs=0.01 * quantity
    )
    assert all(x.cost == 0 for x in bill.lines if x.included)
    assert len({(x.group, x.code, x.colour) for x in bill.lines}) == len(bill.lines), "no part stands twice"
    assert all(x.quantity > 0 and x.used_at for x in bill.lines)
    groups = [x.group for x in bill.lines]
    assert groups == sorted(groups, key=groups.index), "kind by kind"


def test_three_harnesses_take_three_times_the_parts_and_one_set_of_tools():
    builder = pump()
    one = builder.workings().parts
    three = builder.set("brief/quantity", 3).workings().parts
    assert [x.code for x in three.lines] == [x.code for x in one.lines]
    for a, b in zip(one.lines, three.lines, strict=True):
        assert b.quantity == pytest.approx(3 * a.quantity), a.code
        assert b.mass_g == pytest.approx(3 * a.mass_g, abs=2e-3), a.code
        if not a.spares:
            assert b.cost == pytest.approx(3 * a.cost, abs=0.02), a.code
        assert b.spares <= 3 * a.spares, "spares grow slower than what is used"
    assert three.mass_each_g == pytest.approx(one.mass_each_g, abs=0.01)
    assert three.tooling_total == one.tooling_total


def test_tools_that_are_owned_are_not_bought():
    builder = pump()
    bare = builder.workings().parts
    assert bare.tooling_total == pytest.approx(sum(t.price for t in bare.tools), abs=0.005)
    costly = max(bare.tools, key=lambda t: t.price)
    builder.shop = Shop({costly.code: OwnedTool(costly.code)})
    own = builder.workings().parts
    assert {t.code for t in own.tools} == {t.code for t in bare.tools}
    assert [t.code for t in own.tools if t.owned] == [costly.code]
    assert bare.tooling_total - own.tooling_total == pytest.approx(costly.price)
    assert [t.owned for t in own.tools] == sorted(t.owned for t in own.tools), "what is to buy comes first"


def test_a_tool_that_is_borrowed_is_not_bought_and_is_said_to_be():
    builder = pump()
    costly = max(builder.workings().parts.tools, key=lambda t: t.price)
    builder.shop = Shop({costly.code: OwnedTool(costly.code, result="passed", borrowed=True)})
    parts = builder.workings().parts
    (tool,) = (t for t in parts.tools if t.code == costly.code)
    assert (tool.owned, tool.status) == (True, "borrowed, gauged")
    assert parts.tooling_total == pytest.approx(sum(t.price for t in parts.tools if not t.owned))


def test_a_block_costs_by_the_stud():
    """Invented, typical of its kind: 1.20 and 12 g for each stud."""
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 2 A > B1", "F1.out > E2 lamp 2 A > B1")
    builder.run("B1 100 > F1 900 > mid 100 > E1", "mid 150 > E2")
    for circuit in builder.plain["circuits"]["circuits"].values():
        circuit["threading"] = "block"
    (line,) = (x for x in builder.evaluate().parts.lines if x.group == "block")
    studs = int(line.code.removeprefix("GB-"))
    assert studs == 3
    assert line.quantity == 2
    assert line.cost == pytest.approx(2 * 3 * 1.2)
    assert line.mass_g == pytest.approx(2 * 3 * 12.0)


def test_a_fuse_that_is_not_held_is_named_and_not_priced():
    builder = pump().set("circuits/devices/F1/paths/1/rating_a", 11.0)
    (line,) = (x for x in builder.evaluate().parts.lines if x.code == "F-11A")
    assert (line.quantity, line.cost, line.used_at) == (1, 0, "F1")
    assert "not held here" in line.description


@pytest.mark.parametrize("count", [12, 13])
def test_a_part_names_at_most_twelve_places(count):
    """So many lamps, each with a fuse of its own: the fuses' line names where they sit."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse 5 > E1 lamp 2 A > B1")
        .run("B1 100 > F1 900 > E1")
    )
    for n in range(2, count + 1):
        builder.feed(f"B1.+ > F{n} fuse > E{n} lamp 2 A > B1").run(f"F1 100 > F{n}", f"E1 100 > E{n}")
    line = max((x for x in builder.evaluate().parts.lines if x.group == "fuse"), key=lambda x: x.quantity)
    assert line.quantity == count
    assert line.used_at.endswith(" ...") == (count > 12)
    assert line.used_at.removesuffix(" ...").count(",") == 11


def test_what_is_too_heavy_names_the_three_heaviest_parts():
    builder = pump().set("brief/quantity", 4)
    e = builder.evaluate()
    builder.set("brief/mass_budget_g", round(e.parts.mass_each_g - 5, 2))
    (told,) = (f for f in builder.evaluate().findings if f.code == "over-mass-budget")
    heaviest = sorted(e.parts.lines, key=lambda x: -x.mass_g)
    assert all(x.code in told.what for x in heaviest[:3])
    named = [x for x in heaviest if f"{x.code} {x.colour}".strip() + f" {x.mass_g / 4:.0f} g" in told.what]
    assert len(named) == 3
    assert "5 g" in told.what
    builder.set("brief/mass_budget_g", round(e.parts.mass_each_g + 0.01, 2))
    assert "over-mass-budget" not in builder.codes()


def _solder_sleeves(w):
    """Those at the ends of shielded cables."""
    codes = {s.code for s in w.catalogue.splices}
    at = [end.part for cable in w.cut.cables for end in cable.ends]
    return Counter(("splice", code) for code in at if code in codes)


@pytest.mark.parametrize("name", DEMOS)
def test_every_part_of_a_kind_is_counted_once_where_it_is(name):
    """Counted again from the ends as they are fitted, from the housings to the fuses."""
    w = WORKED[name]
    counted: Counter[tuple[str, str]] = Counter()
    for connector in w.ends.connectors.values():
        housing = w.catalogue.connectors[connector.family].housing(connector.ways)
        for group, parts in (("housing", housing.shells), ("lock", housing.locks)):
            if connector.shell in parts:
                counted[group, parts[connector.shell].code] += 1
        for accessory in w.ends.accessories.get(connector.id, ()):
            counted["accessory", accessory.code] += 1
    for splice_id in w.ends.splices:
        counted["splice", w.ends.splice_sizes[splice_id].code] += 1
        cover = w.ends.joints[splice_id].cover
        if cover is not None:
            counted["cover", cover.code] += 1
    counted.update(_solder_sleeves(w))
    for fuse in w.circuits.fuses.values():
        if fuse.part is not None:
            counted["fuse", fuse.part.code] += 1
    groups = {g for g, _ in counted} - {"fuse"}
    quantity = w.document.brief.quantity
    billed: Counter[tuple[str, str]] = Counter()
    for x in w.parts.lines:
        if x.group in groups:
            billed[x.group, x.code] += x.quantity / quantity
    assert billed == {k: n for k, n in counted.items() if k[0] in groups}
    fuses = {k: n for k, n in counted.items() if k[0] == "fuse"}
    assert fuses == {
        (x.group, x.code): x.quantity / quantity for x in w.parts.lines if ("fuse", x.code) in fuses
    }


def test_just_as_heavy_as_it_may_be_is_let_be():
    builder = pump()
    grams = builder.evaluate().parts.mass_each_g
    assert "over-mass-budget" not in builder.set("brief/mass_budget_g", grams).codes()
    assert "over-mass-budget" in builder.set("brief/mass_budget_g", grams - 0.01).codes()


@pytest.mark.parametrize(("fuses", "holders"), [(1, 1), (2, 0)])
def test_two_fuses_of_one_device_are_a_block_and_need_no_holder(fuses, holders):
    builder = pump()
    for n in range(2, fuses + 1):
        builder.set(f"circuits/devices/F1/pins/out{n}", {"order": 20 + n, "role": "supply_out", "name": ""})
        path = {"order": n, "from_pin": "in", "to_pin": f"out{n}", "kind": "fuse"}
        builder.set(f"circuits/devices/F1/paths/{n}", path)
    held = [x for x in builder.evaluate().parts.lines if x.code.startswith("FH-")]
    assert len(held) == holders


def rule(builder: HarnessBuilder, name: str, value: float) -> HarnessBuilder:
    return builder.set(f"brief/house_rules/{name}", {"order": 1, "value": value, "reason": "here"})


@pytest.mark.parametrize(
    ("used", "one_in", "practice", "spares"),
    [
        (18, 18, 0, 1),
        (19, 18, 0, 2),
        (17, 18, 0, 1),
        (18, 18, 2, 3),
        (36, 18, 1, 3),
        (18, 0, 0, 0),
        (1, 18, 2, 3),
    ],
)
def test_spares_are_counted_by_the_class_and_practice_pieces_by_what_is_new(used, one_in, practice, spares):
    """Six three-way sealed plugs: 18 contacts, 18 seals, one spare contact (common practice, no source)."""
    builder = rule(rule(pump(), "spare_one_in", one_in), "practice_pieces", practice)
    counted = Spares(builder.workings().context)
    assert counted.of("contact", "TW-S-A", used) == spares
    assert counted.of("seal", "TW-G", used) == spares - practice
    assert counted.of("housing", "TW25-P3", used) == 0
    assert counted.of("wire", "J1128-TXL 18 AWG", used) == 0


def test_a_contact_that_is_proven_here_needs_no_practice():
    builder = pump()
    line = next(x for x in builder.workings().parts.lines if x.group == "contact")
    nest = ProvenNest(line.code, "J1128-TXL 18 AWG", "T-OB-S", "A")
    builder.shop = Shop(proven={(nest.contact, nest.wire): nest})
    known = next(x for x in builder.workings().parts.lines if x.code == line.code)
    assert line.spares - known.spares == 2
    assert known.to_order == known.quantity + known.spares


def test_what_is_fixed_is_bought_and_costs_so():
    builder = pump()
    line = next(x for x in builder.workings().parts.lines if x.group == "contact")
    builder.set(f"parts/lines/{line.code}", {"order": 1, "quantity": 100.0, "reason": "a bag"})
    bag = next(x for x in builder.workings().parts.lines if x.code == line.code)
    assert (bag.to_order, bag.quantity, bag.mass_g) == (100, line.quantity, line.mass_g)
    assert bag.cost == pytest.approx(line.cost / line.to_order * 100, abs=0.02)
    builder.set(f"parts/lines/{line.code}", {"order": 1, "left_out": True})
    assert next(x for x in builder.workings().parts.lines if x.code == line.code).cost == 0


def test_grease_is_bought_once_where_a_family_asks_for_it_and_not_elsewhere():
    assert not any(x.group == "consumable" for x in pump().workings().parts.lines)
    w = WORKED["larkspur"]
    asking = [
        c.id for c in w.ends.connectors.values() if w.catalogue.connectors[c.family].lubricant == "LUB-SIL"
    ]
    (line,) = (x for x in w.parts.lines if x.group == "consumable")
    assert asking
    assert line.quantity == pytest.approx(1)
    assert all(c in line.used_at for c in asking[:3])
