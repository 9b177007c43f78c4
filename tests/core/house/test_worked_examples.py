"""Worked examples in docstrings, run; every public function of physics has one, and names its source."""

from __future__ import annotations

import doctest
import importlib
import inspect
import pkgutil

import pytest

import inkthread.core.physics
from inkthread.core import quantity
from inkthread.core.document import pin_ref

PHYSICS = [
    importlib.import_module(m.name)
    for m in pkgutil.iter_modules(inkthread.core.physics.__path__, "inkthread.core.physics.")
]
FUNCTIONS = [
    f
    for module in PHYSICS
    for name, f in inspect.getmembers(module)
    if callable(f) and not inspect.isclass(f) and not name.startswith("_") and f.__module__ == module.__name__
]


@pytest.mark.parametrize("module", [*PHYSICS, quantity, pin_ref], ids=lambda m: m.__name__)
def test_worked_examples_come_out(module):
    failed, tried = doctest.testmod(module)
    assert failed == 0
    assert tried > 0


@pytest.mark.parametrize("function", FUNCTIONS, ids=lambda f: f.__name__)
def test_a_function_of_physics_has_an_example_and_a_source(function):
    said = inspect.getdoc(function) or ""
    assert "Source" in said
    assert ">>>" in said
