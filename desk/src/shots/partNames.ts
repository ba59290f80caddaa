import type { Project } from "../api/client";

type Parts = Project["set"]["parts"];

const known = new WeakMap<Parts, Map<string, number>>();

/** What a part is called, and those above it from the nearest up; one that is not in the set by what its id says. */
export function partNames(parts: Parts, id: string): [string, ...string[]] {
  let numbers = known.get(parts);
  if (!numbers) known.set(parts, (numbers = new Map(parts.map((part, n) => [part.id, n]))));
  const number = numbers.get(id);
  if (number === undefined) return [id.split("/").at(-1) || id];
  const above: string[] = [];
  for (let up = parts[number]!.parent; up !== null; up = parts[up]!.parent) above.push(parts[up]!.name);
  return [parts[number]!.name, ...above];
}
