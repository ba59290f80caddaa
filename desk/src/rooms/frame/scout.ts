import { useCallback, useEffect, useRef, useState } from "react";
import type { Back, Project, Scout, ScoutAnswer, Shot, ViewGesture } from "../../api/client";
import type { Begun } from "../../api/live";
import { useLive } from "../../api/socket";

/** Where the scout view was left, for each project, while the page is open. */
const left = new Map<string, Scout>();
const came = new Map<string, string>();
/** A shot it was just entered from, until its first answer. */
const entered = new Map<string, Shot>();

/** Where it is now, else with what it begins: what a shot sees, or all of the set. */
function begun(project: Project): Begun {
  const scout = left.get(project.id);
  return scout ? { scout } : { shot: entered.get(project.id) ?? project.shots[0]?.shot };
}

/** The shot the scout view was entered from, whose back a new shot takes over. */
export const scoutedFrom = (projectId: string): string | null => came.get(projectId) ?? null;

export interface ScoutDesk {
  answer: ScoutAnswer | null;
  from: (shot: Shot, id: string) => void;
  hold: () => void;
  move: (gesture: ViewGesture) => void;
  wheel: (notches: number) => void;
  step: (ahead: number, right: number, up: number) => void;
  /** Back until all of the set is in the view. */
  showAll: () => void;
  /** To where a part is seen well. */
  goTo: (part: string) => void;
}

/** The scout view: looking around without any shot. The server works out every move. */
export function useScout(project: Project, on: boolean, ratio: number, back: Back | null): ScoutDesk {
  const live = useLive();
  const [answer, setAnswer] = useState<ScoutAnswer | null>(null);
  const base = useRef<Begun | null>(null);

  useEffect(
    () =>
      live.listen({
        scout: (heard) => {
          left.set(project.id, heard.scout);
          entered.delete(project.id);
          setAnswer(heard);
        },
      }),
    [live, project.id],
  );
  useEffect(() => {
    if (!on) return;
    live.askScout(begun(project), ratio, back, null, !left.has(project.id) && !entered.has(project.id));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- asked anew when the view is entered or its shape changes
  }, [live, on, ratio, back, project.id, project.set.revision]);

  const now = useCallback(() => begun(project), [project]);
  const hold = useCallback(() => {
    // The aim goes to what is in the middle, once; the whole drag is then counted from there.
    base.current = null;
    live.askScout(now(), ratio, back, null, true);
  }, [live, now, ratio, back]);
  const move = useCallback(
    (gesture: ViewGesture) => {
      base.current ??= now();
      live.askScout(base.current, ratio, back, gesture);
    },
    [live, now, ratio, back],
  );
  const wheel = useCallback(
    (notches: number) =>
      live.askScout(now(), ratio, back, { kind: "dolly", factor: notches < 0 ? 0.88 : 1 / 0.88 }, true),
    [live, now, ratio, back],
  );
  const step = useCallback(
    (ahead: number, right: number, up: number) => live.askScout(now(), ratio, back, { kind: "walk", ahead, right, up }),
    [live, now, ratio, back],
  );
  const from = useCallback(
    (shot: Shot, id: string) => {
      left.delete(project.id);
      entered.set(project.id, shot);
      came.set(project.id, id);
    },
    [project.id],
  );
  const showAll = useCallback(() => live.askScout(now(), ratio, back, { kind: "show_all" }), [live, now, ratio, back]);
  const goTo = useCallback(
    (part: string) => live.askScout(now(), ratio, back, { kind: "look_at_part", part }),
    [live, now, ratio, back],
  );
  // Where the set is corrected, the view goes along with it.
  const { placing } = project.set;
  const stood = useRef(placing);
  useEffect(() => {
    const before = stood.current;
    stood.current = placing;
    if (JSON.stringify(before) === JSON.stringify(placing) || !left.has(project.id)) return;
    live.askScout(now(), ratio, back, { kind: "with_set", before });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- asked once for each correction
  }, [live, placing]);
  return { answer: on ? answer : null, from, hold, move, wheel, step, showAll, goTo };
}
