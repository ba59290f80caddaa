import type { QueryClient } from "@tanstack/react-query";
import { homeKey, http, type LiveAnswer, type Project, projectKey, told } from "./client";
import { labKey } from "./lab";

export type News = Extract<LiveAnswer, { kind: "news" }>;

/** Brings what the news say is other, and nothing else. */
export function hearNews(cache: QueryClient, { about, what, progress }: News) {
  const key = about === "home" ? homeKey : projectKey(about);
  const put = (change: (old: Project) => Project) => cache.setQueryData<Project>(key, (old) => old && change(old));
  const path = { params: { path: { key: about } } };
  const known = cache.getQueryData<Project>(key);
  const whole = () => void cache.invalidateQueries({ queryKey: key });
  if (what === "progress" && progress) {
    put((old) => ({ ...old, prints: old.prints.map((one) => (one.id === progress.print ? { ...one, progress: progress.progress, seconds_left: progress.seconds_left, doing: progress.doing, state: "developing" } : one)) }));
  } else if (what === "prints" && known) {
    void cache.invalidateQueries({ queryKey: labKey(about) });
    void told(http.GET("/api/projects/{key}/prints", path)).then(({ prints }) => put((old) => ({ ...old, prints }) as Project), whole);
  } else if (what === "shots" && known) {
    // Which prints are stale goes with the shots.
    void Promise.all([told(http.GET("/api/projects/{key}/shots", path)), known.prints.length ? told(http.GET("/api/projects/{key}/prints", path)) : null])
      .then(([shots, prints]) => put((old) => ({ ...old, ...shots, prints: prints?.prints ?? old.prints }) as Project), whole);
  } else whole();
}
