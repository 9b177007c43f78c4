"""The form of a reckoning."""

from __future__ import annotations

import numpy as np

from inkthread.core.measures import told_apart
from inkthread.core.record import record
from inkthread.core.tolerances import HOLDS
from inkthread.core.wire import LIMITS
from inkthread.core.workings import Workings


class UnknownFigure(LookupError):
    """There is no such figure to reckon. The message says what can be asked."""


@record
class Step:
    """One line of a reckoning: what, the working, the result with its unit."""

    label: str
    working: str
    result: str


@record
class Candidate:
    """One gauge that was judged: its ratios in the order of the five limits, and what fails."""

    gauge: str
    area_mm2: float
    limits: tuple[float, float, float, float, float]
    fails: tuple[str, ...]
    chosen: bool


@record
class MethodFigures:
    """What one method says of a wire, to set beside another. Figures in A; None where it says nothing."""

    method: str
    words: str
    decides: bool
    free_air_a: float | None
    bundle_factor: float | None
    altitude_factor: float | None
    ampacity_a: float | None
    says: str
    """Why there is no figure, or what to know of it."""
    source: str


@record
class Reckoning:
    """Why a figure is what it is."""

    kind: str
    id: str
    title: str
    subject: str
    conclusion: str
    governs: str | None
    candidates: tuple[Candidate, ...]
    steps: tuple[Step, ...]
    sources: tuple[str, ...]
    wire: str | None = None
    """The wire it is about, if it is about one."""
    methods: tuple[MethodFigures, ...] = ()
    """Of an ampacity: every method's figures."""


def row_of(w: Workings, key: str) -> int:
    if key not in w.wire.wires:
        raise UnknownFigure(f"There is no wire {key!r} in this version.")
    return w.wire.tables.at[key]


def candidates_of(w: Workings, key: str) -> tuple[Candidate, ...]:
    """Every gauge of the family judged for one wire, all other wires as chosen."""
    i = row_of(w, key)
    j = w.wire.tables.judgement
    matrix = np.stack(
        [j.current[i], w.wire.tables.drop_ratio[i], j.fuse[i], j.strength[i], j.ends[i]], axis=1
    )
    candidates = []
    same = (
        w.wire.tables.free.chains.index.shape[1] > 0
        and len({w.wire.tables.family_at(i, n).code for n in range(int(w.wire.tables.free.chains.length[i]))})
        == 1
    )
    length = int(w.wire.tables.free.chains.length[i])
    for n in range(length):
        size = w.wire.tables.size_at(i, n)
        name = size.gauge if same else f"{w.wire.tables.family_at(i, n).code} {size.gauge}"
        ratios = [float(r) if np.isfinite(r) else 99.0 for r in matrix[n]]
        fails = tuple(k for k, r in zip(LIMITS, ratios, strict=True) if r > HOLDS)
        a, b, c, d, e = (round(r, 4) for r in ratios)
        candidates.append(
            Candidate(name, size.area_mm2, (a, b, c, d, e), fails, n == int(w.wire.tables.chosen[i]))
        )
    return tuple(candidates)


def percent(ratio: float) -> str:
    return f"{told_apart(min(ratio, 99) * 100, 100, 0)} %"
