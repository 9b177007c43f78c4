"""Which piece comes off which spool or remnant: least waste, whole ones left whole, and a bound on it.

A spool or a remnant is a *length*. What is left of one that was begun is kept where it is long enough to
be of use, and is waste where it is not. Lengths are filled one after the other with pieces that leave
nothing or leave something worth keeping; where that does not reach the bound, a mixed-integer programme
looks for better and says how good the best can be.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from itertools import combinations, islice

from inkthread.core.record import record
from inkthread.core.tolerances import HAIR_MM, ROUNDING, WHOLE

_UNITS_PER_MM = 10
"""Lengths are reckoned in whole tenths of a mm, or in what divides all of them."""
_EXACT_MM = 0.05
"""Half a unit: nearer than this two lengths are one."""
_UNITS_AT_MOST = 400_000
"""A length of more units than this is reckoned in coarser ones, pieces rounded up and lengths down."""
_SUBSETS_OF = 12
"""Of so many lengths every choice is looked at; of more, only the shortest and the longest first."""
_TRIED_AT_MOST = 80
_PROGRAMME_AT_MOST = 3000
"""Unknowns of a programme that is still worth solving."""
_NODES_AT_MOST = 4000
_BEGUN_MM = 1e-4
"""Counted as waste for every length begun: of two plans that waste as much, the one that begins fewer."""


@record
class Length:
    """A spool or remnant: how long it still is, in mm."""

    id: str
    length_mm: float


@record
class Piece:
    """Something to be cut in one piece, in mm."""

    id: str
    length_mm: float


@record
class CutFrom:
    """One length and what is cut off it, the longest first."""

    id: str
    length_mm: float
    pieces: tuple[Piece, ...]
    left_mm: float
    kept: bool
    """What is left goes back on the shelf; else it is waste."""


@record
class CutPlan:
    """Every length that is begun, and what no length holds."""

    lengths: tuple[CutFrom, ...]
    short: tuple[Piece, ...]
    waste_mm: float
    lower_bound_mm: float
    """No plan that cuts as many pieces wastes less."""
    kept_mm: float
    """Of those begun."""

    @property
    def proved(self) -> bool:
        """Whether less waste is not possible."""
        return self.waste_mm <= self.lower_bound_mm + _EXACT_MM

    @property
    def short_mm(self) -> float:
        """How much is to be bought before all can be cut."""
        return sum(p.length_mm for p in self.short)


def plan_cuts(
    lengths: Sequence[Length],
    pieces: Sequence[Piece],
    keep_mm: float,
    *,
    patience_s: float = 2.0,
    begin: Mapping[str, str] | None = None,
) -> CutPlan:
    """Plan which piece comes off which length.

    First as much as can be is cut, then least is wasted, then fewest lengths are begun, the shorter ones
    first. ``keep_mm`` is the shortest remnant that is kept. ``patience_s`` bounds the search for better
    where the bound is not reached. ``begin`` is a plan made before, piece to length: what still holds of it
    is kept where nothing is better. Raises ValueError for a length or a piece that is not above nought.
    """
    for name, length_mm in [*((b.id, b.length_mm) for b in lengths), *((p.id, p.length_mm) for p in pieces)]:
        if not (math.isfinite(length_mm) and length_mm > 0):
            raise ValueError(f"{name} is {length_mm:g} mm long; a length is above nought")
    bars = sorted(lengths, key=lambda b: (b.length_mm, b.id))
    wanted = sorted(pieces, key=lambda p: (-p.length_mm, p.id))
    if not (wanted and bars):
        return CutPlan((), tuple(wanted), 0.0, 0.0, 0.0)
    grid = _Grid.of([b.length_mm for b in bars], [p.length_mm for p in wanted], keep_mm)
    bound = _bound_by_sums([b.length_mm for b in bars], sum(p.length_mm for p in wanted), keep_mm)
    best = _begun(grid, bars, wanted, begin or {})
    for chosen in islice(_choices(grid), _TRIED_AT_MOST):
        for order in (chosen, tuple(reversed(chosen))):
            laid = _fill(grid, order)
            if laid.worth < best.worth:
                best = laid
        if not best.short and best.waste_mm <= bound + _EXACT_MM:
            break
    if best.short or best.waste_mm > bound + _EXACT_MM:
        best, programme_mm = _programme(grid, best, patience_s)
        bound = max(bound, programme_mm)
    return _as_plan(bars, wanted, best, keep_mm, bound)


@record
class _Grid:
    """Lengths in whole units: what is cut is rounded up, what it is cut from down."""

    bars: tuple[int, ...]
    pieces: tuple[int, ...]
    keep: tuple[int, ...]
    """By bar, what has to be left of it to be kept."""
    over_mm: tuple[float, ...]
    """By bar, what it is longer than its units."""
    unit_mm: float

    @staticmethod
    def of(bars_mm: list[float], pieces_mm: list[float], keep_mm: float) -> _Grid:
        fine = [round(mm * _UNITS_PER_MM) for mm in pieces_mm]
        unit = math.gcd(*fine) or 1
        longest = max((*bars_mm, *pieces_mm)) * _UNITS_PER_MM
        unit = max(unit, math.ceil(longest / _UNITS_AT_MOST))
        unit_mm = unit / _UNITS_PER_MM
        whole = [int((mm + HAIR_MM) // unit_mm) for mm in bars_mm]
        over = [max(mm - n * unit_mm, 0.0) for mm, n in zip(bars_mm, whole, strict=True)]
        return _Grid(
            tuple(whole),
            tuple(-(-n // unit) for n in fine),
            tuple(max(math.ceil((keep_mm - rest) / unit_mm - WHOLE), 1) for rest in over),
            tuple(0.0 if rest < HAIR_MM else rest for rest in over),
            unit_mm,
        )

    def wasted_mm(self, bar: int, left: int) -> float:
        """Of what is left of a length that was begun."""
        return left * self.unit_mm + self.over_mm[bar] if left < self.keep[bar] else 0.0


@record
class _Laid:
    """Places of pieces by the place of their length, and those that found none."""

    by_bar: dict[int, tuple[int, ...]]
    short: tuple[int, ...]
    waste_mm: float
    worth: tuple[int, float, int, int]
    """What is short, what is wasted, how many are begun, how long those are: less is better."""


def _measured(grid: _Grid, by_bar: dict[int, tuple[int, ...]]) -> _Laid:
    begun = {bar: taken for bar, taken in by_bar.items() if taken}
    placed = {p for taken in begun.values() for p in taken}
    short = tuple(p for p in range(len(grid.pieces)) if p not in placed)
    waste = round(
        sum(
            grid.wasted_mm(b, grid.bars[b] - sum(grid.pieces[p] for p in taken)) for b, taken in begun.items()
        ),
        3,
    )
    missing = sum(grid.pieces[p] for p in short)
    return _Laid(begun, short, waste, (missing, waste, len(begun), sum(grid.bars[b] for b in begun)))


def _begun(grid: _Grid, bars: list[Length], wanted: list[Piece], begin: Mapping[str, str]) -> _Laid:
    """What holds of a plan made before: every piece off its length, as long as there is room on it."""
    place = {bar.id: n for n, bar in enumerate(bars)}
    by_bar: dict[int, tuple[int, ...]] = {}
    room = list(grid.bars)
    for p, piece in enumerate(wanted):
        bar = place.get(begin.get(piece.id, ""))
        if bar is not None and room[bar] >= grid.pieces[p]:
            by_bar[bar] = (*by_bar.get(bar, ()), p)
            room[bar] -= grid.pieces[p]
    return _measured(grid, by_bar)


def _bound_by_sums(bars_mm: list[float], cut_mm: float, keep_mm: float) -> float:
    """Least waste by what lengths and pieces add up to.

    As long as something worth keeping may be left over, none need be wasted. Else all that is left is
    waste, but for short lengths that are not begun at all.
    """
    over = sum(bars_mm) - cut_mm
    if over < 0 or over >= keep_mm:
        return 0.0
    spared = {0.0}
    for bar in bars_mm:
        if bar <= over:
            spared |= {round(s + bar, 6) for s in spared if s + bar <= over + HAIR_MM}
    return max(over - max(spared), 0.0)


def _choices(grid: _Grid) -> Iterator[tuple[int, ...]]:
    """Lengths to begin, the most promising choices first, each with the shortest length first."""
    total, count = sum(grid.pieces), len(grid.bars)
    every = tuple(range(count))
    if count <= _SUBSETS_OF:
        chosen = [c for k in range(1, count + 1) for c in combinations(every, k)]
    else:
        chosen = [every[:k] for k in range(1, count + 1)] + [every[-k:] for k in range(1, count)]
        chosen += [(*every[:k], *every[-j:]) for j in (1, 2) for k in range(1, count - j)]

    def promise(choice: tuple[int, ...]) -> tuple[int, int, int]:
        total_bars = sum(grid.bars[b] for b in choice)
        left = total_bars - total
        return left if left < grid.keep[choice[-1]] else 0, len(choice), total_bars

    enough = [c for c in chosen if sum(grid.bars[b] for b in c) >= total]
    yield from sorted(enough, key=promise)
    yield every


def _fill(grid: _Grid, order: tuple[int, ...]) -> _Laid:
    """Fill lengths one after the other, each so that nothing or something of use is left of it."""
    left = list(range(len(grid.pieces)))
    by_bar: dict[int, tuple[int, ...]] = {}
    for n, bar in enumerate(order):
        taken = _take(grid, left, bar, last=n == len(order) - 1)
        by_bar[bar] = tuple(taken)
        gone = set(taken)
        left = [p for p in left if p not in gone]
    return _measured(grid, by_bar)


def _take(grid: _Grid, left: list[int], bar: int, *, last: bool) -> list[int]:
    """Pieces for one length: all of them where they fit, else as many as leave it best used."""
    room = grid.bars[bar]
    fitting = [p for p in left if grid.pieces[p] <= room]
    if sum(grid.pieces[p] for p in fitting) <= room:
        return fitting
    # Bit n of a step is set where some of the pieces up to it make n together.
    full = (1 << (room + 1)) - 1
    steps = [1]
    for p in fitting:
        steps.append((steps[-1] | steps[-1] << grid.pieces[p]) & full)
    most = steps[-1].bit_length() - 1
    # The fullest is best, unless what it leaves is waste where a little less would leave a remnant.
    target = most
    if 0 < room - most < grid.keep[bar] and not last:
        target = _fullest(steps[-1], room - grid.keep[bar], most)
    taken: list[int] = []
    for n in range(len(fitting), 0, -1):
        if steps[n - 1] >> target & 1:
            continue
        taken.append(fitting[n - 1])
        target -= grid.pieces[fitting[n - 1]]
    return taken


def _fullest(reach: int, at_most: int, otherwise: int) -> int:
    """The greatest sum that leaves a remnant."""
    if at_most < 0:
        return otherwise
    return (reach & ((1 << (at_most + 1)) - 1)).bit_length() - 1


def _programme(grid: _Grid, best: _Laid, patience_s: float) -> tuple[_Laid, float]:
    """Look for better by mixed-integer programming; what it found, and the least waste in mm by it.

    Unknowns: how many pieces of each length come off each bar, whether a bar is begun and whether what
    is left of it is kept, what it wastes, and how many pieces find no place.
    """
    sizes = sorted(set(grid.pieces), reverse=True)
    many, bars = len(sizes), len(grid.bars)
    if bars == 0 or bars * (many + 3) + many > _PROGRAMME_AT_MOST:
        return best, 0.0
    import numpy as np
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import lil_array

    counts = [grid.pieces.count(size) for size in sizes]
    # Columns: x[size, bar], begun[bar], kept[bar], waste[bar], missing[size].
    begun, kept, wasted, missing = (many * bars + bars * k for k in range(4))
    columns = missing + many
    rows = lil_array((many + 4 * bars, columns))
    low, high = np.full(many + 4 * bars, -np.inf), np.zeros(many + 4 * bars)
    for s, count in enumerate(counts):
        rows[s, [s * bars + b for b in range(bars)]] = 1
        rows[s, missing + s] = 1
        low[s] = high[s] = count
    for b, length in enumerate(grid.bars):
        takes = [s * bars + b for s in range(many)]
        within, keeps, no_keep, wastes = (many + 4 * b + k for k in range(4))
        # What is cut off a bar is within it, where it is begun.
        rows[within, takes] = sizes
        rows[within, begun + b] = -length
        # A remnant that is kept is long enough.
        rows[keeps, takes] = sizes
        rows[keeps, begun + b] = -length
        rows[keeps, kept + b] = grid.keep[b]
        # Only what was begun has a remnant.
        rows[no_keep, kept + b] = 1
        rows[no_keep, begun + b] = -1
        # What is left and not kept is waste.
        rows[wastes, takes] = [-size for size in sizes]
        rows[wastes, begun + b] = length
        rows[wastes, kept + b] = -length
        rows[wastes, wasted + b] = -1
    upper = np.full(columns, np.inf)
    upper[: many * bars] = np.repeat(counts, bars)
    upper[begun:wasted] = 1
    upper[missing:] = counts
    costs = np.zeros(columns)
    costs[wasted:missing] = grid.unit_mm
    costs[begun:kept] = [over + _BEGUN_MM for over in grid.over_mm]
    costs[kept:wasted] = [-over for over in grid.over_mm]
    # No waste is worth a piece that is not cut.
    missed_mm = [(size + sum(grid.bars) + bars) * grid.unit_mm for size in sizes]
    costs[missing:] = missed_mm
    whole = np.ones(columns)
    whole[wasted:missing] = 0
    result = milp(
        costs,
        integrality=whole,
        bounds=Bounds(0, upper),
        constraints=LinearConstraint(rows.tocsr(), low, high),
        options={"time_limit": patience_s, "node_limit": _NODES_AT_MOST, "mip_rel_gap": ROUNDING},
    )
    bound = getattr(result, "mip_dual_bound", None)
    if result.x is not None:
        better = _measured(
            grid, _placed(grid, sizes, np.rint(result.x[: many * bars]).astype(int).reshape(many, bars))
        )
        if better.worth < best.worth:
            best = better
    missed = sum(missed_mm[sizes.index(grid.pieces[p])] for p in best.short)
    return best, 0.0 if bound is None else max(float(bound) - missed - _BEGUN_MM * bars, 0.0)


def _placed(grid: _Grid, sizes: list[int], taken: Sequence[Sequence[int]]) -> dict[int, tuple[int, ...]]:
    """Pieces by bar, of how many of each length come off each bar."""
    waiting = {size: [p for p, own in enumerate(grid.pieces) if own == size] for size in sizes}
    by_bar: dict[int, tuple[int, ...]] = {}
    for b in range(len(grid.bars)):
        mine: list[int] = []
        for s, size in enumerate(sizes):
            for _ in range(int(taken[s][b])):
                mine.append(waiting[size].pop(0))
        by_bar[b] = tuple(mine)
    return by_bar


def _as_plan(
    bars: list[Length], wanted: list[Piece], laid: _Laid, keep_mm: float, bound_mm: float
) -> CutPlan:
    cut: list[CutFrom] = []
    for b in sorted(laid.by_bar):
        mine = tuple(sorted((wanted[p] for p in laid.by_bar[b]), key=lambda p: (-p.length_mm, p.id)))
        left = max(bars[b].length_mm - sum(p.length_mm for p in mine), 0.0)
        cut.append(CutFrom(bars[b].id, bars[b].length_mm, mine, round(left, 3), left >= keep_mm - HAIR_MM))
    waste = round(sum(c.left_mm for c in cut if not c.kept), 3)
    return CutPlan(
        tuple(cut),
        tuple(wanted[p] for p in sorted(laid.short)),
        waste,
        round(min(bound_mm, waste), 3),
        round(sum(c.left_mm for c in cut if c.kept), 3),
    )
