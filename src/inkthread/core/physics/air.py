"""Properties of dry air, as arrays. Temperatures in kelvin, pressure in Pa.

Sources: Sutherland's law for viscosity and conductivity (constants of textbooks on
viscous flow, from memory); ideal gas density; ICAO standard atmosphere for pressure.
"""

from __future__ import annotations

import numpy as np

from inkthread.core.physics.conductor import FloatArray

STANDARD_PRESSURE_PA = 101_325.0
"""At sea level (ISO 2533:1975)."""
_GAS_CONSTANT_AIR = 287.05
"""Of dry air, in J/(kg K) (ISO 2533:1975)."""
HEAT_CAPACITY_J_PER_KG_K = 1_007.0
"""Of air at constant pressure, near 300 K (from memory of heat transfer handbooks)."""
# In units of mu T**-1.5 (T + S): the law's constants, of the source that the functions name.
_SUTHERLAND_VISCOSITY = 1.716e-5 * (273.0 + 111.0) / 273.0**1.5
_SUTHERLAND_CONDUCTIVITY = 0.0241 * (273.0 + 194.0) / 273.0**1.5


def dynamic_viscosity_pa_s(temperature_k: FloatArray) -> FloatArray:
    """Dynamic viscosity in Pa s, of the shape of ``temperature_k``; within 2 % from 170 K to 1900 K.

    Source: Sutherland's law, mu0 1.716e-5 Pa s at 273 K and S 111 K (White, Viscous Fluid Flow, table
    1-2, from memory).

    >>> round(float(dynamic_viscosity_pa_s(np.array(300.0))) * 1e6, 2)
    18.47
    """
    return _SUTHERLAND_VISCOSITY * temperature_k * np.sqrt(temperature_k) / (temperature_k + 111.0)


def thermal_conductivity_w_per_m_k(temperature_k: FloatArray) -> FloatArray:
    """Thermal conductivity in W/(m K), of the shape of ``temperature_k``; within 2 % from 160 K to 2000 K.

    Source: Sutherland's law, k0 0.0241 W/(m K) at 273 K and S 194 K (White, Viscous Fluid Flow, table
    1-3, from memory).

    >>> round(float(thermal_conductivity_w_per_m_k(np.array(300.0))), 4)
    0.0262
    """
    return _SUTHERLAND_CONDUCTIVITY * temperature_k * np.sqrt(temperature_k) / (temperature_k + 194.0)


def density_kg_per_m3(temperature_k: FloatArray, pressure_pa: float) -> FloatArray:
    """Density in kg/m3, of the shape of ``temperature_k``. Source: ideal gas, R 287.05 J/(kg K) of dry air.

    >>> round(float(density_kg_per_m3(np.array(288.15), STANDARD_PRESSURE_PA)), 3)
    1.225
    """
    return pressure_pa / (_GAS_CONSTANT_AIR * temperature_k)


def pressure_at_altitude_pa(altitude_m: float) -> float:
    """Pressure in Pa of the standard atmosphere, to 20 km. Source: ICAO Doc 7488, troposphere and tropopause.

    >>> round(pressure_at_altitude_pa(3000) / 100), round(pressure_at_altitude_pa(15_000) / 100)
    (701, 120)
    """
    if altitude_m <= 11_000:
        return float(STANDARD_PRESSURE_PA * (1 - 0.0065 * altitude_m / 288.15) ** 5.2559)
    return float(22_632.1 * np.exp(-9.80665 * (altitude_m - 11_000) / (287.05 * 216.65)))
