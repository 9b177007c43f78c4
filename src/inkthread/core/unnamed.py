"""A harness without the names of its things: what a name decides nothing of is worked out from this, so
that calling a thing otherwise leaves it as it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from operator import is_
from typing import TypeVar

from inkthread.core.document.choices import Connector
from inkthread.core.document.types import Circuit, Device, DevicePin, Document
from inkthread.core.memo import Memo, alike
from inkthread.core.record import altered

T = TypeVar("T")

APART = "\n"
"""Between the words of a name that decide something: no two of them are read as one."""


def unnamed(document: Document, deciding: tuple[str, ...], memo: Memo) -> Document:
    """The document with devices, circuits, connectors and pins called nothing: the same objects as last time
    where nothing else of them changed.

    Of a device's name the words stay that are ``deciding``, of a circuit's those that choose its colour.
    Pins that carry data keep theirs, which tells one line of a pair from the other.
    """
    colouring = {word for words in document.wire.circuit_colours for word in words.split()}

    def circuit(own: Circuit) -> Circuit:
        return altered(own, name=" ".join(w for w in own.name.lower().split() if w in colouring))

    def device(own: Device) -> Device:
        called = own.name.lower()
        pins = {k: _unnamed_pin(pin) for k, pin in own.pins.items()}
        return altered(own, name=APART.join(w for w in deciding if w in called), pins=pins)

    circuits, ends = document.circuits, document.ends
    return replace(
        document,
        circuits=replace(
            circuits,
            devices=_each(circuits.devices, device, deciding, memo, Device),
            circuits=_each(circuits.circuits, circuit, colouring, memo, Circuit),
        ),
        ends=replace(ends, connectors=_each(ends.connectors, _unnamed_connector, None, memo, Connector)),
    )


def _unnamed_pin(pin: DevicePin) -> DevicePin:
    return pin if pin.role == "data" or not pin.name else altered(pin, name="")


def _unnamed_connector(connector: Connector) -> Connector:
    return altered(connector, name="")


def _each(
    things: dict[str, T], without: Callable[[T], T], by: object, memo: Memo, kind: type[T]
) -> dict[str, T]:
    """All of them ``without`` their names, which hangs on nothing but the thing and ``by``."""
    known: tuple[object, dict[str, T], dict[str, T]] = memo.last((unnamed, kind)) or (None, {}, {})
    before, bare_before = (known[1] if known[0] == by else {}), known[2]
    if things is before:
        return bare_before
    bare: dict[str, T] = {}
    for key, thing in things.items():
        last = bare_before.get(key)
        if last is None or before.get(key) is not thing:
            new = without(thing)
            last = last if last is not None and alike(last, new) else new
        bare[key] = last
    if list(bare) == list(bare_before) and all(map(is_, bare.values(), bare_before.values())):
        bare = bare_before
    memo.put_down((unnamed, kind), (by, things, bare))
    return bare
