const turns = new Map<string, Promise<unknown>>();

/** Writes of a project go out one after the other, whoever makes them, so that each is made of what the last one left. */
export function inTurn<T>(project: string, write: () => Promise<T>): Promise<T> {
  const next = (turns.get(project) ?? Promise.resolve()).then(write, write);
  turns.set(project, next.catch(() => undefined));
  return next;
}
