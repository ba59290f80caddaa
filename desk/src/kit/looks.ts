import { remember, remembered } from "./remembered";
import { Doing } from "./settled";

/** Where each drawing was looked at last, by what it shows; remembered in this browser, the oldest forgotten. */
export interface Look {
  centre: [number, number];
  scale: number;
}

const KEY = "zevlo-looked-at";
const most = 80;

const isLook = (one: unknown): one is [string, Look] =>
  Array.isArray(one) && typeof one[0] === "string" && [...(one[1]?.centre ?? []), one[1]?.scale].every(Number.isFinite);
const looks = new Map<string, Look>(remembered<unknown[]>(KEY, []).filter(isLook));

export const lookAt = (what: string): Look | null => looks.get(what) ?? null;

let waiting = 0;
const writing = new Doing();

/** Remember a look, or with null forget it. Written down when the hand rests. */
export function keepLook(what: string, look: Look | null) {
  looks.delete(what);
  if (look) looks.set(what, look);
  while (looks.size > most) looks.delete(looks.keys().next().value!);
  window.clearTimeout(waiting);
  writing.on = true;
  waiting = window.setTimeout(() => {
    remember(KEY, [...looks]);
    writing.on = false;
  }, 300);
}
