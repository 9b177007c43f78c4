"""When it fails on the machine: causes along one load's circuit, ranked by what was told and read.

A cause is one place in the loop that has become high in resistance, or open. What each would make a meter
show follows from the loop's solved currents: no other load is taken to change. Its resistance is the one that
fits what was read best.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence

from inkthread.core.build import Rooms
from inkthread.core.catalogue.proofs import Later, LaterSort
from inkthread.core.circuits import CircuitsResult, Crossing, Loop
from inkthread.core.document.pin_ref import device_of
from inkthread.core.ends.surroundings import zones_at
from inkthread.core.prove.complaint import BadComplaint, Complaint, Told
from inkthread.core.prove.volts import LoopWalker
from inkthread.core.record import record
from inkthread.core.words import some_in_words

_OHMS = tuple(10 ** (n / 8) for n in range(-24, 25))
"""Resistances that are tried, from 1 mohm to 1 kohm, eight in a decade."""
_SHOWN = 8
_LEAST_SHARE = 0.01
_UNLIKELY = math.exp(-8.0)
_OFF = 0.1
"""How far outside a symptom's part of the usual volts makes it unlikely."""
_APART_V = 0.3
_UNTOLD, _SEEN_BELOW = 0.35, 0.8
"""A cause that makes others fail too, of which nobody spoke, is so much less likely (common practice)."""
_NAMED = 3


@record
class Cause:
    """What may have failed."""

    sort: str
    share: float
    """Of all that was thought of."""
    ohm: float | None
    """What it has grown to; None where it is open."""
    words: str
    open: str
    """Where to open it, and what to look for."""
    connector: str
    wire: str


@record
class FailedLater:
    """The likeliest first, and what to measure next."""

    load: str
    causes: tuple[Cause, ...]
    next: str
    explained: bool


@record
class _Part:
    """One thing in a loop that may fail, and where it stands in the order from plus to minus."""

    sort: str
    id: str
    """A pin, a wire or a path: two loops that share it share its fault."""
    at: int
    likely: float
    words: str
    open: str
    connector: str = ""
    wire: str = ""


@record
class _Spot:
    """Where a meter finds the loop."""

    place: str
    at: int
    volts: float
    lost: float
    """V that the loop loses up to here on the way out, or from here on the way back."""
    back: bool


@record
class _Chain:
    """One load's loop in order: what may fail, where it is measured, what it gets."""

    loop: Loop
    parts: tuple[_Part, ...]
    spots: tuple[_Spot, ...]
    load_at: int
    current_a: float
    gets_v: float

    @property
    def lost_v(self) -> float:
        """V that are lost out and back."""
        return self.spots[self._last_out].lost + self.spots[self._last_out + 1].lost

    @property
    def _last_out(self) -> int:
        return next(n for n, spot in enumerate(self.spots) if spot.back) - 1


def failed_later(
    rooms: Rooms, circuits: CircuitsResult, complaint: Complaint, mode: int | None = None
) -> FailedLater:
    """What may have failed, measured in an operating mode; in that in which the load draws most where none is
    named. Raises BadComplaint where no whole loop has to do with it, or it does not run in that mode.
    """
    maker = _Chains(rooms, circuits, mode or 0)
    chain, told = maker.of(complaint)
    drawn_a = maker.drawn_a(chain.loop)
    best = max(range(len(drawn_a)), key=drawn_a.__getitem__)
    if mode is None and best:
        maker = _Chains(rooms, circuits, best)
        chain, told = maker.of(complaint)
    if chain.current_a <= 0:
        raise BadComplaint(f"{chain.loop.device} does not run in that mode: choose one in which it should.")
    later = rooms.context.catalogue.proofs.later
    tried: list[tuple[float, _Part, float | None, dict[str, float]]] = []
    best_fit = 0.0
    for part in chain.parts:
        opens = 1.0 if maker.moves else later.sorts[part.sort].dead
        for ohm in (None, *_OHMS):
            shown = _shown(chain, part, ohm)
            fit = _fit(later, complaint, told, shown, maker, chain, part, ohm)
            best_fit = max(best_fit, fit)
            tried.append((fit * part.likely * (opens if ohm is None else 1.0), part, ohm, shown))
    return _ranked(later, chain, tried, complaint, explained=best_fit > _UNLIKELY)


def _ranked(
    later: Later,
    chain: _Chain,
    tried: Sequence[tuple[float, _Part, float | None, dict[str, float]]],
    complaint: Complaint,
    *,
    explained: bool,
) -> FailedLater:
    best: dict[str, tuple[float, _Part, float | None, dict[str, float]]] = {}
    for one in tried:
        key = f"{one[1].sort} {one[1].id}"
        if key not in best or one[0] > best[key][0]:
            best[key] = one
    total = sum(one[0] for one in best.values()) or 1.0
    ranked = sorted(best.values(), key=lambda one: -one[0])
    shares = [one[0] / total for one in ranked]
    causes = tuple(
        Cause(part.sort, round(share, 3), ohm, part.words, part.open, part.connector, part.wire)
        for (_, part, ohm, _), share in zip(ranked, shares, strict=True)
        if share >= _LEAST_SHARE
    )[:_SHOWN]
    read = {r.place for r in complaint.volts}
    after = _next(later, [(shares[n], *ranked[n][1:]) for n in range(len(causes))], read)
    words = after if explained else later.none
    return FailedLater(chain.loop.load, causes if explained else (), words, explained)


def _next(
    later: Later, ranked: Sequence[tuple[float, _Part, float | None, dict[str, float]]], read: set[str]
) -> str:
    """The place whose volts part the likely causes best."""
    if len(ranked) < 2:
        return ""
    best, place = 0.0, ""
    for spot in ranked[0][3]:
        if spot in read or not spot:
            continue
        volts = [(share, shown[spot]) for share, _, _, shown in ranked]
        total = sum(share for share, _ in volts)
        mean = sum(share * v for share, v in volts) / total
        spread = sum(share * (v - mean) ** 2 for share, v in volts) / total
        if spread > best:
            best, place = spread, spot
    if best < _APART_V**2:
        return later.next_none
    first = ranked[0][3][place]
    other = next(one for one in ranked[1:] if abs(one[3][place] - first) > _APART_V)
    low, high = sorted(((first, ranked[0][1].words), (other[3][place], other[1].words)))
    return later.next.format(
        place=place, low=f"{low[0]:.1f} V", one=_small(low[1]), high=f"{high[0]:.1f} V", other=_small(high[1])
    )


def _small(words: str) -> str:
    """Words in the middle of a sentence: what is no name begins small."""
    return words[:1].lower() + words[1:] if words[1:2].islower() else words


def _current_a(chain: _Chain, ohm: float | None) -> float:
    """What the load draws through so much more resistance, by its kind."""
    if ohm is None or chain.current_a <= 0:
        return 0.0
    gets, now = chain.gets_v, chain.current_a
    if chain.loop.kind == "resistive":
        return now * gets / (gets + now * ohm)
    if chain.loop.kind == "constant power":
        inside = gets * gets - 4 * gets * now * ohm
        if inside >= 0:
            return gets * now / ((gets + math.sqrt(inside)) / 2)
        return gets / 2 / ohm
    return min(now, gets / ohm)


def _shown(chain: _Chain, part: _Part, ohm: float | None) -> dict[str, float]:
    """V at every place with one part so much higher in resistance; under ``""`` what the load gets of its
    usual volts, from 0 to 1.
    """
    if part.sort == "source":
        left = 0.0 if ohm is None else 1 / (1 + ohm)
        return {s.place: s.volts * left for s in chain.spots} | {"": left}
    now_a = 0.0 if part.sort == "load" and ohm is None else _current_a(chain, ohm)
    if part.sort == "load":
        now_a = 0.0 if ohm is None else chain.current_a
    share = now_a / chain.current_a if chain.current_a else 0.0
    added = now_a * ohm if ohm is not None and part.sort != "load" else 0.0
    supply = chain.spots[0].volts + chain.spots[0].lost
    shown: dict[str, float] = {}
    for spot in chain.spots:
        lost = spot.lost * share
        if ohm is None and part.sort != "load":
            beyond = spot.at > part.at
            shown[spot.place] = 0.0 if beyond else supply
        elif spot.back:
            shown[spot.place] = lost + (added if part.at > spot.at else 0.0)
        else:
            shown[spot.place] = supply - lost - (added if part.at < spot.at else 0.0)
    if part.sort == "load":
        return shown | {"": 0.0 if ohm is None else 1 / (1 + ohm)}
    gets = chain.gets_v + chain.lost_v * (1 - share) - added
    return shown | {"": max(gets / chain.gets_v, 0.0) if ohm is not None and chain.gets_v else 0.0}


def _fit(
    later: Later,
    complaint: Complaint,
    told: Told | None,
    shown: Mapping[str, float],
    maker: _Chains,
    chain: _Chain,
    part: _Part,
    ohm: float | None,
) -> float:
    """How well a cause fits all that was told and read, from 0 to 1."""
    fit = 1.0
    for reading in complaint.volts:
        if reading.place in shown:
            sure = max(later.sure_v, later.sure_share * chain.loop.supply_v)
            fit *= math.exp(-(((shown[reading.place] - reading.volts) / sure) ** 2) / 2)
    for one in complaint.told:
        if told is not None and one.device == told.device:
            share = shown[""]
        else:
            share = maker.share_of_other(one.device, chain, part, ohm, shown[""])
        off = max(one.symptom.least - share, share - one.symptom.most, 0.0)
        fit *= math.exp(-((off / _OFF) ** 2) / 2)
    return fit * (_UNTOLD if maker.others_fail(complaint, chain, part, ohm, shown[""]) else 1.0)


class _Chains:
    """Makes the chains of a harness's loops in one operating mode."""

    def __init__(self, rooms: Rooms, circuits: CircuitsResult, mode: int) -> None:
        self.rooms, self.circuits = rooms, circuits
        self.document = rooms.context.document
        self.sorts = rooms.context.catalogue.proofs.later.sorts
        self.walker = LoopWalker(rooms, circuits, len(circuits.modes))
        self.mode = mode
        self.loops = {
            loop.load: loop
            for n, loop in enumerate(circuits.loops)
            if not loop.charging and loop.alternative == 0 and self.walker.flow.whole[n] and loop.back
        }
        self.moves = False
        """Whether it comes and goes: then nothing is open all the time."""
        self._kept: dict[str, _Chain] = {}

    def of(self, complaint: Complaint) -> tuple[_Chain, Told | None]:
        """The loop that is complained of: of the first device that does not do well, else of the readings."""
        ill = [one for one in complaint.told if one.symptom.most < 1]
        self.moves = any(one.symptom.moves for one in complaint.told)
        places = {reading.place for reading in complaint.volts}
        for one in ill:
            own = [loop for loop in self.loops.values() if loop.device == one.device]
            if own:
                own.sort(key=lambda loop: -len(places & {s.place for s in self.chain(loop).spots}))
                return self.chain(own[0]), one
        if ill:
            device = ill[0].device
            raise BadComplaint(f"No whole circuit leads to {device} and back: nothing can be ranked.")
        passing = [
            (len(places & {s.place for s in chain.spots}), chain.current_a, loop.load)
            for loop in self.loops.values()
            if (chain := self.chain(loop))
        ]
        if not passing or max(passing)[0] == 0:
            raise BadComplaint("Say what fails: E1 lamp dim, 9.8 V at J3-2, say.")
        return self.chain(self.loops[max(passing)[2]]), None

    def drawn_a(self, loop: Loop) -> list[float]:
        """What a load draws, by mode."""
        n = next(k for k, own in enumerate(self.circuits.loops) if own is loop)
        return [float(a) for a in self.walker.drawn_a[n]]

    def share_of_other(
        self, device: str, chain: _Chain, part: _Part, ohm: float | None, own_share: float
    ) -> float:
        """What another device gets of its usual volts, with one part of this chain failed."""
        if part.sort == "source":
            return own_share
        for loop in self.loops.values():
            if loop.device != device:
                continue
            other = self.chain(loop)
            if part.sort == "load" or not any(p.sort == part.sort and p.id == part.id for p in other.parts):
                continue
            if ohm is None or not other.gets_v:
                return 0.0
            both = _current_a(chain, ohm) + other.current_a
            return max((other.gets_v - both * ohm) / other.gets_v, 0.0)
        return 1.0

    def others_fail(
        self, complaint: Complaint, chain: _Chain, part: _Part, ohm: float | None, own_share: float
    ) -> bool:
        """Whether a device that nobody spoke of would fail too: somebody would have seen that."""
        spoken_of = {one.device for one in complaint.told} | {chain.loop.device}
        devices = {loop.device for loop in self.loops.values()} - spoken_of
        return any(
            self.share_of_other(device, chain, part, ohm, own_share) < _SEEN_BELOW for device in devices
        )

    def chain(self, loop: Loop) -> _Chain:
        """A loop in order from plus to minus."""
        if loop.load in self._kept:
            return self._kept[loop.load]
        feed = [(pin, float(v[self.mode])) for pin, v in self.walker.feed(loop, self.walker.row_a)]
        back = [(pin, float(v[self.mode])) for pin, v in self.walker.back(loop, self.walker.row_a)]
        parts: list[_Part] = [self._source(loop)]
        spots: list[_Spot] = []
        supply = feed[0][1] if feed else loop.supply_v
        load_at = 0
        for side, pins, crossings in ((False, feed, loop.feed), (True, back, loop.back)):
            for k, crossing in enumerate(crossings):
                (one, volts), (other, after) = pins[2 * k], pins[2 * k + 1]
                parts += self._mate(one, len(parts) + len(spots))
                spots.append(self._spot(one, len(parts) + len(spots), volts, supply, back=side))
                parts += self._wires(crossing, len(parts) + len(spots))
                spots.append(self._spot(other, len(parts) + len(spots), after, supply, back=side))
                parts += self._mate(other, len(parts) + len(spots))
                if k + 1 < len(crossings):
                    parts += self._inside(loop, other, pins[2 * k + 2][0], len(parts) + len(spots))
            if not side:
                load_at = len(parts) + len(spots)
                parts.append(self._load(loop, load_at))
        current = self.drawn_a(loop)[self.mode]
        gets = (feed[-1][1] - back[0][1]) if feed and back else 0.0
        chain = _Chain(loop, tuple(parts), tuple(spots), load_at, current, gets)
        self._kept[loop.load] = chain
        return chain

    def _spot(self, pin: str, at: int, volts: float, supply: float, *, back: bool) -> _Spot:
        return _Spot(self.walker.place(pin), at, volts, volts if back else supply - volts, back)

    def _likely(self, sort: LaterSort, points: Sequence[str | None]) -> float:
        zones = [zone for point in points for zone in zones_at(self.document, point)]
        wet = sort.wet if any(z.has_water for z in zones) else 1.0
        moving = sort.moving if any(z.vibration or z.flex for z in zones) else 1.0
        return sort.likely * wet * (moving * moving if self.moves else moving)

    def _source(self, loop: Loop) -> _Part:
        sort = self.sorts["source"]
        return _Part("source", loop.source, 0, sort.likely, sort.words, sort.open)

    def _load(self, loop: Loop, at: int) -> _Part:
        sort, device = self.sorts["load"], self._named(loop.device)
        return _Part("load", loop.load, at, sort.likely, sort.words.format(device=device),
                     sort.open.format(device=device))  # fmt: skip

    def _named(self, device_id: str) -> str:
        return f"{device_id} {self.document.circuits.devices[device_id].name}".strip()

    def _mate(self, pin: str, at: int) -> Iterator[_Part]:
        entry = self.document.ends.pinout.get(pin)
        if entry is None:
            return
        sort = self.sorts["mate"]
        fills = {
            "connector": entry.connector,
            "device": self._named(device_of(pin)),
            "place": self.walker.place(pin),
        }
        point = self.document.ends.connectors[entry.connector].point
        yield _Part(
            "mate", pin, at, self._likely(sort, [point]), sort.words.format(**fills),
            sort.open.format(**fills), connector=entry.connector,
        )  # fmt: skip

    def _wires(self, crossing: Crossing, at: int) -> Iterator[_Part]:
        tree, branches = self.rooms.route.trees[crossing.circuit], self.document.route.branches
        for key in tree.along(crossing.from_pin, crossing.to_pin):
            section = self.rooms.route.sections[key]
            spliced = "splice" in (section.a.kind, section.b.kind)
            sort_name = "splice wire" if spliced else "wire"
            sort = self.sorts[sort_name]
            wire = self.rooms.wire.wires[key]
            points = [p for b in section.branches for p in (branches[b].from_point, branches[b].to_point)]
            points = points or [section.a.point]
            fills = {
                "wire": wire.label,
                "a": wire.from_text.split(" ")[0] if wire.from_text else "",
                "b": wire.to_text.split(" ")[0] if section.b.kind == "pin" else wire.to_text,
                "where": some_in_words(list(dict.fromkeys(self._point(p) for p in points)), _NAMED),
            }
            if section.a.kind != "pin":
                fills["a"] = wire.from_text
            yield _Part(
                sort_name, key, at, self._likely(sort, points), sort.words.format(**fills),
                sort.open.format(**fills), wire=key,
            )  # fmt: skip

    def _point(self, point_id: str) -> str:
        return self.document.route.points[point_id].name or point_id

    def _inside(self, loop: Loop, one: str, other: str, at: int) -> Iterator[_Part]:
        device = device_of(one)
        if device != device_of(other):
            sort = self.sorts["ground"]
            named = self._named(device)
            yield _Part(
                "ground", device, at, self._likely(sort, []), sort.words.format(device=named),
                sort.open.format(device=named),
            )  # fmt: skip
            return
        for path in loop.paths:
            inner = self.walker.inner_path(path)
            if inner is None or {inner[0], inner[1]} != {one, other}:
                continue
            kind = "relay" if inner[2] == "contactor" else inner[2]
            sort = self.sorts.get(kind, self.sorts["link"])
            fuse = self.circuits.fuses.get(path)
            named = fuse.called if fuse is not None else self._named(device)
            points = {
                self.document.ends.connectors[entry.connector].point
                for pin in (one, other)
                if (entry := self.document.ends.pinout.get(pin)) is not None
            }
            yield _Part(
                kind if kind in self.sorts else "link", path, at, self._likely(sort, list(points)),
                sort.words.format(device=named), sort.open.format(device=named),
            )  # fmt: skip
