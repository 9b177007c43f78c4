"""The machine's book: due days by zone, matings used, spares to carry; and an end that is picked up."""

from __future__ import annotations

from datetime import date

import pytest

from inkthread.core.prove import LifeEntry, picked_up, upkeep_of
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.build.test_checks import seals
from tests.core.scenarios import ruled, zoned


def day(year: int, month: int, number: int) -> int:
    return date(year, month, number).toordinal()


TODAY = day(2026, 11, 29)
FITTED = LifeEntry("fitted", "the cart", day(2026, 1, 1))


def of(builder: HarnessBuilder, *life: LifeEntry, today: int = TODAY):
    w = builder.workings()
    return upkeep_of(w.rooms, w.circuits, life, today)


def shaken() -> HarnessBuilder:
    """Looked at each twelve months; where it shakes, each six."""
    return zoned(ruled(seals(), inspect_months=12), vibration=True)


def zone(upkeep, name: str):
    return next(z for z in upkeep.zones if z.zone == name)


def test_nothing_is_due_before_it_is_fitted():
    assert all(z.due is None and not z.overdue for z in of(shaken()).zones)


def test_where_it_shakes_one_looks_twice_as_often():
    upkeep = of(shaken(), FITTED)
    (shaky,) = [z for z in upkeep.zones if z.every_months == 6]
    assert shaky.due == day(2026, 7, 3)  # 183 days of 365.25 / 2, rounded
    assert shaky.overdue
    assert "chafing" in shaky.look


def test_a_look_at_the_zone_or_at_all_counts_and_one_elsewhere_does_not():
    (name,) = [z.zone for z in of(shaken(), FITTED).zones if z.every_months == 6]
    for place, overdue in ((name, False), ("all", False), ("other", True)):
        looked = LifeEntry("inspected", place, day(2026, 10, 1))
        assert zone(of(shaken(), FITTED, looked), name).overdue == overdue
    tomorrow = LifeEntry("inspected", name, day(2026, 11, 30))
    assert zone(of(shaken(), FITTED, tomorrow), name).overdue


def test_it_is_overdue_from_the_day_after_it_was_due():
    (name,) = [z.zone for z in of(shaken(), FITTED).zones if z.every_months == 6]
    assert not zone(of(shaken(), FITTED, today=day(2026, 7, 3)), name).overdue
    assert zone(of(shaken(), FITTED, today=day(2026, 7, 4)), name).overdue


def test_matings_are_counted_from_the_fitting_and_told_from_eight_tenths():
    """By the contacts' own cycles."""
    contacts = seals().workings().ends.contacts

    def used(*life: LifeEntry):
        return {m.connector: m for m in of(seals(), *life).matings}

    assert used() == {}
    once = used(FITTED)
    sealed = "M1"
    most = min(c.cycles for (ref, _), c in contacts.items() if ref.startswith("M1."))
    assert (once[sealed].used, once[sealed].most, once[sealed].soon) == (1, most, False)
    told_from = -(-most * 8 // 10)  # rounded up
    less = LifeEntry("joined", sealed, day(2026, 2, 1), told_from - 2)
    assert not used(FITTED, less)[sealed].soon
    enough = LifeEntry("joined", sealed, day(2026, 2, 1), told_from - 1)
    assert used(FITTED, enough)[sealed].soon
    renewed = LifeEntry("renewed", sealed, day(2026, 3, 1))
    assert used(FITTED, enough, renewed)[sealed].used == 1
    everywhere = LifeEntry("joined", "all", day(2026, 4, 1))
    assert used(FITTED, enough, renewed, everywhere)[sealed].used == 2


def test_one_carries_a_fuse_of_every_rating_and_knows_where_it_sits():
    w = HarnessBuilder(plain=demo_document("larkspur")).workings()
    spares = upkeep_of(w.rooms, w.circuits, [], TODAY).spares
    ratings = {f"{f.kind} {f.rating_a:g} A" for f in w.circuits.fuses.values()}
    assert ratings <= {s.what for s in spares}
    assert sum(s.count for s in spares if s.what in ratings) == len(w.circuits.fuses)
    assert all("fuse box" in s.where for s in spares if s.what in ratings)
    assert any(s.what.startswith("relay") for s in spares)


def test_contacts_of_what_is_joined_at_every_use_are_carried():
    assert not any(s.what.startswith("contact") for s in of(seals()).spares)
    often = of(seals().set("ends/connectors/M1/joined", "at every use")).spares
    assert any(s.what.startswith("contact") and s.where == "M1" for s in often)


@pytest.mark.parametrize("name", DEMOS)
def test_every_connector_and_wire_is_found_by_what_stands_on_it(name):
    w = HarnessBuilder(plain=demo_document(name)).workings()
    for connector_id, end in w.ends.connectors.items():
        first = picked_up(w.rooms, w.circuits, connector_id)[0]
        assert connector_id in {p.id for p in picked_up(w.rooms, w.circuits, connector_id)}
        if first.id == connector_id and first.kind == "connector":
            assert len(first.goes) == sum(c.wire is not None for c in end.cavities)
    for wire in w.wire.wires.values():
        found = picked_up(w.rooms, w.circuits, wire.label.lower())
        assert any(p.kind == "wire" and p.id == wire.label for p in found)


def test_a_wire_tells_the_points_it_passes_and_its_far_end():
    w = seals().workings()
    wire = next(iter(w.wire.wires.values()))
    (found,) = picked_up(w.rooms, w.circuits, wire.label)
    section = w.route.sections[wire.key]
    assert len(found.along) == len(section.branches) + 1
    assert found.goes[0].to == wire.to_text


def test_a_square_code_of_a_label_names_its_end_among_other_words():
    w = seals().workings()
    assert [p.id for p in picked_up(w.rooms, w.circuits, "Cart 7 M1")] == ["M1"]
    assert picked_up(w.rooms, w.circuits, "nothing of that name") == ()
    assert picked_up(w.rooms, w.circuits, "  ") == ()
