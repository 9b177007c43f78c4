"""Expected volts: what each load gets, by hand for one lamp, and by nodal analysis of the whole network."""

from __future__ import annotations

import numpy as np
import pytest

from inkthread.core.prove.volts import expected_volts
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.prove.test_diagnose import motors
from tests.core.scenarios import pump

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}


def sheet(w):
    return expected_volts(w.rooms, w.circuits)


def by_load(rows):
    return {(row.load, row.side): row for row in rows if row.load}


@pytest.mark.parametrize("name", DEMOS)
def test_between_its_two_places_a_load_has_what_it_gets(name):
    """The difference of both places is the drop's own figure, in the mode where it loses most."""
    w = WORKED[name]
    found = sheet(w)
    rows = by_load(found.rows)
    shown = 0
    for n, loop in enumerate(w.circuits.loops):
        feed, back = rows.get((loop.load, "feed")), rows.get((loop.load, "return"))
        drop = w.wire.loops.get(loop.load)
        other = {
            also.load for also in w.circuits.loops if also.alternative
        }  # its worst is on the other battery
        if feed is None or back is None or drop is None or loop.load in other or loop.charging:
            continue
        gets = [
            f - b
            for f, b, share in zip(feed.volts, back.volts, loop.mode_fraction, strict=False)
            if share > 0
        ]
        if gets:
            assert min(gets) == pytest.approx(drop.gets_v, abs=2e-3), (n, loop.load)
            shown += 1
    assert shown or name == "glider"


def test_a_single_lamp_by_hand():
    """12 V system: what is lost in feed and return is the current times the wires' own resistance."""
    w = pump().workings()
    rows = by_load(sheet(w).rows)
    loop = next(loop for loop in w.circuits.loops if loop.load in w.document.circuits.loads)
    keys = {side: [] for side in ("feed", "return")}
    for side, crossings in (("feed", loop.feed), ("return", loop.back)):
        for crossing in crossings:
            keys[side] += w.route.threaded.crossing_sections(crossing)
    ohm = {
        side: sum(float(w.wire.tables.row_ohm[w.wire.tables.at[k]]) for k in these)
        for side, these in keys.items()
    }
    inside = sum(w.wire.tables.path_ohm.get(p, 0.0) for p in loop.paths)
    feed, back = rows[loop.load, "feed"], rows[loop.load, "return"]
    assert feed.volts[0] == pytest.approx(loop.supply_v - 5 * (ohm["feed"] + inside), abs=1e-3)
    assert back.volts[0] == pytest.approx(5 * ohm["return"], abs=1e-3)
    # Unplugged nothing flows: the full supply at the one, nothing at the other.
    assert feed.unplugged_v == (pytest.approx(loop.supply_v),)
    assert back.unplugged_v == (pytest.approx(0.0),)
    assert feed.fuse == "F1.1"


def test_shared_wires_carry_the_sum_by_nodal_analysis():
    """Two motors on one fuse: each node's volts from a conductance matrix of its own."""
    w = motors().workings()
    tables, result = w.wire.tables, sheet(w)
    volts = {(row.place, row.side): row.volts[0] for row in result.rows}
    edges = []
    for key, section in w.route.sections.items():
        edges.append((section.a.id, section.b.id, float(tables.row_ohm[tables.at[key]])))
    for path, ohm in tables.path_ohm.items():
        device, _, path_id = path.partition(".")
        inner = w.document.circuits.devices[device].paths[path_id]
        edges.append((f"{device}.{inner.from_pin}", f"{device}.{inner.to_pin}", max(ohm, 1e-7)))
    nodes = sorted({n for a, b, _ in edges for n in (a, b)})
    at = {node: n for n, node in enumerate(nodes)}
    matrix, current = np.zeros((len(nodes),) * 2), np.zeros(len(nodes))
    for a, b, ohm in edges:
        for one, other in ((a, b), (b, a)):
            matrix[at[one], at[one]] += 1 / ohm
            matrix[at[one], at[other]] -= 1 / ohm
    for load_id, loop in ((loop.load, loop) for loop in w.circuits.loops):
        load = w.document.circuits.loads[load_id]
        current[at[f"{load.device}.{load.supply_pin}"]] -= loop.current_a
        current[at[f"{load.device}.{load.return_pin}"]] += loop.current_a
    known = {at["B1.+"]: w.circuits.sources["B1.+"].nominal_v, at["B1.-"]: 0.0}
    known[at["B1.+"]] = w.circuits.loops[0].supply_v
    free = [n for n in range(len(nodes)) if n not in known]
    rest = current[free] - sum(matrix[free, n] * v for n, v in known.items())
    solved = dict(known) | dict(
        zip(free, np.linalg.solve(matrix[np.ix_(free, free)], rest).tolist(), strict=True)
    )
    for load in w.document.circuits.loads.values():
        for pin, side in ((load.supply_pin, "feed"), (load.return_pin, "return")):
            ref = f"{load.device}.{pin}"
            entry = w.document.ends.pinout[ref]
            assert volts[f"{entry.connector}-{entry.cavity}", side] == pytest.approx(
                solved[at[ref]], abs=1e-3
            )


def test_a_load_that_is_switched_off_reads_as_its_switch_says():
    """Behind an open relay nothing; behind a low-side output that is off, the feed through the load."""
    found = sheet(WORKED["larkspur"])
    assert found.modes == ("start", "run", "emergency") or len(found.modes) == 3
    rows = by_load(found.rows)
    start = 0
    fan = rows["M3", "feed"]
    assert fan.volts[start] == 0.0, "the fan's relay is open as it starts"
    assert all(v > 11 for v in fan.volts[1:])
    coil = rows["K3", "return"]
    assert coil.volts[start] == pytest.approx(rows["K3", "feed"].volts[start], abs=0.05)
    assert all(v < 1 for v in coil.volts[1:])


def test_what_a_pulled_fuse_takes_away_is_named():
    rows = {(row.place, row.side): row for row in sheet(WORKED["larkspur"]).rows}
    assert rows["M1-1", "feed"].fuse == "F1.2"
    assert rows["B1-1", "feed"].fuse == ""
