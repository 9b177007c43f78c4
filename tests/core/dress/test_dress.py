"""What goes over the wires of a harness: kinds by rule, sizes, cut lengths, order, labels, holds, masses."""

from __future__ import annotations

import itertools
import math

import pytest
import segno

from inkthread.core.dress import cross_section
from inkthread.core.dress.choose import choose_shape
from inkthread.core.dress.labels import marks_along, written
from inkthread.core.dress.mass import mass_of
from inkthread.core.dress.squares import modules_of, square_side_mm
from inkthread.core.physics.coverings import braid_cut_factor
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.dress.test_checks import cover, in_zone, label, trimmed
from tests.core.scenarios import pump


def fork(practice: str = "vehicle") -> HarnessBuilder:
    """A trunk of 1 m that parts into two branches of 400 and 60 mm."""
    builder = HarnessBuilder(practice).feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1", "F1 > M2 pump 3 A > B1", "F1 > M3 pump 3 A > B1"
    )
    return builder.run("B1 200 > F1 1000 > mid 400 > M1", "mid 60 > M2", "mid 500 > M3")


def rule(builder: HarnessBuilder, name: str, value: float) -> HarnessBuilder:
    return builder.set(f"brief/house_rules/{name}", {"order": 1, "value": value, "reason": "as here"})


def covers(builder: HarnessBuilder) -> dict:
    return {b: c for c in builder.workings().dress.covers for b in c.branches}


@pytest.mark.parametrize(
    ("value", "kind"), [(1, "none"), (2, "braid"), (3, "conduit"), (4, "tape"), (5, "spiral"), (6, "fabric")]
)
def test_the_house_rule_says_what_goes_over_a_branch(value, kind):
    builder = rule(fork(), "cover", value)
    trunk = next(b for b, x in builder.plain["route"]["branches"].items() if x["length_mm"] == 1000)
    assert covers(builder)[trunk].kind == kind


def test_a_short_branch_takes_shrink_only_and_one_wire_nothing():
    builder = fork()
    by_length = {x["length_mm"]: covers(builder)[b] for b, x in builder.plain["route"]["branches"].items()}
    assert by_length[60].kind in ("shrink", "none")
    assert "short" in by_length[60].because or "too short" in by_length[60].because
    lone = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 3 A > G1 ground stud")
    lone.run("B1 100 > F1 900 > M1 100 > G1")
    assert all(c.kind == "none" for c in lone.workings().dress.covers)


def test_where_an_old_harness_is_mended_the_cover_goes_on_after():
    """Slip-on when ends are open, split for repairs (common practice, no source)."""
    new, old = covers(fork()), covers(fork().set("brief/job", "replacement"))
    assert {c.kind for c in new.values()} >= {"braid"}
    assert {c.kind for c in old.values()} >= {"conduit"}
    assert all(c.goes_on == "after" and c.split for c in old.values() if c.kind == "conduit")
    assert all(c.taped_mm > 0 for c in old.values() if c.kind == "conduit")


def test_what_holds_water_is_not_chosen_where_it_is_wet():
    builder = rule(in_zone(pump(), wet=True), "cover", 4)
    assert {c.kind for c in builder.workings().dress.covers} <= {"braid", "none", "shrink"}


def test_a_braid_is_cut_by_the_length_of_its_yarns():
    builder = fork()
    sleeves = {s.code: s for s in builder.catalogue.coverings.sleeves}
    bundles = builder.workings().dress.bundles
    for c in builder.workings().dress.covers:
        if c.kind != "braid":
            continue
        sleeve = sleeves[c.code]
        loose = max(bundles[b].loose_mm for b in c.branches)
        lies = min(max(loose, sleeve.least_mm), sleeve.most_mm)
        assert c.cut_mm == pytest.approx(
            c.covers_mm * braid_cut_factor(lies, sleeve.nominal_mm, sleeve.angle_deg), abs=0.06
        )
        length = sum(builder.plain["route"]["branches"][b]["length_mm"] for b in c.branches)
        assert c.covers_mm == pytest.approx(length - c.bare_from_mm - c.bare_to_mm)
        assert sleeve.least_mm <= c.holds_mm <= sleeve.most_mm
        assert c.fits


def test_wires_lie_bare_behind_a_connector_where_it_is_dry_and_closed_where_it_is_wet():
    """A window of 35 mm (1 3/8 in) shows the colours (common practice, no source)."""
    dry, wet = pump(), in_zone(pump(), wet=True)
    at_m1 = [c for c in dry.workings().dress.covers if c.kind == "braid"][-1]
    assert 35 in (at_m1.bare_from_mm, at_m1.bare_to_mm)
    closed = [c for c in wet.workings().dress.covers if c.kind == "braid"][-1]
    assert (closed.bare_from_mm, closed.bare_to_mm) == (0, 0)
    always = rule(in_zone(pump(), wet=True), "window", 2)
    assert 35 in [c.bare_to_mm for c in always.workings().dress.covers if c.kind == "braid"]


def test_branches_that_only_go_on_take_one_piece():
    """A clamp on the way parts a branch in two, and not its cover."""

    through = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 3 A > B1")
    through.run("B1 200 > F1 500 > clip 500 > M1")
    runs = [c.branches for c in through.workings().dress.covers]
    assert any(len(branches) == 2 for branches in runs)


def test_a_breakout_is_one_large_tube_over_smaller_ones():
    builder = fork()
    w = builder.workings()
    at_mid = [s for s in w.dress.shrinks if s.place == "mid"]
    large = [s for s in at_mid if s.what == "breakout"]
    small = [s for s in at_mid if s.what != "breakout"]
    assert len(large) == 1
    assert small
    assert large[0].finished_mm == 50, "25 mm each way"
    assert large[0].threaded > max(s.threaded for s in small)
    for s in w.dress.shrinks:
        assert s.fits
        tube = next((t for t in builder.catalogue.coverings.tubes() if t.code == s.code), None)
        if tube is not None:
            assert tube.recovered_mm < s.onto_mm
            assert tube.supplied_mm > s.over_mm


@pytest.mark.parametrize(("value", "lined"), [(1, {True}), (2, {True}), (3, {False})])
def test_tube_is_lined_by_the_house_rule(value, lined):
    """Dry, and 25 mm from rear to face: lined everywhere, lined by distance, plain unless wet."""
    builder = rule(fork(), "shrink_lining", value)
    at_ends = [s for s in builder.workings().dress.shrinks if s.what.startswith("end of") and s.ratio]
    assert {s.lined for s in at_ends} == lined


def test_near_a_mating_face_tube_is_plain():
    builder = rule(rule(fork(), "face_clear_mm", 100), "shrink_lining", 2)
    w = builder.workings()
    near = [s for s in w.dress.shrinks if s.clear_mm is not None and s.clear_mm < 100]
    assert near
    assert not any(s.lined for s in near)


@pytest.mark.parametrize("length", [10, 76, 76.3, 177, 178, 300, 533, 534, 914, 915, 5000])
def test_marks_are_near_the_ends_and_no_farther_apart_than_allowed(length):
    """At intervals of 15 in at most, within 3 in of the ends; under 3 in none, to 7 in one (AC 43.13-1B and
    AS50881, from memory). Counted by laying them out."""
    marks = marks_along(length, 381, 76)
    if length < 76.2:
        assert marks == 0
    elif length < 177.8:
        assert marks == 1
    else:
        first, last = 76.0, length - 76.0
        apart = (last - first) / (marks - 1)
        assert apart <= 381 + 1e-6
        assert marks == 2 or (last - first) / (marks - 2) > 381, "no more than need be"


def test_aviation_marks_its_wires_and_others_do_not():
    marked = pump("aviation").workings().dress.labels.marks
    assert marked
    assert max(marked.values()) > 2
    assert pump().workings().dress.labels.marks == {}


def test_labels_are_on_both_ends_from_some_leads_on():
    """Both ends above a set lead count (common practice, no source)."""
    few = pump().workings()
    assert {x.of for x in few.dress.labels.labels} <= set(few.document.ends.connectors)
    bare = rule(rule(fork(), "cover", 1), "label_from_leads", 2).workings()
    of_wires = [x for x in bare.dress.labels.labels if x.of in bare.wire.wires]
    ends = [e for s in bare.route.sections.values() for e in (s.a, s.b) if e.kind == "pin"]
    assert len(of_wires) == len(ends)
    none = rule(rule(fork(), "cover", 1), "labels", 3).workings()
    assert {x.of for x in none.dress.labels.labels} <= set(none.document.ends.connectors)


def test_beneath_a_cover_the_connector_is_labelled_and_not_its_wires():
    w = rule(fork(), "labels", 2).workings()
    covered = {p for c in w.dress.covers if c.kind != "none" for b in c.branches
               for p in (w.document.route.branches[b].from_point, w.document.route.branches[b].to_point)}  # fmt: skip
    for x in w.dress.labels.labels:
        if x.of in w.wire.wires:
            assert w.document.ends.connectors[x.at].point not in covered


def test_a_label_sits_where_the_rule_has_it_and_farther_at_an_open_end():
    """13 to 19 mm behind a finished connector, farther from an unfinished end (common practice, no source)."""
    at = {x.at: x.behind_mm for x in pump().workings().dress.labels.labels}
    assert 13 <= at["M1"] <= 19
    at = {x.at: x.behind_mm for x in trimmed(pump()).workings().dress.labels.labels}
    assert at["M1"] == 60
    own = {x.at: x.text for x in label(pump(), text="LIFT PUMP").workings().dress.labels.labels}
    assert own["M1"] == "LIFT PUMP"


def test_a_template_is_filled_and_keeps_what_it_does_not_know():
    fills = {
        "id": "C12",
        "near": "F1-3",
        "far": "M1-1",
        "function": "pump feed",
        "harness": "H",
        "serial": "7",
    }
    assert written("{harness}/{serial} {id} {from}>{to} {function}", **fills) == "H/7 C12 F1-3>M1-1 pump feed"
    fills["function"] = "{harness} of {id} {other}"
    assert written("{function} {none}", **fills) == "{harness} of {id} {other} {none}", (
        "names are no template"
    )
    assert written("{id} {colour}", **fills) == "C12 {colour}"
    builder = rule(rule(fork(), "cover", 1), "labels", 2).set("dress/template", "{id}")
    w = builder.workings()
    assert all(x.text == w.wire.wires[x.of].label for x in w.dress.labels.labels if x.of in w.wire.wires)


def test_holds_go_round_what_lies_there_cover_and_all():
    for held_by, kinds in ((1, {"clamp", "tie"}), (2, {"tie"})):
        w = rule(fork(), "held_by", held_by).workings()
        outside = w.dress.outside_mm()
        assert {h.kind for h in w.dress.holds} <= kinds
        for hold in w.dress.holds:
            assert hold.over_mm == pytest.approx(outside[hold.place], abs=0.01)
            parts = {c.code: c.most_mm for c in w.catalogue.coverings.clamps}
            parts |= {t.code: t.most_mm for t in w.catalogue.coverings.ties}
            assert parts[hold.code] >= hold.over_mm


@pytest.mark.parametrize("name", DEMOS)
def test_what_the_program_chose_passes_its_own_checks(name):
    """In every demo no cover, tube, label or hold of the program's own choice is blamed."""
    e = HarnessBuilder(plain=demo_document(name)).evaluate()
    assert [f.what for f in e.findings if any(p.room == "dress" for p in f.places)] == []


def test_masses_add_up_and_balance_where_a_lever_would():
    builder = fork()
    builder.plain["route"]["points"]["B1"]["datum"] = True
    w = builder.workings()
    stations = {p: x.station_mm for p, x in w.evaluation.route.points.items()}
    masses = mass_of(w.context, w.dress, stations)
    assert masses.total_g == pytest.approx(sum(m.total_g for m in masses.branches.values()), abs=0.02)
    moments = sum(m.total_g * m.station_mm for m in masses.branches.values())
    assert masses.balance_mm == pytest.approx(moments / masses.total_g, abs=0.1)
    wires = sum(
        (high - low) / 1000 * w.wire.size(s.key).mass_g_per_m
        for s in w.route.sections.values()
        for _, low, high in s.spans
    )
    assert sum(m.wires_g for m in masses.branches.values()) == pytest.approx(wires, abs=0.1)
    assert not any(math.isnan(m.total_g) for m in masses.branches.values())


def test_the_bill_has_what_goes_over_the_wires():
    builder = fork()
    w = builder.workings()
    billed = {}
    for line in w.evaluation.parts.lines:
        billed[line.code] = billed.get(line.code, 0.0) + line.quantity
    for c in w.dress.covers:
        if c.code:
            assert billed[c.code] > 0
    for code in {s.code for s in w.dress.shrinks}:
        cut = sum(s.cut_mm * s.count for s in w.dress.shrinks if s.code == code)
        cut += sum(c.cut_mm for c in w.dress.covers if c.code == code)
        assert billed[code] == pytest.approx(cut / 1000, abs=1e-3)
    for code, mm in w.dress.labels.tape_mm.items():
        assert billed[code] == pytest.approx(mm / 1000, abs=1e-3)
    mass = w.dress.mass_g()
    own = sum(x.mass_g for x in w.evaluation.parts.lines if x.group in ("sleeve", "shrink", "label", "hold"))
    assert own == pytest.approx(mass, rel=0.2)


def test_a_cover_that_is_chosen_goes_before_the_rule():
    builder = cover(fork(), "R2", kind="spiral", reason="branches are added later")
    assert covers(builder)["R2"].kind == "spiral"
    assert covers(builder)["R2"].because == "branches are added later"
    assert covers(cover(fork(), "R2", kind="braid", part="BR-16"))["R2"].code == "BR-16"


def twisted() -> HarnessBuilder:
    """A sensor's two wires, twisted by hand, in a branch with a lamp's."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 0.5 A > B1", "A1 controller 0.1 A"
    )
    builder.feed("T1 level sensor", "A1.I1 > T1 > A1.N1").run("B1 100 > F1 300 > E1 200 > A1", "F1 150 > T1")
    members = [
        k for k, c in builder.plain["circuits"]["circuits"].items() if any("T1." in r for r in c["ends"])
    ]
    group = {"order": 1, "kind": "pair", "members": {k: {"order": n} for n, k in enumerate(members)}}
    return builder.set("circuits/groups/G", group)


def test_wires_twisted_by_hand_are_one_thing_as_wide_as_they_turn():
    """Two wires of one width turn in a circle of twice that: geometry."""
    w = twisted().workings()
    shared = [b for b, things in w.dress.contents.items() if any(t == "twisted G" for t, _ in things)]
    assert shared
    for b in shared:
        wires = w.dress.twists[b, "twisted G"]
        assert len(wires) == 2
        widest = dict(w.dress.contents[b])["twisted G"]
        assert widest == pytest.approx(sum(d for _, d in wires), rel=1e-3)
        assert not {key for key, _ in wires} & {t for t, _ in w.dress.contents[b]}
        drawn = cross_section(w.dress, b)
        assert {key for key, _ in wires} <= {c.thing for c in drawn}, "each circle is its wire"
        for one, other in itertools.combinations(drawn, 2):
            apart = math.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm)
            assert apart >= (one.diameter_mm + other.diameter_mm) / 2 - 0.15


def test_fillers_are_bought_as_long_as_their_turns():
    """Nine equal wires about a core of one: 1 + 6 leaves ten places in the next ring less two wires."""
    builder = HarnessBuilder("motorsport")
    for n in range(1, 6):
        builder.feed(
            f"B1 battery > F{n} fuse > E{n} lamp 1 A > B1"
            if n == 1
            else f"B1.+ > F{n} fuse > E{n} lamp 1 A > B1"
        )
        builder.run(f"B1 500 > mid 500 > F{n} 200 > E{n}" if n == 1 else f"mid 300 > F{n} 200 > E{n}")
    for circuit in builder.plain["circuits"]["circuits"].values():
        circuit["threading"] = "home runs"
    w = builder.workings()
    rings = [(b, r) for b, lay in w.dress.lays.items() for r in lay.rings if r.fillers]
    assert rings
    total = sum(r.fillers * w.document.route.branches[b].length_mm * r.longer for b, r in rings)
    assert sum(f.length_mm for f in w.dress.fillers) == pytest.approx(total, rel=1e-4)
    cords = {c.code: c for c in w.catalogue.coverings.fillers}
    billed = sum(x.quantity for x in w.parts.lines if x.code in cords)
    assert billed * 1000 == pytest.approx(total, rel=1e-3)
    thinnest = min(c.diameter_mm for c in cords.values())
    for (_, ring), run in zip(rings, w.dress.fillers, strict=True):
        assert cords[run.code].diameter_mm <= max(ring.filler_mm, thinnest) + 1e-6


def test_a_moulded_boot_passes_and_closes_at_body_and_leg():
    """At each edge of an invented boot: body 16 to 8, leg 9 to 4 mm."""
    shapes = HarnessBuilder().catalogue.coverings.shapes
    boot = next(s for s in shapes if s.code == "MB-16")
    hair = 1e-3
    inside = (boot.body_supplied_mm - hair, boot.body_recovered_mm + hair)
    leg = (boot.leg_supplied_mm - hair, boot.leg_recovered_mm + hair)
    assert choose_shape([boot], inside, [leg]) is boot
    assert choose_shape([boot], (boot.body_supplied_mm, inside[1]), [leg]) is None
    assert choose_shape([boot], (inside[0], boot.body_recovered_mm), [leg]) is None
    assert choose_shape([boot], inside, [(boot.leg_supplied_mm, leg[1])]) is None
    assert choose_shape([boot], inside, [(leg[0], boot.leg_recovered_mm)]) is None
    assert choose_shape([boot], inside, [leg, leg]) is None, "a boot has one leg"


def test_moulded_pieces_are_a_house_rule_and_are_billed_by_the_piece():
    plain = HarnessBuilder(plain=demo_document("larkspur"))
    shapes = {s.code: s for s in plain.catalogue.coverings.shapes}
    tubes = plain.workings()
    if not any(p.code in shapes for p in tubes.dress.shrinks):
        moulded = rule(plain, "moulded", 2).workings()
    else:
        moulded, tubes = tubes, rule(plain, "moulded", 1).workings()
    assert not any(p.code in shapes for p in tubes.dress.shrinks)
    chosen = [p for p in moulded.dress.shrinks if p.code in shapes]
    assert chosen
    for piece in chosen:
        assert shapes[piece.code].body_supplied_mm > piece.over_mm
        assert shapes[piece.code].leg_recovered_mm < piece.onto_mm
    billed = {x.code: x.quantity for x in moulded.parts.lines if x.code in shapes}
    assert sum(billed.values()) == len(chosen) * moulded.document.brief.quantity


@pytest.mark.parametrize("letters", ["7", "A", "a", "é"])
def test_modules_of_a_code_are_those_that_it_is_drawn_with(letters):
    """Against the library that draws them, at every length up to where ten versions end."""
    for many in range(1, 215):
        text = letters * many
        modules = modules_of(text)
        drawn = segno.make(
            text,
            error="m",
            micro=False,
            mode="byte" if letters == "é" else None,
            encoding="utf-8" if letters == "é" else None,
        )
        if modules is None:
            assert drawn.version > 10
        elif letters != "é":
            assert drawn.symbol_size(border=0)[0] == modules, many
        else:
            assert drawn.symbol_size(border=0)[0] >= modules


def test_a_square_code_is_printed_only_where_it_can_be_read():
    """Two dots of a 203 dpi printer to a module at least; module counts of ISO/IEC 18004: 21, 25, 29 ..."""
    text = "Larkspur A1"
    modules = 21 + 2 * 2
    assert square_side_mm(text, modules * 0.25) == pytest.approx(modules * 0.25, abs=0.01)
    assert square_side_mm(text, modules * 0.25 - 0.05) == 0
    assert square_side_mm("x" * 60, modules * 0.25) == 0, "more letters take more modules"


def test_a_label_with_a_square_code_is_longer_by_it_and_says_what_is_in_it():
    plain = HarnessBuilder(plain=demo_document("larkspur")).set("dress/square", False)
    bare = {x.of: x for x in plain.workings().dress.labels.labels}
    plain.set("dress/square", True)
    labels = plain.workings().dress.labels.labels
    squared = [x for x in labels if x.square]
    assert squared
    assert any(not x.square for x in labels), "thin sleeves have no room for one"
    for own in squared:
        assert own.of == own.at, "connectors' labels alone"
        assert own.square.endswith(own.of)
        assert own.length_mm >= bare[own.of].length_mm + own.square_mm


@pytest.mark.parametrize("name", DEMOS)
def test_heat_is_reckoned_with_the_cover_that_a_branch_gets(name):
    """One truth: what is wanted where temperatures are worked out is what goes on, or what stands in for it."""
    w = HarnessBuilder(plain=demo_document(name)).workings()
    placement, insulates = w.wire.tables.placement, w.catalogue.coverings.insulates
    kinds = {b: c.kind for c in w.dress.covers for b in c.branches}
    because = {b: c.because for c in w.dress.covers for b in c.branches}
    for branch, over in zip(placement.branch, placement.covers, strict=True):
        if branch is None:
            assert over == insulates["none"]
        elif "is made for it" not in because[branch] and "too short" not in because[branch]:
            assert over == insulates[kinds[branch]], branch


def test_lacing_takes_cord_for_every_knot_and_is_billed_by_the_metre():
    """Twice round the bundle and 140 mm a knot (common practice, no source)."""
    builder = pump().set("brief/zones", {})
    for branch in builder.plain["route"]["branches"].values():
        branch["length_mm"] = 2000.0
    w = rule(builder, "held_by", 3).workings()
    laced = [h for h in w.dress.holds if h.kind == "lacing"]
    assert laced
    assert not any(h.kind == "tie" for h in w.dress.holds)
    cord = sum(h.count * (140 + 2 * math.pi * h.over_mm) for h in laced)
    (line,) = (x for x in w.parts.lines if x.code == "LC-25")
    assert line.quantity * 1000 == pytest.approx(cord, rel=1e-3)
    assert line.mass_g == pytest.approx(sum(h.count * h.mass_g for h in laced), rel=0.01)
