"""A pin by its name: ``M1.+`` is pin ``+`` of device ``M1``. A path inside a device is named alike."""

from __future__ import annotations

from typing import NamedTuple


class PinRef(NamedTuple):
    """A device's id and the pin's, or the path's, on it."""

    device: str
    pin: str


def read_ref(ref: str) -> PinRef:
    """Both parts of ``device.pin``. No device's id has a dot in it; without one the pin is empty.

    >>> read_ref("M1.+")
    PinRef(device='M1', pin='+')
    """
    device, _, pin = ref.partition(".")
    return PinRef(device, pin)


def device_of(ref: str) -> str:
    """The device of ``device.pin``.

    >>> device_of("M1.+")
    'M1'
    """
    return ref.partition(".")[0]


def pin_of(ref: str) -> str:
    """The pin of ``device.pin``."""
    return ref.partition(".")[2]
