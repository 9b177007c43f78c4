"""All checks that ship are tried in their rooms, and what can be put right by one click is."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from tests.core.brief import test_checks as of_brief
from tests.core.build import test_checks as of_build
from tests.core.circuits import test_checks as of_circuits
from tests.core.cut import test_checks as of_cut
from tests.core.dress import test_checks as of_dress
from tests.core.ends import test_checks as of_ends
from tests.core.parts import test_checks as of_parts
from tests.core.prove import test_checks as of_prove
from tests.core.route import test_checks as of_route
from tests.core.scenarios import pump
from tests.core.wire import test_checks as of_wire

SCENARIOS = (
    of_brief.SCENARIOS
    | {code: many[0] for code, many in of_build.SET_OFF.items()}
    | of_circuits.SCENARIOS
    | {code: many[0] for code, many in of_cut.SET_OFF.items()}
    | {code: many[0] for code, many in of_dress.SET_OFF.items()}
    | of_ends.SCENARIOS
    | {code: many[0] for code, many in of_parts.SET_OFF.items()}
    | {code: many[0] for code, many in of_prove.SET_OFF.items()}
    | of_route.SCENARIOS
    | of_wire.SCENARIOS
)


ASKED_FOR = {
    "spool-short", "contact-reused", "hand-not-shown", "reading-out-of-band", "looks-alone", "as-built-not-told",
}  # fmt: skip
"""Of the plan of spools, of what was done at the bench, and of a piece's record, which are no part of an
evaluation: tried in tests/core/cut/test_spools.py, build/test_reuse.py, build/test_practised.py and prove/test_checks.py."""


def test_every_check_that_ships_is_tried_here():
    assert set(SCENARIOS) | ASKED_FOR == set(shipped_catalogue().checks)


@pytest.mark.parametrize(
    "code",
    [
        "fuse-above-weakest",
        "fixed-fails",
        "fixed-unknown",
        "fixed-orphan",
        "gender-muddle",
        "look-alikes",
        "accessory-does-not-fit",
        "spare-left-open",
        "coil-kicks",
        "contacts-turned-apart",
        "colour-against-scheme",
        "fuse-opens-at-inrush",
    ],
)
def test_a_mechanical_remedy_removes_its_finding(code):
    from inkthread.core.document.complete import complete
    from inkthread.storage.patches import apply_with_inverse

    builder = SCENARIOS[code]()
    finding = next(f for f in builder.evaluate().findings if f.code == code)
    remedy = next(r for r in finding.remedies if r.operations)
    operations = complete(builder.plain, list(remedy.operations))
    builder.plain, _ = apply_with_inverse(builder.plain, operations)
    assert code not in builder.codes()


def test_a_sound_harness_sets_off_nothing(chassis):
    assert chassis.codes() == []
    assert pump().codes() == []
