import type { QueryClient } from "@tanstack/react-query";
import { homeKey, http, type LiveAnswer, type PrintRow, printsKey, type Project, projectKey, told } from "./client";
import { labKey } from "./lab";

export type News = Extract<LiveAnswer, { kind: "news" }>;

/** Brings what the news say is other, and nothing else. */
export function hearNews(cache: QueryClient, { about, what, progress }: News) {
  const key = about === "home" ? homeKey : projectKey(about);
  const put = (change: (old: Project) => Project) => cache.setQueryData<Project>(key, (old) => old && change(old));
  const path = { params: { path: { key: about } } };
  const known = cache.getQueryData<Project>(key);
  const whole = () => void cache.invalidateQueries({ queryKey: key });
  const prints = () => void cache.invalidateQueries({ queryKey: printsKey(about) });
  if (what === "progress" && progress) {
    cache.setQueryData<PrintRow[]>(printsKey(about), (old) => old?.map((one) => (one.id === progress.print ? { ...one, progress: progress.progress, seconds_left: progress.seconds_left, doing: progress.doing, state: "developing" } : one)));
  } else if (what === "prints" && known) {
    void cache.invalidateQueries({ queryKey: labKey(about) });
    prints();
  } else if (what === "shots" && known) {
    void told(http.GET("/api/projects/{key}/shots", path)).then((shots) => put((old) => ({ ...old, ...shots }) as Project), whole);
    // Which prints are stale goes with the shots, and with the set and its light.
    prints();
  } else {
    whole();
    prints();
  }
}
