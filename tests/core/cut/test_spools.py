"""Spools and remnants against a cut list: planned, cut, spoiled, short."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.cut.spools import Done, SpoolPlan, assigned, find_in_plan, plan_spools, spool_lines
from inkthread.core.document.draft import LineError
from inkthread.core.findings import FindingBook
from inkthread.core.measures import METRIC
from inkthread.core.shop import Spool
from inkthread.core.workings import Workings
from tests.core.scenarios import cabled, pump


def at_hand(w: Workings, *lengths_mm: float) -> list[Spool]:
    """So many lengths of every part that is cut."""
    parts = {(c.part, c.colour) for c in w.cut.cuts if not c.cable} | {(c.part, "") for c in w.cut.cables}
    return [
        Spool(str(100 * n + k), code, colour, mm, remnant=mm < 2000)
        for n, (code, colour) in enumerate(sorted(parts))
        for k, mm in enumerate(lengths_mm)
    ]


def planned(w: Workings, spools: list[Spool], *done: Done, quantity: int = 1) -> SpoolPlan:
    return plan_spools(w.cut, quantity, spools, done, w.brief)


def pieces(plan: SpoolPlan) -> list[tuple[str, int]]:
    return [(p.piece, p.number) for part in plan.parts for s in part.spools for p in s.pieces]


def test_every_piece_comes_off_a_spool_of_its_part_and_colour():
    w = pump().workings()
    plan = planned(w, at_hand(w, 10_000))
    by_wire = {c.wire: c for c in w.cut.cuts}
    assert sorted(pieces(plan)) == sorted((key, 1) for key in by_wire)
    for part in plan.parts:
        for spool in part.spools:
            assert all(
                (by_wire[p.piece].part, by_wire[p.piece].colour) == (part.part, part.colour)
                for p in spool.pieces
            )
            assert spool.left_mm == pytest.approx(10_000 - sum(p.length_mm for p in spool.pieces))
    assert (plan.done, plan.pieces) == (0, len(by_wire))
    assert plan.proved


def test_a_cable_is_one_piece_and_its_cores_are_none():
    w = cabled().workings()
    plan = planned(w, at_hand(w, 20_000))
    assert {p for p, _ in pieces(plan)} == {f"cable {c.id}" for c in w.cut.cables} | {
        c.wire for c in w.cut.cuts if not c.cable
    }


def test_the_quantity_is_cut_as_often():
    w = pump().workings()
    assert planned(w, at_hand(w, 50_000), quantity=3).pieces == 3 * len(w.cut.cuts)


def test_what_is_cut_stays_where_it_was_cut_and_the_rest_is_planned_around_it():
    w = pump().workings()
    spools = at_hand(w, 10_000)
    first = planned(w, spools)
    spool = next(s for part in first.parts for s in part.spools if s.pieces)
    piece = spool.pieces[0]
    left = [
        Spool(s.id, s.code, s.colour, s.length_mm - (piece.length_mm if s.id == spool.spool else 0))
        for s in spools
    ]
    done = Done(piece.piece, 1, spool.spool, piece.length_mm)
    after = planned(w, left, done)
    again = next(s for part in after.parts for s in part.spools if s.spool == spool.spool)
    assert again.pieces[0].done
    assert again.length_mm == spool.length_mm
    assert again.left_mm == pytest.approx(spool.left_mm)
    assert after.done == 1


def test_a_spoiled_piece_is_cut_again_from_what_is_left():
    w = pump().workings()
    spools = at_hand(w, 10_000)
    spool = next(s for part in planned(w, spools).parts for s in part.spools if s.pieces)
    piece = spool.pieces[0]
    left = [
        Spool(s.id, s.code, s.colour, s.length_mm - (piece.length_mm if s.id == spool.spool else 0))
        for s in spools
    ]
    after = planned(w, left, Done(piece.piece, 1, spool.spool, piece.length_mm, spoiled=True))
    mine = next(s for part in after.parts for s in part.spools if s.spool == spool.spool)
    assert [(p.done, p.spoiled) for p in mine.pieces if p.piece == piece.piece] == [
        (True, True),
        (False, False),
    ]
    assert mine.left_mm == pytest.approx(spool.left_mm - piece.length_mm)
    assert after.done == 0


def test_a_plan_made_before_stays_where_nothing_is_better():
    w = pump().workings()
    spools = at_hand(w, 4000, 4000, 4000)
    before = planned(w, spools)
    other = {piece: str(100 * (int(spool) // 100) + 2) for piece, spool in assigned(before).items()}
    moved = plan_spools(w.cut, 1, spools, (), w.brief, begin=other)
    assert assigned(moved) == other


def test_short_spools_are_named_before_anything_is_cut():
    w = pump().workings()
    longest = max(w.cut.cuts, key=lambda c: c.cut_mm)
    book = FindingBook(shipped_catalogue().checks)
    short = planned(w, at_hand(w, longest.cut_mm - 5))
    find_in_plan(short, METRIC, book)
    assert {f.code for f in book.entries} == {"spool-short"}
    assert any(longest.label in f.what for f in book.entries)
    assert short.short_mm >= longest.cut_mm
    # At the very length it comes off, and where nothing of a part is at hand it is simply bought.
    for spools in (at_hand(w, *[longest.cut_mm] * 4), []):
        book = FindingBook(shipped_catalogue().checks)
        find_in_plan(planned(w, spools), METRIC, book)
        assert book.entries == []
    assert planned(w, []).short_mm == pytest.approx(sum(c.cut_mm for c in w.cut.cuts))


def test_spools_are_typed_as_lines():
    read = spool_lines(
        shipped_catalogue(),
        "# in the drawer\nAS22759/32 20 AWG RD 30 m x2 in drawer 3\nas22759/32 18 awg bu/rd 920 mm remnant, tin\n"
        "JACKETED-4 20 AWG 12 ft",
    )
    assert [(s.code, s.colour, s.length_mm, s.remnant, s.place) for s in read] == [
        ("AS22759/32 20 AWG", "RD", 30_000, False, "drawer 3"),
        ("AS22759/32 20 AWG", "RD", 30_000, False, "drawer 3"),
        ("AS22759/32 18 AWG", "BU/RD", 920, True, "tin"),
        (read[3].code, "", pytest.approx(3657.6), False, ""),
    ]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "Write a wire"),
        ("COPPER 20 AWG RD 3 m", "Line 1: There is no wire 'COPPER'"),
        ("AS22759/32 20 AWG 30 m", "Say the colour"),
        ("AS22759/32 20 AWG RD", "Line 1"),
        ("AS22759/32 20 AWG RD -3 m", "Line 1"),
        ("AS22759/32 20 AWG RD 0 m", "no length of a spool"),
        ("AS22759/32 20 AWG RD 30 V", "Line 1"),
        ("AS22759/32 20 AWG RD 30 m\nAS22759/32 20 AWG RD 11 km", "Line 2"),
        ("AS22759/32 20 AWG RD 30 m x900", "say 1 to 200"),
    ],
)
def test_a_line_that_is_no_spool_is_named(text, said):
    with pytest.raises(LineError, match=said.replace("/", "/")):
        spool_lines(shipped_catalogue(), text)
