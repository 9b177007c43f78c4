/** The stated fields of wire families of the builder's own. */
import type { FieldSpec } from "../../components/fields";

export const OWN_FAMILY: FieldSpec[] = [
  { key: "name", label: "Name", kind: "text", width: "minmax(130px,1.4fr)" },
  { key: "insulation", label: "Insulation", kind: "text" },
  { key: "temperature_c", label: "To", kind: "figure", unit: "C", width: "76px" },
  { key: "voltage_v", label: "Volts", kind: "figure", unit: "V", width: "76px" },
  { key: "burn_rated", label: "Burn rated", kind: "flag", width: "82px" },
  { key: "tracers", label: "Tracers", kind: "flag", width: "70px" },
  { key: "source", label: "Figures from", kind: "text" },
];

export const OWN_SIZE: FieldSpec[] = [
  { key: "gauge", label: "Gauge", kind: "text" },
  { key: "area_mm2", label: "Copper", kind: "figure", unit: "mm²", width: "100px" },
  { key: "strands", label: "Strands", kind: "figure" },
  { key: "conductor_mm", label: "Over strands", kind: "figure", unit: "mm", width: "100px" },
  { key: "od_mm", label: "Over all", kind: "figure", unit: "mm" },
  { key: "resistance_mohm_per_m", label: "Resistance", kind: "figure", unit: "mohm/m", width: "124px" },
  { key: "mass_g_per_m", label: "Mass", kind: "figure", unit: "g/m", empty: "worked out", width: "104px" },
  { key: "price_per_m", label: "Price a metre", kind: "figure", width: "100px" },
];
