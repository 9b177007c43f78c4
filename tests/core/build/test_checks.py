"""Every check of the room: a harness that sets it off, one beside it that does not, and plain words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest

from inkthread.core.build import steps_of
from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import pump


def seals() -> HarnessBuilder:
    """Two loads on one feed: a splice, sealed connectors with a wedge, rings, push-on terminals."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1", "F1 > M2 pump 3 A > B1", "F1 > M3 pump 3 A > B1"
    )
    return builder.run("B1 200 > F1 1000 > mid 400 > M1", "mid 360 > M2", "mid 500 > M3")


def clamped() -> HarnessBuilder:
    """A fan whose wires end under the screws of a terminal block."""
    builder = HarnessBuilder("equipment").feed("B1 power supply 5 A > F1 fuse > M1 fan 2 A > B1")
    builder.run("B1 100 > F1 200 > M1")
    return builder.set("ends/connectors/M1/family", "SCT").set("ends/connectors/M1/shell", "plug")


def first(builder: HarnessBuilder, work: str, *, at: str = "") -> str:
    """The first step of a sort, about a place or an end where one is named."""
    steps = steps_of(builder.workings().rooms).values()
    return next(own.id for own in steps if own.work == work and (own.id.endswith(at) or own.place == at))


def without(builder: HarnessBuilder, work: str, *, at: str = "") -> HarnessBuilder:
    """The first step of a sort left out."""
    step = first(builder, work, at=at)
    builder.plain.setdefault("build", {}).setdefault("steps", {})[step] = {"order": 1, "left_out": True}
    return builder


def later(builder: HarnessBuilder, work: str, after: str, *, at: str = "") -> HarnessBuilder:
    """The first step of a sort done next after the first of another."""
    step, then = first(builder, work, at=at), first(builder, after, at=at)
    builder.plain.setdefault("build", {}).setdefault("steps", {})[step] = {"order": 1, "after": then}
    return builder


def gone() -> HarnessBuilder:
    builder = pump()
    builder.plain["build"] = {"steps": {"cut-wire C99": {"order": 1, "left_out": True}}}
    return builder


def tempting(gauge: str) -> HarnessBuilder:
    """A ring whose only nest is marked 22-16, on a wire of a gauge."""
    builder = pump("motorsport", 0.5)
    keys = [k for k, w in builder.evaluate().wire.wires.items() if "B1" in w.from_text + w.to_text]
    for n, key in enumerate(keys):
        builder.set(f"wire/fixed/{key}", {"order": n, "reason": "at hand", "gauge": gauge})
    return builder


def stopless(depth: str) -> HarnessBuilder:
    """The tool for M1's contacts has positioners; the row on record says which one, or not."""
    builder = pump()
    connectors, tools = dict(builder.catalogue.connectors), dict(builder.catalogue.tools)
    tools["T-TURRET"] = replace(tools["T-OB-M"], code="T-TURRET", positioners=("red",))
    family = connectors["SR16"]
    contacts = tuple(
        replace(c, tools=tuple(replace(t, tool="T-TURRET", depth=depth) for t in c.tools))
        for c in family.contacts
    )
    connectors["SR16"] = replace(family, contacts=contacts)
    builder.catalogue = replace(builder.catalogue, tools=tools, connectors=connectors)
    return builder


SET_OFF: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "thread-left-out": [lambda: without(pump(), "thread-seal"), lambda: without(seals(), "thread-splice")],
    "thread-too-late": [lambda: later(pump(), "thread-seal", "crimp", at="M1.+")],
    "boot-cannot-pass": [
        lambda: later(pump(), "thread-piece", "insert", at="M1"),
        lambda: later(pump(), "thread-piece", "close-lock", at="M1"),
    ],
    "lock-forgotten": [
        lambda: without(pump(), "open-lock"),
        lambda: without(pump(), "close-lock"),
        lambda: later(pump(), "open-lock", "insert"),
    ],
    "tug-left-out": [lambda: without(pump(), "tug"), lambda: without(pump(), "home")],
    "second-pass-left-out": [lambda: without(seals(), "second-pass")],
    "clamp-unchecked": [lambda: without(clamped(), "open-clamp"), lambda: without(clamped(), "strands")],
    "step-left-out": [lambda: without(pump(), "strip")],
    "step-too-early": [lambda: later(pump(), "strip", "crimp", at="M1.+")],
    "step-gone": [gone],
    "nest-tempting": [lambda: tempting("24 AWG")],
    "depth-not-known": [lambda: stopless("")],
}

QUIET: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "thread-left-out": [pump, seals],
    "thread-too-late": [lambda: later(pump(), "thread-seal", "strip", at="M1.+")],
    "boot-cannot-pass": [pump],
    "lock-forgotten": [pump],
    "tug-left-out": [pump],
    "second-pass-left-out": [
        seals,
        lambda: seals().set(
            "brief/house_rules/splice_passes", {"order": 1, "value": 2, "reason": "made for it"}
        ),
    ],
    "clamp-unchecked": [clamped],
    "step-left-out": [pump, lambda: without(pump(), "hold")],
    "step-too-early": [pump],
    "step-gone": [pump],
    "nest-tempting": [lambda: tempting("22 AWG"), pump],
    "depth-not-known": [lambda: stopless("red"), pump],
}


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in SET_OFF.items() for b in many])
def test_check_is_set_off_and_speaks_plainly(code, builder):
    says_plainly(builder(), code)


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in QUIET.items() for b in many])
def test_a_harness_at_the_right_side_of_the_edge_is_left_alone(code, builder):
    assert code not in {f.code for f in builder().evaluate().findings}


@pytest.mark.parametrize("code", [c for c in SET_OFF if c not in ("nest-tempting", "depth-not-known")])
def test_one_click_puts_it_right(code):
    builder = SET_OFF[code][0]()
    finding = next(f for f in builder.evaluate().findings if f.code == code)
    for operation in next(r for r in finding.remedies if r.operations).operations:
        assert operation["op"] == "remove"
        step = str(operation["path"]).removeprefix("/build/steps/").replace("~1", "/").replace("~0", "~")
        del builder.plain["build"]["steps"][step]
    assert code not in {f.code for f in builder.evaluate().findings}
