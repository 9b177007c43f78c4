"""Why a branch is as thick and as hot as it is, and how it is held."""

from __future__ import annotations

import numpy as np

from inkthread.core.measures import format_current, format_length, format_temperature
from inkthread.core.reckoning.form import Reckoning, Step, UnknownFigure
from inkthread.core.workings import Workings


def branch(w: Workings, branch_id: str) -> Reckoning:
    """Diameter, heat and support of one branch."""
    b = w.document.route.branches.get(branch_id)
    if b is None:
        raise UnknownFigure(f"There is no branch {branch_id!r} in this version.")
    units = w.document.brief.measures
    bundle = w.dress.bundles[branch_id]
    placement, in_bundles = w.wire.tables.placement, w.wire.tables.in_bundles
    stretches = [n for n, of_branch in enumerate(placement.branch) if of_branch == branch_id]
    rows = np.nonzero(np.isin(placement.bundle, stretches))[0]
    # Of the stretches that its air cuts it into, the one with the hottest wire.
    at = int(placement.bundle[rows[np.argmax(in_bundles.row_c[rows])]]) if len(rows) else stretches[0]
    inside = placement.wire[placement.bundle == at]
    steps = [
        Step(
            "tight",
            f"{len(w.dress.contents[branch_id])} wires and cables, "
            + ("by their area" if bundle.estimated else "laid out one by one"),
            f"{bundle.tight_mm:.1f} mm" + (", estimated" if bundle.estimated else ""),
        ),
        Step("loose", f"laid by hand, × {w.brief.value('loose_factor'):g}", f"{bundle.loose_mm:.1f} mm"),
    ]
    hottest = None
    if len(inside):
        currents = w.wire.tables.heating_a[inside]
        carrying = int((currents > 0.01).sum())
        steps += [
            Step(
                "air",
                placement.zone[at] or "no zone",
                format_temperature(float(placement.ambient_c[at]), units),
            ),
            Step("carrying", f"{carrying} of {len(inside)} wires", format_current(float(currents.sum()))),
            Step(
                "surface",
                "sheds what they make",
                format_temperature(float(in_bundles.heat.surface_c[at]), units),
            ),
        ]
        limit = float(in_bundles.limit_c[at])
        hottest = float(np.max(in_bundles.row_c[placement.bundle == at]))
        steps.append(
            Step(
                "core",
                f"hot wires together; lowest rating {format_temperature(limit, units)}",
                format_temperature(hottest, units),
            )
        )
        if in_bundles.aircraft_factor is not None:
            steps.append(
                Step(
                    "aircraft bundle factor", "by count and loading", f"{in_bundles.aircraft_factor[at]:.2f}"
                )
            )
    every = format_length(bundle.clamp_every_mm, units)
    by_mass = ", for what one carries" if bundle.clamped_by_mass else ""
    steps += [
        Step("clamps", f"one every {every}{by_mass}", str(bundle.clamps)),
        Step("ties", "between clamps", str(bundle.ties)),
        Step("bend, along a run", "10 × its largest wire", format_length(bundle.bend_run_mm, units)),
        Step("bend, held at a breakout", "3 × its largest wire", format_length(bundle.bend_held_mm, units)),
    ]
    says = format_temperature(hottest, units) if hottest is not None else "empty"
    return Reckoning(
        "branch",
        branch_id,
        f"Why {bundle.tight_mm:.1f} mm?",
        f"{b.from_point} to {b.to_point}, {format_length(b.length_mm, units)}, {b.measured}",
        f"Its {len(np.unique(placement.wire[rows]))} wires, hottest {says}.",
        None,
        (),
        tuple(steps),
        (
            "Diameter: a feasible packing of the wires' own diameters",
            "Heat: hot wires clustered; calibrated on AC 43.13-1B para 11-69, from memory",
            f"Clamps: {w.brief.rules['support_mm'].source}",
            "Bends: AC 43.13-1B, 10 times the largest wire, 3 held at breakouts, coax 6; from memory",
        ),
    )
