import { createContext, useContext } from "react";
import type { Ruler } from "../api/client";
import { metres } from "./words";

/** How lengths of the set on the desk are told. */
export const RulerContext = createContext<Ruler>({
  unit: "m",
  metres: 1,
  digits: 2,
  step_m: 0.05,
  walk_m: 0.2,
  stride_m: 1,
  staff_m: 3,
  mark_m: 1,
  beside: "person",
  beside_m: 1.75,
});

export const useRuler = () => useContext(RulerContext);

/** Digits behind the point of a length in metres, as fine as the ruler tells it. */
export const fine = (ruler: Ruler) => ruler.digits - Math.round(Math.log10(ruler.metres));

/** A length for reading: what is far in a small set is told in metres there too. */
export function length(ruler: Ruler, value: number | null | undefined): string {
  if (value == null || ruler.unit === "m" || Math.abs(value) >= (ruler.unit === "cm" ? 3 : 1)) return metres(value);
  return `${(value / ruler.metres + 0).toFixed(ruler.digits)} ${ruler.unit}`;
}

export function useLength(): (value: number | null | undefined) => string {
  const ruler = useRuler();
  return (value) => length(ruler, value);
}
