import type { QueryClient } from "@tanstack/react-query";
import { askedSinceWrites } from "./answered";
import {
  homeKey,
  http,
  type LiveAnswer,
  type PrintRow,
  printsKey,
  type Project,
  projectKey,
  type ShotRow,
  answerOf,
} from "./client";
import { labKey } from "./lab";

export type News = Extract<LiveAnswer, { kind: "news" }>;

/** The ids changes of this desk were asked for by, whose answers bring all there is to know of them. */
const own = new Set<string>();

/** Note a change of this desk: its news are none. */
export const askedHere = (ticket: string) => {
  own.add(ticket);
};

/** How often the shots of a project were asked for: an answer another one was asked for since is not looked at. */
const asked = new Map<string, number>();

/** Shots that came, but for those a write has brought in a newer state meanwhile. */
const newest = (known: ShotRow[], came: ShotRow[]): ShotRow[] => {
  const own = new Map(known.map((row) => [row.id, row]));
  return came.map((row) => {
    const had = own.get(row.id);
    return had && had.version > row.version ? had : row;
  });
};

/** Bring the shots of a project, and what undo would take back. */
export function askShots(cache: QueryClient, about: string) {
  const key = projectKey(about);
  const turn = (asked.get(about) ?? 0) + 1;
  asked.set(about, turn);
  const ask = () => answerOf(http.GET("/api/projects/{key}/shots", { params: { path: { key: about } } }));
  void askedSinceWrites(about, ask).then(
    (came) => {
      if (asked.get(about) !== turn) return;
      cache.setQueryData<Project>(
        key,
        (old) => old && ({ ...old, ...came, shots: newest(old.shots, came.shots as ShotRow[]) } as Project),
      );
    },
    () => void cache.invalidateQueries({ queryKey: key }),
  );
}

/** Brings what the news say is other, and nothing else. */
export function hearNews(cache: QueryClient, { about, what, progress, by }: News) {
  const key = about === "home" ? homeKey : projectKey(about);
  const known = cache.getQueryData<Project>(key);
  const whole = () => void cache.invalidateQueries({ queryKey: key });
  const prints = () => void cache.invalidateQueries({ queryKey: printsKey(about) });
  if (what === "progress" && progress) {
    cache.setQueryData<PrintRow[]>(printsKey(about), (old) =>
      old?.map((one) =>
        one.id === progress.print
          ? {
              ...one,
              progress: progress.progress,
              seconds_left: progress.seconds_left,
              doing: progress.doing,
              state: "developing",
            }
          : one,
      ),
    );
  } else if (what === "prints" && known) {
    void cache.invalidateQueries({ queryKey: labKey(about) });
    prints();
  } else if (what === "shots" && by && own.has(by)) {
    own.delete(by);
  } else if (what === "shots" && known) {
    askShots(cache, about);
    // Which prints are stale goes with the shots, and with the set and its light.
    prints();
  } else {
    whole();
    prints();
  }
}
