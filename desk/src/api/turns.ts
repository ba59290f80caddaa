import { allRead } from "../kit/reading";
import { underWay } from "../kit/settled";
import { untilBack } from "./away";

const turns = new Map<string, Promise<unknown>>();

/**
 * Writes of a project go out one after the other, whoever makes them, so that each is made of what the last one left.
 * While the server is away they wait; `refresh` brings what was left before one is tried again.
 */
export function inTurn<T>(project: string, write: () => Promise<T>, refresh: () => Promise<unknown>): Promise<T> {
  const done = underWay();
  const go = () => untilBack(write, refresh).finally(done);
  const queue = () => {
    const next = (turns.get(project) ?? Promise.resolve()).then(go, go);
    turns.set(
      project,
      next.catch(() => undefined),
    );
    return next;
  };
  // What was typed before is written before.
  return allRead()?.then(queue) ?? queue();
}
