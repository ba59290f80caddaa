import { Doing } from "./settled";

/** Where each drawing was looked at last, by what it shows; remembered in this browser, the oldest forgotten. */
export interface Look { centre: [number, number]; scale: number }

const key = "zevlo-looks";
const most = 80;

function read(): [string, Look][] {
  try {
    return JSON.parse(window.localStorage.getItem(key) ?? "[]") as [string, Look][];
  } catch {
    return [];
  }
}

const looks = new Map<string, Look>(read());

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
    window.localStorage.setItem(key, JSON.stringify([...looks]));
    writing.on = false;
  }, 300);
}
