import type { ShotRow } from "../api/client";
import { text } from "../text";

/** What the shot list is narrowed to. An empty choice of a kind lets all of that kind through. */
export interface Wanted {
  text: string;
  rooms: string[];
  levels: string[];
  ratios: string[];
  labels: string[];
  locked: boolean | null;
  kept: boolean | null;
}

export const everything: Wanted = { text: "", rooms: [], levels: [], ratios: [], labels: [], locked: null, kept: null };
export const OUTSIDE = text.shots.outsideAllRooms;

const has = (wanted: string[], is: string[]) => wanted.length === 0 || is.some((one) => wanted.includes(one));

/** Whether a shot is among those wanted. Text is looked for in name, room, level, lens and labels, word by word. */
export function isWanted(row: ShotRow, wanted: Wanted): boolean {
  const room = row.room ?? OUTSIDE;
  const found = [row.shot.name, row.room, row.level, row.line, row.compass, ...row.labels].join(" ").toLowerCase();
  return (
    wanted.text
      .toLowerCase()
      .split(/\s+/)
      .every((word) => found.includes(word)) &&
    has(wanted.rooms, [room]) &&
    has(wanted.levels, [row.level ?? ""]) &&
    has(wanted.ratios, [row.ratio]) &&
    has(wanted.labels, row.labels) &&
    (wanted.locked === null || row.locked === wanted.locked) &&
    (wanted.kept === null || row.kept === wanted.kept)
  );
}

export const isNarrowed = (wanted: Wanted): boolean =>
  JSON.stringify({ ...wanted, text: wanted.text.trim() }) !== JSON.stringify(everything);

/** The values there are to choose from. */
export function choices(rows: ShotRow[]) {
  const all = (of: (row: ShotRow) => string[]) => [...new Set(rows.flatMap(of))].sort((a, b) => a.localeCompare(b));
  return {
    rooms: all((r) => [r.room ?? OUTSIDE]),
    levels: all((r) => (r.level ? [r.level] : [])),
    ratios: all((r) => [r.ratio]),
    labels: all((r) => r.labels),
  };
}
