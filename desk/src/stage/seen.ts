import type { Sheet, Shot } from "../api/client";
import type { Look } from "./stage";

/** What a look needs of a shot's lens: its matrix, or its grid with what bounds it. */
export function seenThrough(lens: Shot["lens"], { projection, grid }: Pick<Sheet["lens"], "projection" | "grid">): Pick<Look, "projection" | "grid" | "near" | "far"> {
  return { projection, grid, near: lens.near_m, far: lens.far_m ?? null };
}

/** What it needs beside a matrix, where there always is one. */
export const byMatrix: Pick<Look, "grid" | "near" | "far"> = { grid: null, near: 0, far: null };
