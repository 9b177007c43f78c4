"""What a card says is the evaluation's own figure, and the bench asks the same rules."""

from __future__ import annotations

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.measures import format_current, format_temperature
from inkthread.core.reckoning import reckon
from inkthread.demo import DEMOS, demo_document

WORKED = {n: work_out(parse_document(demo_document(n)), shipped_catalogue()) for n in DEMOS}


@pytest.mark.parametrize("name", DEMOS)
def test_a_card_ends_in_the_evaluations_figures(name):
    w = WORKED[name]
    units = w.document.brief.measures
    for i, (key, made) in enumerate(w.wire.wires.items()):
        n = int(w.wire.tables.chosen[i])
        card = reckon(w, "ampacity", key)
        assert card.steps[-1].result == format_temperature(made.temperature_c, units)
        allowed = float(w.wire.tables.judgement.allowed_a[i, n])
        assert card.title == f"Why {format_current(allowed)}?"
        deciding = [m for m in card.methods if m.decides]
        assert deciding, key
        for m in deciding:
            assert m.ampacity_a == pytest.approx(allowed, abs=6e-4), (key, m)
        for m in card.methods:
            if m.method in w.wire.tables.free.methods and m.ampacity_a is not None:
                assert m.ampacity_a >= allowed - 6e-4, (key, m)
                assert m.decides is (m.ampacity_a <= allowed + 6e-4)
        steps = {s.label: s.result for s in card.steps}
        heat = float(w.wire.tables.in_bundles.by_method["heat-balance"][i, n])
        if "in its tightest bundle" in steps:
            assert steps["in its tightest bundle"] == format_current(heat)


@pytest.mark.parametrize("name", DEMOS)
def test_the_limit_marked_as_deciding_is_the_one_that_the_next_smaller_fails(name):
    w = WORKED[name]
    for i, (key, made) in enumerate(w.wire.wires.items()):
        n = int(w.wire.tables.chosen[i])
        card = reckon(w, "gauge", key)
        assert card.governs == made.governs
        below = card.candidates[max(n - 1, 0)]
        ratios = dict(zip(("current", "drop", "fuse", "strength", "ends"), below.limits, strict=True))
        if not w.wire.tables.judgement.too_small[i, max(n - 1, 0)]:
            ratios.pop("ends")
        assert ratios[made.governs] == pytest.approx(max(ratios.values()), rel=1e-3), key


@pytest.mark.parametrize("name", DEMOS)
def test_every_limit_on_the_card_is_the_one_in_the_grid(name):
    w = WORKED[name]
    for key, made in w.wire.wires.items():
        chosen = next(c for c in reckon(w, "gauge", key).candidates if c.chosen)
        assert chosen.limits == pytest.approx(made.limits, abs=2e-4), key


def test_a_current_that_comes_and_goes_is_told_beside_the_one_it_heats_like(larkspur):
    """A wire that carries 120 A for a moment is not said to carry the 43 A it heats like."""
    w = larkspur.workings()
    i, key = next(
        (i, k)
        for i, k in enumerate(w.wire.tables.keys)
        if 0 < w.wire.tables.heating_a[i] < 0.9 * w.wire.wires[k].carries_a
        and not w.wire.tables.free.ambient_above_rating[i]
    )
    step = next(s for s in reckon(w, "gauge", key).steps if s.label == "current")
    carried, heats = w.wire.wires[key].carries_a, float(w.wire.tables.heating_a[i])
    assert step.working.startswith(
        f"{format_current(carried)} on and off, heating like {format_current(heats)}"
    )


@pytest.mark.parametrize("name", DEMOS)
def test_where_drop_decides_one_size_less_would_not_hold(name):
    """No copper is asked for drops that never come together, like those of cranking and running."""
    w = WORKED[name]
    for i, (key, made) in enumerate(w.wire.wires.items()):
        n = int(w.wire.tables.chosen[i])
        if made.governs != "drop" or n == 0 or key in w.document.wire.fixed:
            continue
        below = reckon(w, "gauge", key).candidates[n - 1]
        assert below.limits[1] > 0.97 or below.fails, key
