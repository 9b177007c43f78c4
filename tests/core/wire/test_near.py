"""What a wire may carry, solved only where it comes near: no wire is passed that would not hold."""

from __future__ import annotations

import random

import numpy as np
import pytest
from tools.harnesses import synthetic

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.memo import Memo
from inkthread.core.wire.bundle_ampacity import NEAR, bundle_ampacity, settle
from inkthread.demo import demo_document

pytestmark = pytest.mark.slow

CASES = [
    ("larkspur", 1.0),
    ("glider", 1.0),
    *((n, times) for n in (60, 200, 201) for times in (1.0, 1.6, 3.0)),
]


@pytest.fixture(scope="module", params=CASES, ids=str)
def solved(request):
    """A harness at so many times its currents: every wire's figures, what is asked, all solved, near solved."""
    what, times = request.param
    plain = demo_document(what) if isinstance(what, str) else synthetic(what, seed=what, points=9, sources=3)
    w = work_out(parse_document(plain), shipped_catalogue())
    tables = w.wire.tables
    carries = tables.heating_a * times
    free, placement, chosen = tables.free, tables.placement, tables.chosen

    def at_once(asks_a):
        memo = Memo()
        estimated = bundle_ampacity(free, placement, chosen, carries, w.catalogue, memo, settled=False)
        return settle(free, placement, estimated, w.catalogue, memo, asks_a)

    rng = random.Random(5)
    whole = at_once(None)
    rows = np.arange(len(chosen))
    may = whole.allowed_a[rows, chosen]
    # Whatever a fuse asks for on top: from nothing to half as much again as each may carry.
    asks = np.maximum(carries, np.where(np.isfinite(may), may, 0.0) * [rng.uniform(0, 1.5) for _ in rows])
    near = at_once(asks)
    hot = (whole.heat.core_c > whole.limit_c)[placement.bundle]
    cool = ~np.isin(rows, placement.wire[hot])
    return asks, may, near.allowed_a[rows, chosen], cool


def test_whether_a_wire_holds_is_said_alike(solved):
    asks, may, about, _ = solved
    assert ((asks > may) == (asks > about)).all()


def test_what_is_asked_for_near_what_it_may_is_as_solved(solved):
    asks, may, about, _ = solved
    close = asks > 0.95 * may
    assert close.any()
    assert about[close].tolist() == may[close].tolist()


def test_elsewhere_it_is_an_estimate_within_a_fifth(solved):
    """But in bundles that are too hot, where every wire gives way alike."""
    asks, may, about, cool = solved
    far = (asks < 0.5 * NEAR * may) & np.isfinite(may) & cool
    assert far.any()
    assert about[far].tolist() == pytest.approx(may[far].tolist(), rel=0.2)
