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
