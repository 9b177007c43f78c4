"""Commands about the work at the bench: the order of steps of a design file."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import Any

from inkthread.command.shared import FINE, STOPS, opened, plain, print_json

Add = Callable[[str, Callable[[argparse.Namespace], int], str], argparse.ArgumentParser]


def add_work_commands(add: Add) -> None:
    """``plan build``."""
    command = add("plan", _plan, "Plan the work on a design file: its steps in order, on cards.")
    command.add_argument("what", choices=("build",))
    command.add_argument("file", type=Path)
    command.add_argument("--json", action="store_true")


def _plan(arguments: argparse.Namespace) -> int:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.build import plan_build, steps_of
    from inkthread.core.evaluate import work_out

    worked = work_out(opened(arguments.file), shipped_catalogue())
    planned = plan_build(worked.rooms, steps_of(worked.rooms))
    if arguments.json:
        steps: list[dict[str, Any]] = [plain(planned.operations[step]) for step in planned.order]
        print_json(
            {
                "minutes": planned.minutes,
                "settings": planned.settings,
                "steps": steps,
                "cards": [plain(card) for card in planned.cards],
                "broken": [plain(broken) for broken in planned.broken],
                "left_out": list(planned.left_out),
            }
        )
    else:
        for card in planned.cards:
            print(f"{card.kind} {card.title}, {card.minutes:g} min")
            for step in card.steps:
                own = planned.operations[step]
                print(f"    {own.words}{f'  ({own.look})' if own.look else ''}")
        for broken in planned.broken:
            how = "is left out" if broken.left_out else "comes later"
            print(f"stop     {broken.step} waits for {broken.waits_for}, which {how}.")
        print(f"{len(planned.order)} steps on {len(planned.cards)} cards, {planned.minutes:.0f} min.")
    return STOPS if planned.broken else FINE
