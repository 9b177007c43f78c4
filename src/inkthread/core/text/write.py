"""A harness written as text, so that reading it comes to the same harness.

What typed lines say is written as such lines. What they do not say stands under ``[also]``, found by reading
the lines back and comparing.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from typing import Any

from inkthread.core.catalogue import Catalogue, DeviceKind
from inkthread.core.circuits.kind_of_name import in_brackets
from inkthread.core.document.complete import lean, whole
from inkthread.core.text.read import HEADINGS, STATED, path_text, read_text
from inkthread.core.typed.grammar import ROLE_WORDS
from inkthread.core.typed.made import conditions_in_words

Plain = dict[str, Any]

_ROLES = {role: words for words, role in ROLE_WORDS.items()}


def write_text(plain: Plain, catalogue: Catalogue) -> str:
    """A design document as typed lines under headings."""
    document = whole(plain)
    lines = {
        "brief": _brief(document["brief"]),
        "zones": _zones(document),
        "circuits": [*_devices(document, catalogue), *_circuits(document)],
        "route": _route(document),
        "ends": _ends(document, catalogue),
        "wire": _wire(document["wire"]),
        "cables": _cables(document),
    }
    while True:
        text = _joined(lines)
        read = read_text(text, catalogue, says=False)
        if not read.problems:
            break
        # A line that is not understood as it was meant is said under [also] instead.
        refused = {p.text for p in read.problems}
        lines = {s: [line for line in typed if line not in refused] for s, typed in lines.items()}
    also = list(_rest(read.document or {}, document))
    return text if not also else _joined({**lines, "also": also})


def _joined(lines: dict[str, list[str]]) -> str:
    parts = [
        f"[{heading}]\n" + "".join(f"{line}\n" for line in lines[heading])
        for heading in HEADINGS
        if lines.get(heading)
    ]
    return "\n".join(parts)


def _entries(collection: Plain) -> list[tuple[str, Plain]]:
    return sorted(collection.items(), key=lambda kv: (float(kv[1]["order"]), kv[0]))


def _number(value: float) -> str:
    return f"{value:.12g}"


def _quoted(name: str) -> str:
    return f' "{name}"' if name and '"' not in name else ""


def _said(*parts: str) -> str:
    return ", ".join(p for p in parts if p)


def _brief(brief: Plain) -> list[str]:
    supply = [f"{_number(brief['supply_nominal_v'])} V"]
    for which in ("working", "least", "most"):
        volts = brief.get(f"supply_{which}_v")
        supply += [f"{which} {_number(volts)} V"] if volts is not None else []
    lines = [f"name {brief['name']}"]
    lines += [f"machine {brief['machine']}"] if brief.get("machine") else []
    lines.append(f"practice {brief['practice']}")
    lines += [f"job {brief['job']}"] if brief.get("job", "new") != "new" else []
    lines += [f"quantity {brief['quantity']}"] if brief.get("quantity", 1) != 1 else []
    lines.append(f"supply {', '.join(supply)}")
    lines += [f"altitude {_number(brief['altitude_m'])} m"] if brief.get("altitude_m") else []
    lines += [f"mass at most {_number(brief['mass_budget_g'])} g"] if brief.get("mass_budget_g") else []
    lines += _shown_in(brief)
    lines += [f"engine {brief['engine']}"] if brief.get("engine", "not said") != "not said" else []
    for rule_id, rule in _entries(brief["house_rules"]):
        why = f" because {rule['reason']}" if rule.get("reason") else ""
        lines.append(f"rule {rule_id} {_number(rule['value'])}{why}")
    for offer_id, offer in _entries(brief.get("ready_made", {})):
        price = f" at {_number(offer['price'])}" if offer["price"] else ""
        bought = ", bought" if offer["chosen"] else ""
        lines.append(
            f"ready-made {offer_id}{_quoted(offer['name'])} {_number(offer['length_mm'])} mm{price}{bought}"
        )
    return lines


def _shown_in(brief: Plain) -> list[str]:
    """Units, paper and money, where they are not the usual."""
    asked = (("units", "metric"), ("mass_unit", "g"), ("temperature_unit", "C"), ("paper", "A4"))
    words = [brief[name] for name, usual in asked if brief.get(name, usual) != usual]
    lines = [f"units {', '.join(words)}"] if words else []
    if brief.get("currency"):
        lines.append(f"money {brief['currency']}{' before' if brief.get('currency_first') else ''}")
    return lines


def _zones(document: Plain) -> list[str]:
    lines = []
    for zone_id, zone in _entries(document["brief"]["zones"]):
        least = f"{_number(zone['least_c'])} to " if zone.get("least_c") is not None else ""
        words = conditions_in_words(zone.get)
        sun = "sun" if zone.get("radiant_w_per_m2") == 1000 else ""
        said = _said(f"{least}{_number(zone['ambient_c'])} C", *words, sun, zone.get("fluids", ""))
        lines.append(f"{zone_id} = {zone['name']}, {said}")
    return lines


def _devices(document: Plain, catalogue: Catalogue) -> list[str]:
    circuits = document["circuits"]
    lines: list[str] = []
    for device_id, device in _entries(circuits["devices"]):
        kind = catalogue.kinds.get(device["kind"], catalogue.kinds["other"])
        loads = [load for _, load in _entries(circuits["loads"]) if load["device"] == device_id]
        sources = [source for _, source in _entries(circuits["sources"]) if source["device"] == device_id]
        usual = _is_usual(kind, device, loads, sources)
        label = in_brackets(catalogue, device["kind"] if device["kind"] in catalogue.kinds else "other")
        known = ["pins measured"] if device.get("pin_data") == "measured" else []
        said = ", ".join([label, *known, *([] if usual else ["no pins"]), "no end"])
        figures = _figures(device, loads, sources) if usual else ""
        leads = _leads(device)
        name = (
            device["name"]
            if re.fullmatch(r"[A-Za-z][A-Za-z -]*", device["name"])
            else _quoted(device["name"])
        )
        lines.append(
            " ".join(
                part.strip() for part in (device_id, name, f"({said})", _said(figures, leads)) if part.strip()
            )
        )
        if not usual:
            lines += _parts(device_id, device, loads, sources)
    return lines


def _is_usual(kind: DeviceKind, device: Plain, loads: list[Plain], sources: list[Plain]) -> bool:
    """Whether a device has what its kind brings, and nothing else."""
    pins = [(p, pin["role"], pin.get("name", "")) for p, pin in _entries(device["pins"])]
    paths = [(path["from_pin"], path["to_pin"], path["kind"]) for _, path in _entries(device["paths"])]
    drawn = [(load["supply_pin"], load["return_pin"]) for load in loads]
    return (
        pins == [(p.id, p.role, p.name) for p in kind.pins]
        and paths == [(p.from_pin, p.to_pin, p.kind) for p in kind.paths]
        and drawn == ([kind.load] if kind.load is not None else [])
        and len(sources) == (1 if kind.source is not None else 0)
    )


def _figures(device: Plain, loads: list[Plain], sources: list[Plain]) -> str:
    paths = list(device["paths"].values())
    coil = any(p["kind"] in ("relay", "contactor") for p in paths)
    said = [_drawn(load, coil=coil) for load in loads] + [_given(source, volts=False) for source in sources]
    for path in paths:
        if path.get("rating_a") and path.get("reason") == "as typed":
            said.append(f"{_number(path['rating_a'])} A")
        if path.get("contact_a") and (coil or path["kind"] == "switch"):
            said.append(f"contact {_number(path['contact_a'])} A")
        if path.get("out_v") and path["kind"] in ("regulator", "supply"):
            said.append(f"{_number(path['out_v'])} V")
    return _said(*said)


def _drawn(load: Plain, *, coil: bool = False) -> str:
    said = []
    if load.get("current_a"):
        said.append(f"{'coil ' if coil else ''}{_number(load['current_a'])} A")
    for what in ("peak", "inrush"):
        if load.get(f"{what}_a"):
            lasts = f" for {_number(load[f'{what}_s'])} s" if load.get(f"{what}_s") else ""
            said.append(f"{what} {_number(load[f'{what}_a'])} A{lasts}")
    if load.get("duty_percent", 100) != 100:
        cycle = f" of {_number(load['cycle_s'])} s" if load.get("cycle_s") else ""
        said.append(f"{_number(load['duty_percent'])} %{cycle}")
    if load.get("service", "continuous") != "continuous":
        said.append(load["service"])
    if load.get("rated_v"):
        said.append(f"{_number(load['rated_v'])} V")
    if load.get("least_v"):
        said.append(f"least {_number(load['least_v'])} V")
    if load.get("kind", "constant current") != "constant current":
        said.append(load["kind"])
    return _said(*said)


def _given(source: Plain, *, volts: bool) -> str:
    return _said(
        f"{_number(source['nominal_v'])} V" if volts and source.get("nominal_v") else "",
        f"{_number(source['capacity_ah'])} Ah" if source.get("capacity_ah") else "",
        f"fault {_number(source['fault_a'])} A" if source.get("fault_a") else "",
        f"limit {_number(source['limit_a'])} A" if source.get("limit_a") else "",
        f"fuse {_number(source['fuse_a'])} A" if source.get("fuse_a") else "",
        source.get("feed_gauge") or "",
    )


def _leads(device: Plain) -> str:
    said = [device.get("lead_gauge") or ""]
    said += [f"{_number(device['lead_mm'])} mm"] if device.get("lead_mm") else []
    return " ".join(["leads", *(figure for figure in said if figure)]) if any(said) else ""


def _parts(device_id: str, device: Plain, loads: list[Plain], sources: list[Plain]) -> list[str]:
    lines = [
        f"pin {device_id}.{pin_id} {_ROLES[pin['role']]}{_quoted(pin.get('name', ''))}"
        for pin_id, pin in _entries(device["pins"])
    ]
    for _, path in _entries(device["paths"]):
        said = _said(
            f"{_number(path['rating_a'])} A" if path.get("rating_a") else "",
            f"contact {_number(path['contact_a'])} A" if path.get("contact_a") else "",
            f"makes {_number(path['out_v'])} V" if path.get("out_v") else "",
            f"limit {_number(path['limit_a'])} A" if path.get("limit_a") else "",
            f"{_number(path['efficiency_percent'])} %" if path.get("efficiency_percent") else "",
            f"{_number(path['resistance_mohm'])} mohm" if path.get("resistance_mohm") else "",
            f"throw {path['throw']}" if path.get("throw") else "",
        )
        why = f" because {path['reason']}" if path.get("reason") else ""
        head = f"path {device_id}: {path['from_pin']} to {path['to_pin']} {path['kind']}"
        lines.append(f"{head} {said}".rstrip() + why)
    for load in loads:
        pins = f"{device_id}.{load['supply_pin']} to {device_id}.{load['return_pin']}"
        lines.append(f"load {pins} {_drawn(load)}".rstrip())
    for source in sources:
        pins = f"{device_id}.{source['supply_pin']} to {device_id}.{source['return_pin']}"
        lines.append(f"source {pins} {source['kind']} {_given(source, volts=True)}".rstrip())
    return lines


def _circuits(document: Plain) -> list[str]:
    lines = []
    for circuit_id, circuit in _entries(document["circuits"]["circuits"]):
        said = _said(
            *(ref for ref, _ in _entries(circuit["ends"])),
            f"family {circuit['family']}" if circuit.get("family") else "",
            circuit.get("threading") or "",
            "for later" if circuit.get("optional") else "",
            "left out" if not circuit.get("laid", True) else "",
        )
        lines.append(f"circuit {circuit_id}{_quoted(circuit.get('name', ''))}: {said}")
    return lines


def _route(document: Plain) -> list[str]:
    lines = []
    points, named = document["route"]["points"], set()
    for branch_id, branch in _entries(document["route"]["branches"]):
        ends = []
        for point in (branch["from_point"], branch["to_point"]):
            name = points.get(point, {}).get("name", "")
            bare = "" if point not in document["circuits"]["devices"] else ' ""'
            ends.append(f"{point}{_quoted(name) or bare}" if point not in named else point)
            named.add(point)
        said = [f"{_number(branch['length_mm'])} mm"]
        if branch.get("uncertainty_mm") is not None:
            said.append(f"± {_number(branch['uncertainty_mm'])} mm")
        if branch.get("slack_mm") is not None:
            said.append(f"slack {_number(branch['slack_mm'])} mm")
        if branch.get("measured", "tape") != "tape":
            said.append(branch["measured"])
        if branch.get("measured_on"):
            said.append(f"on {branch['measured_on']}")
        if branch.get("separators"):
            said.append("separators")
        if branch.get("support_mm") is not None:
            said.append(f"held every {_number(branch['support_mm'])} mm")
        if branch.get("apart_mm") is not None:
            said.append(f"kept apart {_number(branch['apart_mm'])} mm")
        if branch.get("sheath", "none") != "none":
            said.append("in a sheath" if branch["sheath"] == "sheath" else "enclosed")
        if branch.get("zone"):
            said.append(f"in {branch['zone']}")
        lines.append(f"{branch_id} = {ends[0]} {' '.join(said)} > {ends[1]}")
    return lines


def _ends(document: Plain, catalogue: Catalogue) -> list[str]:
    lines, meets = [], []
    pinout: dict[str, list[tuple[str, str]]] = {}
    for ref, entry in _entries(document["ends"]["pinout"]):
        pinout.setdefault(entry["connector"], []).append((entry["cavity"], ref))
    for connector_id, connector in _entries(document["ends"]["connectors"]):
        family = catalogue.connectors.get(connector["family"])
        said = [connector_id, connector["family"], f"{connector['ways']} way"]
        said += [f"at {connector['point']}"] if connector.get("point") else []
        if family is None or not family.loose:
            said += [connector["shell"], f"{connector['contact_gender']}s"]
        said += [f"stud {connector['stud']}"] if connector.get("stud") else []
        said += [f"keyed {connector['key']}"] if connector.get("key") else []
        said += [f"marked{_quoted(connector['mark'])}"] if connector.get("mark") else []
        said += ["turned over"] if connector.get("turned_over") else []
        said += ["panel"] if connector.get("panel") else []
        said += [f"({connector['name']})"] if connector.get("name") else []
        said += [f"{cavity}={ref}" for cavity, ref in pinout.get(connector_id, ())]
        lines.append(" ".join(said))
        meets += [f"{connector_id} meets {connector['meets']}"] if connector.get("meets") else []
        meets += [f"{connector_id} same as {connector['same_as']}"] if connector.get("same_as") else []
    return lines + meets


def _wire(wire: Plain) -> list[str]:
    lines = [f"family {wire['family']}"] if wire.get("family") else []
    lines += [f"also {code}" for code, _ in _entries(wire["also"])]
    lines += [wire["objective"]] if wire.get("objective", "least copper") != "least copper" else []
    lines += [f"scheme {wire['scheme']}"] if wire.get("scheme") else []
    lines += [
        f"colours {role}: {role_colour['colours']}" for role, role_colour in _entries(wire["role_colours"])
    ]
    lines += [
        f'colours "{words}": {circuit_colour["colours"]}'
        for words, circuit_colour in _entries(wire["circuit_colours"])
    ]
    for key, fixed in _entries(wire["fixed"]):
        said = _said(
            fixed.get("gauge") or "",
            f"colour {fixed['colour']}" if fixed.get("colour") else "",
            f"family {fixed['family']}" if fixed.get("family") else "",
        )
        why = f" because {fixed['reason']}" if fixed.get("reason") else ""
        lines.append(f"fix {key} {said}{why}")
    return lines


def _cables(document: Plain) -> list[str]:
    lines = []
    for group_id, group in _entries(document["circuits"]["groups"]):
        members = ", ".join(c for c, _ in _entries(group["members"]))
        said = _said(
            members,
            f"shield {group['shield']}" if group.get("shield") else "",
            group["shield_rule"] if group.get("shield") else "",
            f"open at {group['shield_open']}" if group.get("shield_open") else "",
            f"family {group['family']}" if group.get("family") else "",
            f"lay {_number(group['lay_mm'])} mm" if group.get("lay_mm") else "",
        )
        lines.append(f"{group['kind']} {group_id}{_quoted(group.get('name', ''))}: {said}")
    return lines


def _rest(read: Plain, document: Plain) -> Iterable[str]:
    """What lines did not say: values that differ, entries that are missing or too many, and orders."""
    have, want = lean(read), lean(document)
    for room in STATED:
        yield from _differences(have.get(room, {}), want.get(room, {}), (room,))
    for room in STATED:
        yield from _orders(have.get(room, {}), want.get(room, {}), (room,))


def _differences(have: Plain, want: Plain, path: tuple[str, ...]) -> Iterable[str]:
    for key, value in want.items():
        at = (*path, key)
        if key == "order" and len(path) > 1:
            continue
        if key not in have:
            yield f"{path_text(at)} = {json.dumps(value, ensure_ascii=False)}"
        elif isinstance(value, dict) and isinstance(have[key], dict):
            yield from _differences(have[key], value, at)
        elif have[key] != value:
            yield f"{path_text(at)} = {json.dumps(value, ensure_ascii=False)}"
    for key in have:
        if key not in want and key != "order":
            yield f"remove {path_text((*path, key))}"


def _orders(have: Plain, want: Plain, path: tuple[str, ...]) -> Iterable[str]:
    """Collections whose entries would stand in another order."""
    entries = {k: v for k, v in want.items() if isinstance(v, dict) and "order" in v}
    if entries and len(entries) == len(want):
        wanted = [k for k, _ in _entries(entries)]
        # What is added under [also] brings its own order along.
        known = {k: {"order": have[k]["order"] if k in have else v["order"]} for k, v in entries.items()}
        if [k for k, _ in _entries(known)] != wanted:
            yield f"order {path_text(path)}: {' '.join(wanted)}"
    for key, value in want.items():
        if isinstance(value, dict):
            yield from _orders(have.get(key, {}), value, (*path, key))
