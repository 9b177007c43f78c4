"""The route as a rooted forest, with paths between points."""

from __future__ import annotations

from dataclasses import dataclass, field

from inkthread.core.document.types import Branch, Route


@dataclass(slots=True)
class RouteTree:
    """Points with parent, depth and the branch to the parent; one component per tree."""

    parent: dict[str, str | None]
    up_branch: dict[str, str]
    depth: dict[str, int]
    component: dict[str, int]
    branches: dict[str, Branch]
    near: dict[str, list[tuple[str, str]]]
    """Point to its (branch id, other point)."""
    up: dict[str, tuple[str, str]] = field(default_factory=dict, repr=False, compare=False)
    """Point to the branch that leads up from it, and where."""
    _paths: dict[tuple[str, str], tuple[tuple[str, str], ...] | None] = field(
        default_factory=dict, repr=False, compare=False
    )

    def path(self, a: str, b: str) -> tuple[tuple[str, str], ...] | None:
        """The branches from a to b as (branch id, point reached), or None where none joins them."""
        ends = a, b
        if ends not in self._paths:
            self._paths[ends] = self._path(a, b)
        return self._paths[ends]

    def _path(self, a: str, b: str) -> tuple[tuple[str, str], ...] | None:
        if self.component[a] != self.component[b]:
            return None
        rising: list[tuple[str, str]] = []
        falling: list[tuple[str, str]] = []
        up, deep_a, deep_b = self.up, self.depth[a], self.depth[b]
        for _ in range(deep_a - deep_b):
            step = up[a]
            rising.append(step)
            a = step[1]
        for _ in range(deep_b - deep_a):
            branch, above = up[b]
            falling.append((branch, b))
            b = above
        while a != b:
            step = up[a]
            rising.append(step)
            branch, above = up[b]
            falling.append((branch, b))
            a, b = step[1], above
        falling.reverse()
        return (*rising, *falling)

    def distance_mm(self, a: str, b: str) -> float | None:
        """Length of harness between two points, or None where nothing joins them."""
        joining = self.path(a, b) if a in self.component and b in self.component else None
        return None if joining is None else sum(self.branches[branch].length_mm for branch, _ in joining)

    def within(self, point: str, reach_mm: float) -> list[str]:
        """The points that lie no farther along the branches than a reach, the point itself first."""
        near = [point]
        open_ends: list[tuple[str, str, float]] = [("", point, 0.0)]
        while open_ends:
            came, at, so_far = open_ends.pop()
            for branch, other in self.near[at]:
                is_own = self.up_branch.get(at) == branch or self.up_branch.get(other) == branch
                there = so_far + self.branches[branch].length_mm
                if is_own and branch != came and there <= reach_mm:
                    near.append(other)
                    open_ends.append((branch, other, there))
        return near


def neighbours(route: Route) -> dict[str, list[tuple[str, str]]]:
    """Point to its (branch id, other point), in the order of the branches."""
    near: dict[str, list[tuple[str, str]]] = {p: [] for p in route.points}
    for branch_id, branch in sorted(route.branches.items(), key=lambda kv: kv[1].order):
        near[branch.from_point].append((branch_id, branch.to_point))
        near[branch.to_point].append((branch_id, branch.from_point))
    return near


def build_tree(route: Route) -> RouteTree:
    """Root every component at its first point (by order)."""
    near = neighbours(route)
    tree = RouteTree({}, {}, {}, {}, route.branches, near)
    count = 0
    for start, _ in sorted(route.points.items(), key=lambda kv: kv[1].order):
        if start in tree.parent:
            continue
        tree.parent[start] = None
        tree.depth[start] = 0
        tree.component[start] = count
        stack = [start]
        while stack:
            point = stack.pop()
            for branch_id, other in near[point]:
                if other in tree.parent:
                    continue
                tree.parent[other] = point
                tree.up_branch[other] = branch_id
                tree.up[other] = (branch_id, point)
                tree.depth[other] = tree.depth[point] + 1
                tree.component[other] = count
                stack.append(other)
        count += 1
    return tree
