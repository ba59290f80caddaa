/**
 * What came, with all of it that is as it was replaced by what was there: whoever looks at a part can tell by identity
 * whether that changed. A list of numbers or words is kept whole or not at all.
 */
export function kept<T>(before: unknown, after: T): T {
  if (before === after || typeof after !== "object" || after === null || typeof before !== "object" || before === null)
    return after;
  if (Array.isArray(after)) return (Array.isArray(before) ? keptList(before, after) : after) as T;
  if (Array.isArray(before)) return after;
  const [was, now] = [before as Record<string, unknown>, after as Record<string, unknown>];
  const keys = Object.keys(now);
  let same = keys.length === Object.keys(was).length;
  const made: Record<string, unknown> = {};
  for (const key of keys) {
    made[key] = kept(was[key], now[key]);
    same &&= made[key] === was[key] && key in was;
  }
  return (same ? was : made) as T;
}

function keptList(before: readonly unknown[], after: readonly unknown[]): readonly unknown[] {
  const same = before.length === after.length;
  if (typeof after[0] === "object" && after[0] !== null) {
    const made = after.map((one, n) => kept(before[n], one));
    return same && made.every((one, n) => one === before[n]) ? before : made;
  }
  return same && after.every((one, n) => one === before[n]) ? before : after;
}
