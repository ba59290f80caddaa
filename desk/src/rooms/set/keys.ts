import { useEffect } from "react";
import { typing } from "../../kit/shortcuts";

/** What keys do in the Set room: Home shows all, Shift Home goes to the chosen part, Esc leaves what is asked for. */
export function useSetKeys(showAll: () => void, goToIt: () => void, leaveAll: () => void) {
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (typing(event.target) || event.defaultPrevented) return;
      if (event.key === "Home") {
        event.preventDefault();
        if (event.shiftKey) goToIt();
        else showAll();
      }
      if (event.key === "Escape") leaveAll();
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [showAll, goToIt, leaveAll]);
}
