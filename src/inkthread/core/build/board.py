"""The board at 1:1: the harness laid out as it is made, with all that is marked on it. Lengths in mm."""

from __future__ import annotations

import math
from typing import Literal

from inkthread.core.build.operations import Rooms
from inkthread.core.dress.shrinks import REAR_TO_FACE_MM, cover_ends
from inkthread.core.measures import format_length
from inkthread.core.record import record
from inkthread.core.route.layout import lay_out, shape_of

Layer = Literal[
    "bundles", "middles", "ticks", "covers", "connectors", "splices", "clamps", "labels", "pegs", "text"
]
LAYERS: tuple[Layer, ...] = (
    "bundles", "middles", "ticks", "covers", "connectors", "splices", "clamps", "labels", "pegs", "text",
)  # fmt: skip
TICK_EVERY_MM = 100.0
_TICK_MM, _LETTERS_MM, _SMALL_MM = 4.0, 4.5, 3.0
_PEG_MM, _PEG_AWAY_MM = 3.0, 25.0
"""A peg's thickness, and how far from a breakout one stands on either side (common practice, no source)."""
_TERMINAL_MM = (8.0, 14.0)
"""How wide and how long a loose terminal is drawn."""
_MARGIN_MM = 30.0
Spot = tuple[float, float]


@record
class Line:
    """A line through points; closed where it comes back to the first."""

    layer: Layer
    points: tuple[Spot, ...]
    closed: bool = False
    dashed: bool = False


@record
class Round:
    """A circle."""

    layer: Layer
    middle: Spot
    radius_mm: float


@record
class Words:
    """Words about their middle, turned by so many degrees clockwise, never upside down."""

    layer: Layer
    middle: Spot
    height_mm: float
    turn_deg: float
    text: str


@record
class Board:
    """What is drawn, x to the right and y down from the top left corner."""

    width_mm: float
    height_mm: float
    lines: tuple[Line, ...]
    rounds: tuple[Round, ...]
    words: tuple[Words, ...]


@record
class _Way:
    """A branch on the board: where it begins, and its direction."""

    begin: Spot
    along: Spot
    length_mm: float

    def at(self, mm: float, aside_mm: float = 0.0) -> Spot:
        """A place so far along it, and so far to its right."""
        (bx, by), (ux, uy) = self.begin, self.along
        return bx + ux * mm - uy * aside_mm, by + uy * mm + ux * aside_mm

    @property
    def turn_deg(self) -> float:
        """Its direction, turned so that words along it are not upside down."""
        turn = math.degrees(math.atan2(self.along[1], self.along[0]))
        return turn - 180 if turn > 90 else turn + 180 if turn <= -90 else turn

    def back(self) -> _Way:
        """The same from its other end."""
        return _Way(self.at(self.length_mm), (-self.along[0], -self.along[1]), self.length_mm)


def board_of(rooms: Rooms) -> Board:
    """Everything on the board: branches as thick as they are laid, what covers, holds and ends them."""
    return _Drawer(rooms).board()


class _Drawer:
    def __init__(self, rooms: Rooms) -> None:
        self._rooms, self._route = rooms, rooms.context.document.route
        self._units = rooms.context.document.brief.measures
        self._outside = rooms.dress.outside_mm()
        laid = rooms.context.memo.get(lay_out, shape_of(self._route))
        self._spots: dict[str, Spot] = {p: (spot.x_mm, spot.y_mm) for p, spot in laid.items()}
        self._ways = {b: self._way(b) for b in self._route.branches}
        self._lines: list[Line] = []
        self._rounds: list[Round] = []
        self._words: list[Words] = []

    def _way(self, branch_id: str) -> _Way:
        branch = self._route.branches[branch_id]
        (ax, ay), (bx, by) = self._spots[branch.from_point], self._spots[branch.to_point]
        length = round(math.hypot(bx - ax, by - ay), 4)
        along = ((bx - ax) / length, (by - ay) / length) if length else (1.0, 0.0)
        return _Way((ax, ay), along, length)

    def board(self) -> Board:
        for branch_id in self._route.branches:
            self._branch(branch_id)
        for point_id in self._route.points:
            self._breakout(point_id)
            self._connectors(point_id)
        self._covers()
        self._splices()
        return self._shifted()

    def _branch(self, branch_id: str) -> None:
        way, bundle = self._ways[branch_id], self._rooms.dress.bundles[branch_id]
        if not way.length_mm:
            return
        half = max(self._outside.get(branch_id, bundle.loose_mm), 1.0) / 2
        whole = way.length_mm
        self._rectangle("bundles", way, 0.0, whole, half)
        self._lines.append(Line("middles", (way.at(0), way.at(whole)), dashed=True))
        mm = TICK_EVERY_MM
        while mm < whole:
            self._across("ticks", way, mm, half, _TICK_MM)
            self._write("ticks", way.at(mm, half + _TICK_MM + _SMALL_MM), _SMALL_MM, way.turn_deg, f"{mm:g}")
            mm += TICK_EVERY_MM
        for nth in range(1, bundle.clamps + 1):
            self._rectangle(
                "clamps", way, nth * bundle.clamp_every_mm - 4, nth * bundle.clamp_every_mm + 4, half + 3
            )
        cover = next((c for c in self._rooms.dress.covers if branch_id in c.branches), None)
        said = f"{cover.kind} {cover.code}" if cover is not None and cover.code else "bare"
        length = format_length(self._route.branches[branch_id].length_mm, self._units)
        text = f"{branch_id}  {length}  {said}"
        self._write("text", way.at(whole / 2, -half - _LETTERS_MM), _LETTERS_MM, way.turn_deg, text)

    def _covers(self) -> None:
        """Where every cover begins and ends."""
        for cover in self._rooms.dress.covers:
            if not cover.code:
                continue
            for branch_id, point_id, bare_mm in cover_ends(self._rooms.context, cover):
                if self._ways[branch_id].length_mm:
                    self._across(
                        "covers", self._leaving(branch_id, point_id), bare_mm, cover.outside_mm / 2, 6.0
                    )

    def _breakout(self, point_id: str) -> None:
        near = [
            (b, far) for b, far in self._rooms.route.tree.near.get(point_id, []) if self._ways[b].length_mm
        ]
        if len(near) < _BREAKOUT_OF:
            return
        ways = [self._leaving(b, point_id) for b, _ in near]
        trunk = max(range(len(near)), key=lambda n: self._outside.get(near[n][0], 0.0))
        onward = math.atan2(-ways[trunk].along[1], -ways[trunk].along[0])
        for n, (branch_id, _) in enumerate(near):
            way, half = ways[n], self._outside.get(branch_id, 0.0) / 2
            if way.length_mm > 2 * _PEG_AWAY_MM:
                for side in (-1, 1):
                    peg = way.at(_PEG_AWAY_MM, side * (half + _PEG_MM))
                    self._rounds.append(Round("pegs", peg, _PEG_MM / 2))
            if n != trunk:
                turn = math.degrees(math.atan2(way.along[1], way.along[0]) - onward)
                angle = abs((turn + 180) % 360 - 180)
                spot = way.at(_PEG_AWAY_MM + 10, half + 8)
                self._write("text", spot, _SMALL_MM, way.turn_deg, f"{angle:.0f}°")
        self._write(
            "text", (self._spots[point_id][0], self._spots[point_id][1] + 2), _LETTERS_MM, 0.0, point_id
        )

    def _leaving(self, branch_id: str, point_id: str) -> _Way:
        way = self._ways[branch_id]
        return way if self._route.branches[branch_id].from_point == point_id else way.back()

    def _connectors(self, point_id: str) -> None:
        ends = self._rooms.ends.connectors
        connectors = self._rooms.context.document.ends.connectors
        at_point = [c for c in ends if connectors[c].point == point_id]
        near = [b for b, _ in self._rooms.route.tree.near.get(point_id, []) if self._ways[b].length_mm]
        if not at_point:
            return
        out = (
            self._leaving(near[0], point_id).back() if near else _Way(self._spots[point_id], (1.0, 0.0), 0.0)
        )
        out = _Way(self._spots[point_id], out.along, 0.0)
        sizes = [self._size(c) for c in at_point]
        aside = -sum(wide + 4 for wide, _ in sizes) / 2
        for connector_id, (wide, deep) in zip(at_point, sizes, strict=True):
            middle = aside + (wide + 4) / 2
            corners = tuple(
                out.at(mm, middle + side * wide / 2) for mm, side in ((0, -1), (deep, -1), (deep, 1), (0, 1))
            )
            self._lines.append(Line("connectors", corners, closed=True))
            self._write("connectors", out.at(deep + 12, middle), _LETTERS_MM, 0.0, connector_id)
            aside += wide + 4
            label = next((own for own in self._rooms.dress.labels.labels if own.of == connector_id), None)
            if label is not None and len(near) == 1:
                back = self._leaving(near[0], point_id)
                half = max(label.onto_mm / 2, 2.0) + 1
                self._rectangle("labels", back, label.behind_mm, label.behind_mm + label.length_mm, half)

    def _size(self, connector_id: str) -> tuple[float, float]:
        """How wide a connector is and how deep it is drawn."""
        connector = self._rooms.ends.connectors[connector_id]
        face = self._rooms.ends.faces.get(connector.face)
        if connector.shell == "none" or face is None:
            return _TERMINAL_MM
        return face.width_mm, REAR_TO_FACE_MM

    def _splices(self) -> None:
        for splice_id, splice in self._rooms.ends.splices.items():
            placed = self._rooms.route.splices[splice_id]
            joint = self._rooms.ends.joints[splice_id]
            long = joint.cover.length_mm if joint.cover is not None else joint.part.strip_mm
            if placed.branch is None or not self._ways[placed.branch].length_mm:
                self._rounds.append(Round("splices", self._spots[splice.point], 4.0))
                continue
            way = self._leaving(placed.branch, splice.point)
            half = max(joint.over_all_mm / 2, 2.0)
            self._rectangle("splices", way, splice.offset_mm - long / 2, splice.offset_mm + long / 2, half)
            self._write("splices", way.at(splice.offset_mm, half + 9), _SMALL_MM, way.turn_deg, splice_id)

    def _rectangle(self, layer: Layer, way: _Way, low: float, high: float, half: float) -> None:
        corners = (way.at(low, -half), way.at(high, -half), way.at(high, half), way.at(low, half))
        self._lines.append(Line(layer, corners, closed=True))

    def _across(self, layer: Layer, way: _Way, mm: float, half: float, beyond: float) -> None:
        self._lines.append(Line(layer, (way.at(mm, -half - beyond), way.at(mm, half + beyond))))

    def _write(self, layer: Layer, middle: Spot, height: float, turn: float, text: str) -> None:
        self._words.append(Words(layer, middle, height, turn, text))

    def _shifted(self) -> Board:
        """All of it from the top left corner, with a margin round it."""
        spots = [spot for line in self._lines for spot in line.points]
        spots += [
            (r.middle[0] + d, r.middle[1] + d) for r in self._rounds for d in (-r.radius_mm, r.radius_mm)
        ]
        for words in self._words:
            reach = len(words.text) * words.height_mm * 0.35
            spots += [(words.middle[0] + d, words.middle[1] + d) for d in (-reach, reach)]
        if not spots:
            return Board(2 * _MARGIN_MM, 2 * _MARGIN_MM, (), (), ())
        left, top = min(x for x, _ in spots) - _MARGIN_MM, min(y for _, y in spots) - _MARGIN_MM

        def moved(spot: Spot) -> Spot:
            return round(spot[0] - left, 4), round(spot[1] - top, 4)

        return Board(
            round(max(x for x, _ in spots) - left + _MARGIN_MM, 2),
            round(max(y for _, y in spots) - top + _MARGIN_MM, 2),
            tuple(Line(s.layer, tuple(map(moved, s.points)), s.closed, s.dashed) for s in self._lines),
            tuple(Round(r.layer, moved(r.middle), r.radius_mm) for r in self._rounds),
            tuple(Words(w.layer, moved(w.middle), w.height_mm, w.turn_deg, w.text) for w in self._words),
        )


_BREAKOUT_OF = 3
"""Branches that meet at a breakout, at least."""
