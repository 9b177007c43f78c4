"""A board that is longer than the table: led round in a bend, and back below itself. Lengths stay true.

The harness beyond a fold lies turned by half a turn, never mirrored: the side that is up stays up. It is
folded where one branch alone lies level for as long as the bend takes.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from itertools import pairwise

from inkthread.core.build.board import Board, Line, Round, Spot, Words
from inkthread.core.record import record

_BAND_MM = 45.0
"""What lies so near beside a branch goes round the bend with it."""
_GAP_MM = 60.0
"""Between what lies on two rows."""
_BEND_ODS, _LEAST_BEND_MM = 6.0, 60.0
"""The bend is so many times as wide as the bundle, and never less (common practice, no source)."""
_STEP_MM = 10.0
_FINE_MM = 4.0
"""Lines in the bend are drawn in pieces so long."""
_MARGIN_MM = 30.0
_FOLDS_AT_MOST, _TRIES = 12, 8
_LEVEL_MM = 0.01
_NARROWEST_MM = 300.0


class CannotFold(ValueError):
    """No place was found where it can be folded. The message says what would help."""


@record
class _Fold:
    """Where a row ends, and the bend that leads to the next."""

    x_mm: float
    y_mm: float
    radius_mm: float
    drop_mm: float
    """From row to row, downward where positive."""

    @property
    def long_mm(self) -> float:
        """Length of harness in the bend."""
        return math.pi * self.radius_mm + abs(self.drop_mm) - 2 * self.radius_mm

    def in_bend(self, s_mm: float, aside_mm: float) -> tuple[Spot, float]:
        """A place so far along the bend, so far to the branch's right; and the direction there in degrees."""
        r, down = self.radius_mm, math.copysign(1.0, self.drop_mm)
        quarter, straight = math.pi * r / 2, abs(self.drop_mm) - 2 * r
        if s_mm <= quarter:
            angle = s_mm / r
            spot = (r * math.sin(angle), r * (1 - math.cos(angle)))
        elif s_mm <= quarter + straight:
            angle, spot = math.pi / 2, (r, r + s_mm - quarter)
        else:
            angle = math.pi / 2 + (s_mm - quarter - straight) / r
            spot = (r * math.sin(angle), abs(self.drop_mm) - r * (1 + math.cos(angle)))
        x, y = self.x_mm + spot[0], self.y_mm + down * spot[1]
        turn = down * angle
        return (x - math.sin(turn) * aside_mm, y + math.cos(turn) * aside_mm), math.degrees(turn)


def folded(board: Board, wide_mm: float) -> Board:
    """The board no wider than ``wide_mm``, with the folds marked; as it is where it is no wider.

    Raises CannotFold where no branch lies alone and level for long enough.
    """
    if wide_mm < _NARROWEST_MM:
        raise CannotFold(f"A board is at least {_NARROWEST_MM:.0f} mm wide: type how wide your table is.")
    if board.width_mm <= wide_mm:
        return board
    inside_mm = wide_mm - 2 * _MARGIN_MM
    folds = _folds(_Laid(board, inside_mm), _MARGIN_MM, inside_mm, 1.0, _FOLDS_AT_MOST)
    return _drawn(board, folds)


@record
class _Laid:
    """A board before it is folded, and how wide it may become inside its margins."""

    board: Board
    wide_mm: float

    @property
    def end_mm(self) -> float:
        """Where it ends."""
        return self.board.width_mm - _MARGIN_MM


def _folds(laid: _Laid, begin_mm: float, room_mm: float, sense: float, left: int) -> list[_Fold]:
    """The folds of what lies right of ``begin_mm``, the first first, with ``room_mm`` to the edge ahead.

    Every other one goes up, for what lies beyond a fold is turned by half a turn.
    """
    if laid.end_mm - begin_mm <= room_mm:
        return []
    if not left:
        raise CannotFold("It would take more than twelve folds: take a wider board, or print it on tiles.")
    end, x_mm = begin_mm + room_mm, begin_mm + room_mm
    while (x_mm := x_mm - _STEP_MM) > begin_mm + laid.wide_mm / 4:
        folds = _fold_at(laid, begin_mm, x_mm, room_mm, sense, left)
        if folds is not None:
            return folds
    raise CannotFold(
        f"Between {begin_mm + laid.wide_mm / 4:.0f} and {end:.0f} mm no branch lies alone and level for as "
        "long as a bend takes. Take a wider board, or print it on tiles."
    )


def _fold_at(
    laid: _Laid, begin_mm: float, x_mm: float, room_mm: float, sense: float, left: int
) -> list[_Fold] | None:
    """The folds from here on where it can be folded here, else None."""
    board = laid.board
    level = [
        line.points[0][1]
        for line in board.lines
        if line.layer == "middles"
        and min(p[0] for p in line.points) < x_mm < max(p[0] for p in line.points)
        and abs(line.points[0][1] - line.points[-1][1]) < _LEVEL_MM
    ]
    if len(level) != 1:
        return None
    y_mm = level[0]
    half_mm = _half_mm(board, x_mm, y_mm)
    radius_mm = max(_BEND_ODS * 2 * half_mm, _LEAST_BEND_MM)
    if x_mm + radius_mm + max(half_mm, _BAND_MM / 2) > begin_mm + room_mm:
        return None
    near_mm = max((sense * (y - y_mm) for x, y in _spots(board) if begin_mm <= x <= x_mm), default=0.0)
    drop_mm = max(2 * radius_mm, near_mm + _GAP_MM)
    for _ in range(_TRIES):
        fold = _Fold(x_mm, y_mm, radius_mm, sense * drop_mm)
        beyond_mm = x_mm + fold.long_mm
        if beyond_mm >= laid.end_mm or not _alone(board, x_mm, beyond_mm, y_mm):
            return None
        back_mm = laid.wide_mm - room_mm + x_mm - begin_mm
        rest = _folds(laid, beyond_mm, back_mm, -sense, left - 1)
        far = (sense * (_place(rest, p)[0][1] - y_mm) for p in _spots(board) if p[0] >= beyond_mm)
        needed_mm = near_mm + max(far, default=0.0) + _GAP_MM
        if needed_mm <= drop_mm + _LEVEL_MM:
            return [fold, *rest]
        drop_mm = needed_mm
    return None


def _half_mm(board: Board, x_mm: float, y_mm: float) -> float:
    """Half the bundle's thickness at a place of a level branch."""
    aside = [
        abs(line.points[0][1] - y_mm)
        for line in board.lines
        if line.layer in ("bundles", "covers")
        and min(p[0] for p in line.points) <= x_mm <= max(p[0] for p in line.points)
    ]
    return max((a for a in aside if a < _BAND_MM), default=2.0)


def _spots(board: Board) -> Iterator[Spot]:
    for line in board.lines:
        yield from line.points
    for own in board.rounds:
        yield own.middle
    for words in board.words:
        yield words.middle


def _alone(board: Board, from_mm: float, to_mm: float, y_mm: float) -> bool:
    """Whether nothing but one level branch, and what is close beside it, lies between two places."""
    for line in board.lines:
        closed = (*line.points, line.points[0]) if line.closed else line.points
        for (ax, ay), (bx, by) in pairwise(closed):
            low, high = max(min(ax, bx), from_mm), min(max(ax, bx), to_mm)
            if low > high:
                continue
            if line.layer in ("connectors", "splices"):
                return False
            ys = [ay + (by - ay) * (x - ax) / (bx - ax) if bx != ax else ay for x in (low, high)] + (
                [by] if bx == ax else []
            )
            if any(abs(y - y_mm) > _BAND_MM for y in ys):
                return False
    middles = [*(r.middle for r in board.rounds), *(w.middle for w in board.words)]
    return not any(from_mm <= x <= to_mm and abs(y - y_mm) > _BAND_MM for x, y in middles)


Placing = Callable[[Spot], tuple[Spot, float]]
"""Where a place lies once it is folded, and by how many degrees what lies there is turned."""


def _place(folds: list[_Fold], spot: Spot) -> tuple[Spot, float]:
    if not folds or spot[0] <= folds[0].x_mm:
        return spot, 0.0
    fold = folds[0]
    if spot[0] < fold.x_mm + fold.long_mm:
        return fold.in_bend(spot[0] - fold.x_mm, spot[1] - fold.y_mm)
    (x, y), turn = _place(folds[1:], spot)
    beyond = fold.x_mm + fold.long_mm
    return (fold.x_mm - (x - beyond), fold.y_mm + fold.drop_mm - (y - fold.y_mm)), turn + 180.0


def _drawn(board: Board, folds: list[_Fold]) -> Board:
    def place(spot: Spot) -> tuple[Spot, float]:
        return _place(folds, spot)

    lines = [replace(line, points=tuple(place(p)[0] for p in _fine(line, folds))) for line in board.lines]
    rounds = [replace(r, middle=place(r.middle)[0]) for r in board.rounds]
    words = []
    for own in board.words:
        middle, turn = place(own.middle)
        words.append(replace(own, middle=middle, turn_deg=_upright(own.turn_deg + turn)))
    for n, fold in enumerate(folds, 1):
        lines += [_across(place, fold, at) for at in (fold.x_mm, fold.x_mm + fold.long_mm)]
        middle, turn = place((fold.x_mm + fold.long_mm / 2, fold.y_mm - _BAND_MM / 2))
        words.append(Words("text", middle, 6.0, _upright(turn), f"fold {n}: {fold.long_mm:.0f} mm round"))
    return _shifted(lines, rounds, words)


def _across(place: Placing, fold: _Fold, x_mm: float) -> Line:
    ends = ((x_mm, fold.y_mm + side * _BAND_MM / 2) for side in (-1, 1))
    return Line("text", tuple(place(spot)[0] for spot in ends), dashed=True)


def _fine(line: Line, folds: Iterable[_Fold]) -> Iterator[Spot]:
    """The points of a line, and more where it lies in a bend."""
    windows = [(f.x_mm, f.x_mm + f.long_mm) for f in folds]
    closed = (*line.points, line.points[0]) if line.closed else line.points
    yield line.points[0]
    for (ax, ay), (bx, by) in pairwise(closed):
        shares = {1.0}
        for low, high in windows:
            if bx != ax and max(min(ax, bx), low) < min(max(ax, bx), high):
                cuts = [low, high]
                count = int((high - low) / _FINE_MM) + 1
                cuts += [low + (high - low) * k / count for k in range(1, count)]
                shares |= {s for cut in cuts if 0 < (s := (cut - ax) / (bx - ax)) < 1}
        for share in sorted(shares):
            yield ax + (bx - ax) * share, ay + (by - ay) * share


def _upright(turn_deg: float) -> float:
    turn = (turn_deg + 180) % 360 - 180
    return turn - 180 if turn > 90 else turn + 180 if turn <= -90 else turn


def _shifted(lines: list[Line], rounds: list[Round], words: list[Words]) -> Board:
    """All of it moved so that its top left is a margin from nought."""
    spots = [p for line in lines for p in line.points]
    spots += [(r.middle[0] + s * r.radius_mm, r.middle[1] + s * r.radius_mm) for r in rounds for s in (-1, 1)]
    spots += [w.middle for w in words]
    left, top = (min(p[n] for p in spots) - _MARGIN_MM for n in (0, 1))

    def moved(p: Spot) -> Spot:
        return round(p[0] - left, 4), round(p[1] - top, 4)

    return Board(
        round(max(p[0] for p in spots) - left + _MARGIN_MM, 4),
        round(max(p[1] for p in spots) - top + _MARGIN_MM, 4),
        tuple(replace(line, points=tuple(moved(p) for p in line.points)) for line in lines),
        tuple(replace(r, middle=moved(r.middle)) for r in rounds),
        tuple(replace(w, middle=moved(w.middle)) for w in words),
    )
