"""Harnesses made to measure: of any size, and the small one that tests keep."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document.starter import new_document


def synthetic(
    wires: int, seed: int = 7, points: int | None = None, sources: int | None = None
) -> dict[str, Any]:
    """A harness of about ``wires`` wires: 12 % multi-end circuits, mean path at most 12 branches.

    With ``points`` that many of them, and longer paths; with ``sources`` that many, each behind many fuses, else
    one a fuse.
    """
    rng = random.Random(seed)
    plain = new_document(f"synthetic {wires}", "vehicle")
    circuits = plain["circuits"]
    # A trunk with short limbs keeps mean paths below 12 branches.
    points = points or max(6, min(40, wires // 12))
    for n in range(points):
        plain["route"]["points"][f"P{n}"] = {"order": n, "name": ""}
        if n:
            parent = rng.randrange(max(0, n - 6), n)
            plain["route"]["branches"][f"R{n}"] = {
                "order": n,
                "from_point": f"P{parent}",
                "to_point": f"P{n}",
                "length_mm": float(rng.randint(80, 700)),
                "measured": "tape",
                "zone": "hot" if n % 5 == 0 else None,
                "slack_mm": None,
            }
    plain["brief"]["zones"] = {"hot": {"order": 1, "name": "Hot", "ambient_c": 70.0}}
    made = 0
    order = 0
    free: dict[str, int] = {}

    def place(ref: str, at: int) -> None:
        nonlocal order
        order += 1
        count = free.get(str(at), 0)
        connector = f"K{at}x{count // 12}"
        free[str(at)] = count + 1
        plain["ends"]["connectors"].setdefault(
            connector,
            {
                "order": len(plain["ends"]["connectors"]),
                "family": "SR16",
                "ways": 12,
                "name": "",
                "point": f"P{at}",
                "shell": "plug",
                "contact_gender": "socket",
                "stud": None,
            },
        )
        plain["ends"]["pinout"][ref] = {"order": order, "connector": connector, "cavity": str(count % 12 + 1)}

    def device(name: str, pins: dict[str, str], paths: dict[str, Any] | None = None) -> None:
        circuits["devices"][name] = {
            "order": len(circuits["devices"]),
            "name": name,
            "kind": "other",
            "pins": {p: {"order": i, "role": r, "name": ""} for i, (p, r) in enumerate(pins.items())},
            "paths": paths or {},
        }

    def join(refs: list[str]) -> None:
        cid = f"C{len(circuits['circuits'])}"
        circuits["circuits"][cid] = {
            "order": len(circuits["circuits"]),
            "name": "",
            "ends": {r: {"order": i} for i, r in enumerate(refs)},
        }

    groups = max(1, wires // 40)
    banks = groups if sources is None else min(sources, groups)
    ends: list[tuple[list[str], list[str]]] = [([], []) for _ in range(banks)]
    for g in range(groups):
        source, fuse = f"B{g % banks}", f"F{g}"
        if g < banks:
            device(source, {"+": "supply_out", "-": "ground"})
        device(
            fuse,
            {"in": "supply_in", "out": "supply_out"},
            {"1": {"order": 1, "from_pin": "in", "to_pin": "out", "kind": "fuse"}},
        )
        here = rng.randrange(points)
        own = (f"{source}.+", f"{source}.-") if g < banks else ()
        for ref in (*own, f"{fuse}.in", f"{fuse}.out"):
            place(ref, here if ref.startswith("B") else rng.randrange(points))
        fed, back = ends[g % banks]
        fed.append(f"{fuse}.in")
        if sources is None:
            join([f"{source}.+", *fed])
        loads = []
        for k in range(2):
            name = f"L{g}n{k}"
            device(name, {"+": "supply_in", "-": "ground"})
            at = rng.randrange(points)
            place(f"{name}.+", at)
            place(f"{name}.-", at)
            circuits["loads"][name] = {
                "order": len(circuits["loads"]),
                "device": name,
                "supply_pin": "+",
                "return_pin": "-",
                "current_a": round(rng.uniform(0.2, 2.0), 2),
                "service": "continuous",
            }
            loads.append(name)
        join([f"{fuse}.out", *(f"{x}.+" for x in loads)])
        back += [f"{x}.-" for x in loads]
        if sources is None:
            join([f"{source}.-", *back])
        made += 7
        signals = (wires // groups) - 7
        while signals > 0:
            count = 3 if rng.random() < 0.12 and signals >= 3 else 2
            refs = []
            for e in range(count):
                name = f"S{g}n{signals}e{e}"
                device(name, {"1": "signal"})
                place(f"{name}.1", rng.randrange(points))
                refs.append(f"{name}.1")
            join(refs)
            signals -= count if count > 2 else 1
            made += count if count > 2 else 1
    if sources is not None:
        for n, (fed, back) in enumerate(ends):
            join([f"B{n}.+", *fed])
            join([f"B{n}.-", *back])
    return plain


def many_ways(ways: int) -> dict[str, Any]:
    """One connector with this many signals, each to a sensor of its own."""
    plain = new_document("many ways", "motorsport")
    pins = {str(n): {"order": n, "role": "signal", "name": f"input {n}"} for n in range(1, ways + 1)}
    devices: dict[str, Any] = {"A1": {"order": 0, "name": "controller", "pins": pins}}
    points: dict[str, Any] = {"A1": {"order": 0}}
    family = next(
        (c, h.ways)
        for c, f in shipped_catalogue().connectors.items()
        for h in f.housings
        if c in ("CT60", "CM20", "MC22") and h.ways >= ways
    )
    connectors: dict[str, Any] = {
        "A1": {"order": 0, "family": family[0], "ways": family[1], "point": "A1", "shell": "plug"}
    }
    faces = shipped_catalogue().connectors[family[0]].housing(family[1])
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
