"""How fast the machine is just now, and what others take of it."""

from __future__ import annotations

import time
from pathlib import Path


def machine_speed() -> None:
    """How fast the machine is just now: shared machines vary by several times within an hour."""
    start = time.perf_counter()
    total = 0
    for n in range(1_000_000):
        total += n * n
    print(f"this machine just now: a million additions in {(time.perf_counter() - start) * 1000:.0f} ms")


def processor_ticks() -> list[int]:
    """Ticks of the processor since it began, by what they went to; none where they are not told."""
    try:
        return [int(x) for x in Path("/proc/stat").read_text(encoding="ascii").split("\n")[0].split()[1:]]
    except OSError:
        return []


def taken_by_others(before: list[int]) -> None:
    """What other machines on the same hardware took meanwhile: with more than a tenth, times mean little."""
    now = processor_ticks()
    if len(now) > 7 and len(before) > 7:
        spent = [b - a for a, b in zip(before, now, strict=True)]
        print(f"others on this hardware took {spent[7] / max(sum(spent), 1):.0%} of its time meanwhile")
