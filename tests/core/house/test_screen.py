"""The screen's house: no module needs itself, rooms need no other room, and sizes are tokens."""

from __future__ import annotations

import re
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

SCREEN = Path(__file__).parents[3] / "frontend/src"
MODULES = sorted(p for p in SCREEN.rglob("*.ts*") if not p.name.endswith(".d.ts"))
_IMPORT = re.compile(r"^\s*(?:import|export)\b[^;]*?\bfrom \"(\.[^\"]+)\"", re.MULTILINE)


def _needs(module: Path) -> set[Path]:
    """Modules of the screen that a module imports."""
    needed = set()
    for written in _IMPORT.findall(module.read_text()):
        target = (module.parent / written).resolve()
        candidates = [target, *(target.with_name(target.name + end) for end in (".ts", ".tsx"))]
        found = [x for x in candidates if x.is_file()]
        if SCREEN in target.parents:
            assert found, f"{module.relative_to(SCREEN)} imports {written}, which is nowhere"
            needed.add(found[0])
    return needed


def test_no_module_needs_itself() -> None:
    graph = {module: _needs(module) for module in MODULES}
    assert sum(map(len, graph.values())) > 200
    try:
        list(TopologicalSorter(graph).static_order())
    except CycleError as error:
        pytest.fail(" needs ".join(str(p.relative_to(SCREEN)) for p in error.args[1]))


def test_only_the_harness_page_needs_rooms() -> None:
    rooms = SCREEN / "rooms"
    for module in MODULES:
        for needed in _needs(module):
            if rooms not in needed.parents:
                continue
            room = needed.relative_to(rooms).parts[0]
            inside = rooms in module.parents and module.relative_to(rooms).parts[0] == room
            assert inside or module.name in ("HarnessPage.tsx",), f"{module.name} needs {needed.name}"


@pytest.mark.parametrize("module", MODULES, ids=lambda p: str(p.relative_to(SCREEN)))
def test_a_module_is_read_at_once_and_takes_its_sizes_from_tokens(module: Path) -> None:
    text = module.read_text()
    assert text.count("\n") <= 500
    assert not re.search(r"\btext-\[|\btext-(?:xs|sm|lg|xl|\dxl)\b", text)
