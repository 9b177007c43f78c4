"""Every check of the room has a harness that sets it off, one beside it that does not, and plain words."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

import pytest

from inkthread.core.catalogue import Kit
from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import pump


def line(builder: HarnessBuilder, group: str):
    return next(x for x in builder.workings().parts.lines if x.group == group and not x.included)


def bought(group: str, less: float, builder: HarnessBuilder | None = None) -> HarnessBuilder:
    """So much less bought of a line than is reckoned."""
    builder = builder or pump()
    row = line(builder, group)
    choice = {"order": 1, "quantity": row.quantity + row.spares - less}
    return builder.set("parts/lines", {row.key: choice})


def left_out(group: str) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump (SR16) 5 A > B1")
    builder.run("B1 100 > F1 900 > M1")
    return builder.set("parts/lines", {line(builder, group).key: {"order": 1, "left_out": True}})


def unknown_grade(amps: float) -> HarnessBuilder:
    """A pump whose contacts nobody has pulled."""
    builder = pump(amps=amps)
    family = builder.catalogue.connectors[builder.plain["ends"]["connectors"]["M1"]["family"]]
    contacts = tuple(dataclasses.replace(c, pull="") for c in family.contacts)
    families = builder.catalogue.connectors | {family.code: dataclasses.replace(family, contacts=contacts)}
    builder.catalogue = dataclasses.replace(builder.catalogue, connectors=families)
    return builder


def out_of_kit(pins: int, code: str = "K1") -> HarnessBuilder:
    """A pump's contacts out of a kit of two two-way plugs and so many of their sockets."""
    builder = pump()
    kit = Kit("K1", "two plugs", 5.0, {"SS15-P2": 2, "S15-S-A": pins})
    builder.catalogue = dataclasses.replace(builder.catalogue, kits={"K1": kit})
    return builder.set("parts/kits", {code: {"order": 1, "count": 1}})


SET_OFF: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "over-mass-budget": [lambda: pump().set("brief/mass_budget_g", 1.0)],
    "parts-short": [lambda: bought("contact", 1.0), lambda: bought("wire", 0.01)],
    "consumable-short": [lambda: bought("label", 0.001), lambda: bought("hold", 1.0)],
    "accessory-left-out": [lambda: left_out("lock")],
    "grade-doubtful": [lambda: unknown_grade(10.0)],
    "kit-cannot-fill": [lambda: out_of_kit(3)],
    "kit-gone": [lambda: out_of_kit(4, "K2")],
}
QUIET: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "over-mass-budget": [lambda: pump().set("brief/mass_budget_g", 9999.0)],
    "parts-short": [lambda: bought("contact", 0.0), lambda: bought("contact", -50.0)],
    "consumable-short": [lambda: bought("label", 0.0)],
    "accessory-left-out": [lambda: left_out("housing")],
    "grade-doubtful": [lambda: unknown_grade(9.9), lambda: pump(amps=10.0)],
    "kit-cannot-fill": [lambda: out_of_kit(4), lambda: out_of_kit(0)],
    "kit-gone": [lambda: out_of_kit(4)],
}


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in SET_OFF.items() for b in many])
def test_check_is_set_off_and_speaks_plainly(code, builder):
    says_plainly(builder(), code)


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in QUIET.items() for b in many])
def test_a_harness_at_the_right_side_of_the_edge_is_left_alone(code, builder):
    assert code not in {f.code for f in builder().evaluate().findings}


@pytest.mark.parametrize("code", ["parts-short", "consumable-short", "accessory-left-out"])
def test_one_click_puts_it_right(code):
    builder = SET_OFF[code][0]()
    finding = next(f for f in builder.evaluate().findings if f.code == code)
    for operation in next(r for r in finding.remedies if r.operations).operations:
        *path, name = str(operation["path"]).strip("/").split("/")
        entry = builder.plain["parts"]["lines"][path[-1].replace("~1", "/").replace("~0", "~")]
        entry[name] = operation["value"]
    assert code not in {f.code for f in builder.evaluate().findings}
