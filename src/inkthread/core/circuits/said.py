"""What a typed name says of a device besides its name: ``water pump 7 A, peak 14 A for 2 s``."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any

from inkthread.core.catalogue import DeviceKind
from inkthread.core.document.draft import Draft, LineError
from inkthread.core.document.values import CONVERTING, PROTECTIVE
from inkthread.core.quantity import (
    QuantityError,
    parse_capacity_ah,
    parse_current_a,
    parse_percent,
    parse_power_w,
    parse_time_s,
    parse_voltage_v,
)

_NUMBER = r"\d+(?:[.,]\d+)?"
_AMOUNT = rf"(?:\d+\s*[x×]\s*)?{_NUMBER}\s*(?:m?a|amps?|m?w|kw|watts?)\b"
_TIME = rf"{_NUMBER}\s*(?:ms|s|sec|seconds?|min|minutes?|h|hours?)\b"
_GAP = r"(?:^|(?<=[\s,;]))"
_PEAK = r"(?:peaks?|stalls?|stalled|starting|cranking)"
_FOR = rf"(?:\s*(?:for|in)\s*(?P<time>{_TIME}))"

_EVERY = r"(?:in|of|every)\s*(?:every\s*|each\s*)?"
_CYCLE = rf"(?:\s*(?:of|in|every)\s*(?:a\s*)?(?P<time>{_TIME})(?:\s*(?:cycle|turn)s?)?)"

_CLAUSES = (
    ("settles", rf"(?P<high>{_AMOUNT}){_FOR}[\s,;]*(?:then|and then)\s+(?P<amount>{_AMOUNT})"),
    ("peak", rf"{_PEAK}\s+(?:at\s+|to\s+)?(?P<amount>{_AMOUNT}){_FOR}?"),
    ("peak", rf"(?P<amount>{_AMOUNT})\s+{_PEAK}{_FOR}?"),
    ("inrush", rf"inrush\s+(?:of\s+)?(?P<amount>{_AMOUNT}){_FOR}?"),
    ("inrush", rf"(?P<amount>{_AMOUNT})\s+inrush{_FOR}?"),
    ("turns", rf"(?P<amount>{_TIME})\s*(?:on\s*)?{_EVERY}(?P<time>{_TIME}|hour|minute)"),
    ("duty", rf"(?:at\s+)?(?P<amount>{_NUMBER}\s*%)(?:\s*(?:duty|of the time))?{_CYCLE}?"),
    ("capacity", rf"(?P<amount>{_NUMBER}\s*m?ah\b)"),
    ("service", r"(?P<amount>intermittent|continuous)"),
    ("current", rf"(?P<amount>{_AMOUNT})"),
)
_AT_END = tuple((what, re.compile(rf"{_GAP}{text}[\s,;]*$", re.IGNORECASE)) for what, text in _CLAUSES)
_INSIDE = re.compile(rf"{_GAP}{_AMOUNT}", re.IGNORECASE)
_VOLTS = re.compile(rf"{_GAP}({_NUMBER}\s*v)\b", re.IGNORECASE)

_COIL_MOST_A = {"relay": 2.0, "contactor": 20.0}
"""No coil of such a device draws as much: above it, what is typed is what its contacts may carry (common
practice, no source)."""


@dataclass(frozen=True, slots=True)
class Said:
    """What was said of a device, in A, s, percent, Ah, V; None where nothing was."""

    current_a: float | None = None
    peak_a: float | None = None
    peak_s: float | None = None
    inrush_a: float | None = None
    inrush_s: float | None = None
    duty_percent: float | None = None
    cycle_s: float | None = None
    capacity_ah: float | None = None
    service: str | None = None
    rated_v: float | None = None
    """What it is made for; of a converter, what it makes."""


def read_said(text: str, volts: float) -> tuple[str, Said]:
    """The name, and what else was said. Watts make amperes at the volts that are said with them, else at
    ``volts``. Raises LineError.
    """
    name = text.strip()
    try:
        stated = [parse_voltage_v(v) for v in _VOLTS.findall(name)]
        said = Said(rated_v=stated[-1] if stated else None)
        volts = said.rated_v or volts
        while found := next(((w, m) for w, p in _AT_END if (m := p.search(name)) is not None), None):
            what, match = found
            taken = _taken(what, match, volts)
            if any(getattr(said, f) is not None for f in taken):
                raise _twice(match[0].strip(" ,;"))
            said = replace(said, **taken)
            name = name[: match.start()].rstrip(" ,;")
        inside = _INSIDE.findall(name)
        if len(inside) == 1 and said.current_a is None:
            said = replace(said, current_a=_amperes(inside[0], volts))
            name = " ".join(_INSIDE.sub("", name).split())
        elif inside:
            raise _twice(inside[0].strip())
    except QuantityError as error:
        raise LineError(str(error)) from None
    return name, said


def _twice(text: str) -> LineError:
    return LineError(
        f"{text!r} stands in the name, and another is said as well. "
        "Say once what it draws, like M1 water pump 7 A, peak 14 A for 2 s."
    )


def _taken(what: str, match: re.Match[str], volts: float) -> dict[str, Any]:
    amount = match["amount"]
    time = match.groupdict().get("time")
    seconds = (
        parse_time_s(time if time[0].isdigit() else f"1 {time[:1] if time.lower() == 'hour' else 'min'}")
        if time
        else None
    )
    if what == "settles":
        high = _amperes(match["high"], volts)
        return {"current_a": _amperes(amount, volts), "peak_a": high, "peak_s": seconds}
    if what == "duty":
        return {"duty_percent": parse_percent(amount), **({"cycle_s": seconds} if seconds else {})}
    if what == "turns":
        on = parse_time_s(amount)
        if not seconds or on > seconds:
            raise LineError(f"{match[0].strip()!r} is on for longer than one turn takes.")
        return {"duty_percent": round(on / seconds * 100, 6), "cycle_s": seconds}
    if what == "capacity":
        return {"capacity_ah": parse_capacity_ah(amount)}
    if what == "service":
        return {"service": amount.lower()}
    if what == "current":
        return {"current_a": _amperes(amount, volts)}
    return {f"{what}_a": _amperes(amount, volts), **({f"{what}_s": seconds} if seconds is not None else {})}


def _amperes(text: str, volts: float) -> float:
    """Amperes as typed, or of watts at a voltage; ``2 x 21 W`` is twice as much."""
    times, _, each = re.sub("[xX×]", "x", text).rpartition("x")
    if times:
        return int(times) * _amperes(each, volts)
    if not re.search(r"w(atts?)?$", text.strip(), re.IGNORECASE):
        return parse_current_a(text)
    return float(f"{parse_power_w(text) / volts:.3g}")


def put_said(draft: Draft, device_id: str, kind: DeviceKind, name: str, said: Said) -> None:
    """Put what was said where it belongs: a load's currents, a fuse's rating, what contacts may carry,
    what a source gives. Raises LineError where the device has no place for it.
    """
    circuits = draft.at("circuits")
    load = next((k for k, x in circuits.get("loads", {}).items() if x["device"] == device_id), None)
    source = next((k for k, x in circuits.get("sources", {}).items() if x["device"] == device_id), None)
    paths = circuits["devices"][device_id].get("paths", {})
    current = said.current_a
    switched = [p for p, x in paths.items() if x["kind"] in ("switch", "relay", "contactor")]
    converting = [p for p, x in paths.items() if x["kind"] in CONVERTING]
    coil = next((m for p, m in _COIL_MOST_A.items() if any(x["kind"] == p for x in paths.values())), None)
    if current is not None and load is not None and coil is not None and current >= coil:
        for path in switched:
            draft.put(current, "circuits", "devices", device_id, "paths", path, "contact_a")
        current = None
    if load is None and source is None and not paths and _draws(said):
        load = _other_load(draft, device_id)
    if load is not None:
        _put_load(draft, load, current, said)
    elif any((said.peak_a, said.inrush_a, said.duty_percent, said.service)):
        raise LineError(f"{device_id} ({kind.label}) has no load of its own to say that of.")
    elif current is not None:
        guards = [p for p, x in paths.items() if x["kind"] in PROTECTIVE]
        if guards:
            for path in guards:
                draft.put(current, "circuits", "devices", device_id, "paths", path, "rating_a")
                draft.put("as typed", "circuits", "devices", device_id, "paths", path, "reason")
        elif switched:
            for path in switched:
                draft.put(current, "circuits", "devices", device_id, "paths", path, "contact_a")
        elif converting:
            for path in converting:
                draft.put(current, "circuits", "devices", device_id, "paths", path, "limit_a")
        elif source is not None and circuits["sources"][source]["kind"] != "battery":
            draft.put(current, "circuits", "sources", source, "limit_a")
        else:
            raise LineError(f"{device_id} ({kind.label}) draws nothing. Leave out {current:g} A.")
    if said.capacity_ah is not None:
        if source is None:
            raise LineError(f"{device_id} ({kind.label}) holds no {said.capacity_ah:g} Ah. Leave it out.")
        draft.put(said.capacity_ah, "circuits", "sources", source, "capacity_ah")
    for path in converting if said.rated_v else ():
        # Of 24 V to 5 V, what it makes is said last.
        draft.put(said.rated_v, "circuits", "devices", device_id, "paths", path, "out_v")


def _draws(said: Said) -> bool:
    return any(x is not None for x in (said.current_a, said.peak_a, said.inrush_a))


def _other_load(draft: Draft, device_id: str) -> str | None:
    """The load of a device of which only this is known, that it draws current: in at its first pin, back at
    its last. None where it has not two pins without a role of their own.
    """
    pins = draft.at("circuits", "devices", device_id, "pins")
    ids = sorted(pins, key=lambda p: float(pins[p]["order"]))
    if len(ids) != 2 or any(pins[p]["role"] != "signal" for p in ids):
        return None
    at = ("circuits", "devices", device_id, "pins")
    draft.put("supply_in", *at, ids[0], "role")
    draft.put("ground", *at, ids[1], "role")
    loads = draft.at("circuits", "loads")
    load_id = device_id if device_id not in loads else draft.free_id("L", "circuits", "loads")
    draft.put(
        {
            "order": draft.next_order("circuits", "loads"),
            "device": device_id,
            "supply_pin": ids[0],
            "return_pin": ids[1],
            "current_a": 0.0,
            "service": "continuous",
        },
        "circuits",
        "loads",
        load_id,
    )
    return load_id


def _put_load(draft: Draft, load: str, current: float | None, said: Said) -> None:
    stated = {
        "current_a": current,
        "peak_a": said.peak_a,
        "peak_s": said.peak_s,
        "inrush_a": said.inrush_a,
        "inrush_s": said.inrush_s,
        "duty_percent": said.duty_percent,
        "cycle_s": said.cycle_s,
        "service": said.service,
        "rated_v": said.rated_v,
    }
    for field, value in stated.items():
        if value is not None:
            draft.put(value, "circuits", "loads", load, field)
