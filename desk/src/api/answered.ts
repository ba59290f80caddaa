/** How often a write of this desk in a project was answered with what it left; how often the project was asked for. */
const answered = new Map<string, number>();
const asked = new Map<string, number>();

const timesIn = (count: Map<string, number>, project: string) => count.get(project) ?? 0;
const oneMore = (count: Map<string, number>, project: string) => count.set(project, timesIn(count, project) + 1);

/**
 * What a question about a project gives. Where a write was answered meanwhile nobody knows which of the two answers is
 * the newer, and it is asked once more.
 */
export async function askedSinceWrites<T>(project: string, ask: () => Promise<T>): Promise<T> {
  for (;;) {
    const before = timesIn(answered, project);
    oneMore(asked, project);
    const came = await ask();
    if (timesIn(answered, project) === before) return came;
  }
}

/**
 * To be called when a write sets out. What it gives is called when its answer was put away, and tells whether that may
 * be older than what a question brought meanwhile.
 */
export function writeSetOut(project: string): () => boolean {
  const before = timesIn(asked, project);
  return () => {
    oneMore(answered, project);
    return timesIn(asked, project) !== before;
  };
}
