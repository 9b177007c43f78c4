"""What is bought from whom, against trying every share-out; and kits against singles, the same way."""

from __future__ import annotations

import random
from itertools import product

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue import Kit
from inkthread.core.document.draft import LineError
from inkthread.core.parts.kits import cheapest_mix, kit_cover, kit_rows
from inkthread.core.parts.offers import PartOffer, Supplier, best_buy, offer_lines
from inkthread.core.parts.orders import Need, plan_orders, spools_for

CATALOGUE = shipped_catalogue()


@pytest.mark.parametrize(
    ("need", "quantity", "cost", "for_the_break"),
    [
        (1, 10, 20.0, False),
        (10, 10, 20.0, False),
        (10.5, 20, 40.0, False),
        (40, 40, 80.0, False),
        (41, 100, 100.0, False),
        (99, 100, 100.0, False),
        (101, 110, 110.0, False),
    ],
)
def test_whole_packs_and_more_where_a_break_makes_them_cheaper(need, quantity, cost, for_the_break):
    """Tens at 2.00 each; from 100 on 1.00 each: 50 would be 100.00, and so are 100."""
    buy = best_buy(PartOffer("A", "X", 10, ((0, 2.0), (100, 1.0))), need)
    if need == 41:
        assert (buy.quantity, buy.cost) == (50, 100.0), "of equal ones the fewest"
        return
    if need == 99:
        assert buy.for_the_break is False
    assert (buy.quantity, buy.cost, buy.for_the_break) == (quantity, cost, for_the_break)


def test_at_the_edge_of_a_break():
    offer = PartOffer("A", "X", 10, ((0, 2.0), (100, 0.99)))
    assert best_buy(offer, 40).quantity == 40
    assert (best_buy(offer, 41).quantity, best_buy(offer, 41).for_the_break) == (100, True)
    assert best_buy(offer, 100).for_the_break is False


def brute(needs, offers, suppliers):
    """Every share-out of whole lines, one by one."""
    choices = [[o for o in offers if o.code == n.code] for n in needs]
    best = float("inf")
    for picked in product(*choices):
        by = {}
        for need, offer in zip(needs, picked, strict=True):
            by[offer.supplier] = by.get(offer.supplier, 0.0) + best_buy(offer, need.quantity).cost
        total = sum(max(cost, suppliers[s].minimum) + suppliers[s].shipping for s, cost in by.items())
        best = min(best, total)
    return best


@pytest.mark.parametrize("seed", range(25))
def test_no_other_share_out_costs_less(seed):
    chance = random.Random(seed)
    suppliers = {
        name: Supplier(name, chance.choice([0, 10, 25]), chance.choice([0, 3.5, 8])) for name in "ABC"
    }
    needs = [Need(f"P{n}", "", "", "pcs", chance.randint(1, 40), 1.0) for n in range(6)]
    offers = [
        PartOffer(
            name, need.code, chance.choice([1, 5, 10]),
            ((0, chance.randint(10, 90) / 100), (20, chance.randint(5, 80) / 100)),
        )
        for need in needs
        for name in chance.sample("ABC", chance.randint(1, 3))
    ]  # fmt: skip
    plan = plan_orders(needs, offers, suppliers)
    assert plan.total == pytest.approx(brute(needs, offers, suppliers), abs=0.011)
    assert plan.proved
    assert plan.lower_bound <= plan.total + 0.005
    for order in plan.orders:
        assert order.total == pytest.approx(
            max(order.parts_cost, suppliers[order.supplier].minimum) + order.shipping, abs=0.011
        )
        assert all(line.quantity >= line.need for line in order.lines)


def test_shipping_keeps_an_order_together_until_it_is_dearer_to():
    """B is 2.00 cheaper for one part and takes so much to send it."""
    needs = [Need("P1", "", "", "pcs", 1, 0), Need("P2", "", "", "pcs", 1, 0)]
    offers = [
        PartOffer("A", "P1", 1, ((0, 5.0),)),
        PartOffer("A", "P2", 1, ((0, 5.0),)),
        PartOffer("B", "P2", 1, ((0, 3.0),)),
    ]
    for shipping, orders in ((1.99, 2), (2.01, 1)):
        plan = plan_orders(needs, offers, {"A": Supplier("A"), "B": Supplier("B", 0, shipping)})
        assert len(plan.orders) == orders


def test_what_nobody_has_is_said_with_what_is_offered_instead():
    needs = [Need("P1", "", "a part", "pcs", 3, 4.5), Need("P2", "", "", "pcs", 1, 1)]
    plan = plan_orders(needs, [PartOffer("A", "P1", instead="P9")], {})
    assert [(u.code, u.estimate) for u in plan.unoffered] == [("P1", 4.5), ("P2", 1)]
    assert "A offers P9 instead" in plan.unoffered[0].why
    assert "nobody" in plan.unoffered[1].why
    assert (plan.orders, plan.total, plan.estimate) == ((), 0, 5.5)


def test_one_who_has_too_few_is_passed_over_while_another_has_enough():
    need = [Need("P1", "", "", "pcs", 5, 1)]
    scarce, dear = (
        PartOffer("A", "P1", 1, ((0, 1.0),), stock=4),
        PartOffer("B", "P1", 1, ((0, 2.0),), stock=5),
    )
    assert plan_orders(need, [scarce, dear], {}).orders[0].supplier == "B"
    (order,) = plan_orders(need, [scarce], {}).orders
    assert order.lines[0].scarce


@pytest.mark.parametrize(
    ("pieces_m", "spool_m", "spools"),
    [((5, 5), 10, 1), ((5, 5.001), 10, 2), ((6, 6, 4, 4), 10, 2), ((7, 7, 6), 10, 3), ((10,), 10, 1)],
)
def test_wire_by_the_spool_holds_every_piece_whole(pieces_m, spool_m, spools):
    assert spools_for([m * 1000 for m in pieces_m], spool_m * 1000) == spools


def test_a_piece_longer_than_their_spool_is_not_bought_there():
    need = [Need("W", "RD", "", "m", 12, 1, (12_000.0,))]
    plan = plan_orders(need, [PartOffer("A", "W", 10, ((0, 1.0),))], {})
    assert "longer than a spool" in plan.unoffered[0].why
    (order,) = plan_orders(need, [PartOffer("A", "W", 1, ((0, 1.0),))], {}).orders
    assert order.lines[0].quantity == 12


def test_a_kit_as_the_guide_has_it():
    """6 x (1 + 2 + 3 + 4) + 5 x 4 = 80 ways a gender, 50 + 12 = 62 contacts: 18 short (common practice)."""
    kit = CATALOGUE.kits["KIT-SS15"]
    rows = kit_rows(CATALOGUE, {c: float(n) for c, n in kit.contents.items()}, {})
    assert {(r.gender, r.ways, r.contacts, r.short) for r in rows} == {
        ("pin", 80, 62, 18),
        ("socket", 80, 62, 18),
    }


def test_what_a_kit_covers_what_is_short_and_what_is_left():
    kit = Kit("K", "", 10.0, {"A": 4, "B": 2})
    cover = kit_cover(kit, 2, {"A": 9, "B": 3, "C": 1})
    assert (cover.covers, cover.short, cover.left) == ({"A": 8, "B": 3}, {"A": 1}, {"B": 1})
    assert cover.price == 20


@pytest.mark.parametrize("seed", range(20))
def test_no_other_mix_of_kits_and_singles_costs_less(seed):
    chance = random.Random(seed)
    codes = "ABCD"
    each = {c: chance.randint(5, 60) / 10 for c in codes}
    kits = [
        Kit(f"K{n}", "", chance.randint(50, 400) / 10, {c: chance.randint(0, 8) for c in codes})
        for n in range(3)
    ]
    need = {c: float(chance.randint(0, 15)) for c in codes}
    best = min(
        sum(k.price * n for k, n in zip(kits, counts, strict=True))
        + sum(
            each[c] * max(need[c] - sum(k.contents[c] * n for k, n in zip(kits, counts, strict=True)), 0)
            for c in codes
        )
        for counts in product(range(5), repeat=3)
    )
    mix = cheapest_mix(kits, need, each)
    assert mix.cost == pytest.approx(best, abs=0.011)
    assert mix.proved
    assert mix.cost <= mix.singles_only + 0.005


def test_offers_and_suppliers_as_they_are_typed():
    typed = offer_lines(
        CATALOGUE,
        'supplier "North counter" minimum 25 shipping 6.50\n'
        'ss15-p2 from "North counter" pack 10 at 1.70, 50 at 1.45, lead 5 days, stock 400  # quoted in May\n'
        "AS22759/32 20 AWG from reels pack 30 m at 0.85",
    )
    assert typed == [
        Supplier("North counter", 25, 6.5),
        PartOffer("North counter", "SS15-P2", 10, ((0, 1.7), (50, 1.45)), 5, 400),
        PartOffer("reels", "AS22759/32 20 AWG", 30, ((0, 0.85),)),
    ]


@pytest.mark.parametrize(
    ("line", "word"),
    [
        ("supplier", "Line 1"),
        ("SS15-P2 1.70", "Say who sells"),
        ("SS51-P2 from A at 1", "SS15-P2"),
        ("SS15-P2 from A pack 0 at 1", "more than 0"),
        ("SS15-P2 from A pack 1.5 at 1", "whole pieces"),
        ("SS15-P2 from A at 2, 50 at 1.5, 20 at 1", "rise"),
        ("SS15-P2 from A at 1.7.1", "no price"),
        ("# nothing", "who sells"),
    ],
)
def test_what_of_an_offer_is_not_understood_is_named(line, word):
    with pytest.raises(LineError, match=word):
        offer_lines(CATALOGUE, line)
