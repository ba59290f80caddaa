import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import {
  http,
  type Project,
  projectKey,
  projectNow,
  putAway,
  shotIn,
  type Shot,
  type ShotGesture,
  type ShotPatch,
  type ShotRow,
  type Sheet,
  standing,
  surroundings,
  answerOf,
  type Written,
} from "../api/client";
import { writeSetOut } from "../api/answered";
import { askedHere, askShots } from "../api/news";
import { inTurn } from "../api/turns";
import { useLive } from "../api/socket";
import { newId } from "../kit/ids";
import { useSay } from "../kit/notice";
import { kept } from "./kept";

type Change = ShotGesture | ShotPatch;

/** A frame that is not there yet, as it would lie in the picture, and in words what would be other. */
export interface Supposed {
  outline: [number, number][];
  words: string;
}

export interface ShotDesk {
  row: ShotRow;
  shot: Shot;
  sheet: Sheet;
  /** Thin lines of the section, while they still belong to what is drawn. */
  beyond: number[] | null;
  /** What something a hand only points at would do. */
  supposed: Supposed | null;
  /** Why the last change went part of the way alone, and what else would do; null: it went all the way. */
  short: Short | null;
  /** Ask what a gesture would do, for an outline in the finder; null: nothing is pointed at any more. */
  suppose: (gesture: ShotGesture | null) => void;
  /** Show what a gesture would do, without writing it. */
  drag: (gesture: ShotGesture) => void;
  /**
   * Write a gesture, or the keys a hand changed, as one change with words for undo. What is made of something that this
   * hand may just have written, is told as made of the newest.
   */
  commit: (label: string, what: Change | ((now: Shot, project: Project) => Change)) => void;
  /** Let go of a drag without writing it. */
  drop: () => void;
}

type Short = NonNullable<Written["short"]>;

interface Fell {
  id: string;
  version: number;
  short: Short;
}

interface Drawn {
  id: string;
  shot: Shot;
  sheet: Sheet;
  beyond: number[] | null;
  supposed: Supposed | null;
  at: string;
}

/**
 * What is drawn of the shot on the desk, kept beside React: an answer goes to those who look at what it changed. What
 * it leaves as it was stays the very same, down to each list of numbers.
 */
class Draft {
  drawn: Drawn | null = null;
  private readonly listeners = new Set<() => void>();

  readonly listen = (heard: () => void) => {
    this.listeners.add(heard);
    return () => {
      this.listeners.delete(heard);
    };
  };

  put(next: Drawn | null) {
    const now = next && kept(this.drawn, next);
    if (now === this.drawn) return;
    this.drawn = now;
    this.listeners.forEach((heard) => heard());
  }
}

/**
 * The shot on the desk, for all that show it: what a hand does to it, and what is drawn of it, to be looked at in
 * parts.
 */
export interface ShotDraft extends Pick<ShotDesk, "drag" | "commit" | "drop" | "suppose" | "short"> {
  row: ShotRow;
  draft: Draft;
}

/**
 * What a part of the desk needs of the shot: told anew only when that is another one. `select` gives what is in it,
 * never something new.
 */
export function useDrawnShot<T>(
  one: ShotDraft | null,
  select: (desk: { shot: Shot; sheet: Sheet; beyond: number[] | null; supposed: Supposed | null }) => T,
): T | null {
  return useSyncExternalStore(one ? one.draft.listen : nobody, () => {
    const drawn = one?.draft.drawn;
    return drawn && drawn.id === one.row.id ? select(drawn) : null;
  });
}

/** All of the shot on the desk. Null until it is solved. */
export function useWholeDesk(one: ShotDraft | null): ShotDesk | null {
  const drawn = useSyncExternalStore(one ? one.draft.listen : nobody, () => one?.draft.drawn ?? null);
  return useMemo(() => {
    if (!one || !drawn || drawn.id !== one.row.id) return null;
    const { row, drag, commit, drop, suppose, short } = one;
    return {
      row,
      shot: drawn.shot,
      sheet: drawn.sheet,
      beyond: drawn.beyond,
      supposed: drawn.supposed,
      drag,
      commit,
      drop,
      suppose,
      short,
    };
  }, [one, drawn]);
}

const nobody = () => () => undefined;

const where = (stand: Shot["stand"]) => JSON.stringify(stand);

/** All that a sheet goes by. */
const stampOf = (row: ShotRow, project: Project) =>
  `${row.id}|${row.version}|${standing(project)}|${surroundings(project)}`;

/** The shot on the desk: as it is written, or as a gesture would make it. Writes go out one after the other. */
export function useShotDraft(project: Project, row: ShotRow | null): ShotDraft | null {
  const live = useLive();
  const say = useSay();
  const cache = useQueryClient();
  const [draft] = useState(() => new Draft());
  const [fell, setFell] = useState<Fell | null>(null);
  const latest = useRef<ShotRow | null>(row);
  const dragging = useRef(false);
  const pending = useRef(0);
  const supposing = useRef(false);
  const answered = useRef<string | null>(null);
  const dropRef = useRef<() => void>(() => undefined);
  const id = row?.id ?? null;

  useEffect(() => {
    if (pending.current === 0 || latest.current?.id !== row?.id) latest.current = row;
  }, [row]);

  const stamp = row ? stampOf(row, project) : null;
  useEffect(() => {
    if (stamp === null || dragging.current || pending.current > 0 || !latest.current) return;
    // What a write of this desk left was answered with it, and is drawn.
    if (stamp === answered.current && draft.drawn?.id === latest.current.id) return;
    live.forget("shot");
    live.askShot(latest.current.shot, null, true);
  }, [live, draft, stamp]);

  useEffect(
    () =>
      live.listen({
        shot: (answer) => {
          if (answer.refused) say(answer.refused);
          const at = where(answer.shot.stand);
          const lines = draft.drawn?.id === id && draft.drawn.at === at ? draft.drawn.beyond : null;
          draft.put(
            id === null ? null : { id, shot: answer.shot, sheet: answer.sheet, beyond: lines, supposed: null, at },
          );
        },
        beyond: ({ stand, lines }) => {
          if (draft.drawn?.at === where(stand)) draft.put({ ...draft.drawn, beyond: lines });
        },
        what_if: ({ outline, words }) => {
          if (draft.drawn && supposing.current) draft.put({ ...draft.drawn, supposed: { outline, words } });
        },
        trouble: (words) => say(words),
        open: (is) => {
          if (is && latest.current) live.askShot(latest.current.shot, null, true);
        },
      }),
    [live, draft, id, say],
  );

  const commit = useCallback(
    (label: string, what: Change | ((now: Shot, project: Project) => Change)) => {
      if (id === null) return;
      // As the hand saw it: only who changed the very same keys meanwhile is in the way. Never this hand's own writes
      // that are still on their way: what they leave is what it saw.
      const queued = pending.current > 0;
      const known = latest.current?.id === id ? latest.current.shot : null;
      const key = projectKey(project.id);
      const ticket = newId();
      dragging.current = false;
      pending.current += 1;
      answered.current = null;
      askedHere(ticket);
      void inTurn(
        project.id,
        async () => {
          const all = projectNow(cache, project.id);
          const now = shotIn(all, id);
          const change = typeof what === "function" ? what(now.shot, all) : what;
          const [gesture, patch] = "kind" in change ? [change, null] : [null, change];
          const seen = patch ? (queued || typeof what === "function" ? now.shot : (known ?? now.shot)) : null;
          const mayBeOlder = writeSetOut(project.id);
          const answer = (await answerOf(
            http.PATCH("/api/shots/{key}", {
              params: { path: { key: id } },
              body: { id: ticket, version: now.version, label, patch, seen, gesture },
            }),
          )) as Written;
          const row = putAway(cache, project.id, answer);
          if (mayBeOlder()) askShots(cache, project.id);
          setFell(answer.short ? { id, version: answer.version, short: answer.short } : null);
          if (answer.short) say(answer.short.words);
          if (latest.current?.id !== id) return;
          latest.current = row;
          if (pending.current > 1 || dragging.current || !answer.sheet || row.version !== answer.version) return;
          const at = where(row.shot.stand),
            left = cache.getQueryData<Project>(key);
          answered.current = left ? stampOf(row, left) : null;
          live.forget("shot");
          const lines = draft.drawn?.id === id && draft.drawn.at === at ? draft.drawn.beyond : null;
          draft.put({ id, shot: row.shot, sheet: answer.sheet as Sheet, beyond: lines, supposed: null, at });
        },
        () => cache.refetchQueries({ queryKey: key }),
      )
        .catch((error: Error) => {
          say(error.message);
          void cache.invalidateQueries({ queryKey: key });
        })
        .finally(() => {
          pending.current -= 1;
          if (pending.current > 0 || dragging.current || !latest.current) return;
          // Where the write was refused, or the stand moved, there is something to ask: the shot as it is, its thin
          // lines.
          const left = cache.getQueryData<Project>(key);
          if (left && answered.current === stampOf(latest.current, left) && draft.drawn?.beyond) return;
          live.forget("shot");
          live.askShot(latest.current.shot, null, true);
        });
    },
    [cache, draft, live, project.id, id, say],
  );

  // However a hand lets go, back at the start or torn off, its drag is over: what was not written is not shown on.
  useEffect(() => {
    const released = () =>
      window.setTimeout(() => {
        if (dragging.current) dropRef.current();
      });
    window.addEventListener("pointerup", released);
    window.addEventListener("pointercancel", released);
    return () => {
      window.removeEventListener("pointerup", released);
      window.removeEventListener("pointercancel", released);
    };
  }, []);

  const drag = useCallback(
    (gesture: ShotGesture) => {
      if (!latest.current || latest.current.locked) return;
      dragging.current = true;
      live.askShot(latest.current.shot, gesture, false);
    },
    [live],
  );

  const suppose = useCallback(
    (gesture: ShotGesture | null) => {
      supposing.current = gesture !== null && latest.current !== null;
      if (gesture && latest.current) return live.askWhatIf(latest.current.shot, gesture);
      live.forget("what_if");
      if (draft.drawn?.supposed) draft.put({ ...draft.drawn, supposed: null });
    },
    [live, draft],
  );

  const drop = useCallback(() => {
    dragging.current = false;
    if (latest.current) live.askShot(latest.current.shot, null, true);
  }, [live]);
  useEffect(() => {
    dropRef.current = drop;
  }, [drop]);

  // It is told of the shot as it was left by that change, and no longer.
  const short = fell?.id === id && fell?.version === row?.version ? (fell?.short ?? null) : null;
  return useMemo(
    () => row && { row, draft, drag, commit, drop, suppose, short },
    [row, draft, drag, commit, drop, suppose, short],
  );
}
