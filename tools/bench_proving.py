"""What proving promises: the plan of tests in time, random faults found from readings, in time."""

from __future__ import annotations

import random
import time
from statistics import median

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.core.prove import judge, plan_tests
from inkthread.demo import demo_document
from tools.harnesses import synthetic
from tools.spoiled import readings_of, said_as_faults, same_set, spoil

CASES = 500


def plan_time() -> bool:
    """The tests of 500 wires in 200 ms."""
    rooms = work_out(parse_document(synthetic(500)), shipped_catalogue()).rooms
    best = 1e9
    for _ in range(5):
        start = time.perf_counter()
        plan = plan_tests(rooms)
        best = min(best, (time.perf_counter() - start) * 1000)
    wires = len(plan.harness.wires)
    print(f"plan of tests, {wires} wires: {best:.0f} ms (at most 200), {len(plan.rows)} rows")
    return best <= 200


def diagnosis() -> bool:
    """One to three faults in Larkspur's circuits: 95 % of 500 named first, or as likely as the first and told
    apart by what is read next; each in 300 ms.
    """
    worked = work_out(parse_document(demo_document("larkspur")), shipped_catalogue())
    plan = plan_tests(worked.rooms, by="tester")
    chance = random.Random(20)
    right, took = 0, []
    for n in range(CASES):
        told, named = spoil(plan, chance, 1 + n % 3)
        readings = readings_of(plan, told, seed=n)
        start = time.perf_counter()
        sets = judge(plan, readings, worked.catalogue.proofs).explanations
        took.append((time.perf_counter() - start) * 1000)
        first = [s for s in sets if s.likelihood >= 0.9 * sets[0].likelihood]
        right += any(same_set(named, said_as_faults(s)) and (len(first) == 1 or s.next) for s in first)
    late = sum(ms > 300 for ms in took)
    circuits = len(plan.harness.circuits)
    print(
        f"diagnosis, {circuits} circuits, {CASES} cases: {right / CASES:.1%} right (at least 95 %); "
        f"{median(took):.0f} ms, longest {max(took):.0f} ms (at most 300), {late} later"
    )
    return right >= 0.95 * CASES and late == 0
