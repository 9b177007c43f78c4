"""Commands about the work at the bench: the order of steps of a design file."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from inkthread.command.shared import BAD_INPUT, FINE, STOPS, opened, plain, print_json

Add = Callable[[str, Callable[[argparse.Namespace], int], str], argparse.ArgumentParser]


def add_work_commands(add: Add) -> None:
    """``plan build``, ``plan test``, ``board`` and ``book``."""
    command = add("plan", _plan, "Plan the work on a design file: its steps in order, or its tests.")
    command.add_argument("what", choices=("build", "test"))
    command.add_argument("file", type=Path)
    command.add_argument("--json", action="store_true")
    command.add_argument("--by", choices=("hand", "tester"), default="hand", help="of plan test")
    command.add_argument(
        "--at", type=float, default=20.0, metavar="C", help="of plan test: conductors in deg C"
    )
    command = add("board", _board, "Draw the board of a design file at 1:1, as SVG, PDF or DXF.")
    command.add_argument("file", type=Path)
    command.add_argument("out", type=Path, metavar="OUT.svg|pdf|dxf")
    command.add_argument(
        "--paper", default="one sheet", help="A4, A3, Letter or Tabloid: tiles; else one sheet"
    )
    command.add_argument(
        "--wide", type=float, metavar="MM", help="no wider than this: folded where it is longer"
    )
    command.add_argument(
        "--ruler", type=float, default=100.0, metavar="MM", help="what the printed ruler of 100 mm measures"
    )
    command = add("book", _book, "Print the book of a design file: every list, drawing and sheet, as a PDF.")
    command.add_argument("file", type=Path)
    command.add_argument("out", type=Path, metavar="OUT.pdf")
    command.add_argument("--paper", default="", help="A4 or Letter; the harness's own where none is named")
    command.add_argument(
        "--section", action="append", default=[], help="one section alone, as pinouts; may come again"
    )
    command = add("print", _print, "Print what one room has of a design file as sheets of paper, a PDF.")
    command.add_argument("file", type=Path)
    command.add_argument("--room", required=True, help="brief, circuits, route, wire, ends, cut and so on")
    command.add_argument("out", type=Path, metavar="OUT.pdf")
    command.add_argument("--paper", default="", help="A4 or Letter; the harness's own where none is named")


def _print(arguments: argparse.Namespace) -> int:
    """Print what a room has as sheets of paper."""
    from inkthread.exchange.book import sections_of
    from inkthread.exchange.pages import NoPaper

    try:
        arguments.section = sections_of(arguments.room)
    except NoPaper as error:
        print(f"inkthread: {error}", file=sys.stderr)
        return BAD_INPUT
    return _book(arguments)


def _plan(arguments: argparse.Namespace) -> int:
    if arguments.what == "test":
        from inkthread.command.prove import plan_of_tests

        return plan_of_tests(arguments)
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


def _board(arguments: argparse.Namespace) -> int:
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.build import CannotFold, board_of, folded
    from inkthread.core.evaluate import work_out
    from inkthread.exchange.board import NoBoard, board_dxf, board_pdf, board_svg

    worked = work_out(opened(arguments.file), shipped_catalogue())
    board, name = board_of(worked.rooms), worked.document.brief.name
    kind = arguments.out.suffix.lower()
    try:
        if arguments.wide is not None:
            board = folded(board, arguments.wide)
        if kind == ".pdf":
            arguments.out.write_bytes(board_pdf(board, name, arguments.paper, arguments.ruler))
        elif kind == ".dxf":
            arguments.out.write_text(board_dxf(board), encoding="utf-8")
        elif kind == ".svg":
            arguments.out.write_text(board_svg(board, name), encoding="utf-8")
        else:
            raise NoBoard(
                f"A board is not written as {kind or 'a file without an ending'}: name it .svg, .pdf or .dxf."
            )
    except (NoBoard, CannotFold) as error:
        print(f"inkthread: {error}", file=sys.stderr)
        return BAD_INPUT
    print(f"{board.width_mm:.0f} x {board.height_mm:.0f} mm, {arguments.out}")
    return FINE


def _book(arguments: argparse.Namespace) -> int:
    from datetime import UTC, datetime

    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.evaluate import work_out
    from inkthread.exchange.book import Book, book_pdf
    from inkthread.exchange.pages import NoPaper

    worked = work_out(opened(arguments.file), shipped_catalogue())

    def told(section: str, done: int, of: int) -> None:
        print(f"{done} of {of}  {section}", file=sys.stderr)

    try:
        book = Book(worked, arguments.file.name, datetime.now(UTC).date())
        arguments.out.write_bytes(book_pdf(book, arguments.section, arguments.paper, told))
    except NoPaper as error:
        print(f"inkthread: {error}", file=sys.stderr)
        return BAD_INPUT
    print(arguments.out)
    return FINE
