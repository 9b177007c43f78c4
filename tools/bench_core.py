"""What the core promises: a harness worked out anew and after an edit, growth, headroom, orders of ways."""

from __future__ import annotations

import resource
import subprocess
import sys
import time
import tracemalloc
from typing import Any

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.incremental import read_again
from inkthread.core.ends.adjacent import propose
from inkthread.core.evaluate import evaluate, work_out
from inkthread.core.headroom import headroom
from inkthread.core.memo import Memo
from inkthread.core.shop import EMPTY_SHOP
from inkthread.demo import demo_document
from tools.harnesses import many_ways, synthetic, with_a_housing_of

_ANEW_MS = {50: 8, 500: 70, 5000: 900, 15000: 3500}
_EDITED_MS = {500: 20, 5000: 250}
_LARKSPUR_MS = 15
_LARGE = {"points": 400, "sources": 12}
_GROWN = (500, 1500, 5000, 15000)
_GROWS_AT_MOST = 2.0
"""Time a wire at the largest, of that at the smallest: a step that is worse than linear comes to far more."""


def evaluation_times() -> bool:
    """Synthetic harnesses read anew: the best of a few. The peak of memory at 5,000 wires."""
    fine = True
    for wires, most_ms in _ANEW_MS.items():
        if wires > 5000:
            fine &= _memory_kept()  # before a larger one raises it
        took, count = _anew_s(synthetic(wires), 9 if wires <= 500 else 3 if wires <= 5000 else 1)
        fine &= took * 1000 <= most_ms
        print(f"evaluate {count:5d} wires: {took * 1000:7.1f} ms (at most {most_ms})")
    return fine


def _memory_kept() -> bool:
    document = parse_document(synthetic(5000))
    tracemalloc.start()
    evaluate(document, shipped_catalogue())
    peak = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    whole = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
    print(f"peak memory: {whole:.0f} MB of process (under 400), {peak:.0f} MB of it evaluating 5,000 wires")
    return whole < 400


def _anew_s(plain: dict[str, Any], times: int) -> tuple[float, int]:
    """The best time in s, nothing of it read before, and how many wires it has."""
    catalogue, best, wires = shipped_catalogue(), float("inf"), 0
    for _ in range(times):
        document = parse_document(plain)
        start = time.perf_counter()
        wires = evaluate(document, catalogue).tally.wires
        best = min(best, time.perf_counter() - start)
    return best, wires


def edit_times() -> bool:
    """A load's current changed between any two evaluations: the best of a few, and Larkspur's."""
    fine = True
    for what, plain, most_ms in [
        *((f"{wires} wires", synthetic(wires), ms) for wires, ms in _EDITED_MS.items()),
        ("Larkspur", demo_document("larkspur"), _LARKSPUR_MS),
    ]:
        took = _edited_s(plain)
        fine &= took * 1000 <= most_ms
        print(f"after one load's edit, {what}: {took * 1000:.1f} ms (at most {most_ms})")
    return fine


def _edited_s(plain: dict[str, Any], times: int = 9) -> float:
    catalogue = shipped_catalogue()
    document, memo = parse_document(plain), Memo()
    evaluate(document, catalogue, memo=memo)
    load = max(plain["circuits"]["loads"], key=lambda k: plain["circuits"]["loads"][k]["current_a"])
    best = float("inf")
    for n in range(times):
        loads = {**plain["circuits"]["loads"]}
        loads[load] = {**loads[load], "current_a": loads[load]["current_a"] + (0.01 if n % 2 else -0.01)}
        edited = {**plain, "circuits": {**plain["circuits"], "loads": loads}}
        document, plain = read_again(edited, plain, document), edited
        start = time.perf_counter()
        evaluate(document, catalogue, memo=memo)
        best = min(best, time.perf_counter() - start)
    return best


def rename_times(wires: int = 500, times: int = 12) -> bool:
    """Something called otherwise, which costs less than a load's current changed.

    One after the other, so that a slow moment of the machine is every one's.
    """
    plain = synthetic(wires)
    devices, connectors = plain["circuits"]["devices"], list(plain["ends"]["connectors"])
    device, circuit = list(devices)[50], list(plain["circuits"]["circuits"])[50]
    load = next(iter(plain["circuits"]["loads"]))
    edited = {
        "a device": ("circuits", "devices", device, "name"),
        "a pin": ("circuits", "devices", device, "pins", next(iter(devices[device]["pins"])), "name"),
        "a circuit": ("circuits", "circuits", circuit, "name"),
        "a connector": ("ends", "connectors", connectors[5], "name"),
        "the harness": ("brief", "name"),
        "a current": ("circuits", "loads", load, "current_a"),
    }
    catalogue = shipped_catalogue()
    document, memo = parse_document(plain), Memo()
    evaluate(document, catalogue, memo=memo)
    best_s = dict.fromkeys(edited, float("inf"))
    for n in range(times):
        for what, path in edited.items():
            before, plain = plain, _put(plain, path, 4.0 + n % 2 if what == "a current" else f"name {n}")
            document = read_again(plain, before, document)
            start = time.perf_counter()
            evaluate(document, catalogue, memo=memo)
            best_s[what] = min(best_s[what], time.perf_counter() - start)
    most_s = best_s.pop("a current")
    each = ", ".join(f"{what} {took_s * 1000:.1f}" for what, took_s in best_s.items())
    print(f"called otherwise, {wires} wires: {each} ms (at most {most_s * 1000:.1f}, a current)")
    return max(best_s.values()) <= most_s


def _put(plain: dict[str, Any], path: tuple[str, ...], value: object) -> dict[str, Any]:
    first, *rest = path
    return {**plain, first: _put(plain[first], tuple(rest), value) if rest else value}


def growth() -> bool:
    """Time a wire from 500 to 15,000 of them, with 400 points and 12 sources."""
    each: list[float] = []
    for wires in _GROWN:
        took, count = _anew_s(synthetic(wires, **_LARGE), 2 if wires <= 5000 else 1)
        each.append(took / count * 1e6)
        print(f"  {count:5d} wires over 400 points from 12 sources: {took:.2f} s, {each[-1]:.0f} us a wire")
    grows = each[-1] / each[0]
    print(f"time a wire at {_GROWN[-1]}, of that at {_GROWN[0]}: {grows:.2f} (at most {_GROWS_AT_MOST})")
    return grows <= _GROWS_AT_MOST


def headroom_time() -> bool:
    """What every fuse still takes, of Larkspur and of 1,000 wires."""
    fine = True
    asked = (("Larkspur", demo_document("larkspur"), 0.1), ("1,000 wires", synthetic(1000), 1.0))
    for what, plain, most_s in asked:
        took = float("inf")
        for _ in range(3):
            w = work_out(parse_document(plain), shipped_catalogue(), EMPTY_SHOP, Memo())
            start = time.perf_counter()
            headroom(w)
            took = min(took, time.perf_counter() - start)
        fine &= took <= most_s
        print(f"headroom, {what}: {took:.2f} s (at most {most_s})")
    return fine


def neighbours_time() -> bool:
    """A better order of the ways of a large connector, pins of every role on it."""
    roles = ("signal", "supply_in", "ground", "data", "sensor_return", "supply_out")
    fine = True
    for ways, most_s in ((60, 0.1), (128, 0.5)):
        catalogue = with_a_housing_of(ways) if ways > 60 else shipped_catalogue()
        plain = many_ways(ways, catalogue)
        for n, pin in enumerate(plain["circuits"]["devices"]["A1"]["pins"].values()):
            pin["role"] = roles[n * 7 % len(roles)]
        w = work_out(parse_document(plain), catalogue)
        start = time.perf_counter()
        better = propose(w.document, w.catalogue, w.circuits, "A1")
        took = time.perf_counter() - start
        fine &= better is not None and took <= most_s
        print(f"order of neighbours, {ways} ways: {took:.3f} s (at most {most_s})")
    return fine


def converting() -> bool:
    """The command that loads least, from start to end."""
    command = [sys.executable, "-m", "inkthread.cli", "convert", "18 AWG"]
    best = float("inf")
    for _ in range(3):
        start = time.perf_counter()
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL)
        best = min(best, time.perf_counter() - start)
    print(f"convert: {best:.2f} s (at most 0.25)")
    return best <= 0.25
