import { useCallback, useSyncExternalStore } from "react";

/** Where one is, kept in the address, so that reload and the back button work: /project/room/thing. */
export type Room = "set" | "frame" | "lab";
export interface Place {
  project: string | null;
  room: Room;
  thing: string | null;
}

const rooms: Room[] = ["set", "frame", "lab"];
const changed = "zevlo-place";

function listen(wake: () => void) {
  window.addEventListener("popstate", wake);
  window.addEventListener(changed, wake);
  return () => {
    window.removeEventListener("popstate", wake);
    window.removeEventListener(changed, wake);
  };
}

export function usePlace(): [Place, (place: Place, replace?: boolean) => void] {
  const path = useSyncExternalStore(listen, () => window.location.pathname);
  const [project, room, thing] = path.split("/").filter(Boolean);
  const go = useCallback((to: Place, replace = false) => {
    const next = to.project ? `/${to.project}/${to.room}${to.thing ? `/${to.thing}` : ""}` : "/";
    if (next === window.location.pathname) return;
    window.history[replace ? "replaceState" : "pushState"](null, "", next);
    window.dispatchEvent(new Event(changed));
  }, []);
  return [{ project: project ?? null, room: rooms.find((r) => r === room) ?? "frame", thing: thing ?? null }, go];
}

/**
 * For what goes to another place when an answer has come: it goes from here alone. Whoever went elsewhere meanwhile
 * stays there.
 */
export function fromHere(): (go: () => void) => void {
  const here = window.location.pathname;
  return (go) => {
    if (window.location.pathname === here) go();
  };
}
