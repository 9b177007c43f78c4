"""A kind of device made from one device as the builder has put it in."""

from __future__ import annotations

import re
from typing import Any

from inkthread.core.catalogue import Catalogue
from inkthread.core.document.draft import LineError
from inkthread.core.document.pin_ref import device_of

_MOST_WORDS = 12


def kind_from_device(
    plain: dict[str, Any], catalogue: Catalogue, device_id: str, label: str, words: str
) -> tuple[str, dict[str, Any]]:
    """Id and plain data of a kind with the pins, paths, load, source and connector of a device.

    ``words`` are those that name it in a typed line, between commas; its label is one of them. Raises
    LineError.
    """
    device = plain["circuits"].get("devices", {}).get(device_id)
    if device is None:
        raise LineError(f"There is no device {device_id!r}.")
    label = " ".join(label.split())
    if not re.search(r"[A-Za-z]{2}", label) or len(label) > 60:
        raise LineError("Name the kind in a word or two, like twin horn.")
    named = [label.lower(), *(w.strip().lower() for w in words.split(",") if w.strip())]
    if len(named) > _MOST_WORDS:
        raise LineError(f"{len(named)} words are more than a kind needs. Keep the {_MOST_WORDS} best.")
    kind_id = "own-" + re.sub(r"[^a-z0-9]+", "-", label.lower()).strip("-")[:36]
    pins = sorted(device["pins"].items(), key=lambda kv: float(kv[1]["order"]))
    paths = sorted(device.get("paths", {}).values(), key=lambda p: float(p["order"]))
    load = next(
        (load for load in plain["circuits"].get("loads", {}).values() if load["device"] == device_id), None
    )
    source = next(
        (source for source in plain["circuits"].get("sources", {}).values() if source["device"] == device_id),
        None,
    )
    connector = _connector(plain, device_id)
    data: dict[str, Any] = {
        "label": label,
        "group": "your own",
        "prefix": re.match(r"[A-Za-z]*", device_id)[0].upper()[:1] or "X",  # type: ignore[index]
        "words": list(dict.fromkeys(named)),
        "pins": [
            {
                "id": p,
                "role": pin["role"],
                "name": pin.get("name", ""),
                "switching": pin.get("switching", "not said"),
            }
            for p, pin in pins
        ],
        "paths": [
            {
                "from_pin": p["from_pin"],
                "to_pin": p["to_pin"],
                "kind": p.get("kind", "link"),
                "contact_a": p.get("contact_a"),
                "out_v": p.get("out_v"),
                "efficiency_percent": p.get("efficiency_percent"),
                "throw": p.get("throw", ""),
            }
            for p in paths
        ],
        "load": [load["supply_pin"], load["return_pin"]] if load else None,
        "connector": connector.get("family") or next(iter(catalogue.connectors)),
        "structure": bool(device.get("structure")),
        "stud": connector.get("stud"),
    }
    if load:
        data["load_kind"] = load.get("kind", "constant current")
        current = float(load["current_a"])
        for what in ("peak", "inrush"):
            if current > 0 and load.get(f"{what}_a"):
                data[f"{what}_times"] = round(float(load[f"{what}_a"]) / current, 4)
                data[f"{what}_s"] = load.get(f"{what}_s")
    if source:
        data["source"] = {
            "kind": source.get("kind", "battery"),
            "internal_mohm": source.get("internal_mohm"),
        }
    return kind_id, data


def _connector(plain: dict[str, Any], device_id: str) -> dict[str, Any]:
    """The connector that meets most of a device's pins."""
    used: dict[str, int] = {}
    for ref, entry in plain["ends"].get("pinout", {}).items():
        if device_of(ref) == device_id:
            used[entry["connector"]] = used.get(entry["connector"], 0) + 1
    if not used:
        return {}
    connector: dict[str, Any] = plain["ends"]["connectors"].get(max(used, key=lambda c: (used[c], c)), {})
    return connector
