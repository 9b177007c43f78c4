"""Sections, splices and the tree of each circuit: what threading makes."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from inkthread.core.record import record

Spans = tuple[tuple[str, float, float], ...]
"""Stretches of branches: branch, from mm, to mm, counted from the branch's first point."""


@record
class SectionEnd:
    """Where a section stops: a device pin in a cavity, a splice, a block, or cut back and insulated."""

    kind: Literal["pin", "splice", "block", "open"]
    id: str
    """The device pin, the splice's or block's id, or the connector that an open end lies at."""
    point: str
    connector: str | None = None
    cavity: str | None = None


@dataclass(slots=True)
class Section:
    """One wire between two terminations or splices."""

    key: str
    label: str
    circuit: str
    a: SectionEnd
    b: SectionEnd
    branches: tuple[str, ...]
    length_mm: float
    slack_mm: float
    ambient_c: float
    zone: str | None
    current_a: float = 0.0
    """Most it carries in any mode."""
    spans: Spans = ()
    """What it passes of each branch; none where it stays at a point."""

    def carrying(self, current_a: float) -> Section:
        """The same section with what it carries."""
        return Section(
            self.key, self.label, self.circuit, self.a, self.b, self.branches, self.length_mm,
            self.slack_mm, self.ambient_c, self.zone, current_a, self.spans,
        )  # fmt: skip


@dataclass(slots=True)
class Splice:
    """A joint of three or more sections of one circuit: a splice, or a block with a stud for each."""

    id: str
    circuit: str
    point: str
    branch: str | None
    offset_mm: float
    """Distance from the point along ``branch``; zero at the point itself."""
    kind: Literal["splice", "block"] = "splice"
    sections: list[str] = field(default_factory=list)


@dataclass(slots=True)
class CircuitTree:
    """Sections of one circuit as a rooted tree of nodes (device pins, splices, blocks)."""

    parent: dict[str, tuple[str, str]] = field(default_factory=dict)
    depth: dict[str, int] = field(default_factory=dict)
    order: list[str] = field(default_factory=list)

    def between(self, a: str, b: str) -> list[tuple[str, float]]:
        """Sections from one node to another; +1 where crossed towards the root, else -1."""
        if a not in self.depth or b not in self.depth:
            return []
        crossed: list[tuple[str, float]] = []
        sign = 1.0
        while a != b:
            if self.depth[a] < self.depth[b]:
                a, b = b, a
                sign = -sign
            up, key = self.parent[a]
            crossed.append((key, sign))
            a = up
        return crossed

    def along(self, a: str, b: str) -> list[str]:
        """Sections from one node to another, in the order that they are passed."""
        if a not in self.depth or b not in self.depth:
            return []
        rising: list[str] = []
        falling: list[str] = []
        while a != b:
            if self.depth[a] >= self.depth[b]:
                a, key = self.parent[a]
                rising.append(key)
            else:
                b, key = self.parent[b]
                falling.append(key)
        return rising + falling[::-1]


def build_circuit_tree(root: str, sections: list[Section]) -> CircuitTree:
    """Root the sections of one circuit at a node."""
    if len(sections) == 1 and sections[0].a.id == root != sections[0].b.id:
        end, key = sections[0].b.id, sections[0].key
        return CircuitTree({end: (root, key)}, {root: 0, end: 1}, [root, end])
    links: dict[str, list[tuple[str, str]]] = {}
    for s in sections:
        links.setdefault(s.a.id, []).append((s.b.id, s.key))
        links.setdefault(s.b.id, []).append((s.a.id, s.key))
    tree = CircuitTree({}, {root: 0}, [root])
    for node in tree.order:
        for other, key in links.get(node, ()):
            if other not in tree.depth:
                tree.depth[other] = tree.depth[node] + 1
                tree.parent[other] = (node, key)
                tree.order.append(other)
    return tree
