"""Every check of the room: a harness that sets it off, one beside it that does not, and plain words."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.conftest import HarnessBuilder
from tests.core.checks import says_plainly
from tests.core.scenarios import bus, half, pump


def end(builder: HarnessBuilder, at: str, **said: object) -> HarnessBuilder:
    return builder.set(f"cut/ends/{at}", {"order": len(builder.plain.get("cut", {}).get("ends", {})), **said})


def measured(builder: HarnessBuilder, **said: object) -> HarnessBuilder:
    for branch in builder.plain["route"]["branches"].values():
        branch.update(said)
    return builder


def contact_of(builder: HarnessBuilder, ref: str):
    return next(c for (r, _), c in builder.workings().ends.contacts.items() if r == ref)


def stripped(off_by: float) -> HarnessBuilder:
    contact = contact_of(pump(), "M1.+")
    return end(pump(), "M1.+", strip_mm=contact.strip_mm + contact.strip_tolerance_mm * off_by)


def folded(trim_mm: float | None) -> HarnessBuilder:
    return end(end(pump(), "M1.+", fold=True), "M1.-", trim_mm=trim_mm)


def twisted(untwist_mm: float, fast: bool = False) -> HarnessBuilder:
    builder = bus("ISO11898-1M", 900.0)
    members = builder.plain["circuits"]["buses"]["b"]["circuits"]
    builder.set("circuits/groups", {"P": {"order": 1, "kind": "pair", "members": members}})
    if not fast:
        builder.set("circuits/buses", {})
    return end(builder, "A3.H", untwist_mm=untwist_mm)


def slack(at_m1: float | None) -> HarnessBuilder:
    """Contacts of M1 are stripped 6 mm or so; nothing is kept on the branches."""
    builder = measured(pump("motorsport"), slack_mm=0.0)
    builder.plain["route"]["points"]["M1"]["slack_mm"] = at_m1
    return builder


def unknown() -> HarnessBuilder:
    """A family that has gone since: nothing is known of its contacts."""
    builder = half(family="NOPE")
    builder.gone = True
    return builder


def known_here() -> HarnessBuilder:
    return end(unknown(), "M1", allowance_mm=20.0)


def needed() -> float:
    """Slack for two re-terminations of the pump's contact: twice its strip and 5 mm."""
    return 2 * (contact_of(pump("motorsport"), "M1.+").strip_mm + 5)


SET_OFF: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "allowance-missing": [unknown],
    "cut-before-route": [
        lambda: measured(pump(), measured="guess").set("cut/cut_on", "2026-03-01"),
        lambda: measured(pump(), measured_on="2026-03-02").set("cut/cut_on", "2026-03-01"),
        lambda: measured(pump(), rerouted_on="2026-03-02").set("cut/cut_on", "2026-03-01"),
    ],
    "trimmed-without-surplus": [
        lambda: end(pump(), "M1", state="trimmed at fitting", surplus_mm=0.0).set("cut/cut_on", "2026-03-01")
    ],
    "both-ends-open": [
        lambda: end(end(pump(), "M1", state="trimmed at fitting"), "F1", state="trimmed at fitting")
    ],
    "strip-outside": [lambda: stripped(1.01), lambda: stripped(-1.01)],
    "cores-unequal": [lambda: folded(40.0), lambda: folded(0.0)],
    "untwisted-far": [lambda: twisted(25.1), lambda: twisted(13.1, fast=True)],
    "made-again-seldom": [lambda: slack(0.0), lambda: slack(needed() - 0.1)],
}  # fmt: skip

QUIET: dict[str, list[Callable[[], HarnessBuilder]]] = {
    "allowance-missing": [pump, known_here],
    "cut-before-route": [
        lambda: measured(pump(), measured="guess"),
        lambda: pump().set("cut/cut_on", "2026-03-01"),
        lambda: measured(pump(), measured_on="2026-03-01").set("cut/cut_on", "2026-03-01"),
        lambda: measured(pump(), rerouted_on="2026-02-01", measured_on="2026-02-02").set("cut/cut_on", "2026-03-01"),
    ],
    "trimmed-without-surplus": [
        lambda: end(pump(), "M1", state="trimmed at fitting").set("cut/cut_on", "2026-03-01"),
        lambda: end(pump(), "M1", state="trimmed at fitting", surplus_mm=0.0),
    ],
    "both-ends-open": [lambda: end(pump(), "M1", state="trimmed at fitting")],
    "strip-outside": [lambda: stripped(1.0), lambda: stripped(-1.0)],
    "cores-unequal": [lambda: folded(None)],
    "untwisted-far": [lambda: twisted(25.0), lambda: twisted(13.0, fast=True)],
    "made-again-seldom": [lambda: slack(None), lambda: slack(needed())],
}  # fmt: skip


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in SET_OFF.items() for b in many])
def test_check_is_set_off_and_speaks_plainly(code, builder):
    says_plainly(builder(), code)


@pytest.mark.parametrize(("code", "builder"), [(c, b) for c, many in QUIET.items() for b in many])
def test_a_harness_at_the_right_side_of_the_edge_is_left_alone(code, builder):
    assert code not in {f.code for f in builder().evaluate().findings}


@pytest.mark.parametrize(
    "code", [c for c in SET_OFF if c not in ("allowance-missing", "both-ends-open", "cut-before-route")]
)
def test_one_click_puts_it_right(code):
    builder = SET_OFF[code][0]()
    finding = next(f for f in builder.evaluate().findings if f.code == code)
    remedy = next(r for r in finding.remedies if r.operations)
    for operation in remedy.operations:
        builder.set(str(operation["path"]).strip("/"), operation["value"])
    left = [f for f in builder.evaluate().findings if f.code == code]
    assert len(left) < len([f for f in SET_OFF[code][0]().evaluate().findings if f.code == code])
