"""Harnesses made to measure: of any size, and the small one that tests keep."""

from __future__ import annotations

import json
import random
from dataclasses import replace
from pathlib import Path
from typing import Any

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue import Catalogue
from inkthread.core.document.starter import new_document


def synthetic(
    wires: int, seed: int = 7, points: int | None = None, sources: int | None = None
) -> dict[str, Any]:
    """A harness of about ``wires`` wires: 12 % multi-end circuits, mean path at most 12 branches.

    With ``points`` that many of them, and longer paths; with ``sources`` that many, each behind many fuses,
    else one a fuse.
    """
    groups = max(1, wires // 40)
    made = _Made(f"synthetic {wires}", random.Random(seed), points or max(6, min(40, wires // 12)))
    made.route()
    banks = groups if sources is None else min(sources, groups)
    fed: list[list[str]] = [[] for _ in range(banks)]
    back: list[list[str]] = [[] for _ in range(banks)]
    for g in range(groups):
        bank = g % banks
        made.group(g, f"B{bank}", fed[bank], back[bank], first=g < banks, apart=sources is None)
        made.signals(g, (wires // groups) - 7)
    if sources is not None:
        for n in range(banks):
            made.join([f"B{n}.+", *fed[n]])
            made.join([f"B{n}.-", *back[n]])
    return made.plain


class _Made:
    """A harness that is being made up."""

    def __init__(self, name: str, rng: random.Random, points: int) -> None:
        self.plain = new_document(name, "vehicle")
        self.rng, self.points, self.order = rng, points, 0
        self.free: dict[int, int] = {}

    def route(self) -> None:
        """A trunk with short limbs keeps mean paths below 12 branches."""
        for n in range(self.points):
            self.plain["route"]["points"][f"P{n}"] = {"order": n, "name": ""}
            if n:
                parent = self.rng.randrange(max(0, n - 6), n)
                self.plain["route"]["branches"][f"R{n}"] = {
                    "order": n,
                    "from_point": f"P{parent}",
                    "to_point": f"P{n}",
                    "length_mm": float(self.rng.randint(80, 700)),
                    "measured": "tape",
                    "zone": "hot" if n % 5 == 0 else None,
                    "slack_mm": None,
                }
        self.plain["brief"]["zones"] = {"hot": {"order": 1, "name": "Hot", "ambient_c": 70.0}}

    def anywhere(self) -> int:
        return self.rng.randrange(self.points)

    def place(self, ref: str, at: int) -> None:
        self.order += 1
        count = self.free.get(at, 0)
        connector = f"K{at}x{count // 12}"
        self.free[at] = count + 1
        self.plain["ends"]["connectors"].setdefault(
            connector,
            {
                "order": len(self.plain["ends"]["connectors"]),
                "family": "SR16",
                "ways": 12,
                "name": "",
                "point": f"P{at}",
                "shell": "plug",
                "contact_gender": "socket",
                "stud": None,
            },
        )
        pin = {"order": self.order, "connector": connector, "cavity": str(count % 12 + 1)}
        self.plain["ends"]["pinout"][ref] = pin

    def device(self, name: str, pins: dict[str, str], paths: dict[str, Any] | None = None) -> None:
        devices = self.plain["circuits"]["devices"]
        devices[name] = {
            "order": len(devices),
            "name": name,
            "kind": "other",
            "pins": {p: {"order": i, "role": r, "name": ""} for i, (p, r) in enumerate(pins.items())},
            "paths": paths or {},
        }

    def join(self, refs: list[str]) -> None:
        circuits = self.plain["circuits"]["circuits"]
        ends = {r: {"order": i} for i, r in enumerate(refs)}
        circuits[f"C{len(circuits)}"] = {"order": len(circuits), "name": "", "ends": ends}

    def load(self, name: str, at: int) -> None:
        self.device(name, {"+": "supply_in", "-": "ground"})
        self.place(f"{name}.+", at)
        self.place(f"{name}.-", at)
        loads = self.plain["circuits"]["loads"]
        loads[name] = {
            "order": len(loads),
            "device": name,
            "supply_pin": "+",
            "return_pin": "-",
            "current_a": round(self.rng.uniform(0.2, 2.0), 2),
            "service": "continuous",
        }

    def group(
        self, g: int, source: str, fed: list[str], back: list[str], *, first: bool, apart: bool
    ) -> None:
        """Two loads behind a fuse of their own; the source with the ``first`` of them."""
        fuse = f"F{g}"
        if first:
            self.device(source, {"+": "supply_out", "-": "ground"})
        path = {"order": 1, "from_pin": "in", "to_pin": "out", "kind": "fuse"}
        self.device(fuse, {"in": "supply_in", "out": "supply_out"}, {"1": path})
        at = self.anywhere()
        for ref in (f"{source}.+", f"{source}.-") if first else ():
            self.place(ref, at)
        for ref in (f"{fuse}.in", f"{fuse}.out"):
            self.place(ref, self.anywhere())
        fed.append(f"{fuse}.in")
        if apart:
            self.join([f"{source}.+", *fed])
        loads = [f"L{g}n{k}" for k in range(2)]
        for name in loads:
            self.load(name, self.anywhere())
        self.join([f"{fuse}.out", *(f"{name}.+" for name in loads)])
        back += [f"{name}.-" for name in loads]
        if apart:
            self.join([f"{source}.-", *back])

    def signals(self, g: int, wires: int) -> None:
        """Circuits that carry nothing, an eighth of them with three ends."""
        while wires > 0:
            ends = 3 if self.rng.random() < 0.12 and wires >= 3 else 2
            refs = []
            for e in range(ends):
                name = f"S{g}n{wires}e{e}"
                self.device(name, {"1": "signal"})
                self.place(f"{name}.1", self.anywhere())
                refs.append(f"{name}.1")
            self.join(refs)
            wires -= ends if ends > 2 else 1


def with_a_housing_of(ways: int) -> Catalogue:
    """The shipped catalogue with a family for printed circuits in another housing, of so many ways in rows of
    sixteen."""
    shipped = shipped_catalogue()
    family = shipped.connectors["CT60"]
    like = family.housings[0]
    cavities = {str(n + 1): (n % 16 * 3.0, -(n // 16) * 3.0) for n in range(ways)}
    housing = replace(like, ways=ways, face=replace(like.face, cavities=cavities))
    wide = replace(family, housings=(*family.housings, housing))
    return replace(shipped, connectors={**shipped.connectors, "CT60": wide})


def many_ways(ways: int, catalogue: Catalogue | None = None) -> dict[str, Any]:
    """One connector with this many signals, each to a sensor of its own."""
    catalogue = catalogue or shipped_catalogue()
    plain = new_document("many ways", "motorsport")
    pins = {str(n): {"order": n, "role": "signal", "name": f"input {n}"} for n in range(1, ways + 1)}
    devices: dict[str, Any] = {"A1": {"order": 0, "name": "controller", "pins": pins}}
    points: dict[str, Any] = {"A1": {"order": 0}}
    family = next(
        (c, h.ways)
        for c, f in catalogue.connectors.items()
        for h in f.housings
        if c in ("CT60", "CM20", "MC22") and h.ways >= ways
    )
    connectors: dict[str, Any] = {
        "A1": {"order": 0, "family": family[0], "ways": family[1], "point": "A1", "shell": "plug"}
    }
    faces = catalogue.connectors[family[0]].housing(family[1])
    assert faces is not None
    names = list(faces.face.cavities)
    circuits, pinout, branches = {}, {}, {}
    for n in range(1, ways + 1):
        s = f"T{n}"
        devices[s] = {
            "order": n,
            "name": "sensor",
            "pins": {"1": {"order": 1, "role": "signal", "name": "signal"}},
        }
        points[s] = {"order": n}
        branches[f"R{n}"] = {"order": n, "from_point": "A1", "to_point": s, "length_mm": 500.0}
        connectors[s] = {"order": n, "family": "SS15", "ways": 1, "point": s, "shell": "plug"}
        pinout[f"A1.{n}"] = {"order": n, "connector": "A1", "cavity": names[n - 1]}
        pinout[f"{s}.1"] = {"order": 100 + n, "connector": s, "cavity": "1"}
        circuits[f"C{n}"] = {"order": n, "ends": {f"A1.{n}": {"order": 1}, f"{s}.1": {"order": 2}}}
    plain["circuits"]["devices"] = devices
    plain["circuits"]["circuits"] = circuits
    plain["route"] = {"points": points, "branches": branches}
    plain["ends"] = {"connectors": connectors, "pinout": pinout}
    return plain


def chassis() -> dict[str, Any]:
    """The small harness that tests keep: 18 wires."""
    path = Path(__file__).parent.parent / "tests" / "harnesses" / "chassis.json"
    plain: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
    return plain
