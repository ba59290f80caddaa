import type { PrintRow, Project } from "../../../api/client";
import type { Lab, Order, Wanted } from "../../../api/lab";
import { keepInTab, keptInTab } from "../../../kit/remembered";
import { text } from "../../../text";

export type Size = NonNullable<Order["size"]>;
export type Formats = NonNullable<Order["formats"]>;

export const FIRST_SIZES: Record<Size["kind"], Size> = {
  own: { kind: "own" },
  longest: { kind: "longest", px: 1920 },
  inside: { kind: "inside", output_px: [1920, 1080] },
  scaled: { kind: "scaled", times: 0.5 },
};
const TRIED_PX = 480;

/** A picture that could be made, and what its last final says of it. */
export interface Printable {
  key: string;
  shot: string;
  crop: string | null;
  number: number;
  name: string;
  line: string;
  px: [number, number];
  thumbnail: string | null;
  stack: boolean;
  made: string | null;
  holds: boolean;
}

/** An order that is being put together. */
export interface Draft {
  chosen: string[];
  /** Sizes of its own, of each picture that has some. */
  own: Record<string, Size[]>;
  /** Pictures of a shot with a stack that are to be one picture all the same. */
  single: string[];
  /** Those of all others, which are made in each. */
  sizes: Size[];
  quality: NonNullable<Order["quality"]>;
  formats: Formats;
  pattern: string;
}

export const keyOf = (one: { shot: string; crop?: string | null }) => `${one.shot}|${one.crop ?? ""}`;

/** What there is of each picture: one of each size it is in. */
export function ofEach<T extends { shot: string; crop?: string | null }>(all: T[]): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const one of all) found.set(keyOf(one), [...(found.get(keyOf(one)) ?? []), one]);
  return found;
}

const day = (iso: string) => new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "long" });

const draftKey = (project: string) => `zevlo-new-order-${project}`;

/**
 * The order of a project that is being put together, kept in this tab while one is elsewhere, or loads the page again.
 */
export const draftOf = (project: string): Draft | null => keptInTab<Draft>(draftKey(project));
export const keepDraft = (project: string, draft: Draft | null) => keepInTab(draftKey(project), draft);

/** All a project could print: each shot whole, and under it its crops. */
export function printable(project: Project, prints: PrintRow[]): Printable[] {
  const finals = new Map<string, PrintRow>();
  for (const print of prints)
    if (print.kind === "final" && print.state === "done") {
      const key = keyOf({ shot: print.shot_id, crop: print.crop }),
        before = finals.get(key);
      if (!before || (before.stale && !print.stale)) finals.set(key, print);
    }
  const one = (
    row: Project["shots"][number],
    n: number,
    crop: Project["shots"][number]["crops"][number] | null,
  ): Printable => {
    const key = keyOf({ shot: row.id, crop: crop?.name }),
      final = finals.get(key);
    return {
      key,
      shot: row.id,
      crop: crop?.name ?? null,
      number: n + 1,
      name: crop ? `${row.shot.name}, ${crop.name}` : row.shot.name,
      line: crop
        ? text.order.fromTheSameStand
        : (row.kept && row.take ? `${text.order.take(row.take.number)} · ` : "") + row.line,
      px: crop?.output_px ?? row.frame_px,
      thumbnail: (crop ?? row).thumbnail ?? null,
      stack: row.shot.focus.stack != null,
      made: final
        ? text.order.printedPx(
            day(final.ordered),
            final.size[0],
            final.size[1],
            final.stale ?? text.order.unchangedSince,
          )
        : null,
      holds: !!final && !final.stale,
    };
  };
  return project.shots.flatMap((row, n) => [one(row, n, null), ...row.crops.map((crop) => one(row, n, crop))]);
}

/** Each size once. */
const distinct = (sizes: Size[]) => [...new Map(sizes.map((size) => [JSON.stringify(size), size])).values()];

/** Another size than those there are. */
export const another = (sizes: Size[]): Size => {
  const kinds = sizes.map(({ kind }) => kind);
  return FIRST_SIZES[
    (["own", "longest", "scaled", "inside"] as const).find((kind) => !kinds.includes(kind)) ?? "longest"
  ];
};

/** Where an order begins: as one that is repeated, or with the settings of the last one. */
export function begun(project: Project, prints: PrintRow[], lab: Lab, again: Order | null): Draft {
  const from = again ?? lab.first,
    known = new Set(printable(project, prints).map(({ key }) => key));
  const pictures = (again?.pictures ?? []).filter((one) => known.has(keyOf(one)));
  const size = from?.size ?? FIRST_SIZES.own,
    asked = new Map<string, Size[]>();
  for (const one of pictures) asked.set(keyOf(one), distinct([...(asked.get(keyOf(one)) ?? []), one.size ?? size]));
  const [first = [size], ...others] = asked.values();
  const alike = others.every((sizes) => JSON.stringify(sizes) === JSON.stringify(first)),
    sizes = alike ? first : [size];
  return {
    chosen: [...asked.keys()],
    own: alike ? {} : Object.fromEntries([...asked].filter(([, own]) => JSON.stringify(own) !== JSON.stringify(sizes))),
    single: pictures.filter(({ stacked }) => !stacked).map(keyOf),
    sizes,
    quality: from?.quality ?? "good",
    formats: from?.formats ?? { png: 8, jpeg: null, exr: null, layers: [] },
    pattern: from?.pattern ?? lab.first_pattern,
  };
}

/** What is ordered; null while nothing is chosen. */
export function orderIn(draft: Draft, all: Printable[]): Order | null {
  const [size = FIRST_SIZES.own] = draft.sizes;
  const pictures = all
    .filter(({ key }) => draft.chosen.includes(key))
    .flatMap((one) =>
      distinct(draft.own[one.key] ?? draft.sizes).map((own): Wanted => ({
        shot: one.shot,
        crop: one.crop,
        size: own === size ? null : own,
        stacked: one.stack && !draft.single.includes(one.key),
      })),
    );
  return pictures.length > 0
    ? { pictures, size, quality: draft.quality, formats: draft.formats, pattern: draft.pattern }
    : null;
}

/** The first picture of an order alone, small: whether it is as it should be is seen in a minute. */
export const triedSmall = (order: Order): Order => ({
  ...order,
  pictures: [{ ...order.pictures[0]!, size: null }],
  size: { kind: "longest", px: TRIED_PX },
});
