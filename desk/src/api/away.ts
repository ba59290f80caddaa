/** The server, or its database, does not answer for now: what was asked is asked again. */
export class Away extends Error {
  constructor(
    words: string,
    readonly again: number | null = null,
  ) {
    super(words);
  }
}

let words: string | null = null;
const listeners = new Set<() => void>();

/** Why nothing answers, for the bar that says so; null while all is well. */
export function tellAway(now: string | null) {
  if (words === now) return;
  words = now;
  listeners.forEach((wake) => wake());
}

export const awayWords = () => words;

export function listenAway(wake: () => void): () => void {
  listeners.add(wake);
  return () => {
    listeners.delete(wake);
  };
}

const pause = (ms: number) => new Promise((done) => window.setTimeout(done, ms));

/** Do something until the server is there for it; `refresh` before each further try. Any other trouble ends it. */
export async function untilBack<T>(action: () => Promise<T>, refresh: () => Promise<unknown>): Promise<T> {
  for (let wait = 500; ; wait = Math.min(2 * wait, 8000)) {
    try {
      const done = await action();
      tellAway(null);
      return done;
    } catch (error) {
      if (!(error instanceof Away)) throw error;
      tellAway(error.message);
      await pause(error.again ?? wait);
      await refresh().catch(() => undefined);
    }
  }
}
