import { useCallback } from "react";
import {
  http,
  type Project,
  type PutHabits,
  type PutKept,
  type StandInMove,
  answerOf,
  type Write,
} from "../../api/client";

/**
 * What the Frame room's drawings write of the project itself: where the plan is cut, how one places, where stand-ins
 * are.
 */
export function useFrameWrites(project: Project, write: Write) {
  const patch = useCallback(
    (
      change: (now: Project) => {
        plan_height?: number;
        plan_level?: string;
        habits?: Project["habits"];
        kept?: Project["kept"];
        label?: string;
      },
    ) =>
      write((now) =>
        answerOf(
          http.PATCH("/api/projects/{key}", {
            params: { path: { key: now.id } },
            body: { version: now.version, ...change(now) },
          }),
        ),
      ),
    [write],
  );
  const cutAt = useCallback((plan_height: number) => patch(() => ({ plan_height })), [patch]);
  const showLevel = useCallback((plan_level: string) => patch(() => ({ plan_level })), [patch]);
  const putHabits = useCallback<PutHabits>(
    (change) =>
      patch(({ habits }) => ({ habits: { ...habits, ...(typeof change === "function" ? change(habits) : change) } })),
    [patch],
  );
  const putKept = useCallback<PutKept>(
    (change, label) => patch(({ kept }) => ({ kept: { ...kept, ...change(kept) }, label })),
    [patch],
  );
  const moveStandIn = (number: number, to: StandInMove["to"]) =>
    write(({ id, version }) =>
      answerOf(
        http.POST("/api/projects/{key}/stand-ins/move", {
          params: { path: { key: id } },
          body: { version, id: project.stand_ins[number]?.id ?? "", to },
        }),
      ),
    );
  return { cutAt, showLevel, putHabits, putKept, moveStandIn };
}
