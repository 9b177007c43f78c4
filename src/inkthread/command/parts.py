"""Commands about parts: what there is, what answers a need, one's own."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from inkthread.command.shared import BAD_INPUT, FINE, Parser, add_data, data_of, plain, print_json

PART_KINDS = (
    "connector", "contact", "seal", "accessory", "splice", "cover", "tool", "wire", "fuse", "breaker",
)  # fmt: skip


def add_parts_commands(catalogue: argparse.ArgumentParser) -> None:
    """``families``, ``connectors``, ``search``, ``add`` and ``export``."""
    parts = catalogue.add_subparsers(dest="what", required=True, parser_class=Parser)
    for what, run, text in (
        ("families", _families, "Wire families."),
        ("connectors", _families, "Connector families."),
        ("search", _search, "Parts that answer a need, and why others do not."),
        ("add", _add_parts, "Take parts of your own from a JSON or CSV file."),
        ("export", _export_parts, "Write your own parts to a JSON or CSV file."),
    ):
        command = parts.add_parser(what, help=text, description=text)
        command.set_defaults(run=run, what=what)
        add_data(command)
        command.add_argument("--json", action="store_true")
        if what in ("add", "export"):
            command.add_argument("file", type=Path)
        if what == "search":
            command.add_argument("need", nargs="*", help="like: sealed, 3 ways, 18 AWG thin wall, 125 C")
            command.add_argument("--kind", choices=PART_KINDS)
            command.add_argument("--ways", type=int)
            command.add_argument("--sealed", action="store_true")
            command.add_argument("--owned", action="store_true", help="only what owned tools can make")
            command.add_argument("--limit", type=int, default=20)


def stocked(data: Path) -> tuple[Any, Any, Any]:
    """The catalogue with the shop's own parts, those parts, and the tools owned. No database is made."""
    from inkthread.catalogue import shipped_catalogue
    from inkthread.core.catalogue.own import OwnParts, own_parts, with_own

    shipped = shipped_catalogue()
    if not data.is_file():
        return shipped, OwnParts(), {}
    from inkthread.storage import Shop
    from inkthread.storage.database import open_database

    engine = open_database(data)
    shop = Shop(engine)
    own, tools = own_parts(shop.parts()), {t["code"]: t for t in shop.tools()}
    engine.dispose()
    return with_own(shipped, own, ""), own, tools


def _families(arguments: argparse.Namespace) -> int:
    catalogue, _, _ = stocked(data_of(arguments))
    things: list[Any] = list(
        catalogue.wires.values() if arguments.what == "families" else catalogue.connectors.values()
    )
    if arguments.json:
        print_json([plain(t) for t in things])
    else:
        for t in things:
            print(f"{t.code:14} {t.name}, to {t.temperature_c:g} °C")
    return FINE


def _search(arguments: argparse.Namespace) -> int:
    from dataclasses import replace

    from inkthread.core.catalogue.search import find_parts, read_need

    catalogue, _, tools = stocked(data_of(arguments))
    need = read_need(catalogue, " ".join(arguments.need), arguments.kind)
    if arguments.ways is not None:
        need = replace(need, ways=arguments.ways)
    need = replace(
        need,
        sealed=True if arguments.sealed else need.sealed,
        owned_only=need.owned_only or arguments.owned,
    )
    answers = find_parts(catalogue, need, tools, max(arguments.limit, 1))
    if arguments.json:
        fields = (
            "kind", "code", "description", "family", "group", "ways", "sealed", "protection", "temperature_c",
            "voltage_v", "mm2", "od_mm", "current_a", "tools", "price", "mass_g",
        )  # fmt: skip
        print_json([{f: getattr(r, f) for f in fields} for r in answers.rows])
        return FINE
    for r in answers.rows:
        print(f"{r.code:14} {r.description}  {r.price:.2f}")
    print(f"{answers.count} found, {answers.rejected_count} would not do:")
    for r, why in answers.rejected[:10]:
        print(f"  {r.code:14} {why}")
    return FINE


def _add_parts(arguments: argparse.Namespace) -> int:
    from inkthread.core.catalogue.own import PartsError, parts_to_plain, read_parts
    from inkthread.storage import Shop
    from inkthread.storage.database import open_database
    from inkthread.storage.place import held

    catalogue, present, _ = stocked(data_of(arguments))
    try:
        own = read_parts(catalogue, arguments.file.read_bytes(), present)
    except PartsError as error:
        for p in error.problems:
            print(f"inkthread: {arguments.file}: {p.path}: {p.message} {p.remedy}", file=sys.stderr)
        print("inkthread: nothing was taken.", file=sys.stderr)
        return BAD_INPUT
    data = data_of(arguments)
    with held(data):
        engine = open_database(data)
        Shop(engine).keep_parts({k: v for k, v in parts_to_plain(own).items() if isinstance(v, list)})
        engine.dispose()
    codes = [*own.connectors, *own.tools, *own.splices, *own.wires]
    if arguments.json:
        print_json({"taken": codes})
    else:
        print(f"Taken: {', '.join(codes)}.")
    return FINE


def _export_parts(arguments: argparse.Namespace) -> int:
    from inkthread.core.catalogue.own import parts_to_csv, parts_to_plain

    _, own, _ = stocked(data_of(arguments))
    if arguments.file.suffix.lower() == ".csv":
        text = parts_to_csv(own.connectors.values(), own.tools.values())
    else:
        text = json.dumps(parts_to_plain(own), ensure_ascii=False, indent=1) + "\n"
    arguments.file.write_text(text, encoding="utf-8", newline="")
    return FINE
