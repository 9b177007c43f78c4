"""The bench: quick calculators without a harness."""

from inkthread.core.bench.calculators import CALCULATORS, calculate
from inkthread.core.bench.fields import (
    SEVERAL,
    BenchAnswer,
    BenchError,
    BenchField,
    BenchLine,
    Calculator,
    choices_of,
)
from inkthread.core.bench.put import put_into
from inkthread.core.bench.wire import BenchCandidate, BenchWire, ReturnPath, reckon_wire

__all__ = [
    "CALCULATORS",
    "SEVERAL",
    "BenchAnswer",
    "BenchCandidate",
    "BenchError",
    "BenchField",
    "BenchLine",
    "BenchWire",
    "Calculator",
    "ReturnPath",
    "calculate",
    "choices_of",
    "put_into",
    "reckon_wire",
]
