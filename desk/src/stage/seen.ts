import type { Sheet, Shot } from "../api/client";
import type { Look } from "./stage";

/** What a look has to know of a lens. */
export type Through = Pick<Look, "projection" | "grid" | "shade" | "near" | "far" | "fromStand" | "cutting" | "cap">;

/**
 * What a look needs of a shot's lens: its matrix, or its grid with what bounds it; its corners; what opens the set,
 * and the faces it is closed with.
 */
export function seenThrough(
  lens: Shot["lens"],
  { projection, grid, shade, from_stand }: Pick<Sheet["lens"], "projection" | "grid" | "shade" | "from_stand">,
  cap: Through["cap"],
): Through {
  return {
    projection,
    grid,
    shade,
    near: lens.near_m,
    far: lens.far_m ?? null,
    fromStand: from_stand,
    cutting: lens.cutting_plane ?? null,
    cap,
  };
}

/** The same where there is nothing but a matrix. */
export const byMatrix = (projection: number[]): Through => ({
  projection,
  grid: null,
  shade: null,
  near: 0,
  far: null,
  fromStand: false,
  cutting: null,
  cap: null,
});
