"""The running program answers every operation of its contract as the contract says, whatever is sent."""

from __future__ import annotations

from tools.fuzz import contract_calls, program

from tests.program import CONTRACT

FEW = ("--phases", "fuzzing", "--max-examples", "2")
SLOWEST_S = 8.0
"""Beside other tests; how quick it is by itself is measured by make faults."""


def test_calls_of_every_sort_are_answered_as_published(tmp_path):
    with program(tmp_path) as address:
        calls, amiss = contract_calls(address, tmp_path, None, *FEW, slowest_s=SLOWEST_S)
    assert not amiss, amiss[-4000:]
    assert calls >= sum(len(operations) for operations in CONTRACT.values())
