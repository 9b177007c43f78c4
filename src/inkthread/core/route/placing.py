"""Places for splices: clear of connectors and breakouts, covers never side by side."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from inkthread.core.record import record
from inkthread.core.route.tree import RouteTree
from inkthread.core.tolerances import ROUNDING


@record
class Spot:
    """A place on the route: ``offset_mm`` from a point along a branch, or the point itself."""

    point: str
    branch: str | None = None
    offset_mm: float = 0.0


class Given(NamedTuple):
    """Places that were handed out and taken back, newest first, and splices that found none."""

    places: list[tuple[str, tuple[float, float]]]
    crowded: list[str]


@dataclass(slots=True)
class SplicePlaces:
    """Hands out places along branches, each as long as a splice with its cover."""

    tree: RouteTree
    connector_points: set[str]
    cover_mm: float
    gap_mm: float
    from_connector_mm: float
    from_breakout_mm: float
    taken: dict[str, list[tuple[float, float]]] = field(default_factory=dict)
    """Branch to stretches in use, measured from its first point."""
    crowded: list[str] = field(default_factory=list)
    """Splices for which there was no room."""
    given: list[str] = field(default_factory=list)
    """The branches of the places handed out, in their order."""
    full: set[tuple[str, str]] = field(default_factory=set)
    """Branches without room for a splice, each with the point that it would be near."""

    def place(self, splice_id: str, point: str, branches: list[str]) -> Spot:
        """The nearest free place to ``point`` along one of the branches that leave it there.

        Where none has room, half-way along the longest, and the splice counts as crowded.
        """
        best: tuple[float, int, str] | None = None
        for rank, branch_id in enumerate(branches):
            offset = self._free(branch_id, point)
            if offset is not None and (best is None or (offset, rank) < best[:2]):
                best = (offset, rank, branch_id)
        if best is None:
            if not branches:
                return Spot(point)
            self.crowded.append(splice_id)
            longest = max(branches, key=lambda b: (self.tree.branches[b].length_mm, b))
            return Spot(point, longest, self.tree.branches[longest].length_mm / 2)
        offset, _, branch_id = best
        half = self.cover_mm / 2
        centre = self._from_first(branch_id, point, offset)
        self.taken.setdefault(branch_id, []).append((centre - half, centre + half))
        self.given.append(branch_id)
        return Spot(point, branch_id, round(offset, 1))

    def has_room(self, branches: list[str], point: str) -> bool:
        """Whether a splice finds room along one of the branches that leave a point.

        Room only shrinks: a branch that was full is not looked at again.
        """
        for branch in branches:
            if (branch, point) not in self.full:
                if self._free(branch, point) is not None:
                    return True
                self.full.add((branch, point))
        return False

    def mark(self) -> tuple[int, int]:
        """How far places are handed out, to go back to."""
        return len(self.given), len(self.crowded)

    def go_back(self, mark: tuple[int, int]) -> Given:
        """Take back what was handed out since a mark, the newest first."""
        places: list[tuple[str, tuple[float, float]]] = []
        while len(self.given) > mark[0]:
            branch = self.given.pop()
            places.append((branch, self.taken[branch].pop()))
        crowded = self.crowded[mark[1] :]
        del self.crowded[mark[1] :]
        return Given(places, crowded)

    def go_on(self, given: Given) -> None:
        """Hand out again what was taken back."""
        for branch, stretch in reversed(given.places):
            self.taken[branch].append(stretch)
            self.given.append(branch)
        self.crowded += given.crowded

    def _from_first(self, branch_id: str, point: str, offset_mm: float) -> float:
        branch = self.tree.branches[branch_id]
        return offset_mm if branch.from_point == point else branch.length_mm - offset_mm

    def _keep(self, point: str) -> float:
        return self.from_connector_mm if point in self.connector_points else self.from_breakout_mm

    def _free(self, branch_id: str, point: str) -> float | None:
        """Least offset from the point at which a cover fits, or None."""
        branch = self.tree.branches[branch_id]
        other = branch.to_point if branch.from_point == point else branch.from_point
        half = self.cover_mm / 2
        least = self._keep(point) + half
        most = branch.length_mm - self._keep(other) - half
        intervals = sorted(
            (low, high) if branch.from_point == point else (branch.length_mm - high, branch.length_mm - low)
            for low, high in self.taken.get(branch_id, ())
        )
        at = least
        for low, high in intervals:
            if at + half + self.gap_mm <= low:
                break
            at = max(at, high + self.gap_mm + half)
        return at if at <= most + ROUNDING else None
