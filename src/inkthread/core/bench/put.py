"""An answer of the bench put into a harness: the feed, bus or wire that was asked about."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Any

from inkthread.core.bench.calculators import CALCULATORS, calculate
from inkthread.core.bench.fields import BenchError, Inputs
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits.joining import circuit_of, join_pins
from inkthread.core.circuits.lines import feed_line
from inkthread.core.circuits.new_device import add_device
from inkthread.core.document.complete import complete, whole
from inkthread.core.document.draft import Draft, free_id, next_order
from inkthread.core.quantity import QuantityError, parse_gauge
from inkthread.core.route.lines import route_line

_FUSE_FROM_SOURCE_MM = 100.0
_SHORT_RUN_MM = 1000.0
"""A harness begun from the bench: where its fuse lies, and a run of which nobody said how long it is."""
_REASON = "from the bench"


def put_into(
    plain: dict[str, Any], catalogue: Catalogue, calculator: str, given: Mapping[str, str]
) -> list[dict[str, Any]]:
    """Operations that put what was asked into a harness. Raises BenchError or QuantityError.

    A feed goes from the harness's first source (a new battery where it has none) through a fuse of its
    own to a new load and back, as long as was asked; the gauge that was asked about is fixed.
    """
    if not CALCULATORS[calculator].puts:
        raise BenchError(
            CALCULATORS[calculator].fields[0].name, "This answer has no place of its own in a harness."
        )
    calculate(catalogue, calculator, given)  # What has no answer is not put in.
    return complete(plain, _put(whole(plain), catalogue, calculator, given))


def _put(
    plain: dict[str, Any], catalogue: Catalogue, calculator: str, given: Mapping[str, str]
) -> list[dict[str, Any]]:
    inputs = Inputs(catalogue, CALCULATORS[calculator].fields, given)
    if calculator == "bus":
        return _bus(plain, catalogue, inputs)
    gauge: str | None = None
    if calculator == "convert":
        try:
            gauge = parse_gauge(inputs.text("text")).name
        except QuantityError:
            raise BenchError(
                "text", "Only a gauge can be put into a harness. Write 18 AWG or 0.75 mm2."
            ) from None
        return _feed(plain, catalogue, inputs, current_a=0.0, gauge=gauge)
    current_a = (
        inputs.number("amps") if _asks(calculator, "amps") else _may_carry_a(catalogue, calculator, given)
    )
    if _has(inputs, calculator, "gauge"):
        gauge = parse_gauge(inputs.text("gauge")).name
    return _feed(plain, catalogue, inputs, current_a=current_a, gauge=gauge, calculator=calculator)


def _asks(calculator: str, name: str) -> bool:
    return any(f.name == name for f in CALCULATORS[calculator].fields)


def _has(inputs: Inputs, calculator: str, name: str) -> bool:
    return _asks(calculator, name) and inputs.has(name)


def _may_carry_a(catalogue: Catalogue, calculator: str, given: Mapping[str, str]) -> float:
    """The ampacity that was answered: the load that uses the wire to the full."""
    return float(calculate(catalogue, calculator, given).figures["ampacity_a"])


def _feed(
    plain: dict[str, Any],
    catalogue: Catalogue,
    inputs: Inputs,
    *,
    current_a: float,
    gauge: str | None,
    calculator: str = "convert",
) -> list[dict[str, Any]]:
    devices = plain["circuits"].get("devices", {})
    sources = sorted(plain["circuits"].get("sources", {}).values(), key=lambda s: float(s["order"]))
    source = str(sources[0]["device"]) if sources else free_id("B", devices)
    fuse, load = free_id("F", devices), free_id("M", devices)
    first = source if sources else f"{source} battery"
    line = f"{first} > {fuse} fuse > {load} load from the bench {current_a:.6g} A > {source}"
    draft = feed_line(plain, catalogue, line)
    operations = list(draft.operations)
    length = inputs.number("length") if _has(inputs, calculator, "length") else _SHORT_RUN_MM
    near = min(_FUSE_FROM_SOURCE_MM, length / 2)
    draft = route_line(draft.plain, f"{source} {near:.6g} mm > {fuse} {length - near:.6g} mm > {load}")
    operations += draft.operations
    draft = Draft(draft.plain)
    entry = draft.at("circuits", "loads", load)
    for field, value in _load_fields(inputs, calculator).items():
        if value is not None:
            draft.put(value, "circuits", "loads", load, field)
    assert entry["device"] == load
    if _has(inputs, calculator, "rating"):
        path = next(iter(draft.at("circuits", "devices", fuse, "paths")))
        draft.put(inputs.number("rating"), "circuits", "devices", fuse, "paths", path, "rating_a")
        draft.put(_REASON, "circuits", "devices", fuse, "paths", path, "reason")
    if _has(inputs, calculator, "volts") and not devices:
        draft.put(inputs.number("volts"), "brief", "supply_working_v")
    if _has(inputs, calculator, "ambient"):
        _zone(draft, inputs.number("ambient"), (fuse, load))
    family = inputs.text("family") if _has(inputs, calculator, "family") else None
    back = entry["return_pin"]
    for ref in (f"{fuse}.out", f"{load}.{back}"):
        circuit = circuit_of(draft, ref)
        if circuit is None or len(draft.at("circuits", "circuits", circuit, "ends")) != 2:
            continue
        if family is not None:
            draft.put(family, "circuits", "circuits", circuit, "family")
        if gauge is not None:
            fixed = draft.at("wire", "fixed")
            draft.put(
                {
                    "order": next_order(fixed),
                    "reason": _REASON,
                    "gauge": gauge,
                    "colour": None,
                    "family": None,
                },
                "wire",
                "fixed",
                circuit,
            )
    return operations + draft.operations


def _load_fields(inputs: Inputs, calculator: str) -> dict[str, Any]:
    fields: dict[str, Any] = {}
    if _has(inputs, calculator, "service"):
        fields["service"] = inputs.text("service")
    if calculator == "fuse":
        fields["inrush_a"], fields["inrush_s"] = inputs.optional("inrush"), inputs.optional("inrush_time")
    if calculator == "short-time":
        rest = inputs.optional("rest")
        fields["peak_a"], fields["peak_s"] = inputs.number("amps"), inputs.number("seconds")
        fields["current_a"] = rest if rest is not None else 0.0
        if inputs.has("repeats"):
            fields["peak_repeats"] = int(inputs.number("repeats"))
        fields["peak_pause_s"] = inputs.optional("pause")
    return fields


def _zone(draft: Draft, ambient_c: float, points: tuple[str, ...]) -> None:
    zones = draft.at("brief", "zones")
    same = next((z for z, zone in zones.items() if zone["ambient_c"] == ambient_c), None)
    if same is None:
        same = free_id("bench-", zones)
        draft.put(
            {"order": next_order(zones), "name": f"{ambient_c:g} °C", "ambient_c": ambient_c},
            "brief",
            "zones",
            same,
        )
    for branch_id, branch in draft.at("route", "branches").items():
        if branch["to_point"] in points and branch.get("zone") is None:
            draft.put(same, "route", "branches", branch_id, "zone")


def _bus(plain: dict[str, Any], catalogue: Catalogue, inputs: Inputs) -> list[dict[str, Any]]:
    """Nodes one after another along the length, the terminators in the first and the last."""
    draft = Draft(plain)
    count = max(int(inputs.optional("nodes") or 2), 2)
    kind = catalogue.kinds["node"]
    pins = [p.id for p in kind.pins if p.role == "data"]
    nodes: list[str] = []
    for n in range(count):
        node = free_id("A", draft.at("circuits", "devices"))
        add_device(draft, catalogue, node, f"node {n + 1}", "node")
        # Nothing was asked of what it draws.
        for load_id in [k for k, load in draft.at("circuits", "loads").items() if load["device"] == node]:
            draft.drop("circuits", "loads", load_id)
        nodes.append(node)
    for before, after in pairwise(nodes):
        for pin in pins:
            join_pins(draft, f"{before}.{pin}", f"{after}.{pin}")
    circuits = dict.fromkeys(str(circuit_of(draft, f"{nodes[0]}.{pin}")) for pin in pins)
    buses = draft.at("circuits", "buses")
    draft.put(
        {
            "order": next_order(buses),
            "standard": inputs.text("standard"),
            "name": _REASON,
            "circuits": {c: {"order": float(n)} for n, c in enumerate(circuits)},
            "terminators": {n: {"order": float(i)} for i, n in enumerate((nodes[0], nodes[-1]))},
        },
        "circuits",
        "buses",
        free_id("BUS", buses),
    )
    apart = inputs.number("length") / (count - 1)
    run = f" {apart:.6g} mm > ".join(nodes)
    return draft.operations + route_line(draft.plain, run).operations
