"""Second derivations that share no code with the core: what its figures are held against."""

from __future__ import annotations

import math

import numpy as np
from ht.conv_free_immersed import Nu_horizontal_cylinder_Churchill_Chu


class HeatBalance:
    """Heat balance written again, another way: root-finding on the conductor, property tables for air.

    Air at 1 atm from a heat-transfer textbook's table (from memory), linear between 250 and 500 K;
    Nusselt number from ``ht``.
    """

    KELVIN = np.array([250.0, 300.0, 350.0, 400.0, 450.0, 500.0])
    KINEMATIC = np.array([11.44, 15.89, 20.92, 26.41, 32.39, 38.79]) * 1e-6
    CONDUCTIVITY = np.array([22.3, 26.3, 30.0, 33.8, 37.3, 40.7]) * 1e-3
    PRANDTL = np.array([0.720, 0.707, 0.700, 0.690, 0.686, 0.684])

    def shed(self, surface: float, ambient: float, diameter: float) -> float:
        film = (surface + ambient) / 2 + 273.15
        nu, k, pr = (
            float(np.interp(film, self.KELVIN, table))
            for table in (self.KINEMATIC, self.CONDUCTIVITY, self.PRANDTL)
        )
        grashof = 9.81 / film * max(surface - ambient, 1e-9) * diameter**3 / nu**2
        h = Nu_horizontal_cylinder_Churchill_Chu(Pr=pr, Gr=grashof) * k / diameter
        radiation = 0.9 * 5.67e-8 * ((surface + 273.15) ** 4 - (ambient + 273.15) ** 4)
        return math.pi * diameter * (h * (surface - ambient) + radiation)

    def conductor_temperature(self, size, current: float, ambient: float, radiant: float = 0.0) -> float:
        """Bisect on the surface temperature until heat made, and falling on all of it, is shed."""
        diameter, core = size.od_mm / 1000, size.conductor_diameter_mm / 1000
        through = math.log(diameter / core) / (2 * math.pi * 0.24)
        low, high = ambient, 900.0
        for _ in range(80):
            surface = (low + high) / 2
            shed = self.shed(surface, ambient, diameter)
            own = shed - radiant * math.pi * diameter
            conductor = surface + own * through
            made = current**2 * size.resistance_ohm_per_km / 1000 * (1 + 0.00393 * (conductor - 20))
            low, high = (surface, high) if made > own else (low, surface)
        return conductor


class Nodal:
    """A harness as an electrical network: Kirchhoff's equations for every node at once.

    It knows nothing of feeds, returns or loops. Nodes are device pins and splices; every wire is a
    resistor, every path inside a device too (one without a resistance is a bridge), the structure is one
    node that every stud reaches through its own resistance, and every source is a voltage behind its own
    resistance. Loads draw by their kind at the volts they get, found by going round until they settle.
    """

    BRIDGE_OHM = 1e-9

    def __init__(self, w, emf, source_ohm=None, without=()):
        self.resistors = []
        devices = w.document.circuits.devices
        for device_id, device in devices.items():
            for path_id, inner in device.paths.items():
                key = f"{device_id}.{path_id}"
                if inner.kind in ("regulator", "supply") or key in without:
                    continue
                ends = (f"{device_id}.{inner.from_pin}", f"{device_id}.{inner.to_pin}")
                self.resistors.append((key, *ends, w.wire.tables.path_ohm.get(key) or self.BRIDGE_OHM))
            if device.structure:
                for pin in device.pins:
                    ohm = device.structure_mohm / 1000 or self.BRIDGE_OHM
                    self.resistors.append((f"stud {device_id}.{pin}", f"{device_id}.{pin}", "structure", ohm))
        for i, key in enumerate(w.wire.tables.keys):
            s = w.route.sections[key]
            metres = (s.length_mm + s.slack_mm) / 1000
            ohm = float(w.wire.tables.resistance_ohm_per_m[i, w.wire.tables.chosen[i]]) * metres + float(
                w.wire.tables.termination_ohm[i]
            )
            self.resistors.append((key, s.a.id, s.b.id, ohm))
        ohms = source_ohm or {}
        self.sources = [
            (
                f"{s.device}.{s.supply_pin}",
                f"{s.device}.{s.return_pin}",
                emf[k],
                ohms.get(k, 0.0),
            )
            for k, s in w.document.circuits.sources.items()
            if k in emf
        ]
        names = {n for _, a, b, _ in self.resistors for n in (a, b)} | {
            n for s in self.sources for n in s[:2]
        }
        self.at = {n: i for i, n in enumerate(sorted(names))}

    def solve(self, drawn):
        """Potentials in V and currents in A, for loads (supply pin, return pin, amperes)."""
        nodes, sources = len(self.at), len(self.sources)
        size = nodes + sources
        matrix, right = np.zeros((size, size)), np.zeros(size)
        for _, a, b, ohm in self.resistors:
            i, j = self.at[a], self.at[b]
            for p, q in ((i, j), (j, i)):
                matrix[p, p] += 1 / ohm
                matrix[p, q] -= 1 / ohm
        for k, (plus, minus, volts, ohm) in enumerate(self.sources):
            row = nodes + k
            matrix[row, self.at[plus]], matrix[row, self.at[minus]] = 1.0, -1.0
            matrix[row, row] = ohm
            right[row] = volts
            matrix[self.at[plus], row] -= 1.0
            matrix[self.at[minus], row] += 1.0
        for supply, back, amps in drawn:
            right[self.at[supply]] -= amps
            right[self.at[back]] += amps
        # What floats is settled by least squares without touching the rest.
        found = np.linalg.lstsq(matrix, right, rcond=None)[0]
        volts = {n: float(found[i]) for n, i in self.at.items()}
        currents = {key: (volts[a] - volts[b]) / ohm for key, a, b, ohm in self.resistors}
        return volts, currents

    def settle(self, loads, peaks=None, turns=200):
        """Volts at every load and currents, each load by its kind; ``peaks`` draw so much whatever."""
        across = dict.fromkeys(loads)
        volts, currents = {}, {}
        for _ in range(turns):
            drawn = []
            for k, load in loads.items():
                rated = load["rated_v"]
                v = across[k] if across[k] is not None else rated
                amps = {
                    "constant current": load["current_a"],
                    "resistive": load["current_a"] * v / rated,
                    "constant power": load["current_a"] * rated / max(v, rated / 2),
                }[load["kind"]]
                drawn.append((load["supply"], load["back"], (peaks or {}).get(k, amps)))
            volts, currents = self.solve(drawn)
            after = {k: volts[x["supply"]] - volts[x["back"]] for k, x in loads.items()}
            settled = all(across[k] is not None and abs(after[k] - across[k]) < 1e-9 for k in loads)
            across = {k: after[k] if across[k] is None else (after[k] + across[k]) / 2 for k in loads}
            if settled:
                break
        return across, currents


def loads_of(w, rated_v):
    """Loads of a document as ``Nodal.settle`` takes them."""
    return {
        k: {
            "supply": f"{x.device}.{x.supply_pin}", "back": f"{x.device}.{x.return_pin}",
            "current_a": x.current_a, "kind": x.kind, "rated_v": x.rated_v or rated_v,
        }
        for k, x in w.document.circuits.loads.items()
    }  # fmt: skip


COPPER_RESISTIVITY_20C_OHM_MM2_PER_M = 1 / 58
"""Annealed copper, IEC 60028."""


def resistance_from_strands_ohm_per_m(
    strands: int, strand_diameter_mm: float, conductivity: float = 1.0, lay_factor: float = 1.02
) -> float:
    """Resistance at 20 deg C in ohm/m of stranded copper.

    ``conductivity`` is relative to IACS (tinned fine strand about 0.93 to 0.96, ASTM B33);
    ``lay_factor`` is the extra length of the laid strand.
    """
    area = strands * math.pi / 4 * strand_diameter_mm**2
    return COPPER_RESISTIVITY_20C_OHM_MM2_PER_M / conductivity * lay_factor / area


def onderdonk_a(area_mm2: float, seconds: float, ambient_c: float = 25.0) -> float:
    """Current in A that melts copper (1083 deg C) in a time. Source: Onderdonk's formula."""
    circular_mils = area_mm2 / (math.pi / 4 * 0.0254**2)
    return circular_mils * math.sqrt(math.log10((1083 - ambient_c) / (234 + ambient_c) + 1) / (33 * seconds))


def preece_a(diameter_mm: float) -> float:
    """Current in A that melts a bare copper wire in free air in the end: 80 d**1.5. Source: Preece."""
    return float(80.0 * diameter_mm**1.5)
