"""Small harnesses, each with something about it, that checks and rules are tried on."""

from __future__ import annotations

import copy
from dataclasses import replace

from inkthread.catalogue import shipped_catalogue
from inkthread.core.shop import OwnedTool, Shop
from inkthread.core.text import read_text
from inkthread.demo import demo_document
from tests.catches.test_catches import LINES, read_catch
from tests.conftest import HarnessBuilder


def pump(practice: str = "vehicle", amps: float = 5, end: str = "") -> HarnessBuilder:
    return (
        HarnessBuilder(practice)
        .feed(f"B1 battery > F1 fuse > M1 pump {amps} A{end} > B1")
        .run("B1 100 > F1 900 > M1")
    )


def fixed(builder: HarnessBuilder, ends_at: str, **values: object) -> HarnessBuilder:
    key = next(k for k, w in builder.evaluate().wire.wires.items() if w.to_text.startswith(ends_at))
    return builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "", **values})


def hot(builder: HarnessBuilder, ambient_c: float) -> HarnessBuilder:
    builder.set("brief/zones", {"z": {"order": 1, "name": "Oven", "ambient_c": ambient_c}})
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "z"
    return builder


def cabled(family: str | None = "JACKETED-4", apart: bool = False) -> HarnessBuilder:
    """A fan and its speed sensor in one cable, or going different ways in it."""
    builder = HarnessBuilder("equipment").feed(
        "B1 power supply 5 A > F1 fuse > M1 fan 2 A > B1", "A1 controller 0.1 A"
    )
    builder.feed("A1.I1 > T1 sensor > A1.N1").run("B1 100 > F1 200 > box 100 > A1", "box 2000 > M1")
    builder.run("M1 300 > T1" if not apart else "box 1500 > T1")
    circuits = builder.plain["circuits"]["circuits"]
    members = [c for c, x in circuits.items() if any(r in x["ends"] for r in ("M1.+", "T1.1", "T1.2"))]
    group = {"order": 1, "kind": "cable", "name": "", "family": family, "members": {}}
    group["members"] = {c: {"order": n} for n, c in enumerate(members)}
    return builder.set("circuits/groups/G", group)


def zoned_by(line: str) -> HarnessBuilder:
    builder = pump()
    builder._act("zone", line)
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = next(iter(builder.plain["brief"]["zones"]))
    return builder


def without(builder: HarnessBuilder, path: str) -> HarnessBuilder:
    *parents, last = path.split("/")
    node = builder.plain
    for part in parents:
        node = node[part]
    del node[last]
    return builder


def same_colour() -> HarnessBuilder:
    builder = pump()
    keys = [k for k, w in builder.evaluate().wire.wires.items() if "M1" in w.from_text + w.to_text]
    for n, key in enumerate(keys):
        builder.set(f"wire/fixed/{key}", {"order": n, "reason": "one spool", "colour": "PK"})
    return builder


def many_ways() -> HarnessBuilder:
    """Eight heavy feeds in one splice: more copper than any barrel takes."""
    builder = HarnessBuilder("vehicle")
    for n in range(1, 9):
        builder.feed(f"{'B1 battery' if n == 1 else 'B1.+'} > F{n} fuse > R{n} heater 30 A > B1")
    builder.run("B1 400 > hub")
    for n in range(1, 9):
        builder.run(f"hub 600 > F{n} 900 > R{n}")
    return builder


def sized_for_ends() -> HarnessBuilder:
    builder = HarnessBuilder("equipment").set("wire/family", "PVC-GENERAL")
    return builder.feed("A1 controller 0.1 A", "T1 level sensor", "A1.I1 > T1 > A1.N1").run("A1 400 > T1")


def source(builder: HarnessBuilder, **values: object) -> HarnessBuilder:
    stated = {"order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery", **values}
    return builder.set("circuits/sources/B1", stated)


def outputs_joined() -> HarnessBuilder:
    builder = pump()
    for name in ("X1", "X2"):
        pins = {"o": {"order": 1, "role": "output_high", "name": "out"}}
        builder.set(f"circuits/devices/{name}", {"order": 9, "name": "driver", "pins": pins})
    ends = {"X1.o": {"order": 1}, "X2.o": {"order": 2}}
    return builder.set("circuits/circuits/J", {"order": 9, "name": "joined", "ends": ends})


def zoned(builder: HarnessBuilder, **flags: bool) -> HarnessBuilder:
    builder.set("brief/zones", {"z": {"order": 1, "name": "Zone", "ambient_c": 40.0, **flags}})
    for entry in builder.plain["route"]["branches"].values():
        entry["zone"] = "z"
    return builder


def wooden() -> HarnessBuilder:
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 3 A > G1 ground stud", "G2 ground stud")
    builder.feed("B1.- > G2.1").run("B1 100 > F1 300 > E1 100 > G1", "B1 400 > G2")
    return zoned(builder, no_structure=True)


def branch(**values: object) -> HarnessBuilder:
    builder = pump()
    builder.plain["route"]["branches"]["R2"].update(values)
    return builder


def two_halves(**over: object) -> HarnessBuilder:
    """A lead with a genderless half at either end."""
    builder = HarnessBuilder("vehicle").feed("B1 battery (GL50) > F1 fuse > M1 winch (GL50) 30 A > B1")
    builder.run("B1 100 > F1 2 m > M1")
    builder.plain["ends"]["connectors"]["M1"].update(over)
    return builder


def stretch(start: float, end: float) -> HarnessBuilder:
    builder = zoned(pump(), wet=True)
    entry = {"order": 1, "zone": "z", "from_mm": start, "to_mm": end}
    return builder.set("route/branches/R2/stretches/s", entry)


def opening(across_mm: float, *, after_terminating: bool = False) -> HarnessBuilder:
    builder = pump().run("F1 100 > rib 100 > E1", "E1 50 > end")
    point = builder.plain["route"]["points"]["F1"]
    point.update(kind="opening", opening_mm=across_mm, after_terminating=after_terminating)
    return builder


def two_lamps(practice: str, length_mm: float) -> HarnessBuilder:
    builder = HarnessBuilder(practice).feed(
        "B1 battery > F1 fuse > E1 lamp 1 A > B1", "F1.out > E2 lamp 1 A > B1", "F1.out > E3 lamp 1 A > B1"
    )
    m = length_mm
    return builder.run(f"B1 100 > F1 {m} > near {m} > far {m} > E1", f"near {m} > E2", f"far {m} > E3")


def thread(builder: HarnessBuilder, way: str) -> HarnessBuilder:
    for circuit in builder.plain["circuits"]["circuits"].values():
        circuit["threading"] = way
    return builder


def sensor() -> HarnessBuilder:
    builder = pump().feed("A1 controller 0.2 A", "T1 level sensor", "A1.I1 > T1 > A1.N1")
    return builder.run("M1 300 > A1 300 > T1")


def ignition() -> HarnessBuilder:
    builder = sensor()
    for n in (1, 2):
        for device in (f"Q{n}", f"P{n}"):
            pins = {"1": {"order": 1, "role": "ignition", "name": "lead"}}
            builder.set(f"circuits/devices/{device}", {"order": 50 + n, "name": "lead end", "pins": pins})
            at = "A1" if device[0] == "Q" else "T1"
            builder.set(
                f"ends/connectors/{device}",
                {"order": 50, "family": "TAB63", "ways": 1, "shell": "none", "point": at},
            )
            builder.set(f"ends/pinout/{device}.1", {"order": 50, "connector": device, "cavity": "1"})
        ends = {f"Q{n}.1": {"order": 1}, f"P{n}.1": {"order": 2}}
        builder.set(f"circuits/circuits/I{n}", {"order": 60 + n, "name": "ignition lead", "ends": ends})
    return builder


def by_compass() -> HarnessBuilder:
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 3 A > G1 ground stud", "G2 ground stud")
    builder.feed("B1.- > G2.1").run("B1 100 > F1 300 > E1 100 > G1", "B1 400 > G2")
    return zoned(builder, sensitive=True)


def bus(standard: str, length_mm: float) -> HarnessBuilder:
    builder = HarnessBuilder("equipment")
    for n in (1, 2, 3):
        builder.feed(f"A{n} node 0.1 A")
    builder.feed("A1.H > A2.H", "A2.H > A3.H", "A1.L > A2.L", "A2.L > A3.L")
    builder.run(f"A1 {length_mm} > A2 {length_mm} > A3")
    members = {c: {"order": n} for n, c in enumerate(builder.plain["circuits"]["circuits"])}
    return builder.set("circuits/buses/b", {"order": 1, "standard": standard, "circuits": members})


def crossed() -> HarnessBuilder:
    """The second node of a bus with its two lines exchanged."""
    builder = bus("ISO11898-1M", 900.0)
    high, low = (
        next(k for k, c in builder.plain["circuits"]["circuits"].items() if f"A1.{pin}" in c["ends"])
        for pin in "HL"
    )
    for circuit, out, into in ((high, "A2.H", "A2.L"), (low, "A2.L", "A2.H")):
        ends = builder.plain["circuits"]["circuits"][circuit]["ends"]
        ends[into] = ends.pop(out)
    return builder


def primary(builder: HarnessBuilder) -> HarnessBuilder:
    """Ignition leads in the wire that everything else is made in."""
    for key in ("I1", "I2"):
        builder.plain["circuits"]["circuits"][key]["family"] = "J1128-TXL"
    return builder


def crowd(practice: str) -> HarnessBuilder:
    """Two dozen wires at their contacts' limit, bunched in hot air, too thin by the builder's own will."""
    builder = HarnessBuilder(practice).set("wire/family", "J1128-TXL")
    for n in range(1, 13):
        builder.feed(f"{'B1 battery' if n == 1 else 'B1.+'} > F{n} fuse > R{n} heater 12 A > B1")
    builder.run("B1 100 > F1 900 > R1")
    for n in range(2, 13):
        builder.set(f"ends/connectors/F{n}/point", "F1").set(f"ends/connectors/R{n}/point", "R1")
    for n, key in enumerate(builder.evaluate().wire.wires):
        builder.set(f"wire/fixed/{key}", {"order": n, "reason": "what is at hand", "gauge": "16 AWG"})
    return hot(builder, 49 if practice == "marine" else 90)


def shared_return() -> HarnessBuilder:
    """A sensor's return taken to the pump's."""
    builder = pump(amps=6)
    builder.feed("A1 controller 0.2 A", "T1 throttle sensor")
    builder.set("circuits/devices/T1/pins/3/role", "sensor_return").set("circuits/devices/T1/slope_mv", 40.0)
    builder.set("circuits/devices/T1/slope_unit", "%")
    return builder.feed("T1.3 > M1.-").run("M1 200 > T1")


def half(builder: HarnessBuilder | None = None, connector: str = "M1", **values: object) -> HarnessBuilder:
    """A pump, with its connector changed."""
    builder = builder or pump()
    builder.plain["ends"]["connectors"][connector].update(values)
    return builder


def sensor_on(family: str, ways: int, **cavities: str) -> HarnessBuilder:
    """A three-wire sensor on a connector of this family: supply, signal and ground on these ways."""
    builder = HarnessBuilder("equipment").feed(
        "B1 battery > F1 fuse > S1 proximity 0.1 A > B1", "A1 controller", "S1.4 > A1.I1"
    )
    builder.run("B1 100 > F1 200 > S1 400 > A1")
    half(builder, "S1", family=family, ways=ways, shell="receptacle", contact_gender="socket")
    for pin, cavity in cavities.items():
        name = {"supply": "S1.1", "ground": "S1.3", "signal": "S1.4"}[pin]
        builder.plain["ends"]["pinout"][name] = {"order": 9, "connector": "S1", "cavity": cavity}
    return builder


def through(order: str) -> HarnessBuilder:
    """Four wires through a bulkhead of two connectors that meet; ``order`` is the far side of 1234."""
    builder = HarnessBuilder("vehicle")
    pins = {
        f"{side}{n}": {"order": n, "role": "signal", "name": f"{side}{n}"} for side in "ab" for n in "1234"
    }
    for n, pin in enumerate(pins.values()):
        pin["order"] = n
    links = {n: {"order": int(n), "from_pin": f"a{n}", "to_pin": f"b{n}", "kind": "link"} for n in "1234"}
    builder.set(
        "circuits/devices/X1",
        {"order": 1, "name": "bulkhead", "kind": "bulkhead", "pins": pins, "paths": links},
    )
    builder.set("route/points/P", {"order": 1})
    shells = {"A": ("plug", "socket", "B"), "B": ("receptacle", "pin", None)}
    for name, (shell, gender, meets) in shells.items():
        connector = {
            "order": 1,
            "family": "SR16",
            "ways": 4,
            "shell": shell,
            "contact_gender": gender,
            "point": "P",
            "meets": meets,
        }
        builder.set(f"ends/connectors/{name}", connector)
    for n, far in zip("1234", order, strict=True):
        builder.set(f"ends/pinout/X1.a{n}", {"order": 1, "connector": "A", "cavity": n})
        builder.set(f"ends/pinout/X1.b{n}", {"order": 1, "connector": "B", "cavity": far})
    return builder


def extension() -> HarnessBuilder:
    """A lead whose two ends have their two wires crossed."""
    builder = (
        HarnessBuilder("vehicle").feed("E1 lamp", "E2 lamp", "E1.+ > E2.+", "E1.- > E2.-").run("E1 600 > E2")
    )
    builder.set("ends/connectors/E1/same_as", "E2")
    builder.set("ends/pinout/E2.+/cavity", "2")
    return builder.set("ends/pinout/E2.-/cavity", "1")


def singles() -> HarnessBuilder:
    """Three single-way shells side by side at one device."""
    builder = pump()
    pins = {n: {"order": int(n), "role": "signal", "name": f"S{n}"} for n in "123"}
    builder.set("circuits/devices/N1", {"order": 9, "name": "box", "pins": pins})
    for n in "123":
        builder.set(f"ends/connectors/N{n}", {"order": 9, "family": "SS15", "ways": 1, "point": "M1"})
        builder.set(f"ends/pinout/N1.{n}", {"order": 9, "connector": f"N{n}", "cavity": "1"})
    return builder


def distributor() -> HarnessBuilder:
    """A coil, a distributor and two spark plugs on it."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > Y1 ignition coil 4 A > B1", "Y1 > X1 distributor",
        "X1 > X2 spark plug", "X1 > X3 spark plug",
    )  # fmt: skip
    return builder.run("B1 100 > F1 500 > Y1 300 > X1 400 > X2", "X1 305 > X3")


def made_at(builder: HarnessBuilder, ref: str, contact: str) -> HarnessBuilder:
    """An end of a lead as it is bought."""
    return builder.set(f"ends/pinout/{ref}/contact", contact)


def elbows() -> HarnessBuilder:
    """An ignition lead with an elbow at both ends."""
    builder = ignition()
    for name in ("Q1", "P1"):
        half(builder, name, family="IGN8")
        builder.set(f"ends/pinout/{name}.1/contact", "IG8-A")
    return builder


def switching(output: str = "sourcing", takes: str = "sinking") -> HarnessBuilder:
    """A proximity sensor at a controller's input; how the one switches, and which kind the other takes."""
    builder = sensor_on("M12S", 4, supply="1", ground="3", signal="4")
    builder.set("circuits/devices/S1/pins/4/switching", output)
    return builder.set("circuits/devices/A1/pins/I1/switching", takes)


def fanned(length_mm: float | None) -> HarnessBuilder:
    """A sensor on a circular four-way with a gland, its cable's cores free of the jacket so far."""
    builder = sensor_on("M12S", 4, supply="1", ground="3", signal="4")
    return half(builder, "S1", fan_out_mm=length_mm, cable_mm=5.0)


def replacing(*colours: str) -> HarnessBuilder:
    """A pump whose old wires had these colours."""
    builder = pump()
    at_pump = [
        c for c in builder.plain["circuits"]["circuits"].values() if any("M1." in r for r in c["ends"])
    ]
    for circuit, colour in zip(at_pump, colours, strict=True):
        circuit["old_colour"] = colour
    return builder


def ports(*names: str) -> HarnessBuilder:
    """A controller with two four-way connectors of one kind."""
    builder = pump().feed("A1 controller 0.2 A", "F1.out > A1.B", "A1.G > B1.-")
    made = dict(builder.plain["ends"]["connectors"]["A1"], ways=4)
    for n, (key, cavities) in enumerate({"A1": ("B", "G"), "PX": ("O1", "I1", "N1")}.items()):
        name = names[n] if names else ""
        builder.set(f"ends/connectors/{key}", {**made, "order": 20 + n, "name": name})
        for cavity, pin in enumerate(cavities, 1):
            entry = {"order": 20 + cavity, "connector": key, "cavity": str(cavity)}
            builder.set(f"ends/pinout/A1.{pin}", entry)
    return builder


def turned(*degrees: float | None, family: str = "SS15") -> HarnessBuilder:
    """A two-core cable from a controller to a sensor, its contacts turned so."""
    builder = sensor()
    circuits = [
        k for k, c in builder.plain["circuits"]["circuits"].items() if any("T1." in r for r in c["ends"])
    ]
    members = {c: {"order": n} for n, c in enumerate(circuits)}
    builder.set("circuits/groups/G", {"order": 1, "kind": "cable", "name": "sensor lead", "members": members})
    half(builder, "T1", family=family)
    for n, turn in enumerate(degrees, 1):
        builder.plain["ends"]["pinout"][f"T1.{n}"]["clock_deg"] = turn
    return builder


def no_turn() -> HarnessBuilder:
    """The same cable in a family of the shop's own that does not say how its contacts lie."""
    builder = turned(None, None)
    own = replace(builder.catalogue.connectors["SS15"], turn="")
    builder.catalogue = replace(builder.catalogue, connectors={**builder.catalogue.connectors, "SS15": own})
    return builder


def owned(practice: str = "vehicle", **values: object) -> HarnessBuilder:
    builder = pump(practice)
    tools = {t: OwnedTool(t, **values) for t in builder.catalogue.tools}  # type: ignore[arg-type]
    builder.shop = Shop(tools, today="2026-11-28")
    return builder


def caught(name: str, *, twin: bool = False) -> HarnessBuilder:
    """A harness of tests/catches: the mistake, or its right twin."""
    catch = read_catch(next(p for p in LINES if p.stem == name))
    read = read_text(catch.right if twin else catch.wrong, shipped_catalogue())
    return HarnessBuilder(plain=read.document)


def soldered(builder: HarnessBuilder, ref: str) -> HarnessBuilder:
    return builder.set(f"ends/pinout/{ref}/joint", "soldered")


def ruled(builder: HarnessBuilder, **rules: float) -> HarnessBuilder:
    for n, (rule, value) in enumerate(rules.items()):
        builder.set(f"brief/house_rules/{rule}", {"order": n, "value": value, "reason": "as we do"})
    return builder


def three_lamps() -> HarnessBuilder:
    """Two returns under one blade."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > E1 lamp 1 A > X1 junction (TAB63) > B1")
    builder.feed("F1.out > E2 lamp 1 A > X1.1").run("B1 100 > F1 900 > E1 300 > X1", "E1 300 > E2")
    return builder


def two_feeds(*lines: str) -> HarnessBuilder:
    """A pump that two fuses feed."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse", "B1.+ > F2 fuse", "M1 pump 5 A > B1", *lines
    )
    return builder.run("B1 100 > F1 100 > F2 400 > S1 300 > M1", "F2 400 > S2")


def gone() -> HarnessBuilder:
    builder = half(family="OLD9")
    builder.gone = True
    return builder


def names(path: str, value: object) -> HarnessBuilder:
    """A harness that names what is not held."""
    builder = pump().set(path, value)
    builder.gone = True
    return builder


def bare_coils() -> HarnessBuilder:
    """The climate rig with the diode of one relay taken out."""
    builder = HarnessBuilder(plain=copy.deepcopy(demo_document("mushroom")))
    return without(builder, "circuits/devices/K1/paths/diode")


def no_tool() -> HarnessBuilder:
    """A contact whose own data know no tool for this wire."""
    builder = pump()
    family = builder.catalogue.connectors["SR16"]
    blind = tuple(replace(c, tools=()) for c in family.contacts)
    connectors = {**builder.catalogue.connectors, "SR16": replace(family, contacts=blind)}
    builder.catalogue = replace(builder.catalogue, connectors=connectors)
    return builder


def no_cover() -> HarnessBuilder:
    """Nothing to cover a splice with, and none that needs no cover."""
    builder = two_lamps("vehicle", 900)
    bare = tuple(s for s in builder.catalogue.splices if not s.covered)
    builder.catalogue = replace(builder.catalogue, covers=(), splices=bare)
    return builder
