import { http, type PlacingChange, type Project, type StandIn, answerOf, type Write } from "../../api/client";

interface SetChange {
  lifted?: string[];
  plan_height?: number;
  plan_level?: string;
  places?: Project["places"];
  site?: Project["site"];
  habits?: Project["habits"];
  stand_ins?: StandIn[];
  label?: string;
}

/** What the Set room writes: of the project, of what is lifted off, of how the set is placed. */
export function useSetWrites(write: Write) {
  const at = (now: Project) => ({ params: { path: { key: now.id } } });
  const patch = (change: (now: Project) => SetChange) =>
    write((now) =>
      answerOf(http.PATCH("/api/projects/{key}", { ...at(now), body: { version: now.version, ...change(now) } })),
    );
  const lift = (how: { kind: "level"; level: string } | { kind: "above"; on: boolean } | { kind: "none" }) =>
    write((now) =>
      answerOf(http.POST("/api/projects/{key}/lift", { ...at(now), body: { version: now.version, how } })),
    );
  const place = (change: PlacingChange) =>
    write((now) =>
      answerOf(
        http.POST("/api/projects/{key}/placing", {
          ...at(now),
          body: { version: now.version, drop: false, again: false, ...change },
        }),
      ),
    );
  const putPlaces = (change: (now: Project["places"]) => Project["places"], label: string) =>
    patch((now) => ({ places: change(now.places), label }));
  return { patch, lift, place, putPlaces };
}
