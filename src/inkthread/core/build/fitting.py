"""Fitting day: in which order a harness goes into its machine, and what is done at every place."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from inkthread.core.build.operations import Rooms
from inkthread.core.measures import format_length
from inkthread.core.opening import many
from inkthread.core.record import record
from inkthread.core.words import some_in_words

FittingKind = Literal["begin", "through", "lay", "hold", "join", "trim", "swap", "end"]
_NAMED = 6
_STATIONS = 8


@record
class FittingStep:
    """One thing to do at the machine."""

    kind: FittingKind
    place: str
    """A point, a branch, a connector or a wire."""
    words: str


def fitting_steps(rooms: Rooms) -> tuple[FittingStep, ...]:
    """From the trunk outward: holes, branches, what holds them, connectors; then ends that were left long,
    and leads that are swapped one by one. Empty where nothing is routed. Common practice, no source.
    """
    if not rooms.route.sections or not rooms.context.document.route.branches:
        return ()
    return tuple(_Fitter(rooms).steps())


class _Fitter:
    def __init__(self, rooms: Rooms) -> None:
        self.rooms = rooms
        self.document = rooms.context.document
        self.points, self.branches = self.document.route.points, self.document.route.branches
        self.words = rooms.context.catalogue.fitting.fitting
        self.outside_mm = rooms.dress.outside_mm()
        self.held: dict[str, list[int]] = {}
        for n, hold in enumerate(rooms.dress.holds):
            self.held.setdefault(hold.place, []).append(n)
        self.at: dict[str, list[str]] = {}
        for connector_id, end in rooms.ends.connectors.items():
            point = self.document.ends.connectors[connector_id].point
            if point is not None and end.used:
                self.at.setdefault(point, []).append(connector_id)

    def steps(self) -> Iterator[FittingStep]:
        roots = self._roots()
        begun = "begin at" if len(roots) == 1 else "begin"
        yield FittingStep("begin", roots[0], self.words[begun].format(root=self._point(roots[0])))
        walked: set[str] = set()
        for root in roots:
            yield from self._from(root, walked)
        yield from self._trimmed()
        yield from self._swapped()
        yield FittingStep("end", "", self.words["end"])

    def _roots(self) -> list[str]:
        """One point of every piece of route: the one stations are counted from, else where current begins."""
        tree = self.rooms.route.tree
        best: dict[int, tuple[int, int, str]] = {}
        sources = {source.device for source in self.document.circuits.sources.values()}
        feeds = {
            self.document.ends.connectors[entry.connector].point
            for ref, entry in self.document.ends.pinout.items()
            if ref.partition(".")[0] in sources
        }
        for n, (point_id, point) in enumerate(self.points.items()):
            if not tree.near.get(point_id):
                continue
            rank = 0 if point.datum else 1 if point_id in feeds else 2
            part = tree.component[point_id]
            best[part] = min(best.get(part, (rank, n, point_id)), (rank, n, point_id))
        return [point for _, _, point in (best[part] for part in sorted(best))]

    def _from(self, root: str, walked: set[str]) -> Iterator[FittingStep]:
        """Outward from a point, the thickest branch first."""
        yield from self._joined(root)
        stack = [root]
        while stack:
            point = stack.pop()
            onward = [(b, other) for b, other in self.rooms.route.tree.near[point] if b not in walked]
            if not onward:
                continue
            branch_id, other = max(onward, key=lambda own: self.outside_mm.get(own[0], 0.0))
            stack += [point, other]
            walked.add(branch_id)
            yield from self._through(point, other, branch_id, walked)
            yield self._laid(point, other, branch_id)
            yield from self._holds(point, other, branch_id)
            yield from self._joined(other)

    def _point(self, point_id: str) -> str:
        return self.points[point_id].name or point_id

    def _length(self, mm: float) -> str:
        return format_length(mm, self.document.brief.measures)

    def _beyond(self, point: str, walked: set[str]) -> list[str]:
        """Connectors that lie behind a point, seen from where the walk came."""
        passed, behind, stack = set(walked), list(self.at.get(point, ())), [point]
        while stack:
            for branch_id, other in self.rooms.route.tree.near[stack.pop()]:
                if branch_id not in passed:
                    passed.add(branch_id)
                    behind += self.at.get(other, ())
                    stack.append(other)
        return behind

    def _through(self, point: str, other: str, branch_id: str, walked: set[str]) -> Iterator[FittingStep]:
        own = self.points[other]
        if own.opening_mm is None and own.kind != "opening":
            return
        connectors = self._beyond(other, walked)
        words = self.words["through after" if own.after_terminating else "through before"].format(
            point=self._point(other),
            hole=f"hole of {self._length(own.opening_mm)}" if own.opening_mm is not None else "opening",
            what=self._named(branch_id),
            connectors=some_in_words(connectors, _NAMED) or "what goes on there",
        )
        grommets = [self.rooms.dress.holds[n].code for n in self.held.get(other, ())]
        edge = self.words[f"edge {own.edge}"].format(part=grommets[0] if grommets else "")
        yield FittingStep("through", other, f"{words} {edge}".strip())

    def _named(self, branch_id: str) -> str:
        b = self.branches[branch_id]
        return f"{b.from_point} to {b.to_point}"

    def _laid(self, point: str, other: str, branch_id: str) -> FittingStep:
        zones = {self.document.brief.zones[z].name or z for z in self._zones(branch_id)}
        over = self.outside_mm.get(branch_id, 0.0)
        return FittingStep(
            "lay",
            branch_id,
            self.words["lay"].format(
                **{"from": self._point(point), "to": self._point(other)},
                length=self._length(self.branches[branch_id].length_mm),
                zone=f", {some_in_words(sorted(zones), _NAMED)}" if zones else "",
                room=self.words["room"].format(over=self._length(over)) if over else "",
            ),
        )

    def _zones(self, branch_id: str) -> list[str]:
        branch = self.branches[branch_id]
        return [z for z in (branch.zone, *(s.zone for s in branch.stretches.values())) if z is not None]

    def _holds(self, point: str, other: str, branch_id: str) -> Iterator[FittingStep]:
        for n in self.held.get(branch_id, ()):
            hold = self.rooms.dress.holds[n]
            stations = [self._length(hold.every_mm * k) for k in range(1, hold.count + 1)]
            more = ["so on"] if len(stations) > _STATIONS else []
            words = self.words[hold.kind].format(
                **{"from": self._point(point), "to": self._point(other)},
                count=hold.count,
                part=hold.code,
                every=self._length(hold.every_mm),
                stations=some_in_words([*stations[:_STATIONS], *more], _STATIONS + 1),
            )
            yield FittingStep("hold", branch_id, f"{words} {self.words['clear']}")

    def _joined(self, point: str) -> Iterator[FittingStep]:
        for connector_id in self.at.get(point, ()):
            own, end = self.document.ends.connectors[connector_id], self.rooms.ends.connectors[connector_id]
            family = self.rooms.context.catalogue.connectors[own.family]
            how = "join" if not family.loose else "join studs" if family.studs else "join loose"
            said = [
                self.words[how].format(
                    connector=connector_id,
                    name=f" {own.name}" if own.name else "",
                    point=self._point(point),
                    count=many(end.used, "ring" if family.studs else "terminal").replace("**", ""),
                )
            ]
            alike = [
                k
                for k, c in self.document.ends.connectors.items()
                if k != connector_id
                and k in self.rooms.ends.connectors
                and (c.family, c.ways, c.shell, c.contact_gender, c.key)
                == (own.family, own.ways, own.shell, own.contact_gender, own.key)
                and c.point is not None
                and not self.rooms.context.catalogue.connectors[c.family].loose
            ]
            if alike and not family.loose:
                said.append(self.words["same"].format(others=some_in_words(alike, _NAMED)))
            if end.lock:
                said.append(self.words["join lock"].format(part=end.lock))
            if own.joined == "at every use":
                said.append(self.words["join often"])
            yield FittingStep("join", connector_id, " ".join(said))

    def _trimmed(self) -> Iterator[FittingStep]:
        for piece in self.rooms.cut.cuts:
            for end, text in ((piece.a, piece.from_text), (piece.b, piece.to_text)):
                if end.surplus_mm:
                    words = self.words["trim"].format(
                        wire=piece.label, place=text, surplus=self._length(end.surplus_mm)
                    )
                    yield FittingStep("trim", piece.wire, words)

    def _swapped(self) -> Iterator[FittingStep]:
        if self.document.brief.job != "replacement":
            return
        for key, wire in self.rooms.wire.wires.items():
            if self.rooms.wire.families[wire.family].resistance_max_ohm_per_m is not None:
                yield FittingStep("swap", key, self.words["swap"].format(wire=wire.label))
