"""Parts at hand: read from lines, held against a bill, and whether a kit fills its own housings."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.cut.spools import plan_spools
from inkthread.core.document.draft import LineError
from inkthread.core.parts import StockEntry, cover, known_parts, stock_line, stock_lines, wire_at_hand
from inkthread.core.shop import Spool
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder

CATALOGUE = shipped_catalogue()


def pump() -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump (SR16) 5 A > B1")
    return builder.run("B1 100 > F1 900 > M1")


@pytest.mark.parametrize(
    ("line", "entry"),
    [
        ("SS15-P2 10 keep 4", StockEntry("SS15-P2", 10, "", 4)),
        ("ss15-p2   10", StockEntry("SS15-P2", 10)),
        ("AS22759/32 20 AWG RD 30 m", StockEntry("AS22759/32 20 AWG", 30, "RD")),
        ("J1128-TXL 18 AWG WH/BK 2,5 m, keep 10", StockEntry("J1128-TXL 18 AWG", 2.5, "WH/BK", 10)),
        ("JACKETED-4 22 AWG 12", StockEntry("JACKETED-4 22 AWG", 12)),
        ("SERVO-3 3 m", StockEntry("SERVO-3", 3)),
        ("SS15-P2 10 in drawer 3", StockEntry("SS15-P2", 10, place="drawer 3")),
        ("SS15-P2 10 keep 4, bin B", StockEntry("SS15-P2", 10, "", 4, "bin B")),
    ],
)
def test_a_line_says_a_part_how_many_and_how_many_to_keep(line, entry):
    assert stock_line(CATALOGUE, line) == entry


@pytest.mark.parametrize(
    ("line", "word"),
    [
        ("SS51-P2 10", "SS15-P2"),
        ("SS15-P2", "how many"),
        ("SS15-P2 ten", "'ten'"),
        ("SS15-P2 10 m", "pieces"),
        ("SS15-P2 1.5", "whole"),
        ("AS22759/32 20 AWG RD 30 pcs", "counted in m"),
        ("SS15-P2 10 keep", "keep"),
        ("Q", "Find a part"),
    ],
)
def test_what_is_not_understood_is_named(line, word):
    with pytest.raises(LineError, match=word):
        stock_line(CATALOGUE, line)


def test_a_list_is_taken_whole_or_not_at_all():
    assert len(stock_lines(CATALOGUE, "# drawer\nSS15-P2 10\n\nSS15-P4 3  # upper")) == 2
    with pytest.raises(LineError, match="Line 3: SS15-P2 stands here twice"):
        stock_lines(CATALOGUE, "SS15-P2 10\nSS15-P4 3\nss15-p2 8")
    with pytest.raises(LineError, match="Line 3"):
        stock_lines(CATALOGUE, "SS15-P2 10\n\nnothing 3")
    with pytest.raises(LineError):
        stock_lines(CATALOGUE, "# only this")


@pytest.mark.parametrize("name", DEMOS)
def test_all_that_is_billed_can_be_laid_in_stock_and_covers_its_bill(name):
    bill = HarnessBuilder(plain=demo_document(name)).evaluate().parts.lines
    known = known_parts(CATALOGUE)
    for line in bill:
        if line.group not in ("block", "fuse"):
            assert line.code in known, line.code
    entries: dict[str, StockEntry] = {}
    for line in bill:
        colour = line.colour if line.unit == "m" and "core" not in line.colour else ""
        e = StockEntry(line.code, line.to_order, colour)
        entries[e.id] = StockEntry(
            line.code, line.to_order + getattr(entries.get(e.id), "quantity", 0), colour
        )
    whole = cover(CATALOGUE, bill, entries.values())
    assert not [x for x in whole.lines if x.to_buy]
    nothing = cover(CATALOGUE, bill, [])
    assert all(x.to_buy >= x.needed > 0 for x in nothing.lines)
    assert not nothing.kits
    assert not nothing.refill


def test_the_drawer_gives_what_it_has_and_the_rest_is_bought():
    """Hand-worked: 7 contacts needed, 5 at hand, 4 wanted after it: 2 to buy and 4 to refill."""
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 900 > M1")
    )
    bill = builder.evaluate().parts.lines
    seals = next(x for x in bill if x.group == "terminal")
    stock = [StockEntry(seals.code, seals.to_order - 1, "", 4)]
    found = cover(CATALOGUE, bill, stock)
    line = next(x for x in found.lines if x.code == seals.code)
    assert (line.at_hand, line.to_buy) == (seals.to_order - 1, 1)
    (refill,) = found.refill
    assert (refill.left, refill.refill) == (0, 4)
    plenty = cover(CATALOGUE, bill, [StockEntry(seals.code, 50, "", 4)])
    assert not plenty.refill


def test_wire_is_taken_from_the_reel_of_its_colour():
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 900 > M1")
    )
    bill = [x for x in builder.evaluate().parts.lines if x.group == "wire"]
    red, black = (next(x for x in bill if x.colour == c) for c in ("RD", "BK"))
    found = cover(CATALOGUE, bill, [StockEntry(red.code, 30, "RD")])
    assert {x.colour: x.to_buy for x in found.lines}["RD"] == 0
    assert {x.colour: x.to_buy for x in found.lines}["BK"] == pytest.approx(black.quantity)


def test_a_kit_says_how_many_ways_no_contact_fills():
    """6 x (1 + 2 + 3 + 4) + 5 x 4 = 80 ways against 50 + 12 = 62 contacts: 18 short (common practice)."""
    lines = [f"TW25-{s}{n} 6" for s in "PR" for n in (1, 2, 3, 4)] + ["TW25Q-P4 5", "TW25Q-R4 5"]
    lines += [f"TW-{g}-{size} {count}" for g in "PS" for size, count in (("A", 50), ("B", 12))]
    found = cover(CATALOGUE, [], stock_lines(CATALOGUE, "\n".join(lines)))
    assert {k.gender for k in found.kits} == {"pin", "socket"}
    for kit in found.kits:
        assert (kit.families, kit.ways, kit.contacts, kit.short) == ("TW25 and TW25Q", 80, 62, 18)
        assert [r.at_hand for r in kit.ranges] == [50, 12, 0]
        assert kit.ranges[0].takes == "0.435 to 1.004 mm²"


def test_a_kit_shows_what_the_job_takes_of_each_range():
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 pump (TW25) 5 A > B1")
        .run("B1 100 > F1 900 > M1")
    )
    bill = builder.evaluate().parts.lines
    found = cover(CATALOGUE, bill, [StockEntry("TW25-P2", 3), StockEntry("TW-S-A", 1)])
    (kit,) = found.kits
    assert (kit.gender, kit.ways, kit.short) == ("socket", 6, 5)
    # Two are used, one is spare, two are to practise on.
    assert sum(r.needed for r in kit.ranges) == 5


def test_what_others_have_set_aside_is_not_free():
    bill = pump().evaluate().parts.lines
    contact = next(x for x in bill if x.group == "contact")
    at_hand = [StockEntry(contact.code, contact.to_order + 1, "", 0, "drawer 3")]

    def line(**aside):
        return next(x for x in cover(CATALOGUE, bill, at_hand, **aside).lines if x.code == contact.code)

    assert (line().to_buy, line().place) == (0, "drawer 3")
    assert line(reserved={contact.code: 1.0}).to_buy == 0, "one is spare"
    assert line(reserved={contact.code: 2.0}).to_buy == 1
    assert line(reserved={contact.code: 2.0}).others == 2
    assert line(reserved={contact.code: 99.0}).to_buy == contact.to_order
    assert line(mine={contact.code: 1.0}).to_buy == 0, "its own is free for it"


def test_wire_counts_by_its_spools_as_planned():
    """A spool that holds all pieces but one leaves that one to buy; what is left too short is waste."""
    w = pump().workings()
    cuts = sorted((c for c in w.cut.cuts if c.colour == w.cut.cuts[0].colour), key=lambda c: -c.cut_mm)
    part, colour = cuts[0].part, cuts[0].colour
    key = f"{part} {colour}"
    all_mm = sum(c.cut_mm for c in cuts if c.part == part)
    for spool_mm, to_buy in ((all_mm, 0.0), (all_mm - 1, min(c.cut_mm for c in cuts) / 1000)):
        plan = plan_spools(w.cut, 1, [Spool("1", part, colour, spool_mm)], [], w.brief)
        at_hand = wire_at_hand(plan)
        line = next(
            x
            for x in cover(CATALOGUE, w.parts.lines, [], wire=at_hand).lines
            if f"{x.code} {x.colour}" == key
        )
        assert line.to_buy == pytest.approx(to_buy, abs=1e-4)


def test_what_comes_out_of_a_kit_is_not_bought_again():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump (SS15) 5 A > B1")
    builder.run("B1 100 > F1 900 > M1")
    alone = builder.evaluate().parts
    builder.set("parts/kits", {"KIT-SS15": {"order": 1.0, "count": 1}})
    with_kit = builder.evaluate().parts
    kit = CATALOGUE.kits["KIT-SS15"]
    (bought,) = (x for x in with_kit.lines if x.group == "kit")
    assert (bought.code, bought.cost) == ("KIT-SS15", kit.price)
    saved = sum(
        x.cost * min(kit.contents.get(x.code, 0), x.to_order) / x.to_order for x in alone.lines if x.to_order
    )
    assert with_kit.cost_total == pytest.approx(alone.cost_total + kit.price - saved, abs=0.05)
    for x in cover(CATALOGUE, with_kit.lines, []).lines:
        assert x.to_buy == pytest.approx(max(x.needed - kit.contents.get(x.code, 0), 0), abs=1e-3), x.code
    assert "kit-cannot-fill" in builder.codes()
    builder.set("parts/kits", {"KIT-OF-OLD": {"order": 1.0, "count": 1}})
    assert "kit-gone" in builder.codes()
    assert builder.evaluate().parts.cost_total == alone.cost_total
