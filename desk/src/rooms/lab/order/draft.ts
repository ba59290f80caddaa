import type { Project } from "../../../api/client";
import type { Lab, Order, Wanted } from "../../../api/lab";

export type Size = NonNullable<Order["size"]>;
export type Formats = NonNullable<Order["formats"]>;

export const FIRST_SIZES: Record<Size["kind"], Size> = { own: { kind: "own" }, longest: { kind: "longest", px: 1920 }, inside: { kind: "inside", output_px: [1920, 1080] }, scaled: { kind: "scaled", times: 0.5 } };
const TRIED_PX = 480;

/** A picture that could be made, and what its last final says of it. */
export interface Printable { key: string; shot: string; cut: string | null; number: number; name: string; line: string; px: [number, number]; thumbnail: string | null; stack: boolean; made: string | null; holds: boolean }

/** An order that is being put together. */
export interface Draft {
  chosen: string[];
  own: Record<string, Wanted["size"]>;
  /** Pictures of a shot with a stack that are to be one picture all the same. */
  single: string[];
  size: Size;
  quality: NonNullable<Order["quality"]>;
  formats: Formats;
  pattern: string;
}

export const keyOf = (one: { shot: string; cut?: string | null }) => `${one.shot}|${one.cut ?? ""}`;
const day = (iso: string) => new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "long" });

const draftKey = (project: string) => `zevlo-order-${project}`;

/** The order of a project that is being put together, kept in this tab while one is elsewhere, or loads the page again. */
export function draftOf(project: string): Draft | null {
  try {
    return JSON.parse(window.sessionStorage.getItem(draftKey(project)) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

export function keepDraft(project: string, draft: Draft | null) {
  if (draft) window.sessionStorage.setItem(draftKey(project), JSON.stringify(draft));
  else window.sessionStorage.removeItem(draftKey(project));
}

/** All a project could print: each shot whole, and under it its cuts. */
export function printable(project: Project): Printable[] {
  const finals = new Map<string, Project["prints"][number]>();
  for (const print of project.prints) if (print.kind === "final" && print.state === "done") {
    const key = keyOf({ shot: print.shot_id, cut: print.cut }), before = finals.get(key);
    if (!before || (before.stale && !print.stale)) finals.set(key, print);
  }
  const one = (row: Project["shots"][number], n: number, cut: Project["shots"][number]["cuts"][number] | null): Printable => {
    const key = keyOf({ shot: row.id, cut: cut?.name }), final = finals.get(key);
    return {
      key, shot: row.id, cut: cut?.name ?? null, number: n + 1, name: cut ? `${row.shot.name}, ${cut.name}` : row.shot.name,
      line: cut ? "from the same stand and lens" : (row.kept && row.take ? `take ${row.take.number} · ` : "") + row.line,
      px: cut?.output_px ?? row.frame_px, thumbnail: (cut ?? row).thumbnail ?? null, stack: row.shot.focus.stack != null,
      made: final ? `Printed ${day(final.ordered)}, ${final.size[0]} × ${final.size[1]} px. ${final.stale ?? "Unchanged since"}` : null,
      holds: !!final && !final.stale,
    };
  };
  return project.shots.flatMap((row, n) => [one(row, n, null), ...row.cuts.map((cut) => one(row, n, cut))]);
}

/** Where an order begins: as one that is repeated, or with the settings of the last one. */
export function begun(project: Project, lab: Lab, again: Order | null): Draft {
  const from = again ?? lab.first, known = new Set(printable(project).map(({ key }) => key));
  const pictures = (again?.pictures ?? []).filter((one) => known.has(keyOf(one)));
  return {
    chosen: pictures.map(keyOf),
    own: Object.fromEntries(pictures.map((one) => [keyOf(one), one.size ?? null])),
    single: pictures.filter(({ stacked }) => !stacked).map(keyOf),
    size: from?.size ?? FIRST_SIZES.own,
    quality: from?.quality ?? "good",
    formats: from?.formats ?? { png: 8, jpeg: null, exr: null, layers: [] },
    pattern: from?.pattern ?? lab.first_pattern,
  };
}

/** What is ordered; null while nothing is chosen. */
export function orderIn(draft: Draft, all: Printable[]): Order | null {
  const pictures = all.filter(({ key }) => draft.chosen.includes(key)).map((one): Wanted => ({
    shot: one.shot, cut: one.cut, size: draft.own[one.key] ?? null, stacked: one.stack && !draft.single.includes(one.key),
  }));
  return pictures.length > 0 ? { pictures, size: draft.size, quality: draft.quality, formats: draft.formats, pattern: draft.pattern } : null;
}

/** The first picture of an order alone, small: whether it is as it should be is seen in a minute. */
export const triedSmall = (order: Order): Order => ({ ...order, pictures: [{ ...order.pictures[0]!, size: null }], size: { kind: "longest", px: TRIED_PX } });
